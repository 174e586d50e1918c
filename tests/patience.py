"""How long a test waits for an answer: what never comes fails all the same."""

from __future__ import annotations

import httpx

PATIENCE_S = 90.0
"""A busy machine stands still for a quarter of a minute now and then."""

caller = httpx.Client(trust_env=False, timeout=PATIENCE_S)
"""Calls the simulated devices and the running server, past any proxy."""

"""Every test of the core works from nothing: no phase is taken over from a test before it."""

from __future__ import annotations

import pytest

from fentro_core.visit import phase_work


def pytest_runtest_setup(item: pytest.Item) -> None:
    """A hook and no fixture, so that generated inputs may use it too."""
    phase_work.forget()

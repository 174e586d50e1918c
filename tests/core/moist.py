"""A visit that is about moisture, and its page."""

from __future__ import annotations

from typing import Any

from tests.core.visits import snapshot, started, worked

BUCKET = ("condensate", {"condensate_kg": 1.6, "minutes": 10.0})
REHEATS = {"reheat": "hot_gas", "reheat_w": 9_000.0}


def moisture_page(*entries: Any, plate: dict[str, Any] | None = None) -> Any:
    """Of a packaged rooftop unit with this on its plate."""
    return moisture_phase(*entries, plate=plate).pages.moisture


def moisture_phase(*entries: Any, plate: dict[str, Any] | None = None) -> Any:
    """The whole phase, with the causes that it points to."""
    made = [started(), *(each for group in entries for each in (group if isinstance(group, list) else [group]))]
    return worked(snapshot(made, "packaged_rooftop", **(plate or {}))).result

"""The specimen hall that stays damp with a unit in order: where its water comes from, what it needs, before and after."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

Air = Callable[..., list[Any]]

FOUND: dict[str, Any] = {"infiltration_m3s": 0.2, "occupants": 10.0, "wet_area_m2": 60.0, "water_c": 22.0}
LEFT: dict[str, Any] = {"infiltration_m3s": 0.08, "occupants": 10.0, "wet_area_m2": 18.0, "water_c": 22.0}
AIM: dict[str, Any] = {"wanted_c": 23.5, "wanted_rh": 0.55, "reheat_source": "electric"}


def hall(air: Air, flow: Callable[..., list[Any]]) -> list[Any]:
    """As found: open tanks, a side door that stands open, the minimum position at 31 %. As left: covers, a closer, 21 %."""
    return [
        *air(22, "return", 24.2, 66, "probe_a"),
        *air(23, "return", 24.3, 66, "probe_a", point=2),
        *air(25, "outdoor", 28.0, 80, "probe_a"),
        *air(27, "mixed", 25.3, 72, "probe_a"),
        *air(28, "mixed", 25.5, 71, "probe_a", point=2),
        *air(30, "supply", 16.7, 91, "probe_a"),
        *air(31, "supply", 16.8, 90, "probe_a", point=2),
        *flow(36, 1.79),
        (48, "condensate", {"condensate_kg": 4.6, "minutes": 10.0, "plus_minus_kg": 0.1}, "as_found"),
        (50, "water_sources", FOUND, "as_found"),
        (54, "moisture_aim", AIM, "as_found"),
        (
            60,
            "setting",
            {
                "what": "Minimum position",
                "was": "31 % of the air",
                "now": "21 % of the air",
                "why": "brings in half of the water",
            },
            "as_found",
        ),
        (
            66,
            "setting",
            {"what": "Tanks and side door", "was": "open", "now": "covers on, door closes by itself", "why": "the other half"},
            "as_found",
        ),
        (110, "water_sources", LEFT, "as_left"),
        *air(112, "return", 24.0, 60, "probe_a", "as_left"),
        *air(113, "return", 24.1, 60, "probe_a", "as_left", 2),
        *air(114, "outdoor", 28.2, 79, "probe_a", "as_left"),
        *air(115, "mixed", 24.8, 65, "probe_a", "as_left"),
        *air(116, "mixed", 24.9, 65, "probe_a", "as_left", 2),
        *air(117, "supply", 15.2, 91, "probe_a", "as_left"),
        *air(118, "supply", 15.3, 90, "probe_a", "as_left", 2),
        *flow(120, 1.79, "as_left"),
        (134, "condensate", {"condensate_kg": 3.7, "minutes": 10.0, "plus_minus_kg": 0.1}, "as_left"),
    ]

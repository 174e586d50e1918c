"""Night cooling at the courtyard dwelling: its blower and limits, and the plan that was made for one night."""

from __future__ import annotations

from typing import Any

SETUP: dict[str, Any] = {
    "flush": {"full_m3s": 0.47, "full_w": 390.0, "floor_c": 20.0, "dew_point_limit_c": 15.0},
    "cooling": {"setpoint_c": 24.5, "capacity_w": 8792.0},
    "floor_area_m2": 161.65,
}

PLANNED: dict[str, Any] = {
    "high_c": 34.0,
    "low_c": 16.5,
    "room_c": 24.8,
    "dew_point_c": 11.0,
    "target_c": 20.5,
    "start_hour": 22,
    "stop_hour": 8,
}


def planned(minute: int) -> list[Any]:
    """The setup as it was noted, and tonight's plan."""
    return [(minute, "night_setup", SETUP, "as_found"), (minute + 4, "night_planned", PLANNED, "as_found")]

"""What a controller answers, read before anything is done with it: whatever comes, it is known or named."""

from __future__ import annotations

from collections.abc import Mapping
from math import isfinite
from typing import Any

from fentro_core.base.device import DeviceGone
from fentro_core.economizer.places import POINTS

TEXTS = ("mode", "alarm")

HELD_WITHIN = {
    "temperature": 0.3,
    "relative_humidity": 0.03,
    "pressure": 2.0,
    "share": 0.03,
}
"""How near to what it is held at a point must show. Ours: a controller rounds, and its own sensors show a tenth."""

SHOWS_AT_ONCE = ("input", "setpoint")
"""Points that show what they are held at. An output may wait its own rest times, or its actuator's way."""


def read_points(given: object) -> dict[str, Any]:
    """Points by key: numbers as numbers, yes and no as 1 and 0, ``mode`` and ``alarm`` as text, ``overridden`` as names.

    A point without a usable value is left out: it is not observed. ``alarm`` and ``time_s`` are there only where the controller
    tells them.

    Raises
    ------
    DeviceGone
        This is no answer of points, or it does not say what is held: in words.

    >>> read_points({"fan": True, "relief": None, "mode": "free", "overridden": ["fan"]})
    {'fan': 1.0, 'mode': 'free', 'overridden': ['fan']}
    """
    if not isinstance(given, Mapping):
        raise DeviceGone("The gateway's answer has no points. Its maker must look at it: docs/controller.md says what is due.")
    held = given.get("overridden")
    if not isinstance(held, list) or not all(isinstance(each, str) for each in held):
        raise DeviceGone("The gateway does not say what is overridden: nothing can be held safely, so nothing is.")
    found: dict[str, Any] = {}
    for key, value in given.items():
        if key in TEXTS:
            if isinstance(value, str) or (key == "alarm" and value is None):
                found[key] = value or ""
        elif isinstance(value, int | float) and isfinite(value) and (key in POINTS or key == "time_s"):
            found[key] = float(value)
    return {**found, "mode": found.get("mode", ""), "overridden": list(held)}


def read_alarms(given: object) -> list[Mapping[str, Any]]:
    """Alarms that stand, each with its key; what is none is left out.

    >>> read_alarms([{"key": "freeze_trip", "since_s": 3}, 7])
    [{'key': 'freeze_trip', 'since_s': 3}]
    """
    return (
        [each for each in given if isinstance(each, Mapping) and isinstance(each.get("key"), str)]
        if isinstance(given, list)
        else []
    )


def not_held(wanted: Mapping[str, float], points: Mapping[str, Any]) -> str:
    """The first point that is not held as it was asked to be; "" where all are.

    >>> not_held({"room_temperature": 24.0}, {"room_temperature": 21.5, "overridden": ["room_temperature"]})
    'room_temperature'
    """
    held = points["overridden"]
    for point, value in wanted.items():
        known, shown = POINTS[point], points.get(point)
        if point not in held:
            return point
        if known.role in SHOWS_AT_ONCE and shown is not None and abs(shown - value) > HELD_WITHIN[known.kind]:
            return point
    return ""


def out_of_range(point: str, value: float) -> bool:
    """An override may not say this.

    >>> out_of_range("damper_command", 20.0), out_of_range("damper_command", 0.2)
    (True, False)
    """
    known = POINTS[point]
    return not known.low <= value <= known.high

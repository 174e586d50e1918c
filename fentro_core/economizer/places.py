"""Places where sensors hang, and the points of a controller: what can be read, what can be overridden, within what."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal, Protocol

from fentro_core.base.typed_json import Json


@dataclass(frozen=True)
class Place:
    """Where a temperature sensor hangs; `station`: where the technician reads the same air."""

    key: str
    name: str
    station: str


PLACES: dict[str, Place] = {
    each.key: each
    for each in (
        Place("outdoor", "outdoor air", "outdoor"),
        Place("return", "return air", "return"),
        Place("mixed", "mixed air", "mixed"),
        Place("supply", "supply air", "supply"),
    )
}


@dataclass(frozen=True)
class Point:
    """A controller's point. `role`: what may be done with it; `low`, `high`: what an override may say (SI)."""

    key: str
    name: str
    kind: str
    role: Literal["input", "output", "setpoint", "state"]
    low: float = 0.0
    high: float = 1.0
    overridable: bool = True


POINTS: dict[str, Point] = {
    each.key: each
    for each in (
        Point("outdoor_temperature", "Outdoor temperature", "temperature", "input", -40, 60),
        Point("outdoor_humidity", "Outdoor humidity", "relative_humidity", "input"),
        Point("return_temperature", "Return temperature", "temperature", "input", -10, 60),
        Point("return_humidity", "Return humidity", "relative_humidity", "input"),
        Point("mixed_temperature", "Mixed temperature", "temperature", "input", -40, 60),
        Point("supply_temperature", "Supply temperature", "temperature", "input", -40, 80),
        Point("after_coil_temperature", "Temperature after the coil", "temperature", "input", -20, 60),
        Point("room_temperature", "Room temperature", "temperature", "input", -10, 60),
        Point("building_pressure", "Building pressure", "pressure", "input", -100, 200),
        Point("cooling_setpoint", "Cooling setpoint", "temperature", "setpoint", 10, 40),
        Point("heating_setpoint", "Heating setpoint", "temperature", "setpoint", 5, 35),
        Point("humidity_setpoint", "Humidity setpoint", "relative_humidity", "setpoint"),
        Point("occupied", "Occupied", "share", "setpoint"),
        Point("damper_command", "Outdoor damper, command", "share", "output"),
        Point("damper_position", "Outdoor damper, actuator's answer", "share", "input", overridable=False),
        Point("compressor", "Compressor", "share", "output"),
        Point("heating", "Heating", "share", "output"),
        Point("reheat", "Reheat", "share", "output"),
        Point("return_bypass", "Return bypass", "share", "output"),
        Point("fan", "Fan", "share", "output"),
        Point("relief", "Relief", "share", "output"),
        Point("mode", "Mode", "text", "state", overridable=False),
        Point("alarm", "Alarm", "text", "state", overridable=False),
    )
}

TEMPERATURES = {place: f"{place}_temperature" for place in PLACES}
"""The point that claims to show each place's temperature."""

MODES = {
    "start_up": "starting up",
    "off": "off",
    "minimum": "minimum outdoor air",
    "heating": "heating",
    "free": "cooling with outdoor air",
    "free_and_compressor": "outdoor air and compressor",
    "compressor": "compressor cooling",
    "drying": "drying",
    "freeze_trip": "tripped by freeze protection",
}


class Controller(Protocol):
    """What Fentro asks of an economizer's controller. A stand-in implements it; a real gateway could.

    Values are SI, positions and stages 0 to 1; an override holds until it is released. Every call may raise
    `DeviceRefused` (it will not) or `DeviceGone` (it does not answer).
    """

    def points(self) -> Mapping[str, Any]:
        """Every point's value by key; ``time_s``: the controller's own clock; ``overridden``: keys that are held."""

    def override(self, point: str, value: float) -> None:
        """Hold a point at a value."""

    def release(self, point: str) -> None:
        """Let it go; releasing what is not held is harmless."""

    def alarms(self) -> list[Mapping[str, Any]]:
        """Standing alarms: key, since when by the controller's clock."""

    def save(self) -> Json:
        """The configuration that runs now."""

    def load(self, configuration: Json) -> None:
        """Run another configuration; the controller goes through its start-up."""

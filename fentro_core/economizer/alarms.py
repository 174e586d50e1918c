"""Alarms: what each locks out, how it clears, what to check in which order. One cleared without a cause found is a finding."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.economizer.configuration import WORDS, Configuration
from fentro_core.economizer.places import PLACES


@dataclass(frozen=True)
class AlarmKind:
    """A kind of alarm. `by_itself`: clears when the cause is gone; otherwise by hand. `place`: the sensor it is about."""

    key: str
    name: str
    means: str
    by_itself: bool
    checks: tuple[str, ...]
    place: str = ""
    caution: str = ""


SENSOR_CHECKS = (
    "Connector: green or black with corrosion, a pin pushed back, water in it. Pull it, look, push it home.",
    "Wire: follow it from the sensor to the input; look for a crushed or cut place, and check it end to end.",
    "Sensor: disconnect both ends and read its resistance, or hold a reference probe beside it.",
    "Controller's input: put a known resistance in the sensor's place. A right reading clears the input.",
    "Configuration: the right sensor type, on the right terminal, in the right loop.",
)

_LOW_VOLTAGE = (
    "Low voltage only. Check for voltage before you touch, and lock out power before a hand goes near blower or blades."
)

ALARMS: dict[str, AlarmKind] = {
    each.key: each
    for each in (
        *(
            AlarmKind(
                f"sensor_{key}",
                f"{place.name.capitalize()} sensor failed",
                "The input shows no temperature that air can have.",
                True,
                SENSOR_CHECKS,
                key,
                _LOW_VOLTAGE,
            )
            for key, place in PLACES.items()
        ),
        AlarmKind(
            "freeze_trip",
            "Tripped by freeze protection",
            "The air before the coil stayed too cold for too long: fan off, damper shut.",
            False,
            (
                "Feel and read the mixed air: is it really cold, or does the sensor say so only?",
                "Outdoor damper: shut now? If it leaks or stands open, find out why first.",
                "Low limit: does it read the mixed air, and did it pull the damper in before the trip?",
                "Coil: look for frost, and for a burst tube before water comes back.",
                "Then reset it by hand, and watch for ten minutes.",
            ),
            "mixed",
            "A frozen water coil may have burst: look before water or fan come back.",
        ),
        AlarmKind(
            "damper",
            "Damper does not follow",
            "The actuator's answer differs from its command.",
            True,
            (
                "Power at the actuator: 24 V there?",
                "Command signal at the actuator: does it follow the controller?",
                "Linkage: power locked out, loosen it and move blades and actuator by hand, each alone.",
                "Actuator: does it turn freely when unloaded?",
                "Configuration: direction, signal range.",
            ),
            "",
            "Power locked out before a hand goes near the blades: the spring moves them.",
        ),
        AlarmKind(
            "other",
            "Another alarm",
            "Not one of those listed: write down its words.",
            True,
            ("Read the maker's instructions for this alarm.", *SENSOR_CHECKS[:2]),
            "",
            _LOW_VOLTAGE,
        ),
    )
}


def consequence(alarm: str, setting: Configuration) -> str:
    """What a standing alarm does to the unit, by its configuration.

    >>> consequence("sensor_outdoor", Configuration(locks_out=True))
    'Outdoor damper at minimum, no cooling with outdoor air, and the compressor is locked out: “no cooling” on a hot day.'
    """
    kind = ALARMS.get(alarm, ALARMS["other"])
    if alarm == "freeze_trip":
        return "Fan off, damper shut, no heating or cooling until it is reset by hand."
    if kind.place:
        damper = f"Outdoor damper {WORDS[setting.on_sensor_failure]}, no cooling with outdoor air"
        needed = kind.place in {*setting.loops.values(), "outdoor"}
        if not needed:
            return "Nothing is locked out by this configuration: no loop reads this sensor."
        if setting.locks_out:
            return f"{damper}, and the compressor is locked out: “no cooling” on a hot day."
        return f"{damper}. The compressor may run."
    return (
        "Outdoor air may be too much or too little. Watch the mixed air."
        if alarm == "damper"
        else "Read the maker's instructions."
    )

"""The audit of the sensors, step by step: conditions brought about one after the other, and a probe at every place in each."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from fentro_core.economizer.places import PLACES, TEMPERATURES, Controller
from fentro_core.economizer.sensor_identity import Condition, Reference, audit_signs, sensor_identity
from fentro_core.economizer.true_air import (
    COMPRESSOR_ON,
    DAMPER_LITTLE_OPEN,
    DAMPER_OPEN,
    DAMPER_PART_OPEN,
    DAMPER_SHUT,
    DAMPER_WIDER,
    OPENED,
    UNIT_OFF,
    by_probe,
    signs_by_probe,
)

Hands = Callable[[str, str], None]
Wait = Callable[[float], None]

STEADY_K = 0.25
WARM_FROM_C = 10.0
"""Outdoor air from here on may fill the unit: the damper is opened wholly. Ours, well over the freeze limits."""

WIDER_FROM_C, NO_COLDER_C = 12.0, 5.0
"""In colder weather it is opened wider step by step, as long as a probe finds the mixed air no colder than the first, and the
next step would not bring it under the second. Ours, over the freeze limits."""

FROST_FROM_C = 2.0
"""Below this the first step is a small one. Ours."""

AT_MOST = 1.5
"""So many times its share of the way a damper may let in more at the next step: few open in proportion. Ours."""


def reset_trip(controller: Controller, wait: Wait, hands: Hands | None) -> None:
    """Freeze protection is reset by hand; then the start-up passes."""
    if hands and any(alarm["key"] == "freeze_trip" for alarm in controller.alarms()):
        hands("freeze_reset", "")
        wait(90)


def conditions_of(outdoor_c: float, return_c: float) -> tuple[tuple[str, float, float], ...]:
    """Name, damper command and compressor of each condition, in order.

    Compressor on sets supply and mixed air apart. On a hot day its turn comes first and it runs as long as may be: else the room
    warms until outdoor and return air are alike. In the cold the damper is opened by steps.
    """
    opened = (DAMPER_OPEN, 1.0, 0.0)
    if outdoor_c > return_c:
        return (COMPRESSOR_ON, 0.15, 1.0), (DAMPER_SHUT, 0.0, 1.0), opened
    little = ((DAMPER_LITTLE_OPEN, 0.25, 0.0),) if outdoor_c < FROST_FROM_C else ()
    steps = () if outdoor_c >= WARM_FROM_C else (*little, (DAMPER_PART_OPEN, 0.45, 0.0), (DAMPER_WIDER, 0.7, 0.0))
    return (DAMPER_SHUT, 0.0, 0.0), *steps, opened, (COMPRESSOR_ON, 0.15, 1.0)


def audit(
    controller: Controller, wait: Wait, reference: Callable[[str], float], hands: Hands | None = None, room_c: float = 22.0
) -> tuple[Condition, ...]:
    """Compare every sensor with a reference probe at its place in known conditions, each once steady.

    The room is held between its setpoints, so that nothing runs that was not asked for. A condition that never settles, or that
    the controller did not hold, is left out; so is a damper opened wider where that would make the mixed air cold. Where the unit
    trips, its sensors are compared as it stands still, once: which is which can be told there as well.
    """
    found: list[Condition] = []
    outdoor_c = reference("outdoor")
    opened = 0.0
    for name, position, compressor in conditions_of(outdoor_c, reference("return")):
        if opened and not compressor and not _stays_warm(found, opened, position):
            continue
        opened = position if name in OPENED else opened
        reset_trip(controller, wait, hands)
        held = {"occupied": 1.0, "room_temperature": room_c, "damper_command": position, "compressor": compressor}
        seen = _once_steady(controller, wait, held)
        if seen is not None:
            state = UNIT_OFF if seen["mode"] == "freeze_trip" else name
            if state not in {each.name for each in found}:
                found.append(audit_condition(state, seen, {place: reference(place) for place in PLACES}))
        for point in held:
            controller.release(point)
        wait(60)
    return tuple(found)


def _once_steady(controller: Controller, wait: Wait, held: Mapping[str, float]) -> Mapping[str, Any] | None:
    """Hold these, wait for the air to settle, and read; None where it never does, or one is not held. They stay held."""
    for point, value in held.items():
        controller.override(point, value)
    wait(240)
    before = controller.points()
    for _ in range(10):
        wait(30)
        now = controller.points()
        moved = max(abs(float(now[key]) - float(before[key])) for key in TEMPERATURES.values())
        before = now
        if not set(held) <= set(now.get("overridden", held)):
            return None
        if moved < STEADY_K:
            return now
    return None


def _stays_warm(found: list[Condition], opened: float, wider: float) -> bool:
    """The damper was opened last, and the mixed air is warm enough for a step further, and will be after it."""
    last = found[-1] if found else None
    if last is None or last.name not in OPENED or last.known["mixed"].value_c < WIDER_FROM_C:
        return False
    outdoor, back, mixed = (last.known[place].value_c for place in ("outdoor", "return", "mixed"))
    return max(outdoor, back - AT_MOST * wider / opened * (back - mixed)) >= NO_COLDER_C


def audit_condition(name: str, points: Mapping[str, Any], references: Mapping[str, float]) -> Condition:
    """One condition of the sensors against reference readings at their places [°C]."""
    shown = {place: float(points[TEMPERATURES[place]]) for place in PLACES}
    return Condition(name, shown, {place: Reference(value) for place, value in references.items()})


def signs_of_audit(conditions: tuple[Condition, ...]) -> dict[str, bool] | None:
    """What an audit of the four places says of sensors, compressor and blades; None where no condition came about."""
    if not conditions:
        return None
    found = audit_signs(sensor_identity(conditions, {place: place for place in PLACES}))
    return {**found, **signs_by_probe(by_probe(conditions))}

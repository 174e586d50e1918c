"""A whole proof against one controller, step by step: used by the bench, by tests, and by anything that has no browser."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from typing import Any

from fentro_core.base.device import DeviceGone, DeviceRefused
from fentro_core.base.refusal import Refused
from fentro_core.economizer.configuration import Configuration, read_configuration
from fentro_core.economizer.places import PLACES, TEMPERATURES, Controller
from fentro_core.economizer.proof.diagnosis import Diagnosis, diagnose
from fentro_core.economizer.proof.plan import Day, as_it_was, day_now, plan
from fentro_core.economizer.proof.running import Run, channels, state_before
from fentro_core.economizer.proof.settings import settings_signs
from fentro_core.economizer.proof.step import Step, TestRun
from fentro_core.economizer.sensor_identity import Condition, Reference, audit_signs, sensor_identity
from fentro_core.economizer.true_air import (
    COMPRESSOR_ON,
    DAMPER_OPEN,
    DAMPER_PART_OPEN,
    DAMPER_SHUT,
    UNIT_OFF,
    by_probe,
    signs_by_probe,
)

Hands = Callable[[str, str], None]
Wait = Callable[[float], None]
PUT_BACK = {"actuator_power": "on", "unplug": ""}


def run_step(controller: Controller, step: Step, wait: Wait, hands: Hands | None = None, every_s: float = 2.0) -> TestRun:
    """Run one test to its end and release what it held.

    Parameters
    ----------
    wait : callable
        Lets so many seconds of the controller's time pass.
    hands : callable, optional
        Does what must be done by hand; without it such a test ends stopped.
    """
    before = controller.points()
    run = Run(step, channels(before, {}), before)
    held: set[str] = set()
    by_hand = False
    try:
        while not run.over:
            _hold(controller, run, held)
            if run.hand_due and not by_hand and step.hand:
                if hands is None:
                    return run.seen("stopped")
                hands(step.hand.action, step.hand.value)
                by_hand = True
            run.take(controller.points())
            wait(every_s)
        return run.seen()
    except DeviceGone:
        return run.seen("gone")
    except DeviceRefused:
        return run.seen("refused")
    finally:
        if by_hand and step.hand and hands:
            hands(step.hand.action, PUT_BACK[step.hand.action])
        for point in held:
            try:
                controller.release(point)
            except DeviceGone:
                break


def _hold(controller: Controller, run: Run, held: set[str]) -> None:
    """Bring what is held to what the run wants; `held` is kept true at every moment."""
    wanted = {each.point: each.value for each in run.holds}
    for point in held - set(wanted):
        controller.release(point)
        held.discard(point)
    for point, value in wanted.items():
        controller.override(point, value)
        held.add(point)


def prove(controller: Controller, steps: tuple[Step, ...], wait: Wait, hands: Hands | None = None) -> Iterator[TestRun]:
    """Every test that a controller can run, in order, with a rest between."""
    found, mode = state_before(controller.points())
    for step in steps:
        if step.by_hand_only or step.not_today:
            continue
        reset_trip(controller, wait, hands)
        yield run_step(controller, as_it_was(step, found, mode, state_before(controller.points())[0]), wait, hands)
        wait(60)


def reset_trip(controller: Controller, wait: Wait, hands: Hands | None) -> None:
    """Freeze protection is reset by hand; then the start-up passes."""
    if hands and any(alarm["key"] == "freeze_trip" for alarm in controller.alarms()):
        hands("freeze_reset", "")
        wait(90)


STEADY_K = 0.25
WARM_FROM_C = 10.0
"""Outdoor air from here on may fill the unit: the damper is opened wholly. Ours, well over the freeze limits."""


def conditions_of(outdoor_c: float, return_c: float) -> tuple[tuple[str, float, float], ...]:
    """Name, damper command and compressor of each condition, in order.

    Compressor on sets supply and mixed air apart. On a hot day its turn comes first and it runs as long as may be: else the room
    warms until outdoor and return air are alike.
    """
    opened = (DAMPER_OPEN, 1.0, 0.0) if outdoor_c >= WARM_FROM_C else (DAMPER_PART_OPEN, 0.45, 0.0)
    if outdoor_c > return_c:
        return (COMPRESSOR_ON, 0.15, 1.0), (DAMPER_SHUT, 0.0, 1.0), opened
    return (DAMPER_SHUT, 0.0, 0.0), opened, (COMPRESSOR_ON, 0.15, 1.0)


def audit(
    controller: Controller, wait: Wait, reference: Callable[[str], float], hands: Hands | None = None, room_c: float = 22.0
) -> tuple[Condition, ...]:
    """Compare every sensor with a reference probe at its place in known conditions, each once steady.

    The room is held between its setpoints, so that nothing runs that was not asked for. A condition that never settles, or that
    the controller did not hold, is left out. Where the unit trips, its sensors are compared as it stands still, once: which is
    which can be told there as well.
    """
    found: list[Condition] = []
    for name, position, compressor in conditions_of(reference("outdoor"), reference("return")):
        reset_trip(controller, wait, hands)
        held = {"occupied": 1.0, "room_temperature": room_c, "damper_command": position, "compressor": compressor}
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
                break
            if moved < STEADY_K:
                state = UNIT_OFF if now["mode"] == "freeze_trip" else name
                if state not in {each.name for each in found}:
                    found.append(audit_condition(state, now, {place: reference(place) for place in PLACES}))
                break
        for point in held:
            controller.release(point)
        wait(60)
    return tuple(found)


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


def settings_that_run(controller: Controller, planned: Configuration) -> Mapping[str, bool] | None:
    """Which settings that run are other than planned; None where the controller gives none that can be read."""
    try:
        return settings_signs(planned, read_configuration(controller.save()))
    except (DeviceGone, DeviceRefused, Refused):
        return None


def whole_proof(
    controller: Controller,
    planned: Configuration,
    wait: Wait,
    reference: Callable[[str], float],
    hands: Hands | None = None,
    pressure_pa: float = Day().pressure_pa,
) -> tuple[Diagnosis, tuple[TestRun, ...]]:
    """Settings and sensors first, then every test; where that leaves it open, once more what would decide.

    Parameters
    ----------
    planned : Configuration
        What is due.
    reference : callable
        What a good probe shows at a place [°C].
    pressure_pa : float
        Of the site.
    """
    settings = settings_that_run(controller, planned)
    conditions = audit(controller, wait, reference, hands)
    day = day_now(channels(controller.points(), {}), Day(pressure_pa=pressure_pa))
    steps = plan(planned, replace(day, outdoor_c=reference("outdoor"), return_c=reference("return")))
    offered = {step.key for step in steps if not step.by_hand_only and not step.not_today}
    tests = list(prove(controller, steps, wait, hands))
    found = diagnose(tests, signs_of_audit(conditions), offered, settings)
    if not found.found and found.open_between:
        if "audit" in found.open_between:
            conditions = audit(controller, wait, reference, hands) or conditions
        tests += prove(controller, tuple(step for step in steps if step.key in found.open_between), wait, hands)
        found = diagnose(tests, signs_of_audit(conditions), offered, settings)
    return found, tuple(tests)

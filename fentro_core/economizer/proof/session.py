"""A whole proof against one controller, step by step: used by the bench, by tests, and by anything that has no browser."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace

from fentro_core.base.device import DeviceGone, DeviceRefused
from fentro_core.base.refusal import Refused
from fentro_core.economizer.configuration import Configuration, read_configuration
from fentro_core.economizer.places import Controller
from fentro_core.economizer.proof.auditing import Hands, Wait, audit, reset_trip, signs_of_audit
from fentro_core.economizer.proof.day import Day, day_now
from fentro_core.economizer.proof.diagnosis import Diagnosis, diagnose
from fentro_core.economizer.proof.plan import as_it_was, plan
from fentro_core.economizer.proof.running import Run, channels, state_before
from fentro_core.economizer.proof.settings import settings_signs
from fentro_core.economizer.proof.step import Step, TestRun

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


def settings_that_run(controller: Controller, planned: Configuration) -> Mapping[str, bool] | None:
    """Which settings that run are other than planned, of those that the controller gives; None where none can be read."""
    try:
        given = controller.save()
        known = {*given, *(f"loops.{loop}" for loop in given.get("loops", {}))}
        return settings_signs(planned, read_configuration(given), known) or None
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

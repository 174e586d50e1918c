"""The tests of reheat and bypass at a connected controller: what is held for each, and what was seen of it."""

from __future__ import annotations

from fentro_core.base.refusal import Refused
from fentro_core.economizer.proof.step import Due, Step, Stimulus, TestRun
from fentro_core.moisture.proof import WAIT_S, DryingTest, DryingTestKind, DryingTestSeen, Runs, tests
from fentro_core.system.nameplate import CoolingNameplate, Nameplate

PREFIX = "drying/"
"""Before a test's key, among the tests that a controller can run."""

AFTER_COIL = "after_coil_temperature"
READ = ("return_temperature", AFTER_COIL, "supply_temperature", "compressor")
"""Points without which nothing is proved."""

_NO_FREE_COOLING = (Stimulus("occupied", 1.0), Stimulus("outdoor_temperature", 35.0), Stimulus("heating_setpoint", 10.0))
_COOLING = (
    *_NO_FREE_COOLING,
    Stimulus("humidity_setpoint", 1.0),
    Stimulus("cooling_setpoint", 20.0),
    Stimulus("room_temperature", 28.0),
)
_DRYING = (
    *_NO_FREE_COOLING,
    Stimulus("humidity_setpoint", 0.05),
    Stimulus("cooling_setpoint", 30.0),
    Stimulus("room_temperature", 22.0),
)
HELD: dict[DryingTestKind, tuple[Stimulus, ...]] = {
    "cooling": _COOLING,
    "reheat": _DRYING,
    "back": _COOLING,
    "dehumidify": _DRYING,
    "bypass_shut": (*_COOLING, Stimulus("return_bypass", 0.0)),
    "bypass_open": (*_COOLING, Stimulus("return_bypass", 1.0)),
}
"""What a call is made by: sensors and setpoints are held, so that the sequence itself must answer."""

HAZARDS = (
    "The compressor will run: not when it is colder outside than its maker allows.",
    "Reheat coil and pipes burn. Keep hands and insulation clear.",
)


def held(test: DryingTestKind, plate: CoolingNameplate) -> tuple[Stimulus, ...]:
    """With reheat and bypass both, the other one is kept out of what is read."""
    if test.startswith("bypass"):
        return (*HELD[test], Stimulus("reheat", 0.0)) if plate.reheats else HELD[test]
    return (*HELD[test], Stimulus("return_bypass", 0.0)) if plate.bypasses else HELD[test]


def step_of(test: DryingTest, plate: CoolingNameplate) -> Step:
    """The test as a controller runs it: everything held until the coil has settled, then read."""
    return Step(
        key=f"{PREFIX}{test.kind}",
        title=test.title,
        purpose="The controller's sequence must answer the call.",
        do=test.do,
        stimulus=held(test.kind, plate),
        expected=tuple(Due(point) for point in READ),
        allowed_s=WAIT_S,
        hold_s=WAIT_S,
        hazards=HAZARDS,
    )


def live_step(nameplate: Nameplate, key: str) -> Step:
    """The step of a key.

    Raises
    ------
    Refused
        This unit has no such test.
    """
    for test in tests(nameplate):
        if f"{PREFIX}{test.kind}" == key and isinstance(nameplate, CoolingNameplate):
            return step_of(test, nameplate)
    raise Refused("There is no such test to run against the controller.", "step")


def seen_of(run: TestRun) -> DryingTestSeen:
    """The three temperatures and the compressor as the controller showed them at the end.

    Raises
    ------
    Refused
        It did not come to its end, or the controller shows no temperature after the coil.
    """
    if run.ended != "done":
        raise Refused(f"{ENDED.get(run.ended, ENDED['stopped'])} Nothing is proved.")
    if AFTER_COIL not in run.values:
        raise Refused("This controller shows no temperature after the coil. Read the three by hand.")
    stage = run.values.get("compressor")
    compressor: Runs = "" if stage is None else "runs" if stage > 0 else "stands"
    return DryingTestSeen(
        run.test.removeprefix(PREFIX),  # type: ignore[arg-type]
        run.values.get("return_temperature"),
        run.values[AFTER_COIL],
        run.values.get("supply_temperature"),
        compressor,
        "By the controller's sensors.",
    )


ENDED = {
    "stopped": "Stopped before its end.",
    "gone": "The controller stopped answering.",
    "not_ready": "The starting condition never came.",
    "refused": "The controller refused what was to be held.",
    "not_held": "The controller did not hold what it was told to hold.",
    "tripped": "Freeze protection stopped the unit.",
}

"""Plans, runs and days that tests of the economizer's proof share."""

from __future__ import annotations

import dataclasses
from collections.abc import Sequence

from fentro_core.base.sentence import Sentence
from fentro_core.economizer.configuration import Configuration
from fentro_core.economizer.proof.diagnosis import DRIVEN
from fentro_core.economizer.proof.fault import AIR_BACKWARDS, AIR_STANDS, BACKWARDS, STANDS
from fentro_core.economizer.proof.faults import FAULTS
from fentro_core.economizer.proof.step import SHARE, Due, Step, Stimulus, TestRun
from fentro_core.economizer.proof.weighing import MINIMUM_DUE

SETTING = Configuration()


def held(step: Step) -> dict[str, float]:
    return {each.point: each.value for each in step.stimulus}


STEP = Step("t", "T", "why", Sentence.of("Do."), (Stimulus("damper_command", 1.0),), (Due("damper_position", 0.95),), 60, 10)


def off(test: str, point: str, low: float | None, high: float | None, value: float) -> TestRun:
    return TestRun(test, "controller", {point: value}, {}, (Due(point, low, high),), reached_s=1.0)


FINE = [
    off(test, "damper_position", 0.0, 1.0, at)
    for test, at in (("closed", 0.0), ("full", 1.0), ("cool", 0.5), ("above", 0.5), ("heating", 0.5))
]


def upset(signs: list[str]) -> list[TestRun]:
    """Runs in which exactly these signs are seen, and everything else that any cause speaks of is as due."""
    spoken = {sign for fault in FAULTS for variant in fault.variants for sign in variant.chances()}
    tests: dict[str, dict[str, str]] = {}
    for word in spoken:
        test, point, *side = word.split(".")
        if test not in ("audit", "any", "damper", "air", "settings"):
            tests.setdefault(test, {})[point] = next(
                (each.split(".")[2] for each in signs if each.startswith(f"{test}.{point}.")), ""
            )
            assert side or point == "not_ready"
    runs = []
    for test, points in tests.items():
        if f"{test}.not_ready" in signs:
            runs.append(TestRun(test, "controller", ended="not_ready"))
            continue
        points.pop("not_ready", None)
        if not points:
            continue
        if "minimum" in points:
            side = points.pop("minimum")
            if side or any(f"{test}.minimum." in sign for sign in signs):
                points["damper_position"] = side
        due = {point: Due(point, -1.0, 0.05 if test in MINIMUM_DUE else 1.0) for point in points}
        values = {point: {"": 0.0, "low": -9.0, "high": 9.0}[side] for point, side in points.items()}
        if any(f"{test}.minimum." in sign for sign in signs):
            due["damper_position"] = Due("damper_position", -1.0, 0.3)
        for point, stands, turned in ((SHARE, AIR_STANDS, AIR_BACKWARDS), ("damper_position", STANDS, BACKWARDS)):
            if point in points and (test in DRIVEN or point == SHARE):
                values[point] = at = driven_to(test, stands in signs, turned in signs)
                band = {"": (at - 0.1, at + 0.1), "low": (at + 0.2, None), "high": (None, at - 0.2)}[points[point]]
                due[point] = Due(point, *band)
        runs.append(TestRun(test, "controller", values, {SHARE: 0.02}, tuple(due.values()), reached_s=1.0))
    return runs


def driven_to(test: str, stands: bool, backwards: bool) -> float:
    """Where the damper stands, or its air, when it is told to shut, and to open."""
    if stands or test not in DRIVEN:
        return 0.5
    return 1.0 if (test == "full") != backwards else 0.0


def shares(closed: float, full: float, signs: Sequence[str] = (), width: float = 0.05) -> list[TestRun]:
    """Every test as it should be, but for what the air says at both ends of the stroke, and these signs."""
    wrong = {"closed": closed, "full": full}
    return [
        dataclasses.replace(run, values={**run.values, SHARE: wrong[run.test]}, plus_minus={**run.plus_minus, SHARE: width})
        if run.test in wrong
        else run
        for run in upset(list(signs))
    ]

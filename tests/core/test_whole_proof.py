"""The whole proof, from the audit to what would decide, against the unit that shares no line with ours."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Set
from random import Random

import pytest

from bench.otherunit.score import HIDDEN, drawn, proved
from bench.otherunit.unit import OtherUnit
from fentro_core.economizer.proof import session
from fentro_core.economizer.proof.auditing import audit, signs_of_audit
from fentro_core.economizer.proof.diagnosis import Diagnosis, diagnose
from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.step import TestRun
from fentro_core.economizer.true_air import DAMPER_OPEN, UNIT_OFF


def pair(seed: int, at: int) -> tuple[str, ...]:
    """The faults of a pair as the bench draws them."""
    draw = Random(f"pairs|{seed}")
    return [tuple(draw.sample(HIDDEN, 2)) for _ in range(at + 1)][-1]


def twice(tests: Iterable[TestRun]) -> set[str]:
    """Tests that were run a second time."""
    return {test for test, count in Counter(run.test for run in tests).items() if count == 2}


def test_a_sound_unit_is_acquitted_and_only_what_told_nothing_is_run_again() -> None:
    unit, planned = drawn((), 60_001)
    found, tests = proved(unit, planned)
    assert (found.found, found.suspects) == ("", ())
    told_nothing = {run.test for run in tests if verdict(run).mark in ("too_close", "not_measured")}
    assert twice(tests) == told_nothing
    assert unit.held == {}


def test_what_would_decide_is_run_once_more_and_then_decides(monkeypatch: pytest.MonkeyPatch) -> None:
    hidden = pair(514_229, 21)
    assert hidden == ("no_differential", "fail_safe"), "each stands on one sign alone"
    unit, planned = drawn(hidden, 514_229 * 100 + 21)
    found, tests = proved(unit, planned)
    assert found.found in hidden
    assert twice(tests)
    assert twice(tests) <= {"inside", "sensor", "power"}, "only what was asked for"

    def by_the_first(
        runs: list[TestRun], compared: Mapping[str, bool] | None, offered: Set[str], settings: Mapping[str, bool] | None
    ) -> Diagnosis:
        return diagnose({run.test: run for run in reversed(runs)}.values(), compared, offered, settings)

    monkeypatch.setattr(session, "diagnose", by_the_first)
    unit, planned = drawn(hidden, 514_229 * 100 + 21)
    assert proved(unit, planned)[0].found == "", "by the first runs alone it is open"


@pytest.mark.parametrize(
    ("hidden", "sign"),
    [
        ("stuck_damper", "air_stands"),
        ("loose_blades", "air_stands"),
        ("reversed_actuator", "air_backwards"),
        ("no_cooling", "no_cooling"),
        ("drifted_sensor", "drifted"),
        ("swapped_sensors", "swapped"),
        ("slipped_linkage", "opens_short"),
        ("wrong_minimum", ""),
    ],
)
def test_the_audit_alone_says_this_of_a_fault_and_nothing_else(hidden: str, sign: str) -> None:
    """Of a dozen drawn units those of whom it could be told. Blades that stand may stand open, or short."""
    besides = {"air_stands": {"open_when_shut", "opens_short"}, "air_backwards": {"open_when_shut", "opens_short"}}
    told = 0
    for seed in range(70_000, 70_012):
        unit, _ = drawn((hidden,), seed)
        unit.advance(900)
        signs = signs_of_audit(audit(unit, unit.advance, unit.reference, unit.hand))
        there = {key for key, seen in signs.items() if seen} - {"alike"}
        assert there - besides.get(sign, set()) <= {sign} if sign else not there, signs
        told += sign in there or not sign
    assert told >= 4


COLD_C = (-9.0, -4.0, 0.0, 3.0, 6.0)


@pytest.mark.parametrize("outdoor_c", COLD_C)
@pytest.mark.parametrize("hidden", [(), ("slipped_linkage",), ("stuck_damper",), ("reversed_actuator",)])
def test_an_audit_in_the_cold_freezes_no_unit_that_can_shut_its_damper(hidden: tuple[str, ...], outdoor_c: float) -> None:
    """Opened by steps: a sound unit stays above its freeze limit, and one whose linkage slips is opened wholly."""
    whole = 0
    for seed in range(90_000, 90_004):
        made, planned = drawn(hidden, seed)
        unit = OtherUnit(seed, made.make, planned, made.wrong, (outdoor_c, 0.5))
        unit.advance(900)
        found = audit(unit, unit.advance, unit.reference, unit.hand)
        assert unit.held == {}
        names = [condition.name for condition in found]
        assert len(names) == len(set(names))
        if hidden in ((), ("slipped_linkage",)):
            assert UNIT_OFF not in names, "nothing tripped"
            assert min(condition.known["mixed"].value_c for condition in found) > planned.freeze_c
        whole += DAMPER_OPEN in names
    if hidden == ("slipped_linkage",):
        assert whole >= 3, "its mixed air stays warm however far it is opened"
    if hidden == () and outdoor_c < 0:
        assert whole == 0

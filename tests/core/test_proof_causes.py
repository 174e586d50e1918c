"""What the tests upset names: one cause, several, or none."""

from __future__ import annotations

import dataclasses

import pytest

from fentro_core.economizer.proof.day import Day
from fentro_core.economizer.proof.diagnosis import diagnose, faults_of_test, signs_of
from fentro_core.economizer.proof.fault import Upsets
from fentro_core.economizer.proof.faults import FAULTS
from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.plan import plan
from fentro_core.economizer.proof.settings import SETTINGS
from fentro_core.economizer.proof.step import NAMES, SHARE, Due, TestRun
from fentro_core.economizer.proof.weighing import chances
from tests.core.proofs import FINE, SETTING, off, shares, upset


def test_causes_name_only_tests_that_exist() -> None:
    keys = {step.key for step in plan(SETTING, Day(outdoor_c=20.0))} | {"audit", "any", "damper", "air", "settings"}
    for cause in FAULTS:
        assert cause.do.endswith(".")
        for word in {sign for variant in cause.variants for sign in variant.chances()}:
            test, point = word.split(".")[:2]
            assert test in keys
            if test == "settings":
                assert word in SETTINGS
                continue
            compared = (
                "swapped",
                "drifted",
                "misplaced",
                "no_cooling",
                "air_stands",
                "air_backwards",
                "open_when_shut",
                "opens_short",
            )
            assert point in (*NAMES, *compared, "not_ready", "tripped", "stands", "backwards", "minimum"), word


def test_one_upset_test_and_the_rest_fine_point_to_one_cause() -> None:
    blocked = diagnose([*FINE, off("relief", "building_pressure", -5, 19, 40)])
    assert blocked.found == "relief_blocked"
    tied = diagnose(
        [*FINE, off("cold_mixed", "damper_position", None, 0.1, 1.0), off("cold_outdoor", "damper_position", 0.2, None, 0.0)]
    )
    assert tied.found == "low_limit_tied"
    assert "cold_outdoor.damper_position.low" in tied.suspects[0].signs
    assert faults_of_test("cold_mixed", tied)[0].key == "low_limit_tied"


def test_nothing_upset_accuses_nobody() -> None:
    found = diagnose(FINE, {"swapped": False, "drifted": False})
    assert found.found == ""
    assert found.suspects == ()
    assert found.sound > 0.35
    assert diagnose([], None).sound == pytest.approx(0.35)


VARIANTS = [(fault.key, each) for fault in FAULTS for each in fault.variants if each.surely or each.certainly]


@pytest.mark.parametrize(("cause", "variant"), VARIANTS)
def test_what_a_cause_surely_upsets_names_it(cause: str, variant: Upsets) -> None:
    sure = sorted(variant.surely | variant.certainly)
    audit = {key: f"audit.{key}" in sure for key in ("swapped", "drifted", "misplaced", "no_cooling")}
    settings = {sign: sign in variant.usually for sign in SETTINGS}
    found = diagnose(upset(sure), audit, settings=settings)
    assert found.suspects[0].fault.key == cause, [(each.fault.key, round(each.sure, 2)) for each in found.suspects]


def test_a_stopped_test_is_no_evidence() -> None:
    stopped = [dataclasses.replace(run, ended="stopped") for run in upset(["relief.building_pressure.high"])]
    assert diagnose(stopped).suspects == ()


def test_two_faults_at_once_are_weighed_where_one_leaves_signs() -> None:
    both = upset(["relief.building_pressure.high", "cold_mixed.damper_position.high", "cold_outdoor.damper_position.low"])
    found = diagnose(both, {"swapped": False, "drifted": False})
    sure = {each.fault.key: each.sure for each in found.suspects}
    assert sure["low_limit_tied"] > 0.9
    assert sure["relief_blocked"] > 0.15, "there is a sign that the first does not explain"
    assert sum(sure.values()) > 1.1
    assert found.sound < 0.01


def test_a_share_that_no_damper_gives_is_no_evidence_of_it() -> None:
    for share in (-0.3, 1.4):
        judged = verdict(TestRun("minimum", "controller", {SHARE: share}, {SHARE: 0.05}, (Due(SHARE, 0.1, 0.4),), reached_s=1.0))
        assert judged.mark == "too_close"


def test_where_it_is_not_sure_it_says_what_would_decide() -> None:
    air = upset(["full.outdoor_share.low"])
    found = diagnose(air)
    assert found.found == "", "by temperatures alone nothing is convicted"
    assert found.open_between[0] == "audit"
    assert diagnose(air, {"swapped": False, "drifted": False}).found == "", "a sensor may hang in another's air"
    told = diagnose(air, {"swapped": False, "drifted": False, "misplaced": False})
    assert told.found == "slipped_linkage"
    assert told.open_between == ()
    few = [run for run in upset(["cool.compressor.high"]) if run.test == "cool"]
    open_ = diagnose(few, {"swapped": False, "drifted": False})
    assert not open_.found
    assert open_.open_between
    alike = TestRun("full", "controller", {SHARE: 0.9}, {SHARE: 0.6}, (Due(SHARE, 0.8, None),), reached_s=1.0)
    assert diagnose([alike]).suspects == ()
    assert diagnose([alike]).open_between == ("full",), "nothing is suspected, and yet it is not all seen"
    assert diagnose(iter([alike])).open_between == ("full",)
    assert "cool" not in open_.open_between, "what was seen is not asked for again while something was not"


def test_of_the_stroke_one_fault_hides_the_others() -> None:
    stuck = next(variant for key, variant in VARIANTS if key == "stuck_damper")
    found = diagnose(upset(sorted(stuck.surely | stuck.certainly)), {"swapped": False, "drifted": False})
    of_stroke = {each.fault.key for each in found.suspects if each.sure > 0.1} & {"stuck_damper", "reversed_actuator"}
    assert of_stroke == {"stuck_damper"}


@pytest.mark.parametrize(
    ("closed", "full", "named"),
    [(0.4, 0.42, "loose_blades"), (0.05, 0.4, "slipped_linkage"), (0.9, 0.1, "reversed_actuator"), (0.05, 0.95, "")],
)
def test_what_the_air_says_at_both_ends_tells_blades_from_linkage(closed: float, full: float, named: str) -> None:
    compared = {"swapped": False, "drifted": False, "misplaced": False}
    assert diagnose(shares(closed, full), compared).found == named
    assert diagnose(shares(closed, full)).found == "", "not on temperatures that nobody compared"
    assert diagnose(shares(closed, full), {"unclear": True}).found == ""


def test_a_minimum_set_wrong_shows_wherever_the_minimum_is_due() -> None:
    signs = ["above.damper_position.high", "inside.not_ready", "below.not_ready"]
    compared = {"swapped": False, "drifted": False, "misplaced": False}
    elsewhere = [run for run in upset([*signs, "heating.damper_position.high"]) if run.test != "sensor"]
    assert diagnose(elsewhere, compared).suspects[0].fault.key == "wrong_minimum"
    assert diagnose(upset([*signs, "above.compressor.low"]), compared).found == "wrong_changeover"


@pytest.mark.parametrize(
    ("full", "width", "mark", "sign"), [(0.4, 0.1, "off", True), (0.78, 0.1, "off", None), (0.2, 0.3, "too_close", None)]
)
def test_a_share_is_a_sign_where_it_is_clearly_beyond(full: float, width: float, mark: str, sign: bool | None) -> None:
    run = next(each for each in shares(0.05, full, width=width) if each.test == "full")
    assert verdict(run).mark == mark
    assert signs_of([run]).get("full.outdoor_share.low") is sign


def test_what_two_runs_showed_is_believed_more() -> None:
    seen = upset(["inside.damper_position.high", "sensor.damper_position.high"])
    fine = {"swapped": False, "drifted": False, "misplaced": False}
    once, twice = (diagnose(runs, fine) for runs in (seen, [*seen, *seen]))
    best = [next(each.sure for each in found.suspects if each.fault.key == "no_differential") for found in (once, twice)]
    assert best[1] > best[0]
    assert diagnose([*seen, *upset([])], fine).suspects == (), "the last run counts"


def test_chances_add_up_and_do_not_hang_on_the_order() -> None:
    signs = {"inside.damper_position.high": True, "audit.swapped": False, "cool.compressor.high": True, "any.tripped": False}
    found = chances(signs)
    assert sum(found.values()) == pytest.approx(1.0)
    assert found == chances(dict(reversed(signs.items())))
    assert len(chances({})) < len(found), "two at once only where something was seen"

"""The plan of functional tests: the whole list, its stimuli, what each step asks for and how it is undone."""

from __future__ import annotations

import dataclasses
from typing import Any

import pytest

from fentro_core.base.refusal import Refused
from fentro_core.economizer.configuration import Configuration
from fentro_core.economizer.proof.cautions import FREEZE, HOT
from fentro_core.economizer.proof.day import Day
from fentro_core.economizer.proof.diagnosis import diagnose
from fentro_core.economizer.proof.loops import loop_step, loop_steps
from fentro_core.economizer.proof.plan import Wanted, as_it_was, plan
from fentro_core.economizer.proof.running import mode_as_found, state_before
from fentro_core.economizer.proof.step import MODE, NAMES, Hand, Step
from tests.core.proofs import SETTING, STEP, held, upset

METHODS = ("fixed_dry_bulb", "differential_dry_bulb", "fixed_enthalpy", "differential_enthalpy")


MILD, NOTHING = Day(), Wanted()


def by_key(setting: Configuration = SETTING, day: Day = MILD, wanted: Wanted = NOTHING) -> dict[str, Step]:
    return {step.key: step for step in plan(setting, day, wanted)}


@pytest.mark.parametrize("method", METHODS)
@pytest.mark.parametrize("sequence", ["integrated", "exclusive"])
@pytest.mark.parametrize("outdoor", [-10.0, 8.0, 14.0, 20.0, 34.0])
def test_every_plan_has_the_whole_list_with_times_and_known_points(method: Any, sequence: Any, outdoor: float) -> None:
    steps = plan(dataclasses.replace(SETTING, changeover=method, sequence=sequence), Day(outdoor_c=outdoor))
    keys = [step.key for step in steps]
    for needed in (
        "by_hand",
        "closed",
        "minimum",
        "full",
        "cool",
        "above",
        "inside",
        "below",
        "heating",
        "unoccupied",
        "cold_mixed",
        "cold_outdoor",
        "power",
        "sensor",
        "relief",
        "restore",
    ):
        assert needed in keys
    for step in steps:
        assert step.by_hand_only or step.expected
        assert step.allowed_s > 0
        assert {due.point for due in step.expected} <= set(NAMES)
        assert step.hazards or step.key == "restore"


def test_the_stimulus_suits_the_day() -> None:
    assert "outdoor_temperature" not in held(by_key(day=Day(outdoor_c=14.0))["cool"]), "14 °C outside: raise the setpoint"
    hot = by_key(day=Day(outdoor_c=34.0))["cool"]
    assert held(hot)["outdoor_temperature"] < SETTING.high_limit_c - 2
    assert HOT in hot.hazards
    assert FREEZE in by_key(day=Day(outdoor_c=-2.0))["full"].hazards


def test_too_cold_a_day_says_so_instead_of_failing_a_sound_unit() -> None:
    cold = by_key(dataclasses.replace(SETTING, minimum_position=0.35), Day(outdoor_c=-15.0))
    assert cold["cool"].not_today is not None
    assert cold["heating"].not_today is None
    assert cold["above"].expected[0].low is None, "the low limit may rightly hold it lower"


def test_settings_and_tests_cannot_disagree() -> None:
    other = dataclasses.replace(
        SETTING, high_limit_c=18.0, minimum_position=0.3, heating_damper="closed", on_sensor_failure="full"
    )
    found = by_key(other)
    assert held(found["above"])["outdoor_temperature"] == pytest.approx(18.8)
    assert 18.0 - other.differential_k < held(found["inside"])["outdoor_temperature"] < 18.0
    assert held(found["below"])["outdoor_temperature"] < 18.0 - other.differential_k
    assert held(found["minimum"])["damper_command"] == 0.3
    assert found["heating"].expected[0].high == pytest.approx(0.06)
    assert found["sensor"].expected[0].low == pytest.approx(0.94)
    wanted = by_key(other, wanted=Wanted(0.25))["minimum"].expected[1]
    assert (wanted.low, wanted.high) == pytest.approx((0.17, 0.33))


def test_no_compressor_no_compressor_tests() -> None:
    found = by_key(dataclasses.replace(SETTING, stages=0), Day(outdoor_c=20.0))
    assert "assist" not in found
    assert [due.point for due in found["above"].expected] == ["damper_position"]


def test_loop_checks_step_the_right_sensor_and_the_others() -> None:
    steps = {step.key: step for step in loop_steps(SETTING, Day())}
    assert {"loop/low_limit/mixed", "loop/low_limit/outdoor", "loop/supply_loop/supply", "loop/supply_loop/return"} <= set(steps)
    assert steps["loop/low_limit/mixed"].expected[0].high == -0.02
    assert steps["loop/low_limit/outdoor"].expected[0].low == -0.02
    with pytest.raises(Refused):
        loop_step(SETTING, Day(), "loop/none")


def test_a_hand_step_says_how_to_undo_itself() -> None:
    for step in plan(SETTING, Day()):
        if isinstance(step.hand, Hand):
            assert step.hand.undo
            assert step.hand.kind in ("wire", "sensor")


def test_air_that_can_not_be_played_takes_single_tests_away_and_never_the_plan() -> None:
    for method in ("differential_enthalpy", "fixed_enthalpy"):
        setting = Configuration(changeover=method)  # type: ignore[arg-type]
        for back in (0.3, 0.6, 0.8, 0.97):
            for celsius in (22.0, 26.0, 31.0):
                steps = plan(setting, Day(26.0, celsius, 0.6, back))
                assert {"closed", "full", "heating", "relief", "restore"} <= {step.key for step in steps if not step.not_today}
    fog = {
        step.key: step.not_today for step in plan(Configuration(changeover="differential_enthalpy"), Day(26.0, 30.0, 0.6, 0.95))
    }
    assert fog["above"] is not None
    assert "humid" in fog["above"].say() or "enthalpy" in fog["above"].say()


def test_only_tests_of_this_plan_are_asked_for() -> None:
    few = [run for run in upset(["cool.compressor.high"]) if run.test in ("closed", "cool")]
    told = {"swapped": False, "drifted": False, "misplaced": False}
    anything, offered = diagnose(few, told), diagnose(few, told, {"closed", "cool", "above"})
    assert set(anything.open_between) - {"above", "cool", "closed", "audit"}
    assert set(offered.open_between) <= {"above", "cool", "closed", "audit", "settings"}
    assert offered.open_between


def test_restore_asks_for_fan_and_mode_as_found() -> None:
    restore = next(each for each in plan(Configuration(), Day()) if each.key == "restore")
    ran = as_it_was(restore, {"fan": 1.0, "occupied": 1.0}, "free", {"occupied": 1.0})
    assert {band.point for band in ran.expected} == {"overrides", "fan", "alarming", MODE}
    night = as_it_was(restore, {"fan": 1.0, "occupied": 1.0}, "free", {"occupied": 0.0})
    assert MODE not in {band.point for band in night.expected}, "the schedule turned meanwhile"
    assert as_it_was(STEP, {"fan": 1.0}, "free", {}) == STEP
    assert mode_as_found("minimum", "free") == 1.0
    assert mode_as_found("start_up", "free") == 0.0
    assert mode_as_found("off", "minimum") == 0.0
    assert mode_as_found("economy 3", "free") is None, "another word says nothing"
    assert mode_as_found("economy 3", "economy 3") == 1.0
    held = {"fan": 1.0, "occupied": 1.0, "mode": "free", "overridden": ["fan"]}
    assert state_before(held) == ({"occupied": 1.0}, "")

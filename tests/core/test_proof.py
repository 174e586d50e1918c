"""Functional tests: what the plan calls for, how a run ends, what it is worth, which cause fits all; and which sensor is which."""

from __future__ import annotations

import dataclasses
import itertools
from collections.abc import Sequence
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.economizer.configuration import Configuration
from fentro_core.economizer.proof.cautions import FREEZE, HOT
from fentro_core.economizer.proof.day import Day
from fentro_core.economizer.proof.diagnosis import DRIVEN, diagnose, faults_of_test, signs_of
from fentro_core.economizer.proof.fault import AIR_BACKWARDS, AIR_STANDS, BACKWARDS, STANDS, Upsets
from fentro_core.economizer.proof.faults import FAULTS
from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.loops import loop_step, loop_steps
from fentro_core.economizer.proof.plan import Wanted, as_it_was, plan
from fentro_core.economizer.proof.running import Run, channels, mode_as_found, state_before
from fentro_core.economizer.proof.settings import SETTINGS
from fentro_core.economizer.proof.step import MODE, NAMES, SHARE, Due, Hand, Step, Stimulus, TestRun
from fentro_core.economizer.proof.weighing import MINIMUM_DUE, chances
from fentro_core.economizer.sensor_identity import Condition, Reference, audit_signs, sensor_identity

SETTING = Configuration()
METHODS = ("fixed_dry_bulb", "differential_dry_bulb", "fixed_enthalpy", "differential_enthalpy")


MILD, NOTHING = Day(), Wanted()


def by_key(setting: Configuration = SETTING, day: Day = MILD, wanted: Wanted = NOTHING) -> dict[str, Step]:
    return {step.key: step for step in plan(setting, day, wanted)}


def held(step: Step) -> dict[str, float]:
    return {each.point: each.value for each in step.stimulus}


# the plan


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


# a run


STEP = Step("t", "T", "why", Sentence.of("Do."), (Stimulus("damper_command", 1.0),), (Due("damper_position", 0.95),), 60, 10)


def feed(run: Run, values: list[dict[str, Any]], every_s: float = 5.0) -> Run:
    for index, each in enumerate(values):
        if run.over:
            break
        held = [stimulus.point for stimulus in run.holds]
        run.take({"time_s": index * every_s, "mode": "free", "overridden": held, "alarm": "", **each})
    return run


def positions(*values: float) -> list[dict[str, Any]]:
    return [{"damper_position": value, "damper_command": value} for value in values]


def test_what_is_due_must_stay_so_for_a_while() -> None:
    run = feed(Run(STEP, {}), positions(0.2, 0.96, 0.9, 0.97, 0.98, 0.99, 1.0))
    assert run.over
    assert run.reached_s == 15
    assert verdict(run.seen()).mark == "holds"


def test_what_comes_too_late_is_off_and_is_not_called_passed() -> None:
    late = feed(Run(STEP, {}), positions(*[0.3] * 14))
    assert verdict(late.seen()).mark == "off"
    assert "30 % seen, at least 95 % due" in verdict(late.seen()).sentence.say()
    seen = dataclasses.replace(late.seen(), values={"damper_position": 0.99}, reached_s=None)
    assert "not within" in verdict(seen).sentence.say()
    assert verdict(seen).mark == "off"


def test_a_test_that_must_hold_throughout_remembers_the_worst() -> None:
    still = dataclasses.replace(STEP, expected=(Due("damper_position", 0.1, 0.3),), throughout=True, allowed_s=30)
    assert verdict(feed(Run(still, {}), positions(*[0.2] * 8)).seen()).mark == "holds"
    swung = feed(Run(still, {}), positions(0.2, 0.2, 0.7, 0.2, 0.2, 0.2, 0.2, 0.2, 0.2, 0.2)).seen()
    assert verdict(swung).mark == "off"
    assert swung.values["damper_position"] == 0.7


def test_a_starting_condition_that_never_comes_proves_nothing() -> None:
    step = dataclasses.replace(STEP, first=(Stimulus("damper_command", 0.0),), ready=(Due("damper_position", None, 0.1),))
    run = Run(step, {})
    assert run.holds == step.first
    feed(run, positions(*[0.9] * 80))
    assert run.ended == "not_ready"
    assert verdict(run.seen()).mark == "not_measured"
    ready = feed(Run(step, {}), positions(0.5, 0.05, 0.05, 0.97, 0.97, 0.97, 0.97))
    assert ready.holds == step.stimulus
    assert verdict(ready.seen()).mark == "holds"


@pytest.mark.parametrize("ended", ["stopped", "gone", "refused", "tripped", "not_ready", "not_held"])
def test_nothing_holds_that_was_not_run_to_its_end(ended: Any) -> None:
    seen = dataclasses.replace(feed(Run(STEP, {}), positions(1.0, 1.0, 1.0)).seen(), ended=ended)
    assert verdict(seen).mark == "not_measured"
    assert signs_of([seen]).get("t.damper_position.low") is None


def test_a_trip_ends_a_test_at_once() -> None:
    run = Run(STEP, {})
    run.take({"time_s": 0.0, "mode": "freeze_trip", "overridden": [], "damper_position": 0.0})
    assert run.over
    assert run.seen().ended == "tripped"


def test_what_a_watcher_left_empty_is_not_observed() -> None:
    due = (Due("damper_position", 0.95), Due("compressor", None, 0.02))
    seen = TestRun("full", "watched", {"damper_position": 1.0}, expected=due)
    assert verdict(seen).mark == "not_measured"
    assert "compressor" in verdict(seen).sentence.say()
    assert verdict(dataclasses.replace(seen, values={"damper_position": 0.92, "compressor": 0.0})).mark == "holds", (
        "within the eye's error"
    )


def test_looks_by_hand_need_every_answer() -> None:
    asked = ("Linkage tight", "Seals whole")
    seen = TestRun("by_hand", "watched", asked=asked, looks={"Linkage tight": True})
    assert verdict(seen).mark == "not_measured"
    assert verdict(dataclasses.replace(seen, looks=dict.fromkeys(asked, True))).mark == "holds"
    assert verdict(dataclasses.replace(seen, looks={**seen.looks, "Seals whole": False})).mark == "off"


def test_the_share_by_temperature_says_when_it_cannot_tell() -> None:
    apart = {"outdoor_temperature": 4.0, "return_temperature": 24.0, "mixed_temperature": 19.0}
    assert channels({**apart, "overridden": []}, {})["outdoor_share"] == pytest.approx(0.25)
    assert channels({**apart, "outdoor_temperature": 12.0, "overridden": ["outdoor_temperature"]}, {"outdoor_temperature": 4.0})[
        "outdoor_share"
    ] == pytest.approx(0.25), "an overridden sensor says nothing; what it showed before does"
    assert "outdoor_share" not in channels({**apart, "overridden": ["mixed_temperature"]}, {})
    assert "outdoor_share" not in channels({**apart, "outdoor_temperature": 23.6, "overridden": []}, {})
    weak = TestRun("full", "controller", {"outdoor_share": 0.7}, {"outdoor_share": 0.3}, (Due("outdoor_share", 0.72),))
    assert verdict(weak).mark == "too_close"


# causes


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


def off(test: str, point: str, low: float | None, high: float | None, value: float) -> TestRun:
    return TestRun(test, "controller", {point: value}, {}, (Due(point, low, high),), reached_s=1.0)


FINE = [
    off(test, "damper_position", 0.0, 1.0, at)
    for test, at in (("closed", 0.0), ("full", 1.0), ("cool", 0.5), ("above", 0.5), ("heating", 0.5))
]


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


# which is which


PLACES = ("outdoor", "return", "mixed", "supply")


def condition(name: str, true: dict[str, float], wired: dict[str, str], errors: dict[str, float] | None = None) -> Condition:
    shown = {label: true[place] + (errors or {}).get(label, 0.0) for label, place in wired.items()}
    return Condition(name, shown, {place: Reference(value) for place, value in true.items()})


TWO = (
    {"outdoor": 6.0, "return": 23.0, "mixed": 22.4, "supply": 23.3},
    {"outdoor": 6.2, "return": 22.6, "mixed": 14.0, "supply": 14.9},
    {"outdoor": 6.1, "return": 22.8, "mixed": 20.5, "supply": 10.2},
)


@pytest.mark.parametrize("order", list(itertools.permutations(PLACES)), ids="-".join)
def test_every_mix_up_of_four_sensors_is_found(order: tuple[str, ...]) -> None:
    wired = dict(zip(PLACES, order, strict=True))
    found = sensor_identity(
        tuple(condition(str(index), true, wired) for index, true in enumerate(TWO)), {place: place for place in PLACES}
    )
    assert {sensor.label: sensor.best for sensor in found.sensors} == wired
    assert found.swapped == (wired != {place: place for place in PLACES})


@given(st.sampled_from(PLACES), st.floats(2.0, 6.0), st.booleans())
def test_a_drifted_sensor_is_not_taken_for_a_swapped_one(place: str, drift: float, up: bool) -> None:
    errors = {place: drift if up else -drift}
    wired = {each: each for each in PLACES}
    found = sensor_identity(tuple(condition(str(index), true, wired, errors) for index, true in enumerate(TWO)), wired)
    assert not found.swapped
    assert [sensor.label for sensor in found.sensors if sensor.off] == [place]
    assert next(sensor.error_k for sensor in found.sensors if sensor.off) == pytest.approx(errors[place], abs=0.01)


def test_air_that_is_alike_cannot_tell() -> None:
    alike = {"outdoor": 22.3, "return": 22.5, "mixed": 22.4, "supply": 22.6}
    swapped = {"outdoor": "return", "return": "outdoor", "mixed": "mixed", "supply": "supply"}
    found = sensor_identity((condition("alike", alike, swapped),), {each: each for each in PLACES})
    assert not found.swapped
    assert found.chance > 0.05
    assert not found.enough


@pytest.mark.parametrize(
    ("conditions", "claimed", "path"),
    [
        ((), {"A": "outdoor", "B": "return"}, "conditions"),
        ((condition("x", TWO[0], {"A": "outdoor"}),), {"A": "outdoor"}, "claimed"),
        ((condition("x", TWO[0], {"A": "outdoor", "B": "return"}),), {"A": "outdoor", "B": "outdoor"}, "claimed"),
        ((condition("x", TWO[0], {"A": "outdoor"}),), {"A": "outdoor", "B": "return"}, "conditions.0.shown_c"),
        (
            (Condition("x", {"A": 1.0, "B": 2.0}, {"outdoor": Reference(1.0)}),),
            {"A": "outdoor", "B": "return"},
            "conditions.0.known",
        ),
    ],
)
def test_what_lacks_a_reading_is_refused(conditions: Any, claimed: dict[str, str], path: str) -> None:
    with pytest.raises(Refused) as refused:
        sensor_identity(conditions, claimed)
    assert refused.value.path == path


def test_a_hand_step_says_how_to_undo_itself() -> None:
    for step in plan(SETTING, Day()):
        if isinstance(step.hand, Hand):
            assert step.hand.undo
            assert step.hand.kind in ("wire", "sensor")


# every cause, by what it says it upsets


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


PASSES = [0.97] * 12


def test_a_controller_that_says_yes_and_holds_nothing_proves_nothing() -> None:
    run = feed(Run(STEP, {}), [{"damper_position": value, "overridden": []} for value in PASSES])
    assert (run.ended, run.lost) == ("not_held", STEP.stimulus[0].point)
    assert verdict(run.seen()).mark == "not_measured"
    assert "hold" in verdict(run.seen()).sentence.say()


def test_an_override_let_go_in_the_last_moment_ends_it_too() -> None:
    held = [stimulus.point for stimulus in STEP.stimulus]
    kept = [{"damper_position": 0.97, "overridden": held}]
    run = feed(Run(STEP, {}), [*kept, *[{"damper_position": 0.97, "overridden": held[1:]}] * 9])
    assert run.ended == "not_held"


def test_a_moment_s_lapse_is_waited_out() -> None:
    held = [stimulus.point for stimulus in STEP.stimulus]
    lapse = [{"damper_position": 0.5, "overridden": []}] * 2
    run = feed(Run(STEP, {}), [*lapse, *[{"damper_position": 0.97, "overridden": held}] * 9])
    assert run.ended == "done"
    assert verdict(run.seen()).mark == "holds"


def test_an_input_that_shows_another_value_than_it_is_held_at_is_not_held() -> None:
    warm = dataclasses.replace(STEP, stimulus=(*STEP.stimulus, Stimulus("room_temperature", 27.0)))
    shown = [{"damper_position": 0.97, "room_temperature": 22.0}] * 12
    assert feed(Run(warm, {}), shown).lost == "room_temperature"
    assert feed(Run(warm, {}), [{**each, "room_temperature": 26.9} for each in shown]).ended == "done"


def test_time_is_by_our_clock_where_it_is_given() -> None:
    run = Run(STEP, {})
    for now in range(0, 60, 5):
        held = [stimulus.point for stimulus in run.holds]
        run.take({"time_s": 7.0, "overridden": held, "damper_position": 0.97}, float(now))
    assert run.over
    assert run.samples[-1].at_s > 0


def test_without_an_alarm_point_no_alarm_is_not_observed() -> None:
    step = next(each for each in plan(Configuration(), Day()) if each.key == "restore")
    run = Run(step, {})
    for now in range(0, 400, 5):
        run.take({"overridden": [], "fan": 1.0, "mode": "off"}, float(now))
        if run.over:
            break
    assert verdict(run.seen()).mark == "not_measured"
    assert "alarm" in verdict(run.seen()).sentence.say().lower()


def test_a_test_counts_only_if_what_must_move_did() -> None:
    step = dataclasses.replace(STEP, moves=(Due("building_pressure", 10.0),))
    still = feed(Run(step, {}), [{"damper_position": 0.97, "building_pressure": 1.0}] * 12).seen()
    assert still.unmoved == ("building_pressure",)
    assert verdict(still).mark == "not_measured"
    assert "never rose" in verdict(still).sentence.say()
    rose = [{"damper_position": 0.97, "building_pressure": 11.0}, *[{"damper_position": 0.97, "building_pressure": 8.0}] * 11]
    assert verdict(feed(Run(step, {}), rose).seen()).mark == "holds"
    untold = feed(Run(step, {}), [{"damper_position": 0.97}] * 12).seen()
    assert untold.unmoved == (), "what the controller does not tell is not held against it"
    wrong = feed(Run(step, {}), [{"damper_position": 0.1, "building_pressure": 1.0}] * 200).seen()
    assert verdict(wrong).mark == "off", "what is off stays off"


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


def test_sensors_that_a_probe_found_swapped_come_first() -> None:
    low = [f"{test}.damper_position.low" for test in ("above", "inside", "heating", "cool", "below")]
    found = diagnose(upset(low), {"swapped": True, "drifted": False})
    assert found.found == "swapped_sensors"
    assert found.suspects[0].fault.key == "swapped_sensors"


def test_of_the_stroke_one_fault_hides_the_others() -> None:
    stuck = next(variant for key, variant in VARIANTS if key == "stuck_damper")
    found = diagnose(upset(sorted(stuck.surely | stuck.certainly)), {"swapped": False, "drifted": False})
    of_stroke = {each.fault.key for each in found.suspects if each.sure > 0.1} & {"stuck_damper", "reversed_actuator"}
    assert of_stroke == {"stuck_damper"}


def test_one_hung_wrong_is_told_from_two_that_changed_places() -> None:
    def at(name: str, **airs: tuple[float, float]) -> Condition:
        return Condition(
            name, {key: each[0] for key, each in airs.items()}, {key: Reference(each[1]) for key, each in airs.items()}
        )

    places = {"mixed": "mixed", "supply": "supply"}
    shut, cooling = at("damper shut", mixed=(24.0, 24.0), supply=(24.6, 24.6)), "compressor on"
    alone = sensor_identity((shut, at(cooling, mixed=(13.1, 24.0), supply=(13.0, 13.0))), places)
    assert [each.sits_in for each in alone.sensors] == ["supply", ""]
    assert not alone.swapped
    assert not any(each.off for each in alone.sensors), "its error is no constant one"
    changed = sensor_identity((shut, at(cooling, mixed=(13.1, 24.0), supply=(24.2, 13.0))), places)
    assert changed.swapped
    assert not any(each.sits_in for each in changed.sensors)
    only = sensor_identity((at("as it is", mixed=(24.1, 24.0), supply=(24.2, 24.3)),), places)
    assert "swapped" not in audit_signs(only), "airs as alike rule nothing out"


def shares(closed: float, full: float, signs: Sequence[str] = (), width: float = 0.05) -> list[TestRun]:
    """Every test as it should be, but for what the air says at both ends of the stroke, and these signs."""
    wrong = {"closed": closed, "full": full}
    return [
        dataclasses.replace(run, values={**run.values, SHARE: wrong[run.test]}, plus_minus={**run.plus_minus, SHARE: width})
        if run.test in wrong
        else run
        for run in upset(list(signs))
    ]


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


def test_only_tests_of_this_plan_are_asked_for() -> None:
    few = [run for run in upset(["cool.compressor.high"]) if run.test in ("closed", "cool")]
    told = {"swapped": False, "drifted": False, "misplaced": False}
    anything, offered = diagnose(few, told), diagnose(few, told, {"closed", "cool", "above"})
    assert set(anything.open_between) - {"above", "cool", "closed", "audit"}
    assert set(offered.open_between) <= {"above", "cool", "closed", "audit", "settings"}
    assert offered.open_between


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

"""A functional test as it runs: what is due must stay, what ends it, what counts as seen."""

from __future__ import annotations

import dataclasses
from typing import Any

import pytest

from fentro_core.economizer.configuration import Configuration
from fentro_core.economizer.proof.day import Day
from fentro_core.economizer.proof.diagnosis import signs_of
from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.plan import plan
from fentro_core.economizer.proof.running import Run, channels
from fentro_core.economizer.proof.step import Due, Stimulus, TestRun
from tests.core.proofs import STEP


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

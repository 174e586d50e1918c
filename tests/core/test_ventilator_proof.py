"""The proof of a ventilator: its plan, the verdict on each test, what all of them say together; and its page."""

from __future__ import annotations

from typing import Any

import pytest

from fentro_core.base.typed_json import read
from fentro_core.system.fresh_air import Ventilator, VentilatorControl
from fentro_core.ventilation.proof.diagnosis import VALUES, diagnose
from fentro_core.ventilation.proof.faults import FAULTS, due, possible, shown
from fentro_core.ventilation.proof.judging import verdict
from fentro_core.ventilation.proof.plan import mildly, plan
from fentro_core.ventilation.proof.step import VentilatorTestSeen

BALANCED = Ventilator(kind="balanced")
CARD = VentilatorControl(minutes_per_hour=30.0, low_c=-10.0, high_c=34.0, boost_min=60.0, interlock=True)
TESTS = {each.key: each for each in plan(BALANCED, CARD)}
RIGHT: dict[str, dict[str, Any]] = {
    "settings": {"as_card": True},
    "sensor": {"shown_c": 12.0, "probe_c": 12.6},
    "run": {"fan": "runs", "blower": "runs", "damper": "open", "air": {"fresh": "right", "stale": "right"}},
    "stop": {"fan": "stands", "damper": "shut", "air": {"fresh": "none", "stale": "none"}},
    "low": {"fan": "stands", "damper": "shut", "again": "runs"},
    "high": {"fan": "stands", "damper": "shut", "again": "runs"},
    "hour": {"minutes": 30.4},
    "boost": {"fan": "runs", "again": "stands"},
    "filters": {"filters": "clean", "screen": "clear"},
}


def saw(test: str, **change: Any) -> VentilatorTestSeen:
    return read({"test": test, **RIGHT[test], **change}, VentilatorTestSeen)


def everything(**changes: dict[str, Any]) -> list[VentilatorTestSeen]:
    return [saw(test, **changes.get(test, {})) for test in RIGHT]


def said(*runs: VentilatorTestSeen) -> tuple[list[str], tuple[str, ...], float]:
    found = diagnose(TESTS, runs, BALANCED, CARD)
    return [fault.key for fault in found.found], found.again, found.sound


def test_the_plan_asks_only_for_what_is_there() -> None:
    assert list(TESTS) == list(RIGHT)
    bare = plan(Ventilator(kind="exhaust", damper=False), None)
    assert [test.key for test in bare] == ["run", "stop", "filters"]
    assert "damper" not in bare[0].asks
    assert "boost" not in {test.key for test in plan(BALANCED, VentilatorControl(minutes_per_hour=60.0, boost_min=30.0))}
    moist = plan(BALANCED, VentilatorControl(dew_point_c=16.0, indoor_rh=0.6))
    assert [test.key for test in moist if test.then] == ["dew", "humid"]


def test_lockouts_are_tested_one_at_a_time_with_the_other_limits_held_mild() -> None:
    card = VentilatorControl(low_c=-5.0, high_c=30.0, dew_point_c=16.0)
    low = next(test for test in plan(BALANCED, card) if test.key == "low")
    assert low.hold == {"run": 1.0, "outdoor_c": -8.0, "dew_point_c": 10.0}
    assert low.then["outdoor_c"] == -2.0
    assert mildly(card)["outdoor_c"] == 12.5
    narrow = VentilatorControl(low_c=10.0, high_c=12.0)
    back = next(test for test in plan(BALANCED, narrow) if test.key == "low").then["outdoor_c"]
    assert 10.0 < back < 12.0, "never past the other limit"


def test_nothing_holds_that_was_not_looked_at() -> None:
    assert verdict(TESTS["run"], saw("run"), BALANCED, CARD)[0] == "holds"
    mark, words = verdict(TESTS["run"], saw("run", blower="", air={"fresh": "right"}), BALANCED, CARD)
    assert mark == "not_measured"
    assert words.text == "Not looked at: a grille, the system's blower."
    assert verdict(TESTS["sensor"], saw("sensor", probe_c=None), BALANCED, CARD)[0] == "not_measured"
    for ended in ("stopped", "gone", "refused"):
        assert verdict(TESTS["run"], saw("run", ended=ended), BALANCED, CARD)[0] == "not_measured"


@pytest.mark.parametrize(
    ("test", "change", "mark", "words"),
    [
        ("run", {"fan": "stands"}, "off", "Its fan is stopped, and should be running."),
        ("run", {"air": {"fresh": "wrong", "stale": "right"}}, "off", "Fresh air: it goes the wrong way."),
        ("run", {"air": {"fresh": "little", "stale": "right"}}, "watch", "Fresh air: only a little air at its grille."),
        ("stop", {"air": {"fresh": "none", "stale": "right"}}, "off", "Stale air: air moves at its grille, and none should."),
        ("stop", {"damper": "open"}, "off", "Its damper is open, and should be shut."),
        ("low", {"again": "stands"}, "off", "It did not run again afterwards."),
        ("boost", {"again": "runs"}, "off", "It went on running: the boost did not come back."),
        ("settings", {"as_card": False}, "off", "It is not set as the card says."),
        ("filters", {"filters": "dirty"}, "watch", "A filter is dirty: clean it now."),
        ("filters", {"screen": "missing"}, "off", "The outdoor screen is missing: leaves, birds and snow get in."),
        ("sensor", {"shown_c": 18.0}, "off", "The control shows {shown}, the probe {probe}: its limits lie wrong by as much."),
        ("sensor", {"shown_c": 14.6}, "too_close", "The control shows {shown}, the probe {probe}: too close to call."),
        ("hour", {"minutes": 45.0}, "off", "It ran {minutes} in the hour: not what it is set to."),
        ("hour", {"minutes": 32.6}, "too_close", "It ran {minutes} in the hour: too close to call. Count another."),
    ],
)
def test_what_is_not_as_it_should_be_is_said_in_a_sentence(test: str, change: dict[str, Any], mark: str, words: str) -> None:
    found = verdict(TESTS[test], saw(test, **change), BALANCED, CARD)
    assert (found[0], found[1].text) == (mark, words)


def test_a_sound_one_is_acquitted() -> None:
    found, again, sound = said(*everything())
    assert (found, again) == ([], ())
    assert sound > 0.8


def test_no_fault_is_named_for_one_run_and_is_once_it_was_repeated() -> None:
    odd = {"air": {"fresh": "wrong", "stale": "wrong"}}
    found, again, _ = said(*everything(run=odd))
    assert (found, again) == ([], ("run",))
    found, again, _ = said(*everything(run=odd), saw("run", **odd))
    assert found == ["reversed"]
    assert again == ()
    found, _, sound = said(*everything(run=odd), saw("run"))
    assert found == [], "after a repair, or a slip"
    assert sound > 0.8


def test_one_fault_seen_in_several_tests_is_named_at_once() -> None:
    none = {"fresh": "none", "stale": "none"}
    found, _, _ = said(
        *everything(
            run={"fan": "stands", "blower": "stands", "air": none},
            low={"again": "stands"},
            high={"again": "stands"},
            hour={"minutes": 0.0},
            boost={"fan": "stands"},
        )
    )
    assert found == ["fan_dead"]


def test_two_faults_at_once_are_both_found() -> None:
    bad = {"blower": "stands"}
    runs = everything(run=bad, stop={"damper": "open"}, low={"damper": "open"}, high={"damper": "open"})
    found, _, _ = said(*runs, saw("run", **bad))
    assert set(found) == {"damper_open", "interlock"}


def test_a_wrong_setting_does_not_hide_a_damper_that_stays_open() -> None:
    runs = everything(settings={"as_card": False}, stop={"damper": "open"}, low={"damper": "open"}, high={"damper": "open"})
    found, again, _ = said(*runs)
    assert found == ["damper_open"]
    assert again == ("settings",), "one look at the card is not enough"


def test_what_was_stopped_says_nothing() -> None:
    assert said(saw("run", fan="stands", ended="stopped")) == ([], (), 0.0)


def test_every_fault_shows_itself_somewhere_and_only_in_words_that_can_be_seen() -> None:
    card = VentilatorControl(
        minutes_per_hour=30.0, low_c=-10.0, high_c=34.0, dew_point_c=16.0, indoor_rh=0.6, boost_min=60.0, interlock=True
    )
    tests = {each.key: each for each in plan(BALANCED, card)}
    assert set(possible(BALANCED, tests)) == set(FAULTS)
    for key in FAULTS:
        differs = False
        for test in tests.values():
            for ask, values in shown(key, test).items():
                assert set(values) <= set(VALUES[ask])
                differs = differs or bool(set(values) - set(due(test)[ask]))
        assert differs, key

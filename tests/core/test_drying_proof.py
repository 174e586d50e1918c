"""The proof of reheat and bypass: by hand, by the controller, and blind."""

from __future__ import annotations

from typing import Any

import pytest

from bench import drying
from fentro_core.base.refusal import Refused
from fentro_core.economizer.places import POINTS
from fentro_core.economizer.proof.session import run_step
from fentro_core.economizer.proof.step import TestRun
from fentro_core.moisture.live import live_step, seen_of, step_of
from fentro_core.moisture.proof import DryingTestSeen, diagnose, verdict
from fentro_core.moisture.proof import tests as drying_tests
from fentro_core.system.nameplate import Nameplate
from fentro_core.system.packaged_rooftop import RooftopNameplate
from fentro_standins.rooftop.build import Build, Faults, Weather
from fentro_standins.rooftop.presets import DRYING, PRESETS
from fentro_standins.rooftop.unit import RooftopUnit
from tests.core.moist import REHEATS, moisture_page
from tests.core.visits import entry


def seen(test: str, rise: float, cooled: float = 11.0, **more: Any) -> Any:
    body = {"test": test, "return_c": 24.0, "after_c": 24.0 - cooled, "supply_c": 24.0 - cooled + rise, **more}
    return entry("drying_test", body)


def test_one_run_names_nothing_and_two_that_agree_do() -> None:
    once = moisture_page(seen("cooling", 7.0), plate=REHEATS).proof
    assert (once.mark, once.found) == ("too_close", ())
    assert [line.key for line in once.tests if line.again] == ["cooling"]
    twice = moisture_page(seen("cooling", 7.0), seen("back", 6.5), plate=REHEATS).proof
    assert (twice.mark, [each.key for each in twice.found]) == ("off", ["reheat_stuck_on"])
    taken_back = moisture_page(seen("cooling", 7.0), seen("cooling", 1.0), plate=REHEATS).proof
    assert taken_back.found == ()


def test_the_blowers_own_heat_does_not_hide_a_dead_reheat() -> None:
    runs = [seen("cooling", 1.9), seen("reheat", 2.3), seen("back", 1.8), seen("reheat", 2.2)]
    assert [each.key for each in moisture_page(*runs, plate=REHEATS).proof.found] == ["reheat_dead"]


@pytest.mark.parametrize(
    ("shut", "open_", "found"),
    [(1.0, 4.5, []), (1.0, 1.2, ["bypass_blocked"]), (4.4, 4.5, ["bypass_stuck_open"]), (1.0, 9.0, ["bypass_too_far"])],
)
def test_a_blade_is_told_by_both_of_its_places(shut: float, open_: float, found: list[str]) -> None:
    runs = [seen(test, rise) for _ in range(2) for test, rise in (("bypass_shut", shut), ("bypass_open", open_))]
    assert [each.key for each in moisture_page(*runs, plate={"return_bypass": True}).proof.found] == found


def test_a_call_to_dry_that_does_nothing_and_readings_that_prove_nothing() -> None:
    dead = [seen("dehumidify", 0.5, 0.3, compressor="stands") for _ in range(2)]
    assert [each.key for each in moisture_page(*dead, plate=REHEATS).proof.found] == ["call_dead"]
    warm = moisture_page(seen("cooling", 0.5, 1.0), plate=REHEATS).proof
    assert warm.tests[0].mark == "not_measured"
    lacking = moisture_page(entry("drying_test", {"test": "reheat", "after_c": 12.0}), plate=REHEATS).proof
    assert lacking.tests[1].mark == "not_measured"
    assert moisture_page().proof is None


def test_a_sound_unit_is_proved() -> None:
    runs = [
        seen("cooling", 1.1),
        seen("reheat", 7.0),
        seen("back", 1.2),
        seen("dehumidify", 7.0, compressor="runs"),
    ]
    assert moisture_page(*runs, plate=REHEATS).proof.mark == "holds"


def test_the_blind_proof_accuses_hardly_any_sound_unit() -> None:
    found = drying.figures(424_242, 150)
    assert found["accused"] + found["wrong"] <= 1
    assert found["right"] > 2 * found["missed"]


def test_reheat_is_not_judged_while_the_call_does_not_arrive() -> None:
    lost = [
        *(seen("dehumidify", 0.5, 0.3, compressor="stands") for _ in range(2)),
        *(seen("reheat", 0.6, 0.2) for _ in range(2)),
        *(entry("drying_test", {"test": "reheat", "after_c": 23.8, "supply_c": 24.4}) for _ in range(2)),
    ]
    page = moisture_page(*lost, plate=REHEATS).proof
    assert [each.key for each in page.found] == ["call_dead"]
    assert "A call to dry" not in page.tests[1].words.say()
    cold = moisture_page(seen("dehumidify", 0.5, 11.0, compressor="stands"), plate=REHEATS).proof
    assert cold.tests[-1].mark == "not_measured", "a cold coil and a standing compressor: one of the two"


def ran(test: str, faults: Faults = Faults(), **build: float) -> DryingTestSeen:  # noqa: B008
    """One test run by the controller of a simulated unit."""
    plate = RooftopNameplate(reheat="hot_gas", return_bypass=True)
    built = Build(occupied_h=(0, 24), **{"reheat_w": 16_000.0, "around_open": 0.25, **build})  # type: ignore[arg-type]
    unit = RooftopUnit(5, built, faults=faults, weather=Weather(15.0, 1.0), time_s=36_000.0)
    return seen_of(run_step(unit, live_step(plate, f"drying/{test}"), lambda seconds: unit.advance(seconds, 5.0), every_s=10.0))


@pytest.mark.parametrize(
    ("test", "faults", "mark"),
    [
        ("cooling", Faults(), "holds"),
        ("cooling", Faults(reheat_stays=0.8), "off"),
        ("reheat", Faults(), "holds"),
        ("reheat", Faults(reheat_dead=True), "off"),
        ("bypass_shut", Faults(), "holds"),
        ("bypass_shut", Faults(bypass_stands=1.0), "off"),
        ("bypass_open", Faults(bypass_around=0.8), "off"),
        ("dehumidify", Faults(), "holds"),
        ("dehumidify", Faults(dry_call_dead=True), "off"),
    ],
)
def test_a_run_at_the_controller_tells_what_is_wrong_with_the_unit(test: Any, faults: Faults, mark: str) -> None:
    found = ran(test, faults)
    assert found.note == "By the controller's sensors."
    assert verdict(test, found)[0] == mark


def test_a_run_that_did_not_end_or_shows_too_little_proves_nothing() -> None:
    electric = RooftopNameplate(reheat="electric")
    step = step_of(drying_tests(electric)[0], electric)
    with pytest.raises(Refused, match="stopped answering"):
        seen_of(TestRun(step.key, "controller", ended="gone"))
    with pytest.raises(Refused, match="no temperature after the coil"):
        seen_of(TestRun(step.key, "controller", {"return_temperature": 24.0}))
    shown = {"return_temperature": 24.0, "after_coil_temperature": 23.8, "supply_temperature": 24.5}
    mute = seen_of(TestRun("drying/dehumidify", "controller", shown))
    assert (mute.compressor, verdict("dehumidify", mute)[0]) == ("", "not_measured"), "a compressor that nobody shows is no fault"
    with pytest.raises(Refused, match="no such test"):
        live_step(RooftopNameplate(), "drying/cooling")
    assert drying_tests(Nameplate()) == ()


BOTH = RooftopNameplate(reheat="hot_gas", return_bypass=True)


@pytest.mark.parametrize("plate", [BOTH, RooftopNameplate(reheat="electric"), RooftopNameplate(return_bypass=True)])
def test_every_step_holds_points_that_can_be_held_and_reads_what_it_needs(plate: RooftopNameplate) -> None:
    for test in drying_tests(plate):
        step = live_step(plate, f"drying/{test.kind}")
        assert {each.point for each in step.expected} == {
            *("return_temperature", "after_coil_temperature", "supply_temperature", "compressor")
        }
        held = {each.point: each.value for each in step.stimulus}
        assert len(held) == len(step.stimulus), "nothing is held at two values"
        for point, value in held.items():
            assert POINTS[point].overridable
            assert POINTS[point].low <= value <= POINTS[point].high
            assert point not in {each.point for each in step.expected}, "what is read is not held"
        assert ("return_bypass" in held) == plate.bypasses, "the bypass is held where there is one, and only there"
        assert step.hazards


def named(preset: str, build: Build = Build(occupied_h=(0, 24), reheat_w=16_000.0, around_open=0.25)) -> set[str]:  # noqa: B008
    """What the controller's proof names, all tests run twice."""
    unit = RooftopUnit(9, build, faults={**PRESETS, **DRYING}[preset][1], weather=Weather(18.0, 2.0), time_s=36_000.0)

    def wait(seconds: float) -> None:
        unit.advance(seconds, 5.0)

    kinds = [test.kind for test in drying_tests(BOTH)] * 2
    seen = [seen_of(run_step(unit, live_step(BOTH, f"drying/{kind}"), wait, every_s=15.0)) for kind in kinds]
    return {fault.key for fault in diagnose(seen, both=True).found}


@pytest.mark.parametrize("preset", sorted(DRYING))
def test_every_fault_that_can_be_played_is_the_one_that_is_named(preset: str) -> None:
    assert named(preset) == {"call_dead" if preset == "dry_call_dead" else preset}


def test_nothing_is_named_at_a_unit_whose_fault_is_another_matter() -> None:
    assert named("sound") == set()
    assert named("drifted_sensor") == set()
    assert named("wrong_minimum") == set()


def test_a_run_lets_go_of_everything_also_when_the_unit_refuses_in_the_middle() -> None:
    unit = RooftopUnit(9, Build(reheat_w=16_000.0), weather=Weather(18.0, 2.0), time_s=36_000.0)
    unit.refuses = {"room_temperature"}
    step = live_step(RooftopNameplate(reheat="hot_gas"), "drying/cooling")
    ended = run_step(unit, step, lambda seconds: unit.advance(seconds, 5.0))
    assert ended.ended == "refused"
    assert unit.held == {}
    with pytest.raises(Refused, match="refused what was to be held"):
        seen_of(ended)


@pytest.mark.parametrize(
    ("shown", "mark"),
    [
        ({"return_c": None}, "not_measured"),
        ({"after_c": None}, "not_measured"),
        ({"supply_c": None}, "not_measured"),
        ({"supply_c": 10.0}, "not_measured"),
        ({"supply_c": 24.0}, "off"),
        ({"supply_c": 17.5}, "off"),
        ({"supply_c": 15.5}, "holds"),
    ],
)
def test_an_open_bypass_is_judged_by_all_three_or_not_at_all(shown: dict[str, float | None], mark: str) -> None:
    body = {"return_c": 24.0, "after_c": 12.0, "supply_c": 15.5, **shown}
    seen = DryingTestSeen("bypass_shut" if mark == "off" else "bypass_open", **body)  # type: ignore[arg-type]
    if shown.get("supply_c") == 10.0:
        assert verdict(seen.test, seen)[0] in ("off", "not_measured"), "a supply colder than the coil is no bypass"
    else:
        assert verdict(seen.test, seen)[0] == mark


def test_in_a_unit_with_both_nothing_is_named_before_the_other_one_was_called() -> None:
    plate = {**REHEATS, "return_bypass": True}
    warm = [seen("cooling", 4.5), seen("back", 4.4), seen("reheat", 12.0)]
    page = moisture_page(*warm, plate=plate).proof
    assert (page.found, page.mark) == ((), "too_close"), "reheat that is on, or a bypass that stands open"
    open_ = [seen("bypass_shut", 4.5), seen("bypass_open", 4.6)]
    told = moisture_page(*warm, *open_, seen("bypass_shut", 4.4), plate=plate).proof
    assert [each.key for each in told.found] == ["bypass_stuck_open"]
    assert [each.key for each in moisture_page(*warm, plate=REHEATS).proof.found] == ["reheat_stuck_on"]

"""The proof against a unit that shares no line with ours: right or undecided, never wrong, and nothing held at the end."""

from __future__ import annotations

from dataclasses import replace

import pytest

from bench.otherunit.score import HIDDEN, drawn, proved
from fentro_core.economizer.proof.day import Day, day_now
from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.loops import loop_steps
from fentro_core.economizer.proof.plan import as_it_was, plan
from fentro_core.economizer.proof.running import channels, state_before
from fentro_core.economizer.proof.session import run_step
from fentro_core.economizer.proof.step import RISE


@pytest.mark.parametrize("hidden", HIDDEN)
def test_the_hidden_fault_is_named_or_left_open(hidden: str) -> None:
    for seed in (40_001, 40_002):
        unit, planned = drawn((hidden,), seed)
        found, _ = proved(unit, planned)
        assert found.found in ("", hidden)
        assert unit.held == {}


@pytest.mark.parametrize("seed", range(40_100, 40_106))
def test_a_sound_one_is_not_convicted(seed: int) -> None:
    unit, planned = drawn((), seed)
    found, tests = proved(unit, planned)
    assert found.found == ""
    assert unit.held == {}
    assert sum(verdict(test).mark == "holds" for test in tests) > 8


@pytest.mark.parametrize("seed", range(40_200, 40_205))
def test_loops_of_a_sound_one_are_not_called_off(seed: int) -> None:
    """Wherever its damper stands, and whatever still runs."""
    unit, planned = drawn((), seed)
    unit.advance(900)
    day = day_now(channels(unit.points(), {}), Day(pressure_pa=unit.pressure_pa))
    for step in loop_steps(planned, day):
        assert verdict(run_step(unit, step, unit.advance)).mark != "off", step.key
        unit.advance(60)


@pytest.mark.parametrize(
    "pair", [("relief_blocked", "no_cooling"), ("stuck_damper", "swapped_sensors"), ("loose_blades", "fail_safe")]
)
def test_of_two_faults_none_but_these_is_named(pair: tuple[str, str]) -> None:
    for seed in (40_301, 40_302):
        unit, planned = drawn(pair, seed)
        found, _ = proved(unit, planned)
        assert found.found in ("", *pair)
        assert unit.held == {}


def test_a_unit_left_otherwise_than_found_is_not_restored() -> None:
    """All is released, and the fan stands where it ran: somebody switched it off meanwhile."""
    unit, planned = drawn((), 40_400)
    unit.advance(900)
    day = day_now(channels(unit.points(), {}), Day(pressure_pa=unit.pressure_pa))
    restore = next(step for step in plan(planned, day) if step.key == "restore")
    found, mode = state_before(unit.points())
    assert found["fan"] == 1.0
    last = as_it_was(restore, found, mode, state_before(unit.points())[0])
    assert verdict(run_step(unit, last, unit.advance)).mark == "holds"
    unit.blows_not = True
    seen = verdict(run_step(unit, last, unit.advance))
    assert seen.mark == "off"
    assert seen.sentence.say() == "Fan: no, and it should be."


def test_heating_that_warms_nothing_is_not_proven() -> None:
    unit, planned = drawn((), 40_500)
    unit.make = replace(unit.make, heater_rise_k=0.2)
    unit.advance(900)
    day = day_now(channels(unit.points(), {}), Day(pressure_pa=unit.pressure_pa))
    heating = next(step for step in plan(planned, day) if step.key == "heating")
    seen = run_step(unit, heating, unit.advance)
    assert seen.unmoved == (RISE,)
    assert verdict(seen).mark == "not_measured"
    unit.make = replace(unit.make, heater_rise_k=14.0)
    unit.advance(300)
    assert verdict(run_step(unit, heating, unit.advance)).mark in ("holds", "watch")

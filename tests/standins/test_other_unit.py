"""The proof against a unit that shares no line with ours: right or undecided, never wrong, and nothing held at the end."""

from __future__ import annotations

import pytest

from bench.otherunit.score import HIDDEN, drawn, proved
from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.loops import loop_steps
from fentro_core.economizer.proof.plan import Day, day_now
from fentro_core.economizer.proof.running import channels
from fentro_core.economizer.proof.session import run_step


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

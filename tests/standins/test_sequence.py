"""The simulated controller's sequence, decision by decision, and against the core's own rules."""

from __future__ import annotations

import dataclasses
from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.air import AirState
from fentro_core.economizer.changeover import changeover
from fentro_core.economizer.configuration import Configuration
from fentro_core.economizer.proof.day import Day, cool_enough, outdoor_at
from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.loops import loop_steps
from fentro_core.economizer.proof.plan import plan
from fentro_core.economizer.proof.session import run_step
from fentro_standins.rooftop.build import Build, Faults, Weather
from fentro_standins.rooftop.controller import ENTHALPY_PER_K, MINIMUM_REST_S, MINIMUM_RUN_S, START_UP_S, Sequence, enthalpy
from fentro_standins.rooftop.presets import MODELS, PRESETS, made
from fentro_standins.rooftop.unit import RooftopUnit, saturation_ratio

METHODS = ("fixed_dry_bulb", "differential_dry_bulb", "fixed_enthalpy", "differential_enthalpy")
SETTING = Configuration()


def seen(**more: float) -> dict[str, float]:
    """Inputs of an ordinary mild day with a call for cooling."""
    usual = {
        "outdoor_temperature": 15.0,
        "return_temperature": 24.0,
        "mixed_temperature": 18.0,
        "supply_temperature": 16.0,
        "outdoor_humidity": 0.5,
        "return_humidity": 0.5,
        "room_temperature": 24.4,
        "building_pressure": 4.0,
        "cooling_setpoint": 24.0,
        "heating_setpoint": 20.0,
        "occupied": 1.0,
    } | more
    for place in ("outdoor", "return"):
        celsius = usual[f"{place}_temperature"]
        ratio = usual[f"{place}_humidity"] * saturation_ratio(celsius, 101_325)
        usual[f"{place}_enthalpy"] = enthalpy(celsius, ratio)
    return usual


def after(
    seconds: float, setting: Configuration = SETTING, step_s: float = 5.0, **more: float
) -> tuple[Sequence, dict[str, float]]:
    """The sequence after so long with the same inputs, and what it tells its outputs."""
    sequence = Sequence(setting)
    told: dict[str, float] = {}
    now = 0.0
    while now < seconds:
        now += step_s
        told = sequence.step(now, step_s, seen(**more), {})
    return sequence, told


def test_it_starts_up_before_it_cools() -> None:
    assert after(START_UP_S - 10)[0].mode == "start_up"
    sequence, told = after(START_UP_S + 200)
    assert sequence.mode == "free"
    assert told["damper_command"] > SETTING.minimum_position
    assert told["compressor"] == 0


@pytest.mark.parametrize(
    ("more", "mode", "damper"),
    [
        ({"outdoor_temperature": 30.0}, "compressor", 0.2),
        ({"room_temperature": 18.0}, "heating", 0.2),
        ({"room_temperature": 22.0}, "minimum", 0.2),
        ({"occupied": 0.0}, "off", 0.0),
    ],
)
def test_each_call_has_its_mode_and_damper(more: dict[str, float], mode: str, damper: float) -> None:
    sequence, told = after(900, **more)
    assert sequence.mode == mode
    assert told["damper_command"] == pytest.approx(damper, abs=0.01)
    assert told["heating"] == (mode == "heating")


def test_heating_may_close_the_damper() -> None:
    closed = dataclasses.replace(SETTING, heating_damper="closed")
    assert after(900, closed, room_temperature=18.0)[1]["damper_command"] == 0.0


@pytest.mark.parametrize("failure", ["closed", "minimum", "full"])
def test_a_failed_sensor_falls_back_and_alarms(failure: Any) -> None:
    setting = dataclasses.replace(SETTING, on_sensor_failure=failure, locks_out=True)
    sequence, told = after(900, setting, outdoor_temperature=-60.0)
    assert "sensor_outdoor" in sequence.alarms
    assert told["damper_command"] == {"closed": 0.0, "minimum": 0.2, "full": 1.0}[failure]
    assert told["compressor"] == 0.0, "locked out"
    assert after(900, dataclasses.replace(setting, locks_out=False), outdoor_temperature=-60.0)[1]["compressor"] > 0
    sequence.step(905, 5, seen(), {})
    assert "sensor_outdoor" not in sequence.alarms, "it clears by itself"


def test_integrated_adds_the_compressor_and_exclusive_changes_over() -> None:
    hot = {"room_temperature": 27.0, "supply_temperature": 20.0}
    both, told = after(2400, **hot)
    assert both.mode == "free_and_compressor"
    assert (told["damper_command"], told["compressor"]) == (1.0, 0.5)
    alone, told = after(2400, dataclasses.replace(SETTING, sequence="exclusive"), **hot)
    assert alone.mode == "compressor"
    assert told["damper_command"] == pytest.approx(0.2)
    assert told["compressor"] > 0


def test_the_compressor_keeps_its_least_times() -> None:
    sequence = Sequence(SETTING)
    changes: list[tuple[float, float]] = []
    for second in range(1, 3600):
        room = 24.6 if second // 40 % 2 else 23.5
        told = sequence.step(float(second), 1.0, seen(outdoor_temperature=30.0, room_temperature=room), {})
        if not changes or changes[-1][1] != told["compressor"]:
            changes.append((second, told["compressor"]))
    for (start, before), (end, _) in pairwise(changes[1:]):
        assert end - start >= (MINIMUM_RUN_S if before else MINIMUM_REST_S)


def test_relief_opens_with_the_buildings_pressure() -> None:
    opened = [after(100, building_pressure=pressure)[1]["relief"] for pressure in (0.0, 12.0, 14.0, 20.0)]
    assert opened == sorted(opened)
    assert opened[0] == 0.0
    assert opened[-1] == 1.0


@given(
    st.sampled_from(METHODS),
    st.sampled_from(["5B", "5A", "4C"]),
    st.floats(-5, 35),
    st.floats(0.1, 1.0),
    st.floats(20, 27),
    st.floats(0.3, 0.7),
)
def test_changeover_decides_as_the_core_does(
    method: Any, zone: str, outdoor: float, rh: float, back: float, back_rh: float
) -> None:
    """Two ways to the same decision; within the switching differential, and a little of enthalpy's two formulas, either is right."""
    air, room = AirState.from_rh(outdoor, rh), AirState.from_rh(back, back_rh)
    due = changeover(method, zone, air, room)
    setting = dataclasses.replace(
        SETTING, changeover=method, high_limit_c=due.dry_bulb_limit_c if method != "differential_dry_bulb" else 23.9
    )
    inputs = seen(outdoor_temperature=outdoor, outdoor_humidity=rh, return_temperature=back, return_humidity=back_rh)
    near_k = min(abs(due.margin_k), 99.0)
    near_h = abs(due.margin_difference_j_per_kg) if "enthalpy" in method else 1e9
    if near_k < setting.differential_k + 0.01 or near_h < setting.differential_k * ENTHALPY_PER_K + 900:
        return
    for before in (True, False):
        assert Sequence(setting)._may(inputs, before) == due.free_cooling


@given(st.sampled_from(METHODS), st.floats(-8, 8), st.floats(15, 30))
def test_the_plans_stimulus_lies_on_the_side_it_says(method: Any, under: float, outdoor: float) -> None:
    if abs(under) < 0.1:
        return
    setting = dataclasses.replace(SETTING, changeover=method)
    day = Day(outdoor_c=outdoor)
    if "enthalpy" in method and under < -4:
        return
    inputs = seen(**{each.point: each.value for each in outdoor_at(setting, day, under)})
    assert Sequence(setting)._may(inputs, True) == (under > 0)


@pytest.mark.parametrize("method", METHODS)
def test_a_cool_day_is_told_from_a_warm_one(method: Any) -> None:
    setting = dataclasses.replace(SETTING, changeover=method)
    assert cool_enough(setting, Day(outdoor_c=12.0, outdoor_rh=0.5))
    assert not cool_enough(setting, Day(outdoor_c=30.0, outdoor_rh=0.5))
    wet = cool_enough(setting, Day(outdoor_c=21.0, outdoor_rh=1.0))
    assert wet == ("enthalpy" not in method)


@pytest.mark.parametrize("method", METHODS)
@pytest.mark.parametrize("sequence", ["integrated", "exclusive"])
@pytest.mark.parametrize("outdoor", [13.0, 33.0])
def test_a_sound_units_loops_are_sound_whatever_its_sequence(method: Any, sequence: Any, outdoor: float) -> None:
    setting = dataclasses.replace(SETTING, changeover=method, sequence=sequence, minimum_position=0.15)
    unit = RooftopUnit(8, Build(occupied_h=(0, 24)), setting, weather=Weather(outdoor, 0.0, 0.006), time_s=10 * 3600)
    unit.advance(600, 2)
    for step in loop_steps(setting, Day(outdoor, unit.true["return"].c)):
        found = verdict(run_step(unit, step, unit.advance))
        assert found.mark == "holds", (step.key, found.sentence.say())
        unit.advance(60)


@pytest.mark.parametrize("model", sorted(MODELS))
@pytest.mark.parametrize("preset", sorted(PRESETS))
def test_every_preset_runs_and_shows_its_points(model: str, preset: str) -> None:
    unit = made(MODELS[model], preset)
    points = unit.points()
    assert points["fan"] == 1.0
    assert bool(points["alarm"]) == (preset == "failed_sensor")
    assert unit.save()["model"] == unit.build.model


@pytest.mark.parametrize(
    "fault", [Faults(swapped=("return", "mixed")), Faults(failed={"mixed": "short"}), Faults(closed_leak=0.3)]
)
def test_sensor_and_leak_faults_show_where_they_are(fault: Faults) -> None:
    unit = RooftopUnit(4, Build(occupied_h=(0, 24)), faults=fault, weather=Weather(5.0, 0.0, 0.003), time_s=10 * 3600)
    unit.advance(600, 2)
    unit.override("damper_command", 0.0)
    unit.advance(300, 2)
    points = unit.points()
    if fault.swapped:
        assert points["mixed_temperature"] == pytest.approx(unit.true["return"].c, abs=0.6)
    elif fault.failed:
        assert points["alarm"] == "sensor_mixed"
    else:
        seen_step = next(step for step in plan(SETTING, Day(5.0, unit.true["return"].c)) if step.key == "closed")
        assert verdict(run_step(unit, seen_step, lambda seconds: unit.advance(seconds, 2))).mark == "off"

"""Cooling: parts that add up, a working that can be checked by hand, no negative latent capacity in print."""

import math
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.air import AirState, standard_pressure
from fentro_core.air.mixing import Stream, mix
from fentro_core.air.state import state_report
from fentro_core.airflow.airflow import nominal_airflow
from fentro_core.base import units
from fentro_core.base.calculation import run
from fentro_core.base.measured import Measured
from fentro_core.base.refusal import Refused
from fentro_core.base.working import Line, Working
from fentro_core.cooling.capacity import capacity, split
from fentro_core.cooling.expected import expected_cooling, return_to_supply
from fentro_core.cooling.judging import judge_split
from fentro_core.mixing.outdoor_share import outdoor_share
from tests.core.visits import air, flow, snapshot, worked


@given(st.floats(18, 32), st.floats(0.2, 0.8), st.floats(6, 17), st.floats(0.5, 0.99), st.floats(0.05, 10), st.floats(0, 3000))
def test_sensible_and_latent_add_up_to_total(t_r: float, rh_r: float, t_s: float, rh_s: float, flow: float, high: float) -> None:
    pressure = standard_pressure(high)
    parts = capacity(AirState.from_rh(t_r, rh_r, pressure), AirState.from_rh(t_s, rh_s, pressure), flow)
    assert parts.sensible_w + parts.latent_w == pytest.approx(parts.total_w, rel=1e-12, abs=1e-9)
    assert (parts.latent_w >= 0) == (parts.water_kg_per_s >= 0)


def test_flow_measured_at_the_supply_moves_more_dry_air() -> None:
    return_, supply = AirState.from_rh(24.6, 0.58), AirState.from_rh(13.8, 0.91)
    at_supply = capacity(return_, supply, 1.8, "supply")
    assert at_supply.dry_air_kg_per_s == pytest.approx(1.8 / supply.specific_volume_m3_per_kg)
    assert at_supply.total_w > capacity(return_, supply, 1.8).total_w


def full_working() -> list[Line]:
    work = Working()
    high = standard_pressure(1655.0, work)
    return_, supply = AirState.from_rh(25.1, 0.43, high), AirState.from_rh(13.2, 0.73, high)
    capacity(return_, supply, 0.665, work=work)
    split(25.1, 13.2, work)
    nominal_airflow(10551.0, "", work)
    state_report(return_, work)
    outdoor_share(24.0, -7.0, 18.3, work)
    mix((Stream(return_, 0.8), Stream(supply, 0.2)), work)
    coil = expected_cooling(return_, 35.0, 0.665, 10551.0, 0.567)
    return_to_supply(coil, 0.31, 0.665, return_, AirState.from_rh(35.0, 0.4, high), work)
    return work.lines


@pytest.mark.parametrize("system", ["SI", "US"])
@pytest.mark.parametrize("line", full_working(), ids=lambda line: line.name)
def test_every_line_can_be_worked_out_by_hand_with_the_numbers_beside_it(line: Line, system: str) -> None:
    """Put the shown numbers, as rounded on the screen, into the shown formula: the shown result follows."""
    formula = line.formula_us if system == "US" else line.formula
    shown = {name: rounded(number.value, number.kind, system) for name, number in line.numbers.items()}
    assert set(re.findall(r"[A-Za-z]\w*", re.sub(r"\de-\d+", "", formula))) <= set(shown)
    by_hand = eval(formula, {"__builtins__": {}}, shown)
    unit = units.KINDS[line.result.kind].unit(system)
    allowed = 0.5 * 10**-unit.decimals + 0.002 * abs(by_hand)
    for name, number in line.numbers.items():
        last_digit = 0.5 * 10 ** -units.KINDS[number.kind].unit(system).decimals
        moved = eval(formula, {"__builtins__": {}}, {**shown, name: shown[name] + last_digit})
        allowed += abs(moved - by_hand)
    assert unit.from_si(line.result.value) == pytest.approx(by_hand, abs=allowed)
    assert allowed < 0.05 * abs(by_hand)


def rounded(value: float, kind: str, system: str) -> float:
    unit = units.KINDS[kind].unit(system)
    return round(unit.from_si(value), unit.decimals)


def test_the_trades_shortcuts_are_corrected_for_this_air() -> None:
    lines = {line.name: line.result.value for line in full_working()}
    assert lines["total by shortcut, sea level"] > 1.15 * lines["total cooling"]
    assert lines["total by shortcut, this air"] == pytest.approx(lines["total cooling"], rel=0.005)
    assert lines["sensible by shortcut, this air"] == pytest.approx(lines["sensible cooling"], rel=0.03)
    assert lines["latent by shortcut, this air"] == pytest.approx(lines["latent cooling"], rel=0.05)


def given_capacity(rh_supply: float, plus_minus: float) -> dict:
    humidity = {"value": rh_supply, "plus_minus": plus_minus}
    return {
        "entering": {"dry_bulb_c": 25.0, "relative_humidity": 0.45},
        "leaving": {"dry_bulb_c": 15.0, "relative_humidity": humidity},
        "airflow_m3s": 0.6,
    }


def test_negative_latent_is_withheld_and_named() -> None:
    beyond = run("cooling.capacity", given_capacity(0.95, 0.01))["result"]
    assert beyond["latent_w"] is None
    assert beyond["water_kg_per_s"] is None
    assert beyond["moisture"] == "supply_wetter_than_return"
    within = run("cooling.capacity", given_capacity(0.845, 0.03))["result"]
    assert within["latent_w"] is None
    assert within["moisture"] == "none_seen"
    for held in (beyond, within):
        assert held["total_w"]["value"] == held["sensible_w"]["value"]
        assert held["total_w"]["plus_minus"] > held["sensible_w"]["plus_minus"] > 0
        assert held["sensible_heat_ratio"] is None
    drying = run("cooling.capacity", given_capacity(0.70, 0.03))["result"]
    assert drying["latent_w"]["value"] > 0
    assert drying["moisture"] == "removed"


@pytest.mark.parametrize(
    ("split_k", "rh", "mark", "note"),
    [
        (10.5, 0.5, "holds", None),
        (7.0, 0.5, "off", None),
        (7.0, 0.7, "watch", "humid"),
        (14.0, 0.3, "watch", "dry"),
        (14.0, 0.7, "off", "humid"),
        (7.0, None, "off", "Read the return humidity"),
        (-3.0, 0.5, "off", None),
    ],
)
def test_a_split_is_judged_knowing_the_return_humidity(split_k: float, rh: float | None, mark: str, note: str | None) -> None:
    judged = judge_split(Measured(split_k, {"a": 0.2}), None if rh is None else Measured(rh, {"b": 0.01}))
    assert judged.mark == mark
    assert (note in judged.note.say()) if note else judged.note is None


def test_heating_air_is_told_apart_from_a_small_split() -> None:
    assert "heated" in judge_split(Measured(-3.0, {"a": 0.2}), None).sentence.say()


def test_nominal_flow_is_400_cfm_per_ton() -> None:
    assert nominal_airflow(units.TON_W) == pytest.approx(400 * units.CFM_M3S)
    assert nominal_airflow(1000.0) == pytest.approx(0.0537, abs=5e-5)


@pytest.mark.parametrize("flow", [0.0, -1.0])
def test_no_flow_no_capacity(flow: float) -> None:
    with pytest.raises(Refused, match="above zero"):
        capacity(AirState.from_rh(24, 0.5), AirState.from_rh(13, 0.9), flow)


def test_total_is_not_a_number_nowhere() -> None:
    same = AirState.from_rh(20.0, 0.5)
    assert math.isfinite(capacity(same, same, 1.0).sensible_heat_ratio)


def test_a_coil_that_dries_nothing_shows_no_ratio_above_one() -> None:
    """Handbook: sensible above total cannot be; the visit says that moisture is held equal, and total is the sensible part."""
    wet = worked(snapshot([*air("return", 25.0, 45), *air("supply", 15.0, 86), flow(0.6)]))
    found = {result.key: result for result in wet.result.results}
    assert found["total"].quantity is not None
    assert found["sensible"].quantity is not None
    assert found["total"].quantity.value == pytest.approx(found["sensible"].quantity.value)
    assert found["shr"].quantity is None
    assert found["total"].remark is not None
    assert "Moisture held equal" in found["total"].remark.say()
    assert wet.measured["shr_any"].value <= 1.0

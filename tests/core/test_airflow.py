"""The formulas of the airflow, each by hand, by its properties, and refused where nothing follows."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core import catalogue
from fentro_core.air import AirState, standard_pressure
from fentro_core.airflow.airflow import (
    airflow_from_drop,
    airflow_from_fan_table,
    airflow_from_registers,
    airflow_from_rise,
    climate_of,
    nominal_airflow,
)
from fentro_core.airflow.external_static import external_static
from fentro_core.base import calculation
from fentro_core.base.interpolation import Monotone
from fentro_core.base.refusal import Refused
from fentro_core.base.units import CFM_M3S, TON_W
from fentro_core.system.nameplate import DropPoint, FanPoint

assert catalogue.MODULES

HIGH = tuple(FanPoint("high", pa, flow) for pa, flow in ((50.0, 0.62), (125.0, 0.55), (200.0, 0.42)))
LOW = tuple(FanPoint("low", pa, flow) for pa, flow in ((50.0, 0.45), (125.0, 0.38)))


@pytest.mark.parametrize(("zone", "per_ton"), [("", 400), ("3A", 350), ("5B", 450), ("4C", 400), ("7", 400)])
def test_nominal_flow_by_climate(zone: str, per_ton: float) -> None:
    assert nominal_airflow(3 * TON_W, climate_of(zone)) / CFM_M3S == pytest.approx(3 * per_ton)


def test_nominal_flow_in_the_handbooks_words() -> None:
    """0.0537 m³/s per kW."""
    assert nominal_airflow(1000.0) == pytest.approx(0.0537, abs=0.00005)


def test_the_trades_rise_formula_is_met_at_sea_level() -> None:
    """cfm = Btu/h / (1.08 x rise) is the shortcut for standard air: within two per cent."""
    btuh, rise_f = 72_000.0, 55.0
    shortcut = btuh / (1.08 * rise_f) * CFM_M3S
    ours = airflow_from_rise(btuh * 1055.056 / 3600, 20.0, 20.0 + rise_f / 1.8)
    assert ours == pytest.approx(shortcut, rel=0.03)


@given(st.floats(2_000, 60_000), st.floats(10, 25), st.floats(5, 45), st.floats(0, 0.012), st.floats(0, 2500))
def test_the_rise_carries_the_heat(heat: float, return_c: float, rise: float, ratio: float, elevation: float) -> None:
    pressure = standard_pressure(elevation)
    flow = airflow_from_rise(heat, return_c, return_c + rise, ratio, pressure)
    mass = flow / AirState(return_c, ratio, pressure).specific_volume_m3_per_kg
    assert mass * (1006 + 1860 * ratio) * rise == pytest.approx(heat, rel=1e-9)


@pytest.mark.parametrize(
    ("heat", "return_c", "supply_c", "path"),
    [(0.0, 20, 50, "heat_w"), (10_000.0, 20, 22, "supply_dry_bulb_c"), (10_000.0, 20, 13, "supply_dry_bulb_c")],
)
def test_no_flow_without_heat_or_rise(heat: float, return_c: float, supply_c: float, path: str) -> None:
    with pytest.raises(Refused) as refused:
        airflow_from_rise(heat, return_c, supply_c)
    assert refused.value.path == path


@given(st.floats(50, 200))
def test_the_fan_table_falls_from_line_to_line(static: float) -> None:
    flow = airflow_from_fan_table(HIGH + LOW, "high", static)
    assert 0.42 <= flow <= 0.62
    if static < 199:
        assert airflow_from_fan_table(HIGH, "high", static + 1) <= flow


@pytest.mark.parametrize(("row", "flow"), [(row, row.airflow_m3s) for row in HIGH])
def test_the_fan_table_gives_its_own_lines_back(row: FanPoint, flow: float) -> None:
    assert airflow_from_fan_table(HIGH, row.tap, row.external_static_pa) == pytest.approx(flow)


@pytest.mark.parametrize(
    ("tap", "static", "words"),
    [("high", 49.0, "from 50 Pa to 200 Pa"), ("high", 201.0, "lies outside"), ("medium", 100.0, "It has: high, low")],
)
def test_the_fan_table_is_not_carried_on_and_knows_its_taps(tap: str, static: float, words: str) -> None:
    with pytest.raises(Refused, match=words):
        airflow_from_fan_table(HIGH + LOW, tap, static)


def test_a_drop_curve_rises_and_ends() -> None:
    curve = (DropPoint(20.0, 0.34), DropPoint(47.0, 0.545), DropPoint(62.0, 0.63))
    assert airflow_from_drop(curve, 47.0) == pytest.approx(0.545)
    assert 0.34 < airflow_from_drop(curve, 30.0) < 0.545
    for drop in (19.0, 63.0):
        with pytest.raises(Refused, match="lies outside"):
            airflow_from_drop(curve, drop)
    with pytest.raises(Refused, match="two points"):
        airflow_from_drop(curve[:1], 20.0)


@given(st.lists(st.floats(0.005, 0.2), min_size=1, max_size=30))
def test_registers_add_up(flows: list[float]) -> None:
    assert airflow_from_registers(tuple(flows)) == pytest.approx(sum(flows))


def test_no_register_is_no_flow() -> None:
    with pytest.raises(Refused):
        airflow_from_registers(())


@given(st.floats(0, 300), st.floats(-300, 0))
def test_external_static_keeps_its_signs(supply: float, return_: float) -> None:
    assert external_static(supply, return_) == pytest.approx(supply + abs(return_))


def test_half_widths_pass_through_by_name() -> None:
    """A static known to ±5 Pa gives the flow the slope of the table times five."""
    rows = [{"tap": row.tap, "external_static_pa": row.external_static_pa, "airflow_m3s": row.airflow_m3s} for row in HIGH]
    given_ = {"table": rows, "tap": "high", "external_static_pa": {"value": 125.0, "plus_minus": 5.0}}
    ran = calculation.run("airflow.fan_table", given_)["result"]["airflow_m3s"]
    curve = Monotone([(row.external_static_pa, row.airflow_m3s) for row in HIGH])
    slope = (curve(126.0) - curve(124.0)) / 2
    assert ran["plus_minus"] == pytest.approx(abs(slope) * 5, rel=0.05)


@pytest.mark.parametrize(
    ("points", "words"),
    [([(1.0, 2.0)], "two points"), ([(1.0, 2.0), (1.0, 3.0)], "same point twice"), ([], "two points")],
)
def test_a_table_that_is_none(points: list[tuple[float, float]], words: str) -> None:
    with pytest.raises(Refused, match=words):
        Monotone(points)

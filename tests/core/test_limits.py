"""What cannot be is refused, at its field: numbers that no unit, duct, weather or instrument has."""

from __future__ import annotations

import math
from typing import Any

import pytest

from fentro_core.air import AirState
from fentro_core.airflow.airflow import airflow_from_registers, nominal_airflow
from fentro_core.airflow.external_static import external_static
from fentro_core.base.calculation import run
from fentro_core.base.fields import most_of
from fentro_core.base.refusal import Refused, inside
from fentro_core.base.units import KINDS, MOST
from fentro_core.cooling.capacity import split
from fentro_core.cooling.expected import expected_cooling, rated_coil
from fentro_core.heating.heat import electric_rise, rise
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.statics.drops import drop_at_rated
from fentro_core.visit.work_up import work_up
from tests.core.test_calculation import EXAMPLES
from tests.core.visits import air, flow, snapshot, started

NOW = AirState.from_wet_bulb(24.0, 17.0)


def path_of(call: Any, *given: Any, **more: Any) -> str:
    with pytest.raises(Refused) as refused:
        call(*given, **more)
    return refused.value.path


@pytest.mark.parametrize("celsius", [-100.0, 200.0, 1380.0, math.nan, math.inf])
def test_no_air_in_a_duct_is_that(celsius: float) -> None:
    assert path_of(split, celsius, 12.0) == "return_dry_bulb_c"
    assert path_of(split, 24.0, celsius) == "supply_dry_bulb_c"
    assert path_of(rise, 20.0, celsius) == "supply_dry_bulb_c"
    assert path_of(run, "air.outdoor_share", {**EXAMPLES["air.outdoor_share"], "return_dry_bulb_c": 151}) == "return_dry_bulb_c"


@pytest.mark.parametrize("flow_m3s", [0.0, -0.5, 1e-9, 1e-300, math.nan, 900.0, math.inf])
def test_no_unit_blows_that(flow_m3s: float) -> None:
    assert path_of(electric_rise, 9_600.0, flow_m3s, 20.0) == "airflow_m3s"
    assert path_of(expected_cooling, NOW, 31.0, flow_m3s, 10_550.0, 0.566) == "airflow_m3s"
    assert path_of(drop_at_rated, 40.0, flow_m3s, 0.5) == "airflow_m3s"
    assert path_of(drop_at_rated, 40.0, 0.5, flow_m3s) == "rated_airflow_m3s"


@pytest.mark.parametrize(("total_w", "m3s"), [(138_000.0, 1.0), (300_000.0, 1.0), (10_550.0, 0.03), (1e9, 1.0)])
def test_a_capacity_and_a_flow_that_belong_to_no_coil(total_w: float, m3s: float) -> None:
    """From about 138 kW per m³/s the rated air would leave colder than any coil; it raised through a whole visit before."""
    assert path_of(rated_coil, total_w, m3s) in ("rated_total_w", "rated_sensible_heat_ratio")
    readings = [started(), *air("return", 24.6, 55), *air("supply", 13.0, 90), *air("outdoor", 33, 40), flow(m3s)]
    found = work_up(read_snapshot(snapshot(readings, rated_total_w=min(total_w, 1.9e6), rated_airflow_m3s=m3s))).phases[0]
    target = next(each for each in found.results if each.key == "target_split")
    assert target.quantity is None
    assert target.remark is not None
    assert "not possible" in target.remark.say()
    assert any(each.key == "split" and each.quantity for each in found.results)


@pytest.mark.parametrize("share", [0.2, 0.35, 0.5, 0.59, 1.31, 1.6, 2.5])
def test_beyond_the_models_flows_it_is_said_and_stays_physical(share: float) -> None:
    try:
        found = expected_cooling(NOW, 31.0, 0.566 * share, 10_550.0, 0.566)
    except Refused as refused:
        assert refused.path == "airflow_m3s"  # noqa: PT017
        return
    assert "airflow" in found.outside
    assert -20 <= found.apparatus_dew_point_c <= found.leaving_dry_bulb_c <= 24.0
    assert 0 < found.sensible_heat_ratio <= 1


@pytest.mark.parametrize("outdoor", [-80.0, 90.0, 300.0, math.nan])
def test_no_weather_is_that(outdoor: float) -> None:
    assert path_of(expected_cooling, NOW, outdoor, 0.566, 10_550.0, 0.566) == "outdoor_dry_bulb_c"


def test_a_register_never_draws_in() -> None:
    assert path_of(airflow_from_registers, (0.05, -0.01)) == "registers_m3s.1"
    assert airflow_from_registers((0.05, 0.0)) == pytest.approx(0.05)


@pytest.mark.parametrize(
    ("name", "change", "path"),
    [
        ("measuring.traverse", {"velocities_m_per_s": [1.0, -9.0]}, "velocities_m_per_s"),
        ("measuring.traverse", {"velocities_m_per_s": [1.0, 900.0]}, "velocities_m_per_s.1"),
        ("measuring.traverse", {"duct": {"shape": "round", "diameter_m": -0.2}}, "duct.diameter_m"),
        ("airflow.fan_table", {"table": [{"tap": "high", "external_static_pa": 50, "airflow_m3s": -1}]}, "table.0.airflow_m3s"),
        ("airflow.pressure_drop", {"curve": [{"drop_pa": 30, "airflow_m3s": 0.4}]}, "curve"),
        (
            "airflow.pressure_drop",
            {"curve": [{"drop_pa": 30, "airflow_m3s": 0.4}, {"drop_pa": -30, "airflow_m3s": 0.5}]},
            "curve.1.drop_pa",
        ),
        (
            "statics.wet_coil_drop",
            {"curve": [{"drop_pa": 9e3, "airflow_m3s": 1}, {"drop_pa": 1, "airflow_m3s": 2}]},
            "curve.0.drop_pa",
        ),
        ("airflow.external_static", {"supply_static_pa": 6_000}, "supply_static_pa"),
        ("economizer.relief_area", {"drop_pa": 1e-9}, "drop_pa"),
        ("economizer.relief_area", {"density_kg_per_m3": 1_200}, "density_kg_per_m3"),
        ("economizer.door_force", {"door_height_m": 2_130}, "door_height_m"),
        ("economizer.retrofit", {"outdoor_c": 140}, "outdoor_c"),
        ("economizer.mode_map", {"outdoor_rh": 55}, "outdoor_rh"),
        ("economizer.mode_map", {"return_c": 297}, "return_c"),
        ("economizer.changeover", {"limit_c": 75}, "limit_c"),
        ("economizer.sensor_curve", {"reference_c": 285}, "reference_c"),
        ("refrigerant.superheat", {"suction_line_c": 1_200}, "suction_line_c"),
        ("refrigerant.superheat", {"suction_gauge_pa": 8e9}, "suction_gauge_pa"),
        ("refrigerant.superheat", {"suction_gauge_pa": 8e6}, "suction_gauge_pa"),
        ("air.outdoor_share", {"mixed_dry_bulb_c": 90}, "mixed_dry_bulb_c"),
        ("heating.electric_rise", {"airflow_m3s": 0.0005}, "airflow_m3s"),
        ("heating.heat_pump", {"rated_heating_w": -5}, "rated_heating_w"),
        ("cooling.expected", {"fan_power_w": -1}, "fan_power_w"),
        ("cooling.expected", {"fan_power_w": 1e6}, "fan_power_w"),
        ("cooling.humidity_target", {"wet_bulb_c": -20}, "wet_bulb_c"),
        ("measuring.match_summary", {"series": {"a": [24.2] * 60, "b": [240.0] * 60}}, "series.b"),
    ],
)
def test_it_is_refused_at_its_field(name: str, change: dict[str, Any], path: str) -> None:
    assert path_of(run, name, {**EXAMPLES[name], **change}) == path


def test_what_is_odd_but_can_be_is_answered() -> None:
    for name, change in (
        ("cooling.split", {"return_dry_bulb_c": 60.0}),
        ("airflow.external_static", {"supply_static_pa": -20.0}),
        ("air.outdoor_share", {"mixed_dry_bulb_c": 25.0}),
        ("measuring.traverse", {"velocities_m_per_s": [4.0, -0.5, 6.0]}),
        ("economizer.relief_area", {"drop_pa": 2.0}),
    ):
        assert run(name, {**EXAMPLES[name], **change})["result"]
    assert external_static(40.0, 40.0) == 0.0
    assert nominal_airflow(1_000.0) == pytest.approx(0.0537, rel=0.01)


def test_every_kind_has_a_size_beyond_which_nothing_is_taken() -> None:
    assert set(MOST) <= set(KINDS)
    assert most_of("dry_bulb_c") < 1e4 < most_of("heat_w")
    for kind in KINDS.values():
        assert kind.most > 0


def test_a_refusal_moves_to_the_field_that_the_user_sees() -> None:
    with pytest.raises(Refused) as refused, inside("duct", width_m="side_m"):
        raise Refused("Too wide.", "width_m")
    assert refused.value.path == "duct.side_m"
    with pytest.raises(Refused) as refused, inside(probes="series"):
        raise Refused("Not so.", "probes.0.mean")
    assert refused.value.path == "series.0.mean"

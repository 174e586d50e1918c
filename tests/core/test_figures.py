"""Figures that come from outside: standards, physics, tables of the trade. Each stands here once more, with where it is from."""

from __future__ import annotations

from itertools import pairwise
from math import exp, log

import pytest

from fentro_core.air import constants
from fentro_core.airflow import traverse
from fentro_core.base import units
from fentro_core.base.student import t_95
from fentro_core.base.units import KINDS
from fentro_core.cooling import capacity, expected, judging
from fentro_core.economizer import changeover, relief, sensors
from fentro_core.economizer.configuration import Configuration
from fentro_core.heating import heat
from fentro_core.instruments import steadiness
from fentro_core.instruments.instrument import MADE_FOR
from fentro_core.instruments.quantities import READABLE, USUAL_DRY_BULB_C
from fentro_core.leakage import part as leakage
from fentro_core.statics import drops

T_95 = {
    1: 12.706,
    2: 4.303,
    3: 3.182,
    4: 2.776,
    5: 2.571,
    6: 2.447,
    7: 2.365,
    8: 2.306,
    9: 2.262,
    10: 2.228,
    12: 2.179,
    15: 2.131,
    20: 2.086,
    30: 2.042,
}
"""Student's t, two-sided 95 %, by degrees of freedom: any table of statistics."""


def test_units_convert_as_defined() -> None:
    """NIST SP 811: exact definitions, and conventional ones to the digits given there."""
    one = {
        ("power", "Btu/h"): 0.29307107,
        ("power", "ton"): 3516.8528,
        ("pressure", "in. w.c."): 249.08891,
        ("barometric_pressure", "inHg"): 3386.389,
        ("airflow", "cfm"): 0.3048**3 / 60,
        ("velocity", "fpm"): 0.3048 / 60,
        ("length", "ft"): 0.3048,
        ("area", "sq ft"): 0.09290304,
        ("enthalpy_difference", "Btu/lb"): 2326.0,
        ("humidity_ratio", "gr/lb"): 1 / 7000,
        ("temperature_difference", "°F"): 5 / 9,
    }
    for (kind, label), si in one.items():
        found = [unit for unit in KINDS[kind].units if unit.label == label]
        assert found, (kind, label, [unit.label for unit in KINDS[kind].units])
        assert found[0].factor == pytest.approx(si, rel=2e-5), (kind, label)


def test_temperatures_and_enthalpies_have_their_own_zero() -> None:
    fahrenheit = next(unit for unit in KINDS["temperature"].units if unit.label == "°F")
    assert fahrenheit.factor * 32 + fahrenheit.offset == pytest.approx(0.0)
    assert fahrenheit.factor * 212 + fahrenheit.offset == pytest.approx(100.0)
    enthalpy = next(unit for unit in KINDS["enthalpy"].units if unit.label == "Btu/lb")
    assert enthalpy.factor * 0.240 * 32 + enthalpy.offset == pytest.approx(0.0, abs=1.0)


def test_moist_air_is_the_handbooks() -> None:
    """ASHRAE Handbook, Fundamentals: h = 1.006 t + W (2501 + 1.86 t)."""
    assert constants.CP_DRY_AIR == 1006.0
    assert constants.CP_VAPOUR == 1860.0
    assert constants.EVAPORATION_J_PER_KG == 2_501_000.0
    assert pytest.approx(8.314462 / 0.0289652, rel=1e-4) == constants.GAS_CONSTANT
    assert constants.KELVIN == 273.15
    assert constants.heat_capacity(0.012) == pytest.approx(1006 + 0.012 * 1860)
    assert constants.dry_heat_per_m3(20.0, 101_325.0) == pytest.approx(1006 * 101_325 / (287.05 * 293.15))


def test_a_ton_and_a_cfm_are_the_trades() -> None:
    assert pytest.approx(0.0004719474, rel=1e-6) == units.CFM_M3S
    assert pytest.approx(0.075 * 16.018463, rel=1e-6) == capacity.STANDARD_DENSITY_KG_PER_M3


@pytest.mark.parametrize(("freedom", "told"), T_95.items())
def test_students_t_is_the_table(freedom: int, told: float) -> None:
    assert t_95(freedom) == pytest.approx(told, abs=6e-4)
    assert t_95(freedom) > t_95(freedom + 0.5) > t_95(freedom + 1)


def test_the_changeover_limits_are_the_standards() -> None:
    """ASHRAE 90.1-2019, table of high-limit shutoff: 75, 70, 65 °F by zone, 28 Btu/lb with a cap at 75 °F."""
    for zones, fahrenheit in (("1B 2B 3B 3C 4B 4C 5B 5C 6B 7 8", 75), ("5A 6A", 70), ("1A 2A 3A 4A", 65)):
        for zone in zones.split():
            assert changeover.FIXED_LIMIT_F[zone] == fahrenheit
    assert changeover.CAP_F == 75
    assert pytest.approx(28 * 2326 - 0.240 * 32 * 2326, rel=1e-3) == changeover.FIXED_ENTHALPY_J_PER_KG


def test_sensor_resistances_are_the_makers_tables() -> None:
    for curve, at in (
        ("10k type II", {0.0: 32_650.0, 25.0: 10_000.0, 50.0: 3_602.0}),
        ("10k type III", {0.0: 29_490.0, 25.0: 10_000.0, 50.0: 3_893.0}),
        ("1k platinum", {0.0: 1_000.0, 50.0: 1_193.97, 100.0: 1_385.06}),
    ):
        for celsius, ohm in at.items():
            if celsius <= sensors.RANGE_C[1]:
                assert sensors.resistance_of(curve, celsius) == pytest.approx(ohm, rel=2e-4), (curve, celsius)


def test_iso_3966_places_stand_for_equal_parts() -> None:
    """Log-Tchebycheff, ISO 3966:2008: the places of 5, 6 and 7 points a side."""
    assert [round(each, 3) for each in traverse.LOG_TCHEBYCHEFF[5]] == [0.074, 0.288, 0.500, 0.712, 0.926]
    assert [round(each, 3) for each in traverse.LOG_TCHEBYCHEFF[6]] == [0.061, 0.235, 0.437, 0.563, 0.765, 0.939]
    assert [round(each, 3) for each in traverse.LOG_TCHEBYCHEFF[7]] == [0.053, 0.203, 0.366, 0.500, 0.634, 0.797, 0.947]


def test_the_models_range_and_rating_are_the_sources() -> None:
    """NREL/TP-5500-56354; rated at 80/67 °F inside, 95 °F outside."""
    assert pytest.approx((80 - 32) / 1.8) == expected.RATED_DRY_BULB_C
    assert pytest.approx((67 - 32) / 1.8) == expected.RATED_WET_BULB_C
    assert (expected.RATED_WET_BULB_F, expected.RATED_OUTDOOR_F) == (67, 95)
    assert pytest.approx((95 - 32) / 1.8) == expected.RATED_OUTDOOR_C
    assert heat.HEAT_TOLERANCE_SHARE == 0.10
    assert [round(each * 1.8) for each in judging.FIXED_BAND_K] == [16, 22]


def test_limits_of_the_trade_are_as_the_method_says() -> None:
    assert relief.HARD_TO_OPEN_N == 67.0
    assert leakage.PICKUP_K == 1.5
    assert drops.WET_COIL_FACTOR == 1.4
    assert drops.CHANGE_FILTER_PA == {"furnace_with_coil": 75.0, "split_heat_pump": 75.0, "packaged_rooftop": 125.0}
    assert steadiness.WINDOW_S == 180.0


def test_a_new_configuration_is_an_ordinary_one() -> None:
    usual = Configuration()
    assert usual.freeze_c < usual.mixed_low_limit_c < usual.supply_setpoint_c < usual.cooling_setpoint_c
    assert usual.heating_setpoint_c < usual.cooling_setpoint_c
    assert 0 < usual.minimum_position < 0.5


def test_what_is_usual_is_possible_and_every_quantity_has_an_instrument() -> None:
    for key, each in READABLE.items():
        (least, most), (low, high) = each.possible, each.usual
        assert least <= low < high <= most, key
    for place, (low, high) in USUAL_DRY_BULB_C.items():
        assert READABLE["dry_bulb"].possible[0] < low < high < READABLE["dry_bulb"].possible[1], place
    assert set(MADE_FOR) <= set(READABLE)
    assert {"dry_bulb", "relative_humidity", "static_pressure", "airflow"} <= set(READABLE)


def test_saturation_rises_with_temperature_and_curves_gently() -> None:
    """Clausius and Clapeyron: ln p falls nearly straight with 1/T."""
    from fentro_core.refrigerant.circuit import saturation_pressure, saturation_temperature

    for refrigerant in ("R-410A", "R-22", "R-134a"):
        pressures = [saturation_pressure(refrigerant, float(celsius)) for celsius in range(-40, 61, 5)]
        assert all(low < high for low, high in pairwise(pressures))
        slopes = [log(b / a) for a, b in pairwise(pressures)]
        assert all(first > second for first, second in pairwise(slopes))
        middle = exp((log(pressures[8]) + log(pressures[9])) / 2)
        assert 0 < saturation_temperature(refrigerant, middle) < 5

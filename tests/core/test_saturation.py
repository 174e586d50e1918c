"""The curves of moist air against two references that share no line with ours: psychrolib, and a real-gas model."""

from __future__ import annotations

import math
import random
from itertools import pairwise

import psychrolib
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.air import AirState
from fentro_core.air.saturation import dew_point, over_ice, over_water, ratio_by_wet_bulb, saturated_ratio, saturation, wet_bulb
from fentro_core.base.refusal import Refused
from tests.core.coolprop import fluid_property

psychrolib.SetUnitSystem(psychrolib.SI)
TEMPERATURES = [each / 2 for each in range(-120, 181)]
PRESSURES = (60_000.0, 82_000.0, 101_325.0, 108_000.0)


@pytest.mark.parametrize("celsius", TEMPERATURES)
def test_saturation_is_the_handbooks(celsius: float) -> None:
    assert saturation(celsius)[0] == pytest.approx(psychrolib.GetSatVapPres(celsius), rel=1e-12)


@pytest.mark.parametrize("celsius", [0.02, 1.0, 10.0, 25.0, 60.0, 89.0])
def test_saturation_is_real_water(celsius: float) -> None:
    assert over_water(celsius)[0] == pytest.approx(fluid_property("P", "T", celsius + 273.15, "Q", 0, "Water"), rel=2e-3)


@pytest.mark.parametrize("curve", [over_ice, over_water])
@pytest.mark.parametrize("celsius", [-55.0, -20.0, -3.0, 0.0, 15.0, 70.0])
def test_a_slope_is_the_slope_of_its_curve(curve: object, celsius: float) -> None:
    def at(t: float) -> float:
        return float(curve(t)[0])  # type: ignore[operator]

    assert curve(celsius)[1] == pytest.approx((at(celsius + 1e-4) - at(celsius - 1e-4)) / 2e-4, rel=1e-6)  # type: ignore[operator]


@given(st.floats(-55, 85), st.floats(0.001, 1.0))
def test_the_dew_point_is_where_the_vapour_is_saturated(celsius: float, share: float) -> None:
    vapour = share * saturation(celsius)[0]
    found = dew_point(vapour)
    assert found <= celsius + 1e-6
    assert saturation(found)[0] == pytest.approx(vapour, rel=3e-5 if abs(found - 0.01) < 1e-6 else 1e-7)


def test_states_are_psychrolibs_to_its_own_tolerance() -> None:
    """psychrolib halves its wet bulb to 0.001 K; ours is exact."""
    chance = random.Random(7)
    for _ in range(800):
        dry, share, pressure = chance.uniform(-30, 60), chance.uniform(0.02, 1.0), chance.choice(PRESSURES)
        air = AirState.from_rh(dry, share, pressure)
        ratio, bulb, dew, humid, vapour, enthalpy, volume, _ = _of_psychrolib(dry, share, pressure)
        assert air.humidity_ratio == pytest.approx(ratio, rel=1e-9)
        assert air.vapour_pa == pytest.approx(vapour, rel=1e-9)
        assert air.relative_humidity == pytest.approx(humid, rel=1e-9)
        assert air.dew_point_c == pytest.approx(dew, abs=1e-5)
        assert air.enthalpy_j_per_kg == pytest.approx(enthalpy, rel=1e-9, abs=1e-6)
        assert air.specific_volume_m3_per_kg == pytest.approx(volume, rel=1e-9)
        if abs(air.wet_bulb_c) > 1.5:
            assert air.wet_bulb_c == pytest.approx(bulb, abs=1.1e-3)


def _of_psychrolib(dry: float, share: float, pressure: float) -> tuple[float, ...]:
    ratio, bulb, dew, vapour, enthalpy, volume, degree = psychrolib.CalcPsychrometricsFromRelHum(dry, share, pressure)
    return ratio, bulb, dew, share, vapour, enthalpy, volume, degree


@given(st.floats(-40, 60), st.floats(0.0, 1.0), st.sampled_from(PRESSURES), st.booleans())
def test_a_wet_bulb_satisfies_its_balance(dry: float, share: float, pressure: float, frozen: bool) -> None:
    vapour = share * saturation(dry)[0]
    ratio = 0.621945 * vapour / (pressure - vapour)
    bulb, by_dry, by_ratio = wet_bulb(dry, ratio, pressure, frozen, share)
    assert ratio_by_wet_bulb(dry, bulb, pressure, frozen) == pytest.approx(ratio, rel=1e-7, abs=1e-9)
    more = wet_bulb(dry + 1e-3, ratio, pressure, frozen, share)[0]
    assert by_dry == pytest.approx((more - bulb) / 1e-3, rel=1e-3, abs=1e-4)
    wetter = wet_bulb(dry, ratio + 1e-7, pressure, frozen, share)[0]
    assert by_ratio == pytest.approx((wetter - bulb) / 1e-7, rel=1e-3, abs=1.0)


@pytest.mark.parametrize("dry", [0.5, 3.0, 6.0])
def test_a_wet_bulb_near_freezing_is_one_and_comes_back(dry: float) -> None:
    """Wet or frozen, what was read is what is shown again; without a wick said, below zero is ice."""
    for reading in (-1.5, -0.6, -0.3, -0.01, 0.0, 0.01, 0.4):
        if reading > dry:
            continue
        air = AirState.from_wet_bulb(dry, reading)
        assert air.wet_bulb_c == pytest.approx(reading, abs=1e-6)
        assert air.wick == ("frozen" if reading < 0 else "wet")
    wet, frozen = (AirState.from_wet_bulb(dry, -0.3, wick=wick) for wick in ("wet", "frozen"))  # type: ignore[arg-type]
    assert wet.humidity_ratio < frozen.humidity_ratio
    assert wet.wet_bulb_c == pytest.approx(frozen.wet_bulb_c, abs=1e-6) == pytest.approx(-0.3, abs=1e-6)


def test_the_half_width_of_a_wet_bulb_does_not_jump_at_freezing() -> None:
    from fentro_core import catalogue
    from fentro_core.base import calculation

    assert catalogue

    def width(bulb: float) -> float:
        given = {"air": {"dry_bulb_c": 4.0, "wet_bulb_c": {"value": bulb, "plus_minus": 0.3}}}
        return float(calculation.run("air.state", given)["result"]["humidity_ratio"]["plus_minus"])

    widths = [width(bulb) for bulb in (-0.4, -0.02, 0.02, 0.4)]
    assert max(widths) < 1.25 * min(widths)


@pytest.mark.parametrize(("wick", "bulb"), [("frozen", 0.5), ("wet", -12.0), ("frozen", 12.0), (None, 10.5)])
def test_a_wick_that_cannot_be_is_refused(wick: object, bulb: float) -> None:
    with pytest.raises(Refused) as refused:
        AirState.from_wet_bulb(10.0, bulb, wick=wick)  # type: ignore[arg-type]
    assert refused.value.path == "wet_bulb_c"


@given(st.floats(-60, 90), st.sampled_from(PRESSURES))
def test_dry_and_saturated_air_have_every_property(dry: float, pressure: float) -> None:
    for share in (0.0, 1.0):
        try:
            air = AirState.from_rh(dry, share, pressure)
        except Refused:
            assert (share, dry > 70) == (1.0, True)
            continue
        found = (air.wet_bulb_c, air.dew_point_c, air.relative_humidity, air.enthalpy_j_per_kg, air.density_kg_per_m3)
        assert all(map(math.isfinite, found))
        assert air.dew_point_c <= air.wet_bulb_c + 1e-6 <= dry + 2e-6 or air.wick is None
        assert all(math.isfinite(each) for pair in air.slopes().values() for each in pair)


@pytest.mark.parametrize(
    ("numbers", "path"),
    [
        ((24.0, 9.3, 101_325.0), "humidity_ratio"),
        ((24.0, -0.001, 101_325.0), "humidity_ratio"),
        ((24.0, math.nan, 101_325.0), "humidity_ratio"),
        ((24.0, 0.009, 101.325), "pressure_pa"),
        ((24.0, 0.009, 0.0), "pressure_pa"),
        ((24.0, 0.009, -101_325.0), "pressure_pa"),
        ((24.0, 0.009, math.inf), "pressure_pa"),
        ((297.15, 0.009, 101_325.0), "dry_bulb_c"),
        ((math.nan, 0.009, 101_325.0), "dry_bulb_c"),
    ],
)
def test_no_state_is_made_of_what_no_air_has(numbers: tuple[float, float, float], path: str) -> None:
    with pytest.raises(Refused) as refused:
        AirState(*numbers)
    assert refused.value.path == path


def test_slopes_are_those_of_trial() -> None:
    chance = random.Random(11)
    for _ in range(200):
        air = AirState.from_rh(chance.uniform(-20, 55), chance.uniform(0.05, 0.98), chance.choice(PRESSURES))
        warmer = AirState(air.dry_bulb_c + 1e-4, air.humidity_ratio, air.pressure_pa)
        wetter = AirState(air.dry_bulb_c, air.humidity_ratio * (1 + 1e-5), air.pressure_pa)
        for name, (by_dry, by_ratio) in air.slopes().items():
            if ("point" in name and abs(air.dew_point_c) < 0.1) or ("bulb" in name and abs(air.wet_bulb_c) < 1.0):
                continue
            here = getattr(air, name)
            assert by_dry == pytest.approx((getattr(warmer, name) - here) / 1e-4, rel=2e-3, abs=2e-3), name
            assert by_ratio == pytest.approx((getattr(wetter, name) - here) / (air.humidity_ratio * 1e-5), rel=2e-3), name


@pytest.mark.parametrize("pressure", PRESSURES)
def test_saturated_air_holds_more_the_warmer_until_it_boils(pressure: float) -> None:
    held = [saturated_ratio(celsius, pressure) for celsius in range(-60, 106)]
    rising = [each for each in held if math.isfinite(each)]
    assert all(low < high for low, high in pairwise(rising))
    assert held[-1] == math.inf or pressure > 101_325.0

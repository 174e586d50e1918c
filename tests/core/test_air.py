"""Air states: four humidity measures that agree, refusals with a reason, mixing that keeps mass, energy and water."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from fentro_core.air import AirState, mix, standard_pressure
from fentro_core.air.mixing import Stream
from fentro_core.base.calculation import run
from fentro_core.base.refusal import Refused
from fentro_core.mixing.outdoor_share import outdoor_share
from tests.core.coolprop import air_property

dry_bulbs = st.floats(-20, 55)
humidities = st.floats(0.03, 0.999)
elevations = st.floats(0, 4000)


@given(dry_bulbs, humidities, elevations)
def test_every_humidity_measure_leads_back_to_the_same_air(dry_bulb: float, rh: float, elevation: float) -> None:
    pressure = standard_pressure(elevation)
    air = AirState.from_rh(dry_bulb, rh, pressure)
    assert air.relative_humidity == pytest.approx(rh, abs=1e-9)
    by_ratio = AirState.from_humidity_ratio(dry_bulb, air.humidity_ratio, pressure)
    assert by_ratio.relative_humidity == pytest.approx(rh, abs=1e-6)
    by_dew_point = AirState.from_dew_point(dry_bulb, min(air.dew_point_c, dry_bulb), pressure)
    assert by_dew_point.dew_point_c == pytest.approx(air.dew_point_c, abs=2e-3)
    assert by_dew_point.humidity_ratio == pytest.approx(air.humidity_ratio, rel=1e-3)
    wet_bulb = min(air.wet_bulb_c, dry_bulb)
    assume(abs(wet_bulb) > 0.01)  # at 0 °C the wick may be wet or frozen: two answers, both right
    by_wet_bulb = AirState.from_wet_bulb(dry_bulb, wet_bulb, pressure)
    slope = abs(AirState.from_wet_bulb(dry_bulb, wet_bulb - 0.002, pressure).humidity_ratio - by_wet_bulb.humidity_ratio)
    assert abs(by_wet_bulb.humidity_ratio - air.humidity_ratio) <= slope + 1e-9


@given(dry_bulbs, humidities, elevations)
def test_order_of_the_temperatures(dry_bulb: float, rh: float, elevation: float) -> None:
    air = AirState.from_rh(dry_bulb, rh, standard_pressure(elevation))
    assert air.dew_point_c <= air.wet_bulb_c + 2e-3 <= dry_bulb + 4e-3


@pytest.mark.parametrize("dry_bulb", [-15.0, 2.0, 18.0, 30.0, 45.0])
@pytest.mark.parametrize("rh", [0.15, 0.5, 0.95])
@pytest.mark.parametrize("elevation", [0.0, 1655.0, 3500.0])
def test_against_a_real_gas_model(dry_bulb: float, rh: float, elevation: float) -> None:
    pressure = standard_pressure(elevation)
    air = AirState.from_rh(dry_bulb, rh, pressure)
    reference = {name: air_property(name, "T", dry_bulb + 273.15, "P", pressure, "R", rh) for name in ("W", "H", "V", "B", "D")}
    assert air.humidity_ratio == pytest.approx(reference["W"], rel=0.008)
    assert air.enthalpy_j_per_kg == pytest.approx(reference["H"], abs=600, rel=0.007)
    assert air.specific_volume_m3_per_kg == pytest.approx(reference["V"], rel=0.001)
    assert air.wet_bulb_c == pytest.approx(reference["B"] - 273.15, abs=0.08)
    assert air.dew_point_c == pytest.approx(reference["D"] - 273.15, abs=0.08)


@pytest.mark.parametrize(
    ("make", "field", "words"),
    [
        (lambda: AirState.from_wet_bulb(20.0, 20.5), "wet_bulb_c", "above dry bulb"),
        (lambda: AirState.from_wet_bulb(35.0, 5.0), "wet_bulb_c", "perfectly dry"),
        (lambda: AirState.from_dew_point(20.0, 20.5), "dew_point_c", "above dry bulb"),
        (lambda: AirState.from_rh(20.0, 1.2), "relative_humidity", "0 and 100 %"),
        (lambda: AirState.from_rh(20.0, -0.1), "relative_humidity", "0 and 100 %"),
        (lambda: AirState.from_humidity_ratio(10.0, 0.02), "humidity_ratio", "fog"),
        (lambda: AirState.from_rh(240.0, 0.5), "dry_bulb_c", "between"),
        (lambda: AirState.from_rh(20.0, 0.5, 20_000.0), "pressure_pa", "No site"),
        (lambda: AirState.from_measures(20.0, relative_humidity=0.5, wet_bulb_c=14.0), "relative_humidity", "one humidity"),
        (lambda: standard_pressure(9000.0), "elevation_m", "Elevation"),
        (lambda: outdoor_share(20.0, 20.2, 20.1), "outdoor_dry_bulb_c", "too close"),
        (lambda: mix(()), "streams", "at least one"),
    ],
)
def test_impossible_air_is_refused_at_its_field(make: object, field: str, words: str) -> None:
    with pytest.raises(Refused) as refused:
        make()
    assert refused.value.path == field
    assert words in refused.value.sentence.say()


def test_wet_bulb_below_freezing_is_over_ice() -> None:
    assert AirState.from_rh(-12.0, 0.8).wet_bulb_over_ice
    assert not AirState.from_rh(24.0, 0.5).wet_bulb_over_ice


@given(
    st.lists(st.tuples(st.floats(-5, 45), st.floats(0.1, 0.9), st.floats(0.01, 20)), min_size=1, max_size=4),
    elevations,
)
def test_mixing_keeps_mass_energy_and_water(streams: list, elevation: float) -> None:
    pressure = standard_pressure(elevation)
    made = tuple(Stream(AirState.from_rh(t, rh, pressure), flow) for t, rh, flow in streams)
    mixed = mix(made)
    assert mixed.dry_air_kg_per_s == pytest.approx(sum(each.dry_air_kg_per_s for each in made))
    water = mixed.humidity_ratio + mixed.excess_humidity_ratio
    assert water * mixed.dry_air_kg_per_s == pytest.approx(sum(each.dry_air_kg_per_s * each.air.humidity_ratio for each in made))
    result = AirState(mixed.dry_bulb_c, mixed.humidity_ratio, pressure)
    drops = 4186.0 * mixed.dry_bulb_c if mixed.dry_bulb_c >= 0 else 2100.0 * mixed.dry_bulb_c - 333_400.0
    held = result.enthalpy_j_per_kg + mixed.excess_humidity_ratio * drops
    assert held * mixed.dry_air_kg_per_s == pytest.approx(
        sum(each.dry_air_kg_per_s * each.air.enthalpy_j_per_kg for each in made), abs=1e-3, rel=1e-6
    )


@given(st.floats(0.05, 0.95))
def test_outdoor_share_is_found_again_from_mixed_air(share: float) -> None:
    room, outdoor = AirState.from_rh(24.0, 0.5), AirState.from_rh(2.0, 0.7)
    mixed = mix((Stream(room, 1 - share), Stream(outdoor, share)))
    assert outdoor_share(24.0, 2.0, mixed.dry_bulb_c) == pytest.approx(share, abs=0.004)


@given(dry_bulb=st.floats(-15, 55), rh=st.floats(0.1, 0.99), elevation=st.floats(0, 2500))
def test_slopes_are_those_of_the_properties(dry_bulb: float, rh: float, elevation: float) -> None:
    """Against central differences of the iterated properties, away from the kinks at freezing."""
    pressure = standard_pressure(elevation)
    air = AirState.from_rh(dry_bulb, rh, pressure)
    assume(min(abs(air.wet_bulb_c), abs(air.dew_point_c), abs(dry_bulb)) > 1.0)
    step_t, step_w = 0.05, air.humidity_ratio * 0.03
    warm, cold = (AirState(dry_bulb + sign * step_t, air.humidity_ratio, pressure) for sign in (1, -1))
    wet, dry = (AirState(dry_bulb, air.humidity_ratio + sign * step_w, pressure) for sign in (1, -1))
    assume(wet.relative_humidity < 1 and cold.relative_humidity < 1)
    for name, (by_dry, by_ratio) in air.slopes().items():
        if name == "humidity_ratio":
            continue
        central_t = (getattr(warm, name) - getattr(cold, name)) / (2 * step_t)
        central_w = (getattr(wet, name) - getattr(dry, name)) / (2 * step_w)
        assert by_dry == pytest.approx(central_t, rel=0.06, abs=0.04 if name.endswith("_c") else 1e-6)
        assert by_ratio == pytest.approx(central_w, rel=0.06, abs=0.03 * abs(by_ratio))


def test_fog_is_warmer_than_the_same_air_without_drops_and_its_water_is_said() -> None:
    """Room air at 30 °C and 95 % with winter air at -15 °C: energy and water balance, drops counted."""
    room, winter = AirState.from_rh(30.0, 0.95), AirState.from_rh(-15.0, 0.9)
    found = mix((Stream(room, 1.0), Stream(winter, 1.0)))
    assert found.fog
    saturated = AirState.from_rh(found.dry_bulb_c, 1.0)
    assert found.humidity_ratio == pytest.approx(saturated.humidity_ratio, rel=1e-6)
    whole = (room.humidity_ratio + winter.humidity_ratio) / 2
    assert found.humidity_ratio + found.excess_humidity_ratio == pytest.approx(whole, rel=1e-9)
    drops = found.excess_humidity_ratio * 4186.0 * found.dry_bulb_c
    held = saturated.enthalpy_j_per_kg + drops
    assert held == pytest.approx((room.enthalpy_j_per_kg + winter.enthalpy_j_per_kg) / 2, rel=1e-6)
    as_vapour = (found.enthalpy_j_per_kg - 2_501_000 * whole) / (1006 + 1860 * whole)
    assert found.dry_bulb_c > as_vapour + 1.0


def test_ice_fog_and_a_mixture_that_just_holds_its_water() -> None:
    cold = mix((Stream(AirState.from_rh(-2.0, 1.0), 1.0), Stream(AirState.from_rh(-30.0, 1.0), 1.0)))
    assert cold.fog
    assert cold.dry_bulb_c < 0
    assert 0 < cold.excess_humidity_ratio < 0.001
    plain = mix((Stream(AirState.from_rh(24.0, 0.5), 1.0), Stream(AirState.from_rh(10.0, 0.5), 1.0)))
    assert (plain.fog, plain.excess_humidity_ratio) == (False, 0.0)


@pytest.mark.parametrize("other", [83_000.0, 101_320.0])
def test_streams_of_two_pressures_are_refused(other: float) -> None:
    with pytest.raises(Refused) as refused:
        mix((Stream(AirState.from_rh(24.0, 0.5), 1.0), Stream(AirState.from_rh(10.0, 0.5, other), 1.0)))
    assert refused.value.path == "streams.1.air.pressure_pa"


def test_the_pressure_of_a_site_moves_as_one() -> None:
    """Both states at a barometer's ±300 Pa: refused before, as if a site had two pressures; together it is one doubt."""
    pressure = {"value": 83_000.0, "plus_minus": 300.0}
    given = {
        "entering": {"dry_bulb_c": 24.0, "relative_humidity": 0.5, "pressure_pa": pressure},
        "leaving": {"dry_bulb_c": 13.0, "relative_humidity": 0.9, "pressure_pa": pressure},
        "airflow_m3s": 0.6,
    }
    total = run("cooling.capacity", given)
    width = total["result"]["total_w"]["plus_minus"]
    higher, lower = (
        run(
            "cooling.capacity",
            {
                **given,
                "entering": {**given["entering"], "pressure_pa": 83_000.0 + by},  # type: ignore[dict-item]
                "leaving": {**given["leaving"], "pressure_pa": 83_000.0 + by},  # type: ignore[dict-item]
            },
        )["result"]["total_w"]["value"]
        for by in (300.0, -300.0)
    )
    assert width == pytest.approx(abs(higher - lower) / 2, rel=0.02)
    assert set(total["shares"]["total_w"]) == {"entering.pressure_pa"}

"""Expected cooling, superheat and return leakage: worked numbers, and what must hold for any unit."""

from __future__ import annotations

import math

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from fentro_core.air import AirState, standard_pressure
from fentro_core.base.refusal import Refused
from fentro_core.base.working import Working
from fentro_core.cooling import expected
from fentro_core.cooling.expected import ExpectedCooling, expected_cooling, rated_coil
from fentro_core.leakage.return_side import ReturnLeak, ReturnRun, return_leak
from fentro_core.refrigerant.circuit import target_superheat

UNIT = {"rated_total_w": 10_550.0, "rated_airflow_m3s": 0.566, "rated_sensible_heat_ratio": 0.76}
RATED_AIR = AirState.from_wet_bulb(expected.RATED_DRY_BULB_C, expected.RATED_WET_BULB_C)
RATED_OUTDOOR_C = (95 - 32) / 1.8


def now(dry: float = 24.0, wet: float = 17.0, outdoor: float = 31.0, flow: float = 0.566, **more: float) -> ExpectedCooling:
    return expected_cooling(AirState.from_wet_bulb(dry, wet), outdoor, flow, **{**UNIT, **more})


@pytest.mark.parametrize(
    ("given_", "figures"),
    [
        (
            (24.0, 17.0, 31.0, 0.566),
            {
                "total_w": 10323.6,
                "sensible_heat_ratio": 0.7939,
                "bypass_factor": 0.1129,
                "rated_bypass_factor": 0.110,
                "leaving_humidity_ratio": 0.0080,
            },
        ),
        (
            (24.5, 19.5, 35.0, 0.480),
            {
                "total_w": 10301.3,
                "sensible_heat_ratio": 0.6094,
                "bypass_factor": 0.0751,
                "rated_bypass_factor": 0.110,
                "leaving_humidity_ratio": 0.0094,
            },
        ),
    ],
)
def test_worked_numbers(given_: tuple[float, float, float, float], figures: dict[str, float]) -> None:
    found = now(*given_)
    for name, value in figures.items():
        assert getattr(found, name) == pytest.approx(value, rel=0.02), name
    assert found.total_w == pytest.approx(figures["total_w"], rel=0.01)
    assert not found.outside


@pytest.mark.parametrize(
    ("given_", "split", "adp", "leaving"),
    [((24.0, 17.0, 31.0, 0.566), 12.1098, 10.3448, 11.8902), ((24.5, 19.5, 35.0, 0.480), 10.9794, 12.6233, 13.5206)],
)
def test_worked_temperatures(given_: tuple[float, float, float, float], split: float, adp: float, leaving: float) -> None:
    found = now(*given_)
    assert found.split_k == pytest.approx(split, abs=0.3)
    assert found.apparatus_dew_point_c == pytest.approx(adp, abs=0.3)
    assert found.leaving_dry_bulb_c == pytest.approx(leaving, abs=0.3)


@given(st.floats(0.70, 0.76), st.floats(0.0000510, 0.0000580), st.floats(5_000, 60_000))
@settings(max_examples=40)
def test_at_the_rated_point_the_unit_does_what_its_plate_says(shr: float, flow_per_w: float, total: float) -> None:
    found = expected_cooling(RATED_AIR, RATED_OUTDOOR_C, flow_per_w * total, total, flow_per_w * total, shr)
    assert found.total_w == pytest.approx(total, rel=0.002)
    assert found.sensible_heat_ratio == pytest.approx(shr, abs=0.01)
    assert found.bypass_factor == pytest.approx(found.rated_bypass_factor, rel=1e-6)


@given(st.floats(21, 28), st.floats(0.40, 0.65), st.floats(24, 42), st.floats(0.42, 0.68))
@settings(max_examples=60)
def test_it_stays_a_balance_of_heat_and_water(dry: float, rh: float, outdoor: float, flow: float) -> None:
    entering = AirState.from_rh(dry, rh)
    found = expected_cooling(entering, outdoor, flow, **UNIT)
    mass = flow / entering.specific_volume_m3_per_kg
    leaving = AirState(found.leaving_dry_bulb_c, found.leaving_humidity_ratio)
    assert mass * (entering.enthalpy_j_per_kg - leaving.enthalpy_j_per_kg) == pytest.approx(found.total_w, rel=1e-6)
    assert found.leaving_humidity_ratio <= entering.humidity_ratio + 1e-12
    assert found.apparatus_dew_point_c < found.leaving_dry_bulb_c < dry
    assert found.sensible_w == pytest.approx(found.sensible_heat_ratio * found.total_w)
    assert found.dry_coil == (found.sensible_heat_ratio == 1.0)


def test_flow_turns_split_and_capacity_against_each_other() -> None:
    few, usual, much = (now(flow=flow) for flow in (0.38, 0.566, 0.70))
    assert few.split_k > usual.split_k > much.split_k
    assert few.total_w < usual.total_w < much.total_w


def test_humid_air_gives_a_small_split_and_dry_air_a_large_one() -> None:
    humid, dry = (expected_cooling(AirState.from_rh(24, rh), 33.0, 0.566, **UNIT) for rh in (0.65, 0.35))
    assert humid.split_k < dry.split_k - 2
    assert humid.sensible_heat_ratio < dry.sensible_heat_ratio


def test_a_hot_day_takes_capacity() -> None:
    assert now(outdoor=40.0).total_w < now(outdoor=28.0).total_w


def test_thin_air_gives_a_larger_split_at_the_same_volume() -> None:
    pressure = standard_pressure(1655)
    sea, high = AirState.from_rh(24, 0.4), AirState.from_rh(24, 0.4, pressure)
    assert expected_cooling(high, 31, 0.566, **UNIT).split_k > expected_cooling(sea, 31, 0.566, **UNIT).split_k + 0.5


def test_a_fan_after_the_coil_takes_from_the_split() -> None:
    with_fan, without = now(fan_power_w=400.0), now()
    mass = 0.566 / AirState.from_wet_bulb(24, 17).specific_volume_m3_per_kg
    assert without.split_k - with_fan.split_k == pytest.approx(400 / (mass * (1006 + 1860 * without.leaving_humidity_ratio)))
    assert with_fan.total_w == without.total_w


def test_dry_air_makes_a_dry_coil() -> None:
    found = expected_cooling(AirState.from_rh(25, 0.18), 33.0, 0.566, **UNIT)
    assert found.dry_coil
    assert found.sensible_heat_ratio == 1.0
    assert found.leaving_humidity_ratio == pytest.approx(AirState.from_rh(25, 0.18).humidity_ratio)


@pytest.mark.parametrize(
    ("given_", "outside"),
    [
        ({"wet": 12.0}, ("return wet bulb",)),
        ({"outdoor": 16.0}, ("outdoor temperature",)),
        ({"flow": 0.30}, ("airflow",)),
        ({"flow": 0.80, "outdoor": 48.0}, ("outdoor temperature", "airflow")),
    ],
)
def test_conditions_outside_the_model_are_named(given_: dict[str, float], outside: tuple[str, ...]) -> None:
    assert now(**given_).outside == outside


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"rated_total_w": 0.0}, "rated_total_w"),
        ({"rated_airflow_m3s": -1.0}, "rated_airflow_m3s"),
        ({"rated_sensible_heat_ratio": 0.2}, "rated_sensible_heat_ratio"),
        ({"rated_airflow_m3s": 0.25}, "rated_total_w"),
        ({"flow": 0.0}, "airflow_m3s"),
    ],
)
def test_a_plate_that_belongs_to_no_coil_is_refused(change: dict[str, float], path: str) -> None:
    with pytest.raises(Refused) as refused:
        now(**change)
    assert refused.value.path == path


def test_the_working_comes_to_the_result() -> None:
    work = Working()
    found = expected_cooling(AirState.from_wet_bulb(24, 17), 31.0, 0.566, **UNIT, work=work)
    by_name = {line.name: line.result.value for line in work.lines}
    assert by_name["capacity expected now"] == found.total_w
    assert by_name["split expected now"] == found.split_k
    assert rated_coil(**UNIT).bypass_factor == found.rated_bypass_factor


# superheat


@pytest.mark.parametrize(
    ("wet", "outdoor", "target", "usable"), [(62, 80, 13.0, True), (58, 90, 2.0, False), (60, 90, 5.0, True)]
)
def test_superheat_of_a_restrictor(wet: float, outdoor: float, target: float, usable: bool) -> None:
    found = target_superheat((wet - 32) / 1.8, (outdoor - 32) / 1.8)
    assert found.superheat_k * 1.8 == pytest.approx(target)
    assert found.usable is usable


def test_superheat_refuses_what_no_one_measures() -> None:
    for given_, path in (((60.0, 30.0), "return_wet_bulb_c"), ((18.0, 80.0), "outdoor_dry_bulb_c")):
        with pytest.raises(Refused) as refused:
            target_superheat(*given_)
        assert refused.value.path == path


# return leakage


def leaking(share: float, wall: ReturnRun | None = None, pressure: float = 101_325.0, static: float | None = -62.0) -> ReturnLeak:
    """Both balances for air mixed from a true share."""
    room, attic = AirState.from_rh(24.5, 0.5, pressure), AirState.from_humidity_ratio(46.0, 0.0165, pressure)
    flow = 0.66

    def mixed(extra: float) -> AirState:
        h = (1 - share) * room.enthalpy_j_per_kg + share * attic.enthalpy_j_per_kg + extra
        w = (1 - share) * room.humidity_ratio + share * attic.humidity_ratio
        return AirState((h - 2_501_000 * w) / (1006 + 1860 * w), w, pressure)

    mix = mixed(0.0)
    if wall:
        for _ in range(20):
            mass = flow / mix.specific_volume_m3_per_kg
            gain = wall.length_m * wall.perimeter_m / wall.resistance_m2k_per_w * (46.0 - (24.5 + mix.dry_bulb_c) / 2)
            mix = mixed(gain / mass)
    return return_leak(room, mix, attic, AirState.from_rh(13.5, 0.92, pressure), flow, wall, static)


@given(st.floats(0.0, 0.3), st.floats(83_000, 101_325), st.booleans())
@settings(max_examples=60)
def test_both_balances_find_the_true_share(share: float, pressure: float, insulated: bool) -> None:
    found = leaking(share, ReturnRun(7.0, 1.45, 1.06) if insulated else None, pressure)
    assert found.share_by_moisture == pytest.approx(share, abs=1e-6)
    assert found.share_by_heat == pytest.approx(share, abs=0.005), "temperatures mix nearly, not quite, by mass"
    assert found.heat_usable
    assert found.moisture_usable


def test_the_worked_leak() -> None:
    """Made from a true share of 8 %; states by humidity ratio, as its maker had them."""
    state = AirState.from_humidity_ratio
    found = return_leak(
        state(24.5, 0.009629),
        state(26.482, 0.009939),
        state(46.0, 0.0135),
        AirState.from_rh(13.5, 0.92),
        0.66,
        ReturnRun(7.0, 1.45, 1.06),
        -62.0,
    )
    assert found.share_by_heat == pytest.approx(0.0805, rel=0.02)
    assert found.share_by_moisture == pytest.approx(0.08, rel=0.02)
    assert found.wall_gain_w == pytest.approx(196.4, rel=0.02)
    assert found.capacity_share_lost == pytest.approx(0.1771, rel=0.02)
    assert found.leak_m3s_from_heat == pytest.approx(0.05316, rel=0.02)
    assert found.leak_at_25pa_m3s == pytest.approx(0.04672, rel=0.02)


def test_a_leak_near_the_unit_sees_all_of_the_static() -> None:
    spread = leaking(0.1)
    room, attic = AirState.from_rh(24.5, 0.5), AirState.from_humidity_ratio(46.0, 0.0165)
    assert spread.leak_at_25pa_m3s == pytest.approx(spread.leak_m3s_from_heat * (25 / 31) ** 0.6)
    mixed = 0.66 / spread.drawn_in_w * (attic.enthalpy_j_per_kg - room.enthalpy_j_per_kg)
    drawn_in = spread.leak_m3s_from_heat / mixed * attic.specific_volume_m3_per_kg
    assert spread.opening_area_m2 == pytest.approx(drawn_in / (0.6 * math.sqrt(2 * 31 / attic.density_kg_per_m3)))
    assert leaking(0.1, static=None).leak_at_25pa_m3s is None
    assert leaking(0.1, static=0.0).opening_area_m2 is None
    assert room.humidity_ratio < attic.humidity_ratio


def test_too_much_alike_says_when_to_come_back() -> None:
    room = AirState.from_rh(24.0, 0.5)
    like = AirState.from_humidity_ratio(28.0, room.humidity_ratio + 0.001)
    with pytest.raises(Refused, match="come back when they differ by 8"):
        return_leak(room, room, like, AirState.from_rh(13, 0.9), 0.6)
    only_heat = AirState.from_humidity_ratio(40.0, room.humidity_ratio + 0.0005)
    found = return_leak(room, room, only_heat, AirState.from_rh(13, 0.9), 0.6)
    assert (found.heat_usable, found.moisture_usable) == (True, False)
    with pytest.raises(Refused):
        return_leak(room, room, only_heat, room, 0.0)


@given(st.floats(0.02, 0.25))
def test_what_is_lost_is_the_leak_and_the_wall(share: float) -> None:
    wall = ReturnRun(7.0, 1.45, 1.06)
    assume(share > 0)
    found = leaking(share, wall)
    assert found.leak_load_w > 0
    assert found.wall_gain_w > 0
    assert leaking(share).wall_gain_w == 0
    assert found.capacity_share_lost > leaking(share).capacity_share_lost

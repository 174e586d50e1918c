"""Economizer: changeover by zone, the walk to a minimum position, relief and doors, sensor curves both ways."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from fentro_core.air import AirState
from fentro_core.base.refusal import Refused
from fentro_core.economizer.changeover import (
    FIXED_LIMIT_F,
    NOT_DIFFERENTIAL_DRY_BULB,
    changeover,
    default_method,
)
from fentro_core.economizer.minimum_position import LARGEST_STEP, PositionRead, next_position
from fentro_core.economizer.relief import door_force, relief_area
from fentro_core.economizer.sensors import CURVE_NAMES, RANGE_C, error_of_resistance, resistance_of, sensor_state
from fentro_core.logbook.snapshot import CLIMATE_ZONES

ROOM = AirState.from_rh(24.0, 0.5)


def outdoor(fahrenheit: float, rh: float = 0.5) -> AirState:
    return AirState.from_rh((fahrenheit - 32) / 1.8, rh)


def test_every_zone_has_a_limit_and_a_default() -> None:
    assert set(FIXED_LIMIT_F) == set(CLIMATE_ZONES)
    for zone in CLIMATE_ZONES:
        method, reason = default_method(zone)
        assert reason.say()
        assert changeover(method, zone, outdoor(50), ROOM).free_cooling
        assert not changeover(method, zone, outdoor(90), ROOM).free_cooling


@pytest.mark.parametrize(("zone", "limit"), [("5B", 75), ("7", 75), ("5A", 70), ("6A", 70), ("3A", 65), ("1A", 65)])
def test_fixed_dry_bulb_turns_at_the_zones_limit(zone: str, limit: float) -> None:
    assert changeover("fixed_dry_bulb", zone, outdoor(limit - 0.2), ROOM).free_cooling
    assert not changeover("fixed_dry_bulb", zone, outdoor(limit + 0.2), ROOM).free_cooling


def test_cool_wet_air_is_kept_out_by_enthalpy_and_let_in_by_dry_bulb() -> None:
    wet = outdoor(68, 0.95)
    assert changeover("fixed_dry_bulb", "5B", wet, ROOM).free_cooling
    assert not changeover("fixed_enthalpy", "3A", wet, ROOM).free_cooling
    assert not changeover("differential_enthalpy", "3A", wet, ROOM).free_cooling


def test_warm_dry_air_is_kept_out_by_the_cap() -> None:
    found = changeover("differential_enthalpy", "3A", outdoor(78, 0.2), ROOM)
    assert not found.free_cooling
    assert found.decided_by == "dry bulb"
    assert found.margin_difference_j_per_kg > 0


def test_differential_dry_bulb_is_refused_where_it_is_humid() -> None:
    for zone in NOT_DIFFERENTIAL_DRY_BULB:
        with pytest.raises(Refused, match="humid zones"):
            changeover("differential_dry_bulb", zone, outdoor(60), ROOM)
    assert changeover("differential_dry_bulb", "5A", outdoor(70), ROOM).free_cooling
    with pytest.raises(Refused) as refused:
        changeover("fixed_dry_bulb", "", outdoor(60), ROOM)
    assert refused.value.path == "climate_zone"


def test_the_controllers_own_limit_goes_before_the_zones() -> None:
    assert not changeover("fixed_dry_bulb", "5B", outdoor(70), ROOM, 18.0).free_cooling


def curved(position: float, leak: float = 0.03) -> float:
    """A damper's share by position: leaking when shut, steep at first."""
    return leak + (1 - leak) * position**0.6


@given(st.floats(0.08, 0.6))
def test_the_walk_comes_to_the_wanted_share_in_a_few_steps(wanted: float) -> None:
    reads: tuple[PositionRead, ...] = ()
    for _ in range(8):
        found = next_position(reads, wanted * 2.0, 2.0, 24.0, 4.0)
        if found.done:
            break
        assert 0 <= found.position <= 1
        if reads:
            assert abs(found.position - reads[-1].position) <= LARGEST_STEP + 1e-9
        reads = (*reads, PositionRead(found.position, curved(found.position)))
    assert found.done
    assert curved(found.position) == pytest.approx(wanted, abs=0.011)
    assert found.mixed_aim_c == pytest.approx(24.0 - 20.0 * wanted)


def test_a_walk_that_can_not_be_is_refused() -> None:
    with pytest.raises(Refused) as refused:
        next_position((PositionRead(1.2, 0.3),), 0.4, 2.0, 24.0, 4.0)
    assert refused.value.path == "reads.0.position"
    with pytest.raises(Refused, match="at most the supply flow"):
        next_position((), 3.0, 2.0, 24.0, 4.0)


def test_worked_numbers_of_relief_and_door() -> None:
    assert relief_area(1.2, 12.5) == pytest.approx(0.4382, rel=0.001)
    assert door_force(0.91, 2.13, 12.5) == pytest.approx(13.12, rel=0.001)
    assert door_force(0.91, 2.13, 64.0) > 67
    with pytest.raises(Refused):
        relief_area(0, 12.5)
    with pytest.raises(Refused):
        door_force(0.9, 2.1, 10, 1.0)


@pytest.mark.parametrize(
    ("curve", "celsius", "ohm"),
    [
        ("10k type II", 12.0, 18091.3),
        ("10k type III", 35.0, 6753.7),
        ("1k platinum", 30.0, 1116.73),
        ("10k type II", 0.0, 32650.0),
        ("10k type II", 25.0, 10000.0),
        ("10k type III", 50.0, 3893.0),
        ("1k platinum", 0.0, 1000.0),
    ],
)
def test_worked_numbers_of_sensors(curve: str, celsius: float, ohm: float) -> None:
    assert resistance_of(curve, celsius) == pytest.approx(ohm, rel=2e-5)  # type: ignore[arg-type]


@given(st.sampled_from(["10k type II", "10k type III", "1k platinum"]), st.floats(*RANGE_C))
def test_there_and_back(curve: str, celsius: float) -> None:
    found = sensor_state(curve, resistance_of(curve, celsius), celsius)  # type: ignore[arg-type]
    assert found.temperature_c == pytest.approx(celsius, abs=1e-4)
    assert found.state == "good"


@pytest.mark.parametrize(("ohm", "state"), [(5e6, "open"), (10.0, "short"), (14_000.0, "drift"), (12_494.0, "good")])
def test_open_short_drift_or_good(ohm: float, state: str) -> None:
    assert sensor_state("10k type II", ohm, 20.0).state == state


@given(st.floats(-10, 40), st.floats(0.5, 20))
def test_a_bad_connection_reads_platinum_too_warm_and_a_thermistor_too_cold(celsius: float, ohm: float) -> None:
    assume(celsius + ohm < 80)
    assert error_of_resistance("1k platinum", celsius, ohm) > 0
    assert error_of_resistance("10k type II", celsius, ohm) < 0
    assert abs(error_of_resistance("10k type II", celsius, ohm)) < abs(error_of_resistance("1k platinum", celsius, ohm))


@pytest.mark.parametrize(
    ("curve", "ohm", "reference", "state", "other"),
    [
        ("1k platinum", 5e6, 20.0, "open", None),
        ("1k platinum", 3.0, 20.0, "short", None),
        ("1k platinum", 12_494.0, 20.0, "not_this_curve", "10k type II"),
        ("1k platinum", 2_000.0, 20.0, "not_this_curve", None),
        ("1k platinum", 1_090.0, 20.0, "drift", None),
        ("10k type II", 1_078.0, 20.0, "not_this_curve", "1k platinum"),
        ("10k type II", 5e6, -20.0, "open", None),
        ("10k type III", 400_000.0, 20.0, "drift", None),
        ("10k type III", 0.0, 20.0, "short", None),
    ],
)
def test_what_a_resistance_says_far_off_its_curve(
    curve: Any, ohm: float, reference: float, state: str, other: str | None
) -> None:
    found = sensor_state(curve, ohm, reference)
    assert (found.state, found.other_curve) == (state, other)
    assert (found.temperature_c is None) == (state in ("open", "short", "not_this_curve"))
    if found.temperature_c is not None:
        assert RANGE_C[0] - 31 < found.temperature_c < RANGE_C[1] + 31


@given(st.sampled_from(sorted(CURVE_NAMES)), st.floats(0, 1e9), st.floats(*RANGE_C))
def test_no_resistance_gives_a_temperature_that_no_sensor_meets(curve: Any, ohm: float, reference: float) -> None:
    found = sensor_state(curve, ohm, reference)
    if found.temperature_c is None:
        assert found.error_k is None
        assert found.state not in ("good", "drift")
    else:
        assert -71 < found.temperature_c < 121

"""What a probe alone says of compressor and blades: by hand, at its edges, and against sensors that lie."""

from __future__ import annotations

import pytest

from fentro_core.economizer.proof.diagnosis import diagnose
from fentro_core.economizer.sensor_identity import Condition, Reference
from fentro_core.economizer.true_air import (
    COMPRESSOR_ON,
    DAMPER_OPEN,
    DAMPER_PART_OPEN,
    DAMPER_SHUT,
    ByProbe,
    air_moves,
    by_probe,
    cooled,
    open_when_shut,
    opens_short,
    signs_by_probe,
)
from tests.core.proofs import shares, upset

FINE = {"swapped": False, "drifted": False, "misplaced": False}


def airs(name: str, mixed: float, outdoor: float = 5.0, back: float = 22.0, width: float = 0.4) -> Condition:
    known = {"outdoor": Reference(outdoor, width), "return": Reference(back, width), "mixed": Reference(mixed, width)}
    return Condition(name, {}, known)


def test_supply_no_colder_with_the_compressor_on_is_no_cooling() -> None:
    def known(mixed: float, supply: float, name: str = COMPRESSOR_ON) -> Condition:
        return Condition(name, {}, {"mixed": Reference(mixed), "supply": Reference(supply)})

    assert cooled((known(25.0, 24.6),)) is False
    assert cooled((known(25.0, 14.0),)) is True
    assert cooled((known(25.0, 25.0, DAMPER_SHUT),)) is None
    found = diagnose(upset([]), {**FINE, "no_cooling": True})
    assert found.found == "no_cooling"


@pytest.mark.parametrize(
    ("shut", "opened", "told"),
    [(21.5, 14.0, "moves"), (13.0, 13.3, "stands"), (10.0, 10.9, "stands"), (6.0, 14.0, "backwards"), (21.5, 19.8, "")],
)
@pytest.mark.parametrize("name", [DAMPER_OPEN, DAMPER_PART_OPEN])
def test_the_share_moves_stands_or_goes_backwards(shut: float, opened: float, told: str, name: str) -> None:
    assert air_moves((airs(DAMPER_SHUT, shut), airs(name, opened))) == told


def test_part_open_a_slipped_linkage_is_not_taken_for_blades_that_stand() -> None:
    barely = (airs(DAMPER_SHUT, 21.8), airs(DAMPER_PART_OPEN, 21.0))
    assert air_moves(barely) == ""
    assert air_moves((barely[0], airs(DAMPER_OPEN, 21.0))) == "stands"
    still = (airs(DAMPER_SHUT, 21.8, width=0.2), airs(DAMPER_PART_OPEN, 21.7, width=0.2))
    assert air_moves(still) == "stands"
    assert air_moves((still[0], airs(DAMPER_PART_OPEN, 21.7, width=1.5))) == ""


def test_the_weather_between_two_conditions_is_no_movement() -> None:
    half = air_moves((airs(DAMPER_SHUT, 13.5), airs(DAMPER_OPEN, 16.5, outdoor=11.0)))
    assert half == "stands", "half of each air both times, though the mixed air is 3 K warmer"


def test_airs_too_much_alike_say_nothing() -> None:
    near = (airs(DAMPER_SHUT, 21.6, outdoor=20.0), airs(DAMPER_OPEN, 21.6, outdoor=20.0))
    assert air_moves(near) == ""
    assert open_when_shut(near) is None
    assert air_moves((airs(DAMPER_SHUT, 22.0, outdoor=22.0), airs(DAMPER_OPEN, 22.0, outdoor=22.0))) == ""
    assert air_moves((airs(DAMPER_SHUT, 13.0, width=3.0), airs(DAMPER_OPEN, 13.0, width=3.0))) == ""


def test_one_condition_or_a_place_not_read_says_nothing() -> None:
    assert air_moves(()) == ""
    assert air_moves((airs(DAMPER_SHUT, 13.0),)) == ""
    assert air_moves((airs(DAMPER_SHUT, 13.0), Condition(DAMPER_OPEN, {}, {"mixed": Reference(13.0)}))) == ""
    assert signs_by_probe(by_probe(())) == {}
    told = signs_by_probe(ByProbe(True, "moves", False, False))
    assert set(told) == {"no_cooling", "air_stands", "air_backwards", "open_when_shut", "opens_short"}
    assert not any(told.values())


@pytest.mark.parametrize(("mixed", "told"), [(21.7, False), (13.0, True), (19.4, None)])
def test_much_outdoor_air_with_the_damper_shut_is_blades_that_are_not_shut(mixed: float, told: bool | None) -> None:
    assert open_when_shut((airs(DAMPER_OPEN, 6.0), airs(DAMPER_SHUT, mixed))) is told
    assert open_when_shut((airs(DAMPER_OPEN, mixed),)) is None


@pytest.mark.parametrize(("mixed", "told"), [(6.0, False), (15.0, True), (9.8, None)])
def test_too_little_outdoor_air_with_the_damper_open(mixed: float, told: bool | None) -> None:
    assert opens_short((airs(DAMPER_OPEN, mixed), airs(DAMPER_SHUT, 21.9))) is told
    assert opens_short((airs(DAMPER_PART_OPEN, mixed),)) is None


def test_a_linkage_is_not_called_slipped_where_the_probe_found_the_blades_open() -> None:
    """Coarse sensors of a sound unit show too little outdoor air, and show it again: their error is the same both times."""
    low = ["full.outdoor_share.low"]
    once, twice = (diagnose(runs, FINE).suspects[0] for runs in (upset(low), [*upset(low), *upset(low)]))
    assert twice.sure == once.sure
    assert all(each.sure < 0.1 for each in diagnose(upset(low), {**FINE, "opens_short": False}).suspects)
    assert diagnose(upset(low), {**FINE, "opens_short": True, "air_stands": False}).found == "slipped_linkage"


@pytest.mark.parametrize("sensors", [{"unclear": True}, {"swapped": False, "drifted": True, "misplaced": False}])
def test_blades_are_told_from_a_sensor_that_lies(sensors: dict[str, bool]) -> None:
    by_the_units_sensors = shares(0.4, 0.42)
    stands = diagnose(by_the_units_sensors, {**sensors, "air_stands": True, "air_backwards": False})
    assert next(each for each in stands.suspects if each.fault.key == "loose_blades").sure > 0.9
    moves = diagnose(by_the_units_sensors, {**sensors, "air_stands": False, "air_backwards": False})
    assert moves.found != "loose_blades"
    assert all(each.fault.key != "loose_blades" or each.sure < 0.4 for each in moves.suspects)


def test_an_actuator_that_answers_is_not_stuck_though_the_air_stands() -> None:
    """Loose blades beside a minimum set wrong upset all that a stuck damper upsets, but for what the actuator says of itself."""
    wrong = ["above.damper_position.high", "inside.not_ready", "below.not_ready", "heating.minimum.high", "sensor.minimum.high"]
    runs = shares(0.8, 0.82, wrong)
    found = diagnose(runs, {**FINE, "air_stands": True, "air_backwards": False, "open_when_shut": True})
    assert {each.fault.key for each in found.suspects if each.sure > 0.9} == {"loose_blades", "wrong_minimum"}
    assert found.found in ("loose_blades", "wrong_minimum")

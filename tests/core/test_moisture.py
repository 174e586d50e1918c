"""Moisture: the handbook's worked numbers, the edges, and what is said on the page."""

from __future__ import annotations

from typing import Any

import pytest

from fentro_core.air.state import AirState
from fentro_core.base.calculation import run
from fentro_core.base.refusal import Refused
from fentro_core.logbook.entry import read_entry
from fentro_core.moisture.bypass import bypass, bypass_share_read
from fentro_core.moisture.choose import choose
from fentro_core.moisture.coil import apparatus_dew_point, coil_now, freezes
from fentro_core.moisture.part_load import part_load
from fentro_core.moisture.reheat import reheat
from fentro_core.moisture.sources import sources
from fentro_core.moisture.stops import after_stops
from tests.core.test_calculation import CYCLES
from tests.core.visits import entry

ROOM = AirState.from_rh(24.0, 0.58)
FLOW = 1.2


def test_dew_point_and_apparatus_dew_point_as_worked() -> None:
    assert pytest.approx(15.24, abs=0.05) == ROOM.dew_point_c
    assert apparatus_dew_point(ROOM, AirState.from_rh(13.0, 0.95)) == pytest.approx(11.88, abs=0.15)


@pytest.mark.parametrize(
    ("share", "coil_c", "water", "heat", "ratio"),
    [
        (0.0, 15.0, 3.59, 15404, 0.01015),
        (0.1, 14.0, 6.16, 17168, 0.009641),
        (0.2, 12.75, 8.52, 18793, 0.009172),
        (0.3, 11.14, 10.6, 20233, 0.008759),
    ],
)
def test_bypass_as_worked(share: float, coil_c: float, water: float, heat: float, ratio: float) -> None:
    found = bypass(ROOM, 15.0, FLOW, share)
    assert found.leaving_dry_bulb_c == pytest.approx(coil_c, abs=0.01)
    assert found.water_kg_per_s * 3600 == pytest.approx(water, rel=0.01)
    assert found.total_w == pytest.approx(heat, rel=0.015)
    assert found.supply_ratio == pytest.approx(ratio, rel=0.01)


@pytest.mark.parametrize(("warmed_k", "water", "heat"), [(3.0, 12.8, 26054), (6.0, 20.51, 35697)])
def test_reheat_as_worked(warmed_k: float, water: float, heat: float) -> None:
    coil = bypass(ROOM, 15.0 - warmed_k, FLOW, 0.0)
    assert coil.water_kg_per_s * 3600 == pytest.approx(water, rel=0.01)
    assert coil.total_w == pytest.approx(heat, rel=0.015)
    leaving = AirState.from_rh(15.0 - warmed_k, 0.95)
    found = reheat(ROOM, leaving, FLOW, 15.0)
    assert found.humidity_ratio == leaving.humidity_ratio
    assert found.dew_point_c == pytest.approx(leaving.dew_point_c)
    assert found.relative_humidity < leaving.relative_humidity
    if warmed_k == 6.0:
        assert found.heat_w == pytest.approx(8566, rel=0.01)


def test_a_dry_coil_removes_nothing_and_says_why() -> None:
    dry = AirState.from_rh(24.0, 0.35)
    assert dry.dew_point_c == pytest.approx(7.61, abs=0.05)
    found = coil_now(dry, AirState(13.0, dry.humidity_ratio), FLOW)
    assert (found.water_kg_per_s, found.dry_because, found.apparatus_dew_point_c) == (0.0, "surface_above_dew_point", None)
    assert coil_now(ROOM, AirState(12.0, ROOM.humidity_ratio * 0.81), FLOW).dry_because == ""
    damp = AirState.from_rh(20.0, 0.95)
    assert coil_now(damp, AirState(18.0, damp.humidity_ratio), FLOW).dry_because == "no_drier"
    assert coil_now(dry, AirState(30.0, dry.humidity_ratio), FLOW).dry_because == "not_cooling"


def test_the_fans_heat_is_taken_off_before_the_line_is_drawn() -> None:
    supply = AirState(14.0, 0.0089)
    plain, with_fan = coil_now(ROOM, supply, FLOW), coil_now(ROOM, supply, FLOW, fan_w=1400.0)
    assert plain.leaving_dry_bulb_c - with_fan.leaving_dry_bulb_c == pytest.approx(1400 / (1.2 / 0.856 * 1023), abs=0.02)
    assert with_fan.water_kg_per_s == pytest.approx(plain.water_kg_per_s, rel=1e-9)
    assert with_fan.total_w > plain.total_w


def test_a_line_that_no_surface_makes_is_a_coil_that_freezes() -> None:
    leaving = AirState.from_rh(5.0, 0.95)
    assert apparatus_dew_point(ROOM, leaving) is None
    assert freezes(ROOM, leaving)
    assert not freezes(ROOM, AirState.from_rh(12.0, 0.95))
    assert apparatus_dew_point(AirState.from_rh(13.0, 0.5), ROOM) is None
    assert apparatus_dew_point(ROOM, AirState.from_rh(14.0, 1.0)) == 14.0


@pytest.mark.parametrize("share", [0.05, 0.1, 0.2, 0.3, 0.4])
def test_the_share_read_from_three_temperatures_is_the_one_that_was_mixed(share: float) -> None:
    found = bypass(ROOM, 15.0, FLOW, share)
    assert bypass_share_read(24.0, found.leaving_dry_bulb_c, 15.0) == pytest.approx(share)
    assert bypass_share_read(24.0, found.leaving_dry_bulb_c, 15.6, 0.6) == pytest.approx(share)


def test_on_and_off_swings_and_modulating_does_not() -> None:
    leaving = AirState.from_rh(9.0, 0.95)
    steady = reheat(ROOM, leaving, FLOW, 15.0, full_heat_w=12_000.0)
    swinging = reheat(ROOM, leaving, FLOW, 15.0, full_heat_w=12_000.0, modulates=False)
    assert (steady.low_c, steady.high_c, steady.felt, steady.on_share) == (pytest.approx(15.0), pytest.approx(15.0), False, None)
    assert swinging.felt
    assert swinging.low_c < 12 < 16 < swinging.high_c
    mean = sum(swinging.course_c[:-1]) / len(swinging.course_c[:-1])
    assert mean == pytest.approx(15.0, abs=0.2), "over a cycle it gives the heat that is wanted"
    weak = reheat(ROOM, leaving, FLOW, 15.0, full_heat_w=4_000.0)
    assert not weak.enough
    assert weak.high_c < 12.5


@pytest.mark.parametrize(
    ("water", "best"),
    [(3.0, "plain"), (6.0, "bypass"), (9.0, "bypass"), (12.0, "both"), (40.0, "")],
)
def test_the_least_that_meets_the_load_is_chosen(water: float, best: str) -> None:
    found = choose(ROOM, FLOW, 12_700.0, water / 3600, least_air=1.0)
    assert found.best == best
    good = [each for each in found.options if each.meets]
    for each in good:
        assert each.water_kg_per_s * 3600 >= water * 0.999
        assert each.supply_c == pytest.approx(found.needed_c, abs=0.02)
    if best:
        chosen = next(each for each in good if each.option == best)
        assert chosen.power_w == min(each.power_w for each in good)


@pytest.mark.parametrize("water", [4.0, 6.0, 9.0])
def test_less_air_over_the_coil_dries_as_a_bypass_of_the_same_share(water: float) -> None:
    found = choose(ROOM, FLOW, 12_700.0, water / 3600)
    less, around = (next(each for each in found.options if each.option == key) for key in ("less_air", "bypass"))
    assert found.best == "less_air", "of equals the one with nothing to build"
    assert less.air_share == pytest.approx(1 - around.bypass_share, abs=0.01)
    assert less.total_w == pytest.approx(around.total_w, rel=0.01)
    mass = less.air_share * FLOW / ROOM.specific_volume_m3_per_kg
    assert mass * (ROOM.humidity_ratio - less.supply_ratio) * 3600 == pytest.approx(water, rel=0.01), "the room's water leaves"
    carried = mass * 1000 * (1.006 + 1.86 * less.supply_ratio) * (ROOM.dry_bulb_c - less.supply_c)
    assert carried == pytest.approx(12_700.0, rel=0.01), "and its heat"


def test_less_air_ends_where_the_coil_frosts_or_the_blower_cannot() -> None:
    cold = choose(ROOM, FLOW, 24_000.0, 30.0 / 3600, least_air=0.4).options[1]
    assert not cold.meets
    assert cold.air_share > 0.5, "no further down than the coil bears"
    assert cold.leaving_dry_bulb_c >= 1.0
    assert choose(ROOM, FLOW, 12_700.0, 9.0 / 3600, least_air=1.0).options[1].why == "no_less_air"


def test_what_cannot_be_had_is_not_chosen() -> None:
    found = choose(ROOM, FLOW, 12_700.0, 9.0 / 3600, reheat_source=None, most_bypass=0.0, least_air=1.0)
    assert found.best == ""
    assert [each.why for each in found.options] == ["too_little_water", "no_less_air", "no_bypass", "no_reheat", "no_bypass"]
    gas = choose(ROOM, FLOW, 12_700.0, 12.0 / 3600, reheat_source="hot_gas")
    electric = choose(ROOM, FLOW, 12_700.0, 12.0 / 3600, reheat_source="electric")
    assert gas.options[3].power_w == pytest.approx(electric.options[3].power_w - electric.options[3].reheat_w)
    assert choose(ROOM, FLOW, 0.0, 0.0).best == "plain"


def test_outdoor_air_mixed_in_is_work_for_the_coil_and_asks_for_the_same_supply() -> None:
    plain = choose(ROOM, FLOW, 12_700.0, 6.0 / 3600)
    mixed = choose(ROOM, FLOW, 12_700.0, 6.0 / 3600, entering=AirState.from_rh(25.5, 0.65))
    assert (mixed.needed_c, mixed.needed_ratio, mixed.best) == (plain.needed_c, plain.needed_ratio, plain.best)
    for one, other in zip(mixed.options, plain.options, strict=True):
        assert one.total_w > other.total_w
        assert one.supply_ratio == pytest.approx(other.supply_ratio, rel=0.02)


def test_a_fan_that_blows_on_gives_the_water_back() -> None:
    on, auto = part_load(0.4, 0.0025, 1.2, True), part_load(0.4, 0.0025, 1.2, False)
    assert auto.kept_share == 1.0
    assert on.kept_share < 0.5
    assert on.on_min == pytest.approx(60 / (4 * 3 * 0.6))
    assert on.off_min / (on.on_min + on.off_min) == pytest.approx(0.6)
    shares = [part_load(x, 0.0025, 1.2, True).kept_share for x in (0.1, 0.3, 0.5, 0.7, 0.9)]
    assert shares == sorted(shares), "the longer it runs, the more stays out"
    assert part_load(1.0, 0.0025, 1.2, True).net_kg_per_s == 0.0025


def test_samples_show_it_and_a_dry_pause_does_not() -> None:
    assert after_stops(CYCLES).mark == "off"
    dry = CYCLES.replace("21.0,78", "21.0,60")
    assert (after_stops(dry).mark, after_stops(dry).wet_stops) == ("holds", 0)
    fahrenheit = CYCLES.replace("supply temp", "supply temp (°F)").replace("return temp", "return temp (°F)")
    for celsius, other in (("13.0,", "55.4,"), ("21.0,", "69.8,"), ("23.0,", "73.4,"), (",24.0,", ",75.2,")):
        fahrenheit = fahrenheit.replace(celsius, other)
    assert after_stops(fahrenheit).share == pytest.approx(after_stops(CYCLES).share, rel=1e-6)
    assert after_stops(CYCLES, 85_000.0).share == pytest.approx(after_stops(CYCLES).share, rel=0.1)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "No column"),
        ("time,supply temp,supply rh,return temp,return rh", "no line under"),
        (CYCLES.replace(",92", ",192"), "can't be air"),
        (CYCLES.replace("13.0,92", "22.0,92").replace("21.0,78", "23.5,60"), "hardly swings"),
        ("\n".join(CYCLES.splitlines()[:14]), "three stops"),
        ("\n".join([CYCLES.splitlines()[0], *CYCLES.splitlines()[:0:-1]]), "later than"),
        ("\n".join([CYCLES.splitlines()[0], *CYCLES.splitlines()[1::5]]), "two minutes"),
    ],
)
def test_samples_that_say_nothing_are_refused_with_a_sentence(text: str, says: str) -> None:
    with pytest.raises(Refused) as refused:
        after_stops(text)
    assert says in refused.value.sentence.say()


def test_sources_add_up_and_leave_the_rest() -> None:
    outdoor = AirState.from_rh(31.0, 0.7)
    found = sources(
        ROOM, outdoor, 0.004, outdoor_m3s=0.2, infiltration_m3s=0.05, occupants=8, wet_area_m2=6, process_kg_per_s=1e-4
    )
    parts = [value for name, value in vars(found).items() if name.startswith("from_")]
    assert sum(parts) == pytest.approx(found.brought_kg_per_s)
    assert found.brought_kg_per_s + found.unexplained_kg_per_s == pytest.approx(0.004)
    assert found.from_outdoor_kg_per_s == pytest.approx(4 * found.from_leaks_kg_per_s)
    winter = sources(ROOM, AirState.from_rh(2.0, 0.8), 0.0, outdoor_m3s=0.2)
    assert winter.from_outdoor_kg_per_s < 0, "dry outdoor air dries"
    assert sources(ROOM, outdoor, 0.0, wet_area_m2=10, water_c=2.0).from_wet_kg_per_s == 0.0


REFUSED: list[tuple[str, dict[str, Any], str]] = [
    ("moisture.coil", {"fan_w": -1.0}, "fan_w"),
    ("moisture.coil", {"fan_w": 9e4}, "fan_w"),
    ("moisture.coil", {"airflow_m3s": 0.0}, "airflow_m3s"),
    ("moisture.bucket", {"condensate_kg": -0.1}, "condensate_kg"),
    ("moisture.bucket", {"minutes": 0.0}, "minutes"),
    ("moisture.reheat", {"wanted_c": 5.0}, "wanted_c"),
    ("moisture.reheat", {"rejected_w": 0.0}, "rejected_w"),
    ("moisture.bypass", {"bypass_share": 1.0}, "bypass_share"),
    ("moisture.bypass", {"supply_c": 26.0}, "supply_c"),
    ("moisture.bypass", {"leaving_rh": 0.2}, "leaving_rh"),
    ("moisture.bypass_share", {"leaving_dry_bulb_c": 21.0}, "leaving_dry_bulb_c"),
    ("moisture.bypass_share", {"supply_c": 40.0}, "supply_c"),
    ("moisture.choose", {"room_sensible_w": -1.0}, "room_sensible_w"),
    ("moisture.choose", {"room_sensible_w": 9e4}, "room_sensible_w"),
    ("moisture.choose", {"room_water_kg_per_s": 0.1}, "room_water_kg_per_s"),
    ("moisture.choose", {"cop": 0.5}, "cop"),
    ("moisture.choose", {"least_air": 0.2}, "least_air"),
    ("moisture.part_load", {"run_share": 0.0}, "run_share"),
    ("moisture.part_load", {"water_kg_per_s": 0.0}, "water_kg_per_s"),
    ("moisture.sources", {"duct_leak_m3s": 0.1}, "around"),
    ("moisture.sources", {"occupants": -1.0}, "occupants"),
]


@pytest.mark.parametrize(("name", "other", "path"), REFUSED)
def test_bad_input_is_refused_at_its_field(name: str, other: dict[str, Any], path: str) -> None:
    from tests.core.test_calculation import EXAMPLES

    with pytest.raises(Refused) as refused:
        run(name, {**EXAMPLES[name], **other})
    assert refused.value.path == path


@pytest.mark.parametrize(
    ("kind", "body", "path"),
    [
        ("condensate", {"condensate_kg": 300.0, "minutes": 10.0}, "body.condensate_kg"),
        ("condensate", {"condensate_kg": 1.0, "minutes": 10.0, "plus_minus_kg": 0.0}, "body.plus_minus_kg"),
        ("moisture_aim", {"wanted_c": 4.0, "wanted_rh": 0.5}, "body.wanted_c"),
        ("moisture_aim", {"wanted_c": 24.0, "wanted_rh": 1.0}, "body.wanted_rh"),
        ("moisture_aim", {"wanted_c": 24.0, "wanted_rh": 0.5, "most_bypass": 0.9}, "body.most_bypass"),
        ("moisture_aim", {"wanted_c": 24.0, "wanted_rh": 0.5, "room_m3": 1.0}, "body.room_m3"),
        ("moisture_aim", {"wanted_c": 24.0, "wanted_rh": 0.5, "drift_ratio": 0.5}, "body.drift_ratio"),
        ("water_sources", {"infiltration_m3s": -1.0}, "body.infiltration_m3s"),
        ("water_sources", {"building_pa": 500.0}, "body.building_pa"),
    ],
)
def test_bad_entries_are_refused_at_their_field(kind: str, body: dict[str, Any], path: str) -> None:
    with pytest.raises(Refused) as refused:
        read_entry(entry(kind, body))
    assert refused.value.path == path

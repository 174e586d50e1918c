"""The model behind the simulated probes: what each scenario does, at every station of every kind of system."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from itertools import pairwise

import pytest

from fentro_core.air.state import AirState
from fentro_core.instruments.quantities import READABLE
from fentro_core.system.branch import Branch
from fentro_core.system.dwelling_ventilator import VentilatorNameplate
from fentro_core.system.gas_furnace import FurnaceNameplate
from fentro_core.system.heat_pump import HeatPumpNameplate
from fentro_core.system.kinds import air_path
from fentro_core.system.packaged_rooftop import RooftopNameplate
from fentro_standins.probes.physics import BUILDS, SCENARIOS, AirSystem, chance_of
from fentro_standins.probes.rack import KINDS, PROBES, Rack

START = datetime(2026, 7, 1, 10, tzinfo=UTC)
PLATES = {
    "packaged_rooftop": RooftopNameplate(economizer=True),
    "furnace_with_coil": FurnaceNameplate(branches=(Branch("North"),)),
    "split_heat_pump": HeatPumpNameplate(night_cooling=True),
    "dwelling_ventilator": VentilatorNameplate(heat_recovery=True),
}


def after(minutes: float, kind: str = "furnace_with_coil", scenario: str = "ordinary", **given: float) -> AirSystem:
    system = AirSystem(kind, SCENARIOS[scenario], 4, **given)
    system.run(True)
    for _ in range(int(minutes * 60)):
        system.step(1.0)
    return system


@pytest.mark.parametrize("scenario", list(SCENARIOS))
@pytest.mark.parametrize("kind", list(BUILDS))
def test_every_station_can_be_read_and_shows_what_is_possible(kind: str, scenario: str) -> None:
    system = after(3, kind, scenario)
    for station in air_path(kind, PLATES[kind]).stations:
        for quantity in station.quantities:
            value = system.truth(quantity, station.id, 1)
            if value is None:
                assert quantity in ("wet_bulb", "dew_point", "static_pressure"), (station.id, quantity)
                continue
            low, high = READABLE[quantity].possible
            assert low <= value <= high, (station.id, quantity, value)


@pytest.mark.parametrize("kind", list(BUILDS))
def test_every_static_tap_has_a_pressure(kind: str) -> None:
    system = after(2, kind)
    taps = [station.id for station in air_path(kind, PLATES[kind]).stations if station.kind == "static"]
    assert taps
    for tap in taps:
        pressure = system.truth("static_pressure", tap, 1)
        assert pressure is not None
        before_fan = any(word in tap for word in ("return", "filter", "outdoor", "extract"))
        assert (pressure < 0) == (before_fan or (tap == "coil_out_static" and kind != "furnace_with_coil"))


def test_a_system_at_rest_has_room_air_and_no_pressure() -> None:
    still = AirSystem("furnace_with_coil", SCENARIOS["ordinary"], 1)
    still.step(60.0)
    assert still.truth("static_pressure", "supply_static", 1) == pytest.approx(0.0)
    assert still.truth("dry_bulb", "supply", 1) == pytest.approx(still.room_c, abs=0.2)
    assert still.truth("airflow", "return", 1) == 0.0


def test_the_air_gets_colder_and_drier_over_the_coil() -> None:
    system = after(25)
    dry, wet = (system.truth(quantity, "return", 1) for quantity in ("dry_bulb", "relative_humidity"))
    cold, damp = (system.truth(quantity, "supply", 1) for quantity in ("dry_bulb", "relative_humidity"))
    assert dry
    assert wet
    assert cold
    assert damp
    assert dry - cold > 10
    assert AirState.from_rh(cold, damp).humidity_ratio < AirState.from_rh(dry, wet).humidity_ratio


def test_heating_warms_without_drying() -> None:
    system = after(25, scenario="heating")
    warm, room = system.truth("dry_bulb", "supply", 1), system.truth("dry_bulb", "return", 1)
    assert warm
    assert room
    assert 20 < warm - room < 45
    assert system._after_coil()[1] == pytest.approx(system._mixed()[1])


def test_a_clogged_filter_takes_flow_and_raises_its_own_drop() -> None:
    clean, clogged = after(20), after(20, scenario="clogged_filter")
    assert clogged.flow_m3s < 0.7 * clean.flow_m3s
    drop = [abs((system.truth("static_pressure", "filter_static", 1) or 0) / (system.flow_m3s**2)) for system in (clean, clogged)]
    assert drop[1] > 1.4 * drop[0]
    assert (clogged.truth("dry_bulb", "supply", 1) or 0) < (clean.truth("dry_bulb", "supply", 1) or 0)


def test_a_leaky_return_is_warmer_at_the_plenum_than_at_the_grille() -> None:
    tight, leaky = after(20), after(20, scenario="leaky_return")
    for system, apart in ((tight, False), (leaky, True)):
        points = [system.truth("dry_bulb", "return", point) or 0 for point in range(1, 9)]
        grille = system.truth("dry_bulb", "room", 1) or 0
        assert (sum(points) / 8 - grille > 1.0) is apart


def test_a_drifting_room_never_rests() -> None:
    early, late = after(10, scenario="drifting"), after(40, scenario="drifting")
    assert late.room_c - early.room_c > 3


def test_cycling_lets_the_supply_rise_and_fall() -> None:
    system = AirSystem("furnace_with_coil", SCENARIOS["cycling"], 1)
    system.run(True)
    course = []
    for _ in range(1800):
        system.step(1.0)
        course.append(system.truth("dry_bulb", "supply", 1) or 0)
    assert min(course[300:420]) + 4 < max(course[480:620]), "off after six minutes"
    assert min(course[840:1000]) + 4 < max(course[480:620]), "on again after ten"


def test_a_site_up_high_is_told_so() -> None:
    sea, high = after(25), after(25, pressure_pa=83_000.0)
    assert (high.truth("dry_bulb", "supply", 1) or 0) < (sea.truth("dry_bulb", "supply", 1) or 0), "less mass, colder air"


def test_chance_depends_on_its_words_alone() -> None:
    assert chance_of(1, "a").random() == chance_of(1, "a").random()
    assert chance_of(1, "a").random() != chance_of(2, "a").random()


# the rack


def test_a_system_that_ran_before_is_caught_up_with() -> None:
    rack = Rack(START)
    rack.place("unit", "furnace_with_coil", START - timedelta(minutes=25), {"TH-2042": {"station": "supply"}})
    frame = rack.advance(1.0)[0]
    assert frame["values"]["TH-2042"]["dry_bulb"] < 15
    late = Rack(START)
    late.place("unit", "furnace_with_coil", None, {"TH-2042": {"station": "supply"}})
    assert late.advance(1.0)[0]["values"]["TH-2042"]["dry_bulb"] > 20


def test_probes_go_back_to_the_hand_when_they_are_taken_down() -> None:
    rack = Rack(START)
    rack.place("unit", "furnace_with_coil", START, {"TH-2041": {"station": "return"}, "TH-2042": {"station": "supply"}})
    rack.place("other", "split_heat_pump", START, {"TH-1807": {"station": "supply", "point": 3}})
    rack.place("unit", "furnace_with_coil", START, {"TH-2041": {"station": "return"}})
    hung = {serial: (probe.system, probe.station, probe.point) for serial, probe in rack.probes.items() if probe.station}
    assert hung == {"TH-2041": ("unit", "return", 1), "TH-1807": ("other", "supply", 3)}


def test_another_scene_begins_again_with_the_probes_where_they_hang() -> None:
    rack = Rack(START, seed=1)
    rack.place("unit", "furnace_with_coil", START, {"TH-2042": {"station": "supply"}})
    rack.advance(30)
    offsets = {serial: probe.offsets for serial, probe in rack.probes.items()}
    rack.set_scene(START + timedelta(hours=1), "heating", 2, 30)
    assert rack.probes["TH-2042"].station == "supply"
    assert rack.frames.maxlen
    assert len(rack.frames) == 0
    assert {serial: probe.offsets for serial, probe in rack.probes.items()} != offsets, "another seed, other offsets"


def test_a_probe_lags_behind_what_it_is_put_into() -> None:
    rack = Rack(START)
    rack.advance(5)
    rack.place("unit", "furnace_with_coil", START - timedelta(minutes=30), {"TH-2042": {"station": "supply"}})
    shown = [frame["values"]["TH-2042"]["dry_bulb"] for frame in rack.advance(120)]
    assert shown[0] > shown[-1] + 5
    steps = [abs(later - earlier) for earlier, later in pairwise(shown[10:])]
    assert max(steps) < 2.0


def test_every_probe_reads_what_its_kind_says() -> None:
    rack = Rack(START)
    frame = rack.advance(1.0)[0]
    for serial, _, kind in PROBES:
        assert set(frame["values"].get(serial, {})) <= set(KINDS[kind])
    assert set(READABLE) >= {quantity for channels in KINDS.values() for quantity in channels}


def test_speed_and_time_never_leave_their_bounds() -> None:
    assert Rack(START, speed=1e9).speed == 240
    assert Rack(START, speed=0.0).speed == 0.1
    rack = Rack(START, speed=240)
    frames = rack.advance(2.0)
    assert len(frames) <= 61
    assert datetime.fromisoformat(frames[-1]["at"]) <= START + timedelta(seconds=480)

"""Zones: every combination, both schools, wiring and hardware, timetables; against figures worked out elsewhere and at the edges."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime
from itertools import pairwise
from typing import Any

import pytest

from fentro_core.base.refusal import Refused
from fentro_core.ducts.blower import AirMover, Blower
from fentro_core.ducts.solve import Network
from fentro_core.system.ducts import DuctTree, RoomBranch, Trunk
from fentro_core.system.zones import Zone, ZoneHardware
from fentro_core.zoning.bypass import bypass_course, bypass_mixing
from fentro_core.zoning.combinations import Combination, Limits, every_combination
from fentro_core.zoning.entries import Slot, ZoneOverride, ZoneTimetable, _check_override, _check_timetable
from fentro_core.zoning.hardware import hardware_sheet
from fentro_core.zoning.options import Air, flow_at, options, turned_down
from fentro_core.zoning.timetable import wanted_at
from fentro_core.zoning.wiring import OHM_PER_M, gauge_for, transformer, wire_drop
from fentro_standins.ducts.house import House
from tests.core.test_ducts import MOVER, worked

PLENTY = Limits(400.0, 0.05)
LEFT = Zone(id="l", name="Left", rooms=("a", "b"))
RIGHT = Zone(id="r", name="Right", rooms=("c", "d"))
AIR = Air(12.5, 24.0, 5.0)


def combined(*zones: Zone, limits: Limits = PLENTY) -> dict[tuple[str, ...], Combination]:
    found = every_combination(Network(worked(), 1.204), MOVER, zones, limits)
    return {each.calling: each for each in found}


# combinations


def test_all_calling_is_the_tree_as_it_stands() -> None:
    found = combined(LEFT, RIGHT)
    assert set(found) == {("l",), ("r",), ("l", "r")}
    both = found["l", "r"]
    assert both.flows == pytest.approx({"a": 0.1351, "b": 0.1175, "c": 0.1107, "d": 0.0865}, rel=0.02)


def test_one_calling_alone_gets_more_and_what_is_shut_leaks_a_little() -> None:
    alone, both = combined(LEFT, RIGHT)["l",], combined(LEFT, RIGHT)["l", "r"]
    assert alone.flows["a"] > both.flows["a"]
    assert 0 < alone.flows["c"] < 0.06 * both.flows["c"] * 2
    assert alone.external_pa > both.external_pa
    assert alone.total_m3s < both.total_m3s


def test_a_quiet_room_is_heard_at_less() -> None:
    def loudest(quiet: bool) -> Combination:
        tree = worked()
        tree = replace(tree, branches=tuple(replace(each, face_area_m2=0.02, quiet=quiet) for each in tree.branches))
        return next(
            each for each in every_combination(Network(tree, 1.204), MOVER, (LEFT, RIGHT), PLENTY) if each.calling == ("l", "r")
        )

    ordinary, quiet = loudest(False), loudest(True)
    assert quiet.flows == ordinary.flows
    assert quiet.badness == pytest.approx(1.4 * ordinary.badness)
    assert (ordinary.loudest_limit, quiet.loudest_limit) == (3.5, 2.5)


def test_what_dampers_were_found_to_do_counts() -> None:
    tree = worked()
    turned = replace(tree, branches=tuple(replace(each, damper="blade", damper_deg=40.0) for each in tree.branches))
    plain = every_combination(Network(turned, 1.204), MOVER, (LEFT, RIGHT), PLENTY)
    tight = every_combination(Network(turned, 1.204, None, 0.0, {"a": 3.0}), MOVER, (LEFT, RIGHT), PLENTY)
    both = {each.calling: each.flows for each in plain}["l", "r"]
    assert {each.calling: each.flows for each in tight}["l", "r"]["a"] < both["a"]


def test_the_worst_stands_first() -> None:
    found = every_combination(Network(worked(), 1.204), MOVER, (LEFT, RIGHT), Limits(150.0, 0.4))
    assert [each.badness for each in found] == sorted((each.badness for each in found), reverse=True)
    assert found[0].calling == ("r",), "the smaller one alone"
    assert found[0].coil_share is not None
    assert found[0].coil_share < found[-1].coil_share if found[-1].coil_share else False


def test_more_zones_calling_never_takes_air_from_the_blower() -> None:
    zones = [Zone(id=each, name=each, rooms=(each,)) for each in "abcd"]
    found = combined(*zones)
    for calling, each in found.items():
        for more in found:
            if set(calling) < set(more):
                assert found[more].total_m3s > each.total_m3s - 1e-6
    assert len(found) == 15


def test_inflated_dampers_shut_tight_and_a_kept_opening_lets_through() -> None:
    tight = combined(LEFT, replace(RIGHT, damper="inflatable"))["l",]
    assert tight.flows["c"] == 0.0
    plain, kept = combined(LEFT, RIGHT)["l",], combined(LEFT, replace(RIGHT, least_open=0.3))["l",]
    assert kept.flows["c"] > 3 * plain.flows["c"]
    assert kept.external_pa < plain.external_pa


def test_a_dump_zone_is_always_open() -> None:
    assert combined(LEFT, replace(RIGHT, dump=True))["l",].flows["c"] == pytest.approx(0.1107, rel=0.02)


def test_the_network_is_left_as_it_was() -> None:
    network = Network(worked(30.0), 1.204)
    before = network.solve(MOVER).flow("c")
    every_combination(network, MOVER, (LEFT, RIGHT), PLENTY)
    assert network.solve(MOVER).flow("c") == pytest.approx(before, rel=1e-5)


@pytest.mark.parametrize("zone", [Zone(id="x", name="Empty"), Zone(id="x", name="Gone", rooms=("nobody",))])
def test_a_zone_that_can_not_be_is_said(zone: Zone) -> None:
    with pytest.raises(Refused, match=zone.name):
        combined(LEFT, zone)


def test_thirty_branches_and_six_zones_have_sixty_three_rows() -> None:
    house = House(3, 30)
    zones = [
        Zone(id=str(k), name=str(k), rooms=tuple(each.id for at, each in enumerate(house.drawn.branches) if at % 6 == k))
        for k in range(6)
    ]
    assert len(every_combination(Network(house.drawn, 1.2), house.mover_drawn, zones, PLENTY)) == 63


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"id": ""}, "id"),
        ({"name": " "}, "name"),
        ({"rooms": ("a", "a")}, "rooms"),
        ({"least_open": 0.6}, "least_open"),
        ({"least_open": 0.2, "damper": "inflatable"}, "least_open"),
        ({"cable_m": 0.0}, "cable_m"),
        ({"damper_va": 500.0}, "damper_va"),
    ],
)
def test_what_no_zone_is_is_refused(change: dict[str, Any], path: str) -> None:
    with pytest.raises(Refused) as refused:
        replace(LEFT, **change).check()
    assert refused.value.path == path


def test_a_room_is_in_one_zone_alone() -> None:
    tree = worked().with_zone(LEFT).with_zone(RIGHT).with_zone(replace(RIGHT, rooms=("b", "c", "d")))
    assert {zone.id: zone.rooms for zone in tree.zones} == {"l": ("a",), "r": ("b", "c", "d")}
    assert tree.without("b").zones[1].rooms == ("c", "d"), "a branch taken out leaves its zone"
    assert [zone.id for zone in tree.without_zone("l").zones] == ["r"]


def test_few_calling_are_a_part_of_all() -> None:
    zones = [Zone(id=each, name=each, rooms=(each,)) for each in "abcd"]
    few = every_combination(Network(worked(), 1.204), MOVER, zones, PLENTY, most_calling=2)
    every = combined(*zones)
    assert len(few) == 10
    assert all(each.badness == pytest.approx(every[each.calling].badness, rel=1e-3) for each in few)


# bypass


def test_the_mixed_return_as_worked_out_elsewhere() -> None:
    found = bypass_mixing(0.50, 0.22, 12.5, 24.0)
    assert found.bypass_m3s == pytest.approx(0.28)
    assert found.mixed_return_c == pytest.approx(17.56, abs=0.005)
    assert found.bypass_m3s / (3.14159 / 4 * found.bypass_diameter_m**2) == pytest.approx(5.0, rel=1e-3)
    with pytest.raises(Refused, match="needs no bypass"):
        bypass_mixing(0.2, 0.3, 12.5, 24.0)


def test_air_that_goes_round_gets_colder_by_the_minute_until_the_limit() -> None:
    course = bypass_course(0.56, 12.5, 24.0, 7.0)
    assert course.minutes[0].mixed_return_c == pytest.approx(17.56)
    assert all(later.supply_c < earlier.supply_c for earlier, later in pairwise(course.minutes))
    assert course.minutes_to_limit == 4.0
    assert 0.1 < course.capacity_lost < 0.4
    none = bypass_course(0.0, 12.5, 24.0, 7.0)
    assert (none.supply_end_c, none.capacity_lost, none.minutes_to_limit) == (12.5, 0.0, None)


def test_in_heating_it_gets_hotter_and_loses_no_capacity() -> None:
    course = bypass_course(0.4, 45.0, 20.0, 60.0)
    assert course.supply_end_c > 45.0
    assert course.minutes_to_limit is not None
    assert course.capacity_lost == 0.0


# both schools


def measures(limits: Limits, *zones: Zone, costs: dict[str, float] | None = None) -> dict[str, Any]:
    tree = replace(worked(), zones=zones or (LEFT, RIGHT))
    found = options(tree, 1.204, {}, 0.0, MOVER, limits, AIR, costs)
    return {each.key: each for each in found} | {"first": found[0]}


def test_where_all_is_within_limits_nothing_is_added() -> None:
    wide = AirMover(Blower(held_m3s=0.12), 110.0, 0.5)
    tree = replace(worked(), zones=(LEFT, RIGHT))
    assert options(tree, 1.204, {}, 0.0, wide, Limits(400.0, 0.1))[0].key == "as_is"


def test_each_measure_is_milder_than_none() -> None:
    found = measures(Limits(150.0, 0.2))
    for key in ("least_open", "merge", "dump", "turn_down"):
        assert found[key].badness < found["as_is"].badness, key
    assert found["merge"].names == ("Right", "Left")
    assert found["bypass"].mixed.bypass_m3s > 0


def test_a_bypass_is_never_a_way_below_the_supply_limit() -> None:
    found = measures(Limits(150.0, 0.2))
    assert found["bypass"].course.minutes_to_limit is not None
    assert not found["bypass"].fine
    assert found["first"].key != "bypass"


def test_costs_rank_what_is_within_limits() -> None:
    wide = AirMover(Blower(held_m3s=0.12), 110.0, 0.5)
    tree = replace(worked(), zones=(LEFT, RIGHT))
    costs = {"as_is": 100.0, "merge": 20.0, "dump": 50.0}
    ranked = [each for each in options(tree, 1.204, {}, 0.0, wide, Limits(400.0, 0.05), None, costs) if each.fine]
    assert [each.cost or 0.0 for each in ranked] == sorted(each.cost or 0.0 for each in ranked)


def test_a_slower_blower_follows_the_fan_laws() -> None:
    slow = turned_down(MOVER, 0.5)
    assert slow.blower.points[0] == pytest.approx((0.1, 75.0))
    assert flow_at(MOVER, 180.0, 1.204) == pytest.approx(0.46, abs=1e-3)


# wiring, hardware


def test_transformer_and_wire_as_worked_out_elsewhere() -> None:
    assert transformer(5, 6.5, 4.0, 2, 2.0) == pytest.approx(48.6)
    assert wire_drop(40.0, 30.0, "18", 24.0) == pytest.approx(2.09, abs=0.005)
    assert transformer(0, 0.0, 0.0) == 0.0
    with pytest.raises(Refused):
        transformer(-1, 6.5, 4.0)
    with pytest.raises(Refused):
        wire_drop(40.0, 30.0, "18", 0.0)


def test_a_longer_run_takes_a_thicker_wire_until_none_does() -> None:
    assert [gauge_for(26.0, length) for length in (10.0, 60.0, 90.0, 300.0)] == ["18", "16", "14", None]
    assert list(OHM_PER_M.values()) == sorted(OHM_PER_M.values(), reverse=True)


def sheet(*zones: Zone, **given: Any) -> Any:
    tree = replace(worked(), zones=zones)
    return hardware_sheet(tree, ZoneHardware(**given), {"a": 3.0, "b": 3.0, "c": 8.0, "d": 8.0})


def test_the_sheet_counts_what_moves_together() -> None:
    found = sheet(replace(LEFT, damper_va=6.5), replace(RIGHT, damper_va=6.5, wireless=True), rated_va=40.0, board_va=4.0)
    assert found.transformer.value == pytest.approx(1.2 * (4 * 6.5 + 4.0 + 2.0))
    assert (found.transformer_mark, sheet(LEFT, rated_va=75.0).transformer_mark) == ("holds", "holds")
    assert sheet(LEFT, RIGHT, rated_va=20.0).transformer_mark == "off"
    assert [terminal.number for terminal in found.terminals] == list(range(1, len(found.terminals) + 1))
    assert [terminal.what for terminal in found.terminals if terminal.what.startswith("Control")] == ["Control point: Left"]
    assert "battery" in found.controls[1].checks[-1]


def test_tubes_have_ports_lengths_and_labels() -> None:
    found = sheet(LEFT, replace(RIGHT, damper="inflatable"), ports=3)
    assert [(port.port, port.zone, port.tube.value) for port in found.ports] == [(1, "Right", 10.0), (2, "Right", 10.0)]
    assert found.free_ports == 1
    assert [wire.zone for wire in found.wires] == ["Left"], "tubes have no wire"
    assert any("Inflated is shut" in note.text for note in found.notes)
    assert any("one more is needed" in note.text for note in sheet(replace(RIGHT, damper="inflatable"), ports=1).notes)


def test_rooms_in_no_zone_are_named() -> None:
    assert any("In no zone, always open: Room c; Room d." in note.text for note in sheet(LEFT).notes)


def test_a_chain_has_four_dampers_at_most() -> None:
    rooms = tuple(RoomBranch(id=str(n), after="t", room=str(n), diameter_m=0.15, length_m=4.0) for n in range(9))
    trunk = Trunk(id="t", diameter_m=0.4, length_m=3.0)
    tree = DuctTree((trunk,), rooms, (Zone(id="z", name="All", rooms=tuple(each.id for each in rooms)),))
    assert hardware_sheet(tree, ZoneHardware(), {}).wires[0].chains == 3


# timetables

WEEK = ZoneTimetable("z", (Slot(360, 24.0, 20.0), Slot(1200, 28.0, 16.0)))


def test_an_override_ends_by_itself() -> None:
    over = ZoneOverride("z", "2026-11-24T18:00:00+00:00", 22.0)
    before, after = datetime(2026, 11, 24, 17, 59, tzinfo=UTC), datetime(2026, 11, 24, 18, 0, tzinfo=UTC)
    assert wanted_at(WEEK, (over,), before).cooling_setpoint_c == 22.0
    assert wanted_at(WEEK, (over,), before).heating_setpoint_c == 16.0, "by the week, where it says nothing"
    assert wanted_at(WEEK, (over,), after).cooling_setpoint_c == 28.0
    assert wanted_at(WEEK, (over,), after).until == ""
    assert wanted_at(None, (), after).cooling_setpoint_c is None


def test_monday_morning_goes_on_with_sunday_night() -> None:
    assert wanted_at(WEEK, (), datetime(2026, 11, 23, 5, 59, tzinfo=UTC)).cooling_setpoint_c == 28.0
    assert wanted_at(WEEK, (), datetime(2026, 11, 23, 6, 0, tzinfo=UTC)).cooling_setpoint_c == 24.0


@pytest.mark.parametrize(
    ("slots", "path"),
    [
        ((), "slots"),
        ((Slot(10_080),), "slots.0.from_min"),
        ((Slot(300), Slot(300)), "slots.1.from_min"),
        ((Slot(0, 20.0, 21.0),), "slots.0.heating_setpoint_c"),
        ((Slot(0, 60.0),), "slots.0.cooling_setpoint_c"),
    ],
)
def test_a_week_that_can_not_be_is_refused(slots: tuple[Slot, ...], path: str) -> None:
    with pytest.raises(Refused) as refused:
        _check_timetable(ZoneTimetable("z", slots))
    assert refused.value.path == path


@pytest.mark.parametrize("until", ["soon", "2026-11-24T18:00:00", ""])
def test_an_override_says_until_when(until: str) -> None:
    with pytest.raises(Refused) as refused:
        _check_override(ZoneOverride("z", until, 22.0))
    assert refused.value.path == "until"

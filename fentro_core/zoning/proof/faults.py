"""What may be wrong with a zoned system, where, and what each fault would show in every test."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from itertools import combinations
from typing import Literal

from fentro_core.system.ducts import DuctTree
from fentro_core.system.zones import Zone
from fentro_core.zoning.proof.plan import rests
from fentro_core.zoning.proof.step import ZoneTest

State = Literal["open", "least", "shut", "between", "anywhere"]

INDICATORS_MAY = ("moving", "follows", "unseen")
"""What a zone's indicator makes of a damper that does not do as the others: waits for it, follows it alone, never sees it."""

MOST_IN_A_SUBSET = 6
"""Of a zone with more rooms, only those after a break in the order of the plan are weighed as left behind together."""


@dataclass(frozen=True)
class ZoneFault:
    """A kind of fault: its name, with {at} where it is; what to do, and who may."""

    key: str
    name: str
    do: str
    who: str = "technician"


FAULTS: Mapping[str, ZoneFault] = {
    fault.key: fault
    for fault in (
        ZoneFault(
            "control_swapped",
            "Control points swapped: {at}",
            "Board's power off, change the two control points' wires over, or pair them again. Then repeat both tests.",
        ),
        ZoneFault(
            "dampers_swapped",
            "Dampers wired to each other's terminals: {at}",
            "Board's power off, change the two zones' damper wires at the board. Then repeat each zone alone.",
        ),
        ZoneFault(
            "stuck_open",
            "Damper does not shut: {at}",
            "Power off. Is its wire or tube on? Move linkage and blade by hand. Free it, or renew the actuator.",
        ),
        ZoneFault(
            "stuck_shut",
            "Damper does not open: {at}",
            "Power off. Is its wire or tube on? Move linkage and blade by hand. Free it, or renew the actuator.",
        ),
        ZoneFault(
            "zone_reversed",
            "All dampers of a zone turn the wrong way: {at}",
            "Power off, change open and shut over at the zone's terminals, or turn the direction switches.",
        ),
        ZoneFault(
            "damper_reversed",
            "Damper turns the wrong way: {at}",
            "Power off, loosen the coupling, turn the blade to where its actuator says it is; or turn its direction switch.",
        ),
        ZoneFault(
            "chain_broken",
            "Several dampers of a zone do not move: {at}",
            "Power off. Their chain is broken before the first of them, or off at the board: follow it from there.",
        ),
        ZoneFault(
            "bypass_shut",
            "Bypass stuck shut",
            "Move its blade by hand: free the axle, see that the weight swings. Without it the static rises when few call.",
        ),
        ZoneFault(
            "bypass_open",
            "Bypass stuck open",
            "Move its blade by hand: free the axle, set the weight further out. Air goes round and capacity is lost.",
        ),
        ZoneFault(
            "indicator_lies",
            "Indicator does not show what the dampers do: {at}",
            "The dampers are right: look at the end switch and its wires, or at the lamp. Until then nobody can trust the board.",
        ),
        ZoneFault(
            "ports_swapped",
            "Two tubes on each other's ports: {at}",
            "Change the two tubes at the manifold, and their labels. Then repeat both zones alone.",
        ),
        ZoneFault(
            "overloaded",
            "Transformer overloaded",
            "Add up what moves together on the hardware sheet. A larger transformer with its own fuse, or a relay with its own.",
            "licensed electrician, where local code asks for one",
        ),
        ZoneFault(
            "radio_lost",
            "Control point has no signal: {at}",
            "Try its signal with all doors shut, from 1 m first. Put it elsewhere, or set up a repeater.",
        ),
        ZoneFault(
            "battery_flat",
            "Control point's battery is flat: {at}",
            "Renew the battery and write the date on it and on the sheet.",
        ),
        ZoneFault(
            "leak",
            "Bladder or tube leaks: {at}",
            "Hold it again with its tube pinched at the bladder: if it holds then, the bladder leaks, else the tube or its port.",
        ),
        ZoneFault(
            "pump",
            "Pump does not hold the manifold",
            "All bladders lose their pressure: look at the pump, its valve, and the manifold's main tube.",
        ),
    )
}


@dataclass(frozen=True)
class Wrong:
    """One fault at one place: rooms or zones by id; "": nothing is wrong. `variant`: in which of its ways it shows."""

    key: str = ""
    at: tuple[str, ...] = ()
    variant: str = ""


@dataclass(frozen=True)
class Shown:
    """What a test would show if this were so. `rooms`: states of dampers; `indicators`, `called`: by zone."""

    rooms: Mapping[str, State]
    indicators: Mapping[str, str]
    called: tuple[str, ...]
    control: str
    lever: str
    static_high: bool
    volts_low: bool
    leaks: frozenset[str] | None


def places(tree: DuctTree, bypass: bool) -> Iterator[Wrong]:
    """Every fault at every place where it may be, each in all its ways."""
    zones = [zone for zone in tree.zones if zone.rooms]
    zone_of = {room: zone for zone in zones for room in zone.rooms}
    for one, other in combinations(zones, 2):
        yield Wrong("control_swapped", (one.id, other.id))
        if one.damper == other.damper == "inflatable" and len(one.rooms) == len(other.rooms) == 1:
            continue  # Two tubes on each other's ports are the same there.
        for variant in ("with_indicators", "alone"):
            yield Wrong("dampers_swapped", (one.id, other.id), variant)
    for room, zone in zone_of.items():
        for variant in INDICATORS_MAY:
            yield Wrong("stuck_open", (room,), variant)
            yield Wrong("stuck_shut", (room,), variant)
            if zone.damper != "inflatable":
                yield Wrong("damper_reversed", (room,), variant)
    for zone in zones:
        yield from _of_zone(zone)
    if bypass:
        yield Wrong("bypass_shut")
        yield Wrong("bypass_open")
    for count in sorted({_moving(tree, (zone.id,)) for zone in zones} | {_moving(tree, [zone.id for zone in zones])}):
        if count > 0:
            yield Wrong("overloaded", variant=str(count))
            yield Wrong("overloaded", variant=f"{count} stays")
    tubes = [(zone.id, room) for zone in zones if zone.damper == "inflatable" for room in zone.rooms]
    for (its, room), (their, other_room) in combinations(tubes, 2):
        if its != their:
            yield Wrong("ports_swapped", (room, other_room))
    for _, room in tubes:
        for how in ("slow", "empty"):
            for light in ("moving", "unseen"):
                yield Wrong("leak", (room,), f"{how} {light}")
    if tubes:
        yield Wrong("pump", variant="moving")
        yield Wrong("pump", variant="unseen")


def _of_zone(zone: Zone) -> Iterator[Wrong]:
    if zone.damper != "inflatable":
        if len(zone.rooms) > 1:
            for variant in ("follows", "unseen"):
                yield Wrong("zone_reversed", (zone.id,), variant)
        for subset in _left_behind(zone.rooms):
            for state in ("open", "shut"):
                for variant in INDICATORS_MAY:
                    yield Wrong("chain_broken", subset, f"{state} {variant}")
    for variant in ("open", "shut", "opposite"):
        yield Wrong("indicator_lies", (zone.id,), variant)
    yield Wrong("radio_lost", (zone.id,))
    if zone.wireless:
        for variant in ("shown", "silent"):
            yield Wrong("battery_flat", (zone.id,), variant)


def _left_behind(rooms: tuple[str, ...]) -> Iterator[tuple[str, ...]]:
    if len(rooms) > MOST_IN_A_SUBSET:
        for first in range(len(rooms) - 1):
            yield rooms[first:]
        return
    for count in range(2, len(rooms) + 1):
        yield from combinations(rooms, count)


def _moving(tree: DuctTree, calling: object) -> int:
    """Dampers that draw current when these zones are called."""
    assert isinstance(calling, tuple | list)
    return sum(len(zone.rooms) for zone in tree.zones if zone.id in calling and zone.damper != "inflatable" and not zone.dump)


def shown(tree: DuctTree, test: ZoneTest, wrong: Wrong) -> Shown:
    """What this test shows with this one thing wrong."""
    calling = set(test.calling)
    commands = {zone.id: zone.id in calling for zone in tree.zones}
    by_id = {zone.id: zone for zone in tree.zones}
    rooms: dict[str, State] = {branch.id: "open" for branch in tree.branches}
    indicators = {zone.id: "open" if commands[zone.id] or zone.dump else "shut" for zone in tree.zones if zone.rooms}
    if test.rooms:
        for room, (own, driver) in _drives(tree, wrong).items():
            rooms[room] = "open" if commands[driver] else rests(by_id[own])
        _move_wrongly(tree, test, wrong, rooms, indicators, commands)
    zone = test.zone
    silent = wrong.key in ("radio_lost", "battery_flat") and wrong.at == (zone,)
    called: tuple[str, ...] = () if silent else (zone,)
    if wrong.key == "control_swapped" and zone in wrong.at:
        called = tuple(each for each in wrong.at if each != zone)
    control = "answers"
    if silent:
        control = "battery" if wrong.variant == "shown" else "no_signal"
    return Shown(
        rooms,
        indicators,
        called,
        control,
        _lever(test, wrong),
        wrong.key == "bypass_shut" and test.kind == "bypass",
        _overloads(tree, test, wrong),
        _leaks(tree, wrong),
    )


def _drives(tree: DuctTree, wrong: Wrong) -> dict[str, tuple[str, str]]:
    """By room: the zone it belongs to, and the one that moves it."""
    owner = {room: zone.id for zone in tree.zones for room in zone.rooms}
    driver = dict(owner)
    if wrong.key == "dampers_swapped":
        one, other = wrong.at
        swap = {one: other, other: one}
        driver = {room: swap.get(zone, zone) for room, zone in owner.items()}
    elif wrong.key == "ports_swapped":
        one, other = wrong.at
        driver[one], driver[other] = owner[other], owner[one]
    return {room: (owner[room], driver[room]) for room in owner}


def _move_wrongly(
    tree: DuctTree,
    test: ZoneTest,
    wrong: Wrong,
    rooms: dict[str, State],
    indicators: dict[str, str],
    commands: Mapping[str, bool],
) -> None:
    """Change rooms and indicators to what the fault makes of them."""
    owner = {room: zone for zone in tree.zones for room in zone.rooms}
    match wrong.key:
        case "stuck_open" | "stuck_shut" | "chain_broken":
            state: State = "shut" if wrong.key == "stuck_shut" or wrong.variant.startswith("shut") else "open"
            moved = any(rooms[room] != state for room in wrong.at)
            rooms.update(dict.fromkeys(wrong.at, state))
            if moved:
                _indicate(indicators, owner[wrong.at[0]].id, wrong.variant, state)
        case "damper_reversed" | "zone_reversed":
            turned = wrong.at if wrong.key == "damper_reversed" else next(z.rooms for z in tree.zones if z.id == wrong.at[0])
            for room in turned:
                rooms[room] = "shut" if rooms[room] == "open" else "open"
            zone = owner[turned[0]].id
            _indicate(indicators, zone, wrong.variant, "shut" if commands[zone] else "open")
        case "dampers_swapped" if wrong.variant == "alone":
            one, other = wrong.at
            indicators[one], indicators[other] = indicators[other], indicators[one]
        case "indicator_lies":
            zone = wrong.at[0]
            opposite = "shut" if indicators[zone] == "open" else "open"
            indicators[zone] = opposite if wrong.variant == "opposite" else wrong.variant
        case "overloaded" if wrong.variant.endswith("stays") or _overloads(tree, test, wrong):
            for each in tree.zones:
                if each.damper != "inflatable" and not each.dump and each.rooms:
                    indicators[each.id] = "anything"
                    rooms.update(dict.fromkeys(each.rooms, "anywhere"))
        case "leak":
            if rooms[wrong.at[0]] == "shut":
                rooms[wrong.at[0]] = "open" if wrong.variant.startswith("empty") else "between"
                _indicate(indicators, owner[wrong.at[0]].id, wrong.variant, "open")
        case "pump":
            for each in tree.zones:
                falling = [room for room in each.rooms if rooms[room] == "shut"] if each.damper == "inflatable" else []
                if falling:
                    rooms.update(dict.fromkeys(falling, "between"))
                    _indicate(indicators, each.id, wrong.variant, "open")


def _indicate(indicators: dict[str, str], zone: str, variant: str, state: str) -> None:
    """What the zone's indicator shows while dampers of it do not do as they should."""
    if variant.endswith("moving"):
        indicators[zone] = "moving"
    elif variant.endswith("follows"):
        indicators[zone] = state


def _overloads(tree: DuctTree, test: ZoneTest, wrong: Wrong) -> bool:
    return wrong.key == "overloaded" and _moving(tree, test.calling) >= int(wrong.variant.split()[0])


def _lever(test: ZoneTest, wrong: Wrong) -> str:
    if wrong.key == "bypass_shut":
        return "shut"
    if wrong.key == "bypass_open":
        return "open"
    return "shut" if test.kind == "all" else "part"


def _leaks(tree: DuctTree, wrong: Wrong) -> frozenset[str]:
    if wrong.key == "leak":
        return frozenset(wrong.at)
    if wrong.key == "pump":
        return frozenset(room for zone in tree.zones if zone.damper == "inflatable" for room in zone.rooms)
    return frozenset()

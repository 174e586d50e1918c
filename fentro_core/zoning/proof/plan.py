"""The tests of a zoning plan, in order: control points, each zone alone, all together, the bypass, the bladders."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from fentro_core.base.sentence import Sentence
from fentro_core.system.ducts import DuctTree
from fentro_core.system.zones import Zone
from fentro_core.zoning.combinations import Combination
from fentro_core.zoning.proof.step import Due, ZoneTest

FAINT_M_PER_S = 0.7
"""Slower than this at the register's face, a hand may miss the air. Ours."""

USUAL_FACE = 2.0
"""Free face of a register over the area of its duct, where nobody noted it. Ours, from ordinary boots."""

TRAVEL_S = 150.0
"""Longest travel of an ordinary zone damper; watch no sooner."""


@dataclass(frozen=True)
class Proof:
    """What the tests need to know besides the tree: is there a bypass, what moves by wire, the transformer's nominal voltage."""

    bypass: bool = False
    supply_v: float = 24.0


def rests(zone: Zone) -> Due:
    """How a zone's dampers stand while it does not call."""
    if zone.dump:
        return "open"
    return "least" if zone.least_open > 0 and zone.damper != "inflatable" else "shut"


def due(tree: DuctTree, calling: Sequence[str]) -> dict[str, Due]:
    """Of every branch, while these zones call; a room in no zone is always open."""
    found: dict[str, Due] = {branch.id: "open" for branch in tree.branches}
    for zone in tree.zones:
        if zone.id not in calling:
            found.update({room: rests(zone) for room in zone.rooms if room in found})
    return found


def smallest(tree: DuctTree, combinations: Sequence[Combination]) -> str:
    """The zone that takes the least air alone: by the model, or by its number of rooms where there is none."""
    alone = {each.calling[0]: each for each in combinations if len(each.calling) == 1}

    def takes(zone: Zone) -> float:
        found = alone.get(zone.id)
        return sum(found.flows.get(room, 0.0) for room in zone.rooms) if found else float(len(zone.rooms))

    return min((zone for zone in tree.zones if zone.rooms), key=takes).id if any(zone.rooms for zone in tree.zones) else ""


def plan(tree: DuctTree, given: Proof, combinations: Sequence[Combination] = ()) -> tuple[ZoneTest, ...]:
    """Every test of these zones.

    Parameters
    ----------
    tree : DuctTree
        With at least one zone that has rooms; without one there is nothing to prove.
    given : Proof
    combinations : sequence of Combination, optional
        As worked out: they say where little air is due.
    """
    zones = [zone for zone in tree.zones if zone.rooms]
    faces = {branch.id: branch.face_area_m2 or USUAL_FACE * branch.area_m2 for branch in tree.branches}
    known = {frozenset(each.calling): each for each in combinations}
    return tuple(_tests(tree, zones, given, smallest(tree, combinations), faces, known)) if zones else ()


def _tests(
    tree: DuctTree,
    zones: list[Zone],
    given: Proof,
    least: str,
    faces: Mapping[str, float],
    known: Mapping[frozenset[str], Combination],
) -> Iterator[ZoneTest]:
    def faint(calling: Sequence[str], rooms: Mapping[str, Due]) -> frozenset[str]:
        found = known.get(frozenset(calling))
        if found is None:
            return frozenset()
        return frozenset(
            room for room, state in rooms.items() if state == "open" and found.flows.get(room, 0.0) < FAINT_M_PER_S * faces[room]
        )

    travel = (TRAVEL_S, "duration")
    for zone in zones:
        words = "{name}: set its control point so that it calls. Which zone calls? No signal: look at its battery. Set it back."
        yield ZoneTest(
            f"control:{zone.id}",
            "control",
            f"{zone.name}: its control point",
            Sentence.of(words.replace("{name}", zone.name)),
            zone.id,
            (zone.id,),
            asks=("called", "control"),
        )
    heaviest = max(zones, key=lambda zone: 0 if zone.damper == "inflatable" else len(zone.rooms))
    for zone in zones:
        rooms = due(tree, (zone.id,))
        small = zone.id == least
        loads = zone is heaviest and zone.damper != "inflatable"
        words = "Call {name} alone and wait {travel}. Then hold a hand to every register."
        yield ZoneTest(
            f"alone:{zone.id}",
            "alone",
            f"{zone.name} alone",
            Sentence.of(words.replace("{name}", zone.name), travel=travel),
            zone.id,
            (zone.id,),
            rooms,
            faint((zone.id,), rooms),
            ("air", "indicators", *(("static_pa", "noise") if small else ()), *(("volts",) if loads else ())),
        )
    every = tuple(zone.id for zone in zones)
    rooms = due(tree, every)
    if len(zones) > 1:
        yield ZoneTest(
            "all",
            "all",
            "All zones together",
            Sentence.of(
                "Call all zones at once. Read the transformer while the dampers move, then wait {travel}.", travel=travel
            ),
            calling=every,
            rooms=rooms,
            faint=faint(every, rooms),
            asks=("air", "indicators", "volts", *(("bypass",) if given.bypass else ())),
        )
    if given.bypass:
        name = next(zone.name for zone in zones if zone.id == least)
        words = (
            "Call {name} alone, the smallest. Move the bypass's weight until the static is within its limit, and no further. "
            "Write down static and noise."
        )
        yield ZoneTest(
            "bypass",
            "bypass",
            "Bypass at the smallest zone",
            Sentence.of(words.replace("{name}", name)),
            least,
            (least,),
            asks=("bypass", "static_pa", "noise", "supply_c"),
        )
    for zone in zones:
        if zone.damper == "inflatable":
            words = "{name}: inflate each port alone, shut its valve, and read its pressure after a minute. Does it hold?"
            yield ZoneTest(
                f"hold:{zone.id}",
                "hold",
                f"{zone.name}: do its bladders hold?",
                Sentence.of(words.replace("{name}", zone.name)),
                zone.id,
                asks=("held",),
            )

"""Simulated zone boards by name, and where a fault of a preset sits."""

from __future__ import annotations

from dataclasses import replace
from random import Random

from fentro_core.ducts.blower import AirMover, Blower
from fentro_core.ducts.solve import Network
from fentro_core.system.ducts import DuctTree
from fentro_core.system.zones import Zone, ZoneDamper
from fentro_standins.ducts.house import CURVE, House
from fentro_standins.zones.board import FAULTS, Hidden, SimulatedBoard

BOARDS = ("ZB-1", "ZB-2")
AIM_M_PER_S = 3.0


def ordinary_house() -> DuctTree:
    """A house with three zones, for a board that nobody has told of its ducts yet."""
    drawn = House(1, 9).drawn
    rooms = [branch.id for branch in drawn.branches]
    kinds: tuple[ZoneDamper, ...] = ("power", "spring", "inflatable")
    zones = tuple(
        Zone(id=f"zone-{at + 1}", name=f"Zone {at + 1}", rooms=tuple(rooms[at::3]), damper=damper)
        for at, damper in enumerate(kinds)
    )
    return replace(drawn, zones=zones)


def ordinary_mover(tree: DuctTree) -> AirMover:
    """A blower that moves about 3 m/s through the branches of this tree."""
    aimed = AIM_M_PER_S * sum(branch.area_m2 for branch in tree.branches)
    scale = aimed / CURVE[2][1]
    mover = AirMover(Blower(tuple(sorted((flow * scale, head) for head, flow in CURVE))), 90.0, aimed)
    found = Network(tree, 1.18).solve(mover).total_m3s
    again = scale * min(max(aimed / found, 0.5), 2.0)
    return AirMover(Blower(tuple(sorted((flow * again, head) for head, flow in CURVE))), 90.0, aimed)


def places(tree: DuctTree, key: str, seed: int) -> tuple[str, ...] | None:
    """Where a fault sits in these ducts; None where they can't have it."""
    random = Random(seed)
    zones = [zone for zone in tree.zones if zone.rooms and not zone.dump]
    wired = [zone for zone in zones if zone.damper != "inflatable"]
    tubes = [zone for zone in zones if zone.damper == "inflatable"]

    def room(of: list[Zone]) -> tuple[str, ...] | None:
        rooms = [each for zone in of for each in zone.rooms]
        return (random.choice(rooms),) if rooms else None

    def zone(of: list[Zone]) -> tuple[str, ...] | None:
        return (random.choice(of).id,) if of else None

    match key:
        case "" | "bypass_shut" | "bypass_open":
            return ()
        case "control_swapped" | "dampers_swapped":
            return tuple(each.id for each in random.sample(zones, 2)) if len(zones) > 1 else None
        case "stuck_open" | "stuck_shut":
            return room(zones)
        case "damper_reversed":
            return room(wired)
        case "zone_reversed" | "chain_broken":
            return zone([each for each in wired if len(each.rooms) > 1])
        case "indicator_lies" | "radio_lost":
            return zone(zones)
        case "battery_flat":
            return zone([each for each in zones if each.wireless])
        case "overloaded":
            return () if wired else None
        case "pump":
            return () if tubes else None
        case "leak":
            return room(tubes)
        case "ports_swapped":
            if len(tubes) < 2:
                return None
            one, other = random.sample(tubes, 2)
            return random.choice(one.rooms), random.choice(other.rooms)
    return None


def board_of(tree: DuctTree, preset: str = "", seed: int = 7, *, bypass: bool = False) -> SimulatedBoard | None:
    """A board with these ducts behind it; None where they can't have this fault."""
    at = places(tree, preset, seed) if preset in FAULTS else None
    if at is None:
        return None
    return SimulatedBoard(tree, ordinary_mover(tree), seed, Hidden(preset, at), bypass or preset.startswith("bypass"))

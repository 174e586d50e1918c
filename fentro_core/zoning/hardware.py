"""The hardware of a zoning plan as one sheet: terminals, transformer, wires, manifold ports, where control points hang."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.system.ducts import DuctTree, RoomBranch
from fentro_core.system.zones import Zone, ZoneHardware
from fentro_core.zoning.wiring import DROP_SHARE, SPARE_SHARE, gauge_for, transformer, wire_drop

DAMPER_VA = 6.5
BOARD_VA = 4.0
CONTROL_VA = 2.0
"""Ordinary loads where nobody noted them [VA]. Ours."""

CABLE_M = 20.0
MOST_ON_A_CHAIN = 4
"""Dampers on one pair of terminals: more, and the board's own relay or the wire gives out before the transformer."""

POWER_FAIL = {
    "power": "stays where it is",
    "spring": "opens by its spring",
    "inflatable": "lets its air go and opens",
}

PLACEMENT = (
    "On an inner wall, 1.5 m above the floor",
    "Out of the sun, away from lamps and screens",
    "Away from registers, doors, kitchens, pipes in the wall",
    "Hole in the wall behind it closed",
)


@dataclass(frozen=True)
class Terminal:
    """One pair of terminals of the board, and what goes there."""

    number: int
    what: str
    wire: str


@dataclass(frozen=True)
class Port:
    """One port of the manifold: its damper, how long its tube is, its label."""

    port: int
    room: str
    zone: str
    tube: Quantity
    label: str


@dataclass(frozen=True)
class ZoneWire:
    """The wire of a zone's dampers: gauge, voltage lost at the far end."""

    zone: str
    dampers: int
    chains: int
    gauge: str
    drop: Quantity
    on_power_fail: str
    mark: Mark


@dataclass(frozen=True)
class ControlPlace:
    """A control point: where it hangs, what to look at there."""

    id: str
    zone: str
    where: str
    checks: tuple[str, ...]


@dataclass(frozen=True)
class HardwareSheet:
    """What an installer works from."""

    terminals: tuple[Terminal, ...]
    wires: tuple[ZoneWire, ...]
    transformer: Quantity
    rated: Quantity | None
    transformer_mark: Mark
    transformer_words: Sentence
    ports: tuple[Port, ...] = ()
    free_ports: int | None = None
    notes: tuple[Sentence, ...] = ()
    controls: tuple[ControlPlace, ...] = ()


def hardware_sheet(tree: DuctTree, given: ZoneHardware, distances_m: Mapping[str, float]) -> HardwareSheet:
    """The sheet of a zoning plan; `distances_m`: along the ducts to each branch, for tubes."""
    rooms = {branch.id: branch for branch in tree.branches}
    wired = [zone for zone in tree.zones if zone.damper != "inflatable"]
    board, control = given.board_va or BOARD_VA, given.control_va or CONTROL_VA
    need = sum((zone.damper_va or DAMPER_VA) * len(zone.rooms) for zone in wired)
    fed = sum(1 for zone in tree.zones if not zone.wireless)
    whole = transformer(1, min(need, 200.0), min(board, 200.0), fed, control) + max(need - 200.0, 0.0) * (1 + SPARE_SHARE)
    enough = given.rated_va is None or given.rated_va >= whole
    mark: Mark = "not_measured" if given.rated_va is None else "holds" if enough else "off"
    ports = tuple(_ports(tree, rooms, distances_m))
    return HardwareSheet(
        tuple(_terminals(tree.zones, given)),
        tuple(_wire(zone, given) for zone in wired),
        Quantity(whole, 0.0, "apparent_power"),
        None if given.rated_va is None else Quantity(given.rated_va, 0.0, "apparent_power"),
        mark,
        _transformer_words(whole, given.rated_va),
        ports,
        None if given.ports is None or not ports else given.ports - len(ports),
        tuple(_notes(tree, given, len(ports))),
        tuple(ControlPlace(zone.id, zone.name, zone.control, _checks(zone)) for zone in tree.zones),
    )


def _transformer_words(need: float, rated: float | None) -> Sentence:
    needs = (need, "apparent_power")
    if rated is None:
        return Sentence.of(
            "It must give {need}: all dampers that move together, board and control points, a fifth to spare.", need=needs
        )
    if rated >= need:
        return Sentence.of("{rated} is enough: {need} with a fifth to spare.", rated=(rated, "apparent_power"), need=needs)
    return Sentence.of("{rated} is too little: it must give {need}.", rated=(rated, "apparent_power"), need=needs)


def _terminals(zones: tuple[Zone, ...], given: ZoneHardware) -> Iterator[Terminal]:
    number = 0
    for zone in zones:
        if not zone.wireless:
            number += 1
            yield Terminal(number, f"Control point: {zone.name}", "18/5, twisted")
    for zone in zones:
        number += 1
        if zone.damper == "inflatable":
            yield Terminal(number, f"{zone.name}: manifold, {len(zone.rooms)} ports", "tubes")
        else:
            how = "power open, power shut" if zone.damper == "power" else "power one way, spring back"
            chains = -(-len(zone.rooms) // MOST_ON_A_CHAIN)
            more = f", {chains} chains" if chains > 1 else ""
            yield Terminal(number, f"{zone.name}: {len(zone.rooms)} dampers, {how}{more}", _gauge_words(zone, given))
    for what in ("Equipment: heating, cooling, fan", "Supply and return air sensors", "Transformer, with its own fuse"):
        number += 1
        yield Terminal(number, what, "18/8" if what.startswith("Equip") else "18/2")


def _gauge_words(zone: Zone, given: ZoneHardware) -> str:
    gauge = gauge_for(_chain_va(zone), zone.cable_m or CABLE_M, given.supply_v)
    cores = 3 if zone.damper == "power" else 2
    return f"{gauge}/{cores}" if gauge else "too long: a relay and transformer near the dampers"


def _chain_va(zone: Zone) -> float:
    return min((zone.damper_va or DAMPER_VA) * min(len(zone.rooms), MOST_ON_A_CHAIN), 200.0)


def _wire(zone: Zone, given: ZoneHardware) -> ZoneWire:
    length = zone.cable_m or CABLE_M
    gauge = gauge_for(_chain_va(zone), length, given.supply_v)
    drop = wire_drop(_chain_va(zone), length, gauge or "14", given.supply_v)
    mark: Mark = "holds" if gauge and drop <= DROP_SHARE * given.supply_v else "off"
    chains = -(-len(zone.rooms) // MOST_ON_A_CHAIN)
    return ZoneWire(
        zone.name, len(zone.rooms), chains, gauge or "", Quantity(drop, 0.0, "voltage"), POWER_FAIL[zone.damper], mark
    )


def _ports(tree: DuctTree, rooms: Mapping[str, RoomBranch], distances_m: Mapping[str, float]) -> Iterator[Port]:
    port = 0
    for at, zone in enumerate(tree.zones, 1):
        if zone.damper != "inflatable":
            continue
        for room in zone.rooms:
            branch = rooms.get(room)
            if branch is None:
                continue
            port += 1
            tube = distances_m.get(room, 0.0) + 2.0
            yield Port(port, branch.called, zone.name, Quantity(tube, 0.0, "length"), f"{at}-{port} {branch.room}")


def _notes(tree: DuctTree, given: ZoneHardware, ports: int) -> Iterator[Sentence]:
    if ports:
        yield Sentence.of("Inflated is shut. Without power every bladder lets its air go, and all rooms are open.")
        yield Sentence.of("Pull tubes with the registers stopped and the blower on: the air draws the line to the plenum.")
        yield Sentence.of("Holding test: inflate one port, shut its valve, and see its pressure after a minute. Then the next.")
        if given.ports is not None and given.ports < ports:
            yield Sentence.of(f"The manifold has {given.ports} ports for {ports} dampers: one more is needed.")
    if any(zone.wireless for zone in tree.zones):
        yield Sentence.of("Wireless control points: note signal and battery date at each, with a photo.")
    loose = [branch.called for branch in tree.branches if not any(branch.id in zone.rooms for zone in tree.zones)]
    if loose:
        yield Sentence.of(f"In no zone, always open: {'; '.join(loose)}.")


def _checks(zone: Zone) -> tuple[str, ...]:
    return (*PLACEMENT, "Signal tried with all doors shut; battery date noted") if zone.wireless else PLACEMENT

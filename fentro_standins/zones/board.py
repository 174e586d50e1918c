"""A simulated zone board: dampers that take their time, indicators, control points with radio and battery, a manifold with its
pump, a bypass, a transformer. Answers the core's `ZoneBoard` protocol. Same seed, same calls, same answers.

What is behind it is drawn by other rules than those the core weighs: blades that leak, ducts that are not as drawn, an order of
the chain that no plan shows, voltage that falls with every damper that moves.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from random import Random
from typing import Any

from fentro_core.base.device import DeviceGone, DeviceRefused
from fentro_core.ducts.blower import AirMover
from fentro_core.ducts.solve import Network
from fentro_core.system.ducts import DuctTree, RoomBranch
from fentro_core.system.zones import Zone

BYPASS = "bypass"
BLADDER_S = 25.0
SPRING_S = 20.0
DAMPER_VA = 6.5
STEP_S = 1.0
FAULTS: Mapping[str, str] = {
    "": "Nothing wrong",
    "control_swapped": "Two control points swapped",
    "dampers_swapped": "Two zones' dampers swapped",
    "stuck_open": "One damper stuck open",
    "stuck_shut": "One damper stuck shut",
    "zone_reversed": "A zone turns the wrong way",
    "damper_reversed": "One damper turns the wrong way",
    "chain_broken": "A chain broken",
    "bypass_shut": "Bypass stuck shut",
    "bypass_open": "Bypass stuck open",
    "indicator_lies": "An indicator lies",
    "ports_swapped": "Two ports swapped",
    "overloaded": "Transformer overloaded",
    "radio_lost": "A control point without signal",
    "battery_flat": "A flat battery",
    "leak": "A bladder leaks",
    "pump": "The pump is weak",
}


@dataclass(frozen=True)
class Hidden:
    """What is wrong and where: zones by id, rooms by id."""

    key: str = ""
    at: tuple[str, ...] = ()


@dataclass
class SimulatedBoard:
    """The board with all that is behind it. Zones are numbered from 1 in the order of the tree.

    Attributes
    ----------
    tree, mover
        As drawn.
    seed
        Of everything that is not as drawn, and of what is wrong in its details.
    hidden
        What is wrong.
    has_bypass, set_pa
        A bypass, and the plenum pressure at which its weight lets it open [Pa].
    """

    tree: DuctTree
    mover: AirMover
    seed: int = 0
    hidden: Hidden = Hidden()
    has_bypass: bool = False
    set_pa: float = 120.0
    supply_v: float = 24.0
    time_s: float = 0.0
    gone: bool = False
    held: dict[int, bool] = field(default_factory=dict)
    wanted: dict[str, bool] = field(default_factory=dict)
    """By zone: what its control point asks for."""

    def __post_init__(self) -> None:
        random = self._random = Random(self.seed)
        self.zones = [zone for zone in self.tree.zones if zone.rooms]
        self._zone_of = {room: zone for zone in self.zones for room in zone.rooms}
        if self.has_bypass:
            self.tree = self._with_bypass()
        self._factors = {piece.id: random.lognormvariate(0.0, 0.25) for piece in self.tree.pieces}
        self._blades = {room: random.lognormvariate(0.0, 0.4) for room in self._zone_of}
        self._travel = {room: self._stroke(zone, random) for room, zone in self._zone_of.items()}
        self.position = {room: 1.0 for room in self._zone_of}
        self._chains = {zone.id: random.sample(zone.rooms, len(zone.rooms)) for zone in self.zones}
        self._dead = self._left_behind(random)
        self._dead_at = random.choice((0.0, 1.0, 1.0))
        self._lamp_sees_all = random.random() < 0.5
        self._lamps_follow_wires = random.random() < 0.6
        self._lie = random.choice(("open", "shut", "opposite"))
        self._battery_shows = random.random() < 0.7
        self._needs = {room: random.uniform(0.7, 0.9) for room in self._zone_of}
        self._va_base = random.uniform(5.0, 9.0)
        self._rating_va = self._rating(random)
        self._manifold_pa = 1.0

    def _with_bypass(self) -> DuctTree:
        duct = RoomBranch(
            id=BYPASS, room="Bypass", diameter_m=0.3, length_m=2.0, damper="blade", damper_deg=90.0, register_open=1.0
        )
        return self.tree.with_(duct)

    def _stroke(self, zone: Zone, random: Random) -> float:
        if zone.damper == "inflatable":
            return BLADDER_S * random.uniform(0.6, 1.4)
        return random.uniform(40.0, 110.0)

    def _left_behind(self, random: Random) -> set[str]:
        if self.hidden.key != "chain_broken":
            return set()
        chain = self._chains[self.hidden.at[0]]
        return set(chain[random.randint(0, max(len(chain) - 2, 0)) :])

    def _rating(self, random: Random) -> float:
        """What the transformer gives [VA]: enough, or too little for all that may move together."""
        moving = sum(zone.damper_va or DAMPER_VA for zone in self.zones if zone.damper != "inflatable" for _ in zone.rooms)
        if self.hidden.key == "overloaded":
            return self._va_base + moving * random.uniform(0.35, 0.7)
        return self._va_base + moving * random.uniform(1.1, 1.6)

    # The protocol.

    def points(self) -> Mapping[str, Any]:
        """What the board shows now."""
        self._answers()
        zones = [
            {
                "zone": number,
                "calls": self._calls(zone),
                "indicator": self._indicator(zone),
                "control": self._control(zone),
                "room_c": None if self._silent(zone) else 22.0,
                "held": number in self.held,
            }
            for number, zone in enumerate(self.zones, 1)
        ]
        supply = 13.0 if any(self._calls(zone) for zone in self.zones) else 22.0
        return {
            "time_s": round(self.time_s, 1),
            "zones": zones,
            "fan": True,
            "supply_c": supply,
            "volts": round(self.volts, 1),
        }

    def call(self, zone: int, calls: bool) -> None:
        """Hold a zone: called, or not."""
        self._answers()
        self._known(zone)
        self.held[zone] = calls

    def release(self, zone: int) -> None:
        """Let it go."""
        self._answers()
        self._known(zone)
        self.held.pop(zone, None)

    def _answers(self) -> None:
        if self.gone:
            raise DeviceGone

    def _known(self, zone: int) -> None:
        if not 1 <= zone <= len(self.zones):
            raise DeviceRefused(f"This board has zones 1 to {len(self.zones)}.")

    # What happens behind it.

    def advance(self, seconds: float) -> None:
        """Let time pass."""
        left = seconds
        while left > 0:
            step = min(left, STEP_S)
            moving = self._moving()
            share = self.volts / self.supply_v
            for room, target in self._targets().items():
                self._move(room, target, step, room in moving and share < self._needs[room])
            self.time_s += step
            left -= step

    def settle(self) -> None:
        """Until every damper stands."""
        self.advance(150.0)

    def ask(self, zone_id: str, calls: bool) -> None:
        """Somebody sets a zone's control point."""
        self.wanted[zone_id] = calls

    @property
    def volts(self) -> float:
        """At the transformer [V]: it falls with what moves, steeply once it is overloaded."""
        load = self._va_base + sum(self._zone_of[room].damper_va or DAMPER_VA for room in self._moving())
        share = load / self._rating_va
        return self.supply_v * (1.08 - 0.08 * share - (0.35 * (share - 1.0) if share > 1 else 0.0))

    def _moving(self) -> set[str]:
        targets = self._targets()
        return {
            room
            for room, target in targets.items()
            if self._zone_of[room].damper != "inflatable" and abs(self.position[room] - target) > 0.02
        }

    def _move(self, room: str, target: float, step: float, weak: bool) -> None:
        if weak:
            return
        most = step / self._travel[room]
        if self._zone_of[room].damper == "spring" and target < self.position[room]:
            most = step / SPRING_S
        change = target - self.position[room]
        self.position[room] += max(min(change, most), -most)

    def _calls(self, zone: Zone) -> bool:
        number = self.zones.index(zone) + 1
        if number in self.held:
            return self.held[number]
        at = self.hidden.at
        if self.hidden.key == "control_swapped" and zone.id in at:
            other = at[1] if zone.id == at[0] else at[0]
            return self.wanted.get(other, False)
        return self.wanted.get(zone.id, False) and not self._silent(zone)

    def _silent(self, zone: Zone) -> bool:
        return self.hidden.key in ("radio_lost", "battery_flat") and zone.id in self.hidden.at

    def _control(self, zone: Zone) -> str:
        if not self._silent(zone):
            return "answers"
        return "battery" if self.hidden.key == "battery_flat" and self._battery_shows else "no_signal"

    def _rest(self, zone: Zone) -> float:
        if zone.dump:
            return 1.0
        return 0.0 if zone.damper == "inflatable" else zone.least_open

    def _targets(self) -> dict[str, float]:
        """Where every damper is driven: by room, 1 open, 0 shut."""
        key, at = self.hidden.key, self.hidden.at
        targets = {}
        for room, zone in self._zone_of.items():
            driver = zone
            if key == "dampers_swapped" and zone.id in at:
                driver = next(each for each in self.zones if each.id in at and each.id != zone.id)
            if key == "ports_swapped" and room in at:
                driver = self._zone_of[at[1] if room == at[0] else at[0]]
            target = 1.0 if self._calls(driver) else self._rest(zone)
            if (key == "zone_reversed" and zone.id in at) or (key == "damper_reversed" and room in at):
                target = 1.0 - target
            if key == "pump" and zone.damper == "inflatable" and target < 1:
                target = 0.35
            if key == "leak" and room in at and target < 1:
                target = 0.3
            targets[room] = target
        if key in ("stuck_open", "stuck_shut"):
            targets[at[0]] = 1.0 if key == "stuck_open" else 0.0
            self.position[at[0]] = targets[at[0]]
        for room in self._dead:
            targets[room] = self.position[room] = self._dead_at
        return targets

    def _indicator(self, zone: Zone) -> str:
        """By end switches: of one damper of the zone, or of all in series."""
        key, at = self.hidden.key, self.hidden.at
        looked = zone
        if key == "dampers_swapped" and zone.id in at and self._lamps_follow_wires:
            looked = next(each for each in self.zones if each.id in at and each.id != zone.id)
        opens = self._calls(zone) or zone.dump
        rooms = looked.rooms if self._lamp_sees_all else self._chains[looked.id][:1]
        # A blade that is mounted the wrong way stands wrong; its end switch does not know.
        goal = 1.0 if opens else self._rest(looked)
        if key == "ports_swapped":
            rooms = [room for room in rooms if room not in at] or list(rooms)
        mounted = key in ("damper_reversed", "zone_reversed") and not self._lamps_follow_wires
        stands = [1.0 - self.position[room] if mounted and self._turned(room) else self.position[room] for room in rooms]
        there = all(abs(each - goal) < 0.06 for each in stands)
        away = all(abs(each - (1.0 - goal)) < 0.06 for each in stands)
        said = ("open" if opens else "shut") if there else ("shut" if opens else "open") if away else "moving"
        if key == "indicator_lies" and zone.id in at:
            return {"open": "shut", "shut": "open"}.get(said, said) if self._lie == "opposite" else self._lie
        return said

    def _turned(self, room: str) -> bool:
        return room in self.hidden.at or self._zone_of[room].id in self.hidden.at

    # What a technician finds behind it.

    def flows(self) -> tuple[dict[str, float], float, float]:
        """Air at every register [m³/s], external static [Pa], how far the bypass is open: now."""
        network = Network(self.tree, 1.18, self._factors, 0.02)
        for room, zone in self._zone_of.items():
            resistance = network.resistance(room)
            resistance.handle = self._blades[room]
            stands = self.position[room]
            if zone.damper == "inflatable" and stands < 0.02:
                resistance.turn("inflatable", 90.0)
            else:
                resistance.turn("blade", 90.0 * (1.0 - stands))
        opened = 0.0
        found = network.solve(self.mover)
        if self.has_bypass:
            opened, found = self._bypass(network)
        return {branch.id: found.flow(branch.id) for branch in network.branches if branch.id != BYPASS}, found.blower_pa, opened

    def _bypass(self, network: Network) -> tuple[float, Any]:
        """Its weight lets it open until the plenum is at its set pressure."""
        stuck = {"bypass_shut": 0.0, "bypass_open": 0.8}.get(self.hidden.key)
        if stuck is not None:
            network.resistance(BYPASS).turn("blade", 90.0 * (1.0 - stuck))
            return stuck, network.solve(self.mover)
        low, high = 0.0, 1.0
        for _ in range(9):
            middle = (low + high) / 2
            network.resistance(BYPASS).turn("blade", 90.0 * (1.0 - middle))
            found = network.solve(self.mover)
            if found.plenum_pa > self.set_pa:
                low = middle
            else:
                high = middle
        opened = 0.0 if high < 0.01 else high
        network.resistance(BYPASS).turn("blade", 90.0 * (1.0 - opened))
        return opened, network.solve(self.mover)

    def holds(self, room: str) -> bool:
        """Whether a bladder, inflated alone and shut off, still has its pressure after a minute."""
        return not (self.hidden.key == "pump" or (self.hidden.key == "leak" and room in self.hidden.at))

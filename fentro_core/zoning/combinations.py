"""Every combination of calling zones: each register's air, what the blower works against, what the coil gets. The worst first."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations as subsets

from fentro_core.base.refusal import Refused
from fentro_core.ducts.blower import AirMover
from fentro_core.ducts.design import BRANCH_M_PER_S, FACE_M_PER_S, face_limit
from fentro_core.ducts.fittings import OPEN_DEG, SHUT_DEG
from fentro_core.ducts.solve import DuctFlows, Network
from fentro_core.system.zones import Zone

QUICK = 1e-5
"""Nobody reads a zone's air finer than this share of the whole."""


@dataclass(frozen=True)
class Limits:
    """What the unit may be asked: most external static [Pa], least flow over coil or heat exchanger [m³/s]; None: not known."""

    most_static_pa: float | None = None
    least_flow_m3s: float | None = None


@dataclass(frozen=True)
class Combination:
    """Zones that call together, and what comes of it.

    Attributes
    ----------
    calling
        Ids of the zones.
    total_m3s, external_pa, plenum_pa
        At the blower.
    flows
        By branch [m³/s]; of those that are shut, what leaks through.
    loudest, loudest_m_per_s, loudest_limit
        The branch in which the air is the farthest over its limit of speed, in it or at its register's face.
    coil_share
        Flow over the least that coil or heat exchanger needs; None where that is not known.
    beyond_table
        The blower works outside of its table.
    badness
        How far the worst of static, noise and coil is over its limit: above 1 is too much.
    """

    calling: tuple[str, ...]
    total_m3s: float
    external_pa: float
    plenum_pa: float
    flows: Mapping[str, float]
    loudest: str
    loudest_m_per_s: float
    loudest_limit: float
    coil_share: float | None
    beyond_table: bool
    badness: float


def every_combination(
    network: Network,
    mover: AirMover,
    zones: Sequence[Zone],
    limits: Limits,
    least_open: Mapping[str, float] | None = None,
    most_calling: int | None = None,
) -> tuple[Combination, ...]:
    """All of them, the worst first. The network is left with its dampers where they were.

    Parameters
    ----------
    network : Network
        The ducts with their balance as it stands.
    mover : AirMover
        Blower and return side.
    zones : sequence of Zone
        Each with at least one room.
    limits : Limits
        Of the unit.
    least_open : mapping, optional
        By zone: share of the stroke kept open, instead of what the zone says.
    most_calling : int, optional
        No more zones at once than these: the worst is where few call.

    Raises
    ------
    Refused
        A zone without a room; a room that is not in the tree.
    """
    for zone in zones:
        if not zone.rooms:
            raise Refused(f"{zone.name}: put a room into this zone.", f"zones.{zone.id}")
        if any(room not in network.places for room in zone.rooms):
            raise Refused(f"{zone.name}: one of its rooms is not in the tree any more.", f"zones.{zone.id}")
    dampers = _Dampers(network, zones, least_open or {})
    try:
        found = [
            _one(network, mover, zones, limits, dampers, calling)
            for count in range(1, min(most_calling or len(zones), len(zones)) + 1)
            for calling in subsets(range(len(zones)), count)
        ]
    finally:
        dampers.restore()
    return tuple(sorted(found, key=lambda each: (-each.badness, len(each.calling), each.calling)))


class _Dampers:
    """The zone dampers of all rooms: each in series with what is there for balancing, which stays as it is."""

    def __init__(self, network: Network, zones: Sequence[Zone], least_open: Mapping[str, float]) -> None:
        self.network, self.zones, self.least_open = network, zones, least_open
        places = {branch.id: branch for branch in network.branches}
        self._was = {room: (places[room].damper, places[room].damper_deg) for zone in zones for room in zone.rooms}

    def set(self, at: int, calls: bool) -> None:
        """A zone's dampers, open or as far shut as they go."""
        zone = self.zones[at]
        for room in zone.rooms:
            resistance = self.network.resistance(room)
            if calls or zone.dump:
                resistance.turn(*self._was[room])
            elif zone.damper == "inflatable":
                resistance.turn("inflatable", SHUT_DEG)
            else:
                kept = self.least_open.get(zone.id, zone.least_open)
                angle = SHUT_DEG - (SHUT_DEG - OPEN_DEG) * kept
                resistance.turn("blade", max(angle, self._was[room][1]))

    def restore(self) -> None:
        """As they were."""
        for room, was in self._was.items():
            self.network.resistance(room).turn(*was)


def _one(
    network: Network, mover: AirMover, zones: Sequence[Zone], limits: Limits, dampers: _Dampers, calling: tuple[int, ...]
) -> Combination:
    for at in range(len(zones)):
        dampers.set(at, at in calling)
    flows = network.solve(mover, QUICK)
    loudest, speed, limit = max(_speeds(network, flows), key=lambda each: each[1] / each[2], default=("", 0.0, FACE_M_PER_S))
    coil = flows.total_m3s / limits.least_flow_m3s if limits.least_flow_m3s else None
    static = flows.blower_pa / limits.most_static_pa if limits.most_static_pa and mover.blower.points else 0.0
    badness = max(speed / limit, static, 1.0 / coil if coil else 0.0)
    return Combination(
        tuple(zones[at].id for at in calling),
        flows.total_m3s,
        flows.blower_pa,
        flows.plenum_pa,
        {branch.id: flows.flow(branch.id) for branch in network.branches},
        loudest,
        speed,
        limit,
        coil,
        flows.beyond_table,
        badness,
    )


def _speeds(network: Network, flows: DuctFlows) -> Iterator[tuple[str, float, float]]:
    """Of every branch: its speed and limit, at the register's face where that is known, else in the duct."""
    for branch in network.branches:
        said = flows.pieces[branch.id]
        if branch.face_area_m2:
            yield branch.id, said.airflow_m3s / branch.face_area_m2, face_limit(branch)
        yield branch.id, said.velocity_m_per_s, BRANCH_M_PER_S

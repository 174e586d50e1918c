"""How the air divides: the flow of every branch, from the blower, the return side and all resistances of the tree."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from math import inf, sqrt

from fentro_core.air.constants import STANDARD_DENSITY
from fentro_core.base.refusal import Refused
from fentro_core.ducts.blower import AirMover
from fentro_core.ducts.loss import Losses, Resistance, check_fittings
from fentro_core.system.ducts import DuctTree, Piece, RoomBranch, Trunk

CLOSE_ENOUGH = 1e-7
MOST_ROUNDS = 60

LEAK_EXPONENT = 0.6
"""Flow through seams and holes goes with the pressure to this power (duct leakage tests)."""


@dataclass(frozen=True)
class PieceFlow:
    """A piece: its flow [m³/s], the pressure at its end or before its register [Pa], speed [m/s], and what it loses by cause."""

    id: str
    airflow_m3s: float
    pressure_pa: float
    velocity_m_per_s: float
    losses: Losses


@dataclass(frozen=True)
class DuctFlows:
    """The whole tree in balance: blower flow, pressure in the plenum and of the blower, air lost, every piece."""

    total_m3s: float
    plenum_pa: float
    blower_pa: float
    lost_m3s: float
    beyond_table: bool
    density: float
    pieces: Mapping[str, PieceFlow]

    def flow(self, piece_id: str) -> float:
        """Of one piece [m³/s]."""
        return self.pieces[piece_id].airflow_m3s


class Network:
    """A tree made ready to be solved many times, with other dampers, factors or blowers.

    Parameters
    ----------
    tree : DuctTree
        Without troubles that break it (`usable`).
    density : float
        Of the air in the ducts [kg/m³].
    factors : mapping, optional
        By piece: how many times as much it loses as drawn.
    handles : mapping, optional
        By branch: how many times as much its handle's setting loses as the table says.
    leak_at_25pa_m3s : float
        Flow lost to outside at 25 Pa in the plenum [m³/s].

    Raises
    ------
    Refused
        A ring, a trunk that is not there, no branch at all, a fitting that is not on the list.
    """

    def __init__(
        self,
        tree: DuctTree,
        density: float,
        factors: Mapping[str, float] | None = None,
        leak_at_25pa_m3s: float = 0.0,
        handles: Mapping[str, float] | None = None,
    ) -> None:
        self.tree, self.density = tree, density
        self.leak = leak_at_25pa_m3s
        known = factors or {}
        trunks = _in_order(tree.trunks)
        if not tree.branches:
            raise Refused("Note the branches first: there is nothing for the air to go to.", "tree")
        places = {trunk.id: at for at, trunk in enumerate(trunks)}
        self.pieces: tuple[Piece, ...] = (*trunks, *tree.branches)
        self.places = {piece.id: at for at, piece in enumerate(self.pieces)}
        self.first_branch = len(trunks)
        before = {trunk.id: trunk for trunk in trunks}
        self.after: list[int] = []
        self.resistances: list[Resistance] = []
        for piece in self.pieces:
            check_fittings(piece)
            if piece.after and piece.after not in places:
                raise Refused(f"{piece.called}: the trunk that it leaves is not in the tree.", "tree")
            self.after.append(places[piece.after] if piece.after else -1)
            resistance = Resistance(piece, before.get(piece.after), density, known.get(piece.id, 1.0))
            resistance.handle = (handles or {}).get(piece.id, 1.0)
            self.resistances.append(resistance)
        self._flows: list[float] = []

    @property
    def branches(self) -> tuple[RoomBranch, ...]:
        """Every branch, in the tree's order."""
        return self.tree.branches

    def resistance(self, piece_id: str) -> Resistance:
        """Of one piece, to be turned or changed."""
        return self.resistances[self.places[piece_id]]

    def solve(self, mover: AirMover, close_enough: float = CLOSE_ENOUGH) -> DuctFlows:
        """All flows and pressures.

        Resistances go with nearly the square of the flow: the tree is put together at the present friction, met with the blower,
        taken apart again, and the friction renewed, until nothing moves. It starts from where it stood last.
        """
        count, density = len(self.pieces), self.density
        flows = self._flows or self._start(mover)
        ratio = density / STANDARD_DENSITY
        before_plenum = mover.per_square * ratio
        plenum = total = lost = 0.0
        pressures = [0.0] * count
        for _ in range(MOST_ROUNDS):
            per_square = [each.per_square(abs(flow), density) for each, flow in zip(self.resistances, flows, strict=True)]
            through = [0.0] * count
            top = self._leak_conductance(plenum)
            for at in range(count - 1, -1, -1):
                onward = through[at] if at < self.first_branch else inf
                own = per_square[at]
                mine = 0.0
                if not self.resistances[at].shut and onward > 0.0:
                    mine = 1.0 / sqrt(own + (1.0 / (onward * onward) if onward != inf else 0.0))
                through[at] = mine
                if self.after[at] < 0:
                    top += mine
                else:
                    through[self.after[at]] += mine
            if top <= 0.0:
                raise Refused("Everything is shut: there is no way for the air.", "tree")
            supply = 1.0 / (top * top)
            total = _meet(mover, before_plenum + supply, density, total)
            plenum = supply * total * total
            moved, fresh = 0.0, [0.0] * count
            for at in range(count):
                above = plenum if self.after[at] < 0 else pressures[self.after[at]]
                flow = through[at] * sqrt(max(above, 0.0))
                fresh[at] = flow
                pressures[at] = above - per_square[at] * flow * flow
                moved = max(moved, abs(flow - flows[at]))
            lost = self._leak_conductance(plenum) * sqrt(max(plenum, 0.0))
            flows = fresh
            if moved <= close_enough * total:
                break
        self._flows = flows
        return self._said(mover, flows, pressures, total, plenum, lost, before_plenum)

    def _start(self, mover: AirMover) -> list[float]:
        share = (mover.blower.held_m3s or mover.blower.most_m3s * 0.7) / len(self.branches)
        flows = [share] * len(self.pieces)
        for at in range(self.first_branch):
            flows[at] = 0.0
        for at in range(len(self.pieces) - 1, -1, -1):
            if self.after[at] >= 0:
                flows[self.after[at]] += flows[at]
        return flows

    def _leak_conductance(self, plenum: float) -> float:
        """Of seams and holes, as ``V / sqrt(p)`` at the present pressure."""
        if not self.leak:
            return 0.0
        pressure = max(plenum, 1.0) if plenum else 25.0
        return self.leak * float((pressure / 25.0) ** LEAK_EXPONENT) / sqrt(pressure)

    def _said(
        self,
        mover: AirMover,
        flows: list[float],
        pressures: list[float],
        total: float,
        plenum: float,
        lost: float,
        before_plenum: float,
    ) -> DuctFlows:
        said = {}
        for at, piece in enumerate(self.pieces):
            resistance, flow = self.resistances[at], flows[at]
            above = plenum if self.after[at] < 0 else pressures[self.after[at]]
            losses = resistance.losses(flow, self.density)
            end = above if at >= self.first_branch else pressures[at]
            if at >= self.first_branch:
                end = above - (losses.total_pa - losses.register_pa)
            said[piece.id] = PieceFlow(piece.id, flow, end, flow / resistance.area_m2, losses)
        return DuctFlows(
            total, plenum, plenum + before_plenum * total * total, lost, mover.blower.beyond(total), self.density, said
        )


def _meet(mover: AirMover, per_square: float, density: float, near: float) -> float:
    """The flow at which the blower's pressure is what the whole system takes [m³/s]."""
    blower = mover.blower
    if not blower.points:
        return blower.held_m3s
    low, high = 0.0, blower.most_m3s

    def over(flow: float) -> float:
        return blower.pressure(flow, density) - per_square * flow * flow

    if near:
        for one, other in ((near * 0.98, near * 1.02),):
            if low < one and other < high and over(one) > 0.0 > over(other):
                low, high = one, other
    at_low, at_high = over(low), over(high)
    for _ in range(80):
        if high - low <= 1e-10 * high:
            break
        middle = (low * at_high - high * at_low) / (at_high - at_low)
        at_middle = over(middle)
        if at_middle > 0.0:
            low, at_low = middle, at_middle
            at_high *= 0.5
        else:
            high, at_high = middle, at_middle
            at_low *= 0.5
        if abs(at_middle) < 1e-9:
            return middle
    return (low + high) / 2.0


def _in_order(trunks: Iterable[Trunk]) -> list[Trunk]:
    """Trunks so that each comes after the one it leaves."""
    left = list(trunks)
    known = {trunk.id for trunk in left}
    done: list[Trunk] = []
    placed: set[str] = {""}
    while left:
        ready = [trunk for trunk in left if trunk.after in placed or trunk.after not in known]
        if not ready:
            raise Refused(f"{left[0].called}: the air would go round in a ring. Say which trunk it really leaves.", "tree")
        done += ready
        placed |= {trunk.id for trunk in ready}
        left = [trunk for trunk in left if trunk.id not in placed]
    return done

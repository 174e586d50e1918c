"""Proportional balancing: the branch with the least share of its design stays open, the others come down to it.

The plan names each handle in the order in which it is turned, its position as a mark, and what should be read after each.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

from fentro_core.base.refusal import Refused
from fentro_core.ducts.blower import AirMover
from fentro_core.ducts.design import BRANCH_M_PER_S, TRUNK_M_PER_S, face_limit
from fentro_core.ducts.fittings import damper_angle, damper_k
from fentro_core.ducts.loss import LEAST_REGISTER_OPEN
from fentro_core.ducts.solve import DuctFlows, Network
from fentro_core.system.ducts import DuctTree, RoomBranch

LEAST_STROKE = 0.25
"""No damper or register is closed further than this share of its stroke: noise, static pressure and coil flow stay in bounds."""

MOST_DEG = 90.0 * (1.0 - LEAST_STROKE)
MARK_DEG = 1.0
MARK_OPEN = 0.02
"""Positions are told in marks of this size: finer nobody turns a handle."""

LEAVE_SHARE = 0.025
"""A handle that would change its branch's flow by less is left: nobody meets a mark better."""

AS_GOOD = 0.005
MOST_ROUNDS = 60
NEAR_SHARE = 0.05
"""Shares of design this near to each other are even."""

By = Literal["damper", "register"]


@dataclass(frozen=True)
class Position:
    """How a branch stands: damper [° from open], register [share open]."""

    damper_deg: float
    register_open: float


@dataclass(frozen=True)
class Turn:
    """One handle: from, to, and what follows once it is turned: this branch's flow, the blower's, the pressure in the plenum."""

    branch: str
    by: By
    was: Position
    to: Position
    airflow_m3s: float
    total_m3s: float
    plenum_pa: float


@dataclass(frozen=True)
class Noisy:
    """Air that will be heard: at a `register`, in a `branch`, in a `trunk`; its speed and the limit [m/s]."""

    piece: str
    where: Literal["register", "branch", "trunk"]
    velocity_m_per_s: float
    limit_m_per_s: float


@dataclass(frozen=True)
class OutOfReach:
    """A branch that balancing cannot bring to its share: too much air even at a quarter of the stroke (`high`), or too little."""

    branch: str
    share: float
    which: Literal["high", "low"]


@dataclass(frozen=True)
class BalancePlan:
    """Turns in order, shares of design before and after, the branch that stays open, what is loud, what it can't reach."""

    turns: tuple[Turn, ...]
    before: DuctFlows
    after: DuctFlows
    shares_before: Mapping[str, float]
    shares_after: Mapping[str, float]
    exact_share: float
    stays_open: str
    noisy: tuple[Noisy, ...]
    out_of_reach: tuple[OutOfReach, ...]
    positions: Mapping[str, Position]
    exact: Mapping[str, Position]
    left_out: frozenset[str] = frozenset()


def by_of(branch: RoomBranch) -> By:
    """Where a branch is trimmed: at a damper that can stand between open and shut, at the register otherwise."""
    return "damper" if branch.damper == "blade" else "register"


def balance(network: Network, mover: AirMover, design: Mapping[str, float], leave: frozenset[str] = frozenset()) -> BalancePlan:
    """Positions that give every branch the same share of its design, as far as they can.

    Parameters
    ----------
    network : Network
        The ducts as they are now, calibrated or as drawn; it is left as it was.
    mover : AirMover
        Blower and return side.
    design : mapping
        Flow of each branch [m³/s], all of them.
    leave : frozenset
        Branches that are left as they stand, and to which no other is brought down: crushed ones, to be mended first.

    Raises
    ------
    Refused
        A branch without a design, or one of nothing.

    References
    ----------
    Proportional balancing of air systems, as the trade's balancing standards give it. Damper angles by `fittings.BLADE_K`.
    """
    for branch in network.branches:
        if not design.get(branch.id, 0.0) > 0.0:
            raise Refused(f"{branch.called}: give its design flow.", f"design.{branch.id}")
    was = {branch.id: Position(branch.damper_deg, branch.register_open) for branch in network.branches}
    before = network.solve(mover)
    handles = {branch.id: _Handle(network, branch) for branch in network.branches if branch.id not in leave}
    if not handles:
        raise Refused("Every branch needs something mended first.", "design")
    for handle in handles.values():
        handle.open()
    share = _even(network, mover, design, handles)
    exact = {branch: handle.position for branch, handle in handles.items()}
    stays = min(exact, key=lambda each: (exact[each].damper_deg, -exact[each].register_open))
    marked = {branch: handle.worth(was[branch], _marked(exact[branch]), before) for branch, handle in handles.items()}
    _set(handles, was)
    turns = tuple(_turned(network, mover, handles, was, marked))
    _set(handles, marked)
    after = network.solve(mover)
    _set(handles, was)
    shares_after = {branch: after.flow(branch) / design[branch] for branch in was}
    return BalancePlan(
        turns,
        before,
        after,
        {branch: before.flow(branch) / design[branch] for branch in was},
        shares_after,
        share,
        stays,
        tuple(noisy(network.tree, after)),
        tuple(_out_of_reach({each: shares_after[each] for each in handles}, share, exact)),
        was | marked,
        was | exact,
        leave,
    )


def _set(handles: Mapping[str, _Handle], positions: Mapping[str, Position]) -> None:
    for branch, handle in handles.items():
        handle.set(positions[branch])


class _Handle:
    """A branch's damper or register, turned in a network."""

    def __init__(self, network: Network, branch: RoomBranch) -> None:
        self.branch, self.by = branch, by_of(branch)
        self._resistance = network.resistance(branch.id)
        self._full = self._resistance.register * max(branch.register_open, LEAST_REGISTER_OPEN) ** 2
        self.position = Position(branch.damper_deg, branch.register_open)

    def set(self, position: Position) -> None:
        """To a position."""
        self.position = position
        self._resistance.turn(self.branch.damper, position.damper_deg)
        self._resistance.register = self._full / max(position.register_open, LEAST_REGISTER_OPEN) ** 2

    def open(self) -> None:
        """All the way: damper and register."""
        self.set(Position(0.0, 1.0))

    def worth(self, was: Position, to: Position, before: DuctFlows) -> Position:
        """Where to turn it: nowhere, where its flow would change by less than a handle is met."""
        flow, density = before.flow(self.branch.id), before.density
        self.set(was)
        now = self._resistance.per_square(flow, density)
        self.set(to)
        then = self._resistance.per_square(flow, density)
        return was if abs((now / then) ** 0.5 - 1.0) < LEAVE_SHARE else to

    @property
    def is_open(self) -> bool:
        """All the way."""
        return self.position == Position(self.position.damper_deg if self.by == "register" else 0.0, 1.0)

    def lose(self, flow: float, wanted: float, density: float) -> None:
        """Turn so that the whole branch loses as much at the wanted flow as it does now at this one; not past its ends."""
        resistance = self._resistance
        more = resistance.per_square(flow, density) / resistance.velocity * ((flow / wanted) ** 2 - 1.0) / resistance.handle
        if self.by == "damper":
            angle = min(damper_angle(max(resistance.damper + more, damper_k(0.0))), MOST_DEG)
            self.set(Position(angle, 1.0))
        else:
            loss = max(resistance.register + more / resistance.factor, self._full)
            open_ = (self._full / loss) ** 0.5 if loss > 0 else 1.0
            self.set(Position(self.position.damper_deg, min(max(open_, LEAST_STROKE), 1.0)))


def _even(network: Network, mover: AirMover, design: Mapping[str, float], handles: Mapping[str, _Handle]) -> float:
    """Turn all handles until the shares are even; the share that all have in common."""
    share, over = 0.0, 0.02
    for _ in range(MOST_ROUNDS):
        flows = network.solve(mover)
        shares = {branch: flows.flow(branch) / design[branch] for branch in handles}
        least = min(shares, key=lambda branch: shares[branch])
        share = shares[least]
        apart = max((shares[branch] - share for branch, handle in handles.items() if not _at_its_end(handle)), default=0.0)
        open_ = handles[least].is_open
        if open_ and apart < AS_GOOD * 0.05:
            break
        over = over / 2.0 if open_ else max(over, AS_GOOD)
        for branch, handle in handles.items():
            handle.lose(flows.flow(branch), share * (1.0 + over) * design[branch], network.density)
    return share


def _at_its_end(handle: _Handle) -> bool:
    """It can't be closed further."""
    place = handle.position
    return place.damper_deg >= MOST_DEG if handle.by == "damper" else place.register_open <= LEAST_STROKE


def _marked(position: Position) -> Position:
    """The nearest mark, never past a quarter of the stroke."""
    angle = min(round(position.damper_deg / MARK_DEG) * MARK_DEG, MOST_DEG)
    open_ = max(round(position.register_open / MARK_OPEN) * MARK_OPEN, LEAST_STROKE)
    return Position(angle, round(open_, 2))


def _turned(
    network: Network,
    mover: AirMover,
    handles: Mapping[str, _Handle],
    was: Mapping[str, Position],
    marked: Mapping[str, Position],
) -> Iterator[Turn]:
    """What opens comes first, then what closes, nearest the blower first."""
    away = distance_m(network.tree)

    def order(branch: str) -> tuple[bool, float]:
        closes = (marked[branch].damper_deg, -marked[branch].register_open) > (was[branch].damper_deg, -was[branch].register_open)
        return closes, away[branch]

    for branch in sorted(marked, key=order):
        if marked[branch] == was[branch]:
            continue
        handles[branch].set(marked[branch])
        flows = network.solve(mover)
        yield Turn(branch, handles[branch].by, was[branch], marked[branch], flows.flow(branch), flows.total_m3s, flows.plenum_pa)


def distance_m(tree: DuctTree) -> dict[str, float]:
    """How far each branch leaves from the plenum [m], along the trunks."""
    trunks = {trunk.id: trunk for trunk in tree.trunks}
    found = {}
    for branch in tree.branches:
        way, at, steps = 0.0, branch.after, 0
        while at in trunks and steps <= len(trunks):
            way, at, steps = way + trunks[at].length_m, trunks[at].after, steps + 1
        found[branch.id] = way
    return found


def noisy(tree: DuctTree, flows: DuctFlows) -> Iterator[Noisy]:
    """Where air is heard: at registers, in branches, in trunks."""
    for branch in tree.branches:
        said = flows.pieces[branch.id]
        if branch.face_area_m2:
            face = said.airflow_m3s / branch.face_area_m2
            if face > face_limit(branch):
                yield Noisy(branch.id, "register", face, face_limit(branch))
        if said.velocity_m_per_s > BRANCH_M_PER_S:
            yield Noisy(branch.id, "branch", said.velocity_m_per_s, BRANCH_M_PER_S)
    for trunk in tree.trunks:
        speed = flows.pieces[trunk.id].velocity_m_per_s
        if speed > TRUNK_M_PER_S:
            yield Noisy(trunk.id, "trunk", speed, TRUNK_M_PER_S)


def _out_of_reach(shares: Mapping[str, float], share: float, exact: Mapping[str, Position]) -> Iterator[OutOfReach]:
    for branch, own in shares.items():
        if own > share * (1.0 + NEAR_SHARE) and (
            exact[branch].damper_deg >= MOST_DEG or exact[branch].register_open <= LEAST_STROKE
        ):
            yield OutOfReach(branch, own, "high")
        elif own < 1.0 - 2 * NEAR_SHARE:
            yield OutOfReach(branch, own, "low")

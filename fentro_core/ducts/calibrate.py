"""The tree held against what was measured: how many times as much each piece must lose, how sure that is, what to read next.

Every piece's loss, the return side, the blower and each instrument are unknown by an ordinary amount before anything is read
(`*_UNSURE`). Readings of any mixture (registers, plenum, blower, total) then say more: the most likely state is found by
Gauss-Newton steps on the logarithms, and its covariance tells what is known by how much.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from math import exp, hypot, log, sqrt
from operator import mul
from typing import Literal

from fentro_core.base.least_squares import Matrix, cholesky, dot, inverse, solved, times
from fentro_core.ducts.blower import AirMover, Blower
from fentro_core.ducts.solve import DuctFlows, Network
from fentro_core.system.ducts import DuctTree, RoomBranch

TRUNK_UNSURE = 0.3
BRANCH_UNSURE = 0.35
FLEXIBLE_UNSURE = 0.5
RETURN_UNSURE = 0.3
BLOWER_UNSURE = 0.08
METER_UNSURE = 0.03
HANDLE_UNSURE = 0.25
TURN_UNSURE = 0.15
"""Standard deviations of the logarithm before anything is read: of a piece's loss as drawn, the return side's, the blower's flow;
what an instrument shows everywhere too much or too little; what a handle's mark says of its loss, how well a mark is met. Ours,
from how far laboratory runs of one duct lie apart."""

TAILS = 3.0
"""Degrees of freedom of Student's distribution for the loss of a branch: most are near the drawing, a few are far from it."""

READING_UNSURE = 0.02
"""What no reading is better than, as a share."""

TWO_SIDED = 1.96

FAR_FROM_DRAWN = 1.6
"""A branch that surely loses this many times as much as drawn, or as little, is not what was drawn."""

MOST_STEPS = 12
LONGEST_STEP = 1.0
AT_REST = 3e-3
"""Steps of the logarithms: at most so many, none longer than this; the last one shorter than that."""

Positions = tuple[tuple[str, float, float], ...]
"""Branches, each with its damper's angle from open [°] and the open share of its register."""

What = Literal["register", "plenum", "total", "external"]


@dataclass(frozen=True)
class DuctReading:
    """Something read with the ducts in one state.

    `what`: flow at the register of `branch`, static pressure in the plenum, total flow, or external static (all the blower works
    against). `share`: its 95 % half-width as a share of it. `meter`: readings with the same one are wrong together.
    """

    what: What
    value: float
    share: float = 0.05
    branch: str = ""
    meter: str = ""


@dataclass(frozen=True)
class Round:
    """What was read between two turns of a handle. `turned`: how dampers and registers stood then, as far as it differs."""

    readings: tuple[DuctReading, ...]
    turned: Positions = ()


@dataclass(frozen=True)
class Factor:
    """How many times as much a piece loses as drawn: most likely, and between what with 95 % certainty."""

    value: float
    low: float
    high: float

    @property
    def far(self) -> Literal["", "more", "less"]:
        """Surely far from what was drawn."""
        return "more" if self.low > FAR_FROM_DRAWN else "less" if self.high < 1.0 / FAR_FROM_DRAWN else ""


@dataclass(frozen=True)
class NextReading:
    """What to read next, and which share of the doubt about all branches it takes away."""

    what: What
    branch: str
    takes_away: float


@dataclass(frozen=True)
class Calibrated:
    """The tree as it most likely is: factors by piece, what handles do, mover, flows now, half-width of each as a share.

    `settled`: the steps came to rest; where they did not, readings and drawing agree only in part.
    """

    factors: Mapping[str, Factor]
    handles: Mapping[str, float]
    mover: AirMover
    flows: DuctFlows
    half_widths: Mapping[str, float]
    next_readings: tuple[NextReading, ...]
    misfit: float
    settled: bool = True

    @property
    def values(self) -> dict[str, float]:
        """Factors alone, as a network takes them."""
        return {piece: factor.value for piece, factor in self.factors.items()}


def turned(tree: DuctTree, positions: Positions) -> DuctTree:
    """The tree with dampers [° from open] and registers [share open] in these positions."""
    if not positions:
        return tree
    places = {branch: (angle, open_) for branch, angle, open_ in positions}

    def at(branch: RoomBranch) -> RoomBranch:
        place = places.get(branch.id)
        return branch if place is None else replace(branch, damper_deg=place[0], register_open=place[1])

    return replace(tree, branches=tuple(map(at, tree.branches)))


def calibrate(
    tree: DuctTree, mover: AirMover, density: float, rounds: Sequence[Round] = (), leak_at_25pa_m3s: float = 0.0
) -> Calibrated:
    """Hold the tree against what was read; the last round's positions are those of now.

    Raises
    ------
    Refused
        A tree that can't be solved (`Network`).
    """
    return _Search(tree, mover, density, rounds or (Round(()),), leak_at_25pa_m3s).found()


RETURN, BLOWER = "return", "blower"


class _Search:
    def __init__(self, tree: DuctTree, mover: AirMover, density: float, rounds: Sequence[Round], leak_at_25pa_m3s: float) -> None:
        self.mover, self.rounds = mover, rounds
        self.networks = [Network(turned(tree, each.turned), density, {}, leak_at_25pa_m3s) for each in rounds]
        self.tree = self.networks[-1].tree
        pieces = self.networks[0].pieces
        meters = dict.fromkeys(reading.meter for each in rounds for reading in each.readings if reading.meter)
        self.names = [*(piece.id for piece in pieces), RETURN, BLOWER, *(f"meter:{meter}" for meter in meters)]
        self.at = {name: number for number, name in enumerate(self.names)}
        self.at_meter = {meter: self.at[f"meter:{meter}"] for meter in meters}
        first = self.networks[0].first_branch
        unsure = [TRUNK_UNSURE] * first
        unsure += [FLEXIBLE_UNSURE if branch.wall == "flexible" else BRANCH_UNSURE for branch in pieces[first:]]
        self.unsure = [*unsure, RETURN_UNSURE, BLOWER_UNSURE, *(METER_UNSURE for _ in meters)]
        self.read = {self.at[reading.branch] for each in rounds for reading in each.readings if reading.what == "register"}
        self.handles = [self._handles(network) for network in self.networks]
        self.theta = [0.0] * len(self.names)

    def _handles(self, network: Network) -> Handles:
        """The unknowns of each handle that is not open: what its marks mean, and how this one was met."""
        found = {}
        for at, branch in enumerate(network.branches, network.first_branch):
            if (branch.damper == "blade" and branch.damper_deg > 0.0) or branch.register_open < 1.0:
                mark = f"handle:{branch.id}:{branch.damper_deg}:{branch.register_open}"
                found[at] = (self._unknown(f"handle:{branch.id}", HANDLE_UNSURE), self._unknown(mark, TURN_UNSURE))
        return found

    def _unknown(self, name: str, unsure: float) -> int:
        if name not in self.at:
            self.at[name] = len(self.names)
            self.names.append(name)
            self.unsure.append(unsure)
        return self.at[name]

    def found(self) -> Calibrated:
        states = self._states()
        rows: list[Row] = []
        settled = False
        for _ in range(MOST_STEPS):
            rows = [row for state in states for row in state.rows(self.at_meter, self.theta)]
            if not rows:
                settled = True
                break
            lower = cholesky(self._normal(rows))
            right = [-value / doubt for value, doubt in zip(self.theta, self._doubts(), strict=True)]
            for gradient, off, sigma in rows:
                weight = off / sigma**2
                right = [had + slope * weight for had, slope in zip(right, gradient, strict=True)]
            step = solved(lower, right)
            longest = max(map(abs, step))
            shorter = min(1.0, LONGEST_STEP / longest) if longest else 1.0
            self.theta = [value + shorter * move for value, move in zip(self.theta, step, strict=True)]
            states = self._states()
            if longest < AT_REST:
                settled = True
                break
        rows = [row for state in states for row in state.rows(self.at_meter, self.theta)]
        return replace(self._said(states[-1], rows), settled=settled)

    def _states(self) -> list[_State]:
        mover = moved(self.mover, self.theta[self.at[RETURN]], self.theta[self.at[BLOWER]])
        states = []
        for each, network, handles in zip(self.rounds, self.networks, self.handles, strict=True):
            for number, resistance in enumerate(network.resistances):
                resistance.factor = exp(self.theta[number])
            for number, unknowns in handles.items():
                network.resistances[number].handle = exp(sum(self.theta[unknown] for unknown in unknowns))
            states.append(_State(network, mover, network.solve(mover), each.readings, len(self.names), handles))
        return states

    def _normal(self, rows: Sequence[Row]) -> Matrix:
        """Lower triangle of the normal matrix, as `cholesky` reads it."""
        count = len(self.names)
        columns = list(zip(*(gradient for gradient, _, _ in rows), strict=True)) or [()] * count
        weights = [1.0 / sigma**2 for _, _, sigma in rows]
        normal = []
        doubts = self._doubts()
        for at, column in enumerate(columns):
            weighted = list(map(mul, column, weights))
            normal.append([dot(weighted, columns[other]) for other in range(at + 1)])
            normal[at][at] += 1.0 / doubts[at]
        return normal

    def _doubts(self) -> list[float]:
        """Variance of each unknown. A branch that was read has long tails: one crushed run is likelier than all a little off."""
        read = self.read
        return [
            unsure * unsure * (TAILS + (value / unsure) ** 2) / (TAILS + 1.0) if at in read else unsure * unsure
            for at, (value, unsure) in enumerate(zip(self.theta, self.unsure, strict=True))
        ]

    def _said(self, now: _State, rows: list[Row]) -> Calibrated:
        covariance = inverse(cholesky(self._normal(rows)))
        factors = {}
        for at, piece in enumerate(now.network.pieces):
            width = TWO_SIDED * sqrt(max(covariance[at][at], 0.0))
            value = self.theta[at]
            factors[piece.id] = Factor(exp(value), exp(value - width), exp(value + width))
        gradients = {branch.id: now.gradient("register", branch.id) for branch in now.network.branches}
        carried = {branch: times(covariance, gradient) for branch, gradient in gradients.items()}
        half_widths = {
            branch: TWO_SIDED * sqrt(max(dot(gradient, carried[branch]), 0.0)) for branch, gradient in gradients.items()
        }
        misfit = hypot(*(off / sigma for _, off, sigma in rows)) / sqrt(len(rows)) if rows else 0.0
        following = _next_readings(now, covariance, gradients, carried)
        handles = {branch.id: now.network.resistance(branch.id).handle for branch in now.network.branches}
        return Calibrated(factors, handles, now.mover, now.flows, half_widths, following, misfit)


def _next_readings(
    now: _State, covariance: Matrix, gradients: Mapping[str, list[float]], carried: Mapping[str, list[float]]
) -> tuple[NextReading, ...]:
    """What was not read in this state, by the share of all branches' doubt that it would take away."""
    known = {(reading.what, reading.branch) for reading in now.readings}
    doubt = sum(dot(gradients[branch], carried[branch]) for branch in gradients)
    asked: list[tuple[What, str]] = [("register", branch) for branch in gradients]
    found = []
    for what, branch in (*asked, *_AT_UNIT):
        if (what, branch) in known or doubt <= 0.0:
            continue
        gradient = gradients[branch] if what == "register" else now.gradient(what, branch)
        along = carried[branch] if what == "register" else times(covariance, gradient)
        spread = dot(gradient, along) + READING_UNSURE**2
        taken = sum(dot(each, along) ** 2 for each in gradients.values()) / spread
        found.append(NextReading(what, branch, taken / doubt))
    return tuple(sorted(found, key=lambda each: -each.takes_away))


_AT_UNIT: tuple[tuple[What, str], ...] = (("plenum", ""), ("total", ""), ("external", ""))


def moved(mover: AirMover, return_log: float, blower_log: float) -> AirMover:
    """The mover with another return side and a blower that moves more or less, both as logarithms."""
    scale, blower = exp(blower_log), mover.blower
    points = tuple((flow * scale, head) for flow, head in blower.points)
    return AirMover(Blower(points, blower.held_m3s * scale), mover.drop_pa * exp(return_log), mover.at_m3s)


class _State:
    """A network solved, and how each of its quantities answers to each unknown, by logarithms.

    To first order with the friction factors as they are: a piece's loss goes with the square of its flow.
    """

    def __init__(
        self,
        network: Network,
        mover: AirMover,
        flows: DuctFlows,
        readings: Sequence[DuctReading],
        unknowns: int,
        handles: Handles,
    ) -> None:
        self.network, self.mover, self.flows, self.readings = network, mover, flows, readings
        self.unknowns, self.handles = unknowns, handles

    def rows(self, meters: Mapping[str, int], theta: Sequence[float]) -> list[Row]:
        """Each reading as the search takes it."""
        found = []
        for reading in self.readings:
            value = self.value(reading.what, reading.branch)
            if value <= 0.0 or reading.value <= 0.0:
                continue
            gradient, off = [*self.gradient(reading.what, reading.branch)], log(reading.value / value)
            if reading.meter:
                at = meters[reading.meter]
                gradient[at] = 1.0
                off -= theta[at]
            found.append((gradient, off, hypot(reading.share / TWO_SIDED, READING_UNSURE)))
        return found

    def value(self, what: What, branch: str) -> float:
        """What the model says of a quantity."""
        flows = self.flows
        if what == "register":
            return flows.flow(branch)
        return {"plenum": flows.plenum_pa, "total": flows.total_m3s, "external": flows.blower_pa}[what]

    def gradient(self, what: What, branch: str) -> list[float]:
        """How the logarithm of a quantity answers to the logarithm of each unknown."""
        slopes = self._slopes
        if what == "register":
            return slopes.flows[self.network.places[branch]]
        return {"plenum": slopes.plenum, "total": slopes.total, "external": slopes.external}[what]

    @cached_property
    def _slopes(self) -> _Slopes:
        network, said = self.network, self.flows
        count = len(network.pieces)
        pieces = [said.pieces[piece.id] for piece in network.pieces]
        own, moves, set_, part = ([0.0] * count for _ in range(4))
        for at, piece in enumerate(pieces):
            parent = network.after[at]
            above = said.plenum_pa if parent < 0 else pieces[parent].pressure_pa
            loss = piece.losses.total_pa
            own[at] = loss / above if above > 0 else 1.0
            moves[at] = (loss - piece.losses.damper_pa) / loss if loss > 0 else 1.0
            set_[at] = (piece.losses.damper_pa or piece.losses.register_pa) / loss if loss > 0 else 0.0
            whole = said.total_m3s if parent < 0 else pieces[parent].airflow_m3s
            part[at] = piece.airflow_m3s / whole if whole > 0 else 0.0
        head = said.blower_pa
        before = head - said.plenum_pa
        steep = self._steepness()
        stiff = steep - 2.0 * head
        slopes = _Slopes([[0.0] * self.unknowns for _ in range(count)], *([0.0] * self.unknowns for _ in range(3)))

        def carry(unknown: int, total: float, opened: float, along: Mapping[int, tuple[float, float]], return_: float) -> None:
            plenum = 2.0 * (total - opened)
            slopes.total[unknown], slopes.plenum[unknown] = total, plenum
            slopes.external[unknown] = (said.plenum_pa * plenum + before * (return_ + 2.0 * total)) / head if head else 0.0
            ends = [0.0] * count
            for at in range(count):
                parent = network.after[at]
                above = plenum if parent < 0 else ends[parent]
                through, onward = along.get(at, (0.0, 0.0))
                flow = through + above / 2.0
                slopes.flows[at][unknown] = flow
                ends[at] = 2.0 * (flow - onward)

        held = not self.mover.blower.points

        def loses_more(unknown: int, at: int, share: float) -> None:
            along, onward = {}, 0.0
            change = -0.5 * own[at] * share
            while at >= 0:
                along[at] = (change, onward)
                onward = part[at] * change
                at = network.after[at]
                change = (1.0 - own[at]) * onward if at >= 0 else onward
            carry(unknown, 0.0 if held else -2.0 * said.plenum_pa * onward / stiff, onward, along, 0.0)

        for at in range(count):
            loses_more(at, at, moves[at])
        for at, unknowns in self.handles.items():
            for unknown in unknowns:
                loses_more(unknown, at, set_[at])
        carry(count, 0.0 if held else before / stiff, 0.0, {}, 1.0)
        carry(count + 1, 1.0 if held else steep / stiff, 0.0, {}, 0.0)
        return slopes

    def _steepness(self) -> float:
        """How the blower's pressure answers to its flow: ``dH/dQ Q`` [Pa]."""
        blower, flow, density = self.mover.blower, self.flows.total_m3s, self.network.density
        if not blower.points or flow <= 0.0:
            return 0.0
        step = 1e-4 * flow
        return (blower.pressure(flow + step, density) - blower.pressure(flow - step, density)) / (2.0 * step) * flow


@dataclass(frozen=True)
class _Slopes:
    flows: list[list[float]]
    plenum: list[float]
    total: list[float]
    external: list[float]


Handles = Mapping[int, tuple[int, int]]
"""Places of branches whose handle is not open, with the numbers of its two unknowns."""

Row = tuple[list[float], float, float]
"""How a reading's model value answers to each unknown, how far off it is (logarithms), and its standard deviation."""

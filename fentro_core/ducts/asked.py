"""The duct calculations that can be run by name: flows, calibration and balance of a tree given as JSON."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import within
from fentro_core.base.refusal import Refused, inside
from fentro_core.base.working import SILENT, Working
from fentro_core.ducts.balance import By, balance
from fentro_core.ducts.blower import AirMover, Blower, blower_of
from fentro_core.ducts.calibrate import Calibrated, DuctReading, Round, What, calibrate
from fentro_core.ducts.loss import DENSITY
from fentro_core.ducts.solve import DuctFlows, Network
from fentro_core.system.ducts import DuctTree
from fentro_core.system.nameplate import FanPoint

MOST_READINGS = 600


@dataclass(frozen=True)
class Driven:
    """What drives the air: a fan table at a tap, or a flow that is held; the drop of all that is no supply duct, at a flow.

    `leak_at_25pa_m3s`: of the supply ducts to outside.
    """

    drop_pa: float
    at_m3s: float
    fan_table: tuple[FanPoint, ...] = ()
    tap: str = ""
    held_m3s: float | None = None
    leak_at_25pa_m3s: float = 0.0

    def mover(self) -> AirMover:
        """As the tree is solved with it."""
        if not (0 < self.at_m3s <= 200 and 0 <= self.drop_pa <= 5000):
            raise Refused("Give the drop besides the supply ducts, and the flow at which it was read.", "at_m3s")
        if not 0 <= self.leak_at_25pa_m3s <= 5:
            raise Refused("A leak can't be below zero, nor more than a blower moves.", "leak_at_25pa_m3s")
        if self.held_m3s is not None:
            if not 0 < self.held_m3s <= 200:
                raise Refused("Airflow must be above zero.", "held_m3s")
            return AirMover(Blower(held_m3s=self.held_m3s), self.drop_pa, self.at_m3s)
        return AirMover(blower_of(self.fan_table, self.tap), self.drop_pa, self.at_m3s)


@dataclass(frozen=True)
class BranchFlow:
    """One branch: its flow [m³/s], its speed [m/s], pressure before its register [Pa]."""

    branch: str
    airflow_m3s: float
    velocity_m_per_s: float
    pressure_before_pa: float


@dataclass(frozen=True)
class TrunkFlow:
    """One trunk: its flow [m³/s], its speed [m/s], pressure at its end [Pa]."""

    trunk: str
    airflow_m3s: float
    velocity_m_per_s: float
    pressure_at_end_pa: float


@dataclass(frozen=True)
class TreeFlows:
    """All flows of a tree."""

    total_m3s: float
    plenum_pa: float
    external_static_pa: float
    lost_m3s: float
    branches: tuple[BranchFlow, ...]
    trunks: tuple[TrunkFlow, ...]
    beyond_table: bool


@calculation("ducts.solve", "Flows of a duct tree")
def solve_tree(tree: DuctTree, driven: Driven, density_kg_per_m3: float = 1.204, work: Working = SILENT) -> TreeFlows:
    """How the air divides over all branches.

    Parameters
    ----------
    tree : DuctTree
        Trunks and branches; at least one branch, no ring.
    driven : Driven
        Blower and return side.
    density_kg_per_m3 : float
        Of the air in the ducts [kg/m³], 0.5 to 1.6.

    Raises
    ------
    Refused
        A tree that does not hang together, a blower's table that goes back up, everything shut.

    References
    ----------
    Darcy-Weisbach with Serghides' friction; blower and resistances scale with density (fan laws).
    """
    network, mover = _ready(tree, driven, density_kg_per_m3)
    return _told(network, network.solve(mover), work)


@dataclass(frozen=True)
class BranchFactor:
    """How many times as much a piece loses as drawn, with its 95 % range."""

    piece: str
    times: float
    times_low: float
    times_high: float


@dataclass(frozen=True)
class AskNext:
    """What to read next, and the share of the doubt about all branches that it takes away."""

    what: What
    branch: str
    takes_away: float


@dataclass(frozen=True)
class CalibratedTree:
    """A tree held against readings."""

    total_m3s: float
    plenum_pa: float
    branches: tuple[BranchFlow, ...]
    factors: tuple[BranchFactor, ...]
    next: tuple[AskNext, ...]


@calculation("ducts.calibrate", "A duct tree held against what was read")
def calibrate_tree(
    tree: DuctTree,
    driven: Driven,
    readings: tuple[DuctReading, ...],
    density_kg_per_m3: float = 1.204,
    work: Working = SILENT,
) -> CalibratedTree:
    """The change that each piece needed so that the tree passes through what was read, and how sure that is.

    Parameters
    ----------
    tree : DuctTree
        As in ``ducts.solve``.
    driven : Driven
        As in ``ducts.solve``.
    density_kg_per_m3 : float
        Of the air in the ducts [kg/m³], 0.5 to 1.6.
    readings : tuple of DuctReading
        Flows at registers, plenum and external static, total flow: any mixture, 600 at most.

    Raises
    ------
    Refused
        As ``ducts.solve``; a reading of zero or below, or of a branch that is not in the tree.

    References
    ----------
    Most likely state by Gauss-Newton steps on logarithms, prior and readings as normal; how unsure what is: `ducts/calibrate.py`.
    """
    network, mover = _ready(tree, driven, density_kg_per_m3)
    _check_readings(tree, readings)
    found = calibrate(tree, mover, density_kg_per_m3, (Round(readings),), driven.leak_at_25pa_m3s)
    told = _told(network, found.flows, work)
    return CalibratedTree(
        told.total_m3s,
        told.plenum_pa,
        told.branches,
        tuple(BranchFactor(piece, each.value, each.low, each.high) for piece, each in found.factors.items()),
        tuple(AskNext(each.what, each.branch, each.takes_away) for each in found.next_readings),
    )


@dataclass(frozen=True)
class BranchDesign:
    """What a branch should get [m³/s]."""

    branch: str
    airflow_m3s: float


@dataclass(frozen=True)
class BranchPlanned:
    """A branch in the plan: its share of design before and after, and its handle, exactly and as a mark."""

    branch: str
    by: By
    share_before: float
    share_after: float
    damper_deg: float
    register_open: float
    exact_deg: float
    exact_open: float


@dataclass(frozen=True)
class BalancedTree:
    """A balance plan; `order`: branches in the order in which handles are turned."""

    share: float
    total_before_m3s: float
    total_after_m3s: float
    stays_open: str
    order: tuple[str, ...]
    branches: tuple[BranchPlanned, ...]


@calculation("ducts.balance", "Proportional balance of a duct tree")
def balance_tree(
    tree: DuctTree,
    driven: Driven,
    design: tuple[BranchDesign, ...],
    readings: tuple[DuctReading, ...] = (),
    density_kg_per_m3: float = 1.204,
    work: Working = SILENT,
) -> BalancedTree:
    """Positions of all handles that give every branch the same share of its design.

    Parameters
    ----------
    tree : DuctTree
        As in ``ducts.solve``.
    driven : Driven
        As in ``ducts.solve``.
    readings : tuple of DuctReading
        As in ``ducts.calibrate``; without any by the drawing alone.
    density_kg_per_m3 : float
        Of the air in the ducts [kg/m³], 0.5 to 1.6.
    design : tuple of BranchDesign
        Flow of each branch [m³/s]: all of them.

    Raises
    ------
    Refused
        As ``ducts.calibrate``; a branch without a design.

    References
    ----------
    Proportional balancing: the branch with the least share stays open; none is closed below a quarter of its stroke.
    """
    _, mover = _ready(tree, driven, density_kg_per_m3)
    _check_readings(tree, readings)
    found: Calibrated = calibrate(tree, mover, density_kg_per_m3, (Round(readings),), driven.leak_at_25pa_m3s)
    network = Network(tree, density_kg_per_m3, found.values, driven.leak_at_25pa_m3s, found.handles)
    try:
        plan = balance(network, found.mover, {each.branch: each.airflow_m3s for each in design})
    except Refused as refused:
        raise refused.at("design") from refused
    stays = plan.before.flow(plan.stays_open)
    wanted = next(each.airflow_m3s for each in design if each.branch == plan.stays_open)
    work.step(
        "share of the branch that stays open, before",
        "s",
        "V / V_d * 100",
        stays / wanted,
        "share",
        source="proportional balancing: the others come down to it",
        V=(stays, "airflow"),
        V_d=(wanted, "airflow"),
    )
    handles = {turn.branch: turn.by for turn in plan.turns}
    return BalancedTree(
        plan.exact_share,
        plan.before.total_m3s,
        plan.after.total_m3s,
        plan.stays_open,
        tuple(handles),
        tuple(
            BranchPlanned(
                branch.id,
                "damper" if branch.damper == "blade" else "register",
                plan.shares_before[branch.id],
                plan.shares_after[branch.id],
                plan.positions[branch.id].damper_deg,
                plan.positions[branch.id].register_open,
                plan.exact[branch.id].damper_deg,
                plan.exact[branch.id].register_open,
            )
            for branch in tree.branches
        ),
    )


def _ready(tree: DuctTree, driven: Driven, density: float) -> tuple[Network, AirMover]:
    within(density, DENSITY, "density_kg_per_m3", "density")
    with inside("tree"):
        tree.check()
    for trouble in tree.troubles():
        if trouble.breaks:
            raise Refused(trouble.sentence.text, "tree")
    with inside("driven"):
        mover = driven.mover()
    return Network(tree, density, None, driven.leak_at_25pa_m3s), mover


def _check_readings(tree: DuctTree, readings: Iterable[DuctReading]) -> None:
    given = list(readings)
    if len(given) > MOST_READINGS:
        raise Refused("At most 600 readings.", "readings")
    known = {branch.id for branch in tree.branches}
    for index, reading in enumerate(given):
        if reading.what == "register" and reading.branch not in known:
            raise Refused("There is no such branch in the tree.", f"readings.{index}.branch")
        if not 0 < reading.value <= 1e5:
            raise Refused("A reading must be above zero.", f"readings.{index}.value")
        if not 0 <= reading.share <= 2:
            raise Refused("A half-width is a share of the reading: 0 to 2.", f"readings.{index}.share")


def _told(network: Network, flows: DuctFlows, work: Working) -> TreeFlows:
    before = flows.blower_pa - flows.plenum_pa
    work.step(
        "what the blower works against",
        "p_b",
        "p_s + p_r",
        flows.blower_pa,
        "pressure",
        source="supply plenum, and return side with filter and coil, at the flow where the blower's curve meets both",
        p_s=(flows.plenum_pa, "pressure"),
        p_r=(before, "pressure"),
    )
    first = network.first_branch
    pieces = [flows.pieces[piece.id] for piece in network.pieces]
    return TreeFlows(
        flows.total_m3s,
        flows.plenum_pa,
        flows.blower_pa,
        flows.lost_m3s,
        tuple(BranchFlow(each.id, each.airflow_m3s, each.velocity_m_per_s, each.pressure_pa) for each in pieces[first:]),
        tuple(TrunkFlow(each.id, each.airflow_m3s, each.velocity_m_per_s, each.pressure_pa) for each in pieces[:first]),
        flows.beyond_table,
    )

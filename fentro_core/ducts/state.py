"""The ducts of a visit worked out: the tree held against what was read, its design and plan. Kept, as long as nothing moved."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from functools import lru_cache

from fentro_core.airflow.ways import Airflow
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.ducts.balance import BalancePlan, balance
from fentro_core.ducts.blower import AirMover
from fentro_core.ducts.calibrate import Calibrated, Round, calibrate, turned
from fentro_core.ducts.design import Design, Season, design_flows
from fentro_core.ducts.entries import DuctUnit
from fentro_core.ducts.solve import Network
from fentro_core.ducts.starved import Remedy, remedies
from fentro_core.ducts.walked import Moved, density_of, mover_of, rounds_of, season_of, tree_of
from fentro_core.phase.readings import Readings
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.ducts import DuctTree, RoomBranch


@dataclass(frozen=True)
class DuctState:
    """The tree with what drives it; `now`, `found`: calibrated on all that was read, in the present positions and as found."""

    tree: DuctTree
    season: Season
    moved: Moved
    density: float
    rounds: tuple[Round, ...]
    unit: DuctUnit
    now: Calibrated | None = None
    found: Calibrated | None = None
    trouble: Sentence | None = None

    @property
    def leak(self) -> float:
        """Of the supply ducts at 25 Pa [m³/s]."""
        return self.unit.leak_at_25pa_m3s or 0.0

    @property
    def present(self) -> DuctTree:
        """With every handle as it stands now."""
        return turned(self.tree, self.rounds[-1].turned) if self.rounds else self.tree

    @property
    def design(self) -> Design | None:
        """What each room should get, once the flow is known of which shares are taken."""
        return design_flows(self.tree, self.season, self.found.flows.total_m3s) if self.found else None

    def plan(self) -> BalancePlan | None:
        """What is left to turn; None without a design."""
        design = self.design
        if self.now is None or design is None or not design.by:
            return None
        flows = tuple(sorted(design.flows.items()))
        factors, handles = tuple(sorted(self.now.values.items())), tuple(sorted(self.now.handles.items()))
        crushed = frozenset(branch for branch in design.flows if self.now.factors[branch].far == "more")
        return _planned(self.present, self.now.mover, self.density, factors, handles, self.leak, flows, crushed)

    def remedies(self, branch: RoomBranch) -> tuple[Remedy, ...]:
        """What each change would bring a branch as it stands now."""
        if self.now is None:
            return ()
        here = next(each for each in self.present.branches if each.id == branch.id)
        factors = tuple(sorted(self.now.values.items()))
        return _bought(self.present, here, self.now.mover, self.density, factors, self.leak)


def state_of(visit: VisitContext, airflow: Airflow | None, phase: str = "as_left") -> DuctState:
    """The ducts of a visit; ``as_found``: by what was read before the first handle was turned."""
    tree = tree_of(visit)
    season = season_of(visit)
    density = density_of(visit, season)
    moved = mover_of(visit, readings_of(visit, ("static_pressure", "airflow")), airflow, density)
    unit = visit.last_of(DuctUnit) or DuctUnit()
    rounds = rounds_of(visit, tree, airflow) if tree.branches else ()
    if phase == "as_found":
        rounds = rounds[:1]
    plain = DuctState(tree, season, moved, density, rounds, unit)
    if not tree.branches or moved.mover is None:
        return DuctState(tree, season, moved, density, rounds, unit, trouble=moved.trouble)
    broken = [each for each in tree.troubles() if each.breaks]
    if broken:
        return DuctState(tree, season, moved, density, rounds, unit, trouble=broken[0].sentence)
    try:
        now = _calibrated(tree, moved.mover, density, rounds, plain.leak)
        found = now
        if len(rounds) > 1:
            found = _calibrated(tree, moved.mover, density, (*rounds[1:], rounds[0]), plain.leak)
    except Refused as refused:
        return DuctState(tree, season, moved, density, rounds, unit, trouble=refused.sentence)
    return DuctState(tree, season, moved, density, rounds, unit, now, found)


def readings_of(visit: VisitContext, quantities: Collection[str]) -> Readings:
    """The latest reading of each place, whichever phase, of these quantities."""
    entries = {
        (entry.body.station, entry.body.quantity, entry.body.point): entry
        for phase in ("as_found", "as_left")
        for entry in visit.readings(phase)
        if entry.body.quantity in quantities
    }
    snapshot = visit.snapshot
    stations = visit.path.stations
    return Readings("", entries.values(), snapshot.instruments, stations, visit.runs, visit.matches, visit.pressure_pa)


@lru_cache(maxsize=32)
def _calibrated(tree: DuctTree, mover: AirMover, density: float, rounds: tuple[Round, ...], leak: float) -> Calibrated:
    return calibrate(tree, mover, density, rounds, leak)


Factors = tuple[tuple[str, float], ...]


@lru_cache(maxsize=32)
def _planned(
    tree: DuctTree,
    mover: AirMover,
    density: float,
    factors: Factors,
    handles: Factors,
    leak: float,
    design: Factors,
    leave: frozenset[str],
) -> BalancePlan | None:
    if len(leave) == len(design):
        return None
    return balance(Network(tree, density, dict(factors), leak, dict(handles)), mover, dict(design), leave)


@lru_cache(maxsize=256)
def _bought(
    tree: DuctTree, branch: RoomBranch, mover: AirMover, density: float, factors: Factors, leak: float
) -> tuple[Remedy, ...]:
    return remedies(tree, branch, mover, density, dict(factors), leak)

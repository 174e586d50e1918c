"""What the pages of the ducts show."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.ducts.balance import Position
from fentro_core.ducts.design import Season
from fentro_core.ducts.entries import DuctUnit
from fentro_core.system.ducts import RoomBranch, Trouble, Trunk


@dataclass(frozen=True)
class TrunkLine:
    """A trunk as noted, and what goes through it."""

    piece: Trunk
    airflow: Quantity | None = None
    velocity: Quantity | None = None
    pressure: Quantity | None = None
    loud: bool = False


@dataclass(frozen=True)
class LossShare:
    """One cause of loss on the way to a room, and its share of the plenum's pressure."""

    name: str
    loss: Quantity
    share: float


@dataclass(frozen=True)
class RemedyLine:
    """What one change would bring a room."""

    sentence: Sentence
    airflow: Quantity
    share: Quantity | None


@dataclass(frozen=True)
class BranchLine:
    """A branch as noted, with all that is known of its air.

    `airflow`: most likely, `measured`: as read in the present state, `read`: read in any state, `was`: as found, before the first
    handle was turned. `share`: of its design. `factor`: how many times as much it loses as drawn, with its range.
    """

    piece: RoomBranch
    station: str
    position: Position
    airflow: Quantity | None = None
    measured: Quantity | None = None
    read: bool = False
    was: Quantity | None = None
    design: Quantity | None = None
    share: Quantity | None = None
    share_before: Quantity | None = None
    velocity: Quantity | None = None
    face_velocity: Quantity | None = None
    pressure: Quantity | None = None
    factor: float | None = None
    factor_low: float | None = None
    factor_high: float | None = None
    mark: Mark = "not_measured"
    finding: Sentence | None = None
    losses: tuple[LossShare, ...] = ()
    remedies: tuple[RemedyLine, ...] = ()
    room: Quantity | None = None
    deviation: Quantity | None = None
    drifts: Sentence | None = None
    loud: bool = False


@dataclass(frozen=True)
class TurnLine:
    """One handle of the plan, and what should be read after it."""

    branch: str
    by: Literal["damper", "register"]
    was: Position
    to: Position
    airflow: Quantity
    total: Quantity
    plenum: Quantity


@dataclass(frozen=True)
class PlannedBranch:
    """Where a branch ends by the plan: its position, flow and share."""

    branch: str
    to: Position
    airflow: Quantity
    share: Quantity


@dataclass(frozen=True)
class PlanPage:
    """The balance plan of a season: what is left to turn, where it leads, what it can't do.

    `sure`: every branch was read; without readings it follows from the drawing alone.
    """

    season: Season
    design_by: str
    design_words: str
    lacking: tuple[str, ...] = ()
    turns: tuple[TurnLine, ...] = ()
    branches: tuple[PlannedBranch, ...] = ()
    stays_open: str = ""
    share: Quantity | None = None
    total_before: Quantity | None = None
    total_after: Quantity | None = None
    external_before: Quantity | None = None
    external_after: Quantity | None = None
    notes: tuple[Sentence, ...] = ()
    even: bool = False
    read: int = 0


@dataclass(frozen=True)
class NextLine:
    """What to read next: at a station, or at the unit ("" where no station is named)."""

    station: str
    name: str
    sentence: Sentence


@dataclass(frozen=True)
class DuctPage:
    """Everything of the ducts that follows from a visit's logbook."""

    season: Season
    trunks: tuple[TrunkLine, ...] = ()
    branches: tuple[BranchLine, ...] = ()
    troubles: tuple[Trouble, ...] = ()
    blower: Sentence | None = None
    return_side: Sentence | None = None
    trouble: Sentence | None = None
    unit: DuctUnit | None = None
    total: Quantity | None = None
    plenum: Quantity | None = None
    external: Quantity | None = None
    lost: Quantity | None = None
    beyond_table: bool = False
    next: tuple[NextLine, ...] = ()
    plan: PlanPage | None = None
    notes: tuple[Sentence, ...] = ()
    thermostats: Sentence | None = None
    from_earlier: bool = False
    density: Quantity | None = None


def flow(value: float, share: float = 0.0) -> Quantity:
    """An airflow [m³/s], its half-width as a share."""
    return Quantity(value, value * share, "airflow")


def pressure(value: float) -> Quantity:
    """A pressure [Pa]."""
    return Quantity(value, 0.0, "pressure")

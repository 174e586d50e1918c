"""The work-up of a visit as it goes out: plain, frozen, with units by kind."""

from __future__ import annotations

from dataclasses import dataclass, field

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.diagnosis.results import Finding, NextCheck
from fentro_core.logbook.temporary import OpenChange
from fentro_core.parts import Pages
from fentro_core.phase.results import Assigned, MatchResult, Placed, Result, Seen, StationResult, VerdictLine
from fentro_core.system.air_path import AirPath


@dataclass(frozen=True)
class Change:
    """As left less as found, for one result; `real` when it is larger than its half-width.

    `guessed`: it stands on a figure that nobody measured, as found or as left, so that no change can be claimed.
    """

    key: str
    name: str
    as_found: Quantity
    as_left: Quantity
    change: Quantity
    real: bool
    guessed: bool = False


@dataclass(frozen=True)
class Between:
    """A setting changed between as found and as left."""

    what: str
    was: str
    now: str
    why: str
    at: str


@dataclass(frozen=True)
class Segment:
    """A stretch of a band after an element: air temperature if known, share of supply dry-air flow, known or assumed."""

    element: str
    dry_bulb: Quantity | None
    share: float
    share_known: bool


@dataclass(frozen=True)
class RibbonBand:
    """Segments of one band, in order of its elements."""

    band: str
    segments: tuple[Segment, ...]


@dataclass(frozen=True)
class RibbonJoint:
    """Air that joins or leaves: its temperature and share."""

    joint: str
    dry_bulb: Quantity | None
    share: float
    share_known: bool


@dataclass(frozen=True)
class RibbonBranch:
    """One branch's share of the supply air, by duct area until it is measured."""

    room: str
    floor: str
    share: float


@dataclass(frozen=True)
class Ribbon:
    """What the air path drawing shows. `more`: stations beyond the core ones that are used on this visit."""

    bands: tuple[RibbonBand, ...]
    joints: tuple[RibbonJoint, ...]
    branches: tuple[RibbonBranch, ...]
    more: tuple[str, ...] = ()


@dataclass(frozen=True)
class PhaseResult:
    """Everything of one phase: as found, or as left.

    `stations`: the core ones and those that were read. `mode`: cooling, heating or "". `pages`: what each part of the job
    shows, by its key; None where the system has no such part. `followed`: numbers that are followed over visits, by key.
    `odd`: readings that fit nothing, to be read again. `sound`: chance that nothing is wrong, 0 to 1; 0 before causes are
    weighed. `marks`: the gravest mark of a part's page, by the part's key, where one calls for a look.
    """

    phase: str
    mode: str
    stations: tuple[StationResult, ...]
    results: tuple[Result, ...]
    verdicts: tuple[VerdictLine, ...]
    ribbon: Ribbon
    pages: Pages
    findings: tuple[Finding, ...] = ()
    next_check: NextCheck | None = None
    odd: tuple[Sentence, ...] = ()
    sound: float = 0.0
    followed: dict[str, Quantity] = field(default_factory=dict)
    marks: dict[str, Mark] = field(default_factory=dict)


@dataclass(frozen=True)
class CheckState:
    """One check of a step."""

    item: str
    text: str
    done: bool
    entry: str | None


@dataclass(frozen=True)
class RouteStep:
    """A step of the visit: what it is for, its state, what is left, its checks and cautions."""

    id: str
    name: str
    lead: str
    state: str
    left: tuple[str, ...]
    checks: tuple[CheckState, ...]
    cautions: tuple[str, ...]


@dataclass(frozen=True)
class WorkUp:
    """Everything that follows from a snapshot.

    `cancelled`: it was a mistake, and stands out of sight.
    `reported`: what was said on arrival; `next_station`: where to read next; `diagnosed`: causes are known for this kind of
    system; `parts`: keys of the parts of the job that this system has. `weighed`: causes were looked for; else that is to come.
    """

    pressure: Quantity
    pressure_remark: Sentence
    path: AirPath
    phases: tuple[PhaseResult, ...]
    comparison: tuple[Change, ...]
    route: tuple[RouteStep, ...]
    next_step: str
    running_since: str | None
    closed: bool
    reported: str
    cancelled: bool = False
    parts: tuple[str, ...] = ()
    matches: tuple[MatchResult, ...] = ()
    placed: tuple[Placed, ...] = ()
    assigned: tuple[Assigned, ...] = ()
    seen: tuple[Seen, ...] = ()
    speed_taps: tuple[str, ...] = ()
    next_station: str = ""
    diagnosed: bool = True
    between: tuple[Between, ...] = ()
    temporary: tuple[OpenChange, ...] = ()
    weighed: bool = True

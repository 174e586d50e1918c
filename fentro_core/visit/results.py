"""The parts of a work-up as they go out: plain, frozen, with units by kind."""

from __future__ import annotations

from dataclasses import dataclass, field

from fentro_core.measuring.traverse import TraversePlan
from fentro_core.sentence import Sentence
from fentro_core.verdict import Mark
from fentro_core.visit.air_path import AirPath
from fentro_core.working import Line


@dataclass(frozen=True)
class Quantity:
    """A result: SI value, 95 % half-width, kind."""

    value: float
    plus_minus: float
    kind: str


@dataclass(frozen=True)
class Contribution:
    """How much of a result's variance one source brings, 0 to 1."""

    label: str
    share: float


@dataclass(frozen=True)
class Result:
    """A named result; without a quantity it says what is missing. `nominal`: a guess by convention, not measured."""

    key: str
    name: str
    quantity: Quantity | None
    lines: tuple[Line, ...] = ()
    contributions: tuple[Contribution, ...] = ()
    remark: Sentence | None = None
    missing: tuple[str, ...] = ()
    nominal: bool = False


@dataclass(frozen=True)
class RailLine:
    """One line of the verdict rail. `mark` None: a plain remark. `result`: key of the number it stands on.

    `opens`: the part of Work out where more stands (causes, leak, pressures), where there is more than a working.
    """

    key: str
    mark: Mark | None
    sentence: Sentence
    result: str | None = None
    notes: tuple[Sentence, ...] = ()
    early: bool = False
    opens: str = ""


@dataclass(frozen=True)
class PointReading:
    """A standing reading at a station, as typed and in SI. `early`: why it came too soon; `held`: from a live probe."""

    entry: str
    quantity: str
    point: int
    typed_value: float
    typed_unit: str
    value: Quantity
    instrument: str
    overdue: bool
    at: str
    early: Sentence | None = None
    held: bool = False


@dataclass(frozen=True)
class StationResult:
    """What was read at a station and what follows. `trouble`: why the readings can't be used.

    `values`: averages of what is no air state (static pressure, velocity ...). `correlation`: between the errors of dry
    bulb and humidity ratio. `early`: any of its readings came too soon.
    """

    station: str
    readings: tuple[PointReading, ...]
    dry_bulb: Quantity | None = None
    properties: dict[str, Quantity] = field(default_factory=dict)
    spread: Quantity | None = None
    points: int = 0
    remark: Sentence | None = None
    trouble: Sentence | None = None
    values: dict[str, Quantity] = field(default_factory=dict)
    correlation: float = 0.0
    early: bool = False


@dataclass(frozen=True)
class TraversePage:
    """A traverse at its station: where to hold the probe, what was read so far by point, and what follows."""

    station: str
    entry: str
    plan: TraversePlan
    velocities: dict[int, Quantity]
    mean: Quantity | None
    airflow: Quantity | None
    flags: tuple[Sentence, ...]


@dataclass(frozen=True)
class MatchedLine:
    """One probe of a match: what it showed, how far from the mean of all, and what its accuracy would allow."""

    instrument: str
    name: str
    mean: Quantity
    offset: Quantity
    accuracy: Quantity


@dataclass(frozen=True)
class MatchResult:
    """Probes held together. `before`, `after`: half-width of a difference of two of them; `trouble`: who can't be right."""

    entry: str
    quantity: str
    name: str
    probes: tuple[MatchedLine, ...]
    before: Quantity
    after: Quantity
    trouble: Sentence | None = None


@dataclass(frozen=True)
class Placed:
    """Where a station lies on this system."""

    station: str
    where: str
    entry: str


@dataclass(frozen=True)
class Assigned:
    """A probe that hangs at a station, since a moment."""

    instrument: str
    station: str
    point: int
    entry: str
    at: str


@dataclass(frozen=True)
class Seen:
    """Something observed that is no number."""

    item: str
    value: str
    entry: str


@dataclass(frozen=True)
class Change:
    """As left less as found, for one result; `real` when it is larger than its half-width."""

    key: str
    name: str
    as_found: Quantity
    as_left: Quantity
    change: Quantity
    real: bool


@dataclass(frozen=True)
class OpenChange:
    """A temporary change that is not undone yet; `handed_to`: who took it over, by id; `point`: of a controller, held."""

    entry: str
    what: str
    kind: str
    kind_name: str
    undo: str
    at: str
    by: str
    handed_to: str = ""
    handed_to_name: str = ""
    reason: str = ""
    point: str = ""


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
class School:
    """What one school says about the split: its target, its verdict, and whether it is the one judged by."""

    key: str
    name: str
    reason: str
    target: Quantity | None
    mark: Mark
    used: bool


@dataclass(frozen=True)
class FourWay:
    """Split and cooling against the targets at the plate's airflow; `reading`: what the pair says, when both are clear.

    `tolerance_split` [K] and `tolerance_capacity` (a share) are the edges of the middle field.
    """

    split: Quantity
    capacity: Quantity
    tolerance_split: float
    tolerance_capacity: float
    reading: Sentence | None


@dataclass(frozen=True)
class PressureTap:
    """A static pressure along the air path."""

    station: str
    name: str
    value: Quantity


@dataclass(frozen=True)
class Drop:
    """The drop over one part; `at_rated`: as it would be at rated flow; `most`: by the plate or an ordinary system [Pa]."""

    part: str
    name: str
    drop: Result
    at_rated: Quantity
    most: float
    source: str
    mark: Mark


@dataclass(frozen=True)
class StaticPage:
    """Static pressures in the order of the air, the drops, and what the filter's drop says about changing it."""

    taps: tuple[PressureTap, ...]
    drops: tuple[Drop, ...]
    filter: Sentence | None = None


@dataclass(frozen=True)
class LeakPage:
    """The return leak test. `opened`: the quick signs that call for it; `begun`: show it; `missing`: still to read."""

    opened: tuple[Sentence, ...]
    begun: bool
    missing: tuple[str, ...]
    come_back: Sentence | None = None
    results: tuple[Result, ...] = ()
    mark: Mark | None = None
    verdict: Sentence | None = None
    disagreement: Sentence | None = None
    explains: tuple[Sentence, ...] = ()
    limit: Sentence | None = None


@dataclass(frozen=True)
class WhoMay:
    """Who may do what about a rise that is off."""

    who: str
    what: str


@dataclass(frozen=True)
class HeatingPage:
    """Rise against the plate's range, supply air against its most; who may act; the words about carbon monoxide."""

    rise: Quantity | None
    low: Quantity | None
    high: Quantity | None
    outlet: Quantity | None
    most_outlet: Quantity | None
    mark: Mark
    who: tuple[WhoMay, ...]
    carbon_monoxide: str = ""


@dataclass(frozen=True)
class Finding:
    """A possible cause: what speaks for it and against it, how to prove it, who may act. `why_not`: rejected, and why."""

    key: str
    name: str
    part: str
    fit: float
    likely: bool
    why: str
    do: str
    who: str
    caution: str
    check: str
    check_minutes: float
    check_who: str
    seen: tuple[Sentence, ...]
    ordinary: tuple[Sentence, ...]
    against: tuple[Sentence, ...]
    unexplained: tuple[Sentence, ...]
    why_not: str | None = None
    rejection: str | None = None


@dataclass(frozen=True)
class NextCheck:
    """The look that separates the leading causes best for its minutes. `stations`: where to read; empty: answer by eye."""

    key: str
    title: str
    ask: str
    minutes: float
    who: str
    caution: str
    by_eye: bool
    stations: tuple[str, ...]
    between: tuple[str, ...]
    bits: float


@dataclass(frozen=True)
class PhaseResult:
    """Everything of one phase: as found, or as left.

    `stations`: the core ones and those that were read. `airflow_chosen`: key of the method the airflow is taken from.
    `mode`: cooling, heating or "". `indices`: numbers that are followed over visits, by key.
    """

    phase: str
    stations: tuple[StationResult, ...]
    results: tuple[Result, ...]
    rail: tuple[RailLine, ...]
    ribbon: Ribbon
    airflow_methods: tuple[Result, ...] = ()
    airflow_chosen: str = ""
    traverses: tuple[TraversePage, ...] = ()
    mode: str = ""
    schools: tuple[School, ...] = ()
    four_way: FourWay | None = None
    statics: StaticPage | None = None
    leak: LeakPage | None = None
    heating: HeatingPage | None = None
    findings: tuple[Finding, ...] = ()
    next_check: NextCheck | None = None
    indices: dict[str, Quantity] = field(default_factory=dict)


@dataclass(frozen=True)
class CheckState:
    """One check of a step."""

    item: str
    text: str
    done: bool
    entry: str | None


@dataclass(frozen=True)
class RouteStep:
    """A step of the visit: its state, what is left, its checks and cautions."""

    id: str
    name: str
    state: str
    left: tuple[str, ...]
    checks: tuple[CheckState, ...]
    cautions: tuple[str, ...]


@dataclass(frozen=True)
class WorkUp:
    """Everything that follows from a snapshot. `reported`: what was said on arrival."""

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
    matches: tuple[MatchResult, ...] = ()
    placed: tuple[Placed, ...] = ()
    assigned: tuple[Assigned, ...] = ()
    seen: tuple[Seen, ...] = ()
    fan_taps: tuple[str, ...] = ()
    between: tuple[Between, ...] = ()
    temporary: tuple[OpenChange, ...] = ()

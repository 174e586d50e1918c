"""Results of one phase as they go out: plain, frozen, with units by kind."""

from __future__ import annotations

from dataclasses import dataclass, field

from fentro_core.base.quantity import Quantity
from fentro_core.base.quick import quick
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.base.working import Line


@quick
@dataclass(frozen=True)
class Contribution:
    """How much of a result's variance one source brings, 0 to 1."""

    label: str
    share: float


@quick
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
class VerdictLine:
    """One verdict, or with `mark` None a plain remark. `result`: key of the number it stands on.

    `opens`: the part whose page says more, where there is more than a working.
    """

    key: str
    mark: Mark | None
    sentence: Sentence
    result: str | None = None
    notes: tuple[Sentence, ...] = ()
    early: bool = False
    opens: str = ""


@quick
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


@quick
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


@quick
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
    """Something observed that is not a number."""

    item: str
    value: str
    entry: str

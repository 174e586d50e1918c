"""What a report says, plain and frozen: words with numbers in SI, said in the reader's units and hours when it is shown.

Signed editions are kept as the JSON of this. A field that is added later has a default, and none is taken away: else what was
signed before could not be read any more.
"""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.diagnosis.results import Finding
from fentro_core.instruments.instrument import Instrument
from fentro_core.system.air_path import AirPath
from fentro_core.system.nameplate import NameplateLine
from fentro_core.visit.results import Change, Ribbon

FORMAT = "fentro.report"
VERSION = 1


@dataclass(frozen=True)
class SoLine:
    """How one thing is, in a customer's words. `was`: as found, where it was looked at again as left."""

    subject: str
    mark: Mark
    was: Mark | None
    sentences: tuple[Sentence, ...]


@dataclass(frozen=True)
class DoneLine:
    """Something changed on the visit, and why."""

    what: str
    was: str
    now: str
    why: str
    at: str
    by: str


@dataclass(frozen=True)
class ToDo:
    """What is to be done: who may, how soon, what to beware of. `sure`: the readings point to it; else look there first.

    `others`: what it may be instead; `cause`: `name` is a cause, else what is not as it should be.
    """

    name: str
    do: Sentence
    who: str
    how_soon: str
    caution: str
    sure: bool
    others: tuple[str, ...] = ()
    cause: bool = True


@dataclass(frozen=True)
class ReportReading:
    """A standing reading as it was typed, with what it is in SI and its half-width. `number`: in the logbook."""

    number: int
    phase: str
    station: str
    quantity: str
    point: int
    typed: str
    value: Quantity
    instrument: str
    at: str
    by: str
    early: Sentence | None
    held: bool
    overdue: bool


@dataclass(frozen=True)
class ReportResult:
    """A number as found and as left. `nominal`: a guess by convention, not measured."""

    name: str
    found: Quantity | None
    left: Quantity | None
    nominal: bool


@dataclass(frozen=True)
class ReportVerdict:
    """A verdict of a phase; `mark` None: a plain remark."""

    phase: str
    mark: Mark | None
    sentence: Sentence
    notes: tuple[Sentence, ...]
    early: bool


@dataclass(frozen=True)
class ReportTest:
    """A test: what was to be seen, what was seen, and the verdict."""

    part: str
    phase: str
    title: str
    expected: Sentence | None
    seen: Sentence
    mark: Mark


@dataclass(frozen=True)
class ReportChange:
    """A temporary change: opened, and how it ended. `end`: undone, handed on, or open still."""

    what: str
    kind: str
    at: str
    by: str
    end: str
    end_at: str
    end_by: str
    words: str


@dataclass(frozen=True)
class ReportPhoto:
    """A photo by its SHA-256, and what it shows."""

    sha256: str
    words: str
    at: str
    by: str


@dataclass(frozen=True)
class LogLine:
    """An entry of the logbook. `gone`: it was taken back or put right by a later one, with the reason.

    `listed`: a reading that stands, and so is among the readings with its number.
    """

    number: int
    at: str
    by: str
    phase: str
    name: str
    words: str
    gone: bool = False
    reason: str = ""
    listed: bool = False


@dataclass(frozen=True)
class Room:
    """A room's measured and design airflow."""

    name: str
    measured: Quantity
    design: Quantity | None


@dataclass(frozen=True)
class PlanLine:
    """Something planned: as found, as planned, as left, why; `then`: what should be read once it is so."""

    part: str
    what: str
    was: Sentence | None
    planned: Sentence | None
    left: Sentence | None
    reason: str
    then: Sentence | None = None


@dataclass(frozen=True)
class TreePiece:
    """A piece of the ducts in the order of the tree; `depth`: how many pieces lie before it."""

    name: str
    depth: int
    trunk: bool
    size: Sentence
    airflow: Quantity | None


@dataclass(frozen=True)
class AirPicture:
    """What the drawing of the air path shows of a phase."""

    phase: str
    path: AirPath
    ribbon: Ribbon


@dataclass(frozen=True)
class StatePoint:
    """Air at a station, on the chart."""

    name: str
    phase: str
    dry_bulb_c: float
    humidity_ratio: float


@dataclass(frozen=True)
class Report:
    """A visit's report. `state`: open, closed or cancelled; `left_out`: what could not be worked out, and why."""

    site: str
    elevation: Quantity
    pressure: Quantity
    system: str
    kind: str
    location: str
    technician: str
    opened_at: str
    closed_at: str
    state: str
    asked: tuple[str, ...]
    summary: str
    so: tuple[SoLine, ...]
    done: tuple[DoneLine, ...]
    improved: tuple[Change, ...]
    to_do: tuple[ToDo, ...]
    untold: tuple[str, ...]
    plate: tuple[NameplateLine, ...]
    results: tuple[ReportResult, ...]
    changes: tuple[Change, ...]
    verdicts: tuple[ReportVerdict, ...]
    readings: tuple[ReportReading, ...]
    tests: tuple[ReportTest, ...]
    rooms: tuple[Room, ...]
    plans: tuple[PlanLine, ...]
    tree: tuple[TreePiece, ...]
    pictures: tuple[AirPicture, ...]
    states: tuple[StatePoint, ...]
    findings: tuple[Finding, ...]
    cautions: tuple[str, ...]
    instruments: tuple[Instrument, ...]
    temporary: tuple[ReportChange, ...]
    photos: tuple[ReportPhoto, ...]
    log: tuple[LogLine, ...]
    left_out: tuple[Sentence, ...] = ()
    format: str = FORMAT
    version: int = VERSION

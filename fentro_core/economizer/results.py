"""The parts of an economizer's page as they go out: plain, frozen, with units by kind."""

from __future__ import annotations

from dataclasses import dataclass, field

from fentro_core.airflow.intake import PLACING, IntakeFlag, IntakePlacing
from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Number, Sentence
from fentro_core.base.verdict import Mark
from fentro_core.economizer.alarms import ALARMS
from fentro_core.economizer.configuration import Configuration, Difference
from fentro_core.economizer.entries import OutdoorNeed
from fentro_core.economizer.minimum_position import NextPosition, PositionRead
from fentro_core.economizer.points import Compared, PhysicsCheck
from fentro_core.economizer.proof.day import Day
from fentro_core.economizer.proof.step import Judged, Step, TestRun
from fentro_core.economizer.retrofit import ORIENTATION, WIRES, Turned, Wire
from fentro_core.economizer.sensor_identity import SensorIdentity
from fentro_core.economizer.true_air import ByProbe


@dataclass(frozen=True)
class SettingValue:
    """A setting at one stage: in words or as a number; the reason and the entry it stands in, when it was written down.

    `why`: a proposal's reason, for either system of units.
    """

    text: str = ""
    number: Number | None = None
    reason: str = ""
    entry: str = ""
    why: Sentence | None = None


@dataclass(frozen=True)
class SettingLine:
    """A setting as found, planned, as left. `choices`: words by value where it is not a number."""

    key: str
    name: str
    kind: str
    choices: dict[str, str]
    as_found: SettingValue | None
    planned: SettingValue | None
    as_left: SettingValue | None
    proposed: SettingValue | None = None


@dataclass(frozen=True)
class MethodLine:
    """A changeover method, why one takes it, and whether it may be used in this climate zone."""

    key: str
    name: str
    reason: str
    allowed: bool
    default: bool
    limit: Number | None


@dataclass(frozen=True)
class WalkLine:
    """One reading of the walk to the minimum position: share with its half-width, or why it can't be told."""

    entry: str
    position: float
    share: Quantity | None
    trouble: Sentence | None = None


@dataclass(frozen=True)
class Walk:
    """The walk to the wanted outdoor share. `next`: where to set the damper; `says`: why; `trouble`: what is missing."""

    wanted: float | None
    lines: tuple[WalkLine, ...]
    next: NextPosition | None
    trouble: Sentence | None
    says: Sentence | None = None


@dataclass(frozen=True)
class CauseLine:
    """A cause that would upset a test, and what to do."""

    key: str
    name: str
    do: str
    sure: float


@dataclass(frozen=True)
class SeenTest:
    """The last time a test was seen in a phase: its verdict, points, trace; causes by rank when it is not as due."""

    entry: str
    at: str
    by: str
    seen: TestRun
    mark: Mark
    points: tuple[Judged, ...]
    sentence: Sentence
    causes: tuple[CauseLine, ...]
    times: int


@dataclass(frozen=True)
class TestLine:
    """A test of the plan, and what was seen of it as found and as left."""

    step: Step
    as_found: SeenTest | None
    as_left: SeenTest | None

    __test__ = False


@dataclass(frozen=True)
class SuspectLine:
    """A cause by all tests together: how sure, and which tests speak for it."""

    key: str
    name: str
    do: str
    who: str
    sure: float
    tests: tuple[str, ...]


@dataclass(frozen=True)
class Revision:
    """A configuration saved or loaded on this visit, numbered; what changed from the one before."""

    number: int
    entry: str
    at: str
    by: str
    reason: str
    source: str
    changes: tuple[Difference, ...]
    document: Configuration


@dataclass(frozen=True)
class AlarmCheckLine:
    """A check of an alarm that was done."""

    entry: str
    check: int
    found: str
    good: bool
    says: Sentence | None = None


@dataclass(frozen=True)
class AlarmLine:
    """An alarm: what it means and locks out, how it clears, its checks in order with what was found, how it ended."""

    entry: str
    alarm: str
    name: str
    words: str
    means: str
    locks_out: str
    by_itself: bool
    caution: str
    checks: tuple[str, ...]
    done: tuple[AlarmCheckLine, ...]
    cause: str = ""
    cause_found: bool = True
    closed: bool = False


@dataclass(frozen=True)
class PointPage:
    """The audit of points: every line against its reference, physics, and which is which."""

    lines: tuple[Compared, ...]
    physics: tuple[PhysicsCheck, ...]
    conditions: tuple[str, ...]
    which: SensorIdentity | None
    which_trouble: Sentence | None
    swapped: tuple[str, ...] = ()
    by_probe: ByProbe = field(default_factory=ByProbe)


@dataclass(frozen=True)
class EconomizerPage:
    """The economizer of a visit. `day_known`: outdoor and return air were read on this visit; `points_left`: as left.

    `found_running`, `found_mode`: fan, schedule and mode before the first test that a controller ran.
    """

    controller: str
    climate_zone: str
    method_reason: Sentence | None
    methods: tuple[MethodLine, ...]
    settings: tuple[SettingLine, ...]
    as_found: Configuration
    planned: Configuration
    fights: Sentence | None
    need: OutdoorNeed | None
    need_entry: str
    walk: Walk
    reads: tuple[PositionRead, ...]
    day: Day
    day_known: bool
    tests: tuple[TestLine, ...]
    plan_trouble: Sentence | None
    suspects: tuple[SuspectLine, ...]
    found: str
    open_between: tuple[str, ...]
    points: PointPage
    points_left: PointPage
    loops: tuple[TestLine, ...]
    revisions: tuple[Revision, ...]
    alarms: tuple[AlarmLine, ...]
    intake: IntakePlacing | None
    intake_entry: str
    intake_flags: tuple[IntakeFlag, ...]
    wires: tuple[Wire, ...] = WIRES
    orientation: tuple[Turned, ...] = ORIENTATION
    placing: tuple[str, ...] = PLACING
    found_running: dict[str, float] = field(default_factory=dict)
    found_mode: str = ""
    alarm_kinds: dict[str, str] = field(default_factory=lambda: {key: kind.name for key, kind in ALARMS.items()})

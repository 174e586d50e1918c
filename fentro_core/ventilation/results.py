"""What the fresh-air page shows."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.airflow.intake import PLACING, IntakeFlag, IntakePlacing
from fentro_core.airflow.page import TraversePage
from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.base.working import Line
from fentro_core.system.fresh_air import Edition, FreshAir, Stage, Stream, VentilatorControl
from fentro_core.ventilation.proof.step import TestKind, VentilatorTestSeen


@dataclass(frozen=True)
class NeedLine:
    """What one edition asks: the whole, what leaks give, what the ventilator must give; minutes an hour with the measured flow.

    `chosen`: the edition that counts here. `set_minutes`: to the control's next step. `enough`: the ventilator can; None: its
    flow is not known.
    """

    edition: Edition
    name: str
    whole: Quantity
    leaks: Quantity
    required: Quantity
    chosen: bool
    minutes_per_hour: float | None = None
    set_minutes: float | None = None
    gives: Quantity | None = None
    effectiveness: float | None = None
    enough: bool | None = None
    lacks: Quantity | None = None
    working: tuple[Line, ...] = ()


@dataclass(frozen=True)
class StreamLine:
    """One stream of the ventilator, as measured: by which way, and why it is not known where it is not."""

    stream: Stream
    name: str
    flow: Quantity | None
    words: Sentence
    entry: str = ""
    port_pa: float | None = None
    slope_m3s_per_pa: float | None = None
    poor: bool = False


@dataclass(frozen=True)
class ControlColumn:
    """The control found, planned, or left: its setting, where somebody said it, with its entry; what it gives.

    Where nobody planned anything, what is proposed would give so much.
    """

    stage: Stage
    control: VentilatorControl | None
    entry: str = ""
    gives: Quantity | None = None
    share: Quantity | None = None
    mark: Mark = "not_measured"


@dataclass(frozen=True)
class StreamDue:
    """A stream and its name, as a test asks for it."""

    stream: Stream
    name: str


@dataclass(frozen=True)
class VentilatorTestLine:
    """A test with its last verdict. `again`: to be repeated before anybody believes it. `hold`, `then`: at its control."""

    key: TestKind
    title: str
    do: Sentence
    asks: tuple[str, ...]
    due: dict[str, str]
    streams: tuple[StreamDue, ...]
    mark: Mark
    words: Sentence
    hold: dict[str, float]
    then: dict[str, float]
    seen: VentilatorTestSeen | None = None
    entry: str = ""
    again: bool = False


@dataclass(frozen=True)
class VentilatorSuspect:
    """A likely cause of what the tests showed."""

    name: str
    do: str
    who: str
    sure: Quantity


@dataclass(frozen=True)
class VentilatorProof:
    """Tests of the ventilator, what they say together, and where to look first."""

    tests: tuple[VentilatorTestLine, ...]
    mark: Mark
    words: Sentence
    done: int
    suspects: tuple[VentilatorSuspect, ...] = ()


@dataclass(frozen=True)
class VentilationPage:
    """Need, flow, run time and control of a dwelling's fresh air; traverses of a ventilator's own ducts."""

    traverses: tuple[TraversePage, ...]
    known: FreshAir
    needs: tuple[NeedLine, ...] = ()
    streams: tuple[StreamLine, ...] = ()
    balance: Quantity | None = None
    balance_mark: Mark = "not_measured"
    balance_words: Sentence | None = None
    controls: tuple[ControlColumn, ...] = ()
    proposed: VentilatorControl | None = None
    words: Sentence | None = None
    mark: Mark = "not_measured"
    proof: VentilatorProof | None = None
    intake: IntakePlacing | None = None
    intake_entry: str = ""
    intake_flags: tuple[IntakeFlag, ...] = ()
    placing: tuple[str, ...] = PLACING
    dwelling_entry: str = ""
    ventilator_entry: str = ""

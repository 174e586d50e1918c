"""What the page of moisture shows."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.leakage.page import ToRead
from fentro_core.moisture.choose import Choice
from fentro_core.moisture.entries import Condensate, MoistureAim, WaterSources
from fentro_core.moisture.proving import DryingProof
from fentro_core.phase.results import Result


@dataclass(frozen=True)
class StatePoint:
    """A state on the chart, or the way of the air through one option: key, words, dry bulb [°C], humidity ratio [kg/kg]."""

    key: str
    name: str
    dry_bulb_c: float
    humidity_ratio: float


@dataclass(frozen=True)
class DryingWay:
    """One way to dry, in words: whether it meets the load and why not, with its way on the chart."""

    key: str
    name: str
    mark: Mark
    words: Sentence
    path: tuple[StatePoint, ...]


@dataclass(frozen=True)
class SourceLine:
    """What one source brings."""

    key: str
    name: str
    brings: Quantity


@dataclass(frozen=True)
class MoisturePage:
    """The coil now, the bucket beside it, the ways to dry, and where the water comes from.

    `mark`, `words`: what the coil does; `bucket`, `bucket_mark`: what the weighed condensate says of it, with what explains a
    difference. `aim_by_unit`: the loads are what the unit takes out now. `reheat_note`: what reheat does, in numbers.
    `proof`: the tests of reheat and bypass, where the unit has them.
    """

    results: tuple[Result, ...] = ()
    missing: tuple[ToRead, ...] = ()
    mark: Mark | None = None
    words: Sentence | None = None
    notes: tuple[Sentence, ...] = ()
    points: tuple[StatePoint, ...] = ()
    condensate: Condensate | None = None
    condensate_entry: str = ""
    bucket_mark: Mark | None = None
    bucket: Sentence | None = None
    explains: tuple[Sentence, ...] = ()
    aim: MoistureAim | None = None
    aim_entry: str = ""
    aim_by_unit: bool = False
    choice: Choice | None = None
    choice_words: Sentence | None = None
    options: tuple[DryingWay, ...] = ()
    reheat_note: Sentence | None = None
    sources: WaterSources | None = None
    sources_entry: str = ""
    brought: tuple[SourceLine, ...] = ()
    sources_mark: Mark | None = None
    sources_words: Sentence | None = None
    proof: DryingProof | None = None

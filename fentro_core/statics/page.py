"""What the page of static pressures shows."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.phase.results import Result


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

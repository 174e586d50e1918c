"""What the page of the return leak test shows."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.phase.results import Result


@dataclass(frozen=True)
class ToRead:
    """What the test still needs, in words, and the station it is read at; "" where the flow is noted another way."""

    words: str
    station: str


@dataclass(frozen=True)
class LeakPage:
    """The return leak test. `opened`: the quick signs that call for it; `begun`: show it; `missing`: still to read."""

    opened: tuple[Sentence, ...]
    begun: bool
    missing: tuple[ToRead, ...]
    come_back: Sentence | None = None
    results: tuple[Result, ...] = ()
    mark: Mark | None = None
    verdict: Sentence | None = None
    disagreement: Sentence | None = None
    explains: tuple[Sentence, ...] = ()
    limit: Sentence | None = None

"""A part of the job: declared, not wired. What it needs gives the order of work; it can read only what it declared."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from types import ModuleType
from typing import TYPE_CHECKING, Any

from fentro_core.base.verdict import Mark
from fentro_core.diagnosis.cause import Cause
from fentro_core.diagnosis.signs import Sign
from fentro_core.diagnosis.symptom import Symptom
from fentro_core.logbook.steps import Caution, CheckItem, StepId
from fentro_core.phase.numbers import Number
from fentro_core.phase.results import Result, VerdictLine
from fentro_core.system.nameplate import Nameplate
from fentro_core.system.stations import PartStations

if TYPE_CHECKING:
    from fentro_core.phase.context import PartContext
    from fentro_core.phase.visit_context import VisitContext


def always(nameplate: Nameplate) -> bool:
    """On every system whose kind has this part."""
    return True


@dataclass(frozen=True, kw_only=True)
class PartResult:
    """What one part says of a phase.

    `page`: what its own page shows, None where there is none now; `mark`: the gravest there, where it calls for a look.
    `verdicts` are listed by gravity; `details` stand behind the others of the same gravity. `gives`: what the parts that need
    this one may use besides its numbers. `speaks`: its lines count before anything was read.
    """

    results: tuple[Result, ...] = ()
    page: Any = None
    verdicts: tuple[VerdictLine, ...] = ()
    details: tuple[VerdictLine, ...] = ()
    symptoms: tuple[Sign, ...] = ()
    mark: Mark | None = None
    gives: Any = None
    speaks: bool = False


@dataclass(frozen=True)
class Course:
    """What a part leaves to be done in a step of the visit, and whether it was begun there."""

    step: StepId
    left: tuple[str, ...] = ()
    begun: bool = False


@dataclass(frozen=True, kw_only=True)
class Part:
    """One part of the job.

    Attributes
    ----------
    key, name
        As in the JSON, and as a technician calls it.
    work
        Works a phase out.
    applies
        Whether a system of a kind that has this part needs it.
    needs
        Keys of the parts whose numbers and hand-overs it reads.
    numbers
        Every number it works out, in the order they are shown.
    page
        Type of its page.
    calculations
        Modules whose calculations can be run by name.
    stations
        Places to read that it adds to a system.
    symptoms, causes, checks, cautions
        Its own.
    course
        What it leaves to be done in a step of the visit.
    subjects
        What a customer calls what its verdicts are about: by a verdict's key, or by how the key begins (up to a colon).
    """

    key: str
    name: str
    work: Callable[[PartContext[Any]], PartResult]
    applies: Callable[[Any], bool] = always
    needs: tuple[str, ...] = ()
    numbers: tuple[Number, ...] = ()
    page: type[Any] | None = None
    calculations: tuple[ModuleType, ...] = ()
    stations: PartStations | None = None
    symptoms: tuple[Symptom, ...] = ()
    causes: tuple[Cause, ...] = ()
    checks: tuple[CheckItem, ...] = ()
    cautions: tuple[Caution, ...] = ()
    course: Callable[[VisitContext], Course] | None = None
    subjects: Mapping[str, str] = field(default_factory=dict)


def in_order(parts: Iterable[Part]) -> tuple[Part, ...]:
    """Parts so that each comes after what it needs; otherwise as given.

    >>> names = in_order((Part(key="b", name="", work=None, needs=("a",)), Part(key="a", name="", work=None)))
    >>> [each.key for each in names]
    ['a', 'b']
    """
    left = list(parts)
    known = {part.key for part in left}
    done: list[Part] = []
    while left:
        placed = {part.key for part in done}
        ready = next((part for part in left if set(part.needs) & known <= placed), None)
        assert ready is not None, f"parts need each other: {', '.join(part.key for part in left)}"
        done.append(ready)
        left.remove(ready)
    return tuple(done)

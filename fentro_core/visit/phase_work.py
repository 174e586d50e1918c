"""One phase of a visit, as found or as left: every part of the job that the system has, then causes, verdicts, air path."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

from fentro_core.base.kept import kept
from fentro_core.base.measured import Measured
from fentro_core.base.quantity import Quantity, quantity
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.machine.findings import findings
from fentro_core.parts import IN_ORDER, Pages, parts_of
from fentro_core.phase import sorted_out
from fentro_core.phase.context import PartContext, PhaseContext
from fentro_core.phase.declaration import Part, PartResult
from fentro_core.phase.numbers import NUMBERS
from fentro_core.phase.results import Result, VerdictLine
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.kinds import KINDS
from fentro_core.visit.results import PhaseResult
from fentro_core.visit.ribbon import ribbon
from fentro_core.visit.verdicts import ranked


class PhaseWork:
    """Works out one phase; `measured` keeps every number with its sources, for comparing phases."""

    def __init__(self, visit: VisitContext, phase: str) -> None:
        self.visit = visit
        self.phase = phase
        self.context = PhaseContext(visit, phase)
        self.parts = parts_of(self.context.kind, self.context.nameplate)
        wanted = {part.key for part in self.parts}
        for part in IN_ORDER:
            if part.key in wanted:
                self.context.done[part.key] = self._worked(part)

    def _worked(self, part: Part) -> PartResult:
        """One part's work. What can't be worked out is said in its place, and keeps nothing else from being shown."""
        try:
            return part.work(PartContext(self.context, part))
        except (Refused, ArithmeticError) as error:
            why = error.sentence if isinstance(error, Refused) else Sentence.of("The readings give no ordinary number.")
            words = Sentence(f"{part.name or part.key.capitalize()} can't be worked out. {why.text}", why.numbers)
            return PartResult(verdicts=(VerdictLine(f"trouble:{part.key}", "not_measured", words),))

    @property
    def measured(self) -> dict[str, Measured]:
        """Every number by key."""
        return self.context.measured

    @property
    def shown(self) -> list[PartResult]:
        """What the parts say, in the order in which they are shown."""
        return [self.context.done[part.key] for part in self.parts]

    @property
    def results(self) -> tuple[Result, ...]:
        """All results once, in the order in which they are shown."""
        return tuple({result.key: result for part in self.shown for result in part.results}.values())

    @kept
    def result(self) -> PhaseResult:
        """Stations, results, pages, verdicts and causes of this phase."""
        plain, context = self.without_causes, self.context
        if not (self._speaks() and KINDS[context.kind].diagnosed):
            return plain
        signs = [sign for part in self.shown for sign in part.symptoms]
        try:
            found = findings(context, signs + context.seen_by_eye(), self.visit.rejected)
        except (Refused, ArithmeticError, ValueError):
            return plain  # readings that no machine gives: what they say by themselves is shown all the same
        lines = ranked(self.shown, found.findings, found.odd, found.before_all)
        return replace(
            plain, verdicts=lines, findings=found.findings, next_check=found.next_check, odd=found.odd, sound=found.sound
        )

    @kept
    def without_causes(self) -> PhaseResult:
        """The same without its causes, which take as long as all the rest."""
        context = self.context
        core = {station.id for station in context.path.stations if station.core}
        return PhaseResult(
            phase=self.phase,
            mode=context.mode,
            stations=tuple(each for each in context.stations if each.readings or each.station in core),
            results=self.results,
            verdicts=ranked(self.shown, ()) if self._speaks() else (),
            ribbon=ribbon(
                context.path,
                context.readings.airs,
                context.measured.get("outdoor_share"),
                context.stations,
                self.visit.used,
                context.measured.get("around_coil"),
            ),
            pages=Pages(**{part.key: context.done[part.key].page for part in self.parts if part.page}),
            followed=self._followed(),
            marks={part.key: mark for part in self.parts if (mark := context.done[part.key].mark) is not None},
        )

    def _speaks(self) -> bool:
        """Something was read or seen: before that nothing is said."""
        read = any(station.readings for station in self.context.stations)
        lines = any(part.details for part in self.shown if part.speaks)
        return read or lines or self.visit.against()

    def _followed(self) -> dict[str, Quantity]:
        """Numbers that are followed over visits; a nominal one never."""
        nominal = {result.key for result in self.results if result.nominal}
        return {
            number.key: quantity(self.measured[number.key], number.kind)
            for number in NUMBERS.values()
            if number.followed and number.key in self.measured and number.key not in nominal
        }


def phase_work(visit: VisitContext, phase: str) -> PhaseWork:
    """A phase worked out, or taken over from the work-up before when it stands on the same.

    A visit is worked out anew with every entry; a reading of one phase leaves the other as it was, and that is half the work.
    """
    return _worked_out(_Ground(visit, phase))


class _Ground:
    """All that a phase stands on: its own latest readings, and all entries that are no readings. Compared by what it says."""

    def __init__(self, visit: VisitContext, phase: str) -> None:
        self.visit, self.phase = visit, phase
        snapshot = visit.snapshot
        entries = [*visit.readings(phase), *visit.others]
        self.ids = (phase, *(entry.id for entry in entries))
        self.says = (phase, entries, snapshot.instruments, snapshot.system, snapshot.site)

    def __hash__(self) -> int:
        return hash(self.ids)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Ground) and self.says == other.says


KEPT = 160
"""Phases kept worked out: of thirty visits that go on at the same time."""


@lru_cache(maxsize=KEPT)
def _worked_out(ground: _Ground) -> PhaseWork:
    return PhaseWork(ground.visit, ground.phase)


def forget() -> None:
    """Keep no phase that was worked out before, and no logbook sorted."""
    _worked_out.cache_clear()
    sorted_out.forget()

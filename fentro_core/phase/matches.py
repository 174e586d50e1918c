"""The probe matches of a visit: offsets by probe and quantity, what they bring, and which probe can't be right."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import sqrt

from fentro_core.base.quantity import Quantity, difference_kind
from fentro_core.base.quick import quick
from fentro_core.base.sentence import Sentence
from fentro_core.base.units import KINDS
from fentro_core.instruments.instrument import Instrument, measured_reading
from fentro_core.instruments.matching import Offset, mean_accuracy, offsets
from fentro_core.instruments.quantities import READABLE
from fentro_core.logbook.entries import Match
from fentro_core.logbook.entry import Entry
from fentro_core.phase.results import MatchedLine, MatchResult


@quick
@dataclass(frozen=True)
class Known:
    """A probe's offset of one match; `shared`: half-width of the mean of all its probes."""

    match: str
    offset: Offset
    shared: float


class Matches:
    """The latest match of each probe and quantity counts."""

    def __init__(self, entries: Iterable[Entry], instruments: Iterable[Instrument]) -> None:
        self.instruments = {instrument.id: instrument for instrument in instruments}
        self.labels: dict[str, str] = {}
        self.results: list[MatchResult] = []
        self._known: dict[tuple[str, str], Known] = {}
        for entry in entries:
            if isinstance(entry.body, Match):
                self._add(entry, entry.body)

    def of(self, quantity: str, instrument: str) -> Known | None:
        """What is known of this probe in this quantity."""
        return self._known.get((quantity, instrument))

    def _add(self, entry: Entry, match: Match) -> None:
        name = READABLE[match.quantity].name
        found = offsets(match.probes)
        accuracies = [self._accuracy(match.quantity, probe.instrument, probe.mean, entry.at) for probe in match.probes]
        shared = mean_accuracy(accuracies)
        self.labels[f"match:{entry.id}"] = f"Matched probes, {name.lower()} in common"
        for offset in found:
            self.labels[f"match:{entry.id}:{offset.instrument}"] = f"{self._name(offset.instrument)}, scatter in the match"
            self._known[match.quantity, offset.instrument] = Known(entry.id, offset, shared)
        kind = READABLE[match.quantity].kind
        difference = difference_kind(kind)
        lines = tuple(
            MatchedLine(
                probe.instrument,
                self._name(probe.instrument),
                Quantity(probe.mean, accuracy, kind),
                Quantity(offset.offset, offset.plus_minus, difference),
                Quantity(accuracy, 0.0, difference),
            )
            for probe, offset, accuracy in zip(match.probes, found, accuracies, strict=True)
        )
        self.results.append(
            MatchResult(
                entry.id,
                match.quantity,
                name,
                lines,
                before=Quantity(_widest_two(accuracies), 0.0, difference),
                after=Quantity(_widest_two([offset.plus_minus for offset in found]), 0.0, difference),
                trouble=self._trouble(found, accuracies, difference),
            )
        )

    def _accuracy(self, quantity: str, instrument: str, value: float, at: str) -> float:
        """The common part of the probe's half-width at this value, overdue or not."""
        si_unit = KINDS[READABLE[quantity].kind].si
        measured = measured_reading(
            quantity, si_unit.from_si(value), si_unit.key, "own", self.instruments.get(instrument), at, None
        )
        return sqrt(sum(part * part for source, part in measured.parts.items() if source != "own")) or measured.plus_minus

    def _name(self, instrument: str) -> str:
        known = self.instruments.get(instrument)
        return known.name if known else instrument

    def _trouble(self, found: Sequence[Offset], accuracies: Sequence[float], kind: str) -> Sentence | None:
        """Two probes further apart than both accuracies combined: one of them can't be right."""
        worst: tuple[float, int, int] | None = None
        for first in range(len(found)):
            for second in range(first + 1, len(found)):
                apart = abs(found[first].offset - found[second].offset)
                allowed = sqrt(accuracies[first] ** 2 + accuracies[second] ** 2)
                if apart > allowed and (worst is None or apart - allowed > worst[0]):
                    worst = (apart - allowed, first, second)
        if worst is None:
            return None
        _, first, second = worst
        return Sentence.of(
            f"{self._name(found[first].instrument)} and {self._name(found[second].instrument)} differ by {{apart}}; "
            "their accuracies allow {allowed}. One of them can't be right: compare both with a third.",
            apart=(abs(found[first].offset - found[second].offset), kind),
            allowed=(sqrt(accuracies[first] ** 2 + accuracies[second] ** 2), kind),
        )


def _widest_two(widths: Sequence[float]) -> float:
    """Half-width of a difference of the two least sure."""
    return sqrt(sum(width * width for width in sorted(widths)[-2:]))

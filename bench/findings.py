"""How often the true cause comes first, or in the first three, and how often a sound system is accused.

Two disjoint sets of visits; the rules were tuned on the first alone. Twenty seeds each: another instrument error, other
readings left out.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

from bench.examples import HELD, TUNED
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.visit.work_up import work_up
from fentro_standins.plant.visit import Case, visit

SEEDS = 20


@dataclass
class Score:
    """Counts of one fault or of a whole set."""

    visits: int = 0
    first: int = 0
    three: int = 0
    silent: int = 0
    taken_for: dict[str, int] = field(default_factory=lambda: defaultdict(int))


def causes_of(case: Case, seed: int) -> list[tuple[str, bool]]:
    """Causes proposed, best first, each with whether it is called likely."""
    found = work_up(read_snapshot(visit(case, seed))).phases[0].findings
    return [(each.key, each.likely) for each in found if each.why_not is None]


def score(cases: Iterable[Case], seeds: int = SEEDS) -> dict[str, Score]:
    """By fault, over all its units and seeds."""
    scores: dict[str, Score] = defaultdict(Score)
    for case in cases:
        line = scores[case.key.split("/")[0]]
        for seed in range(seeds):
            named = [key for key, _ in causes_of(case, seed)]
            line.visits += 1
            line.first += bool(named) and named[0] in case.truth
            line.three += any(key in case.truth for key in named[:3])
            line.silent += not named
            if named and named[0] not in case.truth:
                line.taken_for[named[0]] += 1
    return scores


def accused(cases: Iterable[Case], seeds: int = SEEDS) -> tuple[int, int, dict[str, int]]:
    """Sound visits, how many of them got a likely cause, and which."""
    visits = wrong = 0
    causes: dict[str, int] = defaultdict(int)
    for case in cases:
        for seed in range(seeds):
            likely = [key for key, is_likely in causes_of(case, seed) if is_likely]
            visits += 1
            wrong += bool(likely)
            for key in likely[:1]:
                causes[key] += 1
    return visits, wrong, causes


def told(name: str, faulty: list[Case], sound: list[Case], seeds: int) -> Iterator[str]:
    """Each fault of a set, then how far the aims are met."""
    scores = score(faulty, seeds)
    yield f"{name}: {len(faulty)} faulty and {len(sound)} sound visits, {seeds} seeds each"
    for fault, line in scores.items():
        wrong = ", ".join(f"{cause} {count}" for cause, count in sorted(line.taken_for.items(), key=lambda item: -item[1])[:3])
        yield (
            f"  {fault:33} first {line.first / line.visits:5.0%}   in three {line.three / line.visits:5.0%}"
            f"   nothing said {line.silent / line.visits:4.0%}   {wrong}"
        )
    total = sum(line.visits for line in scores.values())
    first, three = (sum(getattr(line, part) for line in scores.values()) / total for part in ("first", "three"))
    visits, wrong_count, causes = accused(sound, seeds)
    yield f"  all: first {first:.1%} (aim 70 %), in the first three {three:.1%} (aim 90 %)"
    yield f"  sound systems accused: {wrong_count} of {visits}, {wrong_count / visits:.1%} (aim under 3 %) {dict(causes) or ''}"


@dataclass(frozen=True)
class Told:
    """A line of the report that is no ratio."""

    text: str

    def line(self) -> str:
        """As it is."""
        return self.text


def rows(seeds: int = SEEDS) -> Iterator[Told]:
    """Both sets."""
    for name, (faulty, sound) in (("set the rules were tuned on", TUNED), ("held set", HELD)):
        yield from (Told(line) for line in told(name, faulty, sound, seeds))

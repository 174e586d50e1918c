"""How often causes are right on the stranger's visits, and how much a word is worth: printed by `bin/bench stranger`."""

from __future__ import annotations

import time
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

from bench.findings import Told
from bench.stranger import coverage
from bench.stranger.faults import FAULTS, SOUNDS, Case, all_cases, pairs
from bench.stranger.technician import Technician
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.visit.work_up import work_up

LOOKS = 4
SEED = 46005402
"""Changed after the last change of a rule: the figures that are told are those of visits nobody has looked at."""


@dataclass
class Outcome:
    """One visit: causes told, best first; which of them faintly, which as likely; those before any look; time taken."""

    case: Case
    named: list[str]
    faint: list[str]
    likely: list[str]
    before: list[str]
    seconds: float
    chance: float = 0.0
    looks: list[str] = field(default_factory=list)

    @property
    def first(self) -> bool:
        """A true cause is named first."""
        return bool(self.named) and self.named[0] in self.case.right

    @property
    def in_three(self) -> bool:
        """A true cause is among the first three."""
        return any(each in self.case.right for each in self.named[:3])

    @property
    def in_three_named(self) -> bool:
        """A true cause is among the first three, and more than faint."""
        return any(each in self.case.right and each not in self.faint for each in self.named[:3])


def visited(case: Case, looks: int = LOOKS) -> Outcome:
    """A whole visit: read, then so many looks answered as they are asked for."""
    technician = Technician(case)
    asked: list[str] = []
    seconds, before = 0.0, []
    left = looks
    while True:
        snapshot = read_snapshot(technician.snapshot())
        begun = time.perf_counter()
        phase = work_up(snapshot).phases[0]
        seconds = max(seconds, time.perf_counter() - begun)
        named = [each.key for each in phase.findings if each.why_not is None]
        before = before if asked else named
        check = phase.next_check
        if check is None or not left:
            break
        asked.append(check.key)
        left -= technician.look(check)
    faint = [each.key for each in phase.findings if each.why_not is None and each.faint]
    likely = [each.key for each in phase.findings if each.why_not is None and each.likely]
    chance = next((each.chance for each in phase.findings if each.why_not is None), 0.0)
    return Outcome(case, named, faint, likely, before, seconds, chance, asked)


def told(outcomes: list[Outcome], sound: list[Outcome], both: list[Outcome]) -> Iterator[str]:
    """Every kind, then the whole."""
    by_kind: dict[str, list[Outcome]] = defaultdict(list)
    for each in outcomes:
        by_kind[each.case.kind].append(each)
    for kind, some in by_kind.items():
        wrong = Counter(each.named[0] if each.named else "nothing" for each in some if not each.first)
        yield (
            f"  {kind:32} first {_share(some, 'first')}  in three {_share(some, 'in_three')}"
            f"  before looks {sum(bool(e.before) and e.before[0] in e.case.truths for e in some) / len(some):4.0%}"
            f"  {', '.join(f'{cause} {count}' for cause, count in wrong.most_common(3))}"
        )
    yield f"  all {len(outcomes)}: first {_share(outcomes, 'first')}, in three {_share(outcomes, 'in_three')} (aims 85, 95 %)"
    yield f"  in three, those told faintly left out: {_share(outcomes, 'in_three_named')}"
    worse = sum(_place(each.named, each.case) > _place(each.before, each.case) for each in outcomes)
    yield f"  true cause stands lower after the looks: {worse / len(outcomes):.0%}"
    likely = [each for each in outcomes if each.likely]
    wrong_word = sum(each.likely[0] not in each.case.right for each in likely)
    yield f"  called likely and wrong: {wrong_word} of {len(outcomes)}, {wrong_word / len(outcomes):.1%} (aim under 3 %)"
    for low, high in ((0.06, 0.2), (0.2, 0.4), (0.4, 0.6), (0.6, 0.8), (0.8, 0.9), (0.9, 0.97), (0.97, 1.01)):
        said = [each for each in (*outcomes, *sound) if low <= each.chance < high]
        if said:
            mean = sum(each.chance for each in said) / len(said)
            yield f"  said {mean:4.0%} on the mean: right {_share(said, 'first')} of {len(said)}"
    for kind, some in _grouped(sound).items():
        accused = Counter(each.likely[0] for each in some if each.likely)
        yield f"  {kind:32} accused {sum(accused.values())}/{len(some)}  {dict(accused) or ''}"
    count = sum(bool(each.likely) for each in sound)
    yield f"  sound accused: {count} of {len(sound)}, {count / len(sound):.1%} (aim under 2 %)"
    if both:
        two = sum(set(each.case.truths) <= set(each.named[:3]) for each in both)
        yield f"  two faults, {len(both)}: one of them first {_share(both, 'first')} (aim 90 %)"
        yield f"  both in the first three {two / len(both):.0%} (aim 50 %)"
    times = sorted(each.seconds for each in (*outcomes, *sound))
    middle, late = (1000 * times[int(share * len(times))] for share in (0.5, 0.95))
    yield f"  whole work-up: median {middle:.0f} ms, 95th percentile {late:.0f} ms"


def _place(named: list[str], case: Case) -> int:
    return next((at for at, each in enumerate(named) if each in case.truths), 99)


def _grouped(outcomes: Iterable[Outcome]) -> dict[str, list[Outcome]]:
    found: dict[str, list[Outcome]] = defaultdict(list)
    for each in outcomes:
        found[each.case.kind].append(each)
    return found


def _share(outcomes: list[Outcome], what: str) -> str:
    return f"{sum(getattr(each, what) for each in outcomes) / len(outcomes):4.0%}"


def rows(seed: int = SEED, rounds: int = 5, sounds: int = 10, two: int = 60) -> Iterator[Told]:
    """So many rounds of every kind."""
    faulty, sound = all_cases(seed, rounds * len(FAULTS), sounds * len(SOUNDS))
    yield Told(f"half-widths, seed {seed}")
    yield from coverage.rows(seed)
    yield Told(f"visits of a stranger's machines, seed {seed}: {len(faulty)} faulty, {len(sound)} sound, {two} with two faults")
    outcomes = [visited(case) for case in faulty]
    yield from (
        Told(line) for line in told(outcomes, [visited(case) for case in sound], [visited(case) for case in pairs(seed, two)])
    )

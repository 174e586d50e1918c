"""The causes a phase points to, in words: what speaks for each, what against, and what to look at next."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from fentro_core.findings.causes import CAUSES, PART_NAMES
from fentro_core.findings.engine import NextLook, Ranked, fits, next_look, rank
from fentro_core.findings.signs import LOOKS
from fentro_core.sentence import Sentence
from fentro_core.visit.bench import Bench
from fentro_core.visit.observed import Observed
from fentro_core.visit.results import Finding, NextCheck, RailLine

MOST_SHOWN = 6

Rejected = Mapping[str, tuple[str, str]]
"""Why a cause was ruled out and by which entry, by cause."""


def findings(bench: Bench, observed: Observed) -> tuple[tuple[Finding, ...], NextCheck | None]:
    """The leading causes and the next best look; causes that were ruled out stand last, with the reason."""
    rejected = bench.scene.rejected
    ranked = rank(observed.states, bench.mode, bench.kind, observed.sure)
    standing = [each for each in ranked if each.cause.key not in rejected]
    stations = {station.id for station in bench.path.stations}
    following = next_look(standing, observed.states, bench.mode, bench.kind, stations)
    shown = [_finding(each, observed) for each in standing[:MOST_SHOWN]]
    for key, (why, entry) in rejected.items():
        shown.append(_finding(fits(CAUSES[key], observed.states, observed.sure), observed, why, entry))
    return tuple(shown), _check(following) if following else None


def _finding(each: Ranked, observed: Observed, why_not: str | None = None, rejection: str | None = None) -> Finding:
    cause, proof = each.cause, LOOKS[each.cause.proof]

    def said(keys: Iterable[str]) -> tuple[Sentence, ...]:
        return tuple(observed.words[key] for key in keys)

    return Finding(
        key=cause.key,
        name=cause.name,
        part=PART_NAMES[cause.part],
        fit=round(each.fit, 2),
        likely=each.likely,
        why=cause.why,
        do=cause.do,
        who=cause.who,
        caution=cause.caution,
        check=proof.ask,
        check_minutes=proof.minutes,
        check_who=proof.who,
        seen=said(each.seen),
        ordinary=said(each.ordinary),
        against=said(each.against),
        unexplained=said(each.unexplained),
        why_not=why_not,
        rejection=rejection,
    )


def _check(following: NextLook) -> NextCheck:
    look = following.look
    return NextCheck(
        key=look.key,
        title=look.title,
        ask=look.ask,
        minutes=look.minutes,
        who=look.who,
        caution=look.caution,
        by_eye=look.by_eye,
        stations=look.stations,
        between=tuple(CAUSES[key].name for key in following.between),
        bits=round(following.bits, 3),
    )


def rail_lines(found: tuple[Finding, ...]) -> list[RailLine]:
    """The leading cause, when two signs or more speak for it."""
    leading = next((each for each in found if each.why_not is None), None)
    if leading is None:
        return []
    signs = len(leading.seen)
    counted = f"{signs} sign{'s' if signs > 1 else ''} for it, {len(leading.against)} against"
    if not leading.likely:
        words = f"One sign alone is no cause. First to look at: {leading.name.lower()}."
        return [RailLine("first_look", None, Sentence.of(words), None, (), opens="causes")]
    words = f"Most likely: {leading.name.lower()} ({counted})."
    return [RailLine("finding", None, Sentence.of(words), None, (Sentence.of(leading.check),), opens="causes")]

"""The causes a phase points to, in words: what speaks for each, what against, and what to look at next."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping

from fentro_core.base.sentence import Sentence
from fentro_core.diagnosis.cause import CAUSES
from fentro_core.diagnosis.engine import NextLook, Ranked, fits, next_look, rank
from fentro_core.diagnosis.results import Finding, NextCheck
from fentro_core.diagnosis.signs import Sign
from fentro_core.diagnosis.symptom import SYMPTOMS

MOST_SHOWN = 6

Rejected = Mapping[str, tuple[str, str]]
"""Why a cause was ruled out and by which entry, by cause."""


def findings(
    signs: Iterable[Sign], rejected: Rejected, *, mode: str, kind: str, stations: Collection[str]
) -> tuple[tuple[Finding, ...], NextCheck | None]:
    """The leading causes and the next best look; causes that were ruled out stand last, with the reason.

    Parameters
    ----------
    mode, kind : str
        ``cooling``, ``heating`` or ""; the kind of system.
    stations : collection
        Ids of the stations this system has.
    """
    ordered = sorted(signs, key=lambda each: each.group)
    words = {each.symptom: each.words for each in ordered}
    places = {each.symptom: each.place for each in ordered if each.place}
    states = {each.symptom: each.state for each in ordered}
    sure = {each.symptom: each.sure for each in ordered}
    ranked = rank(states, mode, kind, sure)
    standing = [each for each in ranked if each.cause.key not in rejected]
    following = next_look(standing, states, mode, kind, stations)
    shown = [_finding(each, words, places) for each in standing[:MOST_SHOWN]]
    for key, (why, entry) in rejected.items():
        shown.append(_finding(fits(CAUSES[key], states, sure), words, places, why, entry))
    return tuple(shown), _check(following) if following else None


def _finding(
    each: Ranked,
    words: Mapping[str, Sentence],
    places: Mapping[str, str],
    why_not: str | None = None,
    rejection: str | None = None,
) -> Finding:
    cause, proof = each.cause, SYMPTOMS[each.cause.proof]
    place = next((places[key] for key in each.seen if key in places), "")

    def said(keys: Iterable[str]) -> tuple[Sentence, ...]:
        return tuple(words[key] for key in keys)

    return Finding(
        key=cause.key,
        name=f"{cause.name}: {place}" if place else cause.name,
        part=cause.area,
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

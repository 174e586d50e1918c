"""A cause and a look in words: what speaks for it, what against."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from fentro_core.base.sentence import Sentence
from fentro_core.diagnosis.cause import CAUSES, Cause
from fentro_core.diagnosis.engine import Ranked
from fentro_core.diagnosis.people import BY_SKILL, CIRCUIT, FLAMMABLE
from fentro_core.diagnosis.places import AT, EACH_MORE_MINUTES
from fentro_core.diagnosis.results import Choice, Finding, NextCheck
from fentro_core.diagnosis.signs import Sign
from fentro_core.diagnosis.symptom import SYMPTOMS, Symptom
from fentro_core.system.nameplate import CoolingNameplate, Nameplate

Rejected = Mapping[str, tuple[str, str]]
"""Why a cause was ruled out and by which entry, by cause."""


@dataclass(frozen=True)
class Said:
    """The sentence of every symptom, and its place, by key, in the order in which they are told."""

    words: Mapping[str, Sentence]
    places: Mapping[str, str]


def words_of(signs: Iterable[Sign]) -> Said:
    """What the signs of a phase say."""
    ordered = sorted(signs, key=lambda each: each.group)
    return Said({each.symptom: each.words for each in ordered}, {each.symptom: each.place for each in ordered if each.place})


FLAMMABLE_ONES = ("R-32", "R-454B")
"""Of class A2L in ASHRAE Standard 34: they burn, slowly."""


def caution(of: Cause | Symptom, plate: Nameplate) -> str:
    """The cautions beside a cause or a look at this machine."""
    told = [of.caution] if of.caution else []
    if not isinstance(plate, CoolingNameplate):
        return of.caution
    if of.by_flame and plate.burns_gas:
        told.append(of.by_flame)
    if of.caution == CIRCUIT and plate.refrigerant in FLAMMABLE_ONES:
        told.append(FLAMMABLE.format(refrigerant=plate.refrigerant))
    return " ".join(told)


def finding(
    each: Ranked,
    plate: Nameplate,
    said: Said,
    chance: float,
    likely: bool,
    why_not: str | None = None,
    rejection: str | None = None,
    faint: bool = False,
) -> Finding:
    """A cause in words. `faint`: nothing wrong fits far better."""
    words, places = said.words, said.places
    cause, proof = each.cause, SYMPTOMS[each.cause.proof]
    place = next((places[key] for key in each.seen if key in places), "")

    def told(keys: Iterable[str]) -> tuple[Sentence, ...]:
        return tuple(words[key] for key in words if key in keys)

    return Finding(
        key=cause.key,
        name=f"{cause.name}: {place}" if place else cause.name,
        part=cause.area,
        chance=round(chance, 3),
        likely=likely,
        why=cause.why,
        do=cause.do,
        who=cause.who,
        caution=caution(cause, plate),
        check=proof.ask,
        check_minutes=proof.minutes,
        check_who=proof.who,
        seen=told(each.seen),
        ordinary=told(each.ordinary),
        against=told(each.against),
        unexplained=told(each.unexplained),
        by_signs=bool(cause.apart),
        why_not=why_not,
        rejection=rejection,
        faint=faint,
    )


def check(look: Symptom, plate: Nameplate, between: Iterable[str], bits: float, beside: Sequence[Symptom] = ()) -> NextCheck:
    """A look in words; with what is seen beside it at the same place."""
    all_there = (look, *beside)
    return NextCheck(
        key=look.key,
        title=look.title,
        ask=AT[look.place] if beside else look.ask,
        minutes=max(each.minutes for each in all_there) + EACH_MORE_MINUTES * len(beside),
        who=max((each.who for each in all_there), key=BY_SKILL.index),
        caution=max((caution(each, plate) for each in all_there), key=len),
        by_eye=look.by_eye,
        stations=look.stations,
        between=tuple(CAUSES[key].name for key in between),
        bits=round(bits, 3),
        choices=tuple(Choice(each.key, each.ask) for each in all_there) if beside else (),
        item=look.item,
    )

"""The causes a phase points to, in words: how likely each is, what speaks for it and against, and what to look at next."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from math import exp

from fentro_core.base.sentence import Sentence
from fentro_core.diagnosis.cause import CAUSES
from fentro_core.diagnosis.engine import Ranked, fits, fitting, rank
from fentro_core.diagnosis.engine import next_look as next_look_apart
from fentro_core.diagnosis.findings import Rejected, check, finding, words_of
from fentro_core.diagnosis.people import FLAME
from fentro_core.diagnosis.results import Finding, NextCheck
from fentro_core.diagnosis.signs import Sign
from fentro_core.diagnosis.symptom import SYMPTOMS
from fentro_core.machine.judge import POOR_BY, SAME, Judged, Judging
from fentro_core.machine.looks import FEW, next_look
from fentro_core.machine.site import AIRS, Site, site_of
from fentro_core.phase.context import PhaseContext

CALLED, ARROW = "heater_called", "arrow"
TURNED_FROM_K = 3.0
"""A blower alone warms the air by one or two; warmed by so much where it cools, return and supply may be mixed up. Ours."""

MOST_SHOWN = 6
SHOWN_FROM, NAMED_FROM, BESIDE_SOUND = 0.06, 0.15, 0.33
"""Causes are shown from the first chance on, once the likeliest has the second, and the third share of a sound machine's."""

FAINT_FROM, READ_FROM = 0.008, 2
"""Up to `FEW` causes, from this chance on, are told as faint where fewer are worth a name and so much was read: where to begin,
should there be a complaint all the same. No report and no verdict tells them."""

LOOKS_UNTIL = 0.9
"""Chance of a sound machine from which no look is worth its minutes."""

LIKELY_FROM = 0.9
"""Chance from which a cause is called likely: on machines it was not set on it was then right in nine of ten (docs/method.md)."""

SIGNS_NEEDED = 2
"""Never one alone."""

APART = 3.0
"""What stands in the rooms, zones or their damp is weighed by signs: a fit this good counts as a half. Ours."""


@dataclass(frozen=True)
class Weighed:
    """The leading causes, those that were ruled out last; the next look; readings that fit nothing; chance of a sound machine.

    `before_all`: what the next look asks, where it comes before any cause.
    """

    findings: tuple[Finding, ...] = ()
    next_check: NextCheck | None = None
    odd: tuple[Sentence, ...] = ()
    sound: float = 0.0
    before_all: str = ""


PLACES = {
    **{f"{station}_t": (station, "dry bulb") for station in AIRS},
    **{f"{station}_w": (station, "humidity") for station in AIRS},
    **{f"{tap}_static": (f"{tap}_static", "static pressure") for tap in ("return", "filter", "coil_out", "supply")},
    "flow": ("return", "airflow"),
    "suction_t": ("suction_line", "pipe temperature"),
    "liquid_t": ("liquid_line", "pipe temperature"),
    "evaporating_t": ("suction_line", "gauge pressure"),
    "condensing_t": ("liquid_line", "gauge pressure"),
    "amps": ("outdoor_unit", "current"),
    "heater_w": ("heater", "electric power"),
}
"""Where a reading of the model was taken, and what it is."""


def findings(phase: PhaseContext, signs: Iterable[Sign], rejected: Rejected) -> Weighed:
    """What a phase's readings and signs point to."""
    told = list(signs)
    states = {each.symptom: each.state for each in told}
    sure = {each.symptom: each.sure for each in told}
    site = site_of(phase)
    called = "cooling" if site is None or site.cooling else "heating"
    mode = called if site is not None and site.read else phase.mode or called
    causes = [each for each in fitting(mode, phase.kind) if not each.apart and each.key not in rejected]
    judged = Judging(site, causes, states).judged()
    apart = [each for each in rank(states, phase.mode, phase.kind, sure) if each.cause.apart and each.cause.key not in rejected]
    said = words_of(told)
    machines = _of_machine(judged, states, sure)
    faint = {each.cause.key for _, each, faint in machines if faint}
    # Air that gets warmer in a unit that cools: before anything is likely, which way does it flow?
    turned = site is not None and site.cooling and _warmed(phase) >= TURNED_FROM_K and states.get(ARROW) != "agrees"
    lines = [(chance, not turned and _likely(chance, each.cause.key, judged), each) for chance, each, _ in machines]
    lines += [(chance, each.likely, each) for chance, each in shared(apart)]
    lines = _hazard_first(sorted(lines, key=lambda line: -round(line[0], SAME)))
    found = [
        finding(each, phase.nameplate, said, chance, likely, faint=each.cause.key in faint)
        for chance, likely, each in lines[:MOST_SHOWN]
    ]
    for key, (why, entry) in rejected.items():
        found.append(finding(fits(CAUSES[key], states, sure), phase.nameplate, said, 0.0, False, why, entry))
    sound = round(judged.sound, 3)
    stations = {station.id for station in phase.path.stations}
    # What is known is not asked: probes that were matched are, also where that says neither that they agree nor that they differ.
    known = [("match", bool(phase.visit.matches.results)), (CALLED, bool(phase.auxiliary))]
    cant = phase.visit.cant(phase.phase).union(key for key, already in known if already)
    first = _before_all(site, turned)
    if first and first not in cant and first not in states:
        asked = check(SYMPTOMS[first], phase.nameplate, (), 0.0)
        return Weighed(tuple(found), asked, _odd(phase, judged), sound, before_all=asked.ask)
    if judged.sound < LOOKS_UNTIL:
        look = next_look(judged, states, cant, mode=mode, kind=phase.kind, stations=stations)
        if look is not None:
            asked = check(look.look, phase.nameplate, look.between, look.bits, look.beside)
            return Weighed(tuple(found), asked, _odd(phase, judged), sound)
    answered = {**states, **dict.fromkeys(cant, "")}
    following = next_look_apart(apart, answered, phase.mode, phase.kind, stations)
    then = check(following.look, phase.nameplate, following.between, following.bits) if following else None
    return Weighed(tuple(found), then, _odd(phase, judged), sound)


def _before_all(site: Site | None, turned: bool) -> str:
    """What is asked before all else, for without it readings mean nothing; "" where nothing is.

    A dead heater draws what one draws that nobody calls; and air that runs the other way makes every reading another one's.
    """
    if site is not None and site.pump and not site.cooling and "heater_w" in site.read:
        return CALLED
    return ARROW if turned else ""


def _warmed(phase: PhaseContext) -> float:
    """By how much the supply was read warmer than the return."""
    airs = phase.readings.airs
    return airs["supply"].dry_bulb.value - airs["return"].dry_bulb.value if {"return", "supply"} <= set(airs) else 0.0


UNEXPLAINED = "Nothing in the list explains what was read. Read again what surprises; then look for what is not listed."


def _odd(phase: PhaseContext, judged: Judged) -> tuple[Sentence, ...]:
    """What is to be read again; where that names nothing and yet nothing fits, so much."""
    names = {station.id: station.name for station in phase.path.stations}
    told = [PLACES[name] for name in judged.odd if name in PLACES and PLACES[name][0] in names]
    if not told and judged.misses >= POOR_BY:
        return (Sentence(UNEXPLAINED),)
    return tuple(Sentence(f"Read again: {names[at]}, {what}. It fits neither a sound unit nor any cause.") for at, what in told)


def shared(apart: Iterable[Ranked]) -> list[tuple[float, Ranked]]:
    """Causes of rooms, zones and damp with their chances: those that explain the same things seen share one, by their fit."""
    groups: dict[tuple[str, ...], list[Ranked]] = {}
    for each in apart:
        groups.setdefault(tuple(sorted(each.seen)), []).append(each)
    found = []
    for group in groups.values():
        best = max(each.fit for each in group)
        whole = sum(exp(each.fit - best) for each in group)
        found += [(best / (best + APART) * exp(each.fit - best) / whole, each) for each in group]
    return found


TIE = 0.85
"""Chances nearer to each other than this share are a tie."""


def _hazard_first(lines: list[tuple[float, bool, Ranked]]) -> list[tuple[float, bool, Ranked]]:
    """Of causes that are as likely as each other, those first that can hurt somebody while they wait."""
    found = list(lines)
    for at in range(len(found) - 1, 0, -1):
        above, below = found[at - 1], found[at]
        tied = below[0] >= TIE * above[0] and above[1] == below[1]
        if tied and below[2].cause.caution == FLAME and above[2].cause.caution != FLAME:
            found[at - 1], found[at] = below, above
    return found


def _likely(chance: float, cause: str, judged: Judged) -> bool:
    """By its chance, by two signs or more, and where something explains what was read at all."""
    return chance >= LIKELY_FROM and judged.backed.get(cause, 0) >= SIGNS_NEEDED and judged.misses < POOR_BY


def _of_machine(judged: Judged, states: Mapping[str, str], sure: Mapping[str, float]) -> list[tuple[float, Ranked, bool]]:
    """Causes of the machine that are worth a word, the likeliest first; whether each is faint."""
    keys = {key for keys in judged.chances for key in keys}
    chances = sorted(((judged.of(key), key) for key in keys), key=lambda each: (-round(each[0], SAME), each[1]))
    first = chances[0][0] if chances else 0.0
    named_from = max(BESIDE_SOUND * judged.sound, NAMED_FROM)
    shown = [each for each in chances if each[0] >= SHOWN_FROM][:MOST_SHOWN] if first >= named_from else []
    if judged.weights is not None and len(judged.weights.names) >= READ_FROM:
        shown += [each for each in chances[len(shown) : FEW] if each[0] >= FAINT_FROM]
    return [(chance, fits(CAUSES[key], states, sure), first < named_from or chance < SHOWN_FROM) for chance, key in shown]

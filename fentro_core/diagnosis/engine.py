"""Ranks causes by what is seen for them less what is seen against, and picks the look that separates the leading ones best."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from functools import cache
from math import exp, log2

from fentro_core.base.quick import quick
from fentro_core.diagnosis.cause import CAUSES, Cause
from fentro_core.diagnosis.signs import CLEAR_FROM
from fentro_core.diagnosis.symptom import SYMPTOMS, Symptom

ORDINARY_WEIGHT = 0.2
"""A thing in its ordinary state, where a cause leaves it ordinary, counts a fifth of a sign."""

TELLING_WEIGHT = 2.0
UNEXPLAINED_WEIGHT = 0.75
"""A thing out of order that a cause says nothing about counts against it, a little less than a sign against."""

RARE = 0.5
"""A rare cause stands this much behind a common one of the same fit."""

CONVINCED_FROM = 2.0
"""Signs out of order that a cause needs before it is called likely: never one sign alone."""

LEADING_WITHIN = 2.5
MOST_LEADING = 6
TRUST = 0.85
"""How surely a cause shows what the table says, for weighing the next look."""

States = Mapping[str, str]
Sure = Mapping[str, float]


@quick
@dataclass(frozen=True)
class Ranked:
    """A cause with its signs, by key of the thing looked at. `weight`: signs out of order for it, telling ones double."""

    cause: Cause
    fit: float
    seen: tuple[str, ...]
    ordinary: tuple[str, ...]
    against: tuple[str, ...]
    unexplained: tuple[str, ...]
    weight: float

    @property
    def likely(self) -> bool:
        """Two signs out of order or more, more of them than against."""
        return self.weight >= CONVINCED_FROM and self.weight > len(self.against)


@quick
@dataclass(frozen=True)
class NextLook:
    """The look that is worth its minutes most, and the leading causes it would tell apart."""

    look: Symptom
    bits: float
    between: tuple[str, ...]


@cache
def expected(cause_key: str) -> dict[str, frozenset[str]]:
    """The states a cause shows, by thing looked at."""
    return {key: frozenset(states) for key, states in CAUSES[cause_key].shows.items()}


def out_of_order(states: States, sure: Sure | None = None) -> list[str]:
    """Things that are clearly not as in a sound system."""
    return [
        key
        for key, state in states.items()
        if state != SYMPTOMS[key].ordinary and not SYMPTOMS[key].context and (sure or {}).get(key, 1.0) >= CLEAR_FROM
    ]


@cache
def _shown(cause_key: str) -> dict[str, tuple[frozenset[str], float]]:
    """The states that a cause shows, by thing looked at, and how much it says by each."""
    return {key: (shows, _says(SYMPTOMS[key], shows)) for key, shows in expected(cause_key).items()}


@cache
def _showing(look_key: str, state: str) -> frozenset[str]:
    """Causes that show this state of a thing."""
    return frozenset(key for key in CAUSES if state in expected(key).get(look_key, ()))


def _says(look: Symptom, shows: frozenset[str]) -> float:
    """How much a cause says by what it shows: one state fully, either of two ends half, anything a little."""
    abnormal = len(shows - {look.ordinary})
    return 1.0 if len(shows) == 1 else 0.8 if abnormal == 1 else 0.5 if look.ordinary not in shows else 0.3


Weighed = tuple[str, str, Symptom, bool, float]


def _weighed(states: States, sure: Sure | None) -> list[Weighed]:
    """Each thing seen with its state, whether it is out of order, and what it counts."""
    found = []
    for key, state in states.items():
        look = SYMPTOMS[key]
        weight = (TELLING_WEIGHT if look.telling else 1.0) * (sure or {}).get(key, 1.0)
        found.append((key, state, look, state != look.ordinary and not look.context, weight))
    return found


def fits(cause: Cause, states: States, sure: Sure | None = None) -> Ranked:
    """A cause against the states seen: signs for it, against it, and those it leaves unexplained."""
    return _fits(cause, _weighed(states, sure))


def _fits(cause: Cause, weighed: list[Weighed]) -> Ranked:
    shown = _shown(cause.key)
    seen, ordinary, against, unexplained = [], [], [], []
    fit = -RARE if cause.rare else 0.0
    counted = 0.0
    for key, state, look, abnormal, weight in weighed:
        if key in shown:
            shows, says = shown[key]
            if state not in shows:
                against.append(key)
                fit -= weight
            elif abnormal or (look.context and look.ordinary not in shows):
                seen.append(key)
                fit += weight * says
                counted += weight if abnormal else 0.0
            elif not look.context:
                ordinary.append(key)
                fit += ORDINARY_WEIGHT * weight * says
        elif abnormal and look.apart == cause.apart:
            unexplained.append(key)
            fit -= UNEXPLAINED_WEIGHT * weight
    return Ranked(cause, fit, tuple(seen), tuple(ordinary), tuple(against), tuple(unexplained), counted)


def fitting(mode: str, kind: str) -> list[Cause]:
    """Causes that can be there on this kind of system in this mode."""
    return [
        cause
        for cause in CAUSES.values()
        if (not cause.kinds or kind in cause.kinds) and (not cause.mode or not mode or cause.mode == mode)
    ]


def rank(states: States, mode: str, kind: str, sure: Sure | None = None) -> list[Ranked]:
    """Causes with a sign clearly out of order for them and a fit above zero: best fit first, then the cheapest check.

    `sure`: how surely a thing is in its state, 0 to 1; 1 where it is not said.

    >>> import fentro_core.parts
    >>> states = {"airflow": "low", "filter_drop": "high", "static": "high", "coil_drop": "right"}
    >>> [each.cause.key for each in rank(states, "cooling", "furnace_with_coil")][0]
    'filter_clogged'
    >>> rank({"airflow": "right", "split": "right", "capacity": "right"}, "cooling", "furnace_with_coil")
    []
    """
    clear = set(out_of_order(states, sure))
    if not clear:
        return []
    explains = {key for name in clear for key in _showing(name, states[name])}
    weighed = _weighed(states, sure)
    found = [_fits(cause, weighed) for cause in fitting(mode, kind) if cause.key in explains]
    kept = [each for each in found if each.fit > 0 and clear & set(each.seen)]
    return sorted(kept, key=lambda each: (-each.fit, SYMPTOMS[each.cause.proof].minutes))


def askable(states: States, mode: str, kind: str, stations: Collection[str]) -> list[Symptom]:
    """Looks that have no answer yet and can be had on this system."""
    return [
        look
        for look in SYMPTOMS.values()
        if look.key not in states
        and (not look.kinds or kind in look.kinds)
        and (not look.mode or not mode or look.mode == mode)
        and all(station in stations for station in look.stations)
    ]


def next_look(ranked: list[Ranked], states: States, mode: str, kind: str, stations: Collection[str]) -> NextLook | None:
    """The look with the most expected information about the leading causes for its minutes.

    Each leading cause weighs by its fit; a cause shows what the table says with probability `TRUST`, and where the table says
    nothing, the ordinary state. Information in bits, per square root of minutes: a quick look goes before a long one.
    """
    if not ranked:
        return None
    best = ranked[0].fit
    leading = [each for each in ranked if each.fit > best - LEADING_WITHIN][:MOST_LEADING]
    weights = [exp(each.fit - best) for each in leading]
    prior = [weight / sum(weights) for weight in weights]
    looks = askable(states, mode, kind, stations)
    if len(leading) == 1:
        proof = SYMPTOMS[leading[0].cause.proof]
        return NextLook(proof, 0.0, (leading[0].cause.key,)) if proof in looks else None
    found = [NextLook(look, _gain(look, leading, prior), tuple(each.cause.key for each in leading)) for look in looks]
    worth = [each for each in found if each.bits > 0.01]
    return max(worth, key=lambda each: each.bits / each.look.cost**0.5, default=None)


def _gain(look: Symptom, leading: list[Ranked], prior: list[float]) -> float:
    """Expected information [bits] of a look about which leading cause it is."""
    chances = [_chances(each.cause.key, look.key) for each in leading]
    if all(each == chances[0] for each in chances[1:]):
        return 0.0
    gain = 0.0
    for state in look.states:
        joint = [weight * chance[state] for weight, chance in zip(prior, chances, strict=True)]
        total = sum(joint)
        gain += sum(part * log2(part / (weight * total)) for part, weight in zip(joint, prior, strict=True) if part > 0)
    return gain


@cache
def _chances(cause_key: str, look_key: str) -> dict[str, float]:
    look = SYMPTOMS[look_key]
    shows = expected(cause_key).get(look.key, frozenset({look.ordinary}) if look.ordinary else frozenset(look.states))
    others = [state for state in look.states if state not in shows]
    if not others:
        return dict.fromkeys(look.states, 1 / len(look.states))
    return {state: TRUST / len(shows) if state in shows else (1 - TRUST) / len(others) for state in look.states}

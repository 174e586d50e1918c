"""How likely nothing, each fault, and every two of them together are, by the signs that the tests gave."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Set
from functools import cache, lru_cache
from itertools import combinations
from math import exp, log

from fentro_core.economizer.proof.fault import BACKWARDS, NO_COOLING, STANDS, TRUE_AIR
from fentro_core.economizer.proof.faults import FAULTS, FAULTS_BY_KEY
from fentro_core.economizer.proof.faults_of_stroke import OF_THE_STROKE
from fentro_core.economizer.proof.settings import SETTINGS

FALSE_ALARM = 0.02
"""How often a test is upset on a sound unit. Ours, and cautious: none of 4,250 signs on 100 sound units of the bench."""

ALSO_UPSET = 0.006
"""How often it is upset by something that the fault there is says nothing of. Ours."""

SEEN_AGAIN = 0.2
"""What chance did once it does so much more seldom when the test is repeated; the rest are causes that nobody has written down.
Ours, and cautious."""

AUDIT_FALSE_ALARM = 0.002
"""A probe at the sensor's place says more than a test; so does a setting that was read."""

OF_THE_MACHINE = (NO_COOLING, *TRUE_AIR)
"""Signs of the audit that stand on a state which the machine was brought to, not on one sensor in its air."""

NEVER_HIDDEN = (*OF_THE_MACHINE, *SETTINGS, STANDS, BACKWARDS)
"""No other fault hides the machine from a probe, a setting from whoever reads it, nor an actuator's own answer."""

SOUND_BEFOREHAND = 0.35

PAIR_SHARE = 0.35
"""How often there is a second fault where there is one. Ours."""

HIDDEN_AT_MOST, BOTH_AT_MOST = 0.85, 0.95
"""One fault may hide what the other shows: how sure a sign of one of two, and of both, can be. Ours."""

STROKE = {fault.key for fault in OF_THE_STROKE}
"""One of them hides the others: which of them there are is seen when the first is mended."""

SEEN_BOTH = {"reversed_actuator", "loose_blades"}
"""But for these: the actuator shows the one by itself, and the air the other."""

MINIMUM_DUE = ("heating", "sensor")
"""Tests in which the minimum position may be due, or shut: what a wrong minimum upsets depends on that."""


def _with_minimum(chances: Mapping[str, float]) -> dict[str, float]:
    """What upsets the damper in those tests upsets it as well where the minimum is due."""
    also = {
        sign.replace("damper_position", "minimum"): chance
        for sign, chance in chances.items()
        if sign.split(".")[0] in MINIMUM_DUE and ".damper_position." in sign
    }
    return {**also, **chances}


PATTERNS: dict[str, tuple[Mapping[str, float], ...]] = {
    fault.key: tuple(_with_minimum(variant.chances()) for variant in fault.variants) for fault in FAULTS
}

Logs = Mapping[str, tuple[float, float]]
"""By sign: the logarithms of its chance to be seen, and not to be."""

KEPT = 64


def chances(signs: Mapping[str, bool], again: Set[str] = frozenset()) -> Mapping[tuple[str, ...], float]:
    """How likely nothing (an empty key), each fault, and every two together are; all add up to 1.

    Parameters
    ----------
    signs : mapping
        Every sign that was looked for, True where it was seen.
    again : set
        Those seen in two runs of their test, one after the other.
    """
    return _chances(tuple(sorted(signs.items())), tuple(sorted(again)))


@lru_cache(KEPT)
def _chances(signs: tuple[tuple[str, bool], ...], again: tuple[str, ...]) -> Mapping[tuple[str, ...], float]:
    seen = dict(signs)
    logs: dict[tuple[str, ...], float] = {
        (): log(SOUND_BEFOREHAND) + sum(_by_chance(sign, there, FALSE_ALARM, again) for sign, there in signs)
    }
    otherwise = {sign: _by_chance(sign, there, ALSO_UPSET, again) for sign, there in signs}
    whole = sum(otherwise.values()) + log((1 - SOUND_BEFOREHAND) / len(FAULTS))
    for keys, patterns in _hypotheses():
        if len(keys) == 1:
            logs[keys] = whole + max(_gained(pattern, seen, otherwise) for pattern in patterns)
        elif any(seen.values()):
            prior = log(PAIR_SHARE / (len(FAULTS) - 1))
            logs[keys] = whole + prior + max(_gained(pattern, seen, otherwise) for pattern in patterns)
    top = max(logs.values())
    scaled = {keys: exp(value - top) for keys, value in logs.items()}
    total = sum(scaled.values())
    return {keys: value / total for keys, value in scaled.items()}


def _by_chance(sign: str, there: bool, chance: float, again: tuple[str, ...]) -> float:
    if sign.startswith("audit.") or sign in SETTINGS:
        chance = ALSO_UPSET if sign in OF_THE_MACHINE else AUDIT_FALSE_ALARM
    elif sign in again:
        chance *= SEEN_AGAIN
    return log(chance if there else 1 - chance)


def _gained(pattern: Logs, seen: Mapping[str, bool], otherwise: Mapping[str, float]) -> float:
    """By how much the signs are likelier where this is wrong than by something that nobody has written down.

    A controller that shows one setting as planned although it runs another may show all of them so: that counts once.
    """
    gained = shown = 0.0
    for sign, logs in pattern.items():
        if sign in seen:
            by = logs[not seen[sign]] - otherwise[sign]
            if sign in SETTINGS and not seen[sign]:
                shown = min(shown, by)
            else:
                gained += by
    return gained + shown


@cache
def _hypotheses() -> tuple[tuple[tuple[str, ...], tuple[Logs, ...]], ...]:
    """Every fault, and every two that do not hide each other, with all ways in which they show."""
    alone = [((key,), tuple(map(_logs, patterns))) for key, patterns in PATTERNS.items()]
    return (*alone, *_two_at_once())


def _two_at_once() -> Iterator[tuple[tuple[str, str], tuple[Logs, ...]]]:
    for one, other in combinations(PATTERNS, 2):
        if not {one, other} <= STROKE or {one, other} == SEEN_BOTH:
            hidden = {*FAULTS_BY_KEY[one].hides, *FAULTS_BY_KEY[other].hides}
            merged = (_merged(first, second, hidden) for first in PATTERNS[one] for second in PATTERNS[other])
            yield (one, other), tuple(map(_logs, merged))


def _merged(first: Mapping[str, float], second: Mapping[str, float], hidden: Set[str]) -> dict[str, float]:
    """One may hide what the other shows: what is sure of one alone is likely of both. Some signs hide from nobody."""
    found = {}
    for sign in (*first, *second):
        most = 1.0 if sign in NEVER_HIDDEN else BOTH_AT_MOST if sign in first and sign in second else HIDDEN_AT_MOST
        if sign not in hidden:
            found[sign] = min(max(first.get(sign, 0.0), second.get(sign, 0.0)), most)
    return found


def _logs(pattern: Mapping[str, float]) -> Logs:
    return {sign: (log(chance), log(1 - chance)) for sign, chance in pattern.items()}

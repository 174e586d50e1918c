"""From all tests together to the one thing that is wrong: every fault is weighed against all of them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from itertools import combinations
from math import exp, log

from fentro_core.economizer.proof.faults import BACKWARDS, FAULTS, FAULTS_BY_KEY, MAYBE, STANDS, ControlFault
from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.step import TestRun

FALSE_ALARM = 0.02
"""How often a test is upset by something its cause says nothing about."""

AUDIT_FALSE_ALARM = 0.002
"""A probe at the sensor's place says more than a test."""

SURE_FROM = 0.6
SOUND_BEFOREHAND = 0.35


@dataclass(frozen=True)
class Suspect:
    """A fault with how sure the tests make it, 0 to 1, and the signs that speak for it."""

    fault: ControlFault
    sure: float
    signs: tuple[str, ...]


@dataclass(frozen=True)
class Diagnosis:
    """Faults by rank; `found`: the first, where it is sure enough; `sound`: how sure that nothing is wrong.

    `open_between`: where it is not sure, the tests that tell the leading ones apart, those not seen yet before those to repeat;
    ``audit``: sensors against a probe.
    """

    suspects: tuple[Suspect, ...]
    found: str
    sound: float
    open_between: tuple[str, ...] = ()


_PATTERNS: dict[str, tuple[Mapping[str, float], ...]] = {
    fault.key: tuple(variant.chances() for variant in fault.variants) for fault in FAULTS
}


def signs_of(tests: Iterable[TestRun], audit: Mapping[str, bool] | None = None) -> dict[str, bool]:
    """Every sign that was looked for: ``test.point.side`` and ``test.not_ready``, True where it was seen.

    `audit`: ``swapped`` and ``drifted`` from the comparison of the sensors with a reference, where it was made.
    """
    found: dict[str, bool] = {f"audit.{key}": value for key, value in (audit or {}).items()}
    tests = list(tests)
    found |= _driven({seen.test: seen.values["damper_position"] for seen in tests if seen.test in DRIVEN and _position(seen)})
    for seen in tests:
        if seen.ended in ("stopped", "gone", "refused", "not_held"):
            continue
        found["any.tripped"] = found.get("any.tripped", False) or seen.ended == "tripped"
        if seen.ended == "tripped":
            continue
        if any(f"{seen.test}.not_ready" in pattern for patterns in _PATTERNS.values() for pattern in patterns):
            found[f"{seen.test}.not_ready"] = seen.ended == "not_ready"
        if seen.ended == "not_ready":
            continue
        for point in verdict(seen).points:
            if point.mark in ("not_measured", "too_close"):
                continue
            for side, limit in (("low", point.low), ("high", point.high)):
                if limit is not None:
                    found[f"{seen.test}.{point.point}.{side}"] = point.mark == "off" and point.side == side
    return found


def _by_air(sign: str) -> bool:
    """It stands on three temperature sensors: swapped or wrong ones show the same. Without the audit it convicts nothing."""
    return ".outdoor_share." in sign or sign == "any.tripped"


def _sensors_first(suspects: list[Suspect], audit: Mapping[str, bool]) -> Suspect | None:
    """Where the audit found sensors swapped or wrong, that comes first: it upsets the other tests, and a probe has seen it."""
    of_sensors = {"swapped_sensors": audit.get("swapped", False), "drifted_sensor": audit.get("drifted", False)}
    found = [each for each in suspects if of_sensors.get(each.fault.key)] or suspects
    return found[0] if found else None


def _may_be_another(first: Suspect, others: list[Suspect], signs: Mapping[str, bool]) -> bool:
    """One sign alone, that another fault shows as well, convicts only once most of the plan was seen."""
    rivals = [each for each in others if set(each.signs) & set(first.signs)]
    return len(first.signs) == 1 and bool(rivals) and len({sign.split(".")[0] for sign in signs}) < ENOUGH_TESTS


ENOUGH_TESTS = 8
MOST_TO_DECIDE = 3


def _open_between(suspects: list[Suspect], signs: Mapping[str, bool], audit: Mapping[str, bool] | None) -> tuple[str, ...]:
    """Tests whose signs differ most between the two that lead, or between the one and nothing wrong."""
    if not suspects:
        return ()
    first = _PATTERNS[suspects[0].fault.key]
    second = _PATTERNS[suspects[1].fault.key] if len(suspects) > 1 else ({},)
    apart: dict[str, float] = {}
    for sign in sorted({sign for patterns in (first, second) for pattern in patterns for sign in pattern}):
        one, other = (max(pattern.get(sign, 0.0) for pattern in patterns) for patterns in (first, second))
        test = sign.split(".")[0]
        if test not in ("any", "damper"):
            apart[test] = max(apart.get(test, 0.0), abs(one - other))
    if audit is None:
        apart["audit"] = 1.0
    elif "audit" in apart:
        del apart["audit"]
    known = {sign.split(".")[0] for sign in signs}
    ranked = sorted((test for test, by in apart.items() if by >= MAYBE), key=lambda test: (test in known, -apart[test], test))
    return tuple(ranked[:MOST_TO_DECIDE])


DRIVEN = ("closed", "full")
MOVES_FROM, TURNS_FROM = 0.12, 0.4
"""An actuator whose answer differs by less than the first between shut and open stands; by the second the other way, it turns
backwards."""


def _position(seen: TestRun) -> bool:
    return seen.ended == "done" and "damper_position" in seen.values


def _driven(positions: Mapping[str, float]) -> dict[str, bool]:
    """What both ends of the stroke say together."""
    if len(positions) < len(DRIVEN):
        return {}
    moved = positions["full"] - positions["closed"]
    return {STANDS: abs(moved) < MOVES_FROM, BACKWARDS: moved < -TURNS_FROM}


def _likelihood(pattern: Mapping[str, float], signs: Mapping[str, bool]) -> float:
    total = 0.0
    for sign, seen in signs.items():
        sure = pattern.get(sign, AUDIT_FALSE_ALARM if sign.startswith("audit.") else FALSE_ALARM)
        total += log(sure if seen else 1 - sure)
    return total


def diagnose(tests: Iterable[TestRun], audit: Mapping[str, bool] | None = None) -> Diagnosis:
    """Weigh every fault against all tests.

    Parameters
    ----------
    tests : iterable of TestRun
        The last run of each test.
    audit : mapping, optional
        Whether the sensors were found ``swapped`` or ``drifted``.
    """
    signs = signs_of(tests, audit)
    weights = {"": log(SOUND_BEFOREHAND) + _likelihood({}, signs)}
    prior = log((1 - SOUND_BEFOREHAND) / len(FAULTS))
    for key, patterns in _PATTERNS.items():
        weights[key] = prior + max(_likelihood(pattern, signs) for pattern in patterns)
    both = _two_at_once(signs, weights, prior) if _unexplained(signs, weights) >= UNEXPLAINED_FROM else {}
    top = max((*weights.values(), *both.values()))
    scaled = {key: exp(value - top) for key, value in weights.items()}
    for keys, value in both.items():
        for key in keys:
            scaled[key] += exp(value - top)
    whole = sum(exp(value - top) for value in (*weights.values(), *both.values()))
    seen = [sign for sign, there in signs.items() if there]
    suspects = []
    for key, weight in sorted(scaled.items(), key=lambda each: -each[1]):
        speaking = tuple(sign for sign in seen if any(sign in pattern for pattern in _PATTERNS.get(key, ())))
        if key and speaking and weight / whole >= 0.01:
            suspects.append(Suspect(FAULTS_BY_KEY[key], weight / whole, speaking))
    first = _sensors_first(suspects, audit or {})
    by_more_than_air = first is not None and (audit is not None or any(not _by_air(sign) for sign in first.signs))
    sure = first is not None and first.sure >= SURE_FROM and by_more_than_air
    if first is not None:
        suspects = [first, *(each for each in suspects if each is not first)]
    if first is not None and sure:
        sure = not _may_be_another(first, suspects[1:], signs)
    if first is not None and sure:
        return Diagnosis(tuple(suspects), first.fault.key, scaled[""] / whole)
    return Diagnosis(tuple(suspects), "", scaled[""] / whole, _open_between(suspects, signs, audit))


UNEXPLAINED_FROM = 1
"""So many signs that the best single fault says nothing of, and two at once are weighed."""

OF_THE_STROKE = {"stuck_damper", "reversed_actuator", "slipped_linkage"}
"""One of them hides the others: which of them there are is seen when the first is mended."""

PAIR_SHARE = 0.1
"""How often there is a second fault where there is one. Ours."""


def _unexplained(signs: Mapping[str, bool], weights: Mapping[str, float]) -> int:
    best = max(weights, key=lambda key: weights[key])
    patterns = _PATTERNS.get(best, ({},))
    return min(sum(there and sign not in pattern for sign, there in signs.items()) for pattern in patterns)


def _two_at_once(signs: Mapping[str, bool], weights: Mapping[str, float], prior: float) -> dict[tuple[str, str], float]:
    """Every two faults together: each sign by the one that shows it more surely."""
    found = {}
    for one, other in combinations((key for key in weights if key), 2):
        if {one, other} <= OF_THE_STROKE:
            continue
        merged = [_merged(first, second) for first in _PATTERNS[one] for second in _PATTERNS[other]]
        start = prior + log(PAIR_SHARE / (len(FAULTS) - 1))
        found[one, other] = start + max(_likelihood(pattern, signs) for pattern in merged)
    return found


def _merged(first: Mapping[str, float], second: Mapping[str, float]) -> dict[str, float]:
    """One may hide what the other shows: what is sure of one alone is likely of both."""
    return {
        sign: min(max(first.get(sign, 0.0), second.get(sign, 0.0)), 0.95 if sign in first and sign in second else HIDDEN_AT_MOST)
        for sign in (*first, *second)
    }


HIDDEN_AT_MOST = 0.85


def faults_of_test(test: str, diagnosis: Diagnosis) -> tuple[ControlFault, ...]:
    """Faults that would upset this one test, those that fit all tests best first."""
    named = {suspect.fault.key: suspect.sure for suspect in diagnosis.suspects}
    fitting = [
        fault for fault in FAULTS if any(sign.startswith(f"{test}.") for pattern in _PATTERNS[fault.key] for sign in pattern)
    ]
    return tuple(sorted(fitting, key=lambda fault: -named.get(fault.key, 0.0)))[:4]

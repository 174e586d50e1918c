"""From all tests together to the one thing that is wrong: every cause says which tests it would upset, and how surely."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from math import exp, log

from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.step import TestRun

FALSE_ALARM = 0.02
"""How often a test is upset by something its cause says nothing about."""

AUDIT_FALSE_ALARM = 0.002
"""A probe at the sensor's place says more than a test."""

SURE_FROM = 0.6
SOUND_BEFOREHAND = 0.35
CERTAINLY, SURELY, MAYBE = 0.995, 0.93, 0.35


@dataclass(frozen=True)
class Cause:
    """Something that may be wrong. `shows`: variants, each the tests it upsets: ``test.point.side``; ``?``: maybe, ``!``: certainly."""

    key: str
    name: str
    do: str
    who: str
    shows: tuple[str, ...]


_PLAYED = "inside.not_ready below.not_ready"

CAUSES: dict[str, Cause] = {
    each.key: each
    for each in (
        Cause(
            "stuck_damper", "Damper stuck", "Power locked out, loosen the linkage and move the blades by hand: free them or renew the actuator.",
            "technician",
            (
                "minimum.damper_position.low? full.damper_position.low full.outdoor_share.low? cool.damper_position.low assist.damper_position.low "
                "above.damper_position.low? heating.damper_position.low? below.damper_position.low relief.damper_position.low "
                "power.not_ready cold_mixed.not_ready? cold_outdoor.damper_position.low? sensor.damper_position.low? inside.damper_position.low?",
                "closed.damper_position.high closed.outdoor_share.high? minimum.damper_position.high? full.damper_position.low "
                "full.outdoor_share.low? cool.damper_position.low? assist.damper_position.low above.damper_position.high? "
                f"{_PLAYED.replace('ready', 'ready?')} below.damper_position.low? heating.damper_position.high? unoccupied.damper_position.high "
                "cold_mixed.damper_position.high? cold_mixed.not_ready? power.damper_position.high? power.not_ready? "
                "sensor.damper_position.high? relief.damper_position.low minimum.outdoor_share.high?",
                "closed.damper_position.high closed.outdoor_share.high? minimum.damper_position.high minimum.outdoor_share.high? "
                f"above.damper_position.high {_PLAYED} heating.damper_position.high unoccupied.damper_position.high "
                "cold_mixed.damper_position.high power.damper_position.high sensor.damper_position.high? full.damper_position.low?",
            ),
        ),
        Cause(
            "reversed_actuator", "Actuator turns the wrong way", "Turn its direction switch, or mount it the other way round; then drive it closed and look at the blades.",
            "technician", ("closed.outdoor_share.high full.outdoor_share.low minimum.outdoor_share.high? any.tripped?",),
        ),
        Cause(
            "slipped_linkage", "Linkage slips", "Power locked out, set the blades shut with the actuator shut, and tighten the clamp; mark the shaft.",
            "technician", ("full.outdoor_share.low minimum.outdoor_share.low?",),
        ),
        Cause(
            "low_limit_tied", "Low limit reads the outdoor sensor", "Tie the loop to the mixed-air sensor in the configuration; save as found first.",
            "technician",
            (
                "cold_mixed.damper_position.high cold_outdoor.damper_position.low",
                "cold_mixed.damper_position.high? cold_mixed.not_ready? cold_outdoor.damper_position.low cool.damper_position.low "
                "above.damper_position.low? heating.damper_position.low? sensor.damper_position.low?",
            ),
        ),
        Cause(
            "swapped_sensors", "Two sensors swapped", "Follow the wires; swap them back, or their names in the configuration.",
            "technician", ("audit.swapped! any.tripped? closed.outdoor_share.high? closed.outdoor_share.low? full.outdoor_share.low? minimum.outdoor_share.low? "
                           "minimum.outdoor_share.high? full.outdoor_share.high? cool.damper_position.low? below.damper_position.low? cold_outdoor.damper_position.low? "
                "inside.damper_position.low? sensor.damper_position.low?",),
        ),
        Cause(
            "drifted_sensor", "A sensor shows a wrong temperature", "Clean its connector, check it by resistance, renew it if it drifts.",
            "technician", ("audit.drifted! closed.outdoor_share.high? closed.outdoor_share.low? full.outdoor_share.low? minimum.outdoor_share.low? "
                           "minimum.outdoor_share.high? cool.damper_position.low?",),
        ),
        Cause(
            "wrong_changeover", "Changeover set wrong", "Set the changeover as planned.", "technician",
            (
                f"above.damper_position.high above.compressor.low {_PLAYED}",
                "below.damper_position.low",
                "below.damper_position.low cool.damper_position.low? assist.damper_position.low? cool.compressor.high? cold_mixed.not_ready?",
            ),
        ),
        Cause(
            "wrong_minimum", "Minimum position set wrong", "Set the minimum position by the measured share.", "technician",
            (
                f"above.damper_position.high {_PLAYED} heating.damper_position.high? sensor.damper_position.high?",
                f"above.damper_position.high? heating.damper_position.high? sensor.damper_position.high? {_PLAYED.replace('ready', 'ready?')} inside.damper_position.high?",
                "above.damper_position.low heating.damper_position.low? sensor.damper_position.low? inside.damper_position.low? cold_mixed.not_ready?",
            ),
        ),
        Cause(
            "relief_blocked", "Relief does not open", "Free the relief damper; look for screens full of leaves, and a fan that runs the wrong way.",
            "technician", ("relief.building_pressure.high",),
        ),
        Cause(
            "compressor_not_locked", "Compressor runs although outdoor air cools", "Wire or set the interlock: outdoor air first.",
            "technician", (
                "cool.compressor.high",
                "cool.compressor.high assist.compressor.high? assist.damper_position.high? cool.damper_position.low? assist.damper_position.low? "
                "below.damper_position.low?",
            ),
        ),
        Cause(
            "no_differential", "Changeover has no switching differential", "Set a differential of 1 to 2 °F (about 1 K).", "technician",
            ("inside.damper_position.high",),
        ),
        Cause(
            "fail_safe", "Falls to the wrong side when power or a sensor fails", "Mount the actuator so that its spring closes; set the fallback as planned.",
            "technician",
            ("power.damper_position.high", "sensor.damper_position.high", "power.damper_position.high sensor.damper_position.high",
             "sensor.damper_position.low"),
        ),
    )
}  # fmt: skip


@dataclass(frozen=True)
class Suspect:
    """A cause with how sure the tests make it, 0 to 1, and the signs that speak for it."""

    cause: Cause
    sure: float
    signs: tuple[str, ...]


@dataclass(frozen=True)
class Conviction:
    """Causes by rank; `convicted`: the first, where it is sure enough; `sound`: how sure that nothing is wrong."""

    suspects: tuple[Suspect, ...]
    convicted: str
    sound: float


def _pattern(words: str) -> dict[str, float]:
    found: dict[str, float] = {}
    for word in words.split():
        found[word.rstrip("?!")] = {"?": MAYBE, "!": CERTAINLY}.get(word[-1], SURELY)
    return found


_PATTERNS: dict[str, tuple[dict[str, float], ...]] = {
    key: tuple(_pattern(variant) for variant in cause.shows) for key, cause in CAUSES.items()
}


def signs_of(tests: Iterable[TestRun], audit: Mapping[str, bool] | None = None) -> dict[str, bool]:
    """Every sign that was looked for: ``test.point.side`` and ``test.not_ready``, True where it was seen.

    `audit`: ``swapped`` and ``drifted`` from the comparison of the sensors with a reference, where it was made.
    """
    found: dict[str, bool] = {f"audit.{key}": value for key, value in (audit or {}).items()}
    for seen in tests:
        if seen.ended in ("stopped", "gone", "refused"):
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


def _likelihood(pattern: Mapping[str, float], signs: Mapping[str, bool]) -> float:
    total = 0.0
    for sign, seen in signs.items():
        sure = pattern.get(sign, AUDIT_FALSE_ALARM if sign.startswith("audit.") else FALSE_ALARM)
        total += log(sure if seen else 1 - sure)
    return total


def convict(tests: Iterable[TestRun], audit: Mapping[str, bool] | None = None) -> Conviction:
    """Weigh every cause against all tests.

    Parameters
    ----------
    tests : iterable of TestRun
        The last run of each test.
    audit : mapping, optional
        Whether the sensors were found ``swapped`` or ``drifted``.
    """
    signs = signs_of(tests, audit)
    weights = {"": log(SOUND_BEFOREHAND) + _likelihood({}, signs)}
    prior = log((1 - SOUND_BEFOREHAND) / len(CAUSES))
    for key, patterns in _PATTERNS.items():
        weights[key] = prior + max(_likelihood(pattern, signs) for pattern in patterns)
    top = max(weights.values())
    scaled = {key: exp(value - top) for key, value in weights.items()}
    whole = sum(scaled.values())
    seen = [sign for sign, there in signs.items() if there]
    suspects = []
    for key, weight in sorted(scaled.items(), key=lambda each: -each[1]):
        speaking = tuple(sign for sign in seen if any(sign in pattern for pattern in _PATTERNS.get(key, ())))
        if key and speaking and weight / whole >= 0.01:
            suspects.append(Suspect(CAUSES[key], weight / whole, speaking))
    first = suspects[0] if suspects else None
    sure = first is not None and first.sure >= SURE_FROM
    return Conviction(tuple(suspects), first.cause.key if first and sure else "", scaled[""] / whole)


def causes_of_test(test: str, conviction: Conviction) -> tuple[Cause, ...]:
    """Causes that would upset this one test, those that fit all tests best first."""
    named = {suspect.cause.key: suspect.sure for suspect in conviction.suspects}
    fitting = [
        cause for key, cause in CAUSES.items()
        if any(sign.startswith(f"{test}.") for pattern in _PATTERNS[key] for sign in pattern)
    ]  # fmt: skip
    return tuple(sorted(fitting, key=lambda cause: -named.get(cause.key, 0.0)))[:4]

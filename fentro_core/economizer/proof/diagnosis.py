"""From all tests together to the one thing that is wrong: every fault is weighed against all of them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Set
from dataclasses import dataclass

from fentro_core.economizer.proof.fault import (
    AIR_BACKWARDS,
    AIR_STANDS,
    BACKWARDS,
    MAYBE,
    STANDS,
    TRUE_AIR_STANDS,
    USUALLY,
    ControlFault,
)
from fentro_core.economizer.proof.faults import FAULTS, FAULTS_BY_KEY
from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.step import SHARE, Judged, TestRun
from fentro_core.economizer.proof.weighing import MINIMUM_DUE, PATTERNS, chances
from fentro_core.economizer.sensor_identity import UNCLEAR
from fentro_core.economizer.true_air import AIRS_ALIKE

READ_SETTINGS = "settings"
"""Where the settings that run would decide, and nobody has read them."""

ANOTHER_DAY = "another_day"
"""Where outdoor and return air were too much alike to tell."""

WIDE_SHARE = 0.1
"""A share of outdoor air known to no better is of such a day: airs some 5 K apart, by ordinary sensors. Ours."""

SURE_FROM = 0.7


@dataclass(frozen=True)
class Suspect:
    """A fault with how sure the tests make it, 0 to 1, and the signs that speak for it."""

    fault: ControlFault
    sure: float
    signs: tuple[str, ...]


@dataclass(frozen=True)
class Diagnosis:
    """Faults by rank; `found`: the first, where it is sure enough; `sound`: how sure that nothing is wrong.

    `open_between`: where it is not sure, the tests that tell the leading ones apart, to repeat only where all were seen;
    ``audit``: sensors against a probe; ``settings``: those that run, read; ``another_day``: one with airs further apart. Where
    nothing is suspected, the tests that told nothing.
    """

    suspects: tuple[Suspect, ...]
    found: str
    sound: float
    open_between: tuple[str, ...] = ()


def signs_of(
    tests: Iterable[TestRun], audit: Mapping[str, bool] | None = None, settings: Mapping[str, bool] | None = None
) -> dict[str, bool]:
    """Every sign that was looked for: ``test.point.side`` and ``test.not_ready``, True where it was seen.

    `audit`: what the comparison of the sensors with a reference said; `settings`: what those that run say. Where it was done.
    """
    found: dict[str, bool] = {f"audit.{key}": value for key, value in (audit or {}).items() if key not in (UNCLEAR, AIRS_ALIKE)}
    found |= settings or {}
    tests = list(tests)
    found |= _driven({seen.test: seen.values["damper_position"] for seen in tests if seen.test in DRIVEN and _position(seen)})
    found |= _driven_air(
        {seen.test: seen for seen in tests if seen.test in DRIVEN and seen.ended == "done" and SHARE in seen.values}
    )
    for seen in tests:
        if seen.ended in ("stopped", "gone", "refused", "not_held"):
            continue
        found["any.tripped"] = found.get("any.tripped", False) or seen.ended == "tripped"
        if seen.ended == "tripped":
            continue
        if any(f"{seen.test}.not_ready" in pattern for patterns in PATTERNS.values() for pattern in patterns):
            found[f"{seen.test}.not_ready"] = seen.ended == "not_ready"
        if seen.ended == "not_ready":
            continue
        for point in verdict(seen).points:
            if point.mark in ("not_measured", "too_close"):
                continue
            name = "minimum" if _minimum_due(seen.test, point) else point.point
            for side, limit in (("low", point.low), ("high", point.high)):
                if limit is not None and not _barely(point):
                    found[f"{seen.test}.{name}.{side}"] = point.mark == "off" and point.side == side
    return found


CLEARLY = 1.5
"""Half-widths beyond its limit from which a share of air is a sign. Ours: one of a dozen tests may be off by one and a little."""


def _barely(point: Judged) -> bool:
    """A share of air that is off by hardly more than its half-width: worth a look at the damper, no sign of a fault."""
    if point.point != SHARE or point.mark != "off" or point.value is None:
        return False
    limit = point.low if point.side == "low" else point.high
    return limit is not None and abs(point.value - limit) < CLEARLY * point.plus_minus


def _minimum_due(test: str, point: Judged) -> bool:
    return test in MINIMUM_DUE and point.point == "damper_position" and point.low is not None and (point.high or 0.0) > SHUT_BELOW


SHUT_BELOW = 0.1
"""A damper that is due below this is due shut."""


def _by_air(sign: str) -> bool:
    """It stands on three temperature sensors: swapped or wrong ones show the same. Without the audit it convicts nothing."""
    return ".outdoor_share." in sign or sign in ("any.tripped", AIR_STANDS, AIR_BACKWARDS)


FOUND_BY_PROBE = {"swapped_sensors": "swapped", "misplaced_sensor": "misplaced", "drifted_sensor": "drifted"}
"""What a probe at the sensors finds, by fault."""


def _sensors_first(suspects: list[Suspect], audit: Mapping[str, bool]) -> list[Suspect]:
    """Sensors that a probe found swapped or wrong lead: they upset the other tests."""
    return sorted(suspects, key=lambda each: not (audit.get(FOUND_BY_PROBE.get(each.fault.key, "")) and each.sure >= SURE_FROM))


def _stands_on_enough(one: Suspect, audit: Mapping[str, bool] | None, signs: Mapping[str, bool], again: Set[str]) -> bool:
    """Sensors by a probe, and no swap or drift where the air never changed.

    Others: where the probe did not find the sensors right, without what those say of the air.
    """
    found = audit or {}
    if one.fault.key in FOUND_BY_PROBE:
        by_sensors = not signs.get(AIR_STANDS, False) and not signs.get(STANDS, False)
        moved = by_sensors or not signs.get(TRUE_AIR_STANDS, True)
        alone = one.fault.key == "misplaced_sensor" or (moved and not found.get("misplaced", False))
        return found.get(FOUND_BY_PROBE[one.fault.key], False) and alone
    if not any(found.get(key, True) for key in FOUND_BY_PROBE.values()):
        return True
    without = chances({sign: there for sign, there in signs.items() if not _by_air(sign)}, again)
    return sum(chance for keys, chance in without.items() if one.fault.key in keys) >= SURE_FROM


def _may_be_another(
    first: Suspect, others: list[Suspect], signs: Mapping[str, bool], likely: Mapping[tuple[str, ...], float]
) -> bool:
    """All its signs are another's as well that may be there instead; or its one sign is, before most of the plan was seen."""

    def instead(other: Suspect) -> float:
        return sum(chance for keys, chance in likely.items() if other.fault.key in keys and first.fault.key not in keys)

    if any(set(first.signs) <= set(each.signs) and instead(each) >= INSTEAD_FROM for each in others):
        return True
    rivals = [each for each in others if set(each.signs) & set(first.signs)]
    return len(first.signs) == 1 and bool(rivals) and len({sign.split(".")[0] for sign in signs}) < ENOUGH_TESTS


INSTEAD_FROM = 0.25
ENOUGH_TESTS = 8
MOST_TO_DECIDE = 3
PLANNED = {sign.split(".")[0] for patterns in PATTERNS.values() for pattern in patterns for sign in pattern} - {
    "any",
    "damper",
    "air",
    READ_SETTINGS,
}
"""Tests that a fault may upset. Three more are signs of several tests together, and the settings are read."""


def _open_between(
    suspects: list[Suspect],
    signs: Mapping[str, bool],
    audit: Mapping[str, bool] | None,
    likely: Mapping[tuple[str, ...], float],
    can: Set[str],
) -> tuple[str, ...]:
    """Tests whose signs differ most between the two that lead, or between the one and nothing wrong.

    Settings that nobody has read come first: nothing is quicker. Where both are likeliest together, each stands on a sign that
    may be chance: the tests that showed them, once more.
    """
    together = max(likely, key=lambda keys: (likely[keys], keys))
    if len(together) == 2 and audit is not None:
        speaking = sorted((each.signs for each in suspects if each.fault.key in together), key=len)
        shown = dict.fromkeys(sign.split(".")[0] for signs_of_one in speaking for sign in signs_of_one)
        if repeated := [test for test in shown if test in can]:
            return tuple(repeated[:MOST_TO_DECIDE])
    first = PATTERNS[suspects[0].fault.key]
    second = PATTERNS[suspects[1].fault.key] if len(suspects) > 1 else ({},)
    apart: dict[str, float] = {}
    for sign in sorted({sign for patterns in (first, second) for pattern in patterns for sign in pattern}):
        one, other = (max(pattern.get(sign, 0.0) for pattern in patterns) for patterns in (first, second))
        test = sign.split(".")[0]
        if test in can:
            apart[test] = max(apart.get(test, 0.0), abs(one - other))
    if audit is None or "swapped" not in audit:
        apart["audit"] = 1.0
    elif "audit" in apart:
        del apart["audit"]
    known = {sign.split(".")[0] for sign in signs}
    ranked = sorted(
        (test for test, by in apart.items() if by >= MAYBE), key=lambda test: (test != READ_SETTINGS, -apart[test], test)
    )
    unseen = [test for test in ranked if test not in known]
    return tuple((unseen or ranked)[:MOST_TO_DECIDE])


def _left_open(tests: Iterable[TestRun]) -> tuple[str, ...]:
    """Tests that ran and told nothing: of airs too much alike, say. Where nothing is suspected they are what is left."""
    told = ((run.test, verdict(run).mark) for run in tests)
    return tuple(test for test, mark in told if mark in ("not_measured", "too_close"))


def _airs_alike(tests: Iterable[TestRun], audit: Mapping[str, bool] | None) -> bool:
    return bool(audit and audit.get(AIRS_ALIKE)) or any(run.plus_minus.get(SHARE, 0.0) > WIDE_SHARE for run in tests)


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


SHARE_STANDS_WITHIN, SHARE_TURNS_FROM = 0.08, 0.2
"""A share that differs by less than the first from end to end stands; by more than the second the other way, it turns. Ours."""

WIDEST = 0.2
ALIKE = 0.6
"""The sensors' constant errors upset both ends alike: so much of the half-widths is left in the difference. Ours."""


def _driven_air(runs: Mapping[str, TestRun]) -> dict[str, bool]:
    """What the share of outdoor air says at both ends of the stroke, as far as the sensors can tell."""
    if len(runs) < len(DRIVEN):
        return {}
    moved = runs["full"].values[SHARE] - runs["closed"].values[SHARE]
    width = ALIKE * sum(run.plus_minus.get(SHARE, 1.0) ** 2 for run in runs.values()) ** 0.5
    if width > WIDEST:
        return {}
    found: dict[str, bool] = {}
    if abs(moved) < SHARE_STANDS_WITHIN or abs(moved) - width > SHARE_STANDS_WITHIN:
        found[AIR_STANDS] = abs(moved) < SHARE_STANDS_WITHIN
    if moved < -SHARE_TURNS_FROM or moved - width > -SHARE_TURNS_FROM:
        found[AIR_BACKWARDS] = moved < -SHARE_TURNS_FROM
    return found


def diagnose(
    tests: Iterable[TestRun],
    audit: Mapping[str, bool] | None = None,
    offered: Set[str] | None = None,
    settings: Mapping[str, bool] | None = None,
) -> Diagnosis:
    """Weigh every fault against all tests.

    Parameters
    ----------
    tests : iterable of TestRun
        Every run, in order: the last of each test counts, and what two in a row showed is believed more.
    audit : mapping, optional
        Whether the sensors were found ``swapped``, ``drifted`` or ``misplaced``; by the probe alone, whether the compressor gave
        ``no_cooling``, and the mixed air stood (``air_stands``) or moved the wrong way (``air_backwards``) as the damper opened,
        held much outdoor air with the damper shut (``open_when_shut``), or too little with it open (``opens_short``).
    offered : set, optional
        Tests of this unit's plan; no other is asked for.
    settings : mapping, optional
        Whether those that run are other than planned, by sign (`proof.settings`); where they were read.
    """
    tests = list(tests)
    signs, again = signs_of({run.test: run for run in tests}.values(), audit, settings), _seen_again(tests)
    likely = chances(signs, again)
    sure = {key: sum(chance for keys, chance in likely.items() if key in keys) for key in PATTERNS}
    seen = [sign for sign, there in signs.items() if there]
    suspects = []
    for key in sorted(PATTERNS, key=lambda each: -sure[each]):
        speaking = tuple(sign for sign in seen if any(sign in pattern for pattern in PATTERNS[key]))
        if speaking and sure[key] >= 0.01:
            suspects.append(Suspect(FAULTS_BY_KEY[key], sure[key], speaking))
    suspects = _sensors_first(suspects, audit or {})
    named = next((each for each in suspects if _convicted(each, suspects, audit, signs, again, likely)), None)
    if named is None:
        can = set(PLANNED if offered is None else offered) | {"audit"} | (set() if settings else {READ_SETTINGS})
        between = _open_between(suspects, signs, audit, likely, can) if suspects else _left_open(tests)
        if suspects and _airs_alike(tests, audit):
            between = (ANOTHER_DAY, *between)
        return Diagnosis(tuple(suspects), "", likely[()], between)
    suspects = [named, *(each for each in suspects if each is not named)]
    return Diagnosis(tuple(suspects), named.fault.key, likely[()])


def _convicted(
    one: Suspect,
    suspects: list[Suspect],
    audit: Mapping[str, bool] | None,
    signs: Mapping[str, bool],
    again: Set[str],
    likely: Mapping[tuple[str, ...], float],
) -> bool:
    """Sure enough, by a sign that it surely shows, by signs that bear it, and not by one that another fault shows as well."""
    others = [each for each in suspects if each is not one]
    shows = any(pattern.get(sign, 0.0) >= USUALLY for pattern in PATTERNS[one.fault.key] for sign in one.signs)
    enough = shows and one.sure >= SURE_FROM and _stands_on_enough(one, audit, signs, again)
    return enough and not _may_be_another(one, others, signs, likely)


def _seen_again(tests: Iterable[TestRun]) -> frozenset[str]:
    """Signs that the last two runs of a test both showed; not those by the air, for a sensor's error is the same both times."""
    runs: dict[str, list[TestRun]] = {}
    for run in tests:
        runs.setdefault(run.test, []).append(run)
    twice = [[signs_of([run]) for run in each[-2:]] for each in runs.values() if len(each) > 1]
    shown = (sign for first, last in twice for sign, there in last.items() if there and first.get(sign, False))
    return frozenset(sign for sign in shown if not _by_air(sign))


def faults_of_test(test: str, diagnosis: Diagnosis) -> tuple[ControlFault, ...]:
    """Faults that would upset this one test, those that fit all tests best first."""
    named = {suspect.fault.key: suspect.sure for suspect in diagnosis.suspects}
    fitting = [
        fault for fault in FAULTS if any(sign.startswith(f"{test}.") for pattern in PATTERNS[fault.key] for sign in pattern)
    ]
    return tuple(sorted(fitting, key=lambda fault: -named.get(fault.key, 0.0)))[:4]

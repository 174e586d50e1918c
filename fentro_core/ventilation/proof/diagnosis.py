"""From all tests of a ventilator together to what is wrong with it: every fault, and every two of them, are weighed."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from itertools import combinations
from math import exp, log

from fentro_core.system.fresh_air import Ventilator, VentilatorControl
from fentro_core.ventilation.proof.faults import FAULTS, Looks, VentilatorFault, due, possible, shown
from fentro_core.ventilation.proof.judging import looks_of
from fentro_core.ventilation.proof.step import VentilatorTest, VentilatorTestSeen

SOUND_BEFOREHAND = 0.4
TWO_BEFOREHAND = 0.1
"""Chance, before any test, that nothing is wrong, and that two things are. Ours."""

COMMON: Mapping[str, float] = {"filter": 2.0, "settings": 2.0, "screen": 1.5}
"""How much more often than others. Ours."""

SLIP = 0.05
"""How often a look is taken for something else, or taken too early. Ours, from trials on simulated ventilators."""

SURE_FROM = 0.8
WORTH_A_LOOK = 0.25
"""A fault that is named, and one for whose sake a test is repeated. Ours."""

LEAST_RUNS = 2
"""No fault is named for one run of one test alone."""

SEEN = ("filters", "screen")
"""What is seen and not concluded: its test says it. Here it only explains what else was seen."""
SEEN_FAULTS = ("filter", "screen", "no_screen")

UNLIKELY = 0.1
"""A single look less likely than this is not believed: the test is repeated."""

VALUES: Mapping[str, tuple[str, ...]] = {
    "as_card": ("yes", "no"),
    "sensor": ("right", "off"),
    "minutes": ("right", "off"),
    "fan": ("runs", "stands"),
    "blower": ("runs", "stands"),
    "again": ("runs", "stands"),
    "damper": ("open", "shut"),
    "air": ("right", "wrong", "little", "none"),
    "filters": ("clean", "dirty", "blocked"),
    "screen": ("clear", "clogged", "missing"),
}

Run = tuple[VentilatorTest, list[tuple[str, str]]]


@dataclass(frozen=True)
class Suspect:
    """A fault, and how sure the tests make it, 0 to 1."""

    fault: VentilatorFault
    sure: float


@dataclass(frozen=True)
class VentilatorDiagnosis:
    """Faults by rank; `found`: those that are sure enough; `sound`: how sure that nothing is wrong.

    `again`: tests to be repeated before anybody believes what they showed.
    """

    suspects: tuple[Suspect, ...]
    found: tuple[VentilatorFault, ...]
    sound: float
    again: tuple[str, ...] = ()


def diagnose(
    tests: Mapping[str, VentilatorTest],
    seen: Iterable[VentilatorTestSeen],
    ventilator: Ventilator,
    control: VentilatorControl | None,
) -> VentilatorDiagnosis:
    """Weigh every fault alone and every two together.

    Parameters
    ----------
    tests : mapping
        The plan by key.
    seen : iterable of VentilatorTestSeen
        Every run, in order; those stopped or refused say nothing. Of a test that was repeated the last one counts, and earlier
        ones where they showed the same odd things: after a repair they would not.
    ventilator, control
        As the tests were planned for.
    """
    runs = _that_count(
        [(tests[each.test], looks_of(tests[each.test], each, ventilator, control)) for each in seen if _says(each, tests)]
    )
    if not runs:
        return VentilatorDiagnosis((), (), 0.0)
    may = possible(ventilator, tests)
    share = sum(COMMON.get(key, 1.0) for key in may)
    prior = {key: COMMON.get(key, 1.0) / share for key in may}
    chances: dict[tuple[str, ...], float] = {(): log(SOUND_BEFOREHAND)}
    chances |= {(key,): log((1 - SOUND_BEFOREHAND - TWO_BEFOREHAND) * prior[key]) for key in may}
    chances |= {pair: log(TWO_BEFOREHAND * 2 * prior[pair[0]] * prior[pair[1]]) for pair in combinations(may, 2)}
    weights = {faults: chance + sum(log(each) for _, _, each in _weighed(runs, faults)) for faults, chance in chances.items()}
    top = max(weights.values())
    whole = sum(exp(each - top) for each in weights.values())
    share_of = {faults: exp(each - top) / whole for faults, each in weights.items()}
    sure = {key: sum(share for faults, share in share_of.items() if key in faults) for key in may}
    best = max(share_of, key=lambda faults: share_of[faults])
    again = [test.key for test, ask, chance in _weighed(runs, best) if chance < UNLIKELY and ask not in SEEN]
    found: list[VentilatorFault] = []
    for key in sorted(may, key=lambda each: -sure[each]):
        if sure[key] < WORTH_A_LOOK or key in SEEN_FAULTS:
            continue
        speaking = list(_speaking(runs, key))
        if len(speaking) < LEAST_RUNS:
            again += speaking
        elif sure[key] >= SURE_FROM:
            found.append(FAULTS[key])
    ranked = sorted((Suspect(FAULTS[key], each) for key, each in sure.items() if each >= 0.03), key=lambda each: -each.sure)
    return VentilatorDiagnosis(tuple(ranked[:6]), tuple(found), share_of[()], tuple(dict.fromkeys(again)))


def _says(seen: VentilatorTestSeen, tests: Mapping[str, VentilatorTest]) -> bool:
    return seen.ended == "done" and seen.test in tests


def _that_count(runs: list[Run]) -> list[Run]:
    last = {test.key: looks for test, looks in runs}
    return [
        (test, looks)
        for test, looks in runs
        if looks is last[test.key] or (_odd(test, looks) and _odd(test, looks) == _odd(test, last[test.key]))
    ]


def _odd(test: VentilatorTest, looks: list[tuple[str, str]]) -> set[tuple[str, str]]:
    expected = due(test)
    return {(ask, value) for ask, value in looks if value not in expected[ask] and value != "close"}


def _weighed(runs: list[Run], faults: tuple[str, ...]) -> Iterator[tuple[VentilatorTest, str, float]]:
    """By look: how likely it is with these faults."""
    for test, looks in runs:
        may = _together(test, faults, dict(looks).get("fan", ""))
        for ask, value in looks:
            if value != "close":
                yield test, ask, _chance(may[ask], value, VALUES[ask])


def _together(test: VentilatorTest, faults: tuple[str, ...], fan: str) -> Looks:
    """What may be seen with all of them: of two that show themselves at the same place, either."""
    may: dict[str, tuple[str, ...]] = {}
    fan = "" if "fan_dead" in faults else fan
    for fault in faults:
        for ask, values in shown(fault, test, fan).items():
            may[ask] = (*may.get(ask, ()), *values)
    return {**due(test), **may}


def _chance(may: tuple[str, ...], value: str, values: tuple[str, ...]) -> float:
    others = len(values) - len(set(may))
    if value in may:
        return (1 - SLIP if others else 1.0) * may.count(value) / len(may)
    return SLIP / others


def _speaking(runs: list[Run], fault: str) -> Iterator[str]:
    """Tests that speak for this fault and against a sound ventilator; once a run: who looks too early mistakes all of it."""
    for test, looks in runs:
        expected, instead = due(test), shown(fault, test, dict(looks).get("fan", ""))
        if any(ask in instead and value in instead[ask] and value not in expected[ask] for ask, value in looks):
            yield test.key

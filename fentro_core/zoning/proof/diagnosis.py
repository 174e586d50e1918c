"""From all tests together to the one thing that is wrong, and where: every fault at every place is weighed."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from math import exp, log, prod

from fentro_core.system.ducts import DuctTree
from fentro_core.zoning.proof.faults import FAULTS, Shown, Wrong, ZoneFault, places, shown
from fentro_core.zoning.proof.plan import Proof
from fentro_core.zoning.proof.step import LOW_VOLTS, Air, Due, ZoneTest, ZoneTestSeen

SOUND_BEFOREHAND = 0.4
SURE_FROM = 0.6

AIR_SEEN: Mapping[str, Mapping[str, float]] = {
    "open": {"air": 0.93, "little": 0.05, "none": 0.02},
    "faint": {"air": 0.40, "little": 0.40, "none": 0.20},
    "least": {"air": 0.30, "little": 0.60, "none": 0.10},
    "shut": {"air": 0.03, "little": 0.27, "none": 0.70},
    "between": {"air": 0.40, "little": 0.50, "none": 0.10},
    "anywhere": {"air": 0.40, "little": 0.30, "none": 0.30},
}
"""How likely a hand feels what, by how the damper stands; a slip of the technician is within. Ours."""

COMMON: Mapping[str, float] = {"stuck_open": 2.0, "stuck_shut": 2.0, "chain_broken": 1.5, "leak": 2.0}
"""How much more often than others. Ours."""

RARELY: Mapping[tuple[str, str], float] = {("battery_flat", "silent"): 0.1}
"""Whoever finds no signal looks at the battery: that it stays hidden is rare."""

TOO_EARLY = 0.05
"""How often a test is looked at before the dampers stand. Ours."""

UNLIKELY = 0.1
"""A single look less likely than this is not believed: the test is repeated."""

LEAST_LOOKS = 2
"""No fault is named for one look alone."""

ODD_FROM = 2.5
"""A look is odd that is so many times likelier if the damper stood the other way."""

INDICATOR_RIGHT, CALLED_RIGHT, CONTROL_RIGHT, LEVER_RIGHT, HOLD_RIGHT = 0.95, 0.97, 0.96, 0.92, 0.95
VOLTS_LOW = {True: 0.95, False: 0.002}
STATIC_HIGH = {True: 0.75, False: 0.12}


@dataclass(frozen=True)
class Suspect:
    """A fault at a place, how sure the tests make it, 0 to 1."""

    fault: ZoneFault
    at: tuple[str, ...]
    sure: float


@dataclass(frozen=True)
class ZoneDiagnosis:
    """Faults by rank; `found`: the first where it is sure enough; `sound`: how sure that nothing is wrong.

    `again`: tests of which something fits neither what is due nor what was found: to be repeated before anybody believes it.
    """

    suspects: tuple[Suspect, ...]
    found: Suspect | None
    sound: float
    again: tuple[str, ...] = ()


def diagnose(
    tree: DuctTree,
    tests: Mapping[str, ZoneTest],
    seen: Iterable[ZoneTestSeen],
    given: Proof,
    most_static_pa: float | None = None,
) -> ZoneDiagnosis:
    """Weigh every fault at every place.

    Parameters
    ----------
    tree : DuctTree
    tests : mapping
        The plan by key.
    seen : iterable of ZoneTestSeen
        Every run, in order; those stopped or refused say nothing. Of a test that was repeated the last one counts, and earlier
        ones where they showed the same odd things: after a repair they would not.
    given : Proof
    most_static_pa : float, optional
        By the nameplate [Pa].

    One fault is weighed at a time: of two, the one that explains more is named first. Chances are ours, from trials on
    simulated houses.
    """
    runs = _that_count([(tests[each.test], each) for each in seen if each.ended == "done" and each.test in tests])
    if not runs:
        return ZoneDiagnosis((), None, 0.0)
    every = list(places(tree, given.bypass))
    ways: dict[str, int] = defaultdict(int)
    for wrong in every:
        ways[wrong.key] += 1
    shares = sum(COMMON.get(key, 1.0) for key in ways)
    every_chance = {Wrong(): log(SOUND_BEFOREHAND) + _likelihood(tree, runs, Wrong(), given, most_static_pa)}
    weights: dict[tuple[str, tuple[str, ...]], float] = {("", ()): every_chance[Wrong()]}
    grouped: dict[tuple[str, tuple[str, ...]], list[float]] = defaultdict(list)
    odd = _odd_rooms(runs)
    for wrong in every:
        if wrong.key == "chain_broken" and not odd.issuperset(wrong.at):
            continue
        if wrong.key == "ports_swapped" and odd.isdisjoint(wrong.at):
            continue
        prior = (1 - SOUND_BEFOREHAND) * COMMON.get(wrong.key, 1.0) / shares / ways[wrong.key]
        chance = log(prior * RARELY.get((wrong.key, wrong.variant), 1.0)) + _likelihood(tree, runs, wrong, given, most_static_pa)
        every_chance[wrong] = chance
        grouped[(wrong.key, wrong.at)].append(chance)
    weights.update({place: _sum_of_logs(chances) for place, chances in grouped.items()})
    whole = _sum_of_logs(list(weights.values()))
    ranked = sorted(weights.items(), key=lambda each: -each[1])
    sound = exp(weights[("", ())] - whole)
    suspects = tuple(
        Suspect(FAULTS[key], at, exp(weight - whole)) for (key, at), weight in ranked[:6] if key and exp(weight - whole) >= 0.02
    )
    best = max(((chance, wrong) for wrong, chance in every_chance.items()), key=lambda each: each[0])[1]
    said = [(test, run, list(_chances(tree, test, run, best, given, most_static_pa))) for test, run in runs]
    again = [test.key for test, _, chances in said if any(chance < UNLIKELY for chance in chances)]
    first = suspects[0] if suspects and suspects[0].sure >= SURE_FROM else None
    if first is not None:
        speaking = [
            test.key
            for test, run, chances in said
            for chance, sound_chance in zip(chances, _chances(tree, test, run, Wrong(), given, most_static_pa), strict=True)
            if sound_chance < UNLIKELY <= chance
        ]
        if len(speaking) < LEAST_LOOKS:
            first, again = None, again + speaking
    return ZoneDiagnosis(suspects, first, sound, tuple(dict.fromkeys(again)))


def _that_count(runs: list[tuple[ZoneTest, ZoneTestSeen]]) -> list[tuple[ZoneTest, ZoneTestSeen]]:
    last = {test.key: run for test, run in runs}
    return [(test, run) for test, run in runs if run is last[test.key] or _same(test, run, last[test.key])]


def _same(test: ZoneTest, one: ZoneTestSeen, other: ZoneTestSeen) -> bool:
    """Both show the same odd things, and not only nothing odd."""
    odd = _odd_rooms([(test, one)])
    return (
        odd == _odd_rooms([(test, other)])
        and one.indicators == other.indicators
        and one.called == other.called
        and one.held == other.held
    )


def _odd_rooms(runs: list[tuple[ZoneTest, ZoneTestSeen]]) -> set[str]:
    """Rooms that once did not show what was due: only of these may several have been left behind."""
    return {
        room
        for test, seen in runs
        for room, air in seen.air.items()
        if room in test.rooms and _speaks_against(test.rooms[room], air)
    }


def _speaks_against(due: Due, air: Air) -> bool:
    """Far likelier if the damper stood the other way."""
    other = "shut" if due == "open" else "open"
    return AIR_SEEN[other][air] > ODD_FROM * AIR_SEEN[due][air]


def _sum_of_logs(values: list[float]) -> float:
    top = max(values)
    return top + log(sum(exp(each - top) for each in values))


def _likelihood(
    tree: DuctTree, runs: list[tuple[ZoneTest, ZoneTestSeen]], wrong: Wrong, given: Proof, most_static_pa: float | None
) -> float:
    total = 0.0
    for test, seen in runs:
        would = shown(tree, test, wrong)
        looks = prod(_looks(test, seen, would))
        rest = prod(_figures(test, seen, would, given, most_static_pa))
        total += log(max((looks * (1 - TOO_EARLY) + TOO_EARLY * _if_early(test, seen)) * rest, 1e-300))
    return total


def _if_early(test: ZoneTest, seen: ZoneTestSeen) -> float:
    """How likely all this is if somebody looked before the dampers stood: it says nothing of a fault then."""
    if not seen.indicators and not seen.air:
        return 0.0
    lights = prod(0.8 if light == "moving" else 0.1 for zone, light in seen.indicators.items() if zone in test.calling)
    others = prod(0.8 if light == "shut" else 0.1 for zone, light in seen.indicators.items() if zone not in test.calling)
    rooms = prod(
        AIR_SEEN["faint" if due == "open" else due][seen.air[room]] for room, due in test.rooms.items() if room in seen.air
    )
    return lights * others * rooms


def _chances(
    tree: DuctTree, test: ZoneTest, seen: ZoneTestSeen, wrong: Wrong, given: Proof, most_static_pa: float | None
) -> Iterator[float]:
    """Of every single thing that was seen."""
    would = shown(tree, test, wrong)
    yield from _looks(test, seen, would)
    yield from _figures(test, seen, would, given, most_static_pa)


def _looks(test: ZoneTest, seen: ZoneTestSeen, would: Shown) -> Iterator[float]:
    """At registers and indicators: what depends on whether the dampers stand already."""
    for room, air in seen.air.items():
        state = would.rooms.get(room)
        if state is not None:
            yield AIR_SEEN["faint" if state == "open" and room in test.faint else state][air]
    for zone, light in seen.indicators.items():
        if would.indicators.get(zone) == "anything":
            yield 1 / 3
        elif zone in would.indicators:
            yield INDICATOR_RIGHT if light == would.indicators[zone] else (1 - INDICATOR_RIGHT) / 3


def _figures(test: ZoneTest, seen: ZoneTestSeen, would: Shown, given: Proof, most_static_pa: float | None) -> Iterator[float]:
    """At the control point, the bypass, the gauge, the meter, the bladders."""
    if test.kind == "control":
        if seen.called is not None:
            yield CALLED_RIGHT if set(seen.called) == set(would.called) else 1 - CALLED_RIGHT
        if seen.control:
            yield CONTROL_RIGHT if seen.control == would.control else (1 - CONTROL_RIGHT) / 2
    if seen.bypass and given.bypass and test.kind in ("all", "bypass"):
        # While it is being set it stands as it must: only a blade that stays shut says something then.
        shut = would.lever == "shut"
        near = {"shut"} if shut else {"part", "open"} if test.kind == "bypass" else {would.lever}
        yield LEVER_RIGHT / len(near) if seen.bypass in near else (1 - LEVER_RIGHT) / (3 - len(near))
    if seen.static_pa is not None and most_static_pa and given.bypass and test.kind == "bypass":
        high = STATIC_HIGH[would.static_high]
        yield high if seen.static_pa > most_static_pa else 1 - high
    if seen.volts is not None:
        low = seen.volts < LOW_VOLTS * given.supply_v
        chance = VOLTS_LOW[would.volts_low]
        yield chance if low else 1 - chance
    for room, held in seen.held.items():
        yield HOLD_RIGHT if held == (room not in (would.leaks or ())) else 1 - HOLD_RIGHT

"""The proof against the other unit: convictions by what is hidden, sound units accused, what was undecided, what is held."""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Callable, Iterator
from random import Random
from typing import Any

from bench.economizer import HIDDEN as OF_OURS
from bench.economizer import MISPLACED, PAIRS
from bench.findings import Told
from bench.otherunit.unit import PLACES, Make, OtherUnit, Wrong
from fentro_core.economizer.configuration import Configuration
from fentro_core.economizer.proof.day import Day
from fentro_core.economizer.proof.diagnosis import ANOTHER_DAY, Diagnosis
from fentro_core.economizer.proof.plan import plan
from fentro_core.economizer.proof.session import whole_proof
from fentro_core.economizer.proof.step import TestRun

SEED = 39088169
"""Changed after the last change of a rule."""

SHOWS_PLANNED = 0.25
"""Of so many the settings as read say nothing of what runs: more than we believe there are."""

HIDDEN = tuple(each for each in OF_OURS if each)
"""What our own units hide, too: the same words, other physics."""


def drawn(hidden: tuple[str, ...], seed: int) -> tuple[OtherUnit, Configuration]:
    """A unit with these faults, and the configuration it was planned with."""
    draw = Random(f"{hidden}|{seed}")
    school = draw.choice(("fixed_dry_bulb", "differential_dry_bulb", "fixed_enthalpy", "differential_enthalpy"))
    planned = Configuration(
        sequence=draw.choice(("integrated", "exclusive")),
        changeover=school,  # type: ignore[arg-type]
        high_limit_c=23.9 if "enthalpy" in school else draw.choice((18.3, 21.1, 23.9)),
        minimum_position=round(draw.uniform(0.12, 0.32), 2),
        heating_damper=draw.choice(("minimum", "closed")),
        on_sensor_failure=draw.choice(("minimum", "closed")),
        relief_opens_pa=draw.choice((8.0, 10.0, 12.5)),
        stages=draw.choice((1, 2)),
        differential_k=draw.choice((1.0, 1.5, 2.0)),
    )
    make = Make(
        stroke_s=draw.uniform(60, 150),
        outdoor_power=draw.uniform(1.0, 1.7),
        return_power=draw.uniform(0.8, 1.4),
        closed_leak=draw.uniform(0.005, 0.03),
        return_leak=draw.uniform(0.01, 0.05),
        stages=planned.stages,
        stage_drop_k=draw.uniform(4.5, 7.0) * (2 if planned.stages == 1 else 1),
        sensor_s={place: draw.uniform(15, 70) for place in PLACES},
        sensor_off_k={place: draw.gauss(0, 0.25) for place in PLACES},
        feedback_off=draw.uniform(-0.02, 0.02),
        band_k=draw.choice((0.3, 0.5, 1.0)),
        stage_delay_s=draw.uniform(60, 240),
        tight_pa=draw.uniform(22, 40),
        load_k=draw.uniform(7, 11),
    )
    wrong: dict[str, Any] = {}
    for each in hidden:
        for key, value in _wrong(each, planned, draw).items():
            wrong[key] = {**wrong.get(key, {}), **value} if isinstance(value, dict) else value
    weather = (draw.choice((4.0, 9.0, 13.0, 16.0, 29.0, 33.0)) + draw.uniform(-2, 2), draw.uniform(0.35, 0.7))
    while any(step.not_today for step in plan(planned, Day(outdoor_c=weather[0] - 2, return_c=22.0))):
        weather = (weather[0] + 4.0, weather[1])
    wrong["shows_planned"] = Random(f"shown|{hidden}|{seed}").random() < SHOWS_PLANNED
    return OtherUnit(seed, make, planned, Wrong(**wrong), weather), planned


def _wrong(hidden: str, planned: Configuration, draw: Random) -> dict[str, Any]:
    sign, least = draw.choice((-1, 1)), planned.minimum_position
    changed: dict[str, Any] = {"high_limit_c": planned.high_limit_c + sign * draw.uniform(4, 7)}
    if planned.changeover != "fixed_dry_bulb":
        changed = {"changeover": "fixed_dry_bulb", "high_limit_c": 15.5 if sign < 0 else 30.0}
    return {
        "stuck_damper": {"stuck_at": draw.choice((0.0, 0.3, 0.5, 0.75, 1.0))},
        "reversed_actuator": {"reversed": True},
        "slipped_linkage": {"slip": draw.uniform(0.25, 0.5)},
        "loose_blades": {"loose_at": draw.uniform(0.0, 1.0)},
        "misplaced_sensor": {"misplaced": dict([draw.choice(MISPLACED)])},
        "no_cooling": {"compressor_dead": True},
        "low_limit_tied": {"low_limit_at": "outdoor"},
        "swapped_sensors": {"swapped": draw.choice(PAIRS)},
        "drifted_sensor": {"drift": {draw.choice(PLACES): sign * draw.uniform(2.5, 6)}},
        "wrong_changeover": {"settings": changed},
        "wrong_minimum": {"settings": {"minimum_position": min(least * 2 + 0.1, 0.9) if sign > 0 or least < 0.17 else 0.04}},
        "relief_blocked": {"relief_shut": True},
        "compressor_not_locked": {"compressor_free": True},
        "no_differential": {"settings": {"differential_k": 0.0}},
        "fail_safe": draw.choice(({"spring": "stays"}, {"spring": "opens"}, {"settings": {"on_sensor_failure": "full"}})),
    }[hidden]


def proved(unit: OtherUnit, planned: Configuration) -> tuple[Diagnosis, tuple[TestRun, ...]]:
    """The whole proof, with the audit by a probe."""
    unit.advance(900)
    return whole_proof(unit, planned, unit.advance, unit.reference, unit.hand, unit.pressure_pa)


def in_place(hidden: tuple[str, ...], seed: int) -> tuple[Diagnosis, OtherUnit]:
    """One drawn unit, proved without a wire between."""
    unit, planned = drawn(hidden, seed)
    return proved(unit, planned)[0], unit


def another_day(hidden: tuple[str, ...], seed: int) -> Diagnosis:
    """The same unit on a day with its airs further apart, as the proof asks for."""
    unit, planned = drawn(hidden, seed)
    draw = Random(f"another day|{hidden}|{seed}")
    weather = (draw.choice((8.0, 11.0, 33.0)) + draw.uniform(-2, 2), draw.uniform(0.35, 0.7))
    return proved(OtherUnit(seed + 1, unit.make, planned, unit.wrong, weather), planned)[0]


def singles(
    seed: int, faulty: int, sound: int, prove_one: Callable[[tuple[str, ...], int], tuple[Diagnosis, OtherUnit]] = in_place
) -> Iterator[Told]:
    """So many units of every fault, and sound ones."""
    right = wrong = undecided = held = count = 0
    for hidden in HIDDEN:
        named: Counter[str] = Counter()
        deciding: Counter[str] = Counter()
        for at in range(faulty):
            found, unit = prove_one((hidden,), seed * 100 + at)
            named[found.found or "undecided"] += 1
            deciding.update(found.open_between[:1])
            held += bool(unit.held)
            count += 1
        right += named[hidden]
        undecided += named["undecided"]
        wrong += sum(named.values()) - named[hidden] - named["undecided"]
        yield Told(f"  {hidden:24} {dict(named.most_common())}{f' to decide: {dict(deciding)}' if deciding else ''}")
    accused: Counter[str] = Counter()
    for at in range(sound):
        found, unit = prove_one((), seed * 100 + at)
        accused[found.found] += bool(found.found)
        held += bool(unit.held)
    yield Told(f"  {count} faulty: right {right / count:.0%} (aim 90), wrong {wrong} (0), undecided {undecided}")
    yield Told(f"  {sound} sound: convicted {sum(accused.values())} (0) {dict(+accused)}; still held at the end: {held} (0)")


def rows(seed: int = SEED, faulty: int = 8, sound: int = 40, two: int = 24) -> Iterator[Told]:
    """So many units of every fault, sound ones, and pairs."""
    began = time.perf_counter()
    yield from singles(seed, faulty, sound)
    one = later = none_wrong = 0
    left: Counter[str] = Counter()
    draw = Random(f"pairs|{seed}")
    for at in range(two):
        pair = tuple(draw.sample(HIDDEN, 2))
        found, _ = in_place(pair, seed * 100 + at)
        one += found.found in pair
        if not found.found and ANOTHER_DAY in found.open_between:
            found = another_day(pair, seed * 100 + at)
            later += found.found in pair
        none_wrong += bool(found.found) and found.found not in pair
        left[found.open_between[0] if found.open_between else "nothing"] += not found.found
    yield Told(
        f"  {two} with two faults: one of them named {one}, {later} more on another day where it asked for one;"
        f" another named {none_wrong} (0), to decide the others: {dict(+left)}"
    )
    yield Told(f"  {time.perf_counter() - began:.0f} s")

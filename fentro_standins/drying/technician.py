"""A technician with ordinary probes who reads too early, leaves a reading out, mixes two up, or looks at the wrong thing."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from random import Random

from fentro_core.moisture.proof import DryingTestKind, DryingTestSeen, Runs
from fentro_standins.drying.unit import DryingUnit


@dataclass(frozen=True)
class Habits:
    """How often a reading is left out, two are mixed up, a test is read too early; how far a probe is off [K]."""

    missing: float = 0.0
    slips: float = 0.0
    early: float = 0.0
    probe_k: float = 0.25
    noise_k: float = 0.2


SLOPPY = Habits(missing=0.06, slips=0.02, early=0.05)


def prove(unit: DryingUnit, tests: Iterable[DryingTestKind], random: Random, habits: Habits = SLOPPY) -> list[DryingTestSeen]:
    """Each test once, read as this person reads."""
    probes = [random.gauss(0.0, habits.probe_k) for _ in range(3)]
    return [_read(unit, test, random, habits, probes) for test in tests]


def _read(unit: DryingUnit, test: DryingTestKind, random: Random, habits: Habits, probes: list[float]) -> DryingTestSeen:
    so = unit.shows(test)
    values = [so.return_c, so.after_c, so.supply_c]
    if random.random() < habits.early:
        stands = random.uniform(0.2, 0.9)
        values = [so.return_c + stands * (value - so.return_c) for value in values]
    shown: list[float | None] = [
        round(value + off + random.gauss(0.0, habits.noise_k), 1) for value, off in zip(values, probes, strict=True)
    ]
    if random.random() < habits.slips:
        one, other = random.sample(range(3), 2)
        shown[one], shown[other] = shown[other], shown[one]
    shown = [None if random.random() < habits.missing else value for value in shown]
    looked: Runs = "runs" if so.runs != (random.random() < habits.slips) else "stands"
    if test != "dehumidify" or random.random() < habits.missing:
        looked = ""
    return DryingTestSeen(test, shown[0], shown[1], shown[2], looked)

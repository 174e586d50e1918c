"""A technician with ordinary probes who reads too early, leaves a reading out, mixes two up, or looks at the wrong thing."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from random import Random

from fentro_core.moisture.live import held
from fentro_core.moisture.proof import WAIT_S, DryingTestKind, DryingTestSeen, Runs
from fentro_core.system.packaged_rooftop import RooftopNameplate
from fentro_standins.rooftop.unit import RooftopUnit

PLACES = ("return", "after_coil", "supply")
STEP_S = 5.0


@dataclass(frozen=True)
class Habits:
    """How often a reading is left out, two are mixed up, a test is read too early; how far a probe is off [K]."""

    missing: float = 0.0
    slips: float = 0.0
    early: float = 0.0
    probe_k: float = 0.25
    noise_k: float = 0.2


SLOPPY = Habits(missing=0.06, slips=0.02, early=0.05)


def prove(unit: RooftopUnit, tests: Iterable[DryingTestKind], random: Random, habits: Habits = SLOPPY) -> list[DryingTestSeen]:
    """Each test once, called at the unit's own controls and read as this person reads."""
    probes = [random.gauss(0.0, habits.probe_k) for _ in PLACES]
    return [_read(unit, test, random, habits, probes) for test in tests]


def _read(unit: RooftopUnit, test: DryingTestKind, random: Random, habits: Habits, probes: list[float]) -> DryingTestSeen:
    for point in sorted(unit.held):
        unit.release(point)
    build = unit.build
    plate = RooftopNameplate(reheat="hot_gas" if build.reheat_w else None, return_bypass=build.around_open > 0)
    for each in held(test, plate):
        unit.override(each.point, each.value)
    unit.advance(random.uniform(0.03, 0.5) * WAIT_S if random.random() < habits.early else WAIT_S, STEP_S)
    shown: list[float | None] = [
        round(unit.true[place].c + off + random.gauss(0.0, habits.noise_k), 1) for place, off in zip(PLACES, probes, strict=True)
    ]
    if random.random() < habits.slips:
        one, other = random.sample(range(3), 2)
        shown[one], shown[other] = shown[other], shown[one]
    shown = [None if random.random() < habits.missing else value for value in shown]
    runs = unit.outputs["compressor"] > 0
    looked: Runs = "runs" if runs != (random.random() < habits.slips) else "stands"
    if test != "dehumidify" or random.random() < habits.missing:
        looked = ""
    return DryingTestSeen(test, shown[0], shown[1], shown[2], looked)

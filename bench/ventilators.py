"""The blind proof of ventilators: seeded ones with none, one or two hidden faults, and a technician who slips. Two disjoint sets;
chances were worked on with the first, so draw fresh seeds: ``python -m bench ventilators``.
"""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from random import Random

from bench.report import Row
from fentro_core.system.fresh_air import Ventilator, VentilatorControl, VentilatorKind
from fentro_core.ventilation.proof.diagnosis import SEEN_FAULTS, VentilatorDiagnosis, diagnose
from fentro_core.ventilation.proof.faults import possible
from fentro_core.ventilation.proof.plan import plan
from fentro_standins.ventilator.presets import CHART
from fentro_standins.ventilator.technician import Habits, prove
from fentro_standins.ventilator.unit import SimulatedVentilator, Weather

VENTILATORS = 400
SLOPPY = Habits(missing=0.08, slips=0.02, early=0.04)


@dataclass(frozen=True)
class Judged:
    """A ventilator's truth, and what the proof said."""

    seed: int
    hidden: tuple[str, ...]
    said: VentilatorDiagnosis

    @property
    def named(self) -> set[str]:
        """Faults that the proof names."""
        return {fault.key for fault in self.said.found}

    @property
    def concluded(self) -> set[str]:
        """What is hidden and is not simply seen."""
        return set(self.hidden) - set(SEEN_FAULTS)

    @property
    def kind(self) -> str:
        """``right``: all of it and nothing else; ``part``: some; ``acquitted``, ``accused`` where nothing is hidden; ``wrong``;
        ``open``. Filters and screen are seen and not concluded: they hide among the others and are not to be named.
        """
        if not self.concluded:
            return "accused" if self.named else "open" if self.said.again else "acquitted"
        if self.named - self.concluded:
            return "wrong"
        if not self.named:
            return "open"
        return "right" if self.named == self.concluded else "part"


def drawn(seed: int) -> tuple[Ventilator, VentilatorControl, Weather]:
    """A ventilator, what its card says, and the day."""
    random = Random(seed * 7919 + 1)
    kinds: tuple[VentilatorKind, ...] = ("exhaust", "supply", "balanced", "balanced")
    kind = random.choice(kinds)
    ventilator = Ventilator(
        kind=kind,
        chart=CHART,
        stale_chart=CHART if kind == "balanced" else (),
        damper=random.random() < 0.8,
        step_min=random.choice((1.0, 5.0, 10.0)),
    )
    lockouts = random.random() < 0.7
    low = random.choice((-15.0, -10.0, 0.0)) if lockouts else None
    card = VentilatorControl(
        minutes_per_hour=random.choice((15.0, 25.0, 30.0, 40.0, 60.0)),
        low_c=low,
        high_c=random.choice((None, 29.0, 35.0)) if lockouts else None,
        dew_point_c=random.choice((None, None, 16.0)),
        indoor_rh=random.choice((None, None, 0.65)),
        boost_min=random.choice((None, 30.0, 60.0)),
        interlock=random.random() < 0.4,
    )
    weather = Weather(random.uniform(-20.0, 38.0), random.uniform(-8.0, 20.0), random.uniform(0.25, 0.7))
    return ventilator, card, weather


def proved(seed: int, habits: Habits = SLOPPY) -> Judged:
    """One ventilator, proved blind; what is to be repeated is repeated once."""
    ventilator, card, weather = drawn(seed)
    random = Random(seed * 104729 + 3)
    tests = {test.key: test for test in plan(ventilator, card)}
    may = list(possible(ventilator, tests))
    count = random.choices((0, 1, 2), (0.35, 0.5, 0.15))[0]
    hidden = tuple(random.sample(may, count))
    if set(hidden) in ({"damper_shut", "damper_open"}, {"screen", "no_screen"}):
        hidden = hidden[:1]
    one = SimulatedVentilator(ventilator, card, seed, hidden, weather)
    seen = prove(one, tests.values(), card, random, habits)
    said = diagnose(tests, seen, ventilator, card)
    if said.again:
        seen += prove(one, [tests[key] for key in said.again], card, random, habits)
        said = diagnose(tests, seen, ventilator, card)
    return Judged(seed, hidden, said)


def figures(first_seed: int, count: int = VENTILATORS) -> tuple[Counter[str], list[Judged]]:
    """How often the proof did what, over ventilators that begin at a seed."""
    judged = [proved(seed) for seed in range(first_seed, first_seed + count)]
    return Counter(each.kind for each in judged), judged


def rows() -> Iterator[Row]:
    """The two sets, and seeds of now."""
    fresh = int(time.time()) % 1_000_000 + 100_000
    for name, first in (("first set", 1000), ("second set", 50_000), (f"fresh seeds from {fresh}", fresh)):
        counts, judged = figures(first)
        sound = sum(1 for each in judged if not each.concluded)
        one = [each for each in judged if len(each.concluded) == 1]
        two = [each for each in judged if len(each.concluded) == 2]
        right = sum(1 for each in one if each.kind == "right")
        both = sum(1 for each in two if each.kind == "right")
        yield Row(
            f"ventilators, {name}: single faults not named rightly",
            1.0 - right / len(one),
            0.25,
            f"{right} of {len(one)}; of {len(two)} pairs {both} wholly; {counts['wrong']} named wrongly, "
            f"{counts['accused']} of {sound} sound ones accused",
        )

"""The blind proof of reheat and bypass: seeded units with none or one hidden fault, and a technician who slips.

Limits were worked on with the first set; draw fresh seeds: ``python -m bench drying``.
"""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Iterator
from random import Random

from bench.report import Row
from fentro_core.moisture.proof import diagnose, tests
from fentro_core.system.packaged_rooftop import RooftopNameplate
from fentro_standins.drying.technician import SLOPPY, Habits, prove
from fentro_standins.drying.unit import FAULTS, DryingUnit

UNITS = 400
SOUND = 0.45


def proved(seed: int, habits: Habits = SLOPPY) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """What was hidden in one unit, and what the proof names; what is to be repeated is repeated up to twice."""
    random = Random(seed * 104729 + 5)
    kind = random.choice(("reheat", "bypass"))
    plate = RooftopNameplate(reheat="hot_gas") if kind == "reheat" else RooftopNameplate(return_bypass=True)
    hidden = () if random.random() < SOUND else (random.choice((*FAULTS[kind], *FAULTS["both"])),)
    unit = DryingUnit(seed, hidden)
    seen = prove(unit, [test.kind for test in tests(plate)], random, habits)
    said = diagnose(seen)
    for _ in range(2):
        if said.again:
            seen += prove(unit, said.again, random, habits)
            said = diagnose(seen)
    return hidden, tuple(fault.key for fault in said.found)


def figures(first_seed: int, count: int = UNITS) -> Counter[str]:
    """``right``, ``missed``, ``wrong`` of those with a fault; ``acquitted``, ``accused`` of the sound ones."""
    found: Counter[str] = Counter()
    for seed in range(first_seed, first_seed + count):
        hidden, named = proved(seed)
        if not hidden:
            found["accused" if named else "acquitted"] += 1
        else:
            found["right" if named == hidden else "wrong" if set(named) - set(hidden) else "missed"] += 1
    return found


def rows() -> Iterator[Row]:
    """The two sets, and seeds of now."""
    fresh = int(time.time()) % 1_000_000 + 100_000
    for name, first in (("first set", 1000), ("second set", 50_000), (f"fresh seeds from {fresh}", fresh)):
        found = figures(first)
        faulty = found["right"] + found["missed"] + found["wrong"]
        sound = found["acquitted"] + found["accused"]
        yield Row(
            f"reheat and bypass, {name}: faults not named rightly",
            1 - found["right"] / faulty,
            0.25,
            f"{found['right']} of {faulty}; {found['wrong']} named wrongly, {found['accused']} of {sound} sound ones accused",
        )

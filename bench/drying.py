"""The blind proof of reheat and bypass: seeded units with none or one hidden fault, and a technician who slips.

Limits were worked on with an earlier, simpler unit; draw fresh seeds: ``python -m bench drying``. The same units are proved by
their controller besides, as behind a gateway: by its own sensors, without a person's slips.
"""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Iterable, Iterator
from random import Random

from bench.report import Row
from fentro_core.economizer.proof.session import run_step
from fentro_core.moisture.live import PREFIX, live_step, seen_of
from fentro_core.moisture.proof import DryingTestKind, DryingTestSeen, diagnose, tests
from fentro_core.system.packaged_rooftop import RooftopNameplate
from fentro_standins.drying.technician import SLOPPY, STEP_S, Habits, prove
from fentro_standins.drying.unit import FAULTS, drying_unit
from fentro_standins.rooftop.unit import RooftopUnit

UNITS = 400
SOUND = 0.45


def by_controller(unit: RooftopUnit, kinds: Iterable[DryingTestKind], plate: RooftopNameplate) -> Iterator[DryingTestSeen]:
    """Each test run at the unit's controller."""
    for kind in kinds:
        yield seen_of(
            run_step(unit, live_step(plate, f"{PREFIX}{kind}"), lambda seconds: unit.advance(seconds, STEP_S), every_s=10.0)
        )


def proved(seed: int, habits: Habits | None = SLOPPY) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """What was hidden in one unit, and what the proof names; what is to be repeated is repeated up to twice.

    `habits`: of the technician; None: by the controller.
    """
    random = Random(seed * 104729 + 5)
    kind = random.choice(("reheat", "bypass", "both"))
    plate = RooftopNameplate(reheat=None if kind == "bypass" else "hot_gas", return_bypass=kind != "reheat")
    hidden = () if random.random() < SOUND else (random.choice(FAULTS[kind]),)
    unit = drying_unit(seed, kind, "".join(hidden))

    def run(kinds: Iterable[DryingTestKind]) -> list[DryingTestSeen]:
        return list(by_controller(unit, kinds, plate)) if habits is None else prove(unit, kinds, random, habits)

    seen = run(test.kind for test in tests(plate))
    said = diagnose(seen, both=kind == "both")
    for _ in range(2):
        if said.again:
            seen += run(said.again)
            said = diagnose(seen, both=kind == "both")
    return hidden, tuple(fault.key for fault in said.found)


def figures(first_seed: int, count: int = UNITS, habits: Habits | None = SLOPPY) -> Counter[str]:
    """``right``, ``missed``, ``wrong`` of those with a fault; ``acquitted``, ``accused`` of the sound ones."""
    found: Counter[str] = Counter()
    for seed in range(first_seed, first_seed + count):
        hidden, named = proved(seed, habits)
        if not hidden:
            found["accused" if named else "acquitted"] += 1
        else:
            found["right" if named == hidden else "wrong" if set(named) - set(hidden) else "missed"] += 1
    return found


def rows() -> Iterator[Row]:
    """The two sets, and seeds of now."""
    fresh = int(time.time()) % 1_000_000 + 100_000
    for name, first, habits in (
        ("first set", 1000, SLOPPY),
        ("second set", 50_000, SLOPPY),
        (f"fresh seeds from {fresh}", fresh, SLOPPY),
        (f"by the controller, fresh seeds from {fresh}", fresh, None),
    ):
        found = figures(first, habits=habits)
        faulty = found["right"] + found["missed"] + found["wrong"]
        sound = found["acquitted"] + found["accused"]
        yield Row(
            f"reheat and bypass, {name}: faults not named rightly",
            1 - found["right"] / faulty,
            0.25,
            f"{found['right']} of {faulty}; {found['wrong']} named wrongly, {found['accused']} of {sound} sound ones accused",
        )

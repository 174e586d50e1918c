"""The proof against the other unit with every call over HTTP: a tenth of the units that `otherunit` tries without."""

from __future__ import annotations

import os
import time
from collections import Counter
from collections.abc import Iterator

import django

from bench.findings import Told
from bench.otherunit.score import HIDDEN

SEED = 46368
"""Changed after the last change of a rule."""


def rows(seed: int = SEED, faulty: int = 3, sound: int = 20) -> Iterator[Told]:
    """So many units of every fault, and sound ones; ten to fifteen seconds each."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fentro_server.settings.test")
    django.setup()
    from tests.server.test_other_unit_over_http import over_http

    began = time.perf_counter()
    right = wrong = held = count = 0
    for hidden in HIDDEN:
        named: Counter[str] = Counter()
        for at in range(faulty):
            found, unit = over_http((hidden,), seed * 100 + at)
            named[found.found or "undecided"] += 1
            held += bool(unit.held)
            count += 1
        right += named[hidden]
        wrong += sum(named.values()) - named[hidden] - named["undecided"]
        yield Told(f"  {hidden:24} {dict(named.most_common())}")
    accused: Counter[str] = Counter()
    for at in range(sound):
        found, unit = over_http((), seed * 100 + at)
        accused[found.found] += bool(found.found)
        held += bool(unit.held)
    yield Told(
        f"  {count} faulty over HTTP: right {right / count:.0%} (aim 90), wrong {wrong} (0), undecided {count - right - wrong}"
    )
    yield Told(f"  {sound} sound: convicted {sum(accused.values())} (0) {dict(+accused)}; still held at the end: {held} (0)")
    yield Told(f"  {time.perf_counter() - began:.0f} s")

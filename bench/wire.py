"""The proof against the other unit with every call over HTTP: a tenth of the units that `otherunit` tries without."""

from __future__ import annotations

import os
import time
from collections.abc import Iterator

import django

from bench.findings import Told
from bench.otherunit.score import singles

SEED = 24157817
"""Changed after the last change of a rule."""


def rows(seed: int = SEED, faulty: int = 3, sound: int = 20) -> Iterator[Told]:
    """So many units of every fault, and sound ones; ten to fifteen seconds each."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fentro_server.settings.test")
    django.setup()
    from tests.server.test_other_unit_over_http import over_http

    began = time.perf_counter()
    yield from singles(seed, faulty, sound, over_http)
    yield Told(f"  {time.perf_counter() - began:.0f} s")

"""A logbook sorted on from where it was, against the same one sorted from nothing."""

from __future__ import annotations

import random
import uuid

import pytest

from fentro_core.logbook.entry import Entry, read_entry
from fentro_core.phase import sorted_out as sorting
from fentro_core.phase.sorted_out import SortedOut, sorted_out
from tests.core.visits import reading, started

PARTS = ("entries", "standing", "others", "readings", "latest", "saying")


def _logbook(draw: random.Random, length: int) -> tuple[Entry, ...]:
    """Readings of both phases, starts, corrections and withdrawals, as they come."""
    entries: list[dict] = []
    for _ in range(length):
        match draw.randrange(10):
            case 0:
                entries.append(started())
            case 1 if entries:
                old = draw.choice(entries)
                if any(each.get("replaces") == old["id"] for each in entries) or old["kind"] == "withdrawal":
                    continue
                entries.append({**old, "id": str(uuid.UUID(int=draw.getrandbits(128), version=4)), "replaces": old["id"]})
                entries[-1]["reason"] = "Read again."
            case _:
                phase = draw.choice(("as_found", "as_left"))
                station, value, point = draw.choice(("return", "supply")), draw.uniform(10, 30), draw.randrange(1, 4)
                entries.append(reading(station, "dry_bulb", value, "degC", phase=phase, point=point))
    return tuple(read_entry(each) for each in entries)


@pytest.mark.parametrize("seed", range(30))
def test_sorted_on_or_from_nothing_is_the_same(seed: int) -> None:
    draw = random.Random(seed)
    whole = _logbook(draw, 60)
    at = 0
    while at < len(whole):
        at = min(len(whole), at + draw.randrange(1, 9))
        now, fresh = sorted_out(whole[:at]), SortedOut(whole[:at])
        for part in PARTS:
            assert getattr(now, part) == getattr(fresh, part), part
            if part in ("readings", "latest"):
                assert [*getattr(now, part)] == [*getattr(fresh, part)], "the order counts, too"


def test_what_was_given_before_stays_as_it_was() -> None:
    whole = _logbook(random.Random(1), 20)
    first = sorted_out(whole[:10])
    standing, others, latest = first.standing, list(first.others), dict(first.latest)
    sorted_out(whole)
    assert (first.standing, first.others, first.latest) == (standing, others, latest)


def test_another_logbook_that_begins_alike_is_not_taken_for_it() -> None:
    whole = _logbook(random.Random(2), 30)
    sorted_out(whole)
    other = (*whole[:10], *whole[15:])
    assert sorted_out(other).standing == SortedOut(other).standing


def test_no_more_logbooks_are_kept_than_said() -> None:
    for seed in range(sorting.KEPT + 5):
        sorted_out(_logbook(random.Random(1000 + seed), 3))
    assert len(sorting._kept) <= sorting.KEPT

"""A chain of hashes over a visit's entries: each stands on the one before it, so that whoever changes one later is seen."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from hashlib import sha256
from typing import Any
from uuid import UUID


def link(before: str, entry: Any) -> str:
    """The next link: of the one before (for the first entry the visit's id) and of everything that the entry says.

    Parameters
    ----------
    entry : Entry
        Its row, or one alike (in a migration).
    """
    says = [
        before,
        str(entry.id),
        str(entry.visit_id),
        entry.number,
        entry.kind,
        entry.phase,
        _moment(entry.at),
        str(entry.by_id),
        _plain(entry.body),
        str(entry.replaces_id or ""),
        entry.reason,
    ]
    if core := getattr(entry, "core", ""):
        says.append(core)
    return sha256(json.dumps(says, sort_keys=True, separators=(",", ":")).encode()).hexdigest()


def _moment(at: datetime) -> str:
    return at.astimezone(UTC).isoformat(timespec="microseconds")


def _plain(given: Any) -> Any:
    """The same, whether it was just made or comes from the database: there 1e22 comes back as a whole number."""
    if isinstance(given, dict):
        return {key: _plain(value) for key, value in given.items()}
    if isinstance(given, list):
        return [_plain(value) for value in given]
    if isinstance(given, int | float) and not isinstance(given, bool):
        return repr(float(given))
    return given


@dataclass(frozen=True)
class Broken:
    """A visit whose chain does not hold, and the number of the first entry at which it does not."""

    visit: UUID
    number: int
    words: str


def broken(visits: Iterable[Any]) -> Iterator[Broken]:
    """Every visit of these whose entries are not those that were made. Each visit comes with its `entries`."""
    for visit in visits:
        last, number = str(visit.pk), 0
        for entry in visit.entries.order_by("number").iterator(chunk_size=1000):
            if entry.number != number + 1:
                yield Broken(visit.pk, number + 1, "an entry is missing")
                break
            last, number = link(last, entry), entry.number
            if entry.chain != last:
                yield Broken(visit.pk, number, "the entry, or one before it, is not as it was made")
                break
        else:
            if number != visit.entries_number or (number and last != visit.chain):
                yield Broken(visit.pk, number + 1, "entries are missing at the end, or were added past the server")

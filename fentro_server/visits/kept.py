"""Committed entries of the visits that go on now, kept read: an entry is answered with its whole logbook worked out again.

Entries never change, so what is kept never goes stale; only those that came since are fetched. What is not committed is never
kept: a transaction rolled back leaves nothing here.
"""

from __future__ import annotations

import threading
from bisect import bisect_right
from collections import OrderedDict
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any
from uuid import UUID

from pydantic_core import to_json

from fentro_core.base.sentence import Sentence
from fentro_core.base.typed_json import Json
from fentro_core.logbook.book import Book
from fentro_core.logbook.entry import Entry as CoreEntry
from fentro_core.logbook.entry import kind_of_entry
from fentro_core.logbook.kinds import all_kinds
from fentro_core.logbook.legible import legible
from fentro_server.visits.models import Entry, Visit


@dataclass(frozen=True)
class KeptEntry:
    """One entry: as the core reads it, and as pages are answered with it.

    One that this core can't read says why, and stands as a note, so that it can be taken back.
    """

    number: int
    id: str
    entry: CoreEntry
    shown: bytes
    chain: str = ""
    instruments: frozenset[str] = frozenset()
    trouble: Sentence | None = None


@dataclass(frozen=True)
class Logbook:
    """A visit's entries in order, up to a number.

    `entries`: those that this core can read; `troubled`: the others; `instruments`: ids of those that the entries name.
    """

    kept: tuple[KeptEntry, ...] = ()
    by_id: Book = field(default_factory=Book)
    instruments: frozenset[str] = frozenset()
    entries: tuple[CoreEntry, ...] = ()
    troubled: tuple[KeptEntry, ...] = ()

    @property
    def number(self) -> int:
        """Of the last entry; 0 before the first."""
        return self.kept[-1].number if self.kept else 0

    @property
    def unreadable(self) -> list[KeptEntry]:
        """Entries that this core can't read, less those that were taken back."""
        if not self.troubled:
            return []
        gone = {each.entry.replaces for each in self.kept}
        return [each for each in self.troubled if each.id not in gone]

    def after(self, number: int) -> list[bytes]:
        """The JSON of every entry after that number, for a page."""
        return [each.shown for each in self.kept[bisect_right(self.kept, number, key=lambda each: each.number) :]]

    def with_more(self, more: Iterable[KeptEntry]) -> Logbook:
        """This logbook and what came since."""
        fresh = [each for each in more if each.number > self.number]
        if not fresh:
            return self
        return Logbook(
            (*self.kept, *fresh),
            self.by_id.grown(each.entry for each in fresh),
            self.instruments.union(*(each.instruments for each in fresh)),
            (*self.entries, *(each.entry for each in fresh if each.trouble is None)),
            (*self.troubled, *(each for each in fresh if each.trouble is not None)),
        )


_READ = ("id", "kind", "at", "body", "phase", "replaces_id", "reason", "by_name", "core", "number", "received_at", "chain")
"""Columns of a row from `in_order`, and all that is asked of one here: a row need not be a model, which takes as long again."""


def entry_json(row: Entry) -> Json:
    """An entry's part of a snapshot; the row comes from `in_order`."""
    return {
        "id": str(row.id),
        "kind": row.kind,
        "at": row.at.isoformat(),
        "body": row.body,
        "phase": row.phase,
        "replaces": str(row.replaces_id) if row.replaces_id else None,
        "reason": row.reason,
        "by": row.by_name,
        "core": row.core,
    }


def read_row(row: Entry) -> KeptEntry:
    """An entry from the database. An older one that this core refuses stays, with the reason."""
    given = entry_json(row)
    entry, trouble = legible(given)
    return _kept(row, given, entry, trouble)


def kept_entry(row: Entry, entry: CoreEntry) -> KeptEntry:
    """An entry that was read."""
    return _kept(row, entry_json(row), entry)


def _kept(row: Entry, given: Json, entry: CoreEntry, trouble: Sentence | None = None) -> KeptEntry:
    """With what pages are answered with, written once: the entry, and the moment at which it came in."""
    shown = to_json({**_light(given), "received_at": row.received_at.isoformat()})
    named = frozenset() if trouble else frozenset(kind_of_entry(entry.kind).instruments(entry.body).values())
    return KeptEntry(row.number, entry.id, entry, shown, row.chain, named, trouble)


def _light(entry: Json) -> Json:
    """Without what its kind calls heavy: that comes with its part's page."""
    kind = all_kinds().get(entry["kind"])
    if kind is None or not kind.heavy:
        return entry
    body = dict(entry["body"])
    for path in kind.heavy:
        *way, last = path.split(".")
        at: dict[str, Any] = body
        for key in way:
            at[key] = dict(at[key])
            at = at[key]
        at[last] = []
    return {**entry, "body": body}


MOST_ENTRIES = 60_000
"""Kept by one process, over all visits: some 150 MB at the most."""


class Shelf:
    """Logbooks by visit; those not asked for longest go first."""

    def __init__(self, most: int = MOST_ENTRIES) -> None:
        self._most = most
        self._lock = threading.Lock()
        self._logbooks: OrderedDict[UUID, Logbook] = OrderedDict()
        self._entries = 0

    def get(self, visit: UUID) -> Logbook:
        """What is kept of a visit; an empty logbook when nothing is."""
        with self._lock:
            found = self._logbooks.get(visit)
            if found is None:
                return Logbook()
            self._logbooks.move_to_end(visit)
            return found

    def put(self, visit: UUID, logbook: Logbook) -> None:
        """Keep a logbook of committed entries; never an older one over a newer one."""
        with self._lock:
            known = self._logbooks.get(visit)
            if known is not None and known.number >= logbook.number:
                return
            self._entries += len(logbook.kept) - (len(known.kept) if known else 0)
            self._logbooks[visit] = logbook
            self._logbooks.move_to_end(visit)
            while self._entries > self._most and len(self._logbooks) > 1:
                _, gone = self._logbooks.popitem(last=False)
                self._entries -= len(gone.kept)

    def drop(self, visit: UUID) -> None:
        """Keep nothing of a visit."""
        with self._lock:
            gone = self._logbooks.pop(visit, None)
            self._entries -= len(gone.kept) if gone else 0

    def clear(self) -> None:
        """Keep nothing."""
        with self._lock:
            self._logbooks.clear()
            self._entries = 0


shelf = Shelf()


def committed(visit: UUID, number: int | None = None, *, keep: bool = True) -> Logbook:
    """All entries of a visit.

    Parameters
    ----------
    number : int, optional
        Of the visit's last entry, where it is known: then nothing is asked when all of them are kept.
    keep : bool
        False where the transaction may have written entries itself: what it sees may never be committed.
    """
    known = shelf.get(visit)
    if number is not None and known.number >= number:
        return known
    rows = Entry.objects.filter(visit_id=visit, number__gt=known.number).in_order()
    found = known.with_more(read_row(row) for row in rows.values_list(*_READ, named=True))
    if keep:
        shelf.put(visit, found)
    return found


def as_locked(visit: Visit, *, keep: bool) -> Logbook:
    """All entries of a visit whose row is locked: what is kept is held against it, and read anew where that differs."""
    found = committed(visit.pk, visit.entries_number, keep=keep)
    last = found.kept[-1].chain if found.kept else ""
    if (found.number, last) == (visit.entries_number, visit.chain):
        return found
    shelf.drop(visit.pk)
    return committed(visit.pk, keep=keep)

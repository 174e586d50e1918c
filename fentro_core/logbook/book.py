"""A visit's logbook, with what is no reading at hand: readings are many, and most rules look at the rest."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from fentro_core.logbook.entries import Reading
from fentro_core.logbook.entry import Entry


class Book(dict[str, Entry]):
    """All entries by id, in their order, also those replaced or taken back.

    >>> Book().others
    []
    """

    def __init__(self, entries: Iterable[Entry] = ()) -> None:
        super().__init__()
        self.others: list[Entry] = []
        for entry in entries:
            self.add(entry)

    def add(self, entry: Entry) -> None:
        """The next entry."""
        self[entry.id] = entry
        if not isinstance(entry.body, Reading):
            self.others.append(entry)

    def grown(self, entries: Iterable[Entry] = ()) -> Book:
        """A book of its own with more entries."""
        fresh = Book()
        fresh.update(self)
        fresh.others = list(self.others)
        for entry in entries:
            fresh.add(entry)
        return fresh


def others_of(logbook: Mapping[str, Entry]) -> list[Entry]:
    """Entries of a logbook that are no readings, in their order."""
    if isinstance(logbook, Book):
        return logbook.others
    return [entry for entry in logbook.values() if not isinstance(entry.body, Reading)]

"""The standing entries of a logbook, sorted out; one that has grown is sorted on from where it was.

A visit is worked out anew with every entry: sorting thousands of old ones each time would take longer than all the rest.
"""

from __future__ import annotations

from collections import OrderedDict
from operator import is_

from fentro_core.logbook.entries import Reading
from fentro_core.logbook.entry import Entry, standing

Place = tuple[str, str, int]
"""Station, quantity, point."""


class SortedOut:
    """What stands in a logbook. Not to be changed by who is given one.

    Attributes
    ----------
    standing
        All standing entries, in order.
    others
        Those that are no readings, in order.
    readings
        By phase, the latest reading of each place.
    latest
        The latest reading of each place, whichever phase.
    saying
        `others` by what their bodies are.
    """

    def __init__(self, entries: tuple[Entry, ...]) -> None:
        self.entries: tuple[Entry, ...] = ()
        self.standing: tuple[Entry, ...] = ()
        self.others: list[Entry] = []
        self.readings: dict[str, dict[Place, Entry]] = {}
        self.latest: dict[Place, Entry] = {}
        self.saying: dict[type, list[Entry]] = {}
        self._add(entries, tuple(standing(entries)))

    def _add(self, entries: tuple[Entry, ...], stand: tuple[Entry, ...]) -> None:
        self.entries = (*self.entries, *entries)
        self.standing = (*self.standing, *stand)
        for entry in stand:
            body = entry.body
            if isinstance(body, Reading):
                place = (body.station, body.quantity, body.point)
                self.readings.setdefault(entry.phase, {})[place] = entry
                self.latest.pop(place, None)
                self.latest[place] = entry
            else:
                self.others.append(entry)
                self.saying.setdefault(type(body), []).append(entry)

    def grown(self, entries: tuple[Entry, ...]) -> SortedOut | None:
        """The same with more entries; None where they are not these very ones and more, or a new one replaces another."""
        known = len(self.entries)
        more = entries[known:]
        if len(entries) < known or not all(map(is_, entries, self.entries)) or any(entry.replaces for entry in more):
            return None
        found = SortedOut(())
        found.entries, found.standing = self.entries, self.standing
        found.others = list(self.others)
        found.readings = {phase: dict(places) for phase, places in self.readings.items()}
        found.latest = dict(self.latest)
        found.saying = {kind: list(said) for kind, said in self.saying.items()}
        found._add(more, tuple(standing(more)))
        return found


KEPT = 64
"""Logbooks kept sorted: of the visits that go on."""

_kept: OrderedDict[str, SortedOut] = OrderedDict()


def sorted_out(entries: tuple[Entry, ...]) -> SortedOut:
    """What stands among these entries, from what was sorted of the same logbook before where that can be."""
    if not entries:
        return SortedOut(())
    logbook = entries[0].id
    known = _kept.get(logbook)
    found = (known.grown(entries) if known else None) or SortedOut(entries)
    _kept[logbook] = found
    try:
        while len(_kept) > KEPT:
            _kept.popitem(last=False)
    except KeyError:
        pass  # another thread was quicker
    return found


def forget() -> None:
    """Keep no logbook sorted."""
    _kept.clear()

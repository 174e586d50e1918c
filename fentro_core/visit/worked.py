"""A visit worked out whatever stands in its logbook: a bad entry is left out and named, and never takes the others along."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace

from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.logbook.entry import Entry
from fentro_core.logbook.snapshot import Snapshot
from fentro_core.visit.results import WorkUp
from fentro_core.visit.work_up import work_up

MOST_LEFT_OUT = 5
"""So many bad entries are looked for one by one; what comes after the next is left out whole."""

FAILS = Sentence("The visit can't be worked out with this entry. Take it back, and enter it anew.")
NOT_LOOKED_AT = Sentence("Not looked at: too many entries before it can't be worked out.")


@dataclass(frozen=True)
class LeftOut:
    """An entry that a visit can't be worked out with, and why."""

    entry: str
    words: Sentence


@dataclass(frozen=True)
class Worked:
    """A visit worked out with every entry that it can be worked out with."""

    found: WorkUp
    left_out: tuple[LeftOut, ...] = ()


class Unworkable(Exception):
    """Nothing can be worked out here, whatever the entries: the site or the plate can't be right."""

    def __init__(self, sentence: Sentence) -> None:
        super().__init__(sentence.say())
        self.sentence = sentence


Work = Callable[[Snapshot], WorkUp]


def worked(whole: Snapshot, unreadable: Iterable[LeftOut] = (), work: Work = work_up) -> Worked:
    """A visit worked out, entry by entry where it must be.

    Parameters
    ----------
    unreadable : iterable of LeftOut
        Entries that could not even be read, to be named with the others.
    work : callable
        What works a snapshot out; whatever it raises counts against the entries.

    Raises
    ------
    Unworkable
        The site or the plate can't be right.
    """
    left_out = list(unreadable)
    entries = list(whole.entries)
    while True:
        found, why = _tried(whole, entries, work)
        if found is not None:
            return Worked(found, tuple(left_out))
        if not entries:
            raise Unworkable(why)
        at, why = _first_bad(whole, entries, work)
        left_out.append(LeftOut(entries[at].id, why))
        if len(left_out) > MOST_LEFT_OUT:
            left_out += [LeftOut(entry.id, NOT_LOOKED_AT) for entry in entries[at + 1 :]]
            del entries[at:]
        else:
            del entries[at]


def _tried(whole: Snapshot, entries: Sequence[Entry], work: Work) -> tuple[WorkUp | None, Sentence]:
    try:
        return work(replace(whole, entries=tuple(entries))), FAILS
    except Refused as refused:
        return None, refused.sentence
    except Exception:
        return None, FAILS


def _first_bad(whole: Snapshot, entries: Sequence[Entry], work: Work) -> tuple[int, Sentence]:
    """The first entry with which the visit can't be worked out any more, and why."""
    good, bad, why = 0, len(entries), FAILS
    while bad - good > 1:
        middle = (good + bad) // 2
        found, said = _tried(whole, entries[:middle], work)
        if found is None:
            bad, why = middle, said
        else:
            good = middle
    return bad - 1, why

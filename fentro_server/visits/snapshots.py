"""A visit's snapshot from the database, and what the core makes of it, whatever stands in it."""

from __future__ import annotations

import logging
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.typed_json import Json
from fentro_core.logbook import snapshot as core
from fentro_core.logbook.entry import Entry as CoreEntry
from fentro_core.logbook.snapshot import FORMAT, VERSION, read_snapshot
from fentro_core.visit.results import WorkUp
from fentro_core.visit.work_up import work_up
from fentro_server.instruments.models import Instrument
from fentro_server.operation import numbers
from fentro_server.places.models import Site, System
from fentro_server.visits.kept import Logbook, entry_json
from fentro_server.visits.models import Entry, Visit

log = logging.getLogger(__name__)


def site_json(site: Site) -> Json:
    """The site's part of a snapshot."""
    return {
        "name": site.name,
        "elevation_m": site.elevation_m,
        "barometer_pa": site.barometer_pa,
        "climate_zone": site.climate_zone,
    }


def read_site(site: Site) -> core.Site:
    """The site as the core knows it."""
    return core.Site(**site_json(site))


def system_json(system: System) -> Json:
    """The system's part of a snapshot."""
    return {"name": system.name, "kind": system.kind, "nameplate": system.nameplate}


def instrument_json(instrument: Instrument) -> Json:
    """An instrument's part of a snapshot."""
    return {
        "id": str(instrument.id),
        "name": instrument.name,
        "kind": instrument.kind,
        "serial": instrument.serial,
        "accuracy": instrument.accuracy,
        "calibrated_on": instrument.calibrated_on.isoformat() if instrument.calibrated_on else None,
        "calibration_due_on": instrument.calibration_due_on.isoformat() if instrument.calibration_due_on else None,
    }


def snapshot_json(visit: Visit, logbook: Logbook, instruments: Iterable[Instrument]) -> Json:
    """The whole snapshot of a visit; instruments are those that its entries name."""
    rows = Entry.objects.filter(visit=visit, number__lte=logbook.number).in_order()
    return {**_head_json(visit, logbook, instruments), "entries": [entry_json(row) for row in rows]}


def _head_json(visit: Visit, logbook: Logbook, instruments: Iterable[Instrument]) -> Json:
    """A snapshot without its entries."""
    return {
        "format": FORMAT,
        "version": VERSION,
        "site": site_json(visit.system.site),
        "system": system_json(visit.system),
        "visit": {
            "id": str(visit.id),
            "purpose": visit.purpose,
            "opened_at": visit.opened_at.isoformat(),
            "technician": visit.technician.name,
        },
        "instruments": [instrument_json(each) for each in instruments if str(each.id) in logbook.instruments],
    }


def full_snapshot(visit: Visit, logbook: Logbook, instruments: Iterable[Instrument]) -> core.Snapshot:
    """The snapshot as the core reads it, with the entries that it can read."""
    head = read_snapshot(_head_json(visit, logbook, instruments))
    return replace(head, entries=logbook.entries)


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


MOST_LEFT_OUT = 5
"""So many bad entries are looked for one by one; what comes after the next is left out whole."""

FAILS = Sentence("The visit can't be worked out with this entry. Take it back, and enter it anew.")
NOT_LOOKED_AT = Sentence("Not looked at: too many entries before it can't be worked out.")


def worked(visit: Visit, logbook: Logbook, instruments: Iterable[Instrument]) -> Worked:
    """A visit worked out by the core. A bad entry is left out and named; it never takes the others along.

    Raises
    ------
    Unworkable
        The site or the plate can't be right.
    """
    try:
        whole = full_snapshot(visit, logbook, instruments)
    except Refused as refused:
        raise Unworkable(refused.sentence) from refused
    left_out = [LeftOut(each.id, each.trouble) for each in logbook.unreadable if each.trouble]
    entries = list(whole.entries)
    while True:
        found, why = _tried(whole, entries)
        if found is not None:
            return Worked(found, tuple(left_out))
        if not entries:
            raise Unworkable(why)
        at, why = _first_bad(whole, entries)
        left_out.append(LeftOut(entries[at].id, why))
        if len(left_out) > MOST_LEFT_OUT:
            left_out += [LeftOut(entry.id, NOT_LOOKED_AT) for entry in entries[at + 1 :]]
            del entries[at:]
        else:
            del entries[at]


def _tried(whole: core.Snapshot, entries: Sequence[CoreEntry]) -> tuple[WorkUp | None, Sentence]:
    try:
        with numbers.working_out():
            return work_up(replace(whole, entries=tuple(entries))), FAILS
    except Refused as refused:
        return None, refused.sentence
    except Exception:
        log.exception("work-up failed")
        return None, FAILS


def _first_bad(whole: core.Snapshot, entries: Sequence[CoreEntry]) -> tuple[int, Sentence]:
    """The first entry with which the visit can't be worked out any more, and why."""
    good, bad, why = 0, len(entries), FAILS
    while bad - good > 1:
        middle = (good + bad) // 2
        found, said = _tried(whole, entries[:middle])
        if found is None:
            bad, why = middle, said
        else:
            good = middle
    return bad - 1, why

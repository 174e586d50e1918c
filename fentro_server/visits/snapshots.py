"""A visit's snapshot from the database, and what the core makes of it, whatever stands in it."""

from __future__ import annotations

import logging
from collections.abc import Iterable
from dataclasses import replace
from functools import partial

from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import Json
from fentro_core.logbook import snapshot as core
from fentro_core.logbook.snapshot import FORMAT, VERSION, read_head
from fentro_core.visit.results import WorkUp
from fentro_core.visit.work_up import work_up
from fentro_core.visit.worked import LeftOut, Unworkable, Worked
from fentro_core.visit.worked import worked as core_worked
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
    return {"name": system.name, "kind": system.kind, "nameplate": system.nameplate, "location": system.location}


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
    return {**_with_instruments(visit, logbook, instruments), "entries": [entry_json(row) for row in rows]}


def head_json(visit: Visit) -> Json:
    """A snapshot without instruments and entries."""
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
    }


def _with_instruments(visit: Visit, logbook: Logbook, instruments: Iterable[Instrument]) -> Json:
    """A snapshot without its entries."""
    named = [instrument_json(each) for each in instruments if str(each.id) in logbook.instruments]
    return {**head_json(visit), "instruments": named}


def full_snapshot(visit: Visit, logbook: Logbook, instruments: Iterable[Instrument]) -> core.Snapshot:
    """The snapshot as the core reads it, with the entries that it can read."""
    given = _with_instruments(visit, logbook, instruments)
    head = read_head({**given, "system": {**given["system"], "nameplate": None}}, visit.system.plate_text)
    return replace(head, entries=logbook.entries)


def worked(visit: Visit, logbook: Logbook, instruments: Iterable[Instrument], causes: bool = True) -> Worked:
    """A visit worked out by the core; see `fentro_core.visit.worked`. `causes`: weighed, too.

    Raises
    ------
    Unworkable
        The site or the plate can't be right.
    """
    try:
        whole = full_snapshot(visit, logbook, instruments)
    except Refused as refused:
        raise Unworkable(refused.sentence) from refused
    unreadable = [LeftOut(each.id, each.trouble) for each in logbook.unreadable if each.trouble]
    return core_worked(whole, unreadable, partial(_counted, causes))


def _counted(causes: bool, snapshot: core.Snapshot) -> WorkUp:
    """Worked out, with its time counted; what goes wrong besides a refusal is logged."""
    try:
        with numbers.working_out():
            return work_up(snapshot, causes)
    except Refused:
        raise
    except Exception:
        log.exception("work-up failed")
        raise

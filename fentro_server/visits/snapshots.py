"""A visit's snapshot from the database: the one document that the core works on."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from functools import lru_cache

from fentro_core.base.typed_json import Json
from fentro_core.logbook import entry as core_entries
from fentro_core.logbook import snapshot as core
from fentro_core.logbook.snapshot import FORMAT, VERSION, read_snapshot
from fentro_core.visit.results import WorkUp
from fentro_core.visit.work_up import work_up
from fentro_server.instruments.models import Instrument
from fentro_server.places.models import Site, System
from fentro_server.visits.models import Entry, Visit


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


def entry_json(entry: Entry) -> Json:
    """An entry's part of a snapshot; the entry comes from `in_order`."""
    return {
        "id": str(entry.id),
        "kind": entry.kind,
        "at": entry.at.isoformat(),
        "body": entry.body,
        "phase": entry.phase,
        "replaces": str(entry.replaces_id) if entry.replaces_id else None,
        "reason": entry.reason,
        "by": entry.by_name,
    }


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


def snapshot_json(visit: Visit, entries: Iterable[Entry], instruments: Iterable[Instrument]) -> Json:
    """The whole snapshot of a visit; instruments are those that its entries name."""
    rows = list(entries)
    return {**_head_json(visit, rows, instruments), "entries": [entry_json(row) for row in rows]}


def _head_json(visit: Visit, rows: list[Entry], instruments: Iterable[Instrument]) -> Json:
    """A snapshot without its entries."""
    named = {row.body.get("instrument") for row in rows}
    named |= {probe["instrument"] for row in rows if row.kind == "match" for probe in row.body["probes"]}
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
        "instruments": [instrument_json(each) for each in instruments if str(each.id) in named],
    }


@dataclass(frozen=True)
class _Row:
    """An entry's row, the same as another of its id: entries never change."""

    id: str
    row: Entry = field(compare=False)


@lru_cache(maxsize=8192)
def _read(kept: _Row) -> core_entries.Entry:
    return core_entries.read_entry(entry_json(kept.row))


def entry_of(row: Entry) -> core_entries.Entry:
    """An entry as the core reads it, once: every new entry works its whole logbook out again. The row comes from `in_order`."""
    return _read(_Row(str(row.id), row))


def full_snapshot(visit: Visit, entries: Iterable[Entry], instruments: Iterable[Instrument]) -> core.Snapshot:
    """The snapshot as the core reads it."""
    rows = list(entries)
    head = read_snapshot(_head_json(visit, rows, instruments))
    return replace(head, entries=tuple(entry_of(row) for row in rows))


def worked(visit: Visit, entries: Iterable[Entry], instruments: Iterable[Instrument]) -> WorkUp:
    """A visit worked out by the core."""
    return work_up(full_snapshot(visit, entries, instruments))

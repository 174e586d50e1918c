"""Appending to a logbook: idempotent, one refusal never holds up the other entries."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any
from uuid import UUID

from django.db import transaction
from django.utils.dateparse import parse_datetime

from fentro_core.refusal import Refused
from fentro_core.typed_json import write
from fentro_core.visit import entries as core
from fentro_core.visit.air_path import AirPath, air_path
from fentro_server.accounts.models import Company, Person
from fentro_server.instruments.models import Instrument
from fentro_server.visits.models import Entry, Visit


@dataclass
class Appended:
    """What became of a batch: ids that stand in the logbook now, and refusals by position."""

    accepted: list[str] = field(default_factory=list)
    refused: list[tuple[int, str, Refused]] = field(default_factory=list)


CLOSED = "This visit is closed. Reopen it to go on."
TAKEN = "This entry's number is already used by another entry."


def append(visit: Visit, person: Person, batch: list[Any], instruments: set[str]) -> Appended:
    """Add a batch to a visit's logbook, in order, in one transaction.

    An entry that is already there counts as accepted, so a repeat is harmless. When this returns inside no other
    transaction, everything accepted is committed.
    """
    done = Appended()
    with transaction.atomic():
        locked = Visit.objects.select_for_update(of=("self",)).get(pk=visit.pk)
        stations = air_path(visit.system.kind, visit.system.plate)
        present = {str(row.id): row for row in Entry.objects.filter(visit=locked)}
        given_ids = [str(given.get("id")) for given in batch if isinstance(given, dict)]
        taken = _taken_elsewhere(locked, given_ids)
        replaced = {str(row.replaces_id) for row in present.values() if row.replaces_id}
        number = max((row.number for row in present.values()), default=0)
        fresh: list[Entry] = []
        for index, given in enumerate(batch):
            try:
                row = _row(locked, person, given, present, taken, replaced, stations, instruments)
            except Refused as refusal:
                given_id = str(given.get("id", "")) if isinstance(given, dict) else ""
                done.refused.append((index, given_id, refusal))
                continue
            if str(row.id) not in present:
                number += 1
                row.number = number
                fresh.append(row)
                present[str(row.id)] = row
                if row.replaces_id:
                    replaced.add(str(row.replaces_id))
                _follow(locked, row)
            done.accepted.append(str(row.id))
        Entry.objects.bulk_create(fresh)
        if locked.closed_at != visit.closed_at:
            locked.save(update_fields=["closed_at"])
            visit.closed_at = locked.closed_at
    return done


def _taken_elsewhere(visit: Visit, ids: list[str]) -> set[str]:
    good = []
    for given in ids:
        try:
            good.append(UUID(given))
        except ValueError:
            continue
    return {str(found) for found in Entry.objects.filter(id__in=good).exclude(visit=visit).values_list("id", flat=True)}


def _row(
    visit: Visit,
    person: Person,
    given: Any,
    present: dict[str, Entry],
    taken: set[str],
    replaced: set[str],
    stations: AirPath,
    instruments: set[str],
) -> Entry:
    if isinstance(given, dict):
        given = {**given, "by": person.name}
    entry = core.read_entry(given)
    row = Entry(
        id=entry.id,
        visit=visit,
        kind=entry.kind,
        phase=entry.phase,
        at=parse_datetime(entry.at),
        by=person,
        body=write(entry.body),
        replaces_id=entry.replaces,
        reason=entry.reason,
    )
    known = present.get(entry.id)
    if known is not None:
        if not _same(known, row):
            raise Refused(TAKEN, "id")
        return known
    if entry.id in taken:
        raise Refused(TAKEN, "id")
    if visit.closed_at is not None and entry.kind != "reopening":
        raise Refused(CLOSED)
    core.check_place(entry, stations, instruments)
    core.check_replacement(entry, {key: kept.kind for key, kept in present.items()}, replaced)
    return row


def _same(known: Entry, row: Entry) -> bool:
    return (
        known.kind == row.kind
        and known.phase == row.phase
        and known.at == row.at
        and known.body == row.body
        and str(known.replaces_id) == str(row.replaces_id)
    )


def _follow(visit: Visit, row: Entry) -> None:
    if row.kind == "closing":
        visit.closed_at = row.at
    elif row.kind == "reopening":
        visit.closed_at = None


def instrument_ids(company: Company) -> set[str]:
    """Ids of the company's instruments, as entries name them."""
    return {str(found) for found in Instrument.objects.of(company).values_list("id", flat=True)}

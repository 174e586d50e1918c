"""Appending to a logbook: idempotent, one refusal never holds up the other entries. The core decides, this locks and stores."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any
from uuid import UUID

from django.db import transaction
from django.db.models import Q
from django.utils.dateparse import parse_datetime

from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import write
from fentro_core.logbook.accept import LogbookContext, NotAccepted, accept
from fentro_core.logbook.entries import Closing, Reopening
from fentro_core.logbook.entry import Entry as CoreEntry
from fentro_core.logbook.entry import read_entry
from fentro_core.logbook.temporary import HandedOn
from fentro_server.accounts.models import Person, Role
from fentro_server.visits.models import Entry, Visit
from fentro_server.visits.snapshots import entry_of


@dataclass
class Appended:
    """What became of a batch: ids that stand in the logbook now, refusals by position, and the whole logbook after it."""

    accepted: list[str] = field(default_factory=list)
    refused: list[tuple[int, str, Refused]] = field(default_factory=list)
    entries: list[Entry] = field(default_factory=list)


def append(visit: Visit, person: Person, batch: list[Any], instruments: set[str]) -> Appended:
    """Add a batch to a visit's logbook, in order, in one transaction.

    An entry that is already there counts as accepted, so a repeat is harmless. When this returns inside no other
    transaction, everything accepted is committed.
    """
    done = Appended()
    with transaction.atomic():
        locked = Visit.objects.select_for_update().get(pk=visit.pk)
        present, taken = _present(locked, batch)
        logbook = {str(row.id): entry_of(row) for row in present}
        number = max((row.number for row in present), default=0)
        context = _context(visit, instruments, taken)
        fresh: list[Entry] = []
        for index, given in enumerate(batch):
            try:
                entry = _decided(given, person, logbook, context)
            except Refused as refusal:
                given_id = str(given.get("id", "")) if isinstance(given, dict) else ""
                done.refused.append((index, given_id, refusal))
                continue
            if entry.id not in logbook:
                number += 1
                row = _row(locked, person, entry, number)
                fresh.append(row)
                logbook[entry.id] = entry
                _follow(locked, entry, row)
            done.accepted.append(entry.id)
        Entry.objects.bulk_create(fresh)
        if locked.closed_at != visit.closed_at:
            locked.save(update_fields=["closed_at"])
            visit.closed_at = locked.closed_at
    done.entries = [*present, *fresh]
    return done


def _present(visit: Visit, batch: list[Any]) -> tuple[list[Entry], set[str]]:
    """The visit's entries in order, and which of the batch's ids another visit already uses."""
    given = {found for each in batch if isinstance(each, dict) and (found := _as_uuid(each.get("id")))}
    rows = list(Entry.objects.filter(Q(visit=visit) | Q(id__in=given)).in_order())
    return [row for row in rows if row.visit_id == visit.pk], {str(row.id) for row in rows if row.visit_id != visit.pk}


def _as_uuid(given: object) -> UUID | None:
    try:
        return UUID(str(given))
    except ValueError:
        return None


def _context(visit: Visit, instruments: set[str], taken: set[str]) -> LogbookContext:
    return LogbookContext(visit.system.kind, visit.system.plate, instruments, taken=taken)


def _decided(given: Any, person: Person, logbook: dict[str, CoreEntry], context: LogbookContext) -> CoreEntry:
    """The entry as the core takes it; raises what the core refuses."""
    if isinstance(given, dict):
        given = {**given, "by": person.name}
    entry = read_entry(given)
    if isinstance(entry.body, HandedOn):
        context = LogbookContext(context.system_kind, context.nameplate, context.instruments, _colleagues(person), context.taken)
    found = accept(entry, logbook, context)
    if isinstance(found, NotAccepted):
        raise found.refusal
    return found.entry


def _colleagues(person: Person) -> dict[str, str]:
    """Everyone of the company who may record: name by id."""
    known = Person.objects.filter(company_id=person.company_id, is_active=True).exclude(role=Role.VIEWER)
    return {str(pk): name for pk, name in known.values_list("pk", "name")}


def _row(visit: Visit, person: Person, entry: CoreEntry, number: int) -> Entry:
    row = Entry(
        id=entry.id,
        visit=visit,
        number=number,
        kind=entry.kind,
        phase=entry.phase,
        at=parse_datetime(entry.at),
        by=person,
        body=write(entry.body),
        replaces_id=entry.replaces,
        reason=entry.reason,
    )
    row.by_name = person.name
    return row


def _follow(visit: Visit, entry: CoreEntry, row: Entry) -> None:
    """What lists show of a visit: since when it is closed."""
    if isinstance(entry.body, Closing):
        visit.closed_at = row.at
    elif isinstance(entry.body, Reopening):
        visit.closed_at = None

"""Appending to a logbook: idempotent, one refusal never holds up the other entries."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any
from uuid import UUID

from django.db import transaction
from django.db.models import Q
from django.utils.dateparse import parse_datetime

from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import write
from fentro_core.logbook import entry as core
from fentro_core.system.air_path import AirPath
from fentro_core.system.kinds import air_path
from fentro_core.logbook.temporary import HandedOn
from fentro_core.system.nameplate import Branch, Nameplate
from fentro_core.logbook.temporary import check_change
from fentro_server.accounts.models import Person, Role
from fentro_server.visits.models import LEDGER_KINDS, Entry, Visit
from fentro_server.visits.snapshots import entry_of


@dataclass
class Appended:
    """What became of a batch: ids that stand in the logbook now, refusals by position, and the whole logbook after it."""

    accepted: list[str] = field(default_factory=list)
    refused: list[tuple[int, str, Refused]] = field(default_factory=list)
    entries: list[Entry] = field(default_factory=list)


CLOSED = "This visit is closed. Reopen it to go on."
TAKEN = "This entry's number is already used by another entry."


def append(visit: Visit, person: Person, batch: list[Any], instruments: set[str]) -> Appended:
    """Add a batch to a visit's logbook, in order, in one transaction.

    An entry that is already there counts as accepted, so a repeat is harmless. When this returns inside no other
    transaction, everything accepted is committed.
    """
    done = Appended()
    with transaction.atomic():
        locked = Visit.objects.select_for_update().get(pk=visit.pk)
        present, taken = _present(locked, batch)
        plate = visit.system.plate
        replaced = {str(row.replaces_id) for row in present.values() if row.replaces_id}
        number = max((row.number for row in present.values()), default=0)
        fresh: list[Entry] = []
        for index, given in enumerate(batch):
            try:
                row = _row(locked, person, given, present, taken, replaced, instruments, plate)
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
    done.entries = list(present.values())
    return done


def _present(visit: Visit, batch: list[Any]) -> tuple[dict[str, Entry], set[str]]:
    """The visit's entries by id, in order, and which of the batch's ids another visit already uses."""
    given = {found for each in batch if isinstance(each, dict) and (found := _as_uuid(each.get("id")))}
    rows = Entry.objects.filter(Q(visit=visit) | Q(id__in=given)).in_order()
    return (
        {str(row.id): row for row in rows if row.visit_id == visit.pk},
        {str(row.id) for row in rows if row.visit_id != visit.pk},
    )


def _as_uuid(given: object) -> UUID | None:
    try:
        return UUID(str(given))
    except ValueError:
        return None


def _row(
    visit: Visit,
    person: Person,
    given: Any,
    present: dict[str, Entry],
    taken: set[str],
    replaced: set[str],
    instruments: set[str],
    plate: Nameplate,
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
    row.by_name = person.name
    known = present.get(entry.id)
    if known is not None:
        if not _same(known, row):
            raise Refused(TAKEN, "id")
        return known
    if entry.id in taken:
        raise Refused(TAKEN, "id")
    if visit.closed_at is not None and entry.kind not in ("reopening", "undone"):
        raise Refused(CLOSED)
    core.check_place(entry, _path(visit, plate, present.values()), instruments)
    core.check_replacement(entry, {key: kept.kind for key, kept in present.items()}, replaced)
    if entry.kind in CHECKED_BY_THE_LEDGER:
        check_change(entry, core.standing([entry_of(kept) for kept in present.values() if kept.kind in LEDGER_KINDS]))
    if isinstance(entry.body, HandedOn):
        _check_receiver(visit, entry.body)
    return row


CHECKED_BY_THE_LEDGER = ("undone", "handed_on", "closing")


def _check_receiver(visit: Visit, body: HandedOn) -> None:
    """Refuse a receiver who is not of this company, or only looks."""
    receiver = _as_uuid(body.to)
    known = Person.objects.filter(pk=receiver, company_id=visit.company_id, is_active=True).exclude(role=Role.VIEWER)
    if receiver is None or not known.filter(name=body.to_name).exists():
        raise Refused("Choose someone of your company who may record.", "body.to")


def _path(visit: Visit, plate: Nameplate, rows: Iterable[Entry]) -> AirPath:
    """The system's air path with every branch noted on the visit, taken back or not."""
    noted = tuple(Branch(**row.body) for row in rows if row.kind == "branch")
    return air_path(visit.system.kind, plate, noted)


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

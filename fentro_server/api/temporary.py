"""The ledger of temporary changes over all visits: what stands open and is mine to undo."""

from __future__ import annotations

from datetime import datetime, timedelta
from uuid import UUID

from django.db.models import Prefetch
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from pydantic import BaseModel

from fentro_core.economizer.places import POINTS
from fentro_core.logbook.entry import standing
from fentro_core.logbook.temporary import OpenChange, ledger
from fentro_server.accounts.models import Person, Role
from fentro_server.api.access import person_of
from fentro_server.visits.kept import read_row
from fentro_server.visits.models import LEDGER_KINDS, Entry, Visit

router = Router(tags=["temporary changes"])

LEFT_AFTER = timedelta(minutes=30)
"""Longer than any test: what a controller still holds then was left, or is meant."""


class OpenChangeLine(BaseModel):
    """A temporary change that stands open, where, and why it is mine: my visit, or handed to me."""

    entry: UUID
    visit: UUID
    system: str
    site: str
    what: str
    kind_name: str
    undo: str
    at: datetime
    by: str
    handed: bool
    reason: str


class Colleague(BaseModel):
    """Someone who may take a change over."""

    id: UUID
    name: str


@router.get("/temporary", response=list[OpenChangeLine])
def temporary(request: HttpRequest) -> list[OpenChangeLine]:
    """Open changes that were handed to the person, then those of the person's own visits; a lead sees all that are nobody's,
    and everybody what a controller was left holding."""
    person = person_of(request)
    lines = [line for visit in with_changes(person) for line in _lines(visit, person)]
    return sorted(lines, key=lambda line: (not line.handed, line.at))


def with_changes(person: Person) -> list[Visit]:
    """Visits of the company with ledger entries whose last word may still be open; those entries alone are fetched."""
    undone = Entry.objects.filter(kind="undone", visit__company_id=person.company_id).values_list("body__change", flat=True)
    opened = Entry.objects.filter(kind="temporary", visit__company_id=person.company_id)
    gone = set(undone)
    visits = {visit for entry, visit in opened.values_list("id", "visit_id") if str(entry) not in gone}
    ledger_rows = Entry.objects.filter(kind__in=LEDGER_KINDS).in_order()
    return list(
        Visit.objects.of(person.company_id)
        .filter(pk__in=visits)
        .select_related("system__site")
        .prefetch_related(Prefetch("entries", ledger_rows, to_attr="ledger_rows"))
    )


def open_in(rows: list[Entry]) -> tuple[OpenChange, ...]:
    """Changes that stand open by these rows of a visit's ledger."""
    return ledger(standing([read_row(row).entry for row in rows]))


def _lines(visit: Visit, person: Person) -> list[OpenChangeLine]:
    rows = visit.ledger_rows  # type: ignore[attr-defined]
    found = []
    for each in open_in(rows):
        handed = each.handed_to == str(person.pk)
        mine = visit.technician_id == person.pk or person.role == Role.LEAD
        # What a controller was left holding is everybody's to see, once no test can still be running.
        left = each.point in POINTS and each.kind == "override" and datetime.fromisoformat(each.at) < timezone.now() - LEFT_AFTER
        if handed or (mine and not each.handed_to) or (left and person.role != Role.VIEWER):
            found.append(
                OpenChangeLine(
                    entry=UUID(each.entry),
                    visit=visit.pk,
                    system=visit.system.name,
                    site=visit.system.site.name,
                    what=each.what,
                    kind_name=each.kind_name,
                    undo=each.undo,
                    at=datetime.fromisoformat(each.at),
                    by=each.by,
                    handed=handed,
                    reason=each.reason,
                )
            )
    return found


@router.get("/colleagues", response=list[Colleague])
def colleagues(request: HttpRequest) -> list[Colleague]:
    """Everyone of the company who may record: to hand something on to."""
    person = person_of(request)
    rows = Person.objects.filter(company_id=person.company_id, is_active=True, role__in=(Role.TECHNICIAN, Role.LEAD))
    return [Colleague(id=row.pk, name=row.name) for row in rows.order_by("name")]

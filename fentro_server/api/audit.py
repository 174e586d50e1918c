"""Who did what when, across visits: a company's events and the entries of its logbooks in one course, for leads."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from django.http import HttpRequest
from django.utils.dateparse import parse_datetime
from ninja import Router
from pydantic import BaseModel

from fentro_core.base.refusal import Refused
from fentro_core.logbook.kinds import all_kinds
from fentro_server.accounts.models import Person
from fentro_server.api.access import lead_of
from fentro_server.api.errors import Problem
from fentro_server.audit.models import Event, What
from fentro_server.visits.models import Entry

router = Router(tags=["audit"])

EVENTS = 60
ENTRIES = 300
"""Events and entries looked at for one page; entries of one visit by one person, one after the other, are one line."""


class DoneThing(BaseModel):
    """One line: who did what, about what. `kind`: of an event, or "entries"."""

    at: datetime
    person: str
    kind: str
    what: str
    about: str
    visit: UUID | None


class DoneThings(BaseModel):
    """A page, the latest first; `more`: where the next one begins. `kinds`: what can be asked for alone."""

    lines: list[DoneThing]
    more: str | None
    kinds: dict[str, str]


@router.get("/audit", response={200: DoneThings, 403: Problem, 422: Problem})
def audit(request: HttpRequest, person: UUID | None = None, kind: str = "", before: str = "") -> DoneThings:
    """What was done in the company, by everybody or by one, of all kinds or of one."""
    lead = lead_of(request)
    until = _moment(before)
    kinds = {"entries": "Entries in visits", **dict(What.choices)}
    if kind and kind not in kinds:
        raise Refused("There is no such kind of event.", "kind")
    asked = _Asked(lead, person, until)
    events = asked.events(kind) if kind != "entries" else []
    entries = asked.entries() if kind in ("", "entries") else []
    ends = [rows[-1] for rows, most in ((events, EVENTS), (entries, ENTRIES)) if len(rows) == most]
    cut = max((_at(row) for row in ends), default=None)
    lines = [_of_event(row) for row in events if cut is None or row.at >= cut]
    lines += _of_entries([row for row in entries if cut is None or row.received_at >= cut])
    lines.sort(key=lambda line: line.at, reverse=True)
    return DoneThings(lines=lines, more=cut.isoformat() if cut else None, kinds=kinds)


@dataclass(frozen=True)
class _Asked:
    lead: Person
    person: UUID | None
    until: datetime | None

    def events(self, kind: str) -> list[Event]:
        rows = Event.objects.of(self.lead.company_id).select_related("person", "visit__system__site")
        rows = rows.filter(person=self.person) if self.person else rows
        rows = rows.filter(what=kind) if kind else rows
        rows = rows.filter(at__lt=self.until) if self.until else rows
        return list(rows.order_by("-at")[:EVENTS])

    def entries(self) -> list[Any]:
        rows = Entry.objects.filter(visit__company_id=self.lead.company_id).select_related("by", "visit__system__site")
        rows = rows.filter(by=self.person) if self.person else rows
        rows = rows.filter(received_at__lt=self.until) if self.until else rows
        return list(rows.defer("body").order_by("-received_at")[:ENTRIES])


def _at(row: Any) -> datetime:
    found: datetime = row.at if isinstance(row, Event) else row.received_at
    return found


def _moment(before: str) -> datetime | None:
    if not before:
        return None
    try:
        found = parse_datetime(before)
    except ValueError:
        found = None
    if found is None or found.tzinfo is None:
        raise Refused("This is not where a page of this list begins.", "before")
    return found


def _of_event(row: Event) -> DoneThing:
    about = ": ".join(each for each in (_place(row.visit), row.about) if each)
    name = row.person.name if row.person else ""
    return DoneThing(at=row.at, person=name, kind=row.what, what=row.get_what_display(), about=about, visit=row.visit_id)


def _place(visit: Any) -> str:
    return f"{visit.system.site.name}, {visit.system.name}" if visit else ""


def _of_entries(rows: list[Any]) -> Iterator[DoneThing]:
    """Entries of one visit by one person, one after the other, as one line that counts their kinds."""
    names = {key: kind.name for key, kind in all_kinds().items()}
    index = 0
    while index < len(rows):
        first, counted = rows[index], Counter[str]()
        while index < len(rows) and (rows[index].visit_id, rows[index].by_id) == (first.visit_id, first.by_id):
            counted[rows[index].kind] += 1
            index += 1
        words = ", ".join(f"{count} × {names.get(kind, kind).lower()}" for kind, count in counted.most_common(4))
        more = ", and more" if len(counted) > 4 else ""
        yield DoneThing(
            at=first.received_at,
            person=first.by.name,
            kind="entries",
            what="Entered",
            about=f"{_place(first.visit)}: {words}{more}",
            visit=first.visit_id,
        )

"""Day sheet, systems, instruments, visits and their entries."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import lru_cache
from typing import Any, Literal
from uuid import UUID

from django.db.models import Q
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.utils import timezone
from django.utils.dateparse import parse_datetime
from ninja import Router, Status
from pydantic import TypeAdapter

from fentro_core.base.quantity import Quantity
from fentro_core.base.refusal import Refused
from fentro_core.base.version import fingerprint
from fentro_core.logbook.accept import CLOSED
from fentro_core.logbook.snapshot import FORMAT, VERSION
from fentro_core.parts import followed_on
from fentro_core.system.kinds import KIND_NAMES
from fentro_core.system.nameplate import nameplate_words
from fentro_core.visit.results import PhaseResult, WorkUp
from fentro_core.visit.worked import Unworkable, Worked
from fentro_server.accounts.models import Person, Role
from fentro_server.api.access import may_add, may_record, person_of, visit_of, writes_in
from fentro_server.api.errors import Problem, plain, refusal_of
from fentro_server.api.shapes import (
    Batch,
    DaySheet,
    LeftOutEntry,
    NewVisit,
    Receipt,
    ReceiptHead,
    RefusedEntry,
    SystemLine,
    SystemLines,
    SystemPage,
    VisitHead,
    VisitLine,
    VisitLines,
    VisitPage,
)
from fentro_server.audit.models import What
from fentro_server.audit.noting import note
from fentro_server.controllers.holders import holders_at
from fentro_server.instruments.models import Instrument
from fentro_server.operation import numbers
from fentro_server.places.models import System
from fentro_server.visits import logbook
from fentro_server.visits.kept import Logbook, committed
from fentro_server.visits.lines import brought_up_to_date
from fentro_server.visits.models import Visit
from fentro_server.visits.snapshots import head_json, read_site, site_json, snapshot_json, system_json, worked

router = Router(tags=["work"])


def _system_line(system: System) -> SystemLine:
    return SystemLine(
        id=system.pk,
        name=system.name,
        site=system.site.name,
        site_id=system.site_id,
        kind=system.kind,
        kind_name=KIND_NAMES[system.kind],
        location=system.location,
        practice=system.site.practice,
    )


PAGE = 60
"""Visits in one list; the next ones come when asked for."""

SYSTEMS_PAGE = 200


def _visit_line(visit: Visit, person: Person) -> VisitLine:
    line = visit.line
    return VisitLine(
        id=visit.pk,
        system=_system_line(visit.system),
        technician=visit.technician.name,
        mine=visit.technician_id == person.pk,
        purpose=line["purpose"] or visit.purpose,
        opened_at=visit.opened_at,
        closed_at=visit.closed_at,
        next_step=line["next_step"],
        next_step_name=line["next_step_name"],
        left=line["left"],
        numbers=line["numbers"],
        worst=line["worst"],
        trouble=line["trouble"],
        cancelled=line.get("cancelled", False),
    )


def _visits(person: Person, condition: Q, before: str = "") -> VisitLines:
    """A page of visits, the last opened first, and where the next begins."""
    rows = Visit.objects.of(person.company_id).filter(condition).select_related("system__site", "technician")
    if before:
        opened_at, visit_id = _place(before)
        rows = rows.filter(Q(opened_at__lt=opened_at) | Q(opened_at=opened_at, pk__lt=visit_id))
    found = list(rows.order_by("-opened_at", "-pk")[: PAGE + 1])
    shown = brought_up_to_date(found[:PAGE], Instrument.objects.of(person.company_id))
    more = f"{shown[-1].opened_at.isoformat()}_{shown[-1].pk}" if len(found) > PAGE else None
    return VisitLines(visits=[_visit_line(row, person) for row in shown], more=more)


def _place(before: str) -> tuple[datetime, UUID]:
    opened_at, _, visit_id = before.partition("_")
    try:
        moment, last = parse_datetime(opened_at), UUID(visit_id)
    except ValueError:
        moment = None
    if moment is None or moment.tzinfo is None:
        raise Refused("This is not where a page of this list begins.", "before")
    return moment, last


def _open(person: Person) -> Q:
    """Open visits: a technician's own, everyone's for the others."""
    return _own(person) & Q(closed_at__isnull=True)


def _today(person: Person) -> Q:
    """What was closed today."""
    return _own(person) & Q(closed_at__gte=timezone.now() - timedelta(hours=16))


def _own(person: Person) -> Q:
    return Q(technician=person) if person.role == Role.TECHNICIAN else Q()


def _systems(person: Person, words: str = "", after: UUID | None = None) -> SystemLines:
    """A page of systems by site and name; `words`: only those whose name or site has them."""
    rows = System.objects.of(person.company_id).listed().select_related("site")
    for word in words.split():
        rows = rows.filter(Q(name__icontains=word) | Q(site__name__icontains=word))
    if after:
        last = System.objects.of(person.company_id).select_related("site").filter(pk=after).first()
        if last is None:
            raise Refused("This is not where a page of this list begins.", "after")
        rows = rows.filter(
            Q(site__name__gt=last.site.name)
            | Q(site__name=last.site.name, name__gt=last.name)
            | Q(site__name=last.site.name, name=last.name, pk__gt=last.pk)
        )
    found = list(rows.defer("nameplate").order_by("site__name", "name", "pk")[: SYSTEMS_PAGE + 1])
    shown = found[:SYSTEMS_PAGE]
    return SystemLines(
        systems=[_system_line(each) for each in shown], more=str(shown[-1].pk) if len(found) > SYSTEMS_PAGE else None
    )


@router.get("/day", response=DaySheet)
def day(request: HttpRequest) -> DaySheet:
    """Open visits (a technician's own, everyone's for the others), today's closed ones, and systems: of each the first page."""
    person = person_of(request)
    opened, closed, systems = _visits(person, _open(person)), _visits(person, _today(person)), _systems(person)
    return DaySheet(
        open=opened.visits,
        more_open=opened.more,
        today=closed.visits,
        more_today=closed.more,
        systems=systems.systems,
        more_systems=systems.more,
    )


@router.get("/visits", response={200: VisitLines, 422: Problem})
def visits(request: HttpRequest, which: Literal["open", "today"] = "open", before: str = "") -> VisitLines:
    """The next page of the day sheet's visits, from where the last one ended."""
    person = person_of(request)
    return _visits(person, _open(person) if which == "open" else _today(person), before)


@router.get("/systems", response={200: SystemLines, 422: Problem})
def systems(request: HttpRequest, words: str = "", after: UUID | None = None) -> SystemLines:
    """Systems by site and name, those whose name or site has the words; page by page."""
    return _systems(person_of(request), words[:100], after)


@router.get("/systems/{system_id}/visits", response={200: VisitLines, 404: Problem, 422: Problem})
def system_visits(request: HttpRequest, system_id: UUID, before: str = "") -> VisitLines:
    """The next page of a system's visits."""
    person = person_of(request)
    if not System.objects.of(person.company_id).filter(pk=system_id).exists():
        raise Http404
    return _visits(person, Q(system=system_id), before)


@router.get("/systems/{system_id}", response={200: SystemPage, 404: Problem})
def system_page(request: HttpRequest, system_id: UUID) -> SystemPage:
    """A system: plate, site pressure, visits with their main numbers."""
    person = person_of(request)
    system = System.objects.of(person.company_id).select_related("site").filter(pk=system_id).first()
    if system is None:
        raise Http404
    site = read_site(system.site)
    earlier = _visits(person, Q(system=system))
    return SystemPage(
        system=_system_line(system),
        head={"format": FORMAT, "version": VERSION, "site": site_json(system.site), "system": system_json(system)},
        elevation=Quantity(site.elevation_m, 0.0, "length"),
        pressure=Quantity(site.pressure_pa(), 0.0, "barometric_pressure"),
        climate_zone=site.climate_zone,
        plate=list(nameplate_words(system.plate)),
        visits=earlier.visits,
        more_visits=earlier.more,
        followed=followed_on(system.kind, system.plate),
        held=[each.words for each in holders_at(system)],
    )


@router.post("/visits", response={200: VisitPage, 403: Problem, 404: Problem, 409: Problem})
def start_visit(request: HttpRequest, given: NewVisit) -> Any:
    """Start a visit. Repeating the same request gives the same visit."""
    person = person_of(request)
    may_record(person)
    system = System.objects.of(person.company_id).select_related("same_as").filter(pk=given.system).first()
    if system is None:
        raise Http404
    system = system.same_as or system
    fresh = {
        "company_id": person.company_id,
        "system": system,
        "technician": person,
        "purpose": given.purpose.strip(),
        "opened_at": _opened(given.opened_at),
    }
    visit, made = Visit.objects.get_or_create(pk=given.id, defaults=fresh)
    here = visit.system_id == system.pk or visit.entries.filter(kind="known_system").exists()
    if not made and not (here and (visit.company_id, visit.technician_id) == (person.company_id, person.pk)):
        return Status(409, plain("This visit's number is already used. Start again.", "id"))
    found = visit_of(person, visit.pk)
    if made:
        brought_up_to_date([found], Instrument.objects.of(person.company_id))
    return _answer(_fetched(found, person))


LONGEST_AWAY = timedelta(days=30)


def _opened(given: datetime | None) -> datetime:
    """When a visit began: by the device where that can be, else now."""
    now = timezone.now()
    if given is None or given.tzinfo is None or not now - LONGEST_AWAY <= given <= now:
        return now
    return given


@router.get("/visits/{visit_id}", response={200: VisitPage, 404: Problem, 422: Problem})
def visit_page(request: HttpRequest, visit_id: UUID) -> HttpResponse:
    """A visit with its logbook and work-up."""
    person = person_of(request)
    return _answer(_fetched(visit_of(person, visit_id), person))


@router.post("/visits/{visit_id}/entries", response={200: Receipt, 403: Problem, 404: Problem, 422: Problem})
def add_entries(request: HttpRequest, visit_id: UUID, given: Batch) -> HttpResponse:
    """Add a batch of entries. Repeats are harmless; a refused entry does not hold up the others.

    `after`: the number of the last entry that the device has. Only those after it are answered.
    """
    person = person_of(request)
    alone = given.core == fingerprint()
    done = logbook.append(
        visit_id,
        person,
        given.entries,
        lambda visit: may_add(person, visit, given.entries),
        work_out=not alone,
        weigh=given.weigh,
    )
    numbers.taken(len(done.accepted), len(done.refused))
    receipt = ReceiptHead(
        accepted=done.accepted,
        refused=[
            RefusedEntry(index=index, id=given_id, refusal=refusal_of(refused), closed=refused.sentence.text == CLOSED)
            for index, given_id, refused in done.refused
        ],
    )
    page = news = b"null"
    if alone:
        news = _joined(_head(done.visit, person, done.logbook, given.after), entries=_entries(done.logbook, given.after))
    elif done.worked:
        page = _page(done.visit, person, done.logbook, done.worked, given.after)
    return _answer(_joined(receipt.model_dump_json().encode(), visit=page, news=news))


@router.get("/visits/{visit_id}/snapshot", response={200: dict, 404: Problem})
def snapshot(request: HttpRequest, visit_id: UUID) -> JsonResponse:
    """The visit as one JSON file, as ``python -m fentro_core workup`` reads it."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    document = snapshot_json(visit, committed(visit.pk), Instrument.objects.of(person.company_id))
    note(person, What.TOOK_VISIT, "JSON", visit)
    response = JsonResponse(document, json_dumps_params={"indent": 1, "ensure_ascii": False})
    name = f"visit-{visit.opened_at:%Y-%m-%d}-{str(visit.pk)[:8]}.json"
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


def _answer(page: bytes) -> HttpResponse:
    """The page written once, straight to JSON: a work-up is large, and every reading is answered with one."""
    return HttpResponse(page, content_type="application/json")


def _joined(head: bytes, **more: bytes) -> bytes:
    """A JSON object with more members, each written already."""
    return head[:-1] + b"".join(b',"%s":%s' % (name.encode(), value) for name, value in more.items()) + b"}"


def _fetched(visit: Visit, person: Person) -> bytes:
    found = committed(visit.pk, visit.entries_number)
    instruments = Instrument.objects.of(person.company_id)
    try:
        return _page(visit, person, found, worked(visit, found, instruments), 0)
    except Unworkable:
        raise Refused(UNWORKABLE) from None


_WORK_UP = TypeAdapter(WorkUp)
_PHASE = TypeAdapter(PhaseResult)
_LEFT_OUT = TypeAdapter(list[LeftOutEntry])


def _page(visit: Visit, person: Person, found: Logbook, done: Worked, after: int) -> bytes:
    """A visit as JSON: its work-up, and the entries after a number."""
    head = _head(visit, person, found, after)
    left_out = _LEFT_OUT.dump_json([LeftOutEntry.model_validate(each) for each in done.left_out])
    return _joined(head, left_out=left_out, work_up=_work_up(done.found), entries=_entries(found, after))


def _work_up(found: WorkUp) -> bytes:
    """As JSON. A reading of one phase leaves the other as it was, and that is half the writing."""
    phases = b",".join(_written(_Same(phase)) for phase in found.phases)
    return _joined(_WORK_UP.dump_json(found, exclude={"phases"}), phases=b"[" + phases + b"]")


@dataclass(frozen=True, eq=False)
class _Same:
    """A phase's result, the same only as itself: the core keeps it as long as nothing that it stands on changes."""

    phase: PhaseResult

    def __hash__(self) -> int:
        return id(self.phase)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Same) and self.phase is other.phase


@lru_cache(maxsize=64)
def _written(same: _Same) -> bytes:
    return _PHASE.dump_json(same.phase)


def _entries(found: Logbook, after: int) -> bytes:
    return b"[" + b",".join(found.after(after)) + b"]"


def _head(visit: Visit, person: Person, found: Logbook, after: int) -> bytes:
    """What a visit is, as JSON."""
    head = VisitHead(
        id=visit.pk,
        system=_system_line(visit.system),
        technician=visit.technician.name,
        purpose=visit.purpose,
        opened_at=visit.opened_at,
        closed_at=visit.closed_at,
        may_write=writes_in(person, visit),
        after=after,
        number=found.number,
        core=fingerprint(),
        head=head_json(visit),
    )
    return head.model_dump_json().encode()


UNWORKABLE = (
    "This visit can't be worked out: its site's elevation or its nameplate can't be right. A lead corrects it in the office."
)

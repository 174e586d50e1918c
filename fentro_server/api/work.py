"""Day sheet, systems, instruments, visits and their entries."""

from __future__ import annotations

from datetime import timedelta
from typing import Any
from uuid import UUID

from django.db.models import Prefetch, Q
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.utils import timezone
from ninja import Router, Status
from pydantic import BaseModel

from fentro_core.base.quantity import Quantity
from fentro_core.logbook.kinds import all_kinds
from fentro_core.parts import followed_on
from fentro_core.phase.numbers import NUMBERS
from fentro_core.system.kinds import KIND_NAMES
from fentro_core.system.nameplate import nameplate_words
from fentro_server.accounts.models import Person, Role
from fentro_server.api.access import may_add, may_record, may_write_in, person_of, visit_of
from fentro_server.api.errors import NotAllowed, Problem, plain, refusal_of
from fentro_server.api.shapes import (
    Batch,
    DaySheet,
    MainNumber,
    NewVisit,
    Receipt,
    ReceiptAnswer,
    RefusedEntry,
    SystemLine,
    SystemPage,
    VisitAnswer,
    VisitLine,
    VisitPage,
)
from fentro_server.instruments.models import Instrument
from fentro_server.places.models import System
from fentro_server.visits import logbook
from fentro_server.visits.models import Entry, Visit
from fentro_server.visits.snapshots import entry_json, read_site, snapshot_json, worked

router = Router(tags=["work"])

EARLIER_SHOWN = 20


def _system_line(system: System) -> SystemLine:
    return SystemLine(
        id=system.pk,
        name=system.name,
        site=system.site.name,
        kind=system.kind,
        kind_name=KIND_NAMES[system.kind],
        location=system.location,
    )


_GRAVEST = ("off", "too_close", "watch", "holds")


def _visit_line(visit: Visit, person: Person, instruments: list[Instrument]) -> VisitLine:
    found = worked(visit, visit.entries.all(), instruments)
    latest = found.phases[-1]
    results = {result.key: result for result in latest.results}
    marks = {line.mark for line in latest.verdicts}
    step = next(step for step in found.route if step.id == found.next_step)
    return VisitLine(
        id=visit.pk,
        system=_system_line(visit.system),
        technician=visit.technician.name,
        mine=visit.technician_id == person.pk,
        purpose=found.reported,
        opened_at=visit.opened_at,
        closed_at=visit.closed_at,
        next_step=step.id,
        next_step_name=step.name,
        left=list(step.left),
        numbers=[
            MainNumber(key=key, name=results[key].name, quantity=results[key].quantity)
            for key, number in NUMBERS.items()
            if number.headline and key in results and results[key].quantity and not results[key].nominal
        ],
        worst=next((mark for mark in _GRAVEST if mark in marks), None),
    )


def _visits(person: Person, condition: Q, most: int) -> list[VisitLine]:
    rows = (
        Visit.objects.of(person.company_id)
        .filter(condition)
        .select_related("system__site", "technician")
        .prefetch_related(Prefetch("entries", Entry.objects.in_order()))
        .order_by("-opened_at")[:most]
    )
    instruments = list(Instrument.objects.of(person.company_id))
    return [_visit_line(row, person, instruments) for row in rows]


@router.get("/day", response=DaySheet)
def day(request: HttpRequest) -> DaySheet:
    """Open visits (a technician's own, everyone's for the others), today's closed ones, and all systems."""
    person = person_of(request)
    mine = Q(technician=person) if person.role == Role.TECHNICIAN else Q()
    since = timezone.now() - timedelta(hours=16)
    both = _visits(person, mine & (Q(closed_at__isnull=True) | Q(closed_at__gte=since)), 60)
    systems = System.objects.of(person.company_id).select_related("site")
    return DaySheet(
        open=[line for line in both if line.closed_at is None],
        today=[line for line in both if line.closed_at is not None],
        systems=[_system_line(system) for system in systems],
    )


@router.get("/systems/{system_id}", response={200: SystemPage, 404: Problem})
def system_page(request: HttpRequest, system_id: UUID) -> SystemPage:
    """A system: plate, site pressure, visits with their main numbers."""
    person = person_of(request)
    system = System.objects.of(person.company_id).select_related("site").filter(pk=system_id).first()
    if system is None:
        raise Http404
    site = read_site(system.site)
    return SystemPage(
        system=_system_line(system),
        elevation=Quantity(site.elevation_m, 0.0, "length"),
        pressure=Quantity(site.pressure_pa(), 0.0, "barometric_pressure"),
        climate_zone=site.climate_zone,
        plate=list(nameplate_words(system.plate)),
        visits=_visits(person, Q(system=system), EARLIER_SHOWN),
        followed=followed_on(system.kind, system.plate),
    )


@router.post("/visits", response={200: VisitPage, 403: Problem, 404: Problem, 409: Problem})
def start_visit(request: HttpRequest, given: NewVisit) -> Any:
    """Start a visit. Repeating the same request gives the same visit."""
    person = person_of(request)
    may_record(person)
    system = System.objects.of(person.company_id).filter(pk=given.system).first()
    if system is None:
        raise Http404
    fresh = {
        "company_id": person.company_id,
        "system": system,
        "technician": person,
        "purpose": given.purpose.strip(),
        "opened_at": timezone.now(),
    }
    visit, made = Visit.objects.get_or_create(pk=given.id, defaults=fresh)
    if not made and (visit.company_id != person.company_id or visit.system_id != system.pk):
        return Status(409, plain("This visit's number is already used. Start again.", "id"))
    return _answer(_fetched(visit_of(person, visit.pk), person))


@router.get("/visits/{visit_id}", response={200: VisitPage, 404: Problem})
def visit_page(request: HttpRequest, visit_id: UUID) -> HttpResponse:
    """A visit with its logbook and work-up."""
    person = person_of(request)
    return _answer(_fetched(visit_of(person, visit_id), person))


@router.post("/visits/{visit_id}/entries", response={200: Receipt, 403: Problem, 404: Problem, 422: Problem})
def add_entries(request: HttpRequest, visit_id: UUID, given: Batch) -> HttpResponse:
    """Add a batch of entries. Repeats are harmless; a refused entry does not hold up the others."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    may_add(person, visit, given.entries)
    instruments = list(Instrument.objects.of(person.company_id))
    done = logbook.append(visit, person, given.entries, {str(each.pk) for each in instruments})
    receipt = ReceiptAnswer(
        accepted=done.accepted,
        refused=[
            RefusedEntry(index=index, id=given_id, refusal=refusal_of(refused)) for index, given_id, refused in done.refused
        ],
        visit=_page(visit, person, done.entries, instruments),
    )
    return _answer(receipt)


@router.get("/visits/{visit_id}/snapshot", response={200: dict, 404: Problem})
def snapshot(request: HttpRequest, visit_id: UUID) -> JsonResponse:
    """The visit as one JSON file, as ``python -m fentro_core workup`` reads it."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    document = snapshot_json(visit, _entries(visit), Instrument.objects.of(person.company_id))
    response = JsonResponse(document, json_dumps_params={"indent": 1, "ensure_ascii": False})
    name = f"visit-{visit.opened_at:%Y-%m-%d}-{str(visit.pk)[:8]}.json"
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


def _entries(visit: Visit) -> list[Entry]:
    return list(Entry.objects.filter(visit=visit).in_order())


def _answer(page: BaseModel) -> HttpResponse:
    """The page written once, straight to JSON: a work-up is large, and every reading is answered with one."""
    return HttpResponse(page.model_dump_json(), content_type="application/json")


def _fetched(visit: Visit, person: Person) -> VisitAnswer:
    return _page(visit, person, _entries(visit), list(Instrument.objects.of(person.company_id)))


def _light(entry: dict[str, Any]) -> dict[str, Any]:
    """Without what its kind calls heavy: every entry is answered with the whole logbook."""
    heavy = all_kinds()[entry["kind"]].heavy
    if not heavy:
        return entry
    body = dict(entry["body"])
    for path in heavy:
        *way, last = path.split(".")
        at = body
        for key in way:
            at[key] = dict(at[key])
            at = at[key]
        at[last] = []
    return {**entry, "body": body}


def _page(visit: Visit, person: Person, entries: list[Entry], instruments: list[Instrument]) -> VisitAnswer:
    found = worked(visit, entries, instruments)
    try:
        may_write_in(person, visit)
        may_write = True
    except NotAllowed:
        may_write = False
    return VisitAnswer(
        id=visit.pk,
        system=_system_line(visit.system),
        technician=visit.technician.name,
        purpose=visit.purpose,
        opened_at=visit.opened_at,
        closed_at=visit.closed_at,
        may_write=may_write,
        entries=[_light(entry_json(row)) for row in entries],
        work_up=found,
    )

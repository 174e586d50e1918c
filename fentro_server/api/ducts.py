"""The ducts of a visit: their page, and the tree as a table."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router
from pydantic import BaseModel, Field

from fentro_core.base.refusal import Refused
from fentro_core.ducts.plan_page import mark_of
from fentro_core.ducts.reminder import reminder
from fentro_core.ducts.results import DuctPage
from fentro_core.ducts.table import read_ducts, write_json, write_table
from fentro_core.ducts.walked import tree_of
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.ducts import DuctTree
from fentro_core.visit.ducts import ducts_of
from fentro_core.visit.zones import zones_of
from fentro_core.zoning.results import ZoningPage
from fentro_server.accounts.models import Person
from fentro_server.api.access import person_of, visit_of
from fentro_server.api.errors import Problem
from fentro_server.api.timed import LONGEST_S, in_time
from fentro_server.instruments.models import Instrument
from fentro_server.visits.kept import committed
from fentro_server.visits.models import Visit
from fentro_server.visits.snapshots import full_snapshot

router = Router(tags=["ducts"])

LARGEST_TABLE = 1_000_000


def _snapshot(visit: Visit, person: Person) -> Any:
    return full_snapshot(visit, committed(visit.pk), Instrument.objects.of(person.company_id))


class DuctsOut(BaseModel):
    """The page, as JSON."""

    page: DuctPage


@router.get("/visits/{visit_id}/ducts", response={200: DuctsOut, 404: Problem, 422: Problem})
def ducts(request: HttpRequest, visit_id: UUID) -> HttpResponse:
    """The duct tree of a visit with all flows, what to read next, why rooms starve, and the balance plan."""
    person = person_of(request)
    snapshot = _snapshot(visit_of(person, visit_id), person)
    with in_time(2 * LONGEST_S):
        page = DuctsOut(page=ducts_of(snapshot))
    return HttpResponse(page.model_dump_json(), content_type="application/json")


class ZonesOut(BaseModel):
    """The page, as JSON."""

    page: ZoningPage


@router.get("/visits/{visit_id}/zones", response={200: ZonesOut, 404: Problem, 422: Problem})
def zones(request: HttpRequest, visit_id: UUID) -> HttpResponse:
    """The zones of a visit: every combination of calls, both schools ranked, the hardware sheet."""
    person = person_of(request)
    snapshot = _snapshot(visit_of(person, visit_id), person)
    with in_time(2 * LONGEST_S):
        page = ZonesOut(page=zones_of(snapshot))
    return HttpResponse(page.model_dump_json(), content_type="application/json")


def _as_file(request: HttpRequest, visit_id: UUID, made: Callable[[DuctTree], str], kind: str, media: str) -> HttpResponse:
    """The duct tree of a visit, to keep as a file."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    response = HttpResponse(made(tree_of(VisitContext(_snapshot(visit, person)))), content_type=media)
    name = f"ducts-{visit.opened_at:%Y-%m-%d}-{str(visit.pk)[:8]}.{kind}"
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@router.get("/visits/{visit_id}/ducts.csv", response={200: Any, 404: Problem, 422: Problem})
def ducts_csv(request: HttpRequest, visit_id: UUID) -> HttpResponse:
    """The duct tree as a table (CSV): one line a piece."""
    return _as_file(request, visit_id, write_table, "csv", "text/csv; charset=utf-8")


@router.get("/visits/{visit_id}/ducts.json", response={200: Any, 404: Problem, 422: Problem})
def ducts_json(request: HttpRequest, visit_id: UUID) -> HttpResponse:
    """The duct tree as JSON, as a nameplate carries it: with zones and board."""
    return _as_file(request, visit_id, write_json, "json", "application/json")


@router.get("/visits/{visit_id}/season.ics", response={200: Any, 404: Problem, 422: Problem})
def season_ics(request: HttpRequest, visit_id: UUID) -> HttpResponse:
    """A yearly reminder (iCalendar) to turn the dampers to the marks of the plan's season."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    page = ducts_of(_snapshot(visit, person))
    if page.plan is None or not page.plan.branches:
        raise Refused("There is no balance plan yet: note the branches and what each room should get.")
    branches = {line.piece.id: line.piece for line in page.branches}
    marks = [(branches[each.branch].called, mark_of(branches[each.branch], each.to)) for each in page.plan.branches]
    system = visit.system
    text = reminder(system.name, system.site.name, page.season, marks, timezone.localdate(), f"{system.pk}-{page.season}")
    response = HttpResponse(text, content_type="text/calendar; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{page.season}-marks.ics"'
    return response


class Table(BaseModel):
    """The text of a table."""

    text: str = Field(..., max_length=LARGEST_TABLE)


class TreeOut(BaseModel):
    """A tree, as JSON."""

    tree: DuctTree


@router.post("/ducts/look", response={200: TreeOut, 422: Problem})
def look_at_ducts(request: HttpRequest, given: Table) -> HttpResponse:
    """Read a table of ducts (CSV): nothing is stored."""
    person_of(request)
    found = TreeOut(tree=read_ducts(given.text))
    return HttpResponse(found.model_dump_json(), content_type="application/json")

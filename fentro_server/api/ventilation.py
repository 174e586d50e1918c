"""Fresh air: the calendar file for its filters. All else of it comes with the visit, or is a calculation."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router

from fentro_core.base.refusal import Refused
from fentro_core.logbook.entry import standing
from fentro_core.ventilation.entries import ControlSaid
from fentro_core.ventilation.reminder import filter_reminder
from fentro_server.api.access import person_of, visit_of
from fentro_server.api.errors import Problem
from fentro_server.visits.kept import committed

router = Router(tags=["ventilation"])

USUAL_MONTHS = 3


@router.get("/visits/{visit_id}/filters.ics", response={200: Any, 404: Problem, 422: Problem})
def filters_ics(request: HttpRequest, visit_id: UUID) -> HttpResponse:
    """A reminder (iCalendar) to look at the ventilator's filters, as often as its control card says; else every three months."""
    visit = visit_of(person_of(request), visit_id)
    if visit.system.kind == "packaged_rooftop":
        raise Refused("This kind of system has no ventilator for a dwelling.")
    said = [entry.body for entry in standing(committed(visit.pk).entries) if isinstance(entry.body, ControlSaid)]
    months = next((body.control.filter_months for body in reversed(said) if body.control.filter_months), USUAL_MONTHS)
    system = visit.system
    text = filter_reminder(system.name, system.site.name, months, timezone.localdate(), f"{system.pk}-filters")
    response = HttpResponse(text, content_type="text/calendar; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="filters.ics"'
    return response

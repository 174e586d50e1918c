"""The economizer of a visit: its page, point lists, hours of a year, sister units."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import BaseModel, Field

from fentro_core.base.refusal import Refused
from fentro_core.economizer.page import economizer_page
from fentro_core.economizer.points import PointLine, read_points, write_points
from fentro_core.economizer.results import EconomizerPage
from fentro_core.economizer.year import SENSOR_K, SENSOR_RH, YearHours, year_question
from fentro_core.weather.year import synthetic_year, write_epw
from fentro_server.accounts.models import Person
from fentro_server.api.access import person_of, visit_of
from fentro_server.api.errors import Problem
from fentro_server.api.timed import LONGEST_S, in_time
from fentro_server.instruments.models import Instrument
from fentro_server.places.models import System
from fentro_server.visits.kept import committed
from fentro_server.visits.models import Visit
from fentro_server.visits.snapshots import full_snapshot

router = Router(tags=["economizer"])

LARGEST_FILE = 4_000_000


def page_of(visit: Visit, person: Person) -> EconomizerPage:
    """The visit's economizer, worked out by the core."""
    instruments = Instrument.objects.of(person.company_id)
    return economizer_page(full_snapshot(visit, committed(visit.pk), instruments))


class PageOut(BaseModel):
    """The page, as JSON."""

    page: EconomizerPage


@router.get("/visits/{visit_id}/economizer", response={200: PageOut, 404: Problem, 422: Problem})
def economizer(request: HttpRequest, visit_id: UUID) -> HttpResponse:
    """Plan, walk, tests with verdicts, points, revisions and alarms of a visit."""
    person = person_of(request)
    page = PageOut(page=page_of(visit_of(person, visit_id), person))
    return HttpResponse(page.model_dump_json(), content_type="application/json")


class Text(BaseModel):
    """The text of a file."""

    text: str = Field(..., max_length=LARGEST_FILE)


@router.post("/points/look", response={200: list[PointLine], 422: Problem})
def look_at_points(request: HttpRequest, given: Text) -> Any:
    """Read a point list (CSV): nothing is stored."""
    return list(read_points(given.text))


@router.get("/visits/{visit_id}/points.csv", response={200: Any, 404: Problem, 422: Problem})
def points_csv(request: HttpRequest, visit_id: UUID) -> HttpResponse:
    """The point list with what was compared, as CSV."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    text = write_points(page_of(visit, person).points.lines)
    return _file(text, "text/csv; charset=utf-8", f"points-{visit.opened_at:%Y-%m-%d}-{str(visit.pk)[:8]}.csv")


class YearQuestion(BaseModel):
    """What to count: a weather file or the zone's made-up year; the sensor's error; the controller's own limit."""

    weather: str = Field("", max_length=LARGEST_FILE)
    sensor_k: float = Field(SENSOR_K, ge=0, le=10)
    sensor_rh: float = Field(SENSOR_RH, ge=0, le=0.5)
    limit_c: float | None = Field(None, ge=-20, le=50)


@router.post("/visits/{visit_id}/year-hours", response={200: YearHours, 404: Problem, 422: Problem})
def year_hours(request: HttpRequest, visit_id: UUID, given: YearQuestion) -> YearHours:
    """Hours of free cooling a year by each method, and those a sensor's error loses or mis-spends."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    day = page_of(visit, person).day
    zone = visit.system.site.climate_zone
    with in_time(2 * LONGEST_S):
        return year_question(day, zone, given.weather, given.sensor_k, given.sensor_rh, given.limit_c)


@router.get("/visits/{visit_id}/weather.epw", response={200: Any, 404: Problem, 422: Problem})
def weather_epw(request: HttpRequest, visit_id: UUID) -> HttpResponse:
    """The made-up year of the site's climate zone, as an EPW file."""
    visit = visit_of(person_of(request), visit_id)
    site = visit.system.site
    return _file(
        write_epw(synthetic_year(site.climate_zone), site.elevation_m),
        "text/plain; charset=utf-8",
        f"zone-{site.climate_zone}.epw",
    )


def _file(text: str, kind: str, name: str) -> HttpResponse:
    response = HttpResponse(text, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


class Sister(BaseModel):
    """Another unit of the same maker and model, to carry a check over to; its open visit, if there is one."""

    id: UUID
    name: str
    site: str
    visit: UUID | None


@router.get("/visits/{visit_id}/sisters", response={200: list[Sister], 404: Problem})
def sisters(request: HttpRequest, visit_id: UUID) -> list[Sister]:
    """Units of the same maker and model: what was wrong here may be wrong there."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    plate = visit.system.nameplate
    if not plate.get("maker") or not plate.get("model"):
        return []
    rows = (
        System.objects.of(person.company_id)
        .listed()
        .filter(kind=visit.system.kind, nameplate__maker=plate["maker"], nameplate__model=plate["model"])
        .exclude(pk=visit.system_id)
        .select_related("site")
    )
    open_visits = dict(
        Visit.objects.of(person.company_id).filter(system__in=rows, closed_at__isnull=True).values_list("system_id", "pk")
    )
    return [Sister(id=row.pk, name=row.name, site=row.site.name, visit=open_visits.get(row.pk)) for row in rows]


def controller_named(visit: Visit) -> str:
    """The name of the system's controller at the gateway; refused when the plate names none."""
    name = str(visit.system.nameplate.get("controller", ""))
    if not name:
        raise Refused("This system's nameplate names no controller. A lead can add it in the office.")
    return name

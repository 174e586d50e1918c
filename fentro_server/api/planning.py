"""The week: who is to be where when, what is still in somebody's hands; appointments in and out as iCalendar."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from typing import Any
from uuid import UUID

from django.db.models import Q
from django.http import Http404, HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router
from pydantic import BaseModel, Field

from fentro_core.base.calendar_file import Appointed, appointments
from fentro_core.base.refusal import Refused
from fentro_server.accounts.models import Person, Role
from fentro_server.api.access import may_record, person_of
from fentro_server.api.errors import NotAllowed, Problem
from fentro_server.api.temporary import open_in, with_changes
from fentro_server.audit.models import What
from fentro_server.audit.noting import note
from fentro_server.places.models import System
from fentro_server.planning.models import LONGEST_MIN, Appointment
from fentro_server.visits.models import Visit

router = Router(tags=["planning"])

MOST_DAYS = 31
MOST = 500
KEPT_BACK = timedelta(days=30)
KEPT_AHEAD = timedelta(days=366)


class AppointmentLine(BaseModel):
    """Somebody is to be at a system. `mine`: this person."""

    id: UUID
    system: UUID
    system_name: str
    site: str
    person: UUID
    person_name: str
    mine: bool
    starts_at: datetime
    minutes: int
    words: str
    cancelled: bool


class GoingOn(BaseModel):
    """An open visit: who is there now."""

    visit: UUID
    person: UUID
    person_name: str
    system_name: str
    site: str
    opened_at: datetime


class HandedChange(BaseModel):
    """A temporary change that somebody left to somebody else, and that still stands open."""

    visit: UUID
    what: str
    system_name: str
    site: str
    by: str
    to: str
    reason: str


class Week(BaseModel):
    """Appointments from a day on, who is where now, what is handed on to whom. `cut`: there are more than are shown."""

    first: date
    days: int
    appointments: list[AppointmentLine]
    now: list[GoingOn]
    handed: list[HandedChange]
    cut: bool


class NewAppointment(BaseModel):
    """Who is to be where when. `id`: made by the device, so that sending twice is harmless."""

    id: UUID
    system: UUID
    person: UUID | None = None
    starts_at: datetime
    minutes: int = Field(60, ge=1, le=LONGEST_MIN)
    words: str = Field("", max_length=500)


class AppointmentChange(BaseModel):
    """What is to be another way; what is left out stays."""

    person: UUID | None = None
    starts_at: datetime | None = None
    minutes: int | None = Field(None, ge=1, le=LONGEST_MIN)
    words: str | None = Field(None, max_length=500)
    cancelled: bool | None = None


def _line(row: Appointment, person: Person) -> AppointmentLine:
    return AppointmentLine(
        id=row.pk,
        system=row.system_id,
        system_name=row.system.name,
        site=row.system.site.name,
        person=row.person_id,
        person_name=row.person.name,
        mine=row.person_id == person.pk,
        starts_at=row.starts_at,
        minutes=row.minutes,
        words=row.words,
        cancelled=row.cancelled,
    )


def _rows(person: Person) -> Any:
    return Appointment.objects.of(person.company_id).select_related("system__site", "person")


@router.get("/week", response={200: Week, 422: Problem})
def week(request: HttpRequest, first: date | None = None, days: int = 7, offset_min: int = 0) -> Week:
    """Everybody's appointments from a day on (of the reader's clock), and who is on an open visit now."""
    person = person_of(request)
    if not 1 <= days <= MOST_DAYS:
        raise Refused(f"A week has 1 to {MOST_DAYS} days here.", "days")
    if not -14 * 60 <= offset_min <= 14 * 60:
        raise Refused("No place is that far from UTC.", "offset_min")
    begin = first or timezone.now().date()
    try:
        at = datetime(begin.year, begin.month, begin.day, tzinfo=UTC) - timedelta(minutes=offset_min)
        until = at + timedelta(days=days)
    except OverflowError:
        raise Refused("There is no such week.", "first") from None
    found = list(_rows(person).filter(starts_at__gte=at, starts_at__lt=until).order_by("starts_at", "pk")[: MOST + 1])
    visits = Visit.objects.of(person.company_id).filter(
        closed_at__isnull=True, opened_at__gte=timezone.now() - timedelta(hours=16)
    )
    now = visits.select_related("system__site", "technician").order_by("-opened_at")[:60]
    return Week(
        first=begin,
        days=days,
        appointments=[_line(row, person) for row in found[:MOST]],
        now=[
            GoingOn(
                visit=row.pk,
                person=row.technician_id,
                person_name=row.technician.name,
                system_name=row.system.name,
                site=row.system.site.name,
                opened_at=row.opened_at,
            )
            for row in now
        ],
        handed=[
            HandedChange(
                visit=visit.pk,
                what=each.what,
                system_name=visit.system.name,
                site=visit.system.site.name,
                by=each.by,
                to=each.handed_to_name,
                reason=each.reason,
            )
            for visit in with_changes(person)
            for each in open_in(visit.ledger_rows)  # type: ignore[attr-defined]
            if each.handed_to
        ],
        cut=len(found) > MOST,
    )


@router.post("/appointments", response={200: AppointmentLine, 403: Problem, 404: Problem, 422: Problem})
def make_appointment(request: HttpRequest, given: NewAppointment) -> AppointmentLine:
    """Leads appoint anybody who records, technicians themselves. Repeating the same request changes nothing."""
    person = person_of(request)
    may_record(person)
    known = _rows(person).filter(pk=given.id).first()
    if known is not None:
        return _line(known, person)
    system = System.objects.of(person.company_id).listed().select_related("site").filter(pk=given.system).first()
    if system is None:
        raise Http404
    if Appointment.objects.filter(pk=given.id).exists():
        raise Refused("This appointment's number is already used. Make it anew.", "id")
    row = Appointment.objects.create(
        id=given.id,
        company_id=person.company_id,
        system=system,
        person=_who(person, given.person),
        starts_at=_moment(given.starts_at),
        minutes=given.minutes,
        words=given.words.strip(),
    )
    note(person, What.APPOINTMENT, _about(row))
    return _line(row, person)


@router.patch("/appointments/{appointment_id}", response={200: AppointmentLine, 403: Problem, 404: Problem, 422: Problem})
def change_appointment(request: HttpRequest, appointment_id: UUID, given: AppointmentChange) -> AppointmentLine:
    """Another hour, another person, or not any more."""
    person = person_of(request)
    may_record(person)
    row = _rows(person).filter(pk=appointment_id).first()
    if row is None:
        raise Http404
    if person.role != Role.LEAD and row.person_id != person.pk:
        raise NotAllowed(f"This is {row.person.name}'s appointment. Only {row.person.name} or a lead changes it.")
    row.person = _who(person, given.person) if given.person else row.person
    row.starts_at = _moment(given.starts_at) if given.starts_at else row.starts_at
    row.minutes = given.minutes or row.minutes
    row.words = row.words if given.words is None else given.words.strip()
    row.cancelled = row.cancelled if given.cancelled is None else given.cancelled
    row.revision += 1
    row.save()
    note(person, What.APPOINTMENT, _about(row))
    return _line(row, person)


def _about(row: Appointment) -> str:
    return f"{row.system.site.name}, {row.system.name}, {row.starts_at:%-d %b %Y %H:%M} UTC, {row.person.name}" + (
        ": cancelled" if row.cancelled else ""
    )


def _who(person: Person, wanted: UUID | None) -> Person:
    if wanted is None or wanted == person.pk:
        return person
    lead_of_company = person.role == Role.LEAD
    found = Person.objects.of(person.company_id).filter(pk=wanted, is_active=True).exclude(role=Role.VIEWER).first()
    if found is None:
        raise Refused("Choose somebody of the company who records.", "person")
    if not lead_of_company:
        raise NotAllowed("Only a lead appoints somebody else.")
    return found


def _moment(given: datetime) -> datetime:
    if given.tzinfo is None:
        raise Refused("The time must say its offset from UTC.", "starts_at")
    if not timezone.now() - KEPT_BACK <= given <= timezone.now() + 3 * KEPT_AHEAD:
        raise Refused("Choose a day from last month to three years ahead.", "starts_at")
    return given


@router.get("/appointments.ics", response={200: Any})
def calendar(request: HttpRequest, whose: str = "mine") -> HttpResponse:
    """Appointments as iCalendar: one's own, or everybody's; a month back and a year ahead. Cancelled ones are told as such."""
    person = person_of(request)
    now = timezone.now()
    rows = _rows(person).filter(starts_at__gte=now - KEPT_BACK, starts_at__lte=now + KEPT_AHEAD)
    rows = rows if whose == "all" else rows.filter(Q(person=person))
    found = [
        Appointed(
            uid=f"{row.pk}@fentro",
            starts_at=row.starts_at,
            minutes=row.minutes,
            summary=f"{row.system.site.name}, {row.system.name}" + (f" ({row.person.name})" if whose == "all" else ""),
            words=row.words,
            place=", ".join(each for each in (row.system.site.name, row.system.location) if each),
            changed_at=row.changed_at,
            revision=row.revision,
            cancelled=row.cancelled,
        )
        for row in rows.order_by("starts_at")[:2000]
    ]
    response = HttpResponse(appointments(found), content_type="text/calendar; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="appointments.ics"'
    return response

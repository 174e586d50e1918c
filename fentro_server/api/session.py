"""Signing in and out."""

from __future__ import annotations

from datetime import timedelta
from typing import Any
from uuid import UUID

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.db.models import Sum
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.csrf import get_token
from django.utils import timezone
from ninja import Router, Status
from ninja.utils import check_csrf
from pydantic import BaseModel, Field

from fentro_server.accounts.models import Person
from fentro_server.api.access import SignedIn, person_of
from fentro_server.api.errors import Problem, plain

router = Router(tags=["session"])

CSRF_MISSING = "This page is out of date. Reload it and try again."
WRONG = "That name and password don't go together. Check both; capital letters count."
LOCKED = "Too many wrong tries. Wait a quarter of an hour, or ask a lead to set a new password."


class PersonOut(BaseModel):
    """The person signed in. `office`: may open Django's admin; `operator`: runs the installation."""

    id: UUID
    name: str
    role: str
    company: str
    office: bool
    operator: bool


class SessionOut(BaseModel):
    """Who is signed in, if anyone; whether this is the demo."""

    person: PersonOut | None
    demo: bool


class SignIn(BaseModel):
    """Name and password."""

    sign_in_name: str = Field(..., max_length=120)
    password: str = Field(..., max_length=1000)


def session_out(request: HttpRequest) -> SessionOut:
    """The session as the interface needs it."""
    person = request.user
    shown = None
    if isinstance(person, Person) and person.may_come_in:
        shown = PersonOut(
            id=person.pk,
            name=person.name,
            role=person.role,
            company=person.company.name,
            office=person.is_staff,
            operator=person.is_operator,
        )
    return SessionOut(person=shown, demo="fentro_server.demo" in settings.INSTALLED_APPS)


def csrf_ok(request: HttpRequest) -> bool:
    """True when a request without session carries the page's CSRF token."""
    return check_csrf(request, lambda: None) is None


def locked_out(request: HttpRequest, response: HttpResponse, credentials: Any = None) -> HttpResponse:
    """What a locked name gets, whatever was typed."""
    return JsonResponse(plain(LOCKED, "password"), status=429)


OF_ONE_NAME = 30
"""Wrong tries of a name from anywhere: somebody guesses from many addresses."""

FROM_ONE_ADDRESS = 60
"""Wrong tries from an address, whatever the names: an office may share one."""


def too_many_tries(request: HttpRequest, name: str) -> bool:
    """In the last quarter of an hour, across addresses or across names."""
    since = timezone.now() - timedelta(hours=settings.AXES_COOLOFF_TIME)
    recent = AccessAttempt.objects.filter(attempt_time__gte=since)
    tries = Sum("failures_since_start", default=0)
    named = recent.filter(username=name).aggregate(found=tries)["found"]
    from_here = recent.filter(ip_address=request.META.get("REMOTE_ADDR")).aggregate(found=tries)["found"]
    return bool(named >= OF_ONE_NAME or from_here >= FROM_ONE_ADDRESS)


@router.get("", auth=None, response=SessionOut)
def show(request: HttpRequest) -> SessionOut:
    """Who is signed in. Also sets the CSRF cookie."""
    get_token(request)
    return session_out(request)


@router.post("", auth=None, response={200: SessionOut, 403: Problem, 422: Problem, 429: Problem})
def sign_in(request: HttpRequest, given: SignIn) -> Any:
    """Sign in. Five wrong tries lock the name from this address for a quarter of an hour; more of one name from many addresses,
    or from one address under many names, lock either."""
    if not csrf_ok(request):
        return Status(403, plain(CSRF_MISSING))
    credentials = {"sign_in_name": given.sign_in_name.strip(), "password": given.password}
    if too_many_tries(request, credentials["sign_in_name"]):
        return Status(429, plain(LOCKED, "password"))
    person = authenticate(request, **credentials)
    if not isinstance(person, Person) or not person.may_come_in:
        return Status(422, plain(WRONG, "password"))
    login(request, person)
    return Status(200, session_out(request))


@router.delete("", auth=SignedIn(), response=SessionOut)
def sign_out(request: HttpRequest) -> SessionOut:
    """Sign out on this device."""
    logout(request)
    return session_out(request)


@router.delete("/everywhere", auth=SignedIn(), response=SessionOut)
def sign_out_everywhere(request: HttpRequest) -> SessionOut:
    """Sign out on every device."""
    person_of(request).sign_out_everywhere()
    logout(request)
    return session_out(request)

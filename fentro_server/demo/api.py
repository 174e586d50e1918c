"""Sign-in at one tap, for the demo's made-up people only. Not part of any other installation."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.contrib.auth import login
from django.http import Http404, HttpRequest
from ninja import Router, Status
from pydantic import BaseModel

from fentro_server.accounts.backends import BY_NAME
from fentro_server.accounts.models import Person
from fentro_server.api.errors import Problem, plain
from fentro_server.api.session import CSRF_MISSING, SessionOut, csrf_ok, session_out
from fentro_server.demo.scenario import COMPANY

router = Router(tags=["demo"])


class DemoPerson(BaseModel):
    """Someone of the demo company."""

    id: UUID
    name: str
    role: str


class DemoSignIn(BaseModel):
    """Whom to be."""

    person: UUID


@router.get("/people", auth=None, response=list[DemoPerson])
def people(request: HttpRequest) -> Any:
    """The demo's people."""
    rows = Person.objects.filter(company__name=COMPANY, is_active=True).order_by("role", "name")
    return [DemoPerson(id=row.pk, name=row.name, role=row.role) for row in rows]


@router.post("/session", auth=None, response={200: SessionOut, 403: Problem, 404: Problem})
def sign_in(request: HttpRequest, given: DemoSignIn) -> Any:
    """Be one of them."""
    if not csrf_ok(request):
        return Status(403, plain(CSRF_MISSING))
    person = Person.objects.filter(company__name=COMPANY, pk=given.person, is_active=True).first()
    if person is None:
        raise Http404
    login(request, person, backend=BY_NAME)
    return Status(200, session_out(request))

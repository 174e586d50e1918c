"""Letting somebody in by a link, on which they choose their own password."""

from __future__ import annotations

from typing import Any, Literal
from uuid import UUID

from axes.utils import reset
from django.contrib.auth import login
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction
from django.http import Http404, HttpRequest
from ninja import Router, Status
from pydantic import BaseModel, Field

from fentro_core.base.refusal import Refused
from fentro_server.accounts.backends import BY_NAME
from fentro_server.accounts.inviting import invited, path_of
from fentro_server.accounts.models import Person
from fentro_server.api.access import lead_of
from fentro_server.api.errors import NotAllowed, Problem, plain
from fentro_server.api.people import let_in
from fentro_server.api.session import CSRF_MISSING, SessionOut, csrf_ok, session_out
from fentro_server.audit.models import What
from fentro_server.audit.noting import note

router = Router(tags=["people"])

OVER = "This link is not good any more: it was used, or is older than two weeks. Ask for a new one."


class NewInvitation(BaseModel):
    """Somebody who may sign in once they have chosen a password."""

    name: str = Field(..., max_length=100)
    sign_in_name: str = Field(..., max_length=120)
    role: Literal["technician", "lead", "viewer"] = "technician"


class Invitation(BaseModel):
    """The link to hand on. `path`: below this installation's address."""

    person: UUID
    name: str
    path: str


class Invited(BaseModel):
    """Whom a link is for."""

    name: str
    sign_in_name: str
    company: str


class Chosen(BaseModel):
    """The password chosen."""

    password: str = Field(..., max_length=1000)


@router.post("/invitations", response={200: Invitation, 403: Problem, 422: Problem})
def invite(request: HttpRequest, given: NewInvitation) -> Invitation:
    """Make a link for somebody new."""
    lead = lead_of(request)
    row = let_in(lead, given.name, given.sign_in_name, given.role, None)
    note(lead, What.INVITED, f"{row.name}, {row.role}")
    return Invitation(person=row.pk, name=row.name, path=path_of(row))


@router.post("/people/{person_id}/invitation", response={200: Invitation, 403: Problem, 404: Problem})
def invite_again(request: HttpRequest, person_id: UUID) -> Invitation:
    """A link for somebody who is here already, and forgot the password."""
    lead = lead_of(request)
    row = Person.objects.of(lead.company_id).filter(pk=person_id).first()
    if row is None or not row.is_active:
        raise Http404
    if row.is_operator and not lead.is_operator:
        raise NotAllowed("This person runs the installation. Only they change what they may.")
    note(lead, What.INVITED, f"{row.name}, anew")
    return Invitation(person=row.pk, name=row.name, path=path_of(row))


@router.get("/invitations/{person}/{token}", auth=None, response={200: Invited, 422: Problem})
def look_at_invitation(request: HttpRequest, person: str, token: str) -> Invited:
    """Whom a link is for."""
    row = invited(person, token)
    if row is None:
        raise Refused(OVER)
    return Invited(name=row.name, sign_in_name=row.sign_in_name, company=row.company.name)


@router.post("/invitations/{person}/{token}", auth=None, response={200: SessionOut, 403: Problem, 422: Problem})
def accept_invitation(request: HttpRequest, person: str, token: str, given: Chosen) -> Any:
    """Choose the password, and be signed in."""
    if not csrf_ok(request):
        return Status(403, plain(CSRF_MISSING))
    with transaction.atomic():
        row = invited(person, token)
        locked = Person.objects.select_for_update(of=("self",)).filter(pk=row.pk).first() if row else None
        row = invited(person, token) if locked else None
        if row is None:
            raise Refused(OVER)
        try:
            validate_password(given.password, row)
        except ValidationError as wrong:
            raise Refused(" ".join(wrong.messages), "password") from None
        row.set_password(given.password)
        row.save(update_fields=["password"])
    reset(username=row.sign_in_name)
    login(request, row, backend=BY_NAME)
    return Status(200, session_out(request))

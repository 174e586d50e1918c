"""People of a company, kept by its leads: who signs in, as what, and who no longer does."""

from __future__ import annotations

from typing import Any, Literal
from uuid import UUID

from axes.utils import reset
from django.contrib.auth import update_session_auth_hash
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.http import Http404, HttpRequest
from ninja import Router
from pydantic import BaseModel, Field

from fentro_core.base.refusal import Refused
from fentro_server.accounts.leaving import let_go
from fentro_server.accounts.models import Person
from fentro_server.api.access import lead_of
from fentro_server.api.errors import NotAllowed, Problem
from fentro_server.audit.models import What
from fentro_server.audit.noting import note
from fentro_server.places.naming import name_of

router = Router(tags=["people"])

LAST_LEAD = "Somebody must remain a lead. Make another one first."


class PersonLine(BaseModel):
    """Somebody of the company. `me`: who asks."""

    id: UUID
    name: str
    sign_in_name: str
    role: str
    active: bool
    me: bool


class NewPerson(BaseModel):
    """Somebody who may sign in from now on."""

    name: str = Field(..., max_length=100)
    sign_in_name: str = Field(..., max_length=120)
    role: Literal["technician", "lead", "viewer"] = "technician"
    password: str = Field(..., max_length=1000)


class PersonChange(BaseModel):
    """What is to be another way; what is left out stays."""

    name: str | None = Field(None, max_length=100)
    role: Literal["technician", "lead", "viewer"] | None = None
    active: bool | None = None
    password: str | None = Field(None, max_length=1000)


@router.get("", response={200: list[PersonLine], 403: Problem})
def people(request: HttpRequest) -> list[PersonLine]:
    """Everyone of the company: those who may sign in first, by name."""
    lead = lead_of(request)
    rows = Person.objects.of(lead.company_id).order_by("-is_active", "name")
    return [_line(row, lead) for row in rows]


@router.post("", response={200: PersonLine, 403: Problem, 422: Problem})
def add_person(request: HttpRequest, given: NewPerson) -> Any:
    """Let somebody in."""
    lead = lead_of(request)
    row = let_in(lead, given.name, given.sign_in_name, given.role, given.password)
    note(lead, What.PEOPLE, f"{row.name}: let in")
    return _line(row, lead)


@router.patch("/{person_id}", response={200: PersonLine, 403: Problem, 404: Problem, 422: Problem})
def change_person(request: HttpRequest, person_id: UUID, given: PersonChange) -> Any:
    """Another name, role or password; or no more signing in, which ends what is open on every device."""
    lead = lead_of(request)
    with transaction.atomic():
        leads = list(Person.objects.of(lead.company_id).filter(role="lead", is_active=True).select_for_update(of=("self",)))
        row = Person.objects.of(lead.company_id).filter(pk=person_id).first()
        if row is None:
            raise Http404
        if row.is_operator and not lead.is_operator:
            raise NotAllowed("This person runs the installation. Only they change what they may.")
        if given.name is not None:
            row.name = name_of(given.name)
        row.role = given.role or row.role
        row.is_active = row.is_active if given.active is None else given.active
        if leads == [row] and not (row.role == "lead" and row.is_active):
            raise Refused(LAST_LEAD, "role" if row.role != "lead" else "active")
        if given.password is not None:
            _check_password(given.password, row)
            row.set_password(given.password)
        row.save()
        if given.active is False or given.password is not None:
            row.sign_out_everywhere()
        said = "role" if given.role else "name" if given.name else "password" if given.password else "signing in"
        note(lead, What.PEOPLE, f"{row.name}: {said}")
        if given.active is False:
            let_go(row)
    if given.password is not None:
        reset(username=row.sign_in_name)
        if row.pk == lead.pk:
            row.refresh_from_db()
            update_session_auth_hash(request, row)
    return _line(row, lead)


def let_in(lead: Person, name: str, sign_in_name: str, role: str, password: str | None) -> Person:
    """Somebody new in the lead's company; without a password nobody signs in as them until one is chosen.

    Raises
    ------
    Refused
        A name that is none or is taken, or a password that is too easy.
    """
    name, sign_in_name = name_of(name), sign_in_name.strip()
    if not sign_in_name or any(letter.isspace() for letter in sign_in_name):
        raise Refused("Give a user name without blanks.", "sign_in_name")
    if password is not None:
        _check_password(password, Person(name=name, sign_in_name=sign_in_name))
    try:
        with transaction.atomic():
            row: Person = Person.objects.create_person(lead.company, sign_in_name, password, name=name, role=role)
    except IntegrityError:
        raise Refused("This user name is taken. Choose another.", "sign_in_name") from None
    return row


def _line(row: Person, lead: Person) -> PersonLine:
    return PersonLine(
        id=row.pk, name=row.name, sign_in_name=row.sign_in_name, role=row.role, active=row.is_active, me=row.pk == lead.pk
    )


def _check_password(password: str, person: Person) -> None:
    try:
        validate_password(password, person)
    except ValidationError as wrong:
        raise Refused(" ".join(wrong.messages), "password") from None

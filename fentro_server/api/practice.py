"""Practising on a made-up system, and deleting it."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel

from fentro_server.api.access import lead_of, may_record, person_of
from fentro_server.api.errors import Problem
from fentro_server.audit.models import What
from fentro_server.audit.noting import note
from fentro_server.records import deleting
from fentro_server.visits import practice

router = Router(tags=["practice"])


class Practice(BaseModel):
    """The visit to practise on."""

    visit: UUID


class Deleted(BaseModel):
    """How many practice visits are gone."""

    visits: int


@router.post("/practice", response={200: Practice, 403: Problem})
def begin_practice(request: HttpRequest) -> Practice:
    """One's open practice visit, or a new one."""
    person = person_of(request)
    may_record(person)
    return Practice(visit=practice.begin(person).pk)


@router.delete("/practice", response={200: Deleted, 403: Problem})
def delete_practice(request: HttpRequest) -> Deleted:
    """A lead deletes the company's practice, with every visit there and all that was entered and signed."""
    lead = lead_of(request)
    visits = deleting.delete_practice(lead.company)
    note(lead, What.COMPANY, f"Deleted the practice, visits: {visits}")
    return Deleted(visits=visits)

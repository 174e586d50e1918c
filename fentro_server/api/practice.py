"""Practising on a made-up system, and putting it away."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel

from fentro_server.api.access import lead_of, may_record, person_of
from fentro_server.api.errors import Problem
from fentro_server.visits import practice

router = Router(tags=["practice"])


class Practice(BaseModel):
    """The visit to practise on."""

    visit: UUID


class PutAway(BaseModel):
    """How many practice sites are in no list any more."""

    sites: int


@router.post("/practice", response={200: Practice, 403: Problem})
def begin_practice(request: HttpRequest) -> Practice:
    """One's open practice visit, or a new one."""
    person = person_of(request)
    may_record(person)
    return Practice(visit=practice.begin(person).pk)


@router.delete("/practice", response={200: PutAway, 403: Problem})
def put_practice_away(request: HttpRequest) -> PutAway:
    """A lead puts the company's practice away, with every visit there."""
    return PutAway(sites=practice.put_away(lead_of(request)))

"""The company itself: what stands on its papers, taking everything along, and its end. For its leads."""

from __future__ import annotations

from collections.abc import AsyncIterator, Generator
from datetime import timedelta
from itertools import islice
from typing import Any, Literal

from asgiref.sync import sync_to_async
from django.contrib.auth import logout
from django.http import HttpRequest, StreamingHttpResponse
from django.utils import timezone
from ninja import Router
from pydantic import BaseModel, Field

from fentro_core.base.refusal import Refused
from fentro_server.accounts.leaving import let_all_go
from fentro_server.accounts.models import Company, Person
from fentro_server.api.access import lead_of
from fentro_server.api.errors import Problem
from fentro_server.audit.models import Event, What
from fentro_server.audit.noting import note
from fentro_server.records import archive

router = Router(tags=["company"])

TAKEN_WITHIN = timedelta(hours=24)


class CompanyOut(BaseModel):
    """What stands on its papers; how people who left are called."""

    name: str
    letterhead: str
    left_names: str
    people_left: int


class CompanyChange(BaseModel):
    """What is to be another way; what is left out stays."""

    letterhead: str | None = Field(None, max_length=600)
    left_names: Literal["name", "initials", "hidden"] | None = None


class TheEnd(BaseModel):
    """The company's name, typed, so that nobody ends it by a slip."""

    name: str = Field(..., max_length=120)


class Ended(BaseModel):
    """What happens now."""

    words: str


def _out(company: Company) -> CompanyOut:
    left = Person.objects.of(company.pk).filter(is_active=False).count()
    return CompanyOut(name=company.name, letterhead=company.letterhead, left_names=company.left_names, people_left=left)


@router.get("/company", response={200: CompanyOut, 403: Problem})
def company(request: HttpRequest) -> CompanyOut:
    """The company as its leads set it."""
    return _out(lead_of(request).company)


@router.patch("/company", response={200: CompanyOut, 403: Problem, 422: Problem})
def change_company(request: HttpRequest, given: CompanyChange) -> CompanyOut:
    """Set it another way. Names of people who left that are not kept any more can't be had back."""
    lead = lead_of(request)
    row = lead.company
    if given.letterhead is not None:
        if len(given.letterhead.strip().splitlines()) > 6:
            raise Refused("Six lines at most stand on a report.", "letterhead")
        row.letterhead = given.letterhead.strip()
    row.left_names = given.left_names or row.left_names
    row.save(update_fields=["letterhead", "left_names"])
    if given.left_names is not None:
        let_all_go(row)
    note(lead, What.COMPANY, "Letterhead" if given.left_names is None else f"People who left: {row.get_left_names_display()}")
    return _out(row)


@router.get("/company/archive", response={200: Any, 403: Problem})
def company_archive(request: HttpRequest) -> StreamingHttpResponse:
    """Everything that the company owns, as one file of JSON lines, streamed; see docs/formats.md."""
    lead = lead_of(request)
    note(lead, What.TOOK_ALL)
    response = StreamingHttpResponse(_chunks(archive.lines(lead.company)), content_type="application/x-ndjson")
    response["Content-Disposition"] = f'attachment; filename="fentro-archive-{timezone.localdate():%Y-%m-%d}.jsonl"'
    return response


LINES_AT_ONCE = 20


async def _chunks(lines: Generator[str]) -> AsyncIterator[bytes]:
    """Line by line from the request's own thread, so that memory stays flat; whoever goes away ends the reading."""
    try:
        while chunk := await sync_to_async(lambda: "".join(islice(lines, LINES_AT_ONCE)), thread_sensitive=True)():
            yield chunk.encode()
    finally:
        await sync_to_async(lines.close, thread_sensitive=True)()


@router.delete("/company", response={200: Ended, 403: Problem, 422: Problem})
def end_company(request: HttpRequest, given: TheEnd) -> Ended:
    """End the company, once everything was taken along: nobody signs in any more; whoever runs the installation removes it."""
    lead = lead_of(request)
    row = lead.company
    if given.name.strip() != row.name:
        raise Refused(f"Write the company's name as it stands here: {row.name}", "name")
    taken = Event.objects.of(row.pk).filter(what=What.TOOK_ALL, at__gte=timezone.now() - TAKEN_WITHIN)
    if not taken.exists():
        raise Refused("Take everything along first: what is removed can't be had back.", "archive")
    note(lead, What.COMPANY, "Ended")
    row.is_active = False
    row.save(update_fields=["is_active"])
    for person in Person.objects.of(row.pk):
        person.sign_out_everywhere()
    logout(request)
    return Ended(words="The company is ended. Nobody signs in any more; whoever runs this installation removes what is here.")

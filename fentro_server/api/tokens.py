"""Tokens for programs: a person's own, made and ended by that person. See docs/machine.md."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal
from uuid import UUID

from django.http import Http404, HttpRequest
from django.utils import timezone
from ninja import Router
from pydantic import BaseModel, Field

from fentro_server.accounts import tokens
from fentro_server.accounts.models import ApiToken, Role, Scope
from fentro_server.api.access import person_of
from fentro_server.api.errors import NotAllowed, Problem
from fentro_server.audit.models import What
from fentro_server.audit.noting import note

router = Router(tags=["tokens"])


class TokenLine(BaseModel):
    """A token, without what the program shows."""

    id: UUID
    name: str
    scope: str
    ends_on: date
    made_at: datetime
    used_on: date | None
    over: bool


class NewToken(BaseModel):
    """For which program, what it may, until when."""

    name: str = Field(..., max_length=80)
    scope: Literal["read", "record"] = "read"
    ends_on: date


class MadeToken(BaseModel):
    """The new token. `token`: what the program shows; it is said only now."""

    line: TokenLine
    token: str


def _line(row: ApiToken) -> TokenLine:
    over = row.ended_at is not None or row.ends_on < timezone.localdate()
    return TokenLine(
        id=row.pk, name=row.name, scope=row.scope, ends_on=row.ends_on, made_at=row.made_at, used_on=row.used_on, over=over
    )


@router.get("/tokens", response=list[TokenLine])
def own_tokens(request: HttpRequest) -> list[TokenLine]:
    """This person's tokens, the newest first."""
    return [_line(row) for row in person_of(request).tokens.all()[:100]]


@router.post("/tokens", response={200: MadeToken, 403: Problem, 422: Problem})
def make_token(request: HttpRequest, given: NewToken) -> MadeToken:
    """Let a program in as oneself."""
    person = person_of(request)
    if given.scope == Scope.RECORD and person.role == Role.VIEWER:
        raise NotAllowed("You may look, not record: so may your program. Choose a token that fetches only.")
    row, shown = tokens.make(person, given.name, Scope(given.scope), given.ends_on)
    note(person, What.TOKEN, f"{row.name}: {row.get_scope_display()}, until {row.ends_on:%-d %b %Y}")
    return MadeToken(line=_line(row), token=shown)


@router.delete("/tokens/{token_id}", response={200: list[TokenLine], 404: Problem})
def end_token(request: HttpRequest, token_id: UUID) -> list[TokenLine]:
    """Shut a program out at once. Ending it again changes nothing."""
    person = person_of(request)
    row = person.tokens.filter(pk=token_id).first()
    if row is None:
        raise Http404
    if row.ended_at is None:
        ApiToken.objects.filter(pk=row.pk).update(ended_at=timezone.now())
        note(person, What.TOKEN, f"{row.name}: ended")
    return own_tokens(request)

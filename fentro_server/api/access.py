"""Who may do what: signed in, by role, and only in the own company."""

from __future__ import annotations

import re
from typing import Any

from django.http import Http404, HttpRequest
from ninja.errors import AuthenticationError
from ninja.security import HttpBearer, SessionAuth

from fentro_core.logbook.kinds import all_kinds
from fentro_server.accounts import tokens
from fentro_server.accounts.models import ApiToken, Person, Role, Scope
from fentro_server.api.errors import NotAllowed
from fentro_server.visits.models import Entry, Visit

READS = ("GET", "HEAD")

ADDS = re.compile(r"/api/v1/(visits|visits/[^/]+/(entries|logger-files)|calculations/[^/]+)")
"""What a program may send with a token that records; people, tokens, signatures and the company stay people's."""

FETCHES_NOT = re.compile(r"/api/v1/(session|tokens|people|demo)\b")
"""What no program fetches."""


class ByToken(HttpBearer):
    """A program that shows a token: it comes in as the token's person, as far as the token goes."""

    def authenticate(self, request: HttpRequest, token: str) -> Any:
        """The person; a token that is no good ends the request."""
        row = tokens.of(token)
        if row is None:
            raise AuthenticationError
        if FETCHES_NOT.match(request.path) or not self._goes(row, request):
            raise NotAllowed("This token does not go so far.")
        request.user = row.person
        return row.person

    def _goes(self, row: ApiToken, request: HttpRequest) -> bool:
        if request.method in READS:
            return True
        return request.method == "POST" and row.scope == Scope.RECORD and ADDS.fullmatch(request.path) is not None


class SignedIn(SessionAuth):
    """A person with a session; the request must carry the CSRF token when it changes something."""

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        """The person, or None."""
        person = request.user
        return person if person.is_authenticated and person.may_come_in else None


def person_of(request: HttpRequest) -> Person:
    """The signed-in person."""
    person: Person = request.user  # type: ignore[assignment]
    return person


def lead_of(request: HttpRequest) -> Person:
    """The signed-in person, who must be a lead."""
    person = person_of(request)
    if person.role != Role.LEAD:
        raise NotAllowed("Only a lead does this.")
    return person


def may_record(person: Person) -> None:
    """Refuse viewers."""
    if person.role not in (Role.TECHNICIAN, Role.LEAD):
        raise NotAllowed("You may look, not record. Ask a lead to change your role.")


def visit_of(person: Person, visit_id: Any) -> Visit:
    """A visit of the person's company with its system, site and technician; 404 otherwise."""
    found = Visit.objects.of(person.company_id).select_related("system__site", "technician").filter(pk=visit_id).first()
    if found is None:
        raise Http404
    return found


def may_write_in(person: Person, visit: Visit) -> None:
    """Technicians write in their own visits, leads in all."""
    may_record(person)
    if person.role == Role.TECHNICIAN and visit.technician_id != person.pk:
        raise NotAllowed(f"This is {visit.technician.name}'s visit. Only {visit.technician.name} or a lead may add to it.")


def writes_in(person: Person, visit: Visit) -> bool:
    """As `may_write_in`, answered instead of raised."""
    try:
        may_write_in(person, visit)
    except NotAllowed:
        return False
    return True


def may_add(person: Person, visit: Visit, batch: list[Any]) -> None:
    """As `may_write_in`; besides, whoever took a temporary change over may undo it in anyone's visit."""
    undoing = batch and all(isinstance(each, dict) and _taken_over(each.get("kind")) for each in batch)
    if undoing and person.role == Role.TECHNICIAN and visit.technician_id != person.pk:
        changes = [str((each.get("body") or {}).get("change")) for each in batch if isinstance(each.get("body"), dict)]
        handed = Entry.objects.filter(visit=visit, kind="handed_on", body__to=str(person.pk), body__change__in=changes)
        if len(changes) == len(batch) and set(handed.values_list("body__change", flat=True)) == set(changes):
            return
    may_write_in(person, visit)


def _taken_over(kind: object) -> bool:
    """A kind of entry that whoever took a change over may make."""
    known = all_kinds().get(str(kind))
    return known is not None and known.who == "taker"

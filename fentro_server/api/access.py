"""Who may do what: signed in, by role, and only in the own company."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpRequest
from ninja.security import SessionAuth

from fentro_core.logbook.kinds import all_kinds
from fentro_server.accounts.models import Person, Role
from fentro_server.api.errors import NotAllowed
from fentro_server.visits.models import Entry, Visit


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

"""Bringing a visit in from its JSON: from this installation or another, as often as one likes; entries keep their ids."""

from __future__ import annotations

import uuid
from dataclasses import dataclass, field
from datetime import datetime
from itertools import groupby
from typing import Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from fentro_core.base.refusal import Refused
from fentro_core.logbook.snapshot import FORMAT, VERSION, Snapshot, read_head
from fentro_core.logbook.snapshot import Site as CoreSite
from fentro_server.accounts.models import Company, Person, Role
from fentro_server.instruments.models import Instrument
from fentro_server.places.models import Site, System
from fentro_server.visits import logbook
from fentro_server.visits.models import Visit

NO_VISIT = "This file is no visit of Fentro."
NEWER = "This visit was made by a newer version of Fentro. Bring this one up to date first."
NO_ID = "This visit has no number of its own, so that it can't be told whether it is here already."
TAKEN = "This visit's number is used by another visit here."

MOST_ENTRIES = 20_000


@dataclass
class Brought:
    """What became of a visit's file. `made`: what was not here before, in words; `refused`: entries by position, and why."""

    visit: Visit
    added: int = 0
    here_already: int = 0
    made: list[str] = field(default_factory=list)
    refused: list[tuple[int, Refused]] = field(default_factory=list)


def bring_in(person: Person, document: Any) -> Brought:
    """A visit with its site, system, instruments and people, as far as they are not here yet.

    People who are not here are kept by name only: nobody signs in as them. Photos are no part of the file.

    Parameters
    ----------
    person : Person
        Who brings it in, a lead.

    Raises
    ------
    Refused
        It is no visit, is of a newer version, or its number is another visit's.
    """
    head, visit_id = _checked(document)
    entries = document.get("entries", [])
    with transaction.atomic():
        brought = Brought(_visit(person, head, visit_id))
        visit = brought.visit
        if visit._state.adding:
            visit.system = _system(person.company, head, document["system"], brought.made)
            visit.technician = _person(person.company, head.visit.technician or person.name, brought.made)
            visit.save()
        names = _instruments(person.company, document.get("instruments", []), brought.made)
        numbered = [(index, _with(each, names)) for index, each in enumerate(entries)]
        for name, group in groupby(numbered, key=lambda each: _by(each[1], visit.technician.name)):
            batch = list(group)
            before = visit.entries_number
            done = logbook.append(visit.pk, _person(person.company, name, brought.made), [each for _, each in batch])
            brought.refused += [(batch[at][0], why) for at, _, why in done.refused]
            brought.added += done.visit.entries_number - before
            brought.here_already += len(done.accepted) - (done.visit.entries_number - before)
            visit = done.visit
        if visit.closed_at is not None and brought.added:
            visit.closed_at = _closed_at(visit)
            visit.save(update_fields=["closed_at"])
        brought.visit = visit
    return brought


def _checked(document: Any) -> tuple[Snapshot, UUID]:
    if not isinstance(document, dict) or document.get("format", FORMAT) != FORMAT or "system" not in document:
        raise Refused(NO_VISIT, "file")
    if document.get("version", VERSION) != VERSION:
        raise Refused(NEWER, "file")
    entries = document.get("entries", [])
    if not isinstance(entries, list) or len(entries) > MOST_ENTRIES:
        raise Refused(f"A visit has at most {MOST_ENTRIES:,} entries.", "entries")
    head = read_head({key: value for key, value in document.items() if key != "entries"})
    try:
        return head, UUID(head.visit.id)
    except ValueError:
        raise Refused(NO_ID, "visit.id") from None


def _visit(person: Person, head: Snapshot, visit_id: UUID) -> Visit:
    known = Visit.objects.filter(pk=visit_id).select_related("technician", "system__site").first()
    if known is not None:
        if known.company_id != person.company_id:
            raise Refused(TAKEN, "visit.id")
        return known
    return Visit(
        id=visit_id,
        company_id=person.company_id,
        purpose=head.visit.purpose[:500],
        opened_at=_moment(head.visit.opened_at) or timezone.now(),
    )


def _moment(text: str) -> datetime | None:
    try:
        found = datetime.fromisoformat(text)
    except ValueError:
        return None
    return found if found.tzinfo else None


def _system(company: Company, head: Snapshot, system: Any, made: list[str]) -> System:
    """The one of this name at the site of this name, or a new one."""
    given: CoreSite = head.site
    name = given.name.strip()[:120] or "Brought in"
    site, fresh = Site.objects.get_or_create(
        company=company,
        name=name,
        defaults={"elevation_m": given.elevation_m, "barometer_pa": given.barometer_pa, "climate_zone": given.climate_zone},
    )
    if fresh:
        made.append(f"site {site.name}")
    called = head.system.name.strip()[:120] or "Unit"
    known = System.objects.filter(site=site, name=called).first()
    if known is not None and known.kind == head.system.kind:
        return known
    if known is not None:
        called = f"{called} (brought in)"[:120]
        known = System.objects.filter(site=site, name=called, kind=head.system.kind).first()
        if known is not None:
            return known
    row = System.objects.create(
        company=company,
        site=site,
        name=called,
        kind=head.system.kind,
        location=head.system.location[:200],
        nameplate=system.get("nameplate", {}),
    )
    made.append(f"system {row.name}")
    return row


def _person(company: Company, name: str, made: list[str]) -> Person:
    """Somebody of this name here, or a name that nobody signs in with."""
    found = Person.objects.of(company.pk).filter(name=name[:120]).order_by("-is_active").first()
    if found is not None:
        return found
    row: Person = Person.objects.create_person(
        company, f"brought-in-{uuid.uuid4()}", None, name=name[:120], role=Role.TECHNICIAN, is_active=False
    )
    made.append(f"{row.name}, by name only")
    return row


def _instruments(company: Company, given: Any, made: list[str]) -> dict[str, str]:
    """By the file's ids those here: the same one, one of the same serial number, or a new one."""
    names: dict[str, str] = {}
    for each in given:
        own = Instrument.objects.of(company.pk)
        serial = each.get("serial", "")
        own_id = uuid.uuid5(company.pk, each["id"])
        found = own.filter(pk__in=[_uuid(each["id"]), own_id]).first() or (own.filter(serial=serial).first() if serial else None)
        if found is None:
            name, count = each["name"][:70] or "Instrument", 2
            while own.filter(name=name).exists():
                name, count = f"{each['name'][:70]} ({count})", count + 1
            taken = Instrument.objects.filter(pk=_uuid(each["id"])).exists()
            found = Instrument.objects.create(
                id=own_id if taken else _uuid(each["id"]),
                company=company,
                name=name,
                kind=each.get("kind", "other"),
                serial=serial[:80],
                accuracy=each.get("accuracy", {}),
                calibrated_on=each.get("calibrated_on"),
                calibration_due_on=each.get("calibration_due_on"),
                in_use=False,
            )
            made.append(f"instrument {found.name}, not in use")
        names[each["id"]] = str(found.pk)
    return names


def _uuid(text: str) -> UUID:
    """Of a name that is no UUID the same one each time."""
    try:
        return UUID(text)
    except ValueError:
        return uuid.uuid5(uuid.NAMESPACE_URL, f"fentro:instrument:{text}")


def _with(entry: Any, names: dict[str, str]) -> Any:
    """The entry with its instruments by the ids they have here."""
    if (
        not isinstance(entry, dict)
        or not isinstance(entry.get("body"), dict)
        or all(key == value for key, value in names.items())
    ):
        return entry
    return {**entry, "body": _renamed(entry["body"], names)}


def _renamed(body: Any, names: dict[str, str]) -> Any:
    if isinstance(body, dict):
        return {
            key: names.get(value, value) if key == "instrument" and isinstance(value, str) else _renamed(value, names)
            for key, value in body.items()
        }
    return [_renamed(each, names) for each in body] if isinstance(body, list) else body


def _by(entry: Any, otherwise: str) -> str:
    said = entry.get("by") if isinstance(entry, dict) else None
    return said if isinstance(said, str) and said.strip() and "\0" not in said else otherwise


def _closed_at(visit: Visit) -> datetime | None:
    last = visit.entries.filter(kind="closing").order_by("-number").values_list("at", flat=True).first()
    return last or visit.closed_at

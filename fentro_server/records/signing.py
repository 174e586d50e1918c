"""Signing: the first signature freezes an edition, the second stands under the same one."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.utils import timezone

from fentro_core.base.refusal import Refused
from fentro_core.report.edition import canonical, edition, fingerprint
from fentro_core.report.writing import report_of
from fentro_server.accounts.models import Person, Role
from fentro_server.instruments.models import Instrument
from fentro_server.records.models import Edition, Signature, SignedAs
from fentro_server.visits.kept import committed
from fentro_server.visits.models import Visit
from fentro_server.visits.snapshots import full_snapshot, snapshot_json, worked

OPEN = "Close the visit first: what is signed must be whole."
CHANGED = "Something was added to this visit since you looked. Read the report again, then sign."
BY_TECHNICIAN_FIRST = "The technician signs first."
ANOTHER = "Somebody else countersigns: you signed as technician."
SIGNED = "{name} has signed here already."
ONLY_TECHNICIAN = "{name} signs here, or a lead in their place."
ONLY_LEAD = "A lead countersigns."

MOST_POINTS = 4000
"""Points of a drawn signature."""


class MayNot(Exception):
    """The person may not sign so, or not now: why, as a sentence."""


def why_not(person: Person, visit: Visit, signed_as: str, current: Edition | None) -> str:
    """Why this person can't sign so now, as a sentence; "" where they can."""
    given = {each.signed_as: each for each in current.signatures.all()} if current else {}
    if visit.closed_at is None:
        return OPEN
    if signed_as in given:
        return SIGNED.format(name=given[signed_as].name)
    if signed_as == SignedAs.TECHNICIAN:
        may = person.role == Role.LEAD or (person.role == Role.TECHNICIAN and visit.technician_id == person.pk)
        return "" if may else ONLY_TECHNICIAN.format(name=visit.technician.name)
    if person.role != Role.LEAD:
        return ONLY_LEAD
    if SignedAs.TECHNICIAN not in given:
        return BY_TECHNICIAN_FIRST
    return ANOTHER if given[SignedAs.TECHNICIAN].person_id == person.pk else ""


def current_edition(visit: Visit) -> Edition | None:
    """The edition of the visit as it is now, if it was signed so."""
    found: Edition | None = visit.editions.filter(entries_number=visit.entries_number).prefetch_related("signatures").first()
    return found


def sign(visit: Visit, person: Person, signed_as: str, name: str, strokes: Any, seen: int) -> Signature:
    """Put a name under the visit's report as it is now; the first one freezes it as an edition.

    Parameters
    ----------
    seen : int
        Number of the last entry in the report that the person read.

    Raises
    ------
    MayNot
        The person may not sign so, or not now.
    Refused
        No name, a drawing that is none, or the visit has changed since it was read.
    """
    name = name.strip()
    if not name:
        raise Refused("Write your name.", "name")
    drawn = read_strokes(strokes)
    with transaction.atomic():
        locked = Visit.objects.select_for_update(of=("self",)).select_related("system__site", "technician", "company")
        visit = locked.get(pk=visit.pk)
        if seen != visit.entries_number:
            raise Refused(CHANGED, "seen")
        found = current_edition(visit)
        if why := why_not(person, visit, signed_as, found):
            raise MayNot(why)
        now = timezone.now()
        row = found or _frozen(visit, now)
        return Signature.objects.create(
            edition=row, signed_as=signed_as, person=person, name=name[:120], strokes=drawn, signed_at=now
        )


def _frozen(visit: Visit, now: Any) -> Edition:
    number = visit.editions.count() + 1
    document = document_of(visit, number)
    return Edition.objects.create(
        company_id=visit.company_id,
        visit=visit,
        number=number,
        entries_number=visit.entries_number,
        core=document["core"],
        fingerprint=fingerprint(document),
        document=canonical(document),
        made_at=now,
    )


def document_of(visit: Visit, number: int) -> Any:
    """What is frozen: the visit's snapshot and its report, as the core makes it now."""
    logbook = committed(visit.pk, visit.entries_number)
    instruments = list(Instrument.objects.of(visit.company_id))
    report = report_of(full_snapshot(visit, logbook, instruments), worked(visit, logbook, instruments))
    company = visit.company
    return edition(number, company.name, company.letterhead, snapshot_json(visit, logbook, instruments), report)


def read_strokes(given: Any) -> list[list[list[float]]]:
    """A drawn signature: lines of points, each of two numbers from 0 to 1, rounded to thousandths.

    Raises
    ------
    Refused
        It is none, or too long.
    """
    if given in (None, []):
        return []
    try:
        lines = [[[round(float(x), 3), round(float(y), 3)] for x, y in line] for line in given]
    except (TypeError, ValueError):
        raise Refused("This is no drawn signature.", "strokes") from None
    points = [each for line in lines for point in line for each in point]
    if not points or len(points) > 2 * MOST_POINTS or not all(0 <= each <= 1 for each in points):
        raise Refused("Draw your name inside the box.", "strokes")
    return lines

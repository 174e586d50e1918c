"""A made-up system to practise on: its visit is begun, and one place is left to read. A lead deletes it all."""

from __future__ import annotations

import uuid
from datetime import UTC, datetime, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from fentro_server.accounts.models import Person
from fentro_server.places.models import Site, System
from fentro_server.places.naming import under_a_free_name
from fentro_server.visits import logbook
from fentro_server.visits.models import Visit

NAME = "Practice, made up"
PURPOSE = "Practice: is this unit cooling as it should?"

PLATE = {
    "maker": "Made up",
    "model": "PR-10",
    "rated_total_w": 35_200.0,
    "rated_airflow_m3s": 1.89,
    "max_external_static_pa": 250.0,
    "metering": "valve",
}

READINGS = (
    ("return", "dry_bulb", 24.8, "degC", 0.2),
    ("return", "relative_humidity", 50.0, "percent", 0.015),
    ("outdoor", "dry_bulb", 31.0, "degC", 0.2),
    ("return", "airflow", 1.78, "m3/s", 0.05),
)
"""What is read already, with its half-width in SI. Left to read: the supply, 12.2 °C and 92 %, as the interface's `Tour` says."""


def begin(person: Person) -> Visit:
    """This person's open practice visit, or a new one at the company's practice system."""
    with transaction.atomic():
        site = Site.objects.of(person.company_id).filter(practice=True).first() or _site(person)
        system = site.systems.first() or System.objects.create(
            company_id=person.company_id, site=site, name="Practice unit", kind="packaged_rooftop", nameplate=PLATE
        )
        found: Visit | None = system.visits.filter(technician=person, closed_at__isnull=True).first()
        if found is not None:
            return found
        now = timezone.now()
        visit: Visit = Visit.objects.create(
            id=uuid.uuid4(),
            company_id=person.company_id,
            system=system,
            technician=person,
            purpose=PURPOSE,
            opened_at=now - timedelta(minutes=20),
        )
        logbook.append(visit.pk, person, list(_entries(now)))
    return visit


def _site(person: Person) -> Site:
    return under_a_free_name(
        lambda name: Site.objects.create(company_id=person.company_id, name=name, elevation_m=300.0, practice=True), NAME
    )


def _entries(now: datetime) -> Any:
    def entry(minutes: int, kind: str, body: dict[str, Any]) -> dict[str, Any]:
        at = (now - timedelta(minutes=minutes)).astimezone(UTC).isoformat()
        return {"id": str(uuid.uuid4()), "kind": kind, "at": at, "phase": "as_found", "body": body}

    yield entry(18, "run", {"event": "started"})
    for station, quantity, value, unit, width in READINGS:
        body = {"station": station, "quantity": quantity, "value": value, "unit": unit, "plus_minus": width}
        yield entry(3, "reading", body)

"""Two companies with people of every role, and a client that behaves like the interface."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone

from fentro_server.accounts.backends import BY_NAME
from fentro_server.accounts.models import Company, Person, Role
from fentro_server.instruments.models import Instrument
from fentro_server.places.models import Site, System
from fentro_server.visits.models import Visit
from tools.standins import Devices

PASSWORD = "correct horse battery"


@dataclass
class House:
    """A company with its people, a system, an instrument and a visit of its technician."""

    company: Company
    people: dict[str, Person]
    site: Site
    system: System
    instrument: Instrument
    visit: Visit


def make_house(name: str) -> House:
    company = Company.objects.create(name=name)
    people = {
        role: Person.objects.create_person(company, f"{role}@{name}.example", PASSWORD, name=f"{role} of {name}", role=role)
        for role in Role.values
    }
    site = Site.objects.create(company=company, name="Mill", elevation_m=300.0)
    system = System.objects.create(
        company=company, site=site, name="Furnace", kind="furnace_with_coil", nameplate={"rated_total_w": 10551.0}
    )
    instrument = Instrument.objects.create(
        company=company, name="Probe", kind="thermo_hygrometer", accuracy={"dry_bulb": {"plus_minus": 0.3}}
    )
    visit = Visit.objects.create(
        id=uuid.uuid4(), company=company, system=system, technician=people["technician"], opened_at=timezone.now()
    )
    return House(company, people, site, system, instrument, visit)


@pytest.fixture
def ours(db: None) -> House:
    """The company under test."""
    return make_house("ours")


@pytest.fixture
def house(ours: House) -> House:
    """The company under test, its instrument a live probe."""
    ours.instrument.serial = "P-1"
    ours.instrument.save()
    return ours


@pytest.fixture
def theirs(db: None) -> House:
    """Another company, which must not exist for the first."""
    return make_house("theirs")


def signed_in(person: Person | None) -> Client:
    """A client of that person; of nobody for None."""
    client = Client()
    if person is not None:
        client.force_login(person, backend=BY_NAME)
    return client


def new_entry(kind: str = "reading", body: dict[str, Any] | None = None, **more: Any) -> dict[str, Any]:
    """An entry as a device makes it."""
    reading = {"station": "return", "quantity": "dry_bulb", "value": 24.6, "unit": "degC"}
    return {"id": str(uuid.uuid4()), "kind": kind, "at": "2026-07-01T10:20:00+00:00", "body": body or reading, **more}


def post(client: Client, path: str, body: Any) -> Any:
    """POST JSON."""
    return client.post(path, body, content_type="application/json")


def add(client: Client, visit: Visit, *entries: Any) -> Any:
    """POST a batch of entries."""
    return post(client, f"/api/v1/visits/{visit.pk}/entries", {"entries": list(entries)})


@pytest.fixture(scope="module")
def gateway(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The units' address, sixty times real time."""
    units = Devices(Path(tmp_path_factory.mktemp("units"))).named("rooftop")
    units.start()
    yield units.url
    units.end()

"""Loads the demo company once; a second call keeps everything as it is."""

from __future__ import annotations

import os
import uuid
from datetime import timedelta
from typing import Any

from django.core.management.base import BaseCommand, CommandError
from django.db import transaction
from django.utils import timezone

from fentro_server.accounts.models import Company, Person
from fentro_server.demo import scenario
from fentro_server.gateways.models import Gateway
from fentro_server.instruments.models import Instrument
from fentro_server.places.models import Site, System
from fentro_server.records.signing import sign
from fentro_server.visits import logbook
from fentro_server.visits.models import Visit

_SPACE = uuid.UUID("6f2c1a52-4f0e-4f5a-9d0b-5a17b0c00001")


def stable_id(*words: object) -> uuid.UUID:
    """The same id every time the demo is made."""
    return uuid.uuid5(_SPACE, "/".join(map(str, words)))


class Command(BaseCommand):
    """``manage.py load_demo``"""

    help = "Load the demo company, unless it is there."

    def handle(self, *args: Any, **options: Any) -> None:
        """Load everything or nothing."""
        company = Company.objects.filter(name=scenario.COMPANY).first()
        if company is not None:
            with transaction.atomic():
                self._add_what_is_new(company)
                self._gateways(company)
            return
        with transaction.atomic():
            self._load()
            self._gateways(Company.objects.get(name=scenario.COMPANY))
        self.stdout.write(f"Loaded {scenario.COMPANY}.")

    def _gateways(self, company: Company) -> None:
        """The simulated probes and units that were started with the demo: at another port each time, perhaps."""
        for kind, name in scenario.GATEWAYS.items():
            address = os.environ.get(f"FENTRO_DEMO_{kind.upper()}", "")
            if address:
                Gateway.objects.update_or_create(company=company, name=name, defaults={"kind": kind, "address": address})

    def _load(self) -> None:
        now = timezone.now().replace(microsecond=0)
        company = Company.objects.create(id=stable_id("company"), name=scenario.COMPANY, letterhead=scenario.LETTERHEAD)
        people = {
            key: Person.objects.create_person(company, f"{key}@saltbox.example", None, id=stable_id(key), name=name, role=role)
            for key, name, role in scenario.PEOPLE
        }
        sites = {key: self._make(Site, company, key, **fields) for key, fields in scenario.SITES.items()}
        systems = {
            key: self._make(System, company, key, **{**fields, "site": sites[fields["site"]]})
            for key, fields in scenario.SYSTEMS.items()
        }
        instruments = {
            key: self._instrument(company, key, fields, people[fields["by"]]) for key, fields in scenario.INSTRUMENTS.items()
        }
        ids = {key: str(row.id) for key, row in instruments.items()}
        for visit in scenario.VISITS:
            self._visit(company, visit, systems[visit.system], people[visit.by], now, ids)

    def _add_what_is_new(self, company: Company) -> None:
        """Instruments, systems and visits that a newer demo has and this one has not; what is there stays as it is."""
        people = {key: Person.objects.get(pk=stable_id(key)) for key, _, _ in scenario.PEOPLE}
        present = set(Instrument.objects.of(company.pk).values_list("name", flat=True))
        for key, fields in scenario.INSTRUMENTS.items():
            if fields["name"] not in present:
                self._instrument(company, key, fields, people[fields["by"]])
        for key, fields in scenario.SYSTEMS.items():
            site = Site.objects.get(pk=stable_id("Site", fields["site"]))
            if not site.systems.filter(name=fields["name"]).exists():
                self._make(System, company, key, **{**fields, "site": site})
        ids = {key: str(stable_id("Instrument", key)) for key in scenario.INSTRUMENTS}
        now = timezone.now().replace(microsecond=0)
        for visit in scenario.VISITS:
            system = System.objects.filter(pk=stable_id("System", visit.system)).first()
            if system and not Visit.objects.filter(pk=stable_id("visit", visit.key)).exists():
                self._visit(company, visit, system, people[visit.by], now, ids)

    def _instrument(self, company: Company, key: str, fields: dict[str, Any], holder: Person) -> Instrument:
        due = timezone.now().date() + timedelta(days=fields["due"])
        made: Instrument = self._make(
            Instrument,
            company,
            key,
            **{name: fields[name] for name in ("name", "kind", "serial", "accuracy")},
            calibrated_on=due - timedelta(days=365),
            calibration_due_on=due,
            held_by=holder,
        )
        return made

    def _make(self, model: Any, company: Company, key: str, **fields: Any) -> Any:
        row = model(id=stable_id(model.__name__, key), company=company, **fields)
        row.full_clean()
        row.save()
        return row

    def _visit(
        self, company: Company, demo: scenario.DemoVisit, system: System, person: Person, now: Any, instruments: dict[str, str]
    ) -> None:
        opened = now - timedelta(days=demo.days_ago)
        visit = Visit.objects.create(
            id=stable_id("visit", demo.key),
            company=company,
            system=system,
            technician=person,
            purpose=demo.purpose,
            opened_at=opened,
        )
        batch = []
        for index, (minute, kind, body, phase) in enumerate(demo.steps):
            named = {**body, "instrument": instruments[body["instrument"]]} if "instrument" in body else body
            batch.append(
                {
                    "id": str(stable_id("entry", demo.key, index)),
                    "kind": kind,
                    "at": (opened + timedelta(minutes=minute)).isoformat(),
                    "phase": phase,
                    "body": named,
                }
            )
        done = logbook.append(visit.pk, person, batch)
        if done.refused:
            index, _, refused = done.refused[0]
            raise CommandError(f"{demo.key}, step {index}: {refused}")
        if done.visit.closed_at is not None:
            Visit.objects.filter(pk=visit.pk).update(closed_at=opened + timedelta(minutes=demo.steps[-1][0]))
        for key, signed_as in zip(scenario.SIGNED.get(demo.key, ()), ("technician", "lead"), strict=False):
            signer = Person.objects.get(pk=stable_id(key))
            visit.refresh_from_db()
            sign(visit, signer, signed_as, signer.name, [], visit.entries_number)

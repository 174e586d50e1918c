"""Editions of a visit's report and who signed them. Neither is ever changed or removed: the database itself refuses."""

from __future__ import annotations

import json
import uuid
from typing import Any

from django.db import models
from django.db.models import Q

from fentro_server.accounts.models import Company, CompanyQuerySet, Person
from fentro_server.visits.models import Visit


class Edition(models.Model):
    """A report frozen when it was signed first: with the snapshot it was made from, and the core that made it.

    `document`: the canonical JSON (`fentro_core.report.edition`), whose SHA-256 is `fingerprint`; `entries_number`: of the last
    entry in it.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    visit = models.ForeignKey(Visit, on_delete=models.PROTECT, related_name="editions")
    number = models.PositiveIntegerField()
    entries_number = models.PositiveIntegerField()
    core = models.CharField(max_length=40)
    fingerprint = models.CharField(max_length=64)
    document = models.TextField()
    made_at = models.DateTimeField()

    objects = CompanyQuerySet.as_manager()

    class Meta:
        ordering = ["visit", "number"]
        indexes = [models.Index(fields=["company", "fingerprint"], name="edition_by_fingerprint")]
        constraints = [
            models.UniqueConstraint(fields=["visit", "number"], name="edition_number_once_per_visit"),
            models.UniqueConstraint(fields=["visit", "entries_number"], name="edition_once_per_state"),
        ]

    def __str__(self) -> str:
        return f"Edition {self.number}, {self.fingerprint[:12]}"

    def read(self) -> Any:
        """The document as JSON."""
        return json.loads(self.document)


class SignedAs(models.TextChoices):
    """In what a person signs."""

    TECHNICIAN = "technician", "Technician"
    LEAD = "lead", "Lead"


class Signature(models.Model):
    """A name under an edition. `strokes`: as it was drawn, lines of points between 0 and 1; empty where it was typed."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    edition = models.ForeignKey(Edition, on_delete=models.PROTECT, related_name="signatures")
    signed_as = models.CharField(max_length=20, choices=SignedAs.choices)
    person = models.ForeignKey(Person, on_delete=models.PROTECT)
    name = models.CharField(max_length=120)
    strokes = models.JSONField(default=list)
    signed_at = models.DateTimeField()

    class Meta:
        ordering = ["signed_at"]
        constraints = [
            models.UniqueConstraint(fields=["edition", "signed_as"], name="signature_once_per_edition"),
            models.CheckConstraint(condition=Q(signed_as__in=SignedAs.values), name="signature_as_known"),
        ]

    def __str__(self) -> str:
        return f"{self.name}, {self.signed_as}"

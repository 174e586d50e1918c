"""Appointments of a company's people at its systems."""

from __future__ import annotations

import uuid

from django.db import models

from fentro_server.accounts.models import Company, CompanyQuerySet, Person
from fentro_server.places.models import System

LONGEST_MIN = 24 * 60


class Appointment(models.Model):
    """Somebody is expected at a system. `cancelled`: not any more; it stays, as whoever has it in a calendar must be told."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    system = models.ForeignKey(System, on_delete=models.PROTECT, related_name="appointments")
    person = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="appointments")
    starts_at = models.DateTimeField()
    minutes = models.PositiveIntegerField(default=60)
    words = models.CharField(max_length=500, blank=True, default="")
    cancelled = models.BooleanField(default=False)
    changed_at = models.DateTimeField(auto_now=True)
    revision = models.PositiveIntegerField(default=0)

    objects = CompanyQuerySet.as_manager()

    class Meta:
        ordering = ["starts_at"]
        indexes = [models.Index(fields=["company", "starts_at"], name="appointment_week")]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(minutes__gte=1, minutes__lte=LONGEST_MIN), name="appointment_minutes_possible"
            )
        ]

    def __str__(self) -> str:
        return f"{self.system.name}, {self.starts_at:%Y-%m-%d %H:%M}"

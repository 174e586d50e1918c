"""Probes and meters of a company."""

from __future__ import annotations

import uuid
from typing import get_args

from django.core.exceptions import ValidationError
from django.db import models
from django.db.models import Q

from fentro_core.base import typed_json
from fentro_core.base.refusal import Refused
from fentro_core.instruments import instrument as core
from fentro_server.accounts.models import Company, CompanyQuerySet, Person

KINDS = get_args(core.InstrumentKind)


class Instrument(models.Model):
    """An instrument: what it reads, how well, and when it was and will be calibrated.

    `accuracy` is JSON by quantity, SI: ``{"dry_bulb": {"plus_minus": 0.3, "resolution": 0.1, "repeatability": 0.1}}``.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=30, choices=[(kind, kind.replace("_", " ")) for kind in KINDS])
    serial = models.CharField(max_length=80, blank=True, default="")
    accuracy = models.JSONField(default=dict)
    calibrated_on = models.DateField(null=True, blank=True)
    calibration_due_on = models.DateField(null=True, blank=True)
    held_by = models.ForeignKey(Person, null=True, blank=True, on_delete=models.SET_NULL)
    in_use = models.BooleanField(default=True)

    objects = CompanyQuerySet.as_manager()

    class Meta:
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(fields=["company", "name"], name="instrument_name_once_per_company"),
            models.CheckConstraint(condition=Q(kind__in=KINDS), name="instrument_kind_known"),
            models.CheckConstraint(
                condition=Q(calibrated_on__isnull=True)
                | Q(calibration_due_on__isnull=True)
                | Q(calibration_due_on__gt=models.F("calibrated_on")),
                name="instrument_due_after_calibrated",
                violation_error_message="The next calibration must be after the last.",
            ),
        ]

    def __str__(self) -> str:
        return self.name

    def clean(self) -> None:
        """The core reads the accuracy table; what it refuses is said at the field."""
        try:
            core.check_accuracy(typed_json.read(self.accuracy, dict[str, core.Accuracy]))
        except Refused as refusal:
            raise ValidationError({"accuracy": str(refusal)}) from refusal

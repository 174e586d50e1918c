"""Samples kept with a visit, in a compact table; and how the columns of each logger's files are read."""

from __future__ import annotations

import uuid

from django.db import models

from fentro_server.accounts.models import Company, CompanyQuerySet
from fentro_server.instruments.models import Instrument
from fentro_server.visits.models import Visit


class Series(models.Model):
    """One stream of samples: a quantity at a point of a station, by an instrument, live or from a file."""

    visit = models.ForeignKey(Visit, on_delete=models.PROTECT, related_name="series")
    instrument = models.ForeignKey(Instrument, null=True, blank=True, on_delete=models.PROTECT)
    station = models.CharField(max_length=120)
    point = models.PositiveSmallIntegerField(default=1)
    quantity = models.CharField(max_length=40)
    origin = models.CharField(max_length=10, choices=[("live", "live"), ("file", "file")])

    class Meta:
        ordering = ["station", "point", "quantity"]
        verbose_name_plural = "series"
        constraints = [
            models.UniqueConstraint(
                fields=["visit", "station", "point", "quantity", "instrument", "origin"],
                nulls_distinct=False,
                name="series_once_per_visit",
            )
        ]

    def __str__(self) -> str:
        return f"{self.station} {self.point} {self.quantity}"


class Sample(models.Model):
    """One value of a series, SI. The moment is the probe's own.

    Without a constraint on the series: nothing deletes one, and the check would cost a quarter of a long import.
    """

    pk = models.CompositePrimaryKey("series_id", "at")
    series = models.ForeignKey(Series, on_delete=models.PROTECT, related_name="samples", db_index=False, db_constraint=False)
    at = models.DateTimeField()
    value = models.FloatField()

    def __str__(self) -> str:
        return f"{self.at:%H:%M:%S} {self.value:.4g}"


class ColumnMapping(models.Model):
    """How files with this header row are read: mapped once, remembered for the company."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    header = models.CharField(max_length=64)
    mapping = models.JSONField()
    used_at = models.DateTimeField(auto_now=True)

    objects = CompanyQuerySet.as_manager()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["company", "header"], name="mapping_once_per_header")]

    def __str__(self) -> str:
        return self.header[:12]

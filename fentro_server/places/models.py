"""Sites and the air systems that stand there."""

from __future__ import annotations

import json
import uuid
from functools import lru_cache
from typing import Self

from django.contrib.postgres.indexes import GinIndex
from django.core.exceptions import ValidationError
from django.db import models
from django.db.models import Q
from django.db.models.fields.json import KT, KeyTransform

from fentro_core.air.pressure import ELEVATION_RANGE_M, PRESSURE_RANGE_PA
from fentro_core.base.refusal import Refused
from fentro_core.logbook import snapshot
from fentro_core.system.kinds import KIND_NAMES, read_nameplate
from fentro_core.system.nameplate import Nameplate
from fentro_server.accounts.models import Company, CompanyQuerySet
from fentro_server.accounts.words import words_in

SITE_WORDS = words_in("name")
SYSTEM_WORDS = words_in("name", "location", KT("nameplate__maker"), KT("nameplate__model"), KT("nameplate__serial"))
"""What sites and systems are found by; the same expressions are their indexes."""


class Site(models.Model):
    """A place. Air pressure follows from the elevation, or from a barometer where one was read.

    `practice`: made up, to practise on; a lead may delete it with all that was done there.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    name = models.CharField(max_length=120)
    elevation_m = models.FloatField("elevation (m)", default=0.0)
    barometer_pa = models.FloatField("barometer (Pa), instead of elevation", null=True, blank=True)
    climate_zone = models.CharField(
        max_length=2, blank=True, default="", choices=[(zone, zone) for zone in snapshot.CLIMATE_ZONES]
    )

    practice = models.BooleanField(default=False, editable=False)

    objects = CompanyQuerySet.as_manager()

    class Meta:
        ordering = ["name"]
        indexes = [GinIndex(SITE_WORDS, name="site_words")]
        constraints = [
            models.UniqueConstraint(fields=["company", "name"], name="site_name_once_per_company"),
            models.CheckConstraint(
                condition=Q(elevation_m__gte=ELEVATION_RANGE_M[0], elevation_m__lte=ELEVATION_RANGE_M[1]),
                name="site_elevation_possible",
                violation_error_message="No site lies at such an elevation.",
            ),
            models.CheckConstraint(
                condition=Q(barometer_pa__isnull=True)
                | Q(barometer_pa__gte=PRESSURE_RANGE_PA[0], barometer_pa__lte=PRESSURE_RANGE_PA[1]),
                name="site_barometer_possible",
                violation_error_message="No site has this air pressure.",
            ),
        ]

    def __str__(self) -> str:
        return self.name


class SystemQuerySet(CompanyQuerySet):
    """Systems by company."""

    def listed(self) -> Self:
        """Without those that turned out to be another one."""
        return self.filter(same_as__isnull=True)


class System(models.Model):
    """An air system with its nameplate: typed data by kind, read by the core.

    `same_as`: it was made on the spot, and turned out to be this one; it is in no list from then on.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="systems")
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=30, choices=list(KIND_NAMES.items()))
    location = models.CharField(max_length=200, blank=True, default="")
    nameplate = models.JSONField(default=dict, blank=True)
    same_as = models.ForeignKey("self", null=True, blank=True, editable=False, on_delete=models.PROTECT, related_name="+")

    objects = SystemQuerySet.as_manager()

    _written: tuple[object, str] | None = None
    """The nameplate that `plate_text` was written of, and the text."""

    class Meta:
        ordering = ["site__name", "name"]
        indexes = [
            models.Index(
                models.F("company"),
                models.F("kind"),
                KeyTransform("maker", "nameplate"),
                KeyTransform("model", "nameplate"),
                models.F("name"),
                name="system_sisters",
            ),
            GinIndex(SYSTEM_WORDS, name="system_words"),
        ]
        constraints = [
            models.UniqueConstraint(fields=["site", "name"], name="system_name_once_per_site"),
            models.CheckConstraint(condition=Q(kind__in=list(KIND_NAMES)), name="system_kind_known"),
        ]

    def __str__(self) -> str:
        return f"{self.site.name}, {self.name}"

    def clean(self) -> None:
        """The core reads the plate; what it refuses is said at the field. The site must be of the same company."""
        try:
            read_nameplate(self.kind, self.nameplate)
        except Refused as refusal:
            field = "kind" if refusal.path == "kind" else "nameplate"
            where = refusal.path.removeprefix("nameplate.")
            raise ValidationError({field: f"{where}: {refusal.sentence.say()}"}) from refusal
        if self.site_id and self.company_id and self.site.company_id != self.company_id:
            raise ValidationError({"site": "This site belongs to another company."})

    @property
    def plate(self) -> Nameplate:
        """The nameplate, read."""
        return _plate(self.kind, self.plate_text)

    @property
    def plate_text(self) -> str:
        """The nameplate as JSON with its keys in order: written once for each that is set."""
        if self._written is None or self._written[0] is not self.nameplate:
            self._written = (self.nameplate, json.dumps(self.nameplate, sort_keys=True))
        return self._written[1]


@lru_cache(maxsize=256)
def _plate(kind: str, text: str) -> Nameplate:
    return read_nameplate(kind, json.loads(text))

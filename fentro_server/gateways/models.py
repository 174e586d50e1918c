"""Gateways that a lead has registered."""

from __future__ import annotations

import uuid

from django.db import models

from fentro_server.accounts.models import Company, CompanyQuerySet
from fentro_server.places.models import Site


class Kind(models.TextChoices):
    """What a gateway leads to."""

    PROBES = "probes", "Live probes"
    CONTROLLERS = "controllers", "Controllers"
    ZONE_BOARDS = "zone_boards", "Zone boards"
    VENTILATORS = "ventilators", "Ventilators"


class Gateway(models.Model):
    """A gateway of a company: of one site, or of all. The token is sent to it and never shown again."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    kind = models.CharField(max_length=20, choices=Kind.choices)
    name = models.CharField(max_length=80)
    address = models.CharField(max_length=200)
    site = models.ForeignKey(Site, null=True, blank=True, on_delete=models.PROTECT)
    token = models.CharField(max_length=200, blank=True, default="")
    answered = models.BooleanField(null=True, editable=False)
    words = models.CharField(max_length=300, blank=True, default="", editable=False)
    checked_at = models.DateTimeField(null=True, editable=False)

    objects = CompanyQuerySet.as_manager()

    class Meta:
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(fields=["company", "name"], name="gateway_name_once_per_company"),
            models.CheckConstraint(condition=models.Q(kind__in=Kind.values), name="gateway_kind_known"),
        ]

    def __str__(self) -> str:
        return self.name


def gateway_of(kind: Kind, company_id: uuid.UUID, site_id: uuid.UUID | None = None) -> Gateway | None:
    """The company's gateway of this kind: the site's own before one of all sites. Without a site, the first."""
    rows = list(Gateway.objects.of(company_id).filter(kind=kind).order_by("name"))
    own = [row for row in rows if site_id is not None and row.site_id == site_id]
    of_all = [row for row in rows if row.site_id is None]
    return next(iter([*own, *of_all, *(rows if site_id is None else [])]), None)

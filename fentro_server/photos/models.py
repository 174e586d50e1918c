"""A photo as a device took it and made it smaller. Never changed; entries of logbooks name it by its hash."""

from __future__ import annotations

import uuid

from django.db import models

from fentro_server.accounts.models import Company, CompanyQuerySet, Person
from fentro_server.visits.models import Visit


class Photo(models.Model):
    """Kept once for a company, whoever sends it how often."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    visit = models.ForeignKey(Visit, on_delete=models.PROTECT, related_name="photos")
    sha256 = models.CharField(max_length=64)
    media_type = models.CharField(max_length=20)
    content = models.BinaryField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT)
    received_at = models.DateTimeField(auto_now_add=True)

    objects = CompanyQuerySet.as_manager()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["company", "sha256"], name="photo_once_per_company")]

    def __str__(self) -> str:
        return self.sha256[:12]

"""``manage.py work_lines``: what lists show of open visits, worked out by this version before anybody looks."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from fentro_server.accounts.models import Company
from fentro_server.instruments.models import Instrument
from fentro_server.visits.lines import brought_up_to_date
from fentro_server.visits.models import Visit


class Command(BaseCommand):
    """Company by company, a hundred visits at a time."""

    help = "Work out what lists show of every open visit, where that is not of this version."

    def handle(self, *args: Any, **options: Any) -> None:
        """All companies."""
        for company in Company.objects.filter(is_active=True):
            instruments = list(Instrument.objects.of(company.pk))
            rows = Visit.objects.of(company.pk).filter(closed_at__isnull=True).select_related("system__site", "technician")
            ids = list(rows.values_list("pk", flat=True))
            for first in range(0, len(ids), 100):
                brought_up_to_date(rows.filter(pk__in=ids[first : first + 100]), instruments)

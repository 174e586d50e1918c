"""``manage.py work_lines``: what lists show of visits, worked out before anybody looks."""

from __future__ import annotations

import logging
import os
import time
from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from django.db import Error, close_old_connections

from fentro_server.accounts.models import Company
from fentro_server.instruments.models import Instrument
from fentro_server.visits.lines import brought_up_to_date
from fentro_server.visits.models import Visit

log = logging.getLogger(__name__)

PAUSE_S = 2.0
"""Between two looks. Whatever came to a visit meanwhile is one piece of work."""
AT_ONCE = 100


class Command(BaseCommand):
    """All open visits that this version has not worked out; with `--follow` then those that entries came to, until it is ended.

    Devices work their visits out themselves, and their entries are only stored. Nothing hangs on this: a line that is not up to
    date is worked out by the list that shows it, later and slower. It gives way to everything else on the machine.
    """

    help = "Work out what lists show of every open visit, where that is not of this version."

    def add_arguments(self, parser: CommandParser) -> None:
        """Once, or from now on."""
        parser.add_argument("--follow", action="store_true", help="go on with visits that entries come to")

    def handle(self, *args: Any, **options: Any) -> None:
        """All companies, then whatever moves."""
        if options["follow"]:
            os.nice(10)
        for company in Company.objects.filter(is_active=True):
            instruments = list(Instrument.objects.of(company.pk))
            rows = Visit.objects.of(company.pk).filter(closed_at__isnull=True).select_related("system__site", "technician")
            ids = list(rows.values_list("pk", flat=True))
            for first in range(0, len(ids), AT_ONCE):
                brought_up_to_date(rows.filter(pk__in=ids[first : first + AT_ONCE]), instruments)
        while options["follow"]:
            time.sleep(PAUSE_S)
            close_old_connections()
            try:
                self.catch_up()
            except Error:
                log.exception("lines can't be brought up to date now")

    @staticmethod
    def catch_up() -> int:
        """Visits that entries came to since their lines were worked out, the first hundred of them; how many there were."""
        behind = list(Visit.objects.behind().select_related("system__site")[:AT_ONCE])
        for visit in behind:
            brought_up_to_date([visit], Instrument.objects.of(visit.company_id))
        return len(behind)

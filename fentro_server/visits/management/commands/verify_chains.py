"""``manage.py verify_chains``: are all entries as they were made?"""

from __future__ import annotations

import uuid
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from fentro_server.visits.chain import broken
from fentro_server.visits.models import Visit


class Command(BaseCommand):
    """Follows the chain of every visit, or of one; ends with 1 where one does not hold."""

    help = "Check that every entry is as it was made, by the chain of hashes over each visit's entries."

    def add_arguments(self, parser: CommandParser) -> None:
        """One visit, or all."""
        parser.add_argument("--visit", type=uuid.UUID, help="only this visit")

    def handle(self, *args: Any, **options: Any) -> None:
        """Say what does not hold."""
        visits = Visit.objects.order_by("opened_at")
        if options["visit"]:
            visits = visits.filter(pk=options["visit"])
        found = list(broken(visits.iterator(chunk_size=500)))
        for each in found:
            self.stdout.write(f"visit {each.visit}, entry {each.number}: {each.words}")
        if found:
            raise CommandError(f"{len(found)} visits are not as they were made.")
        self.stdout.write(f"{visits.count()} visits, every entry as it was made.")

"""``manage.py remove_ended "Company"``: removes a company that has ended, with everything it owned."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from fentro_server.accounts.models import Company
from fentro_server.records.removing import remove


class Command(BaseCommand):
    """Only for one that ended itself; run it as the tables' owner."""

    help = "Remove a company that has ended, with everything it owned. Its archive is what remains."

    def add_arguments(self, parser: CommandParser) -> None:
        """Its name, typed."""
        parser.add_argument("company")

    def handle(self, *args: Any, **options: Any) -> None:
        """Remove it."""
        company = Company.objects.filter(name=options["company"]).first()
        if company is None:
            raise CommandError(f"There is no company called {options['company']}.")
        if company.is_active:
            raise CommandError(f"{company.name} has not ended. Its leads end it in their office.")
        gone = remove(company)
        self.stdout.write(f"{company.name} is removed: {gone['visit']} visits, {gone['entry']} entries.")

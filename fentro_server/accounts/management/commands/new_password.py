"""``manage.py new_password SIGN_IN_NAME``: a link by which somebody chooses a password, for whoever runs the installation."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from fentro_server.accounts.inviting import path_of
from fentro_server.accounts.models import Person


class Command(BaseCommand):
    """One link, good for two weeks and one use."""

    help = "Print a link by which this person chooses a password."

    def add_arguments(self, parser: CommandParser) -> None:
        """Who."""
        parser.add_argument("sign_in_name")

    def handle(self, *args: Any, **options: Any) -> None:
        """Print the link's path."""
        person = Person.objects.filter(sign_in_name=options["sign_in_name"]).first()
        if person is None:
            raise CommandError(f"Nobody signs in as {options['sign_in_name']}.")
        self.stdout.write(path_of(person))

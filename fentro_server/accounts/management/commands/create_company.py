"""Makes the first company and its first person, a lead."""

from __future__ import annotations

import getpass
import os
from typing import Any

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import transaction

from fentro_server.accounts.inviting import path_of
from fentro_server.accounts.models import Company, Person, Role


class Command(BaseCommand):
    """``manage.py create_company --company "Firm" --name "Full Name" --sign-in name``; asks for the password."""

    help = "Make a company and its first lead. The password is asked for, or taken from FENTRO_FIRST_PASSWORD."

    def add_arguments(self, parser: CommandParser) -> None:
        """Names of the company and the person."""
        parser.add_argument("--company", required=True)
        parser.add_argument("--name", required=True, help="full name of the first person")
        parser.add_argument("--sign-in", required=True, help="name to sign in with")
        parser.add_argument("--link", action="store_true", help="print a link to choose a password in the browser")
        parser.add_argument("--operator", action="store_true", help="also sees other companies in the office")

    def handle(self, *args: Any, **options: Any) -> None:
        """Make both or neither."""
        if Person.objects.filter(sign_in_name=options["sign_in"]).exists():
            raise CommandError(f"Somebody already signs in as {options['sign_in']}.")
        if Company.objects.filter(name=options["company"]).exists():
            raise CommandError(f"There is already a company called {options['company']}.")
        password = None if options["link"] else os.environ.get("FENTRO_FIRST_PASSWORD") or getpass.getpass("Password: ")
        if password is not None:
            try:
                validate_password(password)
            except ValidationError as error:
                raise CommandError(" ".join(error.messages)) from error
        with transaction.atomic():
            company = Company.objects.create(name=options["company"])
            person = Person.objects.create_person(
                company,
                options["sign_in"],
                password,
                name=options["name"],
                role=Role.LEAD,
                is_operator=options["operator"],
            )
        if options["link"]:
            self.stdout.write(f"Made {company.name}. {person.name} chooses a password here, below this installation's address:")
            self.stdout.write(path_of(person))
            return
        self.stdout.write(f"Made {company.name}. {options['name']} can sign in as {options['sign_in']}.")

"""``manage.py load_archive FILE``: brings a company in from its archive."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from fentro_core.base.refusal import Refused
from fentro_server.records import archive


class Command(BaseCommand):
    """All of it or nothing."""

    help = "Bring a company in from its archive. Its people then need new passwords: invite them by link."

    def add_arguments(self, parser: CommandParser) -> None:
        """The archive."""
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Read it twice: first whether it is whole, then what is in it."""
        file: Path = options["file"]
        if not file.is_file():
            raise CommandError(f"There is no such file: {file}")

        def opened() -> Iterator[bytes]:
            with file.open("rb") as given:
                yield from given

        try:
            company = archive.load(opened)
        except Refused as refused:
            raise CommandError(refused.sentence.say()) from refused
        self.stdout.write(
            f"{company.name} is here now. Nobody of it has a password yet: manage.py new_password NAME prints a link."
        )

"""``manage.py grant_service ROLE``: what the role that serves may do; run by the owner of the tables, after migrations."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from django.db import connection
from psycopg.sql import SQL, Identifier

GRANTS = (
    "grant usage on schema public to {role}",
    "grant select, insert, update, delete on all tables in schema public to {role}",
    "grant usage, select on all sequences in schema public to {role}",
    "revoke update, delete, truncate, references, trigger on visits_entry from {role}",
    "revoke update, delete, truncate, references, trigger on records_edition, records_signature from {role}",
    "revoke insert, update, delete on django_migrations from {role}",
)


class Command(BaseCommand):
    """Everything but what would change or remove entries or signed reports, or the tables themselves."""

    help = "Let a database role serve: it reads and adds, and can neither change an entry nor drop what keeps it."

    def add_arguments(self, parser: CommandParser) -> None:
        """The role's name."""
        parser.add_argument("role")

    def handle(self, *args: Any, **options: Any) -> None:
        """Grant and revoke."""
        with connection.cursor() as cursor:
            for grant in GRANTS:
                cursor.execute(SQL(grant).format(role=Identifier(options["role"])))

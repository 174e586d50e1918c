"""Removing a company that has ended, with everything it owned. For whoever runs the installation, as the tables' owner."""

from __future__ import annotations

from django.db import connection, transaction

from fentro_server.accounts.models import ApiToken, Company
from fentro_server.records.archive import TABLES, rows_of

GUARDS = {
    "visits_visit": "visits_stay",
    "visits_entry": "entries_stay",
    "records_edition": "editions_stay",
    "records_signature": "signatures_stay",
}
"""Triggers that keep what must stay while its company is here."""


def remove(company: Company) -> dict[str, int]:
    """Everything of it, or nothing; how many rows went, by table.

    Raises
    ------
    ValueError
        It has not ended.
    """
    if company.is_active:
        raise ValueError("This company has not ended.")
    gone: dict[str, int] = {}
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("set constraints all immediate")
        for table, guard in GUARDS.items():
            cursor.execute(f"alter table {table} disable trigger {guard}")
        cursor.execute("set constraints all deferred")
        ApiToken.objects.filter(person__company=company).delete()
        for name in reversed(TABLES):
            rows = rows_of(name, company.pk)
            gone[name] = TABLES[name]._base_manager.filter(pk__in=rows.order_by().values("pk"))._raw_delete(connection.alias)
        cursor.execute("set constraints all immediate")
        for table, guard in GUARDS.items():
            cursor.execute(f"alter table {table} enable trigger {guard}")
    return gone

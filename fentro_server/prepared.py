"""Queries whose SQL is written once.

Every request asks who it is from; every entry locks its visit and moves it on. Django writes such a query's SQL anew each time,
which takes three times as long as the database's answer. Measured by ``bin/bench server``.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Generic, TypeVar

from django.db import DEFAULT_DB_ALIAS, connection, models
from django.db.models.query import get_related_populators

M = TypeVar("M", bound=models.Model)
N = TypeVar("N", bound=models.Model)


@dataclass(frozen=True)
class _Written:
    """SQL with what is known of its columns; `given`: which argument each parameter is, or the value itself."""

    sql: str
    given: tuple[tuple[int | None, Any], ...]
    model: type[models.Model]
    columns: slice
    names: list[str]
    converters: dict[int, tuple[list[Callable[..., Any]], Any]]
    related: list[Any]


class Prepared(Generic[M]):
    """One row of a queryset (with `select_related`, `select_for_update`) by values that differ from call to call.

    Parameters
    ----------
    queryset : callable
        Makes the queryset from its values. It must use each of them as it is, and may not look at any.
    samples : tuple
        Values of the right types, none alike, and none that the queryset uses by itself.
    """

    def __init__(self, queryset: Callable[..., models.QuerySet[M]], *samples: Any) -> None:
        self._queryset = queryset
        self._samples = samples
        self._written: _Written | None = None

    def first(self, *values: Any) -> M | None:
        """The first row, or None.

        Raises
        ------
        TypeError
            Not as many values as the query takes.
        """
        with connection.cursor() as cursor:
            cursor.execute(*self.asked(*values))
            return self.made(cursor.fetchone())

    def asked(self, *values: Any) -> tuple[str, list[Any]]:
        """Its SQL and what goes with it.

        Raises
        ------
        TypeError
            Not as many values as the query takes.
        """
        if len(values) != len(self._samples):
            raise TypeError(f"{len(self._samples)} values, not {len(values)}")
        written = self._known()
        return written.sql, [fixed if at is None else values[at] for at, fixed in written.given]

    def made(self, found: Sequence[Any] | None) -> M | None:
        """The model of a row that came back."""
        if found is None:
            return None
        written, row = self._known(), list(found)
        for at, (convert, column) in written.converters.items():
            for each in convert:
                row[at] = each(row[at], column, connection)
        made = written.model.from_db(DEFAULT_DB_ALIAS, written.names, row[written.columns])
        for each in written.related:
            each.populate(row, made)
        return made  # type: ignore[return-value]

    def _known(self) -> _Written:
        self._written = self._written or self._write()
        return self._written

    def _write(self) -> _Written:
        compiler = self._queryset(*self._samples).order_by().query.get_compiler(DEFAULT_DB_ALIAS)
        sql, parameters = compiler.as_sql()
        own = compiler.klass_info["select_fields"]
        columns = slice(own[0], own[-1] + 1)
        return _Written(
            sql,
            tuple((self._samples.index(each), None) if each in self._samples else (None, each) for each in parameters),
            compiler.klass_info["model"],
            columns,
            [column[0].target.attname for column in compiler.select[columns]],
            compiler.get_converters([column[0] for column in compiler.select]),
            get_related_populators(compiler.klass_info, compiler.select, DEFAULT_DB_ALIAS),
        )


def first_of_both(one: Prepared[M], values: Sequence[Any], other: Prepared[N], more: Sequence[Any]) -> tuple[M | None, N | None]:
    """The first rows of two queries, in one way to the database and back.

    Raises
    ------
    TypeError
        Not as many values as a query takes.
    """
    (sql, given), (then, rest) = one.asked(*values), other.asked(*more)
    with connection.cursor() as cursor:
        cursor.execute(f"{sql}; {then}", [*given, *rest])
        found = one.made(cursor.fetchone())
        cursor.nextset()
        return found, other.made(cursor.fetchone())


def insert_and_update(new: Sequence[models.Model], row: models.Model, *fields: str) -> None:
    """Store new rows of one model and some fields of another row, as `update` does, in one way to the database and back.

    New rows are stored as they are: nothing is filled in by the database or by Django.

    Raises
    ------
    IntegrityError
        One of the new rows can't be stored.
    DoesNotExist
        The other row is not there.
    """
    if not new:
        update(row, *fields)
        return
    model = type(new[0])
    begin, kinds = _insert(model)
    line = f"({', '.join(['%s'] * len(kinds))})"
    values = [kind.get_db_prep_save(getattr(each, kind.attname), connection) for each in new for kind in kinds]
    sql, changed = _update(type(row), fields)
    values += [kind.get_db_prep_save(getattr(row, kind.attname), connection) for kind in changed]
    with connection.cursor() as cursor:
        cursor.execute(f"{begin} {', '.join([line] * len(new))}; {sql}", [*values, row.pk])
        cursor.nextset()
        if cursor.rowcount != 1:
            raise type(row).DoesNotExist
    for each in new:
        each._state.adding, each._state.db = False, DEFAULT_DB_ALIAS


@lru_cache
def _insert(model: type[models.Model]) -> tuple[str, list[Any]]:
    kinds = list(model._meta.local_concrete_fields)
    name = connection.ops.quote_name
    columns = ", ".join(name(kind.column) for kind in kinds)
    return f"INSERT INTO {name(model._meta.db_table)} ({columns}) VALUES", kinds


def update(row: models.Model, *fields: str) -> None:
    """Store some fields of a row that is there, as ``save(update_fields=...)`` does, but tell nobody: no signals are sent.

    Raises
    ------
    DoesNotExist
        It is not there.
    """
    sql, kinds = _update(type(row), fields)
    values = [kind.get_db_prep_save(getattr(row, kind.attname), connection) for kind in kinds]
    with connection.cursor() as cursor:
        cursor.execute(sql, [*values, row.pk])
        if cursor.rowcount != 1:
            raise type(row).DoesNotExist


@lru_cache
def _update(model: type[models.Model], fields: tuple[str, ...]) -> tuple[str, list[Any]]:
    kinds = [model._meta.get_field(name) for name in fields]
    name = connection.ops.quote_name
    put = ", ".join(f"{name(kind.column)} = %s" for kind in kinds)
    return f"UPDATE {name(model._meta.db_table)} SET {put} WHERE {name(model._meta.pk.column)} = %s", kinds

"""Everything a company owns as one file of JSON lines, streamed out, and read back into another installation.

The first line says what it is, then come rows table by table, and the last line counts them and carries the SHA-256 of all
lines before it: a file that was cut off or changed is refused whole. Passwords, tokens and gateways' secrets are not in it.
"""

from __future__ import annotations

import base64
import json
from collections import Counter
from collections.abc import Callable, Generator, Iterable, Iterator
from contextlib import contextmanager
from datetime import date, datetime
from hashlib import sha256
from typing import Any
from uuid import UUID

from django.contrib.auth.hashers import make_password
from django.db import IntegrityError, connection, models, transaction
from django.db.models import QuerySet
from django.utils import timezone
from django.utils.dateparse import parse_date, parse_datetime

from fentro_core.base.refusal import Refused
from fentro_server.accounts.models import Company, Person
from fentro_server.audit.models import Event
from fentro_server.gateways.models import Gateway
from fentro_server.instruments.models import Instrument
from fentro_server.measuring.models import ColumnMapping, Sample, Series
from fentro_server.photos.models import Photo
from fentro_server.places.models import Site, System
from fentro_server.planning.models import Appointment
from fentro_server.records.models import Edition, Signature
from fentro_server.visits.chain import broken
from fentro_server.visits.models import Entry, Visit

FORMAT = "fentro.archive"
VERSION = 1
CHUNK = 200

NEWER = "This archive was made by a newer version of Fentro. Bring this one up to date first."
CUT_OFF = "This archive is not whole: it was cut off, or changed. Nothing was read. Take it anew."
NO_ARCHIVE = "This file is no archive of Fentro."
HERE_ALREADY = "This company, or somebody of it, is here already. An archive goes into an installation where it is not."

SECRET = {"person": ("password", "last_login", "session_epoch", "is_operator"), "gateway": ("token",)}
"""Fields that stay where they are."""

WORKED_OUT = {"visit": ("line", "line_number", "line_stands_on")}
"""Fields that are worked out again where it is read."""

_TABLES: tuple[tuple[type[models.Model], Callable[[Any], QuerySet[Any]]], ...] = (
    (Company, lambda of: Company.objects.filter(pk=of)),
    (Person, lambda of: Person.objects.filter(company=of).order_by("pk")),
    (Site, lambda of: Site.objects.filter(company=of).order_by("pk")),
    (System, lambda of: System.objects.filter(company=of).order_by("pk")),
    (Instrument, lambda of: Instrument.objects.filter(company=of).order_by("pk")),
    (Gateway, lambda of: Gateway.objects.filter(company=of).order_by("pk")),
    (Appointment, lambda of: Appointment.objects.filter(company=of).order_by("pk")),
    (Visit, lambda of: Visit.objects.filter(company=of).order_by("pk")),
    (Entry, lambda of: Entry.objects.filter(visit__company=of).order_by("visit", "number")),
    (Photo, lambda of: Photo.objects.filter(company=of).order_by("pk")),
    (Series, lambda of: Series.objects.filter(visit__company=of).order_by("pk")),
    (Sample, lambda of: Sample.objects.filter(series__visit__company=of).order_by("series", "at")),
    (ColumnMapping, lambda of: ColumnMapping.objects.filter(company=of).order_by("pk")),
    (Edition, lambda of: Edition.objects.filter(company=of).order_by("visit", "number")),
    (Signature, lambda of: Signature.objects.filter(edition__company=of).order_by("pk")),
    (Event, lambda of: Event.objects.filter(company=of).order_by("pk")),
)

TABLES = {table._meta.model_name: table for table, _ in _TABLES}


def rows_of(name: str, company_id: Any) -> QuerySet[Any]:
    """A company's rows of a table."""
    return next(rows for table, rows in _TABLES if table._meta.model_name == name)(company_id)


NUMBERED = (Event, Series)
"""Rows whose own number belongs to an installation: they get a new one."""


def _fields(table: type[models.Model]) -> list[Any]:
    name = str(table._meta.model_name)
    left = (*SECRET.get(name, ()), *WORKED_OUT.get(name, ()))
    return [field for field in table._meta.concrete_fields if field.name not in left]


def lines(company: Company) -> Generator[str]:
    """The archive as it is at one moment, line by line, each with its end of line; memory stays flat."""
    with _one_moment():
        yield from _lines(company)


@contextmanager
def _one_moment() -> Iterator[None]:
    """Whatever is added meanwhile is not seen."""
    if connection.in_atomic_block:
        yield
        return
    with transaction.atomic():
        with connection.cursor() as cursor:
            cursor.execute("set transaction isolation level repeatable read, read only")
        yield


def _lines(company: Company) -> Iterator[str]:
    whole, counted = sha256(), Counter[str]()

    def said(what: Any) -> str:
        line = json.dumps(what, ensure_ascii=False, separators=(",", ":")) + "\n"
        whole.update(line.encode("utf-8", "surrogatepass"))
        return line

    yield said({"format": FORMAT, "version": VERSION, "company": company.name, "made_at": timezone.now().isoformat()})
    for table, rows in _TABLES:
        name, fields = str(table._meta.model_name), _fields(table)
        chunk: list[Any] = []
        for row in rows(company.pk).iterator(chunk_size=CHUNK):
            chunk.append([_plain(getattr(row, field.attname)) for field in fields])
            counted[name] += 1
            if len(chunk) == CHUNK or table is Photo:
                yield said({"table": name, "fields": [field.attname for field in fields], "rows": chunk})
                chunk = []
        if chunk:
            yield said({"table": name, "fields": [field.attname for field in fields], "rows": chunk})
    yield json.dumps({"end": counted, "sha256": whole.hexdigest()}) + "\n"


def _plain(value: Any) -> Any:
    if isinstance(value, UUID):
        return str(value)
    if isinstance(value, datetime | date):
        return value.isoformat()
    if isinstance(value, bytes | memoryview):
        return base64.b64encode(bytes(value)).decode()
    return value


def _read(field: Any, value: Any) -> Any:
    if value is None:
        return None
    kind = field.get_internal_type()
    if kind == "DateTimeField":
        return parse_datetime(value)
    if kind == "DateField":
        return parse_date(value)
    if kind == "BinaryField":
        return base64.b64decode(value)
    return value


def check(given: Iterable[bytes]) -> dict[str, Any]:
    """Read a whole archive without keeping anything; its first line.

    Raises
    ------
    Refused
        It is none, is of a newer version, or is not whole.
    """
    whole, counted = sha256(), Counter[str]()
    head: dict[str, Any] | None = None
    for line in given:
        try:
            said = json.loads(line)
        except ValueError:
            raise Refused(NO_ARCHIVE if head is None else CUT_OFF, "file") from None
        if head is None:
            head = _head(said)
        elif isinstance(said, dict) and "end" in said:
            if said.get("sha256") != whole.hexdigest() or said["end"] != dict(counted):
                raise Refused(CUT_OFF, "file")
            return head
        elif isinstance(said, dict) and said.get("table") in TABLES and isinstance(said.get("rows"), list):
            counted[said["table"]] += len(said["rows"])
        else:
            raise Refused(CUT_OFF, "file")
        whole.update(line)
    raise Refused(NO_ARCHIVE if head is None else CUT_OFF, "file")


def _head(said: Any) -> dict[str, Any]:
    if not isinstance(said, dict) or said.get("format") != FORMAT:
        raise Refused(NO_ARCHIVE, "file")
    if said.get("version") != VERSION:
        raise Refused(NEWER, "file")
    return said


def load(opened: Callable[[], Iterable[bytes]]) -> Company:
    """Bring a company in from its archive: all of it or nothing, and every chain of entries is followed.

    Parameters
    ----------
    opened : callable
        Gives the archive's lines from the beginning; it is read twice.

    Raises
    ------
    Refused
        As `check`; the company is here already; or its entries are not those that were made.
    """
    check(opened())
    numbers: dict[type[models.Model], dict[int, int]] = {table: {} for table in NUMBERED}
    with transaction.atomic():
        try:
            for line in opened():
                said = json.loads(line)
                if "table" in said:
                    _put(TABLES[said["table"]], said["fields"], said["rows"], numbers)
        except IntegrityError:
            raise Refused(HERE_ALREADY, "file") from None
        company = Company.objects.get(pk=_company_of(opened()))
        wrong = next(broken(Visit.objects.of(company.pk)), None)
        if wrong is not None:
            raise Refused(f"Visit {wrong.visit}, entry {wrong.number}: {wrong.words}. Nothing was read.", "file")
    return company


def _company_of(given: Iterable[bytes]) -> Any:
    for line in given:
        said = json.loads(line)
        if said.get("table") == "company":
            return said["rows"][0][said["fields"].index("id")]
    raise Refused(CUT_OFF, "file")


def _put(table: type[models.Model], names: list[str], rows: list[Any], numbers: dict[type[models.Model], dict[int, int]]) -> None:
    fields = {field.attname: field for field in table._meta.concrete_fields}
    if not set(names) <= set(fields):
        raise Refused(NEWER, "file")
    made = []
    for row in rows:
        values = {name: _read(fields[name], value) for name, value in zip(names, row, strict=True)}
        if table is Person:
            values["password"] = make_password(None)
        if table is Sample:
            values["series_id"] = numbers[Series].get(values["series_id"])
        old = values.pop("id") if table in NUMBERED else None
        made.append((old, table(**values)))
    if table in NUMBERED:
        for old, each in made:
            each.save_base(raw=True, force_insert=True)
            numbers[table][int(old)] = each.pk
        return
    manager = table._base_manager
    kept = [field for field in table._meta.concrete_fields if not field.generated]
    manager._insert([each for _, each in made], fields=kept, using=manager.db, raw=True)

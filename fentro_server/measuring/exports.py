"""A visit's readings and samples as CSV: in the units and by the clock of whoever reads them, and in SI."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta, timezone
from typing import Any

from fentro_core.base.spreadsheet import safe_cell
from fentro_core.base.units import KINDS
from fentro_core.instruments.quantities import READABLE, to_si
from fentro_server.instruments.models import Instrument
from fentro_server.measuring import samples
from fentro_server.visits.models import Entry, Visit

READING_HEADINGS = (
    "time",
    "phase",
    "station",
    "point",
    "quantity",
    "value_as_typed",
    "unit_as_typed",
    "value",
    "unit",
    "value_si",
    "unit_si",
    "instrument",
    "by",
    "held_from_probe",
    "state",
    "entry",
    "replaces",
    "received",
)
SAMPLE_HEADINGS = ("time", "station", "point", "quantity", "value", "unit", "value_si", "unit_si", "instrument", "origin")


@dataclass(frozen=True)
class Reader:
    """Units in use, and how far the clock there is ahead of UTC [min]."""

    units: str = "SI"
    offset_min: int = 0

    def time(self, at: datetime) -> str:
        """By the clock there, with its offset."""
        return at.astimezone(timezone(timedelta(minutes=self.offset_min))).isoformat()

    def value(self, kind: str, si: float) -> tuple[str, str]:
        """A value (SI) and its unit, in the units in use."""
        unit = KINDS[kind].us if self.units == "US" else KINDS[kind].si
        return f"{unit.from_si(si):.6g}", unit.label


class _Line:
    """A file for the csv writer that hands each line on."""

    def write(self, line: str) -> str:
        return line


def _written(headings: tuple[str, ...], rows: Iterator[tuple[Any, ...]]) -> Iterator[str]:
    writer: Any = csv.writer(_Line())
    yield "\ufeff" + writer.writerow(headings)
    for row in rows:
        yield writer.writerow([safe_cell(cell) if isinstance(cell, str) else cell for cell in row])


def readings(visit: Visit, reader: Reader = Reader()) -> Iterator[str]:
    """Every reading ever taken on the visit, also those replaced or taken back, as the logbook has them."""
    names = {str(row.pk): row.name for row in Instrument.objects.of(visit.company_id)}
    entries = list(Entry.objects.filter(visit=visit).in_order())
    gone = {row.replaces_id: row.kind for row in entries if row.replaces_id}

    def rows() -> Iterator[tuple[Any, ...]]:
        for row in entries:
            if row.kind != "reading":
                continue
            body = row.body
            kind = READABLE[body["quantity"]].kind
            state = "stands" if row.pk not in gone else "taken back" if gone[row.pk] == "withdrawal" else "replaced"
            si = to_si(body["quantity"], body["value"], body["unit"])
            yield (
                reader.time(row.at),
                row.phase,
                body["station"],
                body["point"],
                body["quantity"],
                body["value"],
                body["unit"],
                *reader.value(kind, si),
                f"{si:.6g}",
                _si(kind),
                names.get(body.get("instrument") or "", ""),
                row.by_name,
                "yes" if body.get("held") else "no",
                state,
                str(row.pk),
                str(row.replaces_id or ""),
                reader.time(row.received_at),
            )

    return _written(READING_HEADINGS, rows())


def sample_lines(visit: Visit, reader: Reader = Reader()) -> Iterator[str]:
    """Every sample of the visit."""

    def rows() -> Iterator[tuple[Any, ...]]:
        for series, at, value in samples.lines(visit):
            yield (
                reader.time(at),
                series.station,
                series.point,
                series.quantity,
                *reader.value(READABLE[series.quantity].kind, value),
                f"{value:.6g}",
                _si(READABLE[series.quantity].kind),
                series.instrument.name if series.instrument else "",
                series.origin,
            )

    return _written(SAMPLE_HEADINGS, rows())


_SI_NAMES = {
    "temperature": "degC",
    "relative_humidity": "1",
    "pressure": "Pa",
    "airflow": "m3/s",
    "velocity": "m/s",
    "electric_power": "W",
    "voltage": "V",
    "current": "A",
}
"""What the SI value is in; the table of units shows some kinds in multiples."""


def _si(kind: str) -> str:
    return _SI_NAMES.get(kind, KINDS[kind].si.key)

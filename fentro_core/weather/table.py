"""A table by time (CSV), line by line or as an hour-by-hour course: loggers' samples, forecasts."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from math import isfinite

from fentro_core.base.refusal import Refused

LARGEST_TEXT = 2_000_000
LONGEST_GAP_H = 2
FAHRENHEIT = re.compile(r"(°\s*|deg\s*|[\[(_ ])f\b", re.IGNORECASE)


@dataclass(frozen=True)
class Hourly:
    """Means by the hour: when the first hour is, values by column, and how many hours had none and lie on the line between."""

    begins: datetime
    values: Mapping[str, tuple[float, ...]]
    gaps: int

    @property
    def first_hour(self) -> int:
        """Of the day."""
        return self.begins.hour

    def last(self, hours: int) -> Hourly:
        """So many hours at its end, or all where there are no more."""
        count = max(len(column) for column in self.values.values())
        return self.part(max(count - hours, 0), hours)

    def part(self, first: int, hours: int) -> Hourly:
        """So many hours from one on, or as many as there are."""
        return Hourly(
            self.begins + timedelta(hours=first),
            {name: each[first : first + hours] for name, each in self.values.items()},
            self.gaps,
        )


def hourly(text: str, wanted: Mapping[str, Sequence[str]], perhaps: Mapping[str, Sequence[str]] | None = None) -> Hourly:
    """Read a table.

    Parameters
    ----------
    text : str
        First line: headings; comma, semicolon or tab between. A column with *time* or *date* in ISO 8601; ``°F`` in a heading
        says so.
    wanted, perhaps : mapping
        By name: words of which a heading has one; those of `perhaps` may be missing, and are left out then.

    Raises
    ------
    Refused
        No such columns, a line that can't be read (the sentence says which), no line at all, over two hours missing in a row.
    """
    columns, rows = table(text, wanted, perhaps)
    means: dict[datetime, list[list[float]]] = {}
    for moment, values in rows:
        means.setdefault(moment.replace(minute=0, second=0, microsecond=0, tzinfo=None), []).append(values)
    return _filled(means, columns)


def table(
    text: str, wanted: Mapping[str, Sequence[str]], perhaps: Mapping[str, Sequence[str]] | None = None
) -> tuple[tuple[str, ...], list[tuple[datetime, list[float]]]]:
    """Every line of a table as it stands, temperatures in °C: the names of its columns, and moments with their values.

    As `hourly`; a heading with *rh* or *humid* holds percent, given as a share of 1.
    """
    if len(text) > LARGEST_TEXT:
        raise Refused("This file is too long: three weeks of samples are enough.", "text")
    lines = text.splitlines()
    heading = lines[0] if lines else ""
    mark = max((",", ";", "\t"), key=heading.count)
    names = [cell.strip().lower() for cell in next(csv.reader(io.StringIO(heading), delimiter=mark), [])]
    at_time = _needed(names, ("time", "date"))
    columns = {name: _needed(names, words) for name, words in wanted.items()}
    columns |= {name: at for name, words in (perhaps or {}).items() if (at := _column(names, words)) is not None}
    rows: list[tuple[datetime, list[float]]] = []
    for number, row in enumerate(csv.reader(io.StringIO("\n".join(lines[1:])), delimiter=mark), 2):
        if not any(cell.strip() for cell in row):
            continue
        try:
            moment = datetime.fromisoformat(row[at_time].strip())
            values = [_read(row[at], names[at]) for at in columns.values()]
        except (IndexError, ValueError):
            shape = "a time like 2026-07-01T14:00 and numbers"
            raise Refused(f"Line {number} can't be read: {shape}.", "text") from None
        rows.append((moment, values))
    if not rows:
        raise Refused("There is no line under the heading.", "text")
    return tuple(columns), rows


def _column(names: Sequence[str], words: Sequence[str]) -> int | None:
    return next((index for word in words for index, name in enumerate(names) if word in name), None)


def _needed(names: Sequence[str], words: Sequence[str]) -> int:
    found = _column(names, words)
    if found is None:
        raise Refused(f"No column is called {' or '.join(words)}: the first line names them.", "text")
    return found


HUMIDITY = re.compile(r"\brh\b|humid|_rh")


def _read(cell: str, name: str) -> float:
    """A temperature in °C, or a relative humidity as a share of 1."""
    value = float(cell.strip().replace(",", "."))
    if not isfinite(value):
        raise ValueError
    if HUMIDITY.search(name):
        return value / 100
    return (value - 32.0) / 1.8 if FAHRENHEIT.search(name) else value


def _filled(means: dict[datetime, list[list[float]]], columns: tuple[str, ...]) -> Hourly:
    known = sorted(means)
    count = int((known[-1] - known[0]).total_seconds() // 3600) + 1
    if count > 24 * 400:
        raise Refused("This file goes over more than a year: take a stretch of it.", "text")
    series: list[list[float] | None] = [None] * count
    for hour in known:
        rows = means[hour]
        series[int((hour - known[0]).total_seconds() // 3600)] = [
            sum(row[side] for row in rows) / len(rows) for side in range(len(columns))
        ]
    gaps = sum(1 for each in series if each is None)
    filled: list[list[float]] = []
    for at, row in enumerate(series):
        if row is None:
            after = next(later for later in range(at, count) if series[later] is not None)
            following = series[after]
            if following is None or after - at > LONGEST_GAP_H:
                raise Refused("Over three hours are missing in a row: take a stretch without a gap.", "text")
            row = [had + (then - had) / (after - at + 1) for had, then in zip(filled[-1], following, strict=True)]
        filled.append(row)
    return Hourly(known[0], {name: tuple(row[side] for row in filled) for side, name in enumerate(columns)}, gaps)

"""Files of any logger: map the columns of a CSV file whose layout is known (`logger_layout`), read it line by line.

Nothing here holds the file: lines go in one by one and come out as rows or as bad lines with their reason.
"""

from __future__ import annotations

import csv
import re
from collections.abc import Callable, Container, Iterable, Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta, timezone
from typing import Any

from fentro_core.base.middle import median
from fentro_core.base.refusal import Refused
from fentro_core.base.units import UNITS
from fentro_core.instruments.quantities import READABLE
from fentro_core.measuring.logger_layout import LOOKED_AT, Layout, TimeFormat, layout_of
from fentro_core.system.air_path import AirPath

GAP_FACTOR = 5.0
"""A step longer than this many usual steps is called a gap."""

EMPTY = {"", "nan", "na", "n/a", "null", "none"}
"""A cell like this holds no value; that is no mistake."""


@dataclass(frozen=True)
class MappedColumn:
    """Where the values of a column belong."""

    index: int
    quantity: str
    unit: str
    station: str
    point: int = 1
    instrument: str | None = None


@dataclass(frozen=True)
class FileMapping:
    """How a file is read. Two time columns are a date and a time."""

    time_columns: tuple[int, ...]
    time_format: TimeFormat
    columns: tuple[MappedColumn, ...]


@dataclass(frozen=True)
class Row:
    """A good line: its number, moment, and values (SI) in the order of the mapped columns; None where a cell is empty."""

    number: int
    at: datetime
    values: tuple[float | None, ...]


@dataclass(frozen=True)
class BadLine:
    """A line that can't be used, and why."""

    number: int
    reason: str


def check_mapping(mapping: FileMapping, width: int) -> None:
    """Refuse a mapping that names columns the file has not, nothing to read, or one place twice."""
    if not 1 <= len(mapping.time_columns) <= 2:
        raise Refused("Choose the column of the time, or one of the date and one of the time.", "mapping.time_columns")
    if not mapping.columns:
        raise Refused("Say what at least one column holds.", "mapping.columns")
    for index, column in enumerate(mapping.columns):
        path = f"mapping.columns.{index}"
        if column.quantity not in READABLE:
            raise Refused("Choose what this column holds.", f"{path}.quantity")
        if column.unit not in UNITS[READABLE[column.quantity].kind]:
            raise Refused("Choose the unit of this column.", f"{path}.unit")
        if not 0 <= column.index < width or column.index in mapping.time_columns:
            raise Refused("The file has no such column.", f"{path}.index")
    places = [(column.station, column.point, column.quantity, column.instrument) for column in mapping.columns]
    if len(set(places)) < len(places):
        raise Refused("Two columns are mapped to the same place. Give one another point.", "mapping.columns")


def check_places(mapping: FileMapping, layout: Layout, path: AirPath, instruments: Container[str]) -> None:
    """Refuse columns mapped to a station this system has not, to what can't be read there, or an unknown instrument."""
    check_mapping(mapping, len(layout.columns))
    for index, column in enumerate(mapping.columns):
        where = f"mapping.columns.{index}"
        station = path.station(column.station)
        if station is None:
            raise Refused("Choose a station of this system.", f"{where}.station")
        if column.quantity not in station.quantities:
            raise Refused(f"{READABLE[column.quantity].name} can't be read at {station.name}.", f"{where}.quantity")
        if column.instrument is not None and column.instrument not in instruments:
            raise Refused("This instrument is not on the list.", f"{where}.instrument")


def read_rows(lines: Iterable[str], layout: Layout, mapping: FileMapping, utc_offset_min: int = 0) -> Iterator[Row | BadLine]:
    """Every data line as a row or a bad line, in order.

    Parameters
    ----------
    lines : iterable of str
        The whole file from its first line.
    utc_offset_min : int
        Minutes that the logger's clock is ahead of UTC; used where a time does not say it itself.
    """
    check_mapping(mapping, len(layout.columns))
    moment = _moment_reader(mapping.time_format, utc_offset_min)
    converters = [_converter(column, layout.columns[column.index].heading, layout.decimal_comma) for column in mapping.columns]
    width = len(layout.columns)
    times = mapping.time_columns
    picked = [column.index for column in mapping.columns]
    for number, line in enumerate(lines, 1):
        if number < layout.first_data:
            continue
        if len(line) > LONGEST_LINE:
            yield BadLine(number, "This line is too long to be one of a logger.")
            continue
        try:
            cells = _cells(line.rstrip("\r\n"), layout.delimiter)
        except csv.Error:
            yield BadLine(number, "A quotation mark stands here without its other one.")
            continue
        if not any(cells):
            continue
        if len(cells) != width:
            yield BadLine(number, f"{len(cells)} fields where {width} are expected: cut off, or another layout.")
            continue
        stamp = cells[times[0]] if len(times) == 1 else f"{cells[times[0]]} {cells[times[1]]}"
        try:
            at = moment(stamp.strip())
            values = tuple(convert(cells[index]) for convert, index in zip(converters, picked, strict=True))
        except _Unreadable as reason:
            yield BadLine(number, str(reason))
            continue
        yield Row(number, at, values)


LONGEST_LINE = 20_000
"""Letters of a line; no logger writes more."""


def _cells(line: str, delimiter: str) -> list[str]:
    """A line by itself: a stray quotation mark must not take the lines after it along."""
    return next(csv.reader([line], delimiter=delimiter, strict=True), []) if '"' in line else line.split(delimiter)


class _Unreadable(Exception):
    """Why a cell can't be read."""


def _converter(column: MappedColumn, heading: str, decimal_comma: bool) -> Callable[[str], float | None]:
    unit = UNITS[READABLE[column.quantity].kind][column.unit]
    factor, offset = unit.factor, unit.offset
    low, high = READABLE[column.quantity].possible
    humidity = READABLE[column.quantity].kind == "relative_humidity"

    def convert(cell: str) -> float | None:
        text = cell.strip()
        try:
            shown = float(text if not decimal_comma else text.replace(".", "").replace(",", ".") if "," in text else text)
        except ValueError:
            if text.lower() in EMPTY:
                return None
            if humidity and text.endswith("%"):
                return convert(text[:-1])
            raise _Unreadable(f"“{text[:20]}” in {heading} is not a number.") from None
        value = shown * factor + offset
        if not low <= value <= high:
            raise _Unreadable(f"{text[:20]} {unit.label} in {heading} is not possible. Is the unit right?")
        return value

    return convert


_NUMBERS = re.compile(r"\d+")


def _moment_reader(time_format: TimeFormat, utc_offset_min: int) -> Callable[[str], datetime]:
    zone = timezone(timedelta(minutes=utc_offset_min))

    def iso(text: str) -> datetime:
        try:
            found = datetime.fromisoformat(text)
        except ValueError:
            return parts(text, (0, 1, 2))
        return found if found.tzinfo else found.replace(tzinfo=zone)

    def parts(text: str, order: tuple[int, int, int]) -> datetime:
        numbers = _NUMBERS.findall(text)
        try:
            year, month, day = (int(numbers[place]) for place in order)
            hour, minute = int(numbers[3]), int(numbers[4])
            second = int(numbers[5]) if len(numbers) > 5 else 0
            micro = int(numbers[6][:6].ljust(6, "0")) if len(numbers) > 6 else 0
            low = text.lower()
            if "pm" in low or "p.m" in low:
                hour = hour % 12 + 12
            elif "am" in low or "a.m" in low:
                hour %= 12
            return datetime(year + 2000 if year < 100 else year, month, day, hour, minute, second, micro, tzinfo=zone)
        except (IndexError, ValueError):
            raise _Unreadable(f"“{text[:30]}” is not a time of the chosen form.") from None

    def epoch(text: str, factor: float) -> datetime:
        try:
            return datetime.fromtimestamp(float(text) * factor, UTC)
        except (ValueError, OverflowError, OSError):
            raise _Unreadable(f"“{text[:30]}” is not a time of the chosen form.") from None

    readers: dict[str, Callable[[str], datetime]] = {
        "iso": iso,
        "day_month": lambda text: parts(text, (2, 1, 0)),
        "month_day": lambda text: parts(text, (2, 0, 1)),
        "epoch_s": lambda text: epoch(text, 1.0),
        "epoch_ms": lambda text: epoch(text, 0.001),
    }
    return readers[time_format]


@dataclass
class Tally:
    """What was found while a file is read: counts, the first bad lines, gaps. Memory does not grow with the file."""

    rows: int = 0
    bad: int = 0
    repeated: int = 0
    first: datetime | None = None
    last: datetime | None = None
    bad_lines: list[BadLine] = field(default_factory=list)
    gaps: list[tuple[datetime, datetime]] = field(default_factory=list)
    preview: list[Row] = field(default_factory=list)
    _steps: list[float] = field(default_factory=list)

    SHOWN_BAD = 200
    SHOWN_GAPS = 50
    SHOWN_ROWS = 8
    STEPS_FOR_MEDIAN = 200

    def take(self, found: Row | BadLine) -> bool:
        """Count a line; True when it is a good one."""
        if isinstance(found, BadLine):
            self.bad += 1
            if len(self.bad_lines) < self.SHOWN_BAD:
                self.bad_lines.append(found)
            return False
        self.rows += 1
        if len(self.preview) < self.SHOWN_ROWS:
            self.preview.append(found)
        if self.last is not None:
            step = (found.at - self.last).total_seconds()
            if step == 0:
                self.repeated += 1
            elif step > 0:
                if len(self._steps) < self.STEPS_FOR_MEDIAN:
                    self._steps.append(step)
                usual = median(self._steps) if len(self._steps) < self.STEPS_FOR_MEDIAN else self._usual()
                if len(self._steps) > 5 and step > GAP_FACTOR * usual and len(self.gaps) < self.SHOWN_GAPS:
                    self.gaps.append((self.last, found.at))
        self.first = found.at if self.first is None else min(self.first, found.at)
        self.last = found.at
        return True

    def _usual(self) -> float:
        if not hasattr(self, "_median"):
            self._median = median(self._steps)
        return self._median

    def told(self, mode: str, added: int) -> dict[str, Any]:
        """What was found, as an interface shows it; `added`: values that were new."""
        return {
            "event": "done",
            "mode": mode,
            "rows": self.rows,
            "bad": self.bad,
            "added": added,
            "repeated": self.repeated,
            "first": self.first.isoformat() if self.first else None,
            "last": self.last.isoformat() if self.last else None,
            "bad_lines": [{"line": line.number, "reason": line.reason} for line in self.bad_lines],
            "gaps": [[start.isoformat(), end.isoformat()] for start, end in self.gaps],
            "preview": [{"line": row.number, "at": row.at.isoformat(), "values": list(row.values)} for row in self.preview],
        }


MOST_IN_COURSE = 300


def looked_through(
    text: str, mapping: FileMapping, utc_offset_min: int, mode: str, path: AirPath, instruments: Container[str]
) -> tuple[dict[str, Any], list[list[tuple[float, float]]]]:
    """A whole file, held: what is told of it, and the course of each mapped column, thinned: moment [s since 1970], value (SI).

    Raises
    ------
    Refused
        No table, a mapping that can't be on this system; with mode ``all`` lines that can't be read.
    """
    lines = text.splitlines(keepends=True)
    layout = layout_of(lines[:LOOKED_AT])
    check_places(mapping, layout, path, instruments)
    tally = Tally()
    rows = [row for row in read_rows(lines, layout, mapping, utc_offset_min) if tally.take(row) and isinstance(row, Row)]
    if mode == "all" and tally.bad:
        raise Refused(f"{tally.bad} lines can't be read, so nothing was brought in. Mend them, or take the good ones.")
    courses = []
    for column in range(len(mapping.columns)):
        values = [(row.at.timestamp(), value) for row in rows if (value := row.values[column]) is not None]
        courses.append(values[:: max(1, -(-len(values) // MOST_IN_COURSE))])
    return tally.told(mode, sum(value is not None for row in rows for value in row.values)), courses

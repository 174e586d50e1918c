"""Files of any logger: find out how a CSV file is laid out, map its columns, read it line by line.

Nothing here holds the file: lines go in one by one and come out as rows or as bad lines with their reason.
"""

from __future__ import annotations

import codecs
import csv
import hashlib
import re
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta, timezone
from statistics import median
from typing import Literal

from fentro_core.base.refusal import Refused
from fentro_core.base.units import KINDS, UNITS
from fentro_core.instruments.quantities import READABLE

TimeFormat = Literal["iso", "day_month", "month_day", "epoch_s", "epoch_ms"]

DELIMITERS = ",;\t|"
LOOKED_AT = 60
"""Lines that are looked at to find the layout."""

GAP_FACTOR = 5.0
"""A step longer than this many usual steps is called a gap."""

EMPTY = {"", "nan", "na", "n/a", "null", "none"}
"""A cell like this holds no value; that is no mistake."""


@dataclass(frozen=True)
class Column:
    """A column of the file: its heading and what it probably holds; no `unit` where the heading names none."""

    index: int
    heading: str
    quantity: str = ""
    unit: str = ""
    station: str = ""
    is_time: bool = False
    sample: str = ""


@dataclass(frozen=True)
class Layout:
    """How a file is laid out. `first_data`: number of its first data line, counted from 1. `header`: key of its headings."""

    delimiter: str
    decimal_comma: bool
    first_data: int
    time_format: TimeFormat
    time_unsure: bool
    columns: tuple[Column, ...]
    header: str


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


def decode(raw: bytes) -> str:
    """Name of the text encoding of a file, from its first bytes.

    >>> decode("Zeit".encode("utf-16")), decode(b"\\xef\\xbb\\xbfTime"), decode(b"Temp \\xb0C")
    ('utf-16', 'utf-8-sig', 'cp1252')
    """
    if raw[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return "utf-16"
    try:
        codecs.getincrementaldecoder("utf-8")().decode(raw, final=False)
    except UnicodeDecodeError:
        return "cp1252"
    return "utf-8-sig"


def layout_of(lines: Sequence[str]) -> Layout:
    """The layout of a file from its first lines.

    Raises
    ------
    Refused
        There is no table with times in it.

    >>> found = layout_of(["Time;Supply temp (°F)", "07/31/2026 14:00:00;55,4", "07/31/2026 14:00:10;55,3"])
    >>> found.delimiter, found.decimal_comma, found.time_format, found.columns[1].quantity, found.columns[1].unit
    (';', True, 'month_day', 'dry_bulb', 'degF')
    """
    head = [line.rstrip("\r\n") for line in lines[:LOOKED_AT]]
    best: tuple[int, str, int, int] | None = None
    for delimiter in DELIMITERS:
        rows = [next(csv.reader([line], delimiter=delimiter), []) for line in head]
        start = next((n for n, row in enumerate(rows) if len(row) > 1 and _time_at(row) is not None), None)
        if start is None:
            continue
        width = len(rows[start])
        agreeing = sum(len(row) == width for row in rows[start:])
        score = agreeing * 100 + (10 if width > 2 else 0) - start
        if best is None or score > best[0]:
            best = (score, delimiter, start, width)
    if best is None:
        raise Refused("No table with a column of times was found in this file. Is it a CSV file of a logger?", "file")
    _, delimiter, start, width = best
    rows = [next(csv.reader([line], delimiter=delimiter), []) for line in head[start:]]
    rows = [row for row in rows if len(row) == width]
    above = next(csv.reader([head[start - 1]], delimiter=delimiter), []) if start else []
    headings = above if len(above) == width else [f"Column {n + 1}" for n in range(width)]
    comma = delimiter != "," and any(re.fullmatch(r"[-+]?[\d.]*,\d+", cell.strip()) for row in rows for cell in row)
    times = _time_columns(rows[0])
    stamps = [" ".join(row[index].strip() for index in times) for row in rows if _time_at(row) is not None]
    time_format, unsure = _time_format(stamps)
    columns = tuple(
        _column(index, heading.strip().lstrip("\ufeff"), index in times, rows[0][index].strip())
        for index, heading in enumerate(headings)
    )
    key = hashlib.sha256("\x1f".join([delimiter, *(column.heading for column in columns)]).encode()).hexdigest()
    return Layout(delimiter, comma, start + 1, time_format, unsure, columns, key)


_DAY = r"(\d{4}-\d{1,2}-\d{1,2}|\d{1,2}[./-]\d{1,2}[./-]\d{2,4}|\d{4}/\d{1,2}/\d{1,2})"
_HOUR = r"\d{1,2}:\d{2}(:\d{2}([.,]\d+)?)?\s*([AaPp]\.?[Mm]\.?)?"
_DATE = re.compile(rf"^\s*{_DAY}([T\s,]+{_HOUR})?\s*(Z|[+-]\d{{2}}:?\d{{2}})?\s*$")
_CLOCK = re.compile(rf"^\s*{_HOUR}\s*$")
_EPOCH = re.compile(r"^\s*1\d{9}(\d{3})?(\.\d+)?\s*$")


def _time_at(row: Sequence[str]) -> int | None:
    return next((n for n, cell in enumerate(row) if _DATE.match(cell) or _EPOCH.match(cell)), None)


def _time_columns(row: Sequence[str]) -> list[int]:
    first = _time_at(row)
    if first is None:
        return []
    if _EPOCH.match(row[first]) or ":" in row[first]:
        return [first]
    clock = next((n for n, cell in enumerate(row) if n != first and _CLOCK.match(cell)), None)
    return [first] if clock is None else [first, clock]


def _time_format(stamps: Sequence[str]) -> tuple[TimeFormat, bool]:
    if all(_EPOCH.match(stamp) for stamp in stamps):
        whole = stamps[0].strip().split(".")[0]
        return ("epoch_ms" if len(whole) > 10 else "epoch_s"), False
    if all(re.match(r"\s*\d{4}[-/]", stamp) for stamp in stamps):
        return "iso", False
    pairs = [tuple(map(int, re.findall(r"\d+", stamp)[:2])) for stamp in stamps]
    if any(pair[0] > 12 for pair in pairs):
        return "day_month", False
    if any(pair[1] > 12 for pair in pairs):
        return "month_day", False
    if all(re.match(r"\s*\d{1,2}\.", stamp) for stamp in stamps):
        return "day_month", False
    return "month_day", True


_QUANTITY_WORDS = (
    ("dew", "dew_point"),
    ("wet", "wet_bulb"),
    ("humid", "relative_humidity"),
    ("rh", "relative_humidity"),
    ("static", "static_pressure"),
    ("pressure", "static_pressure"),
    ("velocity", "velocity"),
    ("flow", "airflow"),
    ("cfm", "airflow"),
    ("pipe", "pipe_temperature"),
    ("suction", "pipe_temperature"),
    ("power", "electric_power"),
    ("temp", "dry_bulb"),
    ("dry", "dry_bulb"),
    ("°c", "dry_bulb"),
    ("°f", "dry_bulb"),
)

_UNIT_WORDS: dict[str, tuple[tuple[str, str], ...]] = {
    "temperature": ((r"(?<![a-z])f\b|deg\.?\s*f|fahrenheit|℉", "degF"), (r"(?<![a-z])c\b|deg\.?\s*c|celsius|℃", "degC")),
    "relative_humidity": ((r"", "percent"),),
    "pressure": ((r"in\.?\s*w|inwc|in\.?\s*h2o", "inwc"), (r"\bpa\b|pascal", "Pa")),
    "airflow": ((r"cfm", "cfm"), (r"l/s", "L/s"), (r"m3/h|m³/h", "m3/h"), (r"m3/s|m³/s", "m3/s")),
    "velocity": ((r"fpm|ft/min", "fpm"), (r"m/s", "m/s")),
    "electric_power": ((r"", "W"),),
}

_STATION_WORDS = ("return", "supply", "outdoor", "mixed", "extract", "exhaust")


def _column(index: int, heading: str, is_time: bool, sample: str) -> Column:
    if is_time:
        return Column(index, heading, is_time=True, sample=sample)
    low = heading.lower()
    quantity = next((quantity for word, quantity in _QUANTITY_WORDS if word in low), "")
    unit = ""
    if quantity:
        kind = READABLE[quantity].kind
        found = next((key for pattern, key in _UNIT_WORDS.get(kind, ()) if re.search(pattern, low)), "")
        unit = found or (KINDS[kind].si.key if KINDS[kind].si is KINDS[kind].us else "")
    station = next((word for word in _STATION_WORDS if word in low), "outdoor" if "outside" in low else "")
    return Column(index, heading, quantity, unit, station, False, sample)


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

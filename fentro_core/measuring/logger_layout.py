"""How a logger's CSV file is laid out, found from its first lines: columns, times, and what its headings say."""

from __future__ import annotations

import codecs
import csv
import hashlib
import re
from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite
from typing import Literal

from fentro_core.base.middle import median
from fentro_core.base.refusal import Refused
from fentro_core.base.units import KINDS
from fentro_core.instruments.quantities import READABLE

TimeFormat = Literal["iso", "day_month", "month_day", "epoch_s", "epoch_ms"]

DELIMITERS = ",;\t|"
LOOKED_AT = 60
"""Lines that are looked at to find the layout."""


@dataclass(frozen=True)
class Column:
    """A column of the file: its heading and what it probably holds; no `unit` where the heading names none.

    `typical`: the middle number of its first lines, as it stands there; None where there is not a number.
    """

    index: int
    heading: str
    quantity: str = ""
    unit: str = ""
    station: str = ""
    is_time: bool = False
    sample: str = ""
    typical: float | None = None


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
        _column(
            index,
            heading.strip().lstrip("\ufeff"),
            index in times,
            rows[0][index].strip(),
            _typical([row[index] for row in rows], comma),
        )
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

_QUANTITY_SIGNS = (
    (r"\b[sromear]at\b|\bdb\b|(?<![a-z])deg\.?\s*[cf]\b|[℃℉]|^t_|^t\d*\b", "dry_bulb"),
    (r"\bwb\b", "wet_bulb"),
    (r"\bdp\b(?!.*(pa\b|w\.?c|h2o))|\bdpt\b", "dew_point"),
    (r"\bsp\b|\btesp\b|\besp\b|in\.?\s*w\.?c|in\.?\s*h2o", "static_pressure"),
    (r"\bfpm\b|\bm/s\b", "velocity"),
    (r"m3/h|m³/h|\bl/s\b", "airflow"),
    (r"[\[(]\s*[cf]\s*[\])]", "dry_bulb"),
)
"""Short signs of the trade, and units that give a quantity away; looked at where no word does."""

_UNIT_WORDS: dict[str, tuple[tuple[str, str], ...]] = {
    "temperature": ((r"(?<![a-z])f\b|deg\.?\s*f|fahrenheit|℉", "degF"), (r"(?<![a-z])c\b|deg\.?\s*c|celsius|℃", "degC")),
    "relative_humidity": ((r"", "percent"),),
    "pressure": ((r"in\.?\s*w|inwc|in\.?\s*h2o", "inwc"), (r"\bpa\b|pascal", "Pa")),
    "airflow": ((r"cfm", "cfm"), (r"l/s", "L/s"), (r"m3/h|m³/h", "m3/h"), (r"m3/s|m³/s", "m3/s")),
    "velocity": ((r"fpm|ft/min", "fpm"), (r"m/s", "m/s")),
    "electric_power": ((r"\bkw\b", "kW"), (r"\bw\b|watt", "W")),
}

_STATION_WORDS = ("return", "supply", "outdoor", "mixed", "extract", "exhaust")
_STATION_SIGNS = {"sat": "supply", "rat": "return", "oat": "outdoor", "mat": "mixed", "outside": "outdoor", "ambient": "outdoor"}


def _number(cell: str, decimal_comma: bool) -> float | None:
    text = cell.strip().removesuffix("%").strip()
    try:
        found = float(text.replace(".", "").replace(",", ".") if decimal_comma and "," in text else text)
    except ValueError:
        return None
    return found if isfinite(found) else None


def _typical(cells: Sequence[str], decimal_comma: bool) -> float | None:
    numbers = [found for cell in cells if (found := _number(cell, decimal_comma)) is not None]
    return median(numbers) if numbers else None


def _column(index: int, heading: str, is_time: bool, sample: str, typical: float | None) -> Column:
    if is_time:
        return Column(index, heading, is_time=True, sample=sample)
    low = heading.lower()
    quantity = next((quantity for word, quantity in _QUANTITY_WORDS if word in low), "")
    quantity = quantity or next((quantity for sign, quantity in _QUANTITY_SIGNS if re.search(sign, low)), "")
    unit = ""
    if quantity:
        kind = READABLE[quantity].kind
        found = next((key for pattern, key in _UNIT_WORDS.get(kind, ()) if re.search(pattern, low)), "")
        unit = found or (KINDS[kind].si.key if KINDS[kind].si is KINDS[kind].us else "")
    signs = (station for sign, station in _STATION_SIGNS.items() if re.search(rf"\b{sign}\b", low))
    station = next((word for word in _STATION_WORDS if word in low), "") or next(signs, "")
    return Column(index, heading, quantity, unit, station, False, sample, typical)

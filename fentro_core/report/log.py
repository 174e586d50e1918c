"""The logbook line by line: what was done, when, by whom, and what was taken back."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator, Sequence
from typing import Any

from fentro_core.base import fields, units
from fentro_core.base.typed_json import write
from fentro_core.diagnosis.entries import CANT, Observation
from fentro_core.diagnosis.symptom import SYMPTOMS
from fentro_core.instruments.quantities import READABLE
from fentro_core.logbook.entries import Check, Closing, Note, Reading, Setting
from fentro_core.logbook.entry import Entry, kind_of_entry
from fentro_core.logbook.steps import CHECKS
from fentro_core.report.content import LogLine
from fentro_core.system.air_path import AirPath

CANT_WORDS = "can't be told here"

LONGEST = 240
"""Letters of a line; the whole entry is in the visit's JSON."""


def places(path: AirPath) -> dict[str, str]:
    """Names of a system's stations."""
    return {station.id: station.name for station in path.stations}


def readable_name(quantity: str) -> str:
    """What a technician calls a quantity.

    >>> readable_name("dry_bulb")
    'Dry bulb'
    """
    return READABLE[quantity].name if quantity in READABLE else quantity.replace("_", " ")


def typed(quantity: str, value: float, unit: str) -> str:
    """A value as it was typed, with its unit.

    >>> typed("dry_bulb", 75.2, "degF")
    '75.2 °F'
    """
    kind = units.KINDS[READABLE[quantity].kind] if quantity in READABLE else None
    label = next((each.label for each in kind.units if each.key == unit), unit) if kind else unit
    return f"{value:g} {label}".rstrip().replace("-", "\N{MINUS SIGN}")


def log_lines(entries: Sequence[Entry], names: dict[str, str], listed: Collection[int] = ()) -> tuple[LogLine, ...]:
    """Every entry in its order, also those that were put right or taken back; `listed`: numbers of those among the readings."""
    ends = {entry.replaces: entry for entry in entries if entry.replaces}
    lines = []
    for number, entry in enumerate(entries, 1):
        end = ends.get(entry.id)
        kind = kind_of_entry(entry.kind)
        words = _words(entry, names)
        reason = end.reason if end else entry.reason
        at, phase, gone = entry.at, entry.phase, end is not None
        lines.append(LogLine(number, at, entry.by, phase, kind.name, words, gone, reason, number in listed and not gone))
    return tuple(lines)


def _words(entry: Entry, names: dict[str, str]) -> str:
    match entry.body:
        case Reading() as body:
            point = f", point {body.point}" if body.point > 1 else ""
            where = names.get(body.station, body.station)
            said = f"{where}{point}, {readable_name(body.quantity)}: {typed(body.quantity, body.value, body.unit)}"
        case Note(text):
            said = text
        case Setting(what, was, now, why):
            said = f"{what}: from {was} to {now}" + (f" ({why})" if why else "")
        case Check(item, done):
            said = f"{CHECKS[item].text if item in CHECKS else item}" + ("" if done else ": taken back")
        case Observation(item, value) if item in SYMPTOMS:
            said = f"{SYMPTOMS[item].title}: {CANT_WORDS if value == CANT else value}"
        case Closing(summary, cancelled):
            said = f"Cancelled: {summary}" if cancelled else summary
        case body:
            said = "; ".join(_said(write(body), names))
    return said if len(said) <= LONGEST else f"{said[: LONGEST - 1]}…"


def _said(body: Any, names: dict[str, str]) -> Iterator[str]:
    """What an entry of any kind says, field by field, less what says nothing."""
    if not isinstance(body, dict):
        return
    for name, value in body.items():
        if value in (None, "", False, [], {}) or isinstance(value, dict | list):
            continue
        label = _UNIT.sub("", name).replace("_", " ")
        if value is True:
            yield label
        elif isinstance(value, str):
            said = names.get(value, value.replace("_", " "))
            yield said if name in _PLAIN else f"{label}: {said}"
        else:
            yield f"{label}: {_number(name, float(value))}"


_UNIT = re.compile(r"_(c|k|kg|m3s|pa|w|m|m2|s|rh|deg|ohm|va|v|a)$")
"""Units at the end of a field's name: the number beside it says its own."""

_PLAIN = frozenset({"title", "event", "text", "words", "what", "why", "reason", "test"})
"""Fields whose words need no label."""


def _number(name: str, value: float) -> str:
    kind = fields.FIELDS.get(name, "ratio")
    return f"{value:g}" if kind in ("ratio", "as_given") else units.show(value, kind)

"""Entries of the logbook: one thing a technician did. Never edited, never deleted; a correction points to what it replaces."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from fentro_core import typed_json
from fentro_core.measuring.quantities import to_si
from fentro_core.refusal import Refused
from fentro_core.visit.air_path import AirPath
from fentro_core.visit.checklists import CHECKS

EntryKind = Literal["reading", "note", "setting", "check", "run", "withdrawal", "closing", "reopening"]
Phase = Literal["as_found", "as_left"]

LONGEST_TEXT = 4000
MOST_POINTS = 60


@dataclass(frozen=True)
class Reading:
    """A value read at a station, as typed, in the unit it was typed in."""

    station: str
    quantity: str
    value: float
    unit: str
    point: int = 1
    instrument: str | None = None
    plus_minus: float | None = None


@dataclass(frozen=True)
class Note:
    """Words, at a step of the visit."""

    text: str
    step: str = ""


@dataclass(frozen=True)
class Setting:
    """Something changed: what, from, to, why."""

    what: str
    was: str
    now: str
    why: str = ""


@dataclass(frozen=True)
class Check:
    """An item of a checklist seen and found done, or taken back."""

    item: str
    done: bool = True


@dataclass(frozen=True)
class Run:
    """The unit began or stopped calling steadily."""

    event: Literal["started", "stopped"]


@dataclass(frozen=True)
class Withdrawal:
    """Takes the replaced entry back without putting another in its place."""


@dataclass(frozen=True)
class Closing:
    """The visit is over, with a last word."""

    summary: str = ""


@dataclass(frozen=True)
class Reopening:
    """The visit goes on after all."""


Body = Reading | Note | Setting | Check | Run | Withdrawal | Closing | Reopening

BODIES: dict[str, type[Any]] = {
    "reading": Reading,
    "note": Note,
    "setting": Setting,
    "check": Check,
    "run": Run,
    "withdrawal": Withdrawal,
    "closing": Closing,
    "reopening": Reopening,
}


@dataclass(frozen=True)
class Entry:
    """One line of the logbook. `at` is the device's time, ISO 8601 with offset."""

    id: str
    kind: EntryKind
    at: str
    body: Body
    phase: Phase = "as_found"
    replaces: str | None = None
    reason: str = ""
    by: str = ""


@dataclass(frozen=True)
class _Envelope:
    id: str
    kind: EntryKind
    at: str
    body: dict[str, Any] = field(default_factory=dict)
    phase: Phase = "as_found"
    replaces: str | None = None
    reason: str = ""
    by: str = ""


def read_entry(given: object) -> Entry:
    """An entry from JSON, its body by kind.

    Raises
    ------
    Refused
        With the field's path: ``at``, ``body.value`` ...
    """
    outer = typed_json.read(given, _Envelope)
    entry_id = _uuid(outer.id, "id")
    replaces = _uuid(outer.replaces, "replaces") if outer.replaces is not None else None
    _check_moment(outer.at)
    try:
        body = typed_json.read(outer.body, BODIES[outer.kind])
        _check_body(body)
    except Refused as refusal:
        raise refusal.under("body") from refusal
    if len(outer.reason) > LONGEST_TEXT:
        raise Refused("This reason is too long. Keep it under 4,000 letters.", "reason")
    if outer.kind == "withdrawal" and outer.replaces is None:
        raise Refused("Say which entry is taken back.", "replaces")
    return Entry(entry_id, outer.kind, outer.at, body, outer.phase, replaces, outer.reason, outer.by)


def _read_any(given: Any) -> Entry:
    return read_entry(given)


typed_json.register(
    Entry,
    _read_any,
    {
        "type": "object",
        "title": "Entry",
        "properties": {
            "id": {"type": "string", "format": "uuid"},
            "kind": {"enum": list(BODIES)},
            "at": {"type": "string", "format": "date-time"},
            "body": {"anyOf": [typed_json.schema_of(body) for body in BODIES.values()]},
            "phase": {"enum": ["as_found", "as_left"]},
            "replaces": {"type": ["string", "null"], "format": "uuid"},
            "reason": {"type": "string"},
            "by": {"type": "string"},
        },
        "required": ["id", "kind", "at", "body"],
        "additionalProperties": False,
    },
)


def _uuid(given: str, path: str) -> str:
    try:
        return str(UUID(given))
    except ValueError:
        raise Refused("This is not a UUID.", path) from None


def _check_moment(at: str) -> None:
    try:
        moment = datetime.fromisoformat(at)
    except ValueError:
        raise Refused("This is not a time (ISO 8601).", "at") from None
    if moment.tzinfo is None:
        raise Refused("The time must say its offset from UTC.", "at")
    if not 2000 <= moment.year <= 2100:
        raise Refused("This time lies outside 2000 to 2100. Check the device's clock.", "at")


def _check_body(body: Body) -> None:
    for name, value in vars(body).items():
        if isinstance(value, str) and len(value) > LONGEST_TEXT:
            raise Refused("This text is too long. Keep it under 4,000 letters.", name)
    match body:
        case Reading():
            to_si(body.quantity, body.value, body.unit)
            if not 1 <= body.point <= MOST_POINTS:
                raise Refused(f"Points count from 1 to {MOST_POINTS}.", "point")
            if body.plus_minus is not None and body.plus_minus < 0:
                raise Refused("A half-width can't be below zero.", "plus_minus")
        case Note() if not body.text.strip():
            raise Refused("Write something first.", "text")
        case Setting():
            for name in ("what", "was", "now"):
                if not getattr(body, name).strip():
                    raise Refused("Fill this in: a change says what, from and to.", name)
        case Check() if body.item not in CHECKS:
            raise Refused("There is no such check.", "item")


def check_place(entry: Entry, path: AirPath, instruments: Collection[str]) -> None:
    """Refuse a reading at a station this system does not have, or by an unknown instrument."""
    if not isinstance(entry.body, Reading):
        return
    station = path.station(entry.body.station)
    if station is None:
        names = ", ".join(station.name for station in path.stations)
        raise Refused(f"This system has no such station. It has: {names}.", "body.station")
    if entry.body.quantity not in station.quantities:
        raise Refused("This can't be read at this station.", "body.quantity")
    if entry.body.instrument is not None and entry.body.instrument not in instruments:
        raise Refused("This instrument is not on the list.", "body.instrument")


def check_replacement(entry: Entry, kinds: Mapping[str, str], replaced: Collection[str]) -> None:
    """Refuse a correction of an entry that is unknown, of another kind, or already corrected.

    Parameters
    ----------
    kinds : mapping
        Kind of every entry of the visit, by id.
    replaced : collection
        Ids that a later entry already replaces.
    """
    if entry.replaces is None:
        return
    kind = kinds.get(entry.replaces)
    if kind is None:
        raise Refused("The entry to correct is not in this visit.", "replaces")
    if entry.replaces in replaced:
        raise Refused("That entry was already corrected. Correct the newer one.", "replaces")
    if entry.kind not in (kind, "withdrawal"):
        raise Refused("A correction must be of the same kind as what it corrects.", "replaces")
    if kind in ("withdrawal", "closing", "reopening"):
        raise Refused("This kind of entry can't be taken back. Make a new one.", "replaces")


def standing(entries: Collection[Entry]) -> list[Entry]:
    """The entries that still count: not replaced by a later one, and no withdrawals; in their order."""
    gone = {entry.replaces for entry in entries if entry.replaces}
    return [entry for entry in entries if entry.id not in gone and entry.kind != "withdrawal"]

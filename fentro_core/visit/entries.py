"""Entries of the logbook: one thing a technician did. Never edited, never deleted; a correction points to what it replaces."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any
from uuid import UUID

from fentro_core import typed_json
from fentro_core.refusal import Refused
from fentro_core.visit.air_path import AirPath
from fentro_core.visit.bodies import (
    BODIES,
    LONGEST_TEXT,
    Assignment,
    Body,
    EntryKind,
    Match,
    NotedBranch,
    Phase,
    Placement,
    Plane,
    Reading,
    check_body,
)
from fentro_core.visit.nameplate import Branch


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
        check_body(body)
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


def check_place(entry: Entry, path: AirPath, instruments: Collection[str]) -> None:
    """Refuse what names a station this system does not have, or an unknown instrument."""
    body = entry.body
    if isinstance(body, Reading | Placement | Plane) or (isinstance(body, Assignment) and body.station):
        station = path.station(body.station)
        if station is None:
            names = ", ".join(station.name for station in path.stations if station.core)
            raise Refused(f"This system has no such station. It has: {names} and more.", "body.station")
        if isinstance(body, Reading) and body.quantity not in station.quantities:
            raise Refused("This can't be read at this station.", "body.quantity")
        if isinstance(body, Plane) and station.kind != "traverse":
            raise Refused("A duct is measured at a traverse station.", "body.station")
    for instrument, where in _named_instruments(body):
        if instrument not in instruments:
            raise Refused("This instrument is not on the list.", f"body.{where}")


def _named_instruments(body: Body) -> list[tuple[str, str]]:
    match body:
        case Reading() if body.instrument is not None:
            return [(body.instrument, "instrument")]
        case Assignment():
            return [(body.instrument, "instrument")]
        case Match():
            return [(probe.instrument, f"probes.{index}.instrument") for index, probe in enumerate(body.probes)]
    return []


def branches_noted(entries: Collection[Entry]) -> tuple[Branch, ...]:
    """The branches found on the visit, from its standing entries."""
    return tuple(
        Branch(entry.body.room.strip(), entry.body.floor.strip(), entry.body.diameter_m, entry.body.run_m)
        for entry in entries
        if isinstance(entry.body, NotedBranch)
    )


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
    if kind in ("withdrawal", "closing", "reopening", "temporary", "undone", "handed_on"):
        raise Refused("This kind of entry can't be taken back. Make a new one.", "replaces")


def standing(entries: Collection[Entry]) -> list[Entry]:
    """The entries that still count: not replaced by a later one, and no withdrawals; in their order."""
    gone = {entry.replaces for entry in entries if entry.replaces}
    return [entry for entry in entries if entry.id not in gone and entry.kind != "withdrawal"]

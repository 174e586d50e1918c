"""Entries of the logbook: one thing a technician did. Never edited, never deleted; a correction points to what it replaces."""

from __future__ import annotations

import re
from collections.abc import Collection
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from typing import Any, Literal
from uuid import UUID

from fentro_core.base import typed_json
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import Json
from fentro_core.logbook.kinds import LONGEST_TEXT, EntryKind, all_kinds

Phase = Literal["as_found", "as_left"]

_CORE = re.compile(r"[0-9a-f]{12}")


@dataclass(frozen=True)
class Entry:
    """One line of the logbook. `at` is the device's time, ISO 8601 with offset; `core`: which core judged it when it was made."""

    id: str
    kind: str
    at: str
    body: Any
    phase: Phase = "as_found"
    replaces: str | None = None
    reason: str = ""
    by: str = ""
    core: str = field(default="", compare=False)

    @property
    def moment(self) -> datetime:
        """`at` as a moment, whatever its offset."""
        return datetime.fromisoformat(self.at)


@dataclass(frozen=True)
class _Envelope:
    id: str
    kind: str
    at: str
    body: dict[str, Any] = field(default_factory=dict)
    phase: Phase = "as_found"
    replaces: str | None = None
    reason: str = ""
    by: str = ""
    core: str = ""


def read_entry(given: object) -> Entry:
    """An entry from JSON, its body by kind.

    Raises
    ------
    Refused
        With the field's path: ``at``, ``body.value`` ...
    """
    outer = typed_json.read(given, _Envelope)
    kind = kind_of_entry(outer.kind)
    entry_id = _uuid(outer.id, "id")
    replaces = _uuid(outer.replaces, "replaces") if outer.replaces is not None else None
    _check_moment(outer.at)
    try:
        body = typed_json.read(outer.body, kind.body)
        _check_texts(body)
        kind.check(body)
    except Refused as refusal:
        raise refusal.under("body") from refusal
    if len(outer.reason) > LONGEST_TEXT:
        raise Refused("This reason is too long. Keep it under 4,000 letters.", "reason")
    if outer.core and not _CORE.fullmatch(outer.core):
        raise Refused("This names no core.", "core")
    if outer.kind == "withdrawal" and outer.replaces is None:
        raise Refused("Say which entry is taken back.", "replaces")
    return Entry(entry_id, outer.kind, outer.at, body, outer.phase, replaces, outer.reason, outer.by, outer.core)


def _read_any(given: Any) -> Entry:
    return read_entry(given)


def _schema() -> Json:
    kinds = all_kinds()
    return {
        "type": "object",
        "title": "Entry",
        "properties": {
            "id": {"type": "string", "format": "uuid"},
            "kind": {"enum": list(kinds)},
            "at": {"type": "string", "format": "date-time"},
            "body": {"anyOf": [typed_json.schema_of(kind.body) for kind in kinds.values()]},
            "phase": {"enum": ["as_found", "as_left"]},
            "replaces": {"type": ["string", "null"], "format": "uuid"},
            "reason": {"type": "string"},
            "by": {"type": "string"},
        },
        "required": ["id", "kind", "at", "body"],
        "additionalProperties": False,
    }


typed_json.register(Entry, _read_any, _schema)


def kind_of_entry(key: str) -> EntryKind:
    """The kind of that key."""
    kinds = all_kinds()
    if key not in kinds:
        raise Refused(f"This must be one of: {', '.join(kinds)}.", "kind")
    return kinds[key]


def _check_texts(body: Any) -> None:
    for name, value in vars(body).items():
        if isinstance(value, str) and len(value) > LONGEST_TEXT:
            raise Refused("This text is too long. Keep it under 4,000 letters.", name)


def _uuid(given: str, path: str) -> str:
    try:
        return str(UUID(given))
    except ValueError:
        raise Refused("This is not a UUID.", path) from None


_MOMENT = re.compile(r"\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d{1,6})?)?(?P<offset>Z|[+-]\d\d:\d\d)?", re.ASCII)
"""The one form of ISO 8601 that browsers, databases and Python all read back alike."""

FARTHEST_OFFSET = timedelta(hours=14)


def _check_moment(at: str) -> None:
    form = _MOMENT.fullmatch(at)
    try:
        moment = datetime.fromisoformat(at) if form else None
    except ValueError:
        moment = None
    if form is None or moment is None:
        raise Refused("This is not a time (ISO 8601).", "at")
    offset = moment.utcoffset()
    if offset is None:
        raise Refused("The time must say its offset from UTC.", "at")
    if abs(offset) > FARTHEST_OFFSET:
        raise Refused("No place is that far from UTC. Check the device's clock.", "at")
    if not 1 < moment.year < 9999 or not 2000 <= moment.astimezone(UTC).year <= 2100:
        raise Refused("This time lies outside 2000 to 2100. Check the device's clock.", "at")


def standing(entries: Collection[Entry]) -> list[Entry]:
    """The entries that still count: not replaced by a later one, and no withdrawals; in their order."""
    gone = {entry.replaces for entry in entries if entry.replaces}
    return [entry for entry in entries if entry.id not in gone and entry.kind != "withdrawal"]

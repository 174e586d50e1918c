"""The ledger of temporary changes: what was overridden, bridged, pulled or opened for a test, and what was undone."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

from fentro_core.base.refusal import Refused
from fentro_core.logbook.entries import Closing
from fentro_core.logbook.entry import Entry
from fentro_core.logbook.kinds import EntryKind, register

TemporaryKind = Literal["override", "jumper", "wire", "sensor", "damper", "test_hole", "filter", "other"]

TEMPORARY_KINDS: dict[TemporaryKind, str] = {
    "override": "Override",
    "jumper": "Jumper",
    "wire": "Wire pulled",
    "sensor": "Sensor unplugged",
    "damper": "Damper blocked",
    "test_hole": "Test hole open",
    "filter": "Filter out",
    "other": "Other",
}
"""Kinds of temporary change in words, in the order they are offered."""

STILL_OPEN = (
    "A temporary change is still open: {what}. Undo it, or hand it to someone with the reason, before the visit is closed."
)


@dataclass(frozen=True)
class Temporary:
    """Something changed for a test only, which must be undone; `undo`: how.

    `point`, `value`: the controller's point that is held, and at what (SI), when the app holds it.
    """

    what: str
    kind: TemporaryKind = "other"
    undo: str = ""
    point: str = ""
    value: float | None = None


def _check_temporary(body: Temporary) -> None:
    if not body.what.strip():
        raise Refused("Say what was changed for the test.", "what")


@dataclass(frozen=True)
class Undone:
    """A temporary change was undone; `change` is the entry that opened it."""

    change: str
    how: str = ""


@dataclass(frozen=True)
class HandedOn:
    """A temporary change is left to someone else, by id and name, with the reason."""

    change: str
    to: str
    to_name: str
    reason: str


def _check_handed_on(body: HandedOn) -> None:
    if not body.to.strip():
        raise Refused("Choose who takes it over.", "to")
    if not body.reason.strip():
        raise Refused("Say why it is left open.", "reason")


register(
    EntryKind(key="temporary", body=Temporary, name="Temporary change", check=_check_temporary, final=True, ledger=True),
    EntryKind(key="undone", body=Undone, name="Undone", who="taker", final=True, when_closed=True, ledger=True),
    EntryKind(key="handed_on", body=HandedOn, name="Handed on", check=_check_handed_on, final=True, ledger=True),
)


@dataclass(frozen=True)
class OpenChange:
    """A temporary change that is not undone yet; `handed_to`: who took it over, by id; `point`: of a controller, held."""

    entry: str
    what: str
    kind: str
    kind_name: str
    undo: str
    at: str
    by: str
    handed_to: str = ""
    handed_to_name: str = ""
    reason: str = ""
    point: str = ""


def ledger(entries: Iterable[Entry]) -> tuple[OpenChange, ...]:
    """The changes that are open, oldest first, from standing entries; each with whom it was handed to, if so."""
    found: dict[str, OpenChange] = {}
    for entry in entries:
        match entry.body:
            case Temporary(what, kind, undo, point):
                words = TEMPORARY_KINDS[kind]
                found[entry.id] = OpenChange(entry.id, what, kind, words, undo, entry.at, entry.by, point=point)
            case Undone(change):
                found.pop(change, None)
            case HandedOn(change, to, to_name, reason) if change in found:
                found[change] = replace(found[change], handed_to=to, handed_to_name=to_name, reason=reason)
    return tuple(found.values())


def check_change(entry: Entry, entries: Iterable[Entry]) -> None:
    """Refuse undoing or handing on what is not open, and closing a visit over what is open and nobody's.

    Parameters
    ----------
    entries : iterable of Entry
        The visit's standing entries before this one.
    """
    body = entry.body
    if not isinstance(body, Undone | HandedOn | Closing):
        return
    still = ledger(entries)
    if isinstance(body, Closing):
        nobodys = [each for each in still if not each.handed_to]
        if nobodys:
            raise Refused(STILL_OPEN.replace("{what}", nobodys[0].what.replace("{", "(").replace("}", ")")))
    elif body.change not in {each.entry for each in still}:
        raise Refused("This change is not open: it was undone already, or never noted.", "body.change")

"""The ledger of temporary changes: what was overridden, bridged, pulled or opened for a test, and what was undone."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from fentro_core.refusal import Refused
from fentro_core.visit.bodies import HandedOn, Temporary, Undone
from fentro_core.visit.entries import Entry
from fentro_core.visit.results import OpenChange

KIND_WORDS = {
    "override": "Override",
    "jumper": "Jumper",
    "wire": "Wire pulled",
    "sensor": "Sensor unplugged",
    "damper": "Damper blocked",
    "test_hole": "Test hole open",
    "filter": "Filter out",
    "other": "Other",
}

STILL_OPEN = (
    "A temporary change is still open: {what}. Undo it, or hand it to someone with the reason, before the visit is closed."
)


def ledger(entries: Iterable[Entry]) -> tuple[OpenChange, ...]:
    """The changes that are open, oldest first, from standing entries; each with whom it was handed to, if so."""
    found: dict[str, OpenChange] = {}
    for entry in entries:
        match entry.body:
            case Temporary(what, kind, undo, point):
                found[entry.id] = OpenChange(entry.id, what, kind, KIND_WORDS[kind], undo, entry.at, entry.by, point=point)
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
    if entry.kind not in ("undone", "handed_on", "closing"):
        return
    still = ledger(entries)
    if isinstance(body, Undone | HandedOn) and body.change not in {each.entry for each in still}:
        raise Refused("This change is not open: it was undone already, or never noted.", "body.change")
    if entry.kind == "closing":
        nobodys = [each for each in still if not each.handed_to]
        if nobodys:
            raise Refused(STILL_OPEN.replace("{what}", nobodys[0].what.replace("{", "(").replace("}", ")")))

"""Entries that stand already, read whatever is in them: what can't be read stands as a note, so that it can be taken back."""

from __future__ import annotations

from typing import Any

from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.logbook.entries import Note
from fentro_core.logbook.entry import Entry, Phase, read_entry


def legible(given: dict[str, Any]) -> tuple[Entry, Sentence | None]:
    """The entry, and why it can't be read; then its place is held by a note.

    >>> entry, why = legible({"id": "a", "kind": "reading", "at": "", "body": {}})
    >>> entry.kind, why is not None
    ('note', True)
    """
    try:
        return read_entry(given), None
    except Refused as refused:
        phase: Phase = "as_left" if given.get("phase") == "as_left" else "as_found"
        note = Note("It can't be read.")
        return Entry(str(given.get("id")), "note", str(given.get("at")), note, phase, given.get("replaces")), refused.sentence

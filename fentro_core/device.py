"""What a device without signal asks of the core: one question as JSON, its answer as JSON, as the server would answer it.

The interface runs this in the browser (docs/method.md says what is worked out; `web/src/core` asks). Nothing here decides
anything: every answer comes from the function that the server calls too.
"""

from __future__ import annotations

import json
from collections import OrderedDict
from collections.abc import Callable, Mapping
from dataclasses import fields, replace
from functools import partial
from typing import Any, cast

from fentro_core import catalogue
from fentro_core.base import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.typed_json import Json, read, write
from fentro_core.base.version import fingerprint
from fentro_core.ducts.table import read_ducts
from fentro_core.economizer.page import economizer_page
from fentro_core.economizer.points import read_points
from fentro_core.economizer.year import year_question
from fentro_core.instruments.instrument import Instrument
from fentro_core.logbook.accept import LogbookContext, NotAccepted, accept
from fentro_core.logbook.book import Book
from fentro_core.logbook.entry import Entry, kind_of_entry, read_entry
from fentro_core.logbook.legible import legible
from fentro_core.logbook.snapshot import Snapshot, forget_heads, read_head
from fentro_core.measuring.logger_file import FileMapping, looked_through
from fentro_core.measuring.logger_layout import LOOKED_AT, layout_of
from fentro_core.phase.visit_context import VisitContext
from fentro_core.visit import phase_work
from fentro_core.visit.ducts import ducts_of
from fentro_core.visit.work_up import work_up
from fentro_core.visit.worked import LeftOut, Unworkable, worked
from fentro_core.visit.zones import zones_of

FIELDS = ("id", "kind", "at", "body", "phase", "replaces", "reason", "by", "core")
"""Of an entry, what the core reads; the device knows more of it (whether it waits, when the server got it)."""

INSTRUMENT_FIELDS = tuple(each.name for each in fields(Instrument))

MOST_KEPT = 6_000
_read: OrderedDict[str, tuple[Json, Entry, Sentence | None]] = OrderedDict()
"""Entries read before, by id, with what was read: entries never change, and a visit is asked about at every reading."""


def answer(question: str) -> str:
    """One question answered.

    Parameters
    ----------
    question : str
        JSON: ``{"ask": ..., ...}``, see `ASKED`.

    Returns
    -------
    str
        JSON: ``{"answer": ...}``; ``{"refusals": [{"path", "sentence"}]}`` where something can't be used.

    >>> answer('{"ask": "version"}')[:13], json.loads(answer('{"ask": "magic"}'))["refusals"][0]["sentence"]["text"]
    ('{"answer": {"', 'This can not be asked here.')
    """
    given = json.loads(question)
    try:
        ask = ASKED.get(given.get("ask"))
        if ask is None:
            raise Refused("This can not be asked here.", "ask")
        return json.dumps({"answer": ask(given)}, ensure_ascii=False)
    except Refused as refused:
        return _refused(refused.sentence, refused.path)
    except Unworkable as unworkable:
        return _refused(unworkable.sentence)


def forget() -> None:
    """Keep nothing of what was asked."""
    _read.clear()
    forget_heads()
    phase_work.forget()


def _refused(sentence: Sentence, path: str = "") -> str:
    return json.dumps({"refusals": [{"path": path, "sentence": write(sentence)}]}, ensure_ascii=False)


def _entry(given: Mapping[str, Any]) -> tuple[Entry, Sentence | None]:
    """An entry, and why it can't be read: then it stands as a note, so that it can be taken back."""
    raw = {key: given[key] for key in FIELDS if key in given}
    known = _read.get(str(raw.get("id")))
    if known is not None and known[0] == raw:
        return known[1], known[2]
    entry, trouble = legible(raw)
    _read[str(raw.get("id"))] = (raw, entry, trouble)
    if len(_read) > MOST_KEPT:
        _read.popitem(last=False)
    return entry, trouble


def _snapshot(given: Json) -> tuple[Snapshot, list[LeftOut]]:
    """The visit, and entries that can't be read; instruments are those that entries name."""
    read = [_entry(each) for each in given["entries"]]
    gone = {entry.replaces for entry, _ in read if entry.replaces}
    unreadable = [LeftOut(entry.id, why) for entry, why in read if why is not None and entry.id not in gone]
    entries = tuple(entry for entry, why in read if why is None)
    named = {each for entry in entries for each in kind_of_entry(entry.kind).instruments(entry.body).values()}
    instruments = [
        {key: each[key] for key in INSTRUMENT_FIELDS if key in each}
        for each in given.get("instruments", ())
        if each["id"] in named
    ]
    head = {**given["head"], "instruments": instruments}
    return replace(read_head(head), entries=entries), unreadable


def _visit(given: Json) -> Json:
    """A visit's work-up, and what had to be left out of it; without its causes where `weigh` is false."""
    snapshot, unreadable = _snapshot(given)
    found = worked(snapshot, unreadable, partial(work_up, causes=bool(given.get("weigh", True))))
    return {"work_up": write(found.found), "left_out": [write(each) for each in found.left_out], "core": fingerprint()}


def _economizer(given: Json) -> Json:
    """A visit's economizer page."""
    return cast("Json", write(economizer_page(_snapshot(given)[0])))


def _ducts(given: Json) -> Json:
    """The ducts of a visit."""
    return cast("Json", write(ducts_of(_snapshot(given)[0])))


def _zones(given: Json) -> Json:
    """The zones of a visit."""
    return cast("Json", write(zones_of(_snapshot(given)[0])))


def _accept(given: Json) -> Json:
    """Whether an entry may be added to the visit. Who takes a change over is known to the server alone."""
    snapshot, _ = _snapshot(given)
    instruments = {each["id"] for each in given.get("instruments", ())}
    entry = read_entry({key: given["entry"][key] for key in FIELDS if key in given["entry"]})
    context = LogbookContext(snapshot.system.kind, snapshot.system.nameplate, instruments)
    found = accept(entry, Book(snapshot.entries), context)
    if isinstance(found, NotAccepted):
        raise found.refusal
    return {"accepted": True}


def _calculation(given: Json) -> Json:
    """A calculation by name."""
    assert catalogue.MODULES
    return calculation.run(given["name"], given["given"])


def _year_hours(given: Json) -> Json:
    """Hours of free cooling a year."""
    snapshot, _ = _snapshot(given)
    found = year_question(economizer_page(snapshot).day, snapshot.site.climate_zone, **given["question"])
    return cast("Json", write(found))


def _logger_look(given: Json) -> Json:
    """How a logger's file is laid out, by its first lines."""
    return cast("Json", write(layout_of(given["text"].splitlines()[:LOOKED_AT])))


def _logger_file(given: Json) -> Json:
    """A logger's file read through: what is found in it, and the course of each of its columns."""
    try:
        mapping = read(given["mapping"], FileMapping)
    except Refused as refused:
        raise refused.under("mapping") from refused
    path = VisitContext(_snapshot(given)[0]).path
    instruments = {each["id"] for each in given.get("instruments", ())}
    told, courses = looked_through(given["text"], mapping, given["utc_offset_min"], given["mode"], path, instruments)
    return {"told": told, "courses": courses}


ASKED: dict[str, Callable[[Json], Any]] = {
    "version": lambda given: {"core": fingerprint()},
    "visit": _visit,
    "accept": _accept,
    "economizer": _economizer,
    "ducts": _ducts,
    "zones": _zones,
    "ducts_table": lambda given: write(read_ducts(given["text"])),
    "points": lambda given: [write(each) for each in read_points(given["text"])],
    "calculation": _calculation,
    "year_hours": _year_hours,
    "logger_look": _logger_look,
    "logger_file": _logger_file,
}
"""What can be asked. A visit is given as ``head`` (a snapshot without entries), ``entries`` and ``instruments``."""

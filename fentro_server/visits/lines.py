"""What lists show of a visit, stored with it as it is worked out; worked out again only when what it stands on has changed."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from hashlib import sha256
from typing import Any

from fentro_core.base.typed_json import Json, write
from fentro_core.base.version import fingerprint
from fentro_core.logbook.steps import STEP_NAMES
from fentro_core.phase.numbers import NUMBERS
from fentro_core.visit.results import PhaseResult, WorkUp
from fentro_core.visit.worked import Unworkable, Worked
from fentro_server.instruments.models import Instrument
from fentro_server.visits.kept import Logbook, committed
from fentro_server.visits.models import Visit
from fentro_server.visits.snapshots import instrument_json, site_json, system_json, worked

_GRAVEST = ("off", "too_close", "watch", "holds")


def stands_on(visit: Visit, named: Iterable[str], instruments: Mapping[str, Instrument]) -> str:
    """What a line depends on besides the entries: the core, site, plate, and the instruments named; sixteen letters."""
    used = [instrument_json(instruments[each]) for each in sorted(named) if each in instruments]
    system = {**system_json(visit.system), "nameplate": visit.system.plate_text}
    whole = [fingerprint(), site_json(visit.system.site), system, used]
    return sha256(json.dumps(whole, sort_keys=True).encode()).hexdigest()[:16]


def put_line(visit: Visit, logbook: Logbook, instruments: Mapping[str, Instrument], causes: bool = False) -> Worked | None:
    """Work the visit out and put its line into the row, which is not saved here. None where nothing can be worked out.

    `causes`: weighed, too, for whoever is answered with what was worked out. The line itself says none.
    """
    try:
        done = worked(visit, logbook, instruments.values(), causes)
        line = _line(done.found, troubled=bool(done.left_out))
    except Unworkable as unworkable:
        done, line = None, {**NOTHING_KNOWN, "trouble": write(unworkable.sentence)}
    line["instruments"] = sorted(logbook.instruments)
    visit.line, visit.line_number = line, logbook.number
    visit.line_stands_on = stands_on(visit, logbook.instruments, instruments)
    return done


NOTHING_KNOWN: Json = {
    "purpose": "",
    "next_step": "arrive",
    "next_step_name": STEP_NAMES["arrive"],
    "left": [],
    "numbers": [],
    "worst": None,
    "phases": [],
    "cancelled": False,
}
"""Of a visit that can't be worked out at all: its trouble stands in its line."""

LINE_FIELDS = ("line", "line_number", "line_stands_on")


def _line(found: WorkUp, *, troubled: bool) -> Json:
    latest = found.phases[-1]
    results = {result.key: result for result in latest.results}
    marks = {line.mark for line in latest.verdicts}
    step = next(step for step in found.route if step.id == found.next_step)
    return {
        "trouble": TROUBLED if troubled else None,
        "purpose": found.reported,
        "next_step": step.id,
        "next_step_name": step.name,
        "left": list(step.left),
        "numbers": [
            {"key": key, "name": results[key].name, "quantity": write(results[key].quantity)}
            for key, number in NUMBERS.items()
            if number.headline and key in results and results[key].quantity and not results[key].nominal
        ],
        "worst": next((mark for mark in _GRAVEST if mark in marks), None),
        "phases": [_phase(phase) for phase in found.phases if phase.followed and not found.cancelled],
        "cancelled": found.cancelled,
    }


TROUBLED: Json = {"text": "An entry can't be worked with. Open the visit, and take it back.", "numbers": {}}


def _phase(phase: PhaseResult) -> Json:
    """What is followed over visits, and the place on the four-way drawing."""
    cooling = phase.pages.cooling
    four = cooling.four_way if cooling else None
    return {
        "phase": phase.phase,
        "values": {key: write(value) for key, value in phase.followed.items()},
        "split": write(four.split) if four else None,
        "capacity": write(four.capacity) if four else None,
    }


def brought_up_to_date(visits: Iterable[Visit], instruments: Iterable[Instrument]) -> list[Visit]:
    """Visits (with system and site) whose lines hold; those that do not are worked out again and stored."""
    by_id = {str(each.pk): each for each in instruments}
    rows = list(visits)
    for visit in rows:
        if _holds(visit, by_id):
            continue
        logbook = committed(visit.pk, visit.entries_number)
        put_line(visit, logbook, by_id)
        values: dict[str, Any] = {name: getattr(visit, name) for name in LINE_FIELDS}
        Visit.objects.filter(pk=visit.pk, entries_number=logbook.number).update(**values)
    return rows


def _holds(visit: Visit, instruments: Mapping[str, Instrument]) -> bool:
    """The line is that of the last entry, and everything else that it stands on is as it was."""
    if visit.line is None or visit.line_number != visit.entries_number:
        return False
    return visit.line_stands_on == stands_on(visit, visit.line["instruments"], instruments)

"""Whether an entry may be added: decided by the core alone, as a device without signal would."""

from __future__ import annotations

from typing import Any

import pytest

from fentro_core.logbook.accept import Accepted, LogbookContext, NotAccepted, accept, branches_noted
from fentro_core.logbook.entry import Entry, read_entry
from fentro_core.system.gas_furnace import FurnaceNameplate
from fentro_core.system.kinds import air_path
from tests.core.visits import entry, new_id, reading

CONTEXT = LogbookContext("furnace_with_coil", FurnaceNameplate(rated_total_w=10_550.0), frozenset({"A"}), {"p1": "Pat"})


def logbook(*entries: dict[str, Any]) -> dict[str, Entry]:
    return {each["id"]: read_entry(each) for each in entries}


def refused(made: dict[str, Any], *before: dict[str, Any], context: LogbookContext = CONTEXT) -> str:
    """The field and the sentence; empty when it is accepted."""
    found = accept(read_entry(made), logbook(*before), context)
    return str(found.refusal) if isinstance(found, NotAccepted) else ""


def back(what: dict[str, Any]) -> dict[str, Any]:
    return entry("withdrawal", {}, replaces=what["id"])


def jumper() -> dict[str, Any]:
    return entry("temporary", {"what": "R to Y", "kind": "jumper", "undo": ""})


CLOSING = {"summary": "done"}


def test_an_entry_said_twice_counts_once_and_another_by_its_number_not() -> None:
    made = reading("return", "dry_bulb", 24.0, "degC")
    again = accept(read_entry(made), logbook(made), CONTEXT)
    assert again == Accepted(read_entry(made), repeated=True)
    other = {**made, "body": {**made["body"], "value": 25.0}}
    assert "already used by another entry" in refused(other, made)
    elsewhere = LogbookContext(CONTEXT.system_kind, CONTEXT.nameplate, CONTEXT.instruments, taken=frozenset({made["id"]}))
    assert "already used by another entry" in refused(made, context=elsewhere)


@pytest.mark.parametrize("field", ["kind", "phase", "at", "body", "replaces"])
def test_the_same_number_is_the_same_entry_only_when_all_of_it_is(field: str) -> None:
    made = entry("note", {"text": "warm", "step": "measure"}, replaces=new_id())
    first = entry("note", {"text": "first", "step": "measure"})
    made["replaces"] = first["id"]
    changed = {
        "kind": {"kind": "withdrawal", "body": {}},
        "phase": {"phase": "as_left"},
        "at": {"at": "2026-07-01T11:00:00+00:00"},
        "body": {"body": {"text": "cold", "step": "measure"}},
        "replaces": {"replaces": None},
    }[field]
    assert refused(made, first, made) == ""
    assert "already used" in refused({**made, **changed}, first, made)


def test_a_closed_visit_takes_only_its_reopening() -> None:
    closing = entry("closing", CLOSING)
    note = entry("note", {"text": "late", "step": "measure"})
    assert "This visit is closed" in refused(note, closing)
    assert "This visit is closed" in refused(reading("return", "dry_bulb", 24.0, "degC"), closing)
    assert "Say why" in refused(entry("reopening", {}, reason="  "), closing)
    reopening = entry("reopening", {}, reason="One reading is missing.")
    assert refused(reopening, closing) == ""
    assert refused(note, closing, reopening) == ""
    assert "This visit is closed" in refused(note, closing, reopening, entry("closing", CLOSING))


@pytest.mark.parametrize(("kind", "body"), [("reopening", {}), ("closing", CLOSING), ("undone", None), ("handed_on", None)])
def test_what_ends_or_reopens_cannot_be_taken_back(kind: str, body: dict[str, Any] | None) -> None:
    change = jumper()
    given = {
        "undone": {"change": change["id"]},
        "handed_on": {"change": change["id"], "to": "p1", "to_name": "Pat", "reason": "x"},
    }
    ended = entry(kind, body if body is not None else given[kind], reason="more" if kind == "reopening" else "")
    before = [change, ended] if body is None else [entry("closing", CLOSING), ended] if kind == "reopening" else [ended]
    after = [*before, entry("reopening", {}, reason="more")] if kind == "closing" else before
    assert "can't be taken back" in refused(back(ended), *after)


def test_a_correction_names_a_standing_entry_of_its_own_kind() -> None:
    first = reading("return", "dry_bulb", 24.0, "degC")
    second = reading("return", "dry_bulb", 25.0, "degC", replaces=first["id"])
    assert refused(second, first) == ""
    assert "not in this visit" in refused(second)
    third = reading("return", "dry_bulb", 26.0, "degC", replaces=first["id"])
    assert "already corrected" in refused(third, first, second)
    note = entry("note", {"text": "no", "step": "measure"}, replaces=first["id"])
    assert "same kind" in refused(note, first)
    assert refused(back(first), first) == ""
    assert "already corrected" in refused(back(first), first, back(first))


@pytest.mark.parametrize(
    ("made", "where"),
    [
        (reading("mixed", "dry_bulb", 24.0, "degC"), "body.station: This system has no such station"),
        (reading("return", "pipe_temperature", 24.0, "degC"), "body.quantity: This can't be read"),
        (reading("return", "dry_bulb", 24.0, "degC", instrument="Z"), "body.instrument: This instrument"),
        (entry("assignment", {"instrument": "A", "station": "nowhere", "point": 1}), "body.station: This system has no such"),
        (entry("assignment", {"instrument": "Z", "station": "", "point": 1}), "body.instrument: This instrument"),
    ],
)
def test_what_names_a_place_or_an_instrument_names_one_that_is_there(made: dict[str, Any], where: str) -> None:
    assert refused(made).startswith(where)


def test_a_probe_may_hang_nowhere() -> None:
    assert refused(entry("assignment", {"instrument": "A", "station": "", "point": 1})) == ""


def test_a_branch_found_on_the_visit_has_a_register_to_read() -> None:
    branch = entry("branch", {"room": "Loft", "floor": "upper"})
    path = air_path(CONTEXT.system_kind, CONTEXT.nameplate, branches_noted(logbook(branch).values()))
    register = next(station.id for station in path.stations if "Loft" in station.name)
    assert refused(reading(register, "dry_bulb", 13.0, "degC"), branch) == ""
    assert "no such station" in refused(reading(register, "dry_bulb", 13.0, "degC"))


def test_a_change_is_ended_once_and_handed_to_a_colleague() -> None:
    change = jumper()
    undone = entry("undone", {"change": change["id"]})
    assert refused(undone, change) == ""
    assert refused(entry("undone", {"change": change["id"]}), change, undone) != ""
    assert refused(entry("undone", {"change": new_id()}), change) != ""
    to = {"change": change["id"], "to": "p1", "to_name": "Pat", "reason": "waits"}
    assert refused(entry("handed_on", to), change) == ""
    assert "of your company" in refused(entry("handed_on", {**to, "to": "p9"}), change)
    assert "of your company" in refused(entry("handed_on", {**to, "to_name": "Sam"}), change)
    alone = LogbookContext(CONTEXT.system_kind, CONTEXT.nameplate, CONTEXT.instruments)
    assert refused(entry("handed_on", {**to, "to": "p9"}), change, context=alone) == ""
    assert "still open" in refused(entry("closing", CLOSING), change)
    assert refused(entry("closing", CLOSING), change, undone) == ""

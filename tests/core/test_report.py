"""The report of a visit: what a customer reads first, the whole record after, and the fingerprint of what was signed."""

from __future__ import annotations

import copy
import json
import re
from itertools import pairwise
from typing import Any
from xml.etree import ElementTree

import pytest

from bench.unchanged import demo_documents
from fentro_core.base import typed_json
from fentro_core.base.quantity import Quantity, say
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.diagnosis.cause import CAUSES
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.parts import PARTS
from fentro_core.report import writing
from fentro_core.report.content import Report
from fentro_core.report.drawings import drawings, tint
from fentro_core.report.edition import canonical, edition, fingerprint, read_edition
from fentro_core.report.writing import AT_ONCE, NEXT, SOON, report_of, subject_of
from fentro_core.visit.work_up import work_up
from fentro_core.visit.worked import LeftOut, Worked
from tests.core.visits import entry, reading

VISITS = dict(demo_documents())


def of(key: str, **more: Any) -> Report:
    return report_of(read_snapshot({**VISITS[f"demo/{key}"], **more}))


def with_more(key: str, *entries: dict[str, Any]) -> Report:
    return of(key, entries=[*VISITS[f"demo/{key}"]["entries"], *entries])


@pytest.mark.parametrize("key", VISITS)
def test_a_report_is_read_back_as_it_was_written(key: str) -> None:
    found = report_of(read_snapshot(VISITS[key]))
    assert typed_json.read(json.loads(json.dumps(typed_json.write(found))), Report) == found


@pytest.mark.parametrize("key", VISITS)
def test_every_reading_result_and_entry_of_the_visit_is_in_it(key: str) -> None:
    snapshot = read_snapshot(VISITS[key])
    found, done = report_of(snapshot), work_up(snapshot)
    assert len(found.log) == len(snapshot.entries)
    assert len(found.readings) == sum(len(each.readings) for phase in done.phases for each in phase.stations)
    assert {line.name for line in found.results} >= {each.name for each in done.phases[-1].results if each.quantity}
    assert [line.sentence for line in found.verdicts] == [line.sentence for phase in done.phases for line in phase.verdicts]
    assert len(found.findings) == sum(not each.faint for each in done.phases[-1].findings)


@pytest.mark.parametrize("key", VISITS)
@pytest.mark.parametrize("system", ["SI", "US"])
def test_every_drawing_is_whole_and_says_its_numbers_in_the_readers_units(key: str, system: str) -> None:
    found = report_of(read_snapshot(VISITS[key]))
    for drawing in drawings(found, system):
        root = ElementTree.fromstring(drawing.svg)
        words = " ".join(text.text or "" for text in root.iter("{http://www.w3.org/2000/svg}text"))
        assert ("°F" if system == "SI" else "°C") not in words
        for name, value in re.findall(r' (x|y|x1|x2|y1|y2|cx|cy|width|height)="([^"]*)"', drawing.svg):
            assert -200 < float(value) < 1200, (drawing.title, name, value)


def test_what_is_so_says_how_it_was_found_and_how_it_was_left() -> None:
    found = of("furnace-leak")
    leak = next(line for line in found.so if line.subject.startswith("Air leaking in"))
    assert (leak.was, leak.mark) == ("off", "holds")
    assert [line.name for line in found.improved] == ["Share leaking in from around the duct"]
    assert found.done[0].what == "Return plenum, right seam"
    assert (found.state, found.asked) == ("closed", ("Bindery hot, unit runs all day",))


def test_the_gravest_comes_first() -> None:
    marks = [line.mark for line in of("furnace-balance").so]
    assert marks == sorted(marks, key=["off", "too_close", "watch", "not_measured", "holds"].index)
    assert marks[0] == "off"


def test_what_to_do_names_one_cause_and_what_it_may_be_instead() -> None:
    (line,) = of("rooftop-2-fourth").to_do
    assert (line.name, line.how_soon, line.sure) == ("Refrigerant charge low", SOON, True)
    assert line.who == "Certified refrigerant technician"
    assert line.others == ()
    (first,) = of("furnace-now").to_do
    assert (first.how_soon, first.sure) == (NEXT, False)
    assert first.do.say() == "Is there oil at joints, valves or the coil?", "a look, no repair, while nothing is sure"
    assert of("rooftop-spring").to_do == ()


def test_what_is_off_without_a_known_cause_is_to_be_done_all_the_same() -> None:
    (line,) = of("ventilator-setting").to_do
    assert (line.name, line.how_soon, line.cause) == ("Fresh air", SOON, False)
    assert line.do.say().startswith("As found it runs 15 min an hour")
    (close,) = of("heat-pump-close").to_do
    assert (close.how_soon, close.sure, close.cause) == (NEXT, False, True), "where one may be named, it is the first to look at"
    document = copy.deepcopy(VISITS["demo/heat-pump-close"])
    for _ in range(12):
        (close,) = report_of(read_snapshot(document)).to_do
        if not close.cause:
            break
        key = next(each.key for each in CAUSES.values() if each.name == close.name)
        document["entries"].append(entry("rejection", {"cause": key, "why": "looked, and it is not"}, 50))
    assert (close.name, close.how_soon, close.sure) == ("Cooling of the air", NEXT, False)


@pytest.mark.parametrize("key", VISITS)
def test_nothing_to_do_is_said_only_where_all_is_as_it_should_be(key: str) -> None:
    found = report_of(read_snapshot(VISITS[key]))
    assert bool(found.to_do) == any(line.mark in ("off", "too_close", "watch") for line in found.so)


def test_what_can_hurt_is_to_be_done_before_the_unit_runs_on() -> None:
    hot = copy.deepcopy(VISITS["demo/furnace-winter"])
    hot["system"]["nameplate"]["max_outlet_c"] = 50.0
    as_found = [each for each in hot["entries"] if each["phase"] != "as_left" and each["kind"] != "closing"]
    found = report_of(read_snapshot({**hot, "entries": as_found}))
    assert "outlet" in {
        line.key for phase in work_up(read_snapshot({**hot, "entries": as_found})).phases for line in phase.verdicts
    }
    assert [line.how_soon for line in found.to_do] == [AT_ONCE]


def test_every_verdict_with_a_mark_has_a_customers_word() -> None:
    silent = {"first_look", "finding"}
    for key, document in VISITS.items():
        for phase in work_up(read_snapshot(document)).phases:
            for line in phase.verdicts:
                assert line.mark is None or line.key in silent or subject_of(line.key), (key, line.key)


def test_subjects_are_declared_in_their_part_and_none_twice() -> None:
    keys = [key for part in PARTS for key in part.subjects]
    assert len(keys) == len(set(keys))
    assert subject_of("drop_filter") == "Filter"
    assert subject_of("drop_coil") == "Resistance inside the unit"
    assert subject_of("nothing:of:it") == ""


def test_what_was_taken_back_stands_in_the_log_with_its_reason() -> None:
    wrong = reading("return", "dry_bulb", 99.0, "degF", point=7)
    right = {**reading("return", "dry_bulb", 77.0, "degF", point=7), "replaces": wrong["id"], "reason": "typed twice"}
    found = with_more("rooftop-now", wrong, right)
    lines = {line.number: line for line in found.log}
    last = len(lines)
    assert (lines[last - 1].gone, lines[last - 1].reason) == (True, "typed twice")
    assert lines[last - 1].words == "Return, point 7, Dry bulb: 99 °F"
    assert (lines[last].gone, lines[last].reason) == (False, "typed twice")
    assert "99 °F" not in {line.typed for line in found.readings}


def test_temporary_changes_say_how_they_ended() -> None:
    first, second, third = (entry("temporary", {"what": f"Jumper {n}", "kind": "jumper", "undo": "Pull it"}) for n in "123")
    undone = entry("undone", {"change": first["id"], "how": "pulled"})
    handed = entry("handed_on", {"change": second["id"], "to": "p", "to_name": "Pat", "reason": "part comes Monday"})
    ends = [
        (line.what, line.end, line.words) for line in with_more("rooftop-now", first, second, third, undone, handed).temporary
    ]
    assert ends == [
        ("Jumper 1", "undone", "pulled"),
        ("Jumper 2", "handed on", "to Pat: part comes Monday"),
        ("Jumper 3", "open", "Pull it"),
    ]


def test_a_cancelled_visit_says_so() -> None:
    closing = entry("closing", {"summary": "wrong unit", "cancelled": True})
    found = with_more("rooftop-now", closing)
    assert (found.state, found.summary, found.closed_at) == ("cancelled", "wrong unit", closing["at"])


def test_nothing_read_makes_a_report_all_the_same() -> None:
    found = of("rooftop-spring", entries=[])
    assert (found.so, found.readings, found.states, found.state) == ((), (), (), "open")
    assert len(drawings(found, "SI")) == 1, "the air path, all of it hatched"


def test_what_somebody_typed_is_no_drawing() -> None:
    document = copy.deepcopy(VISITS["demo/furnace-balance"])
    for each in document["entries"]:
        if each["kind"] == "duct_branch":
            each["body"]["room"] = "<script>&'" + each["body"]["room"]
    for drawing in drawings(report_of(read_snapshot(document)), "SI"):
        assert "<script" not in drawing.svg
        ElementTree.fromstring(drawing.svg)


def test_tints_are_those_of_the_interface() -> None:
    assert [tint(value) for value in (4, 14, 24, 34, 46)] == [
        "rgb(63,95,115)",
        "rgb(143,171,181)",
        "rgb(226,210,171)",
        "rgb(207,138,79)",
        "rgb(168,69,42)",
    ]
    assert tint(19.0) == "rgb(184,190,176)"


@pytest.mark.parametrize(
    ("quantity", "system", "words"),
    [
        (Quantity(10.8, 0.4, "temperature_difference"), "SI", "10.8 K ± 0.4"),
        (Quantity(1.234, 0.056, "airflow"), "SI", "1,234 L/s ± 56"),
        (Quantity(1.234, 0.156, "airflow"), "SI", "1,230 L/s ± 160"),
        (Quantity(-0.0045, 0.025, "share"), "SI", "0 % ± 2"),
        (Quantity(24.0, 0.001, "temperature"), "US", "75.2 °F ± 0.00"),
        (Quantity(24.0, 0.0, "temperature"), "US", "75.2 °F"),
    ],
)
def test_a_number_is_said_as_the_interface_shows_it(quantity: Quantity, system: str, words: str) -> None:
    assert say(quantity, system) == words


def test_the_fingerprint_is_that_of_the_content_not_of_how_it_is_written() -> None:
    document = edition(1, "Firm", "", VISITS["demo/furnace-leak"], of("furnace-leak"))
    as_written = json.loads(json.dumps(document, indent=3))
    through_another_program = json.loads(json.dumps(document).replace(".0,", ","))
    assert fingerprint(document) == fingerprint(as_written) == fingerprint(through_another_program)
    assert len(fingerprint(document)) == 64
    assert canonical(document) == canonical(json.loads(canonical(document)))


@pytest.mark.parametrize(
    "change",
    [
        lambda it: it["snapshot"]["entries"][5]["body"].update(value=24.7),
        lambda it: it["snapshot"]["entries"].pop(),
        lambda it: it["report"].update(summary="All well."),
        lambda it: it["report"]["so"][0].update(mark="holds"),
        lambda it: it.update(edition=2),
        lambda it: it.update(company="Another"),
    ],
)
def test_any_change_changes_the_fingerprint(change: Any) -> None:
    document = edition(1, "Firm", "", copy.deepcopy(VISITS["demo/furnace-leak"]), of("furnace-leak"))
    document = json.loads(json.dumps(document))
    before = fingerprint(document)
    change(document)
    assert fingerprint(document) != before


@pytest.mark.parametrize(
    ("change", "path"),
    [({"format": "fentro.visit"}, "format"), ({"version": 2}, "version"), ({"report": {"site": 3}}, "")],
)
def test_what_is_no_edition_is_refused_with_a_sentence(change: dict[str, Any], path: str) -> None:
    document = {**json.loads(json.dumps(edition(1, "Firm", "", {}, of("rooftop-spring")))), **change}
    with pytest.raises(Refused) as refused:
        read_edition(document)
    assert refused.value.path.startswith(path)
    assert refused.value.sentence.say()


def test_an_edition_is_read_as_it_was_frozen() -> None:
    report = of("rooftop-filter")
    assert read_edition(json.loads(canonical(edition(3, "Firm", "Quay 4", {}, report)))) == report


def test_a_number_that_is_none_has_no_fingerprint() -> None:
    with pytest.raises(Refused):
        fingerprint({"a": float("nan")})


def test_settings_planned_stand_beside_how_they_were_found() -> None:
    (line,) = [each for each in of("rooftop-now").plans if each.what.lower().startswith("changeover")]
    assert line.planned
    assert "nthalpy" in line.planned.say()
    assert line.reason.startswith("Humid coast")


def test_the_balance_plan_says_each_handle_and_what_is_read_then() -> None:
    lines = [each for each in of("furnace-balance").plans if each.part == "Ducts"]
    assert lines
    assert all(each.then and "L/s" in each.then.say() and "cfm" in each.then.say("US") for each in lines)
    assert all(each.was != each.planned for each in lines)


def test_the_ducts_lie_as_they_were_walked() -> None:
    tree = of("furnace-balance").tree
    assert [piece.depth for piece in tree][:2] == [0, 1]
    assert len({piece.name for piece in tree}) == len(tree)
    for before, piece in pairwise(tree):
        assert piece.depth <= before.depth + (1 if before.trunk else 0)
    (main,) = [piece for piece in tree if piece.name == "Main run"]
    assert (main.trunk, main.size.say(), main.size.say("US")) == (True, "500 mm by 300 mm, 4 m", "20 in by 12 in, 13 ft")
    assert of("heat-pump-close").tree == ()


def test_an_entry_that_nothing_can_be_worked_out_with_is_left_out_everywhere(monkeypatch: pytest.MonkeyPatch) -> None:
    snapshot = read_snapshot(VISITS["demo/rooftop-now"])
    bad = next(each for each in snapshot.entries if each.kind == "reading")
    seen: list[bool] = []
    page = writing.economizer_page
    monkeypatch.setattr(writing, "economizer_page", lambda given: seen.append(bad in given.entries) or page(given))
    done = Worked(work_up(snapshot), (LeftOut(bad.id, Sentence("It fails.")),))
    found = report_of(snapshot, done)
    assert seen == [False], "worked out once, and without it"
    assert [each.say() for each in found.left_out] == ["It fails."]
    assert len(found.log) == len(snapshot.entries), "the logbook keeps it"


@pytest.mark.parametrize(("value", "words"), [("yes", "Oil at joints: yes"), ("cant", "Oil at joints: can't be told here")])
def test_what_was_seen_is_told_by_its_name(value: str, words: str) -> None:
    document = copy.deepcopy(VISITS["demo/furnace-now"])
    document["entries"].append(entry("observation", {"item": "oil_stain", "value": value}, 55))
    assert words in [line.words for line in report_of(read_snapshot(document)).log]

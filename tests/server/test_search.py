"""Finding anything by words, in the own company only, page by page."""

from __future__ import annotations

import uuid
from datetime import timedelta
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from fentro_server.accounts.models import Role
from fentro_server.api.search import PAGE, beginning
from fentro_server.places.models import Site, System
from fentro_server.visits.models import NOTE_KINDS, NOTE_WORDS, Entry, Visit
from tests.server.conftest import House, add, new_entry, signed_in


def found(house: House, words: str = "", **more: Any) -> dict[str, list[dict[str, Any]]]:
    answer = signed_in(house.people[Role.VIEWER]).get("/api/v1/search", {"words": words, **more}).json()
    return {each["kind"]: each["hits"] for each in answer["found"]}


def titles(house: House, kind: str, words: str, **more: Any) -> list[str]:
    return [hit["title"] for hit in found(house, words, **more).get(kind, [])]


def visit(house: House, purpose: str, days_ago: int = 0, **more: Any) -> Visit:
    at = timezone.now() - timedelta(days=days_ago)
    fields = {"company": house.company, "system": house.system, "technician": house.people[Role.TECHNICIAN], "opened_at": at}
    return Visit.objects.create(id=uuid.uuid4(), purpose=purpose, **{**fields, **more})


def test_each_kind_of_thing_is_found_by_whole_words_and_by_their_beginnings(ours: House) -> None:
    ours.system.nameplate = {"rated_total_w": 10551.0, "maker": "Pellwick", "model": "GF-90/36", "serial": "P90-22806"}
    ours.system.location = "Roof, behind the parapet"
    ours.system.save()
    visit(ours, "Bindery hot, unit runs all day")
    note = new_entry("note", {"text": "Belt squeals when cold", "step": "arrive"})
    add(signed_in(ours.people[Role.TECHNICIAN]), ours.visit, note)
    assert titles(ours, "sites", "mill") == ["Mill"]
    for words in ("furn", "pellwick", "gf-90", "22806", "parapet", "mill furnace", "FURNACE mil"):
        assert titles(ours, "systems", words) == ["Furnace"], words
    assert titles(ours, "visits", "bind hot") == ["Bindery hot, unit runs all day"]
    assert titles(ours, "notes", "squeal") == ["Belt squeals when cold"]
    assert titles(ours, "people", "technician") == ["technician of ours"]
    assert found(ours, "furnace zebra") == {}


def test_words_of_nothing_but_signs_find_nothing_and_break_nothing(ours: House) -> None:
    for words in ("", "   ", "!!!", "& | ! :* ()", "'; drop table", "\\", "%", "ö" * 180):
        assert signed_in(ours.people[Role.LEAD]).get("/api/v1/search", {"words": words}).status_code == 200, words
    assert found(ours, "& |") == {}
    assert signed_in(ours.people[Role.LEAD]).get("/api/v1/search", {"words": "x\0y"}).status_code in (200, 422)
    assert signed_in(ours.people[Role.LEAD]).get("/api/v1/search", {"words": "x" * 201}).status_code == 422


def test_a_note_that_was_taken_back_or_put_right_is_not_found(ours: House) -> None:
    client = signed_in(ours.people[Role.TECHNICIAN])
    first = new_entry("note", {"text": "Gasket torn", "step": "arrive"})
    right = {**new_entry("note", {"text": "Gasket worn", "step": "arrive"}), "replaces": first["id"], "reason": "not torn"}
    add(client, ours.visit, first, right)
    assert titles(ours, "notes", "gasket") == ["Gasket worn"]


def test_another_company_does_not_exist(ours: House, theirs: House) -> None:
    visit(theirs, "Secret purpose")
    add(signed_in(theirs.people[Role.TECHNICIAN]), theirs.visit, new_entry("note", {"text": "Secret note", "step": "arrive"}))
    assert found(ours, "secret") == {}
    assert found(ours, "theirs") == {}
    assert len(found(ours, "furnace")["systems"]) == 1


def test_filters_by_site_person_days_and_state(ours: House) -> None:
    mill = visit(ours, "Yearly check", days_ago=10)
    site = Site.objects.create(company=ours.company, name="Harbour")
    other = System.objects.create(company=ours.company, site=site, name="Pump", kind="split_heat_pump")
    lead = ours.people[Role.LEAD]
    harbour = visit(ours, "Yearly check", days_ago=2, system=other, technician=lead, closed_at=timezone.now())

    def ids(**more: Any) -> set[str]:
        return {hit["open"] for hit in found(ours, "yearly", kind="visits", **more)["visits"]}

    both = {str(mill.pk), str(harbour.pk)}
    assert ids() == both
    assert ids(site=site.pk) == {str(harbour.pk)}
    assert ids(person=lead.pk) == {str(harbour.pk)}
    assert ids(state="open") == {str(mill.pk)}
    assert ids(state="closed") == {str(harbour.pk)}
    day = (timezone.now() - timedelta(days=5)).date().isoformat()
    assert ids(since=day) == {str(harbour.pk)}
    assert ids(until=day) == {str(mill.pk)}
    assert {hit["open"] for hit in found(ours, "", kind="visits", site=site.pk)["visits"]} == {str(harbour.pk)}


def test_pages_follow_each_other_without_a_gap_and_end(ours: House) -> None:
    for count in range(2 * PAGE + 3):
        visit(ours, f"Check {count:03d}", days_ago=count)
    client = signed_in(ours.people[Role.LEAD])
    seen: list[str] = []
    place: int | None = 0
    while place is not None:
        page = client.get("/api/v1/search", {"words": "check", "kind": "visits", "place": place}).json()["found"][0]
        seen += [hit["title"] for hit in page["hits"]]
        place = page["more"]
    assert seen == [f"Check {count:03d}" for count in range(2 * PAGE + 3)]


@pytest.mark.parametrize("given", [{"kind": "sorcery"}, {"place": -1}, {"place": 10**9}, {"site": "x"}, {"since": "soon"}])
def test_what_cannot_be_asked_is_refused(ours: House, given: dict[str, Any]) -> None:
    assert signed_in(ours.people[Role.LEAD]).get("/api/v1/search", {"words": "a", **given}).status_code == 422


def test_questions_stay_few_and_use_their_indexes(ours: House) -> None:
    client = signed_in(ours.people[Role.LEAD])
    for count in range(12):
        visit(ours, f"Check {count}")
    with CaptureQueriesContext(connection) as asked:
        client.get("/api/v1/search", {"words": "check"})
    assert len(asked) <= 8
    with connection.cursor() as cursor:
        cursor.execute("set enable_seqscan = off")
        for rows, index in ((Visit, "visit_words"), (Site, "site_words"), (System, "system_words")):
            said = next(each for each in rows._meta.indexes if each.name == index).expressions[0]
            question = rows.objects.annotate(said=said).filter(said=beginning(["check"])).values("pk").order_by()
            assert index in question.explain(), rows
        notes = Entry.objects.filter(kind__in=NOTE_KINDS).annotate(said=NOTE_WORDS).filter(said=beginning(["belt"]))
        assert "entry_words" in notes.values("pk").order_by().explain()

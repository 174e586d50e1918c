"""A visit out as JSON and in again: here, and on another installation."""

from __future__ import annotations

import copy
import json
import uuid
from typing import Any

import pytest

from bench.unchanged import demo_documents
from fentro_server.accounts.models import Person, Role
from fentro_server.instruments.models import Instrument
from fentro_server.places.models import Site, System
from fentro_server.visits.models import Visit
from tests.server.conftest import House, add, new_entry, signed_in


def taken(house: House) -> dict[str, Any]:
    entries = (
        new_entry(),
        new_entry("note", {"text": "Belt loose", "step": "arrive"}),
        new_entry("closing", {"summary": "Done"}),
    )
    for entry in entries[:1]:
        entry["body"] = {**entry["body"], "instrument": str(house.instrument.pk)}
    add(signed_in(house.people[Role.TECHNICIAN]), house.visit, *entries)
    document: dict[str, Any] = signed_in(house.people[Role.LEAD]).get(f"/api/v1/visits/{house.visit.pk}/snapshot").json()
    return document


def bring(house: House, document: Any, role: str = Role.LEAD) -> Any:
    body = document if isinstance(document, bytes) else json.dumps(document).encode()
    return signed_in(house.people[role]).post("/api/v1/records/bring-in", body, content_type="application/json")


def elsewhere(document: dict[str, Any]) -> dict[str, Any]:
    """As from another installation: nothing of it is known here."""
    other = copy.deepcopy(document)
    other["visit"]["id"] = str(uuid.uuid4())
    for entry in other["entries"]:
        entry["id"] = str(uuid.uuid4())
    return other


def test_what_was_taken_here_adds_nothing_here(ours: House) -> None:
    document = taken(ours)
    answer = bring(ours, document).json()
    assert (answer["added"], answer["here_already"], answer["made"], answer["refused"]) == (0, 3, [], [])
    assert Visit.objects.count() == 1


def test_elsewhere_it_is_the_same_visit_with_the_same_people_and_instruments(ours: House, theirs: House) -> None:
    document = elsewhere(taken(ours))
    answer = bring(theirs, document).json()
    assert (answer["added"], answer["refused"]) == (3, [])
    assert set(answer["made"]) == {"technician of ours, by name only", "instrument Probe (2), not in use"}
    visit = Visit.objects.get(pk=document["visit"]["id"])
    assert (visit.system, visit.technician.name) == (theirs.system, "technician of ours"), "site and system of the same name"
    assert visit.closed_at is not None
    assert visit.closed_at.isoformat() == "2026-07-01T10:20:00+00:00"
    back = signed_in(theirs.people[Role.LEAD]).get(f"/api/v1/visits/{visit.pk}/snapshot").json()
    assert [(each["kind"], each["at"], each["by"], each["id"]) for each in back["entries"]] == [
        (each["kind"], each["at"], each["by"], each["id"]) for each in document["entries"]
    ]
    again = bring(theirs, document).json()
    assert (again["added"], again["here_already"], again["made"]) == (0, 3, [])
    nobody = Person.objects.get(company=theirs.company, name="technician of ours")
    assert (nobody.is_active, nobody.has_usable_password()) == (False, False)


@pytest.mark.parametrize("document", [document for _, document in list(demo_documents())[::4]])
def test_a_visit_of_any_kind_comes_in_whole(ours: House, document: dict[str, Any]) -> None:
    given = {**document, "visit": {**document["visit"], "id": str(uuid.uuid4()), "technician": "Ida Holm"}}
    for entry in given["entries"]:
        entry["by"] = "Ida Holm"
    answer = bring(ours, given).json()
    assert answer["refused"] == []
    assert answer["added"] == len(given["entries"])
    assert signed_in(ours.people[Role.LEAD]).get(f"/api/v1/visits/{given['visit']['id']}").status_code == 200


def test_what_was_added_there_since_comes_too(ours: House, theirs: House) -> None:
    document = elsewhere(taken(ours))
    assert bring(theirs, {**document, "entries": document["entries"][:1]}).json()["added"] == 1
    answer = bring(theirs, document).json()
    assert (answer["added"], answer["here_already"]) == (2, 1)


def test_one_bad_entry_is_named_and_the_others_come(ours: House, theirs: House) -> None:
    document = elsewhere(taken(ours))
    document["entries"][1]["body"] = {"text": "   "}
    answer = bring(theirs, document).json()
    assert (answer["added"], [each["index"] for each in answer["refused"]]) == (2, [1])


def test_a_system_of_the_same_name_and_another_kind_is_another_system(ours: House, theirs: House) -> None:
    document = elsewhere(taken(ours))
    document["system"] = {"name": "Furnace", "kind": "split_heat_pump", "nameplate": {}, "location": ""}
    assert bring(theirs, document).json()["made"][0] == "system Furnace (brought in)"
    assert System.objects.filter(company=theirs.company).count() == 2
    again = elsewhere(document)
    assert "system Furnace (brought in)" not in bring(theirs, again).json()["made"]


def test_an_unknown_site_comes_with_its_elevation(ours: House, theirs: House) -> None:
    document = elsewhere(taken(ours))
    document["site"] = {**document["site"], "name": "High mill", "elevation_m": 1800.0}
    bring(theirs, document)
    assert Site.objects.get(company=theirs.company, name="High mill").elevation_m == 1800.0


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"version": 2}, "newer version"),
        ({"format": "fentro.edition"}, "no visit"),
        ({"visit": {"purpose": "x"}}, "no number"),
        ({"entries": {}}, "at most"),
        ({"system": {"kind": "toaster", "nameplate": {}}}, ""),
        ({"site": {"name": "x", "elevation_m": 99999.0}}, ""),
        ({"instruments": [{"id": 5}]}, ""),
    ],
)
def test_what_cannot_come_in_says_why_and_leaves_nothing(ours: House, theirs: House, change: Any, words: str) -> None:
    document = {**elsewhere(taken(ours)), **change}
    answer = bring(theirs, document)
    assert answer.status_code == 422
    assert words in answer.json()["detail"]
    assert Visit.objects.filter(company=theirs.company).count() == 1
    assert Instrument.objects.filter(company=theirs.company).count() == 1


def test_a_cut_off_file_and_another_companys_visit_are_refused(ours: House, theirs: House) -> None:
    document = taken(ours)
    assert "cut off" in bring(ours, json.dumps(document).encode()[:-20]).json()["detail"]
    assert "used by another visit" in bring(theirs, document).json()["detail"]
    assert bring(ours, document, Role.TECHNICIAN).status_code == 403
    deep = b"[" * 200_000 + b"]" * 200_000
    for body in (b"\xff\xd8\xff\xe0", b"[]", b"null", b"3", deep, json.dumps({**document, "entries": [3, None, "x"]}).encode()):
        assert bring(ours, body).status_code in (200, 422)


@pytest.mark.parametrize(
    "change",
    [
        lambda it: it["site"].update(name="a\0b"),
        lambda it: it["visit"].update(purpose="\ud800"),
        lambda it: it["instruments"][0].update(calibrated_on="2026-05-01", calibration_due_on="2026-04-01"),
        lambda it: it["instruments"][0].update(id="x" * 500),
        lambda it: it["visit"].update(opened_at="0000-00-00T99:99"),
        lambda it: it["entries"][0].update(by="y" * 5000),
    ],
)
def test_what_the_database_cannot_keep_is_refused_or_set_right(ours: House, theirs: House, change: Any) -> None:
    document = elsewhere(taken(ours))
    change(document)
    answer = bring(theirs, document)
    assert answer.status_code in (200, 422), answer.content
    assert signed_in(theirs.people[Role.LEAD]).get("/api/v1/day").status_code == 200

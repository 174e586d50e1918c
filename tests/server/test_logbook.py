"""The logbook: idempotent, partial refusal with reasons, corrections, closing, and nothing edited behind its back."""

from __future__ import annotations

import uuid

import pytest
from django.db import Error, connection, transaction
from django.test.utils import CaptureQueriesContext

from fentro_server.visits.models import Entry, Visit
from tests.server.conftest import House, add, new_entry, post, signed_in


def reading(value: float, quantity: str = "dry_bulb", station: str = "return", unit: str = "degC", **more: object) -> dict:
    return new_entry(body={"station": station, "quantity": quantity, "value": value, "unit": unit, **more})


def test_a_batch_is_stored_and_answered_with_the_new_work_up(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    batch = [
        reading(25.1),
        reading(40, "relative_humidity", unit="percent"),
        reading(55.8, station="supply", unit="degF"),
        reading(80, "relative_humidity", "supply", "percent"),
    ]
    answer = add(client, ours.visit, *batch).json()
    assert answer["accepted"] == [entry["id"] for entry in batch]
    assert answer["refused"] == []
    results = {each["key"]: each for each in answer["visit"]["work_up"]["phases"][0]["results"]}
    assert results["split"]["quantity"]["value"] == pytest.approx(25.1 - (55.8 - 32) / 1.8)
    assert Entry.objects.get(pk=batch[2]["id"]).body["unit"] == "degF"


def test_sending_twice_is_sending_once(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    batch = [reading(25.1), reading(25.3, point=2)]
    for _ in range(3):
        answer = add(client, ours.visit, *batch).json()
        assert answer["accepted"] == [entry["id"] for entry in batch]
    assert [entry.number for entry in ours.visit.entries.all()] == [1, 2]


def test_the_same_entry_twice_in_one_batch_is_stored_once(ours: House) -> None:
    entry = reading(25.1)
    assert add(signed_in(ours.people["technician"]), ours.visit, entry, entry).json()["accepted"] == [entry["id"]] * 2
    assert ours.visit.entries.count() == 1


def test_one_bad_entry_is_refused_with_its_reason_and_the_others_stay(ours: House) -> None:
    good, other = reading(25.1), reading(25.3, point=2)
    batch = [
        good,
        reading(2510.0),
        reading(25.0, station="attic"),
        reading(25.0, unit="bar"),
        reading(25.0, instrument=str(uuid.uuid4())),
        new_entry("note", {"text": "  "}),
        new_entry("dance", {}),
        {**reading(20), "id": "seven"},
        {**reading(20), "at": "noon"},
        "not an entry",
        other,
    ]
    answer = add(signed_in(ours.people["technician"]), ours.visit, *batch).json()
    assert answer["accepted"] == [good["id"], other["id"]]
    paths = {refused["index"]: refused["refusal"]["path"] for refused in answer["refused"]}
    assert paths == {
        1: "body.value",
        2: "body.station",
        3: "body.unit",
        4: "body.instrument",
        5: "body.text",
        6: "kind",
        7: "id",
        8: "at",
        9: "",
    }
    assert all(refused["refusal"]["sentence"]["text"] for refused in answer["refused"])


def test_a_number_used_for_something_else_is_refused(ours: House, theirs: House) -> None:
    client = signed_in(ours.people["technician"])
    first = reading(25.1)
    add(client, ours.visit, first)
    changed = {**first, "body": {**first["body"], "value": 26.0}}
    assert add(client, ours.visit, changed).json()["refused"][0]["refusal"]["path"] == "id"
    foreign = add(signed_in(theirs.people["technician"]), theirs.visit, first).json()
    assert foreign["refused"][0]["refusal"]["path"] == "id"


def test_a_correction_points_to_what_it_replaces_and_only_once(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    wrong = reading(42.6)
    right = {**reading(24.6), "replaces": wrong["id"], "reason": "typed wrong"}
    again = {**reading(24.7), "replaces": wrong["id"]}
    lost = {**reading(24.7), "replaces": str(uuid.uuid4())}
    other_kind = {**new_entry("note", {"text": "x"}), "replaces": right["id"]}
    back = new_entry("withdrawal", {}, replaces=right["id"], reason="taken back") | {"body": {}}
    answer = add(client, ours.visit, wrong, right, again, lost, other_kind, back).json()
    assert answer["accepted"] == [wrong["id"], right["id"], back["id"]]
    assert [refused["index"] for refused in answer["refused"]] == [2, 3, 4]
    assert answer["visit"]["work_up"]["phases"][0]["stations"][0]["readings"] == []


def test_a_closed_visit_takes_nothing_until_it_is_reopened(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    closing = {**new_entry("closing", {"summary": "done"})}
    assert add(client, ours.visit, closing).json()["visit"]["closed_at"]
    late = reading(25.1)
    assert "closed" in add(client, ours.visit, late).json()["refused"][0]["refusal"]["sentence"]["text"]
    assert add(client, ours.visit, closing).json()["accepted"] == [closing["id"]]
    reopening = {**new_entry("reopening"), "body": {}, "reason": "One reading is missing."}
    answer = add(client, ours.visit, reopening, late).json()
    assert answer["accepted"] == [reopening["id"], late["id"]]
    assert answer["visit"]["closed_at"] is None


@pytest.mark.parametrize("change", ["update visits_entry set body = '{}'", "delete from visits_entry"])
def test_the_database_itself_refuses_to_change_an_entry(ours: House, change: str) -> None:
    add(signed_in(ours.people["technician"]), ours.visit, reading(25.1))
    with pytest.raises(Error, match="never changed"), transaction.atomic(), connection.cursor() as cursor:
        cursor.execute(change)


def test_a_technician_writes_in_own_visits_only_a_lead_in_all(ours: House) -> None:
    visit = Visit.objects.create(
        id=uuid.uuid4(),
        company=ours.company,
        system=ours.system,
        technician=ours.people["lead"],
        opened_at=ours.visit.opened_at,
    )
    refused = add(signed_in(ours.people["technician"]), visit, reading(25.0))
    assert refused.status_code == 403
    assert "lead" in refused.json()["detail"]
    assert add(signed_in(ours.people["lead"]), ours.visit, reading(25.0)).status_code == 200


def test_starting_twice_is_starting_once(ours: House, theirs: House) -> None:
    client = signed_in(ours.people["technician"])
    given = {"id": str(uuid.uuid4()), "system": str(ours.system.pk), "purpose": "hot room"}
    assert [post(client, "/api/v1/visits", given).json()["id"] for _ in range(2)] == [given["id"]] * 2
    assert Visit.objects.filter(pk=given["id"]).count() == 1
    stolen = {**given, "system": str(theirs.system.pk)}
    assert post(signed_in(theirs.people["technician"]), "/api/v1/visits", stolen).status_code == 409


def test_the_snapshot_downloads_and_the_core_reads_it(ours: House) -> None:
    from fentro_core.logbook.snapshot import read_snapshot
    from fentro_core.visit.work_up import work_up

    client = signed_in(ours.people["technician"])
    add(client, ours.visit, reading(25.1, instrument=str(ours.instrument.pk)), reading(14.0, station="supply"))
    answer = client.get(f"/api/v1/visits/{ours.visit.pk}/snapshot")
    assert "attachment" in answer["Content-Disposition"]
    document = answer.json()
    assert [each["name"] for each in document["instruments"]] == ["Probe"]
    assert work_up(read_snapshot(document)).phases[0].results[0].quantity.value == pytest.approx(11.1)


def queries_of(client: object, path: str) -> int:
    with CaptureQueriesContext(
        connection,
    ) as seen:
        assert client.get(path).status_code == 200
    return len(seen)


def test_queries_do_not_grow_with_what_is_there(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    paths = (f"/api/v1/visits/{ours.visit.pk}", "/api/v1/day", f"/api/v1/systems/{ours.system.pk}")
    add(client, ours.visit, reading(20.0))
    before = [queries_of(client, path) for path in paths]
    add(client, ours.visit, *[reading(20 + point / 10, point=point) for point in range(1, 40)])
    for _ in range(5):
        post(client, "/api/v1/visits", {"id": str(uuid.uuid4()), "system": str(ours.system.pk)})
    assert [queries_of(client, path) for path in paths] == before
    assert max(before) <= 9


def test_the_day_sheet_is_a_technicians_own_and_a_leads_everyones(ours: House) -> None:
    seen = {role: len(signed_in(person).get("/api/v1/day").json()["open"]) for role, person in ours.people.items()}
    assert seen == {"technician": 1, "lead": 1, "viewer": 1}
    Visit.objects.filter(pk=ours.visit.pk).update(technician=ours.people["lead"])
    assert signed_in(ours.people["technician"]).get("/api/v1/day").json()["open"] == []

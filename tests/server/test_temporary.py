"""The ledger on the server: closing is refused, a change is handed to a colleague, who undoes it in another's visit."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
from django.utils import timezone

from fentro_server.accounts.models import Person
from fentro_server.visits.models import Visit
from tests.server.conftest import House, add, new_entry, signed_in


def override(what: str = "Stat set to 15 °C") -> dict[str, Any]:
    return new_entry("temporary", {"what": what, "kind": "override", "undo": "back to 23"})


def first_refusal(answer: Any) -> str:
    return answer.json()["refused"][0]["refusal"]["sentence"]["text"]


def open_for(person: Person) -> list[tuple[str, bool]]:
    return [(line["what"], line["handed"]) for line in signed_in(person).get("/api/v1/temporary").json()]


@pytest.fixture
def colleague(ours: House) -> Person:
    return Person.objects.create_person(ours.company, "c@ours.example", None, name="Cleo", role="technician")


def hand(change: dict[str, Any], receiver: Person, **more: Any) -> dict[str, Any]:
    body = {"change": change["id"], "to": str(receiver.pk), "to_name": receiver.name, "reason": "waits for a part", **more}
    return new_entry("handed_on", body)


def test_an_open_change_keeps_the_visit_open_until_it_is_undone(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    change = override()
    assert add(client, ours.visit, change).json()["visit"]["work_up"]["temporary"][0]["what"] == "Stat set to 15 °C"
    assert "still open" in first_refusal(add(client, ours.visit, new_entry("closing", {"summary": ""})))
    ours.visit.refresh_from_db()
    assert ours.visit.closed_at is None
    done = add(client, ours.visit, new_entry("undone", {"change": change["id"]}), new_entry("closing", {"summary": ""})).json()
    assert done["refused"] == []
    assert done["visit"]["work_up"]["closed"]


def test_undoing_twice_or_what_never_was_is_refused_and_a_repeat_is_harmless(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    change, back = override(), None
    add(client, ours.visit, change)
    back = new_entry("undone", {"change": change["id"]})
    assert add(client, ours.visit, back).json()["refused"] == []
    assert add(client, ours.visit, back).json()["refused"] == []
    assert "not open" in first_refusal(add(client, ours.visit, new_entry("undone", {"change": change["id"]})))
    assert "not open" in first_refusal(add(client, ours.visit, new_entry("undone", {"change": str(uuid.uuid4())})))


def test_a_change_handed_on_tops_the_receivers_list_and_is_undone_in_the_closed_visit(ours: House, colleague: Person) -> None:
    mine, change = signed_in(ours.people["technician"]), override()
    add(mine, ours.visit, change)
    other = Visit.objects.create(
        id=uuid.uuid4(), company=ours.company, system=ours.system, technician=colleague, opened_at=timezone.now()
    )
    add(signed_in(colleague), other, override("Own hole"))
    assert add(mine, ours.visit, hand(change, colleague), new_entry("closing", {"summary": ""})).json()["refused"] == []
    assert open_for(ours.people["technician"]) == []
    assert open_for(colleague) == [("Stat set to 15 °C", True), ("Own hole", False)]
    answer = add(signed_in(colleague), ours.visit, new_entry("undone", {"change": change["id"]}))
    assert answer.status_code == 200
    assert answer.json()["refused"] == []
    assert open_for(colleague) == [("Own hole", False)]
    ours.visit.refresh_from_db()
    assert ours.visit.closed_at is not None


def test_a_receiver_may_undo_that_and_nothing_else(ours: House, colleague: Person) -> None:
    mine, first, second = signed_in(ours.people["technician"]), override(), override("Hole")
    add(mine, ours.visit, first, second, hand(first, colleague))
    theirs = signed_in(colleague)
    assert add(theirs, ours.visit, new_entry("undone", {"change": second["id"]})).status_code == 403
    assert add(theirs, ours.visit, new_entry("undone", {"change": first["id"]}), new_entry()).status_code == 403
    assert add(theirs, ours.visit, new_entry("undone", {})).status_code == 403
    assert add(theirs, ours.visit, new_entry()).status_code == 403
    assert add(theirs, ours.visit, new_entry("undone", {"change": first["id"]})).status_code == 200


@pytest.mark.parametrize("who", ["viewer", "stranger", "nobody", "other name"])
def test_it_is_handed_only_to_someone_of_the_company_who_records(ours: House, theirs: House, colleague: Person, who: str) -> None:
    client, change = signed_in(ours.people["technician"]), override()
    add(client, ours.visit, change)
    entry = {
        "viewer": hand(change, ours.people["viewer"]),
        "stranger": hand(change, theirs.people["lead"]),
        "nobody": hand(change, colleague, to="nobody"),
        "other name": hand(change, colleague, to_name="Someone"),
    }[who]
    assert "of your company" in first_refusal(add(client, ours.visit, entry))


def test_a_lead_sees_what_is_nobodys_and_a_crashed_session_forgets_nothing(ours: House, theirs: House) -> None:
    add(signed_in(ours.people["technician"]), ours.visit, override())
    assert open_for(ours.people["lead"]) == [("Stat set to 15 °C", False)]
    assert open_for(theirs.people["lead"]) == []
    assert open_for(ours.people["technician"]) == [("Stat set to 15 °C", False)], "asked anew, from the logbook alone"


def test_colleagues_are_those_who_may_record(ours: House, theirs: House, colleague: Person) -> None:
    names = [each["name"] for each in signed_in(ours.people["technician"]).get("/api/v1/colleagues").json()]
    assert names == sorted(["Cleo", "technician of ours", "lead of ours"])


def test_the_list_costs_the_same_for_many_visits(ours: House, django_assert_max_num_queries: Any) -> None:
    client = signed_in(ours.people["technician"])
    for _ in range(4):
        visit = Visit.objects.create(
            id=uuid.uuid4(),
            company=ours.company,
            system=ours.system,
            technician=ours.people["technician"],
            opened_at=timezone.now(),
        )
        add(client, visit, override())
    with django_assert_max_num_queries(7):
        assert len(client.get("/api/v1/temporary").json()) == 4

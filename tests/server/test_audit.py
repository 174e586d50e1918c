"""Who did what when: sign-ins, exports, signatures and entries in one course, for leads."""

from __future__ import annotations

from typing import Any

import pytest
from django.test import Client

from fentro_server.accounts.models import Role
from fentro_server.audit.models import Event, What
from fentro_server.audit.noting import note
from tests.server.conftest import PASSWORD, House, add, new_entry, post, signed_in
from tests.server.test_records import signed


def course(house: House, **asked: Any) -> dict[str, Any]:
    found: dict[str, Any] = signed_in(house.people[Role.LEAD]).get("/api/v1/audit", asked).json()
    return found


def kinds(house: House, **asked: Any) -> list[str]:
    return [line["kind"] for line in course(house, **asked)["lines"]]


def test_what_is_done_is_noted_with_who_did_it(ours: House) -> None:
    signed(ours)
    lead = signed_in(ours.people[Role.LEAD])
    visit = ours.visit.pk
    for path in ("report/pdf", "editions/1", "snapshot", "readings.csv", "samples.csv"):
        lead.get(f"/api/v1/visits/{visit}/{path}")
    post(lead, "/api/v1/people", {"name": "Ida", "sign_in_name": "ida", "password": "copper-elbow-17"})
    lead.patch("/api/v1/company", {"letterhead": "Quay"}, content_type="application/json")
    said = [(line["person"], line["what"], line["about"]) for line in course(ours, person=ours.people[Role.LEAD].pk)["lines"]]
    about = "Mill, Furnace: "
    assert [each for each in said if each[1] != "Signed in"] == [
        ("lead of ours", What.COMPANY.label, "Letterhead"),
        ("lead of ours", What.PEOPLE.label, "Ida: let in"),
        ("lead of ours", What.TOOK_READINGS.label, about + "CSV of the samples"),
        ("lead of ours", What.TOOK_READINGS.label, about + "CSV"),
        ("lead of ours", What.TOOK_VISIT.label, about + "JSON"),
        ("lead of ours", What.TOOK_REPORT.label, about + "Signed file, edition 1"),
        ("lead of ours", What.TOOK_REPORT.label, about + "PDF"),
    ]
    assert [(line["person"], line["about"]) for line in course(ours, kind="signed")["lines"]] == [
        ("technician of ours", about + "as technician")
    ]


def test_entries_of_one_visit_by_one_person_are_one_line(ours: House) -> None:
    technician, lead = signed_in(ours.people[Role.TECHNICIAN]), signed_in(ours.people[Role.LEAD])
    note_ = new_entry("note", {"text": "a", "step": "arrive"})
    add(technician, ours.visit, new_entry(), new_entry(), note_)
    add(lead, ours.visit, new_entry())
    lines = course(ours, kind="entries")["lines"]
    assert [(line["person"], line["about"]) for line in lines] == [
        ("lead of ours", "Mill, Furnace: 1 × reading"),
        ("technician of ours", "Mill, Furnace: 2 × reading, 1 × note"),
    ]


def test_signing_in_and_failing_to_is_noted(ours: House) -> None:
    client = Client()
    technician = ours.people[Role.TECHNICIAN]
    for password in ("wrong", PASSWORD):
        post(client, "/api/v1/session", {"sign_in_name": technician.sign_in_name, "password": password})
    post(client, "/api/v1/session", {"sign_in_name": "nobody", "password": "x"})
    client.delete("/api/v1/session")
    assert kinds(ours, person=technician.pk) == ["signed_out", "signed_in", "refused"]


def test_pages_follow_each_other_without_a_gap(ours: House) -> None:
    technician = ours.people[Role.TECHNICIAN]
    for count in range(130):
        note(technician, What.TOKEN, f"{count}")
    client = signed_in(technician)
    for _ in range(4):
        add(client, ours.visit, *[new_entry() for _ in range(100)])
    seen: list[str] = []
    entries, before, pages = 0, "", 0
    while True:
        page = course(ours, person=technician.pk, before=before)
        seen += [line["about"] for line in page["lines"] if line["kind"] == "token"]
        entries += sum(
            int(line["about"].rpartition(": ")[2].split(" ")[0]) for line in page["lines"] if line["kind"] == "entries"
        )
        pages += 1
        if page["more"] is None or pages > 20:
            break
        before = page["more"]
    assert seen == [f"{count}" for count in reversed(range(130))]
    assert entries == 400


@pytest.mark.parametrize("asked", [{"kind": "sorcery"}, {"before": "yesterday"}, {"person": "x"}])
def test_what_cannot_be_asked_is_refused(ours: House, asked: dict[str, Any]) -> None:
    assert signed_in(ours.people[Role.LEAD]).get("/api/v1/audit", asked).status_code == 422


def test_nobody_sees_another_companys_course(ours: House, theirs: House) -> None:
    note(theirs.people[Role.LEAD], What.COMPANY, "secret")
    assert "secret" not in str(course(ours))
    assert Event.objects.of(ours.company.pk).filter(about="secret").count() == 0

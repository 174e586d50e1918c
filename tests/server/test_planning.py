"""Appointments: who is to be where when, out as iCalendar."""

from __future__ import annotations

import uuid
from datetime import datetime, timedelta
from typing import Any

import pytest
from django.utils import timezone

from fentro_server.accounts.models import Role
from fentro_server.planning.models import Appointment
from tests.server.conftest import House, add, new_entry, post, signed_in


def soon(**more: float) -> str:
    return (timezone.now() + timedelta(**more)).isoformat()


def appoint(house: House, role: str = Role.LEAD, **more: Any) -> Any:
    given = {"id": str(uuid.uuid4()), "system": str(house.system.pk), "starts_at": soon(hours=3), **more}
    return post(signed_in(house.people[role]), "/api/v1/appointments", given)


def change(house: House, row: str, role: str = Role.LEAD, **given: Any) -> Any:
    return signed_in(house.people[role]).patch(f"/api/v1/appointments/{row}", given, content_type="application/json")


def calendar(house: House, role: str, whose: str = "mine") -> str:
    text: str = signed_in(house.people[role]).get(f"/api/v1/appointments.ics?whose={whose}").text
    return text.replace("\r\n ", "")


def test_a_lead_appoints_anybody_who_records_and_the_week_says_so(ours: House) -> None:
    technician = ours.people[Role.TECHNICIAN]
    answer = appoint(ours, person=str(technician.pk), minutes=90, words="Filters").json()
    assert (answer["person_name"], answer["mine"]) == ("technician of ours", False)
    week = signed_in(technician).get("/api/v1/week").json()
    assert [(each["id"], each["mine"], each["words"]) for each in week["appointments"]] == [(answer["id"], True, "Filters")]
    assert [each["person_name"] for each in week["now"]] == ["technician of ours"], "the open visit: who is there now"


def test_the_same_request_twice_is_one_appointment(ours: House) -> None:
    given = {"id": str(uuid.uuid4()), "starts_at": soon(hours=3)}
    assert appoint(ours, **given).json() == appoint(ours, **given).json()
    assert Appointment.objects.count() == 1


def test_the_week_says_what_is_handed_on_to_whom(ours: House) -> None:
    technician, lead = ours.people[Role.TECHNICIAN], ours.people[Role.LEAD]
    change = new_entry("temporary", {"what": "Jumper R to Y", "kind": "jumper"})
    handed = new_entry(
        "handed_on", {"change": change["id"], "to": str(lead.pk), "to_name": lead.name, "reason": "part on Monday"}
    )
    assert add(signed_in(technician), ours.visit, change, handed).json()["refused"] == []
    viewer = signed_in(ours.people[Role.VIEWER])
    (line,) = viewer.get("/api/v1/week").json()["handed"]
    assert (line["what"], line["by"], line["to"], line["reason"]) == (
        "Jumper R to Y",
        "technician of ours",
        "lead of ours",
        "part on Monday",
    )
    add(signed_in(lead), ours.visit, new_entry("undone", {"change": change["id"]}))
    assert viewer.get("/api/v1/week").json()["handed"] == []


@pytest.mark.parametrize(
    ("role", "more", "status", "path"),
    [
        (Role.VIEWER, {}, 403, ""),
        (Role.LEAD, {"minutes": 0}, 422, "minutes"),
        (Role.LEAD, {"minutes": 2000}, 422, "minutes"),
        (Role.LEAD, {"starts_at": "2026-12-01T10:00:00"}, 422, "starts_at"),
        (Role.LEAD, {"starts_at": "2090-12-01T10:00:00Z"}, 422, "starts_at"),
        (Role.LEAD, {"starts_at": "1990-12-01T10:00:00Z"}, 422, "starts_at"),
        (Role.LEAD, {"person": str(uuid.uuid4())}, 422, "person"),
        (Role.LEAD, {"system": str(uuid.uuid4())}, 404, ""),
    ],
)
def test_what_cannot_be_appointed_says_why(ours: House, role: str, more: dict[str, Any], status: int, path: str) -> None:
    answer = appoint(ours, role, **more)
    assert answer.status_code == status
    assert path in answer.json()["refusals"][0]["path"]
    assert Appointment.objects.count() == 0


def test_nobody_appoints_another_companys_people_or_systems(ours: House, theirs: House) -> None:
    assert appoint(ours, person=str(theirs.people[Role.TECHNICIAN].pk)).status_code == 422
    assert appoint(ours, system=str(theirs.system.pk)).status_code == 404
    row = appoint(theirs).json()["id"]
    assert change(ours, row, words="mine now").status_code == 404
    assert (
        post(
            signed_in(ours.people[Role.LEAD]),
            "/api/v1/appointments",
            {"id": row, "system": str(ours.system.pk), "starts_at": soon()},
        ).status_code
        == 422
    )
    assert signed_in(ours.people[Role.LEAD]).get("/api/v1/week").json()["appointments"] == []


def test_a_technician_keeps_own_appointments_only(ours: House) -> None:
    lead = ours.people[Role.LEAD]
    assert appoint(ours, Role.TECHNICIAN, person=str(lead.pk)).status_code == 403
    own = appoint(ours, Role.TECHNICIAN).json()
    assert change(ours, own["id"], Role.TECHNICIAN, minutes=30).json()["minutes"] == 30
    leads = appoint(ours).json()["id"]
    assert "Only lead of ours or a lead" in change(ours, leads, Role.TECHNICIAN, minutes=30).json()["detail"]


def test_the_days_of_a_week_are_those_of_the_reader(ours: House) -> None:
    client = signed_in(ours.people[Role.LEAD])
    day = (timezone.now() + timedelta(days=5)).date()
    late = datetime(day.year, day.month, day.day, 23, 30, tzinfo=timezone.get_default_timezone())
    appoint(ours, starts_at=late.isoformat())

    def seen(offset_min: int) -> int:
        query = {"first": day.isoformat(), "days": 1, "offset_min": offset_min}
        return len(client.get("/api/v1/week", query).json()["appointments"])

    assert (seen(0), seen(60)) == (1, 0), "an hour east it is the next day already"
    for query in ({"days": 0}, {"days": 99}, {"offset_min": 9999}, {"first": "9999-12-31", "days": 31}):
        assert client.get("/api/v1/week", query).status_code == 422


def test_a_calendar_has_ones_own_and_is_told_of_changes(ours: House) -> None:
    technician = ours.people[Role.TECHNICIAN]
    row = appoint(ours, person=str(technician.pk), words="Filters, belts; roof\nkey at desk").json()["id"]
    appoint(ours)
    text = calendar(ours, Role.TECHNICIAN)
    assert text.count("BEGIN:VEVENT") == 1
    assert f"UID:{row}@fentro" in text
    assert "SUMMARY:Mill\\, Furnace\r\n" in text
    assert "DESCRIPTION:Filters\\, belts\\; roof\\nkey at desk" in text
    assert "SEQUENCE:0" in text
    change(ours, row, cancelled=True)
    text = calendar(ours, Role.TECHNICIAN)
    assert "STATUS:CANCELLED" in text
    assert "SEQUENCE:1" in text
    assert calendar(ours, Role.LEAD, "all").count("BEGIN:VEVENT") == 2
    assert calendar(ours, Role.VIEWER).count("BEGIN:VEVENT") == 0

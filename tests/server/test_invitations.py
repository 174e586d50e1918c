"""Invitations by link, people who left, the company's papers."""

from __future__ import annotations

from datetime import timedelta
from typing import Any
from unittest.mock import patch

import pytest
from django.contrib.auth.tokens import PasswordResetTokenGenerator
from django.test import Client
from django.utils import timezone

from fentro_server.accounts.models import Person, Role
from tests.server.conftest import House, add, new_entry, post, signed_in
from tests.server.test_records import page, signed

PASSWORD = "copper-elbow-17"


def invited(house: House, **more: Any) -> dict[str, Any]:
    given = {"name": "Ida Holm", "sign_in_name": "ida@ours.example", **more}
    found: dict[str, Any] = post(signed_in(house.people[Role.LEAD]), "/api/v1/invitations", given).json()
    return found


def api(path: str) -> str:
    return f"/api/v1{path.replace('/invitation/', '/invitations/')}"


def test_a_link_lets_somebody_choose_a_password_once(ours: House) -> None:
    link = api(invited(ours)["path"])
    client = Client()
    said = client.get(link).json()
    assert said == {"name": "Ida Holm", "sign_in_name": "ida@ours.example", "company": "ours"}
    assert "password" in str(post(client, link, {"password": "short"}).json()["refusals"])
    answer = post(client, link, {"password": PASSWORD})
    assert answer.json()["person"]["name"] == "Ida Holm"
    assert client.get("/api/v1/day").status_code == 200
    again = post(Client(), link, {"password": "another-elbow-18"})
    assert (again.status_code, "not good any more" in again.json()["detail"]) == (422, True)
    given = {"sign_in_name": "ida@ours.example", "password": PASSWORD}
    assert post(Client(), "/api/v1/session", given).status_code == 200


def test_nobody_signs_in_before_they_chose(ours: House) -> None:
    invited(ours)
    for password in ("", "!", PASSWORD):
        given = {"sign_in_name": "ida@ours.example", "password": password}
        assert post(Client(), "/api/v1/session", given).status_code in (422, 429)


def test_a_link_is_over_after_two_weeks_and_with_its_person(ours: House) -> None:
    link = api(invited(ours)["path"])
    later = timezone.now().replace(tzinfo=None) + timedelta(days=15)
    with patch.object(PasswordResetTokenGenerator, "_now", lambda self: later):
        assert Client().get(link).status_code == 422
    assert Client().get(link).status_code == 200
    Person.objects.filter(name="Ida Holm").update(is_active=False)
    assert Client().get(link).status_code == 422


@pytest.mark.parametrize(
    "link", ["/invitations/x/y", "/invitations/00000000-0000-4000-8000-000000000000/a-b", "/invitations/{}/a-b"]
)
def test_a_made_up_link_opens_nothing(ours: House, link: str) -> None:
    path = f"/api/v1{link.format(ours.people[Role.LEAD].pk)}"
    assert Client().get(path).status_code == 422
    assert post(Client(), path, {"password": PASSWORD}).status_code == 422


def test_a_forgotten_password_is_chosen_anew_and_ends_open_sessions(ours: House) -> None:
    technician = ours.people[Role.TECHNICIAN]
    device = signed_in(technician)
    link = post(signed_in(ours.people[Role.LEAD]), f"/api/v1/people/{technician.pk}/invitation", {}).json()["path"]
    assert post(Client(), api(link), {"password": PASSWORD}).status_code == 200
    assert device.get("/api/v1/day").status_code == 401


def test_two_of_one_name_are_told(ours: House, theirs: House) -> None:
    invited(ours)
    assert "taken" in invited(theirs)["detail"]
    assert "without blanks" in invited(theirs, sign_in_name="a b")["detail"]


def leave(house: House) -> None:
    path = f"/api/v1/people/{house.people[Role.TECHNICIAN].pk}"
    answer = signed_in(house.people[Role.LEAD]).patch(path, {"active": False}, content_type="application/json")
    assert answer.status_code == 200


def set_names(house: House, how: str) -> Any:
    given = {"left_names": how}
    return signed_in(house.people[Role.LEAD]).patch("/api/v1/company", given, content_type="application/json").json()


@pytest.mark.parametrize(
    ("how", "name"), [("name", "technician of ours"), ("initials", "T. O. O."), ("hidden", "Someone who left")]
)
@pytest.mark.parametrize("first", ["set", "left"])
def test_whoever_left_is_called_as_the_company_sets(ours: House, how: str, name: str, first: str) -> None:
    add(signed_in(ours.people[Role.TECHNICIAN]), ours.visit, new_entry())
    steps = [lambda: set_names(ours, how), lambda: leave(ours)]
    for step in steps if first == "set" else reversed(steps):
        step()
    row = Person.objects.get(pk=ours.people[Role.TECHNICIAN].pk)
    assert row.name == name
    assert ("technician@" in row.sign_in_name) == (how == "name")
    assert signed_in(ours.people[Role.LEAD]).get("/api/v1/day").json()["open"][0]["technician"] == name
    text = page(ours.people[Role.LEAD], ours).text
    assert ("technician of ours" in text) == (how == "name")


def test_what_was_signed_keeps_its_names(ours: House) -> None:
    signed(ours)
    before = page(ours.people[Role.LEAD], ours, "edition=1").content
    set_names(ours, "hidden")
    leave(ours)
    assert page(ours.people[Role.LEAD], ours, "edition=1").content == before
    assert b"technician of ours" in before


def test_who_still_works_here_keeps_the_name(ours: House) -> None:
    set_names(ours, "hidden")
    assert Person.objects.get(pk=ours.people[Role.TECHNICIAN].pk).name == "technician of ours"


def test_the_letterhead_has_six_lines_at_most(ours: House) -> None:
    client = signed_in(ours.people[Role.LEAD])

    def change(text: str) -> Any:
        return client.patch("/api/v1/company", {"letterhead": text}, content_type="application/json")

    assert change("  Quay 4\nHarbour  ").json()["letterhead"] == "Quay 4\nHarbour"
    assert change("a\n" * 7).json()["refusals"][0]["path"] == "letterhead"
    assert change("x" * 601).status_code == 422
    assert client.get("/api/v1/company").json()["letterhead"] == "Quay 4\nHarbour"

"""Programs with tokens: they fetch and record as their person, as far as the token goes and as long as it lasts."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone

from fentro_server.accounts import tokens
from fentro_server.accounts.models import ApiToken, Role, Scope
from tests.server.conftest import House, new_entry, post, signed_in

TODAY = timezone.localdate


def made(house: House, scope: str = Scope.RECORD, role: str = Role.TECHNICIAN) -> str:
    _, shown = tokens.make(house.people[role], "Logger", Scope(scope), TODAY() + timedelta(days=3))
    return shown


def asked(token: str, method: str, path: str, body: Any = None) -> Any:
    client = Client(headers={"Authorization": f"Bearer {token}"}, enforce_csrf_checks=True)
    sent = {} if body is None else {"data": body, "content_type": "application/json"}
    return getattr(client, method)(f"/api/v1/{path}", **sent)


def test_a_token_is_said_once_and_kept_as_a_hash(ours: House) -> None:
    client = signed_in(ours.people[Role.TECHNICIAN])
    day = (TODAY() + timedelta(days=30)).isoformat()
    answer = post(client, "/api/v1/tokens", {"name": "Van logger", "scope": "record", "ends_on": day}).json()
    shown = answer["token"]
    assert shown.startswith("fentro_")
    assert len(shown) > 40
    assert shown not in client.get("/api/v1/tokens").content.decode()
    row = ApiToken.objects.get()
    assert shown not in (row.hashed, row.name)
    assert asked(shown, "get", "day").status_code == 200
    assert client.get("/api/v1/tokens").json()[0]["used_on"] == TODAY().isoformat()


def test_a_program_records_and_fetches_as_its_person(ours: House) -> None:
    token = made(ours)
    answer = asked(token, "post", f"visits/{ours.visit.pk}/entries", {"entries": [new_entry()]})
    assert answer.json()["refused"] == []
    page = asked(token, "get", f"visits/{ours.visit.pk}").json()
    assert page["entries"][0]["by"] == "technician of ours"


@pytest.mark.parametrize(
    ("method", "path", "scope"),
    [
        ("post", "visits/{visit}/entries", Scope.READ),
        ("post", "visits/{visit}/signatures", Scope.RECORD),
        ("post", "tokens", Scope.RECORD),
        ("get", "tokens", Scope.RECORD),
        ("get", "people", Scope.RECORD),
        ("post", "people", Scope.RECORD),
        ("get", "session", Scope.RECORD),
        ("delete", "session/everywhere", Scope.RECORD),
        ("patch", "company", Scope.RECORD),
        ("delete", "company", Scope.RECORD),
        ("post", "records/bring-in", Scope.RECORD),
    ],
)
def test_a_token_goes_no_further_than_it_says(ours: House, method: str, path: str, scope: str) -> None:
    token = made(ours, scope, Role.LEAD)
    answer = asked(token, method, path.format(visit=ours.visit.pk), {} if method != "get" else None)
    assert answer.status_code in (403, 200 if path == "session" else 403)
    if path == "session":
        assert answer.json()["person"] is None, "asked without a session it is nobody"


def test_a_token_sees_only_its_company_and_what_its_person_may(ours: House, theirs: House) -> None:
    assert asked(made(ours), "get", f"visits/{theirs.visit.pk}").status_code == 404
    assert asked(made(ours), "get", "audit").status_code == 403
    assert asked(made(ours, role=Role.LEAD), "get", "audit").status_code == 200
    assert asked(made(ours, role=Role.VIEWER), "post", f"visits/{ours.visit.pk}/entries", {"entries": []}).status_code == 403


@pytest.mark.parametrize("why", ["ended", "over", "person", "company", "another", "empty"])
def test_a_token_that_is_no_good_opens_nothing(ours: House, why: str) -> None:
    token = made(ours)
    rows, technician = ApiToken.objects.all(), ours.people[Role.TECHNICIAN]
    if why == "ended":
        signed_in(technician).delete(f"/api/v1/tokens/{rows.get().pk}")
    elif why == "over":
        rows.update(ends_on=TODAY() - timedelta(days=1))
    elif why == "person":
        signed_in(ours.people[Role.LEAD]).patch(
            f"/api/v1/people/{technician.pk}", {"active": False}, content_type="application/json"
        )
    elif why == "company":
        ours.company.is_active = False
        ours.company.save()
    token = {"another": token[:-1] + ("a" if token[-1] != "a" else "b"), "empty": "x"}.get(why, token)
    for method, path in (("get", "day"), ("post", f"visits/{ours.visit.pk}/entries")):
        assert asked(token, method, path, {"entries": [new_entry()]} if method == "post" else None).status_code == 401


def test_nobody_ends_anothers_token(ours: House) -> None:
    token = made(ours)
    answer = signed_in(ours.people[Role.LEAD]).delete(f"/api/v1/tokens/{ApiToken.objects.get().pk}")
    assert answer.status_code == 404
    assert asked(token, "get", "day").status_code == 200


@pytest.mark.parametrize(
    ("given", "path"),
    [({"name": "  "}, "name"), ({"days": -1}, "ends_on"), ({"days": 400}, "ends_on")],
)
def test_a_token_that_cannot_be_made_says_why(ours: House, given: dict[str, Any], path: str) -> None:
    day = TODAY() + timedelta(days=given.get("days", 3))
    body = {"name": given.get("name", "Script"), "ends_on": day.isoformat()}
    answer = post(signed_in(ours.people[Role.LEAD]), "/api/v1/tokens", body)
    assert (answer.status_code, answer.json()["refusals"][0]["path"]) == (422, path)


def test_twenty_tokens_are_enough_and_a_viewers_only_fetch(ours: House) -> None:
    viewer = signed_in(ours.people[Role.VIEWER])
    body = {"name": "Script", "ends_on": TODAY().isoformat()}
    assert post(viewer, "/api/v1/tokens", {**body, "scope": "record"}).status_code == 403
    answers = [post(viewer, "/api/v1/tokens", body).status_code for _ in range(21)]
    assert answers == [200] * 20 + [422]

"""Signing in, lock-out, CSRF, content policy, sign-out everywhere, the office, and a real installation without the demo."""

from __future__ import annotations

import io
import os
import subprocess
import sys
from typing import Any

import pytest
from django.core.management import CommandError, call_command
from django.test import Client

from fentro_server.accounts.models import Company, Person
from fentro_server.places.models import Site, System
from tests.server.conftest import PASSWORD, House, post, signed_in


def sign_in(client: Client, name: str, password: str) -> object:
    return post(client, "/api/v1/session", {"sign_in_name": name, "password": password})


def test_signing_in_and_out(ours: House) -> None:
    client = Client()
    answer = sign_in(client, "lead@ours.example", PASSWORD)
    assert answer.json()["person"]["role"] == "lead"
    assert answer.json()["demo"] is False
    assert client.get("/api/v1/day").status_code == 200
    client.delete("/api/v1/session")
    assert client.get("/api/v1/day").status_code == 401


def test_five_wrong_tries_lock_even_the_right_password(ours: House) -> None:
    client = Client()
    answers = [sign_in(client, "lead@ours.example", f"wrong {n}").status_code for n in range(5)]
    assert answers[:4] == [422] * 4
    locked = sign_in(client, "lead@ours.example", PASSWORD)
    assert locked.status_code == 429
    assert "Wait" in locked.json()["detail"]
    assert sign_in(Client(), "technician@ours.example", PASSWORD).status_code == 200


def test_changes_need_the_csrf_token(ours: House) -> None:
    client = Client(enforce_csrf_checks=True)
    assert sign_in(client, "lead@ours.example", PASSWORD).status_code == 403
    token = client.get("/api/v1/session").cookies["csrftoken"].value
    headers = {"x-csrftoken": token}
    given = {"sign_in_name": "lead@ours.example", "password": PASSWORD}
    assert client.post("/api/v1/session", given, content_type="application/json", headers=headers).status_code == 200
    assert client.delete("/api/v1/session").status_code == 403
    token = client.cookies["csrftoken"].value
    assert client.delete("/api/v1/session", headers={"x-csrftoken": token}).status_code == 200


def test_sign_out_everywhere_ends_every_session(ours: House) -> None:
    tablet, phone = signed_in(ours.people["lead"]), signed_in(ours.people["lead"])
    assert phone.get("/api/v1/day").status_code == 200
    tablet.delete("/api/v1/session/everywhere")
    assert phone.get("/api/v1/day").status_code == 401
    assert tablet.get("/api/v1/day").status_code == 401


def test_strict_content_policy_and_headers(ours: House) -> None:
    answer = Client().get("/api/v1/session")
    policy = answer["Content-Security-Policy"]
    assert "script-src 'self' 'wasm-unsafe-eval'" in [each.strip() for each in policy.split(";")]
    assert "unsafe" not in policy.replace("'wasm-unsafe-eval'", "")
    assert "default-src 'none'" in policy
    assert answer["X-Frame-Options"] == "DENY"
    assert answer["X-Content-Type-Options"] == "nosniff"


OFFICE = ["accounts/person", "places/site", "places/system", "instruments/instrument", "visits/visit", "visits/entry"]


@pytest.mark.parametrize("section", OFFICE)
def test_the_office_is_for_leads_and_their_own_company(section: str, ours: House, theirs: House) -> None:
    path = f"/admin/{section}/"
    for role in ("technician", "viewer"):
        assert signed_in(ours.people[role]).get(path).status_code == 302
    page = signed_in(ours.people["lead"]).get(path)
    assert page.status_code == 200
    assert "theirs" not in page.content.decode()


def test_the_office_has_no_sign_in_of_its_own(ours: House) -> None:
    assert Client().post("/admin/login/", {"username": "lead@ours.example", "password": PASSWORD})["Location"] == "/sign-in"


def test_what_belongs_to_the_installation_is_for_operators(ours: House, theirs: House) -> None:
    lead, operator = ours.people["lead"], theirs.people["lead"]
    Person.objects.filter(pk=operator.pk).update(is_operator=True)
    for section in ("accounts/company", "axes/accessattempt", "axes/accesslog"):
        assert signed_in(lead).get(f"/admin/{section}/").status_code == 403
        assert signed_in(Person.objects.get(pk=operator.pk)).get(f"/admin/{section}/").status_code == 200
    assert "axes" not in signed_in(lead).get("/admin/").content.decode()


def test_a_lead_cannot_take_over_an_operator(ours: House) -> None:
    viewer = ours.people["viewer"]
    Person.objects.filter(pk=viewer.pk).update(is_operator=True)
    form = {"name": "x", "sign_in_name": "x", "role": "lead", "is_active": "on", "new_password": "a longer pass phrase"}
    answer = signed_in(ours.people["lead"]).post(f"/admin/accounts/person/{viewer.pk}/change/", form)
    assert answer.status_code == 403
    viewer.refresh_from_db()
    assert viewer.check_password(PASSWORD)


def test_a_lead_adds_a_system_and_fills_in_its_plate(ours: House, theirs: House) -> None:
    client = signed_in(ours.people["lead"])
    form = {"site": str(ours.site.pk), "name": "New", "kind": "furnace_with_coil", "location": ""}
    assert client.post("/admin/places/system/add/", {**form, "site": str(theirs.site.pk)}).status_code == 200
    assert client.post("/admin/places/system/add/", form).status_code == 302
    made = System.objects.get(name="New")
    assert made.company == ours.company
    path = f"/admin/places/system/{made.pk}/change/"
    page = client.get(path).content.decode()
    assert "Rated cooling, total" in page
    assert "in kW" in page
    assert "Night cooling" not in page
    refused = client.post(path, {**form, "plate_rated_total_w": "-5", "plate_branches": "Hall, Ground, 200, 6"})
    assert "above zero" in refused.content.decode()
    unreadable = client.post(path, {**form, "plate_branches": "Hall, Ground, wide, 6"})
    assert "Line 1 can&#x27;t be read" in unreadable.content.decode()
    plate = {
        "plate_rated_total_w": "10.55",
        "plate_cooling_coil": "on",
        "plate_maker": "Norrand",
        "plate_branches": "Hall, Ground, 200, 6\nAttic room",
    }
    assert client.post(path, {**form, **plate}).status_code == 302
    made.refresh_from_db()
    assert made.nameplate == {
        "reheat_modulates": False,
        "return_bypass": False,
        "cooling_coil": True,
        "maker": "Norrand",
        "rated_total_w": 10550.0,
        "branches": [{"room": "Hall", "floor": "Ground", "diameter_m": 0.2, "run_m": 6.0}, {"room": "Attic room", "floor": ""}],
    }
    assert "Hall, Ground, 200, 6" in client.get(path).content.decode()


def test_a_lead_adds_a_site_and_a_person(ours: House) -> None:
    client = signed_in(ours.people["lead"])
    client.post("/admin/places/site/add/", {"name": "Hill", "elevation_m": "900", "barometer_pa": "", "climate_zone": "5B"})
    assert Site.objects.get(name="Hill").company == ours.company
    person = {"name": "New One", "sign_in_name": "new@ours.example", "role": "technician", "is_active": "on"}
    weak = client.post("/admin/accounts/person/add/", {**person, "new_password": "short"})
    assert weak.status_code == 200
    client.post("/admin/accounts/person/add/", {**person, "new_password": "a longer pass phrase"})
    made = Person.objects.get(sign_in_name="new@ours.example")
    assert made.company == ours.company
    assert made.check_password("a longer pass phrase")


def test_entries_are_read_only_in_the_office(ours: House) -> None:
    client = signed_in(ours.people["lead"])
    assert client.get("/admin/visits/entry/add/").status_code == 403
    assert client.post(f"/admin/visits/visit/{ours.visit.pk}/delete/", {"post": "yes"}).status_code == 403


def test_the_first_company_is_made_by_a_command(db: None, monkeypatch: pytest.MonkeyPatch) -> None:
    words = {"company": "First", "name": "First Lead", "sign_in": "first"}
    monkeypatch.setenv("FENTRO_FIRST_PASSWORD", "12345")
    with pytest.raises(CommandError, match="too short"):
        call_command("create_company", **words)
    assert not Company.objects.exists()
    monkeypatch.setenv("FENTRO_FIRST_PASSWORD", "a good long password")
    call_command("create_company", **words)
    assert Person.objects.get(sign_in_name="first").role == "lead"
    with pytest.raises(CommandError, match="already"):
        call_command("create_company", **words)


def test_the_first_person_may_choose_a_password_in_the_browser(db: None) -> None:
    said = io.StringIO()
    call_command("create_company", company="First", name="First Lead", sign_in="first", link=True, stdout=said)
    path = said.getvalue().splitlines()[-1].replace("/invitation/", "/api/v1/invitations/")
    client = Client()
    assert client.get(path).json()["company"] == "First"
    chosen = client.post(path, {"password": "copper-elbow-17"}, content_type="application/json")
    assert chosen.json()["person"]["role"] == "lead"


def test_whether_anybody_is_here_is_told(db: None) -> None:
    said = io.StringIO()
    call_command("anybody", stdout=said)
    Company.objects.create(name="First")
    call_command("anybody", stdout=said)
    assert said.getvalue().split() == ["no", "yes"]


def production(**environment: str) -> subprocess.CompletedProcess[str]:
    given = {
        "PATH": os.environ["PATH"],
        "FENTRO_SECRET_KEY": "k" * 50,
        "FENTRO_HOSTS": "fentro.example",
        "FENTRO_DATABASE_URL": "postgresql://nobody@127.0.0.1:1/none",
        "DJANGO_SETTINGS_MODULE": "fentro_server.settings.production",
        **environment,
    }
    code = (
        "import django; django.setup(); from fentro_server.api.root import api;"
        "from django.conf import settings;"
        "print(sorted(api.get_openapi_schema()['paths']), settings.SESSION_COOKIE_SECURE, settings.DEBUG)"
    )
    return subprocess.run([sys.executable, "-c", code], env=given, capture_output=True, text=True, check=False)


def test_a_real_installation_has_secure_cookies_and_nothing_of_the_demo() -> None:
    said = production()
    assert "True False" in said.stdout, said.stderr
    assert "demo" not in said.stdout
    assert "40 random letters" in production(FENTRO_SECRET_KEY="short").stderr


def test_demo_sign_in_does_not_exist_here(ours: House) -> None:
    assert Client().get("/api/v1/demo/people").status_code == 404
    assert post(Client(), "/api/v1/demo/session", {"person": str(ours.people["lead"].pk)}).status_code == 404


# people, kept by leads


def change(person: Any, who: Any, body: Any) -> Any:
    return signed_in(person).patch(f"/api/v1/people/{who.pk}", body, content_type="application/json")


def test_a_lead_lets_somebody_in_and_ends_it(ours: House) -> None:
    lead = signed_in(ours.people["lead"])
    new = {"name": " Ida  Moss ", "sign_in_name": "ida", "role": "technician", "password": "copper-elbow-17"}
    made = post(lead, "/api/v1/people", new).json()
    assert (made["name"], made["role"], made["active"], made["me"]) == ("Ida Moss", "technician", True, False)
    ida = Person.objects.get(pk=made["id"])
    assert ida.check_password(new["password"])
    session = signed_in(ida)
    assert session.get("/api/v1/day").status_code == 200
    assert change(ours.people["lead"], ida, {"active": False}).json()["active"] is False
    assert session.get("/api/v1/day").status_code == 401, "what was open ends"
    back = change(ours.people["lead"], ida, {"active": True, "role": "viewer", "password": "another-elbow-18"}).json()
    assert (back["active"], back["role"]) == (True, "viewer")
    ida.refresh_from_db()
    assert ida.check_password("another-elbow-18")
    names = [each["name"] for each in lead.get("/api/v1/people").json()]
    assert names == sorted(names)
    assert "Ida Moss" in names


@pytest.mark.parametrize(
    ("more", "path"),
    [
        ({"name": "  "}, "name"),
        ({"sign_in_name": "ida moss"}, "sign_in_name"),
        ({"sign_in_name": "technician@ours.example"}, "sign_in_name"),
        ({"password": "short"}, "password"),
        ({"password": "password1234"}, "password"),
        ({"role": "king"}, "role"),
    ],
)
def test_what_cant_be_of_a_person_is_said_at_its_field(ours: House, more: Any, path: str) -> None:
    new = {"name": "Ida", "sign_in_name": "ida", "role": "technician", "password": "copper-elbow-17", **more}
    said = post(signed_in(ours.people["lead"]), "/api/v1/people", new)
    assert said.status_code == 422
    assert said.json()["refusals"][0]["path"].endswith(path)
    assert not Person.objects.filter(sign_in_name="ida").exists()


def test_somebody_remains_a_lead_and_nobody_else_keeps_people(ours: House, theirs: House) -> None:
    lead = ours.people["lead"]
    for body in ({"role": "viewer"}, {"active": False}):
        assert change(lead, lead, body).status_code == 422
    assert change(lead, ours.people["technician"], {"role": "lead"}).status_code == 200
    assert change(lead, lead, {"name": "Tova"}).json()["name"] == "Tova"
    assert change(lead, lead, {"role": "viewer"}).status_code == 200, "now there is another"
    for person in (lead, ours.people["viewer"]):
        assert signed_in(person).get("/api/v1/people").status_code == 403
        assert change(person, ours.people["viewer"], {"active": False}).status_code == 403
    assert change(theirs.people["lead"], lead, {"active": False}).status_code == 404
    mine = {each["id"] for each in signed_in(theirs.people["lead"]).get("/api/v1/people").json()}
    assert mine.isdisjoint(str(each.pk) for each in ours.people.values())


def test_a_lead_changes_the_own_password_and_stays_and_never_the_operators(ours: House) -> None:
    lead, operator = ours.people["lead"], ours.people["technician"]
    client = signed_in(lead)
    said = client.patch(f"/api/v1/people/{lead.pk}", {"password": "copper-elbow-17"}, content_type="application/json")
    assert said.json()["me"] is True
    assert client.get("/api/v1/day").status_code == 200
    Person.objects.filter(pk=operator.pk).update(is_operator=True)
    lead.refresh_from_db()
    assert change(lead, operator, {"password": "copper-elbow-17"}).status_code == 403

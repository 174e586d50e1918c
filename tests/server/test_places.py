"""Sites, systems and instruments made on the spot, sent late and perhaps twice."""

from __future__ import annotations

import uuid
from datetime import timedelta
from typing import Any

import pytest
from django.utils import timezone

from fentro_server.instruments.models import Instrument
from fentro_server.places.models import Site, System
from tests.server.conftest import House, add, new_entry, post, signed_in


def new_site(**more: Any) -> dict[str, Any]:
    return {"id": str(uuid.uuid4()), "name": "Elm Ridge", "elevation_m": 420.0, "climate_zone": "4A", **more}


def new_system(**more: Any) -> dict[str, Any]:
    plate = {"maker": "Harrow", "rated_total_w": 10_551.0}
    return {
        "id": str(uuid.uuid4()),
        "name": "Attic unit",
        "kind": "split_heat_pump",
        "nameplate": plate,
        **more,
    }


def test_a_technician_makes_site_system_and_visit_and_reads_there(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    site = new_site()
    assert post(client, "/api/v1/sites", site).json() == {"id": site["id"], "name": "Elm Ridge"}
    system = new_system()
    assert post(client, f"/api/v1/sites/{site['id']}/systems", system).status_code == 200
    began = (timezone.now() - timedelta(hours=5)).isoformat()
    visit = {"id": str(uuid.uuid4()), "system": system["id"], "opened_at": began}
    page = post(client, "/api/v1/visits", visit).json()
    assert page["head"]["site"] == {"name": "Elm Ridge", "elevation_m": 420.0, "barometer_pa": None, "climate_zone": "4A"}
    assert page["head"]["system"]["nameplate"]["maker"] == "Harrow"
    assert page["opened_at"][:19] == began[:19]
    answer = post(client, f"/api/v1/visits/{visit['id']}/entries", {"entries": [new_entry()]}).json()
    assert len(answer["accepted"]) == 1


def test_sending_twice_makes_once_and_a_namesake_gets_a_number(ours: House) -> None:
    client, lead = signed_in(ours.people["technician"]), signed_in(ours.people["lead"])
    one, other = new_site(), new_site(name=" elm  ridge ".replace("elm  ridge", "Elm Ridge"))
    for _ in range(2):
        assert post(client, "/api/v1/sites", one).json()["name"] == "Elm Ridge"
        assert post(lead, "/api/v1/sites", other).json()["name"] == "Elm Ridge (2)"
    here, there = new_system(), new_system()
    at = f"/api/v1/sites/{one['id']}/systems"
    for _ in range(2):
        assert post(client, at, here).json()["name"] == "Attic unit"
        assert post(lead, at, there).json()["name"] == "Attic unit (2)"
    probe = {"id": str(uuid.uuid4()), "name": "Probe", "accuracy_class": "air_field"}
    for _ in range(2):
        made = post(client, "/api/v1/instruments", probe).json()
        assert (made["name"], made["mine"]) == ("Probe (2)", True)
    assert Site.objects.filter(company=ours.company).count() == 3
    assert System.objects.filter(company=ours.company).count() == 3
    assert Instrument.objects.filter(company=ours.company).count() == 2


@pytest.mark.parametrize(
    ("path", "change", "field"),
    [
        ("sites", {"name": "  "}, "name"),
        ("sites", {"elevation_m": 90_000.0}, "elevation_m"),
        ("sites", {"barometer_pa": 5.0}, "barometer_pa"),
        ("sites", {"climate_zone": "9Z"}, "climate_zone"),
        ("systems", {"kind": "boiler"}, "kind"),
        ("systems", {"nameplate": {"rated_total_w": -1.0}}, "nameplate.rated_total_w"),
        ("systems", {"nameplate": {"colour": "blue"}}, "nameplate.colour"),
    ],
)
def test_what_can_not_be_is_refused_at_its_field(path: str, change: dict[str, Any], field: str, ours: House) -> None:
    client = signed_in(ours.people["technician"])
    given = {**(new_site() if path == "sites" else new_system()), **change}
    answer = post(client, f"/api/v1/{path}" if path == "sites" else f"/api/v1/sites/{ours.site.pk}/systems", given)
    assert answer.status_code == 422
    assert answer.json()["refusals"][0]["path"] == field


def test_nobody_makes_anything_elsewhere_or_without_the_role(ours: House, theirs: House) -> None:
    viewer, client = signed_in(ours.people["viewer"]), signed_in(ours.people["technician"])
    at, elsewhere = (f"/api/v1/sites/{house.site.pk}/systems" for house in (ours, theirs))
    for path, given in (("/api/v1/sites", new_site()), (at, new_system())):
        assert post(viewer, path, given).status_code == 403
    assert post(client, elsewhere, new_system()).status_code == 404
    assert post(client, "/api/v1/sites", new_site(id=str(theirs.site.pk))).status_code == 409
    assert post(client, at, new_system(id=str(theirs.system.pk))).status_code == 409
    taken = {"id": str(theirs.instrument.pk), "name": "Probe 7", "accuracy_class": "air_field"}
    assert post(client, "/api/v1/instruments", taken).status_code == 409


@pytest.mark.parametrize("away", [timedelta(days=-1), timedelta(days=40)])
def test_a_visit_begins_now_where_the_devices_clock_can_not_be_right(away: timedelta, ours: House) -> None:
    client = signed_in(ours.people["technician"])
    given = {"id": str(uuid.uuid4()), "system": str(ours.system.pk), "opened_at": (timezone.now() - away).isoformat()}
    opened = post(client, "/api/v1/visits", given).json()["opened_at"]
    assert abs(timezone.datetime.fromisoformat(opened) - timezone.now()) < timedelta(minutes=1)  # type: ignore[attr-defined]


def test_a_page_of_a_system_is_enough_to_begin_a_visit_with(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    add(client, ours.visit, new_entry())
    page = client.get(f"/api/v1/visits/{ours.visit.pk}").json()
    system = client.get(f"/api/v1/systems/{ours.system.pk}").json()
    assert {key: page["head"][key] for key in ("format", "version", "site", "system")} == system["head"]


# set right later


def put(person: Any, path: str, body: Any) -> Any:
    return signed_in(person).put(path, body, content_type="application/json")


PLATE = {"rated_total_w": 14_068.0, "maker": "Harrow"}


def test_a_nameplate_corrected_on_a_visit_counts_from_then_on_everywhere(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    was = {"name": "Furnace", "kind": "furnace_with_coil", "nameplate": {"rated_total_w": 10_551.0}}
    right = {"name": "Furnace two", "kind": "furnace_with_coil", "location": " attic ", "nameplate": PLATE, "was": was}
    site = {"name": "Old mill", "elevation_m": 1_200.0, "was": {"name": "Mill", "elevation_m": 300.0}}
    answer = add(client, ours.visit, new_entry("corrected_system", right), new_entry("corrected_site", site)).json()
    assert answer["refused"] == []
    assert answer["visit"]["head"]["system"] == {
        "name": "Furnace two",
        "kind": "furnace_with_coil",
        "nameplate": PLATE,
        "location": "attic",
    }
    assert answer["visit"]["head"]["site"]["elevation_m"] == 1_200.0
    assert answer["visit"]["work_up"]["pressure"]["value"] == pytest.approx(87_715.0, abs=60), "worked out at once with it"
    assert answer["visit"]["entries"][0]["body"]["was"] == was, "the record says what stood there"
    page = client.get(f"/api/v1/systems/{ours.system.pk}").json()
    assert (page["system"]["name"], page["system"]["location"], page["system"]["site"]) == ("Furnace two", "attic", "Old mill")


def test_a_system_that_is_another_kind_takes_readings_of_its_stations_in_the_same_batch(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    mixed = new_entry(body={"station": "mixed", "quantity": "dry_bulb", "value": 20.0, "unit": "degC"})
    (refused,) = add(client, ours.visit, mixed).json()["refused"]
    assert "station" in refused["refusal"]["path"]
    rooftop = {"name": "Furnace", "kind": "packaged_rooftop", "nameplate": {"economizer": True}}
    answer = add(client, ours.visit, new_entry("corrected_system", rooftop), mixed).json()
    assert answer["refused"] == []
    assert answer["visit"]["work_up"]["phases"][0]["stations"]


@pytest.mark.parametrize(
    ("kind", "body", "path"),
    [
        ("corrected_system", {"name": " ", "kind": "furnace_with_coil"}, "body.name"),
        ("corrected_system", {"name": "x" * 101, "kind": "furnace_with_coil"}, "body.name"),
        ("corrected_system", {"name": "A", "kind": "boat"}, "body.kind"),
        ("corrected_system", {"name": "A", "kind": "furnace_with_coil", "location": "x" * 201}, "body.location"),
        (
            "corrected_system",
            {"name": "A", "kind": "furnace_with_coil", "nameplate": {"rated_total_w": -1.0}},
            "body.nameplate.rated_total_w",
        ),
        ("corrected_system", {"name": "A", "kind": "furnace_with_coil", "was": {"x": "y" * 500_000}}, "body.was"),
        ("corrected_site", {"name": "A", "elevation_m": 99_000.0}, "body.elevation_m"),
        ("corrected_site", {"name": "A", "climate_zone": "9Z"}, "body.climate_zone"),
    ],
)
def test_what_no_system_or_site_is_is_refused_at_its_field(ours: House, kind: str, body: Any, path: str) -> None:
    (refused,) = add(signed_in(ours.people["technician"]), ours.visit, new_entry(kind, body)).json()["refused"]
    assert refused["refusal"]["path"] == path
    ours.system.refresh_from_db()
    assert ours.system.name == "Furnace"


def test_a_lead_sets_a_system_and_a_site_right(ours: House, theirs: House) -> None:
    lead = ours.people["lead"]
    System.objects.create(company=ours.company, site=ours.site, name="Loft", kind="furnace_with_coil")
    system, site = f"/api/v1/systems/{ours.system.pk}/nameplate", f"/api/v1/sites/{ours.site.pk}"
    body = {"name": " Loft ", "kind": "furnace_with_coil", "location": "loft", "nameplate": PLATE}
    assert put(lead, system, body).json()["name"] == "Loft (2)"
    assert put(lead, system, {**body, "name": "Loft (2)"}).json()["name"] == "Loft (2)", "its own name is free for it"
    assert put(lead, site, {"name": "Mill", "barometer_pa": 95_000.0, "climate_zone": "5B"}).status_code == 200
    page = signed_in(lead).get(f"/api/v1/systems/{ours.system.pk}").json()
    assert page["head"]["system"]["nameplate"] == PLATE
    assert page["head"]["site"] == {"name": "Mill", "elevation_m": 0.0, "barometer_pa": 95_000.0, "climate_zone": "5B"}
    wrong = put(lead, site, {"name": "Mill", "barometer_pa": 5.0}).json()
    assert wrong["refusals"][0]["path"] == "barometer_pa"
    assert put(lead, system, {**body, "kind": "boat"}).json()["refusals"][0]["path"] == "kind"
    for person in (ours.people["technician"], ours.people["viewer"]):
        assert put(person, system, body).status_code == 403
        assert put(person, site, {"name": "Mill"}).status_code == 403
    assert put(theirs.people["lead"], system, body).status_code == 404
    assert put(theirs.people["lead"], site, {"name": "Mill"}).status_code == 404


def test_what_is_set_right_counts_where_no_such_name_is_free(ours: House) -> None:
    for number in range(1, 50):
        name = "Unit" if number == 1 else f"Unit ({number})"
        System.objects.create(company=ours.company, site=ours.site, name=name, kind="furnace_with_coil")
    body = {"name": "Unit", "kind": "furnace_with_coil", "location": "loft", "nameplate": PLATE}
    reading = new_entry()
    answer = add(signed_in(ours.people["technician"]), ours.visit, new_entry("corrected_system", body), reading).json()
    assert answer["refused"] == [], "and holds up nothing"
    ours.system.refresh_from_db()
    assert (ours.system.name, ours.system.location, ours.system.nameplate) == ("Furnace", "loft", PLATE)

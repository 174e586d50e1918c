"""A visit that was begun at a unit made on the spot is moved to the one it is at."""

from __future__ import annotations

import uuid
from typing import Any

import pytest

from fentro_server.places.models import System
from fentro_server.visits.models import Visit
from tests.server.conftest import House, add, new_entry, post, signed_in


@pytest.fixture
def spot(ours: House) -> System:
    """A unit made on the spot, and a visit begun at it."""
    made = System.objects.create(company=ours.company, site=ours.site, name="Unit, not named yet", kind=ours.system.kind)
    ours.visit.system = made
    ours.visit.save()
    return made


def moved(to: Any, **more: Any) -> dict[str, Any]:
    return new_entry("known_system", {"system_id": str(to), "name": "Furnace", "site": "Mill", "was": "Unit", **more})


def test_readings_go_with_the_visit_and_the_unit_made_for_it_leaves_the_lists(ours: House, spot: System) -> None:
    client = signed_in(ours.people["technician"])
    answer = add(client, ours.visit, new_entry(), moved(ours.system.pk, same=True), new_entry()).json()
    assert answer["refused"] == []
    assert answer["visit"]["system"]["id"] == str(ours.system.pk)
    assert answer["visit"]["head"]["system"]["name"] == ours.system.name
    assert len(answer["visit"]["entries"]) == 3
    ours.visit.refresh_from_db()
    assert ours.visit.system_id == ours.system.pk
    listed = [each["id"] for each in client.get("/api/v1/day").json()["systems"]]
    assert (str(ours.system.pk) in listed, str(spot.pk) in listed) == (True, False)
    assert [each["id"] for each in client.get(f"/api/v1/systems/{ours.system.pk}").json()["visits"]] == [str(ours.visit.pk)]


def test_a_visit_begun_elsewhere_meanwhile_finds_the_right_system_and_a_repeat_is_harmless(ours: House, spot: System) -> None:
    client = signed_in(ours.people["technician"])
    add(client, ours.visit, moved(ours.system.pk, same=True))
    late = {"id": str(uuid.uuid4()), "system": str(spot.pk)}
    for _ in range(2):
        assert post(client, "/api/v1/visits", late).json()["system"]["id"] == str(ours.system.pk)
    again = {"id": str(ours.visit.pk), "system": str(spot.pk)}
    assert post(client, "/api/v1/visits", again).status_code == 200, "the device did not hear the answer when it began"


def test_a_system_of_other_visits_or_a_wrong_choice_stays_on_the_list(ours: House, spot: System) -> None:
    client = signed_in(ours.people["technician"])
    add(client, ours.visit, moved(ours.system.pk))
    spot.refresh_from_db()
    assert spot.same_as is None, "nobody said that it was made for this visit"
    Visit.objects.create(
        company=ours.company, system=ours.system, technician=ours.people["technician"], opened_at=ours.visit.opened_at
    )
    add(client, ours.visit, moved(spot.pk, same=True))
    ours.system.refresh_from_db()
    assert ours.system.same_as is None, "another visit is at it"


def test_another_companys_system_another_kind_and_none_are_refused(ours: House, theirs: House, spot: System) -> None:
    client = signed_in(ours.people["technician"])
    other = System.objects.create(company=ours.company, site=ours.site, name="Roof", kind="packaged_rooftop")
    for to, says in ((theirs.system.pk, "no such system"), (other.pk, "another kind"), ("boat", "from the list")):
        (refused,) = add(client, ours.visit, moved(to)).json()["refused"]
        assert says in refused["refusal"]["sentence"]["text"]
        assert refused["refusal"]["path"] == "body.system_id"
    ours.visit.refresh_from_db()
    assert ours.visit.system_id == spot.pk

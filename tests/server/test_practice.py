"""Practising on a made-up system: begun, finished like any visit, and deleted; what is real stays."""

from __future__ import annotations

import dataclasses
import hashlib
import uuid
from typing import Any

import pytest
from django.db import ProgrammingError, connection, transaction

from fentro_server.accounts.models import Role
from fentro_server.audit.models import Event
from fentro_server.photos.models import Photo
from fentro_server.places.models import Site, System
from fentro_server.records.models import Edition
from fentro_server.visits.models import Entry, Visit
from fentro_server.visits.practice import NAME, READINGS
from tests.server.conftest import House, add, new_entry, post, signed_in
from tests.server.test_photos import keep, picture
from tests.server.test_records import sign

PICTURE = picture()


def begun(house: House, role: str = Role.TECHNICIAN) -> str:
    found: str = post(signed_in(house.people[role]), "/api/v1/practice", {}).json()["visit"]
    return found


def deleted(house: House) -> Any:
    return signed_in(house.people[Role.LEAD]).delete("/api/v1/practice").json()


def day(house: House) -> dict[str, Any]:
    found: dict[str, Any] = signed_in(house.people[Role.TECHNICIAN]).get("/api/v1/day").json()
    return found


def test_a_practice_is_begun_and_lacks_only_the_supply(ours: House) -> None:
    visit = begun(ours)
    page = signed_in(ours.people[Role.TECHNICIAN]).get(f"/api/v1/visits/{visit}").json()
    assert page["system"]["practice"] is True
    assert len(page["entries"]) == len(READINGS) + 1
    left = {step["id"]: step["left"] for step in page["work_up"]["route"]}
    assert left["measure"] == ["Supply: dry bulb and humidity"]


def test_with_the_supply_of_the_tour_the_unit_is_sound(ours: House) -> None:
    visit = Visit.objects.get(pk=begun(ours))
    client = signed_in(ours.people[Role.TECHNICIAN])
    supply = {"station": "supply", "unit": "degC", "quantity": "dry_bulb", "value": 12.2}
    humid = {"station": "supply", "unit": "percent", "quantity": "relative_humidity", "value": 92.0}
    page = add(client, visit, new_entry(body=supply), new_entry(body=humid)).json()["visit"]
    (split,) = [line for line in page["work_up"]["phases"][0]["verdicts"] if line["key"] == "split"]
    assert split["mark"] in ("holds", "watch"), split


def test_once_begun_it_goes_on_and_each_has_their_own(ours: House) -> None:
    first = begun(ours)
    assert begun(ours) == first
    assert begun(ours, Role.LEAD) != first
    assert System.objects.filter(name="Practice unit").count() == 1


def finished(house: House) -> Visit:
    """A practice visit with a photo, closed and signed."""
    person, visit = house.people[Role.TECHNICIAN], Visit.objects.get(pk=begun(house))
    there = dataclasses.replace(house, visit=visit)
    assert keep(person, there, PICTURE).status_code == 200
    show(there)
    add(signed_in(person), visit, new_entry("closing", {"summary": "All well"}))
    assert sign(person, there).status_code == 200
    return visit


def show(house: House) -> None:
    photo = new_entry("photo", {"of": "nameplate", "sha256": hashlib.sha256(PICTURE).hexdigest()})
    assert add(signed_in(house.people[Role.TECHNICIAN]), house.visit, photo).json()["accepted"]


def test_deleted_nothing_of_it_stays_but_that_it_was(ours: House, theirs: House) -> None:
    finished(ours)
    begun(theirs)
    assert "Practice unit" in [each["name"] for each in day(ours)["systems"]]
    assert deleted(ours) == {"visits": 1}
    for table in (Visit, Site):
        assert not table.objects.filter(company=ours.company, practice=True).exists()
    assert not Entry.objects.exclude(visit=ours.visit).filter(visit__company=ours.company).exists()
    assert not Edition.objects.filter(company=ours.company).exists()
    assert not Photo.objects.filter(company=ours.company).exists()
    assert [each["name"] for each in day(ours)["systems"]] == ["Furnace"]
    told = Event.objects.filter(company=ours.company)
    assert told.filter(what="company", about="Deleted the practice, visits: 1").count() == 1
    assert told.filter(what="signed").exists(), "who did what stays told"
    assert "Practice unit" in [each["name"] for each in day(theirs)["systems"]], "another company's stays"
    assert deleted(ours) == {"visits": 0}
    begun(ours)
    assert Site.objects.get(company=ours.company, practice=True).name == NAME


def test_a_photo_that_a_real_visit_shows_too_stays(ours: House) -> None:
    finished(ours)
    show(ours)
    deleted(ours)
    assert Photo.objects.get(company=ours.company).visit_id == ours.visit.pk


def test_a_technician_deletes_nothing(ours: House) -> None:
    begun(ours)
    assert signed_in(ours.people[Role.TECHNICIAN]).delete("/api/v1/practice").status_code == 403
    assert Visit.objects.filter(practice=True).count() == 1


def test_what_is_real_is_never_deleted(ours: House) -> None:
    add(signed_in(ours.people[Role.TECHNICIAN]), ours.visit, new_entry())
    begun(ours)
    System.objects.filter(pk=ours.visit.system_id).update(site=Site.objects.get(practice=True))
    assert deleted(ours) == {"visits": 1}
    assert Entry.objects.filter(visit=ours.visit).exists()
    assert System.objects.filter(pk=ours.visit.system_id).exists()


@pytest.mark.parametrize(
    "sql",
    [
        "select fentro_delete_practice('{visit}')",
        "delete from visits_visit where id = '{visit}'",
        "update visits_visit set practice = true where id = '{visit}'",
        "update visits_visit set id = '{other}' where id = '{visit}'",
        "delete from visits_entry where visit_id = '{visit}'",
        "update visits_entry set number = 9 where visit_id = '{practice}'",
    ],
)
def test_the_database_keeps_what_is_real(ours: House, sql: str) -> None:
    add(signed_in(ours.people[Role.TECHNICIAN]), ours.visit, new_entry())
    practice = begun(ours)
    with pytest.raises(ProgrammingError), transaction.atomic(), connection.cursor() as cursor:
        cursor.execute(sql.format(visit=ours.visit.pk, other=uuid.uuid4(), practice=practice))
    assert Entry.objects.filter(visit=ours.visit).count() == 1


def test_no_visit_moves_into_practice_or_out_of_it(ours: House) -> None:
    client = signed_in(ours.people[Role.TECHNICIAN])
    practice = Visit.objects.get(pk=begun(ours))
    System.objects.filter(pk=practice.system_id).update(kind=ours.visit.system.kind)
    for visit, to in ((ours.visit, practice.system_id), (practice, ours.visit.system_id)):
        known = new_entry(
            "known_system", {"system_id": str(to), "name": "Furnace", "site": "Mill", "was": "Unit"}, reason="Wrong one"
        )
        refused = add(client, visit, known).json()["refused"]
        assert "Practice is made up" in refused[0]["refusal"]["sentence"]["text"], refused


def test_no_real_system_is_put_at_the_practice_site(ours: House) -> None:
    begun(ours)
    site = Site.objects.get(practice=True)
    new = {"id": str(uuid.uuid4()), "name": "Real", "kind": "packaged_rooftop", "location": "", "nameplate": {}}
    answer = post(signed_in(ours.people[Role.TECHNICIAN]), f"/api/v1/sites/{site.pk}/systems", new)
    assert answer.status_code == 422
    assert "made up" in answer.json()["detail"]

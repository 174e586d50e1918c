"""Practising on a made-up system: begun, finished like any visit, and put away."""

from __future__ import annotations

from typing import Any

from fentro_server.accounts.models import Role
from fentro_server.places.models import Site, System
from fentro_server.visits.models import Visit
from fentro_server.visits.practice import READINGS
from tests.server.conftest import House, add, new_entry, post, signed_in


def begun(house: House, role: str = Role.TECHNICIAN) -> str:
    found: str = post(signed_in(house.people[role]), "/api/v1/practice", {}).json()["visit"]
    return found


def put_away(house: House) -> Any:
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


def test_put_away_it_is_in_no_list_and_the_next_one_begins_anew(ours: House, theirs: House) -> None:
    visit = begun(ours)
    begun(theirs)
    names = [each["name"] for each in day(ours)["systems"]]
    assert "Practice unit" in names
    assert put_away(ours) == {"sites": 1}
    assert [each["name"] for each in day(ours)["systems"]] == ["Furnace"]
    assert visit not in [each["id"] for each in day(ours)["open"]]
    assert Visit.objects.get(pk=visit).closed_at is not None
    assert put_away(ours) == {"sites": 0}
    assert begun(ours) != visit
    assert Site.objects.filter(company=ours.company, practice=True).count() == 2
    assert "Practice unit" in [each["name"] for each in day(theirs)["systems"]], "another company's stays"


def test_real_sites_are_never_put_away(ours: House) -> None:
    put_away(ours)
    assert day(ours)["open"]
    assert [each["name"] for each in day(ours)["systems"]] == ["Furnace"]

"""A system over its visits: indices, sisters of the same maker and model, nothing of another company, drift in words."""

from __future__ import annotations

import uuid
from datetime import timedelta
from typing import Any

import pytest
from django.utils import timezone

from fentro_server.places.models import System
from fentro_server.visits.models import Visit
from tests.server.conftest import House, add, new_entry, signed_in

PLATE = {"rated_total_w": 10551.0, "rated_airflow_m3s": 0.566, "maker": "Norrand", "model": "N-3"}


def measured(
    house: House, system: System, days_ago: float, supply_c: float, phase: str = "as_found", visit: Visit | None = None
) -> Visit:
    """A visit of that day with return, supply, outdoor and airflow read."""
    visit = visit or Visit.objects.create(
        id=uuid.uuid4(),
        company=house.company,
        system=system,
        technician=house.people["technician"],
        opened_at=timezone.now() - timedelta(days=days_ago),
    )
    numbers = [
        ("return", "dry_bulb", 25.0, "degC"),
        ("return", "relative_humidity", 50, "percent"),
        ("supply", "dry_bulb", supply_c, "degC"),
        ("supply", "relative_humidity", 88, "percent"),
        ("outdoor", "dry_bulb", 33.0, "degC"),
        ("return", "airflow", 0.566, "m3/s"),
    ]
    entries = [
        new_entry(
            body={
                "station": station,
                "quantity": quantity,
                "value": value,
                "unit": unit,
                **({"plus_minus": 0.01} if unit == "m3/s" else {}),
            },
            phase=phase,
        )
        for station, quantity, value, unit in numbers
    ]
    assert add(signed_in(house.people["lead"]), visit, *entries).json()["refused"] == []
    return visit


def asked(house: House, system: System) -> dict[str, Any]:
    answer = signed_in(house.people["viewer"]).get(f"/api/v1/systems/{system.pk}/history")
    assert answer.status_code == 200
    return answer.json()


@pytest.fixture
def system(ours: House) -> System:
    """One without a visit."""
    made: System = System.objects.create(
        company=ours.company, site=ours.site, name="Unit", kind=ours.system.kind, nameplate=PLATE
    )
    return made


def test_visits_come_oldest_first_with_half_widths_and_a_falling_one_is_watched(ours: House, system: System) -> None:
    for days_ago, supply in ((10, 19.0), (400, 12.9), (270, 14.6), (140, 16.8)):
        measured(ours, system, days_ago, supply)
    page = asked(ours, system)
    shares = [visit["values"]["capacity_share"] for visit in page["system"]["visits"]]
    assert [share["value"] for share in shares] == sorted((share["value"] for share in shares), reverse=True)
    assert all(share["plus_minus"] > 0 for share in shares)
    index = next(each for each in page["indices"] if each["key"] == "capacity_share")
    assert index["mark"] == "watch"
    assert index["sentence"]["text"].startswith("Falling")
    assert all(visit["split"] and visit["capacity"] for visit in page["system"]["visits"])


def test_a_visit_counts_as_it_was_left(ours: House, system: System) -> None:
    for days_ago in (400, 200):
        measured(ours, system, days_ago, 12.9)
    last = measured(ours, system, 5, 19.0)
    assert next(each for each in asked(ours, system)["indices"] if each["key"] == "split_residual")["mark"] is None, (
        "too few sure ones"
    )
    measured(ours, system, 5, 12.9, "as_left", last)
    page = asked(ours, system)
    assert [visit["phase"] for visit in page["system"]["visits"]][-2:] == ["as_found", "as_left"]
    assert next(each for each in page["indices"] if each["key"] == "split_residual")["sentence"]["text"].startswith("No drift")


def test_sisters_are_of_the_same_maker_and_model_in_this_company(ours: House, theirs: House, system: System) -> None:
    sister = System.objects.create(company=ours.company, site=ours.site, name="Sister", kind=system.kind, nameplate=PLATE)
    System.objects.create(
        company=ours.company, site=ours.site, name="Other", kind=system.kind, nameplate={**PLATE, "model": "N-4"}
    )
    System.objects.create(company=theirs.company, site=theirs.site, name="Foreign", kind=system.kind, nameplate=PLATE)
    measured(ours, sister, 30, 13.0)
    page = asked(ours, system)
    assert [each["name"] for each in page["sisters"]] == ["Sister"]
    assert len(page["sisters"][0]["visits"]) == 1
    assert page["indices"] == [], "a system without visits of its own has nothing to follow"


def test_without_maker_or_model_nobody_is_a_sister(ours: House, system: System) -> None:
    system.nameplate = {"rated_total_w": 10551.0}
    system.save()
    System.objects.create(company=ours.company, site=ours.site, name="Bare", kind=system.kind, nameplate={"rated_total_w": 1.0})
    assert asked(ours, system)["sisters"] == []


def test_the_number_of_queries_does_not_grow_with_visits(ours: House, system: System, django_assert_max_num_queries: Any) -> None:
    for days_ago in (300, 200, 100, 50):
        measured(ours, system, days_ago, 13.0)
    client = signed_in(ours.people["viewer"])
    with django_assert_max_num_queries(9):
        client.get(f"/api/v1/systems/{system.pk}/history")

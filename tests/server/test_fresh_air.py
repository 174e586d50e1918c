"""Fresh air on the server: what a closed visit leaves to the next, and the calendar file for its filters."""

from __future__ import annotations

from typing import Any

from tests.server.conftest import House, add, new_entry, signed_in

CHART = [{"port_pa": 20.0, "airflow_m3s": 0.041}, {"port_pa": 120.0, "airflow_m3s": 0.103}]
DWELLING = {"dwelling": {"floor_area_m2": 161.65, "bedrooms": 3}, "edition": "2010"}


def control(stage: str, **said: Any) -> dict[str, Any]:
    return new_entry("ventilator_control", {"stage": stage, "control": said})


def said(house: House, *entries: dict[str, Any]) -> None:
    answer = add(signed_in(house.people["technician"]), house.visit, *entries).json()
    assert answer["refused"] == []


def filters(house: House) -> str:
    answer = signed_in(house.people["technician"]).get(f"/api/v1/visits/{house.visit.pk}/filters.ics")
    assert answer["Content-Type"].startswith("text/calendar")
    return answer.content.decode().replace("\r\n ", "")


def test_the_filters_come_again_as_the_card_says(house: House) -> None:
    assert "RRULE:FREQ=MONTHLY;INTERVAL=3" in filters(house)
    said(house, control("found", filter_months=12), control("planned", minutes_per_hour=20.0))
    assert "INTERVAL=12" in filters(house)
    said(house, control("left", filter_months=6))
    assert "INTERVAL=6" in filters(house)
    assert f"SUMMARY:Filters: {house.system.name}" in filters(house)


def test_a_closed_visit_leaves_dwelling_ventilator_and_setting_to_the_next(house: House) -> None:
    said(
        house,
        new_entry("dwelling", DWELLING),
        new_entry("ventilator", {"kind": "supply", "model": "FV-60", "chart": CHART}),
        control("found", minutes_per_hour=10.0),
        control("left", minutes_per_hour=20.0, low_c=-12.0),
    )
    house.system.refresh_from_db()
    assert "fresh_air" not in house.system.nameplate, "not before it is closed"
    said(house, new_entry("closing", {"summary": "done"}))
    house.system.refresh_from_db()
    kept = house.system.nameplate["fresh_air"]
    assert kept["dwelling"]["bedrooms"] == 3
    assert kept["edition"] == "2010"
    assert kept["ventilator"]["model"] == "FV-60"
    assert kept["control"]["minutes_per_hour"] == 20.0
    assert kept["control"]["low_c"] == -12.0


def test_a_visit_without_a_word_of_it_leaves_the_nameplate_alone(house: House) -> None:
    before = dict(house.system.nameplate)
    said(house, new_entry("note", {"text": "all well"}), new_entry("closing", {"summary": "done"}))
    house.system.refresh_from_db()
    assert house.system.nameplate == before

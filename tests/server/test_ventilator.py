"""A ventilator's control over HTTP: connected, held with its ledger, silent; against the real simulated one."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from django.test import Client

from fentro_core.logbook.entry import standing
from fentro_core.logbook.temporary import ledger
from fentro_server.controllers import ventilator as seam
from fentro_server.demo import fresh_air as demo
from fentro_server.gateways.models import Gateway
from fentro_server.visits.kept import read_row
from fentro_server.visits.models import Entry
from tests.patience import caller
from tests.server.conftest import House, add, new_entry, post, signed_in
from tools.standins import Devices


@pytest.fixture(scope="module")
def gateway(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    ventilators = Devices(Path(tmp_path_factory.mktemp("ventilators"))).named("ventilator")
    ventilators.start()
    yield ventilators.url
    ventilators.end()


@pytest.fixture
def dwelling(house: House, gateway: str) -> House:
    """The demo's ventilator at the house, its control connected."""
    at = f"{gateway}/v1/ventilators/FA-1/scene"
    caller.post(at, json={"speed": 60, "reachable": True, "preset": ""}).raise_for_status()
    said = [new_entry(kind, body, phase=phase) for _, kind, body, phase in demo.measured(0)]
    assert add(signed_in(house.people["technician"]), house.visit, *said).json()["refused"] == []
    Gateway.objects.create(company=house.company, kind="ventilators", name="Ventilators", address=gateway)
    return house


@pytest.fixture
def client(house: House) -> Client:
    return signed_in(house.people["technician"])


def at(house: House, what: str = "") -> str:
    return f"/api/v1/visits/{house.visit.pk}/ventilator{what}"


def open_changes(house: House) -> list[str]:
    rows = Entry.objects.filter(visit=house.visit).in_order()
    return [change.what for change in ledger(standing([read_row(row).entry for row in rows]))]


def words(answer: Any) -> str:
    return str(answer.json()["refusals"][0]["sentence"]["text"])


def later(client: Client, house: House, seconds: float) -> Any:
    """The control after so long by its own clock."""
    began = client.get(at(house)).json()["time_s"]
    deadline = time.monotonic() + 30
    while time.monotonic() < deadline:
        found = client.get(at(house)).json()
        if found["time_s"] > began + seconds:
            return found
        time.sleep(0.1)
    raise AssertionError("its clock stands")


def test_the_control_is_shown_set_as_the_visit_says(dwelling: House, client: Client) -> None:
    found = client.get(at(dwelling)).json()
    assert (found["connected"], found["simulated"], found["name"]) == (True, True, "FA-1")
    assert found["settings"]["minutes_per_hour"] == 15.0
    assert found["settings"]["filter_months"] == 12


def test_what_is_held_stands_in_the_ledger_and_is_let_go_once_the_control_confirms(dwelling: House, client: Client) -> None:
    post(client, at(dwelling, "/hold"), {"points": {"run": 1.0, "outdoor_c": 15.0}})
    assert sorted(open_changes(dwelling)) == [
        "Ventilator called at its control",
        "Ventilator's outdoor temperature held at 15.0 °C (59.0 °F)",
    ]
    post(client, at(dwelling, "/hold"), {"points": {"run": 1.0, "outdoor_c": -20.0}})
    assert len(open_changes(dwelling)) == 2, "what is open is not opened twice"
    found = later(client, dwelling, 120)
    assert (found["locked"], found["fan"]) == ("low", False)
    answer = post(client, at(dwelling, "/release"), {}).json()
    assert (answer["held"], answer["not_released"]) == ({}, [])
    assert open_changes(dwelling) == []


def test_a_walk_around_the_simulated_one_finds_air_and_its_ports_drop(dwelling: House, client: Client) -> None:
    post(client, at(dwelling, "/hold"), {"points": {"run": 1.0, "outdoor_c": 15.0}})
    later(client, dwelling, 120)
    look = client.get(at(dwelling, "/look")).json()
    assert (look["fan"], look["damper"], look["air"]) == ("runs", "open", {"fresh": "right", "stale": "right"})
    assert 20 < look["port_pa"]["fresh"] < 170
    post(client, at(dwelling, "/release"), {})


def test_settings_are_entered_at_the_control(dwelling: House, client: Client) -> None:
    answer = post(client, at(dwelling, "/settings"), {"control": {"minutes_per_hour": 45.0, "boost_min": 60.0}}).json()
    assert answer["settings"]["minutes_per_hour"] == 45.0
    refused = post(client, at(dwelling, "/settings"), {"control": {"minutes_per_hour": 90.0}})
    assert refused.status_code == 422
    assert refused.json()["refusals"][0]["path"] == "control.minutes_per_hour"
    assert client.get(at(dwelling)).json()["settings"]["minutes_per_hour"] == 45.0
    boosted = post(client, at(dwelling, "/boost"), {}).json()
    assert boosted["boost_left_s"] > 3000


def test_a_silent_control_leaves_the_ledger_open(dwelling: House, client: Client) -> None:
    post(client, at(dwelling, "/hold"), {"points": {"run": 0.0}})
    assert post(client, at(dwelling, "/scene"), {"reachable": False}).json()["connected"] is False
    found = client.get(at(dwelling)).json()
    assert "does not answer" in found["words"]
    assert found["simulated"], "so that it can be brought back"
    refused = post(client, at(dwelling, "/release"), {})
    assert refused.status_code == 422
    assert open_changes(dwelling) == ["Ventilator kept from running at its control"]


def test_a_point_that_no_control_has_and_a_value_out_of_range_are_refused(dwelling: House, client: Client) -> None:
    assert words(post(client, at(dwelling, "/hold"), {"points": {"roof": 1.0}})) == "The control has no such point."
    refused = post(client, at(dwelling, "/hold"), {"points": {"outdoor_c": 900.0}})
    assert words(refused) == "It lies between -60 and 70."
    assert open_changes(dwelling) == [], "what the control refused is not open"


def test_another_fault_is_chosen(dwelling: House, client: Client) -> None:
    answer = post(client, at(dwelling, "/scene"), {"preset": "fan_dead"}).json()
    assert answer["preset"] == "fan_dead"
    post(client, at(dwelling, "/hold"), {"points": {"run": 1.0, "outdoor_c": 15.0}})
    assert client.get(at(dwelling, "/look")).json()["fan"] == "stands"
    post(client, at(dwelling, "/release"), {})


def test_without_a_ventilator_a_name_or_a_gateway_it_says_so(house: House, client: Client) -> None:
    assert "Say first what brings the fresh air in" in client.get(at(house)).json()["words"]
    add(client, house.visit, new_entry("ventilator", {"kind": "supply"}))
    assert "No control is named" in client.get(at(house)).json()["words"]
    add(client, house.visit, new_entry("ventilator", {"kind": "supply", "control_name": "FA-1"}))
    assert "no gateway of ventilators" in client.get(at(house)).json()["words"]
    assert post(client, at(house, "/hold"), {"points": {"run": 1.0}}).status_code == 422


def test_what_is_held_is_said_in_both_systems_of_units() -> None:
    assert seam.held_words("indoor_rh", 0.6) == "Ventilator's indoor humidity held at 60 %"
    assert seam.held_words("dew_point_c", 16.0) == "Ventilator's outdoor dew point held at 16.0 °C (60.8 °F)"

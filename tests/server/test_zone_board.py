"""A zone board over HTTP: connected, held with its ledger, silent; against the real simulated board."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from django.test import Client

from fentro_core.logbook.entry import standing
from fentro_core.logbook.temporary import ledger
from fentro_server.demo import ducts as demo
from fentro_server.gateways.models import Gateway
from fentro_server.visits.kept import read_row
from fentro_server.visits.models import Entry
from tests.patience import caller
from tests.server.conftest import House, add, new_entry, post, signed_in
from tools.standins import Devices


@pytest.fixture(scope="module")
def gateway(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    boards = Devices(Path(tmp_path_factory.mktemp("boards"))).named("zones")
    boards.start()
    yield boards.url
    boards.end()


@pytest.fixture
def zoned(house: House, gateway: str) -> House:
    """The demo's ducts and zones at the house, its board connected."""
    caller.post(f"{gateway}/v1/boards/ZB-1/scene", json={"speed": 60, "reachable": True}).raise_for_status()
    house.system.nameplate = {"rated_airflow_m3s": 0.566, "max_external_static_pa": 150}
    house.system.save()
    entries = [
        *(new_entry("duct_trunk", dict(trunk)) for trunk in demo.TRUNKS),
        *(new_entry("duct_branch", demo.branch(row)) for row in demo.BRANCHES),
        *(new_entry("zone", dict(zone)) for zone in demo.ZONES),
        new_entry("zone_hardware", {"board": "ZB-1"}),
    ]
    assert add(signed_in(house.people["technician"]), house.visit, *entries).json()["refused"] == []
    Gateway.objects.create(company=house.company, kind="zone_boards", name="Boards", address=gateway)
    return house


@pytest.fixture
def client(house: House) -> Client:
    return signed_in(house.people["technician"])


def at(house: House, what: str = "") -> str:
    return f"/api/v1/visits/{house.visit.pk}/zone-board{what}"


def open_changes(house: House) -> list[str]:
    rows = Entry.objects.filter(visit=house.visit).in_order()
    return [change.what for change in ledger(standing([read_row(row).entry for row in rows]))]


def words(answer: Any) -> str:
    return str(answer.json()["refusals"][0]["sentence"]["text"])


def settled(client: Client, house: House) -> Any:
    """The board after the longest travel of a damper, by its own clock."""
    began = client.get(at(house)).json()["time_s"]
    deadline = time.monotonic() + 30
    while time.monotonic() < deadline:
        found = client.get(at(house)).json()
        if found["time_s"] > began + 150:
            return found
        time.sleep(0.2)
    raise AssertionError("its clock stands")


def test_the_board_is_shown_with_the_zones_of_the_plan(zoned: House, client: Client) -> None:
    found = client.get(at(zoned)).json()
    assert found["connected"]
    assert found["simulated"]
    assert [(zone["number"], zone["name"]) for zone in found["zones"]] == [
        (1, "Press room"),
        (2, "Bindery"),
        (3, "Shop"),
        (4, "Paper store"),
    ]
    assert found["volts"] > 20


def test_zones_are_held_in_the_ledger_and_let_go_once_the_board_confirms(zoned: House, client: Client) -> None:
    answer = post(client, at(zoned, "/call"), {"zones": ["zone-shop"]}).json()
    assert [zone["calls"] for zone in answer["zones"]] == [False, False, True, False]
    assert sorted(open_changes(zoned)) == sorted(f"{zone['name']} held at the zone board" for zone in demo.ZONES)
    post(client, at(zoned, "/call"), {"zones": ["zone-press"]})
    assert len(open_changes(zoned)) == 4, "what is open is not opened twice"
    assert [zone["indicator"] for zone in settled(client, zoned)["zones"]] == ["open", "shut", "shut", "shut"]
    look = client.get(at(zoned, "/look")).json()
    assert look["air"]["press-north"] == "air"
    assert look["air"]["shop-front"] in ("none", "little")
    answer = post(client, at(zoned, "/release"), {}).json()
    assert not any(zone["held"] for zone in answer["zones"])
    assert open_changes(zoned) == []


def test_a_control_point_calls_its_zone(zoned: House, client: Client) -> None:
    answer = post(client, at(zoned, "/control"), {"zone": "zone-bindery", "calls": True}).json()
    assert [zone["zone"] for zone in answer["zones"] if zone["calls"]] == ["zone-bindery"]
    assert words(post(client, at(zoned, "/control"), {"zone": "attic", "calls": True})) == "There is no such zone."


def test_a_silent_board_leaves_the_ledger_open(zoned: House, client: Client) -> None:
    post(client, at(zoned, "/call"), {"zones": []})
    assert post(client, at(zoned, "/scene"), {"reachable": False}).json()["connected"] is False
    found = client.get(at(zoned)).json()
    assert "does not answer" in found["words"]
    assert found["simulated"], "so that it can be brought back"
    refused = post(client, at(zoned, "/release"), {})
    assert refused.status_code == 422
    assert "stay in the ledger" in words(refused)
    assert len(open_changes(zoned)) == 4
    assert post(client, at(zoned, "/scene"), {"reachable": True}).json()["connected"] is True
    post(client, at(zoned, "/release"), {})
    assert open_changes(zoned) == []


def test_a_fault_is_found_through_board_and_entries(zoned: House, client: Client) -> None:
    assert post(client, at(zoned, "/scene"), {"preset": "stuck_shut"}).json()["preset"] == "stuck_shut"
    page = client.get(f"/api/v1/visits/{zoned.visit.pk}/zones").json()["page"]
    for test in page["proof"]["tests"]:
        body: dict[str, Any] = {"test": test["key"], "how": "board"}
        if test["kind"] in ("alone", "all"):
            calling = [zone["zone"] for zone in test["zones"] if zone["calls"]]
            post(client, at(zoned, "/call"), {"zones": calling})
            now = settled(client, zoned)
            look = client.get(at(zoned, "/look")).json()
            body |= {"air": look["air"], "indicators": {zone["zone"]: zone["indicator"] for zone in now["zones"]}}
        elif test["kind"] == "control":
            body |= {"called": [test["zone"]], "control": "answers"}
        else:
            body |= {"held": {room["branch"]: True for room in test["rooms"]}}
        assert add(client, zoned.visit, new_entry("zone_test", body, phase="as_left")).json()["refused"] == []
    post(client, at(zoned, "/release"), {})
    proof = client.get(f"/api/v1/visits/{zoned.visit.pk}/zones").json()["page"]["proof"]
    assert proof["mark"] == "off"
    assert proof["suspects"][0]["name"].startswith("Damper does not open: ")
    assert proof["done"] == len(proof["tests"])


def test_what_is_missing_is_said(house: House, client: Client, gateway: str) -> None:
    assert "Make the zones first" in client.get(at(house)).json()["words"]
    entries = [new_entry("duct_branch", demo.branch(row)) for row in demo.BRANCHES[:2]]
    rooms = [entry["body"]["id"] for entry in entries]
    for entry in entries:
        entry["body"]["after"] = ""
    zone = new_entry("zone", {"id": "z", "name": "Z", "rooms": rooms})
    assert add(client, house.visit, *entries, zone).json()["refused"] == []
    assert "No board is named" in client.get(at(house)).json()["words"]
    add(client, house.visit, new_entry("zone_hardware", {"board": "ZB-1"}))
    assert "no gateway of zone boards" in client.get(at(house)).json()["words"]
    Gateway.objects.create(company=house.company, kind="zone_boards", name="Boards", address=gateway)
    add(client, house.visit, new_entry("zone_hardware", {"board": "ZB-9"}))
    assert "knows no board “ZB-9”" in client.get(at(house)).json()["words"]


def test_the_board_stays_with_the_system(zoned: House, client: Client) -> None:
    add(client, zoned.visit, new_entry("closing", {"summary": "Zones made."}))
    zoned.system.refresh_from_db()
    assert zoned.system.nameplate["ducts"]["board"]["board"] == "ZB-1"


def test_nothing_is_called_on_a_closed_visit(zoned: House, client: Client) -> None:
    add(client, zoned.visit, new_entry("closing", {"summary": "Zones made."}))
    assert "closed" in words(post(client, at(zoned, "/call"), {"zones": []}))

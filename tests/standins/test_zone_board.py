"""The simulated zone board: its dampers, indicators, faults, protocol; and the blind proof against it."""

from __future__ import annotations

import time
from dataclasses import replace
from random import Random
from typing import Any

import pytest
from starlette.testclient import TestClient

from bench.zones import figures, house_of
from fentro_core.base.device import DeviceGone, DeviceRefused
from fentro_core.base.typed_json import write
from fentro_core.system.zones import Zone
from fentro_core.zoning.proof.plan import Proof, plan
from fentro_standins.zones.board import FAULTS, SimulatedBoard
from fentro_standins.zones.presets import board_of, ordinary_house, places
from fentro_standins.zones.service import application
from fentro_standins.zones.technician import Habits, walk, walk_all


def board(preset: str = "", **more: Any) -> SimulatedBoard:
    made = board_of(ordinary_house(), preset, **more)
    assert made is not None
    return made


def called(made: SimulatedBoard, *numbers: int) -> SimulatedBoard:
    for number in range(1, len(made.zones) + 1):
        made.call(number, number in numbers)
    made.settle()
    return made


def lights(made: SimulatedBoard) -> list[str]:
    return [line["indicator"] for line in made.points()["zones"]]


def test_the_zone_that_calls_opens_and_the_others_shut() -> None:
    made = called(board(), 2)
    assert lights(made) == ["shut", "open", "shut"]
    flows, static, _ = made.flows()
    own = sum(flows[room] for room in made.zones[1].rooms)
    others = sum(flows[room] for zone in (made.zones[0], made.zones[2]) for room in zone.rooms)
    assert own > 10 * others
    assert static > called(made, 1, 2, 3).flows()[1]


def test_dampers_take_their_time_and_the_indicator_says_so() -> None:
    made = called(board(), 1)
    made.call(1, False)
    made.call(2, True)
    made.advance(10)
    assert "moving" in lights(made)[:2]
    made.settle()
    assert lights(made)[:2] == ["shut", "open"]


def test_a_zone_let_go_follows_its_control_point_again() -> None:
    made = called(board(), 1)
    for number in (1, 2, 3):
        made.release(number)
    made.ask("zone-3", True)
    assert [line["calls"] for line in made.points()["zones"]] == [False, False, True]
    assert not any(line["held"] for line in made.points()["zones"])


def test_the_same_seed_answers_the_same() -> None:
    one, other, third = (called(board(seed=seed), 1).flows() for seed in (3, 3, 4))
    assert one == other
    assert one != third


def test_a_bypass_opens_where_few_call_and_shuts_where_all_do() -> None:
    made = board(bypass=True)
    made.set_pa = 60.0
    _, static, opened = called(made, 1).flows()
    plain = called(board(), 1).flows()[1]
    assert opened > 0.05
    assert static < plain
    assert called(made, 1, 2, 3).flows()[2] < opened


def test_a_transformer_too_small_falls_when_all_move() -> None:
    sound, weak = board(), board("overloaded")
    for made in (sound, weak):
        made.position = dict.fromkeys(made.position, 0.0)
        for number in (1, 2, 3):
            made.call(number, True)
    assert sound.volts > 0.9 * 24
    assert weak.volts < 0.85 * 24


def test_silence_and_refusals() -> None:
    made = board()
    with pytest.raises(DeviceRefused, match="zones 1 to 3"):
        made.call(9, True)
    made.gone = True
    for ask in (made.points, lambda: made.call(1, True), lambda: made.release(1)):
        with pytest.raises(DeviceGone):
            ask()


@pytest.mark.parametrize("preset", sorted(FAULTS))
def test_every_fault_shows_in_some_test_and_a_sound_board_in_none(preset: str) -> None:
    """A fault that changes nothing that anybody could see would be no fault."""
    house, seed = ordinary_house(), 0
    first, *others = house.zones
    apart = [replace(zone, rooms=zone.rooms[1:]) for zone in others]
    upstairs = Zone(id="up", name="Up", rooms=tuple(zone.rooms[0] for zone in others), damper="inflatable", wireless=True)
    tree = replace(house, zones=(first, *apart, upstairs))
    assert places(tree, preset, seed) is not None, "a house that can have every fault"
    bypass = preset.startswith("bypass")
    tests = plan(tree, Proof(bypass))

    def looks(key: str) -> list[Any]:
        made = board_of(tree, key, seed, bypass=bypass)
        assert made is not None
        return [walk(made, test, Random(1)) for test in tests]

    assert (looks(preset) != looks("")) == (preset != "")


def test_a_sloppy_technician_leaves_out_and_slips() -> None:
    made, tests = board(), plan(ordinary_house(), Proof())
    neat = walk_all(made, tests, Random(1))
    sloppy = walk_all(board(), tests, Random(1), Habits(missing=0.5, slips=0.5))
    assert len(neat) == len(tests)
    assert sum(len(each.air) for each in sloppy) < 0.8 * sum(len(each.air) for each in neat)


def test_the_blind_proof_names_most_and_accuses_no_sound_house() -> None:
    """A small set of its own; `bin/bench zones` draws large and fresh ones."""
    counts, judged = figures(300, 24)
    faulty = sum(1 for each in judged if each.hidden.key)
    assert counts["accused"] == 0
    assert counts["missed"] == 0
    assert counts["right"] >= 0.7 * faulty
    assert counts["wrong"] <= 1


# the service


@pytest.fixture
def service() -> Any:
    with TestClient(application()) as client:
        yield client


def test_the_protocol(service: Any) -> None:
    assert [each["name"] for each in service.get("/v1/boards").json()["boards"]] == ["ZB-1", "ZB-2"]
    assert service.put("/v1/boards/ZB-1/calls/1", json={"calls": True}).json() == {"held": 1, "calls": True}
    shown = service.get("/v1/boards/ZB-1/points").json()
    assert shown["zones"][0]["held"] is True
    assert shown["volts"] > 0
    assert service.get("/v1/boards/ZB-2/points").json()["zones"][0]["held"] is False
    service.delete("/v1/boards/ZB-1/calls/1")
    assert service.get("/v1/boards/ZB-1/points").json()["zones"][0]["held"] is False
    look = service.get("/v1/boards/ZB-1/look").json()
    assert set(look["air"].values()) <= {"air", "little", "none"}
    assert service.post("/v1/boards/ZB-1/control", json={"zone": 2, "calls": True}).status_code == 200
    assert service.get("/v1/boards/ZB-1/points").json()["zones"][1]["calls"] is True


@pytest.mark.parametrize(
    ("method", "path", "body", "status"),
    [
        ("get", "ZB-9/points", None, 404),
        ("put", "ZB-1/calls/7", {"calls": True}, 422),
        ("put", "ZB-1/calls/1", {"calls": "yes"}, 422),
        ("put", "ZB-1/calls/1", None, 422),
        ("post", "ZB-1/control", {"zone": 9, "calls": True}, 422),
        ("post", "ZB-1/scene", {"preset": "haunted"}, 422),
        ("post", "ZB-1/scene", {"speed": 1000}, 422),
        ("post", "ZB-1/scene", {"ducts": {"branches": 3}}, 422),
        ("post", "ZB-1/scene", {"ducts": {}}, 422),
        ("post", "ZB-1/scene", {"preset": "ports_swapped"}, 422),
    ],
)
def test_bad_asks_get_a_sentence(service: Any, method: str, path: str, body: Any, status: int) -> None:
    answer = service.request(method, f"/v1/boards/{path}", json=body)
    assert answer.status_code == status
    assert answer.json()["detail"].endswith(".")


def test_other_ducts_can_be_put_behind_it_and_it_can_go_away(service: Any) -> None:
    _, tree, _ = house_of(5)
    scene = service.post("/v1/boards/ZB-1/scene", json={"ducts": write(tree), "preset": "stuck_open"}).json()
    assert scene["preset"] == "stuck_open"
    assert scene["zones"] == [zone.id for zone in tree.zones]
    service.post("/v1/boards/ZB-1/scene", json={"reachable": False})
    assert service.get("/v1/boards/ZB-1/points").status_code == 504
    assert service.get("/v1/boards/ZB-1/scene").json()["reachable"] is False


def test_time_goes_by(service: Any) -> None:
    before = service.get("/v1/boards/ZB-1/points").json()["time_s"]
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline and service.get("/v1/boards/ZB-1/points").json()["time_s"] <= before:
        time.sleep(0.1)
    assert service.get("/v1/boards/ZB-1/points").json()["time_s"] > before

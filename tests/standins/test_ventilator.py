"""The simulated ventilator: its control, damper, lockouts, faults, protocol; and the blind proof against it."""

from __future__ import annotations

import time
from random import Random
from typing import Any

import pytest
from starlette.testclient import TestClient

from bench.ventilators import drawn, figures
from fentro_core.base.device import DeviceGone, DeviceRefused
from fentro_core.base.typed_json import write
from fentro_core.system.fresh_air import VentilatorControl
from fentro_core.ventilation.port_flow import port_flow
from fentro_core.ventilation.proof.plan import plan
from fentro_standins.ventilator.presets import ORDINARY, SET
from fentro_standins.ventilator.service import application
from fentro_standins.ventilator.technician import prove
from fentro_standins.ventilator.unit import FAULTS, SimulatedVentilator


def ventilator(*faults: str, control: VentilatorControl = SET, seed: int = 3) -> SimulatedVentilator:
    return SimulatedVentilator(ORDINARY, control, seed, faults)


def test_it_runs_the_minutes_that_it_is_set_to() -> None:
    one = ventilator()
    one.advance(5 * 3600)
    assert one.run_s / 60 == pytest.approx(5 * 30.0, abs=1.0)


def test_its_damper_takes_its_time_and_no_air_moves_before() -> None:
    one = ventilator()
    one.hold("run", 1)
    assert one.flows()["fresh"] == pytest.approx(0.0, abs=0.01)
    one.advance(120)
    assert one.flows()["fresh"] > 0.05
    assert set(one.look()["air"].values()) == {"right"}
    one.hold("run", 0)
    one.advance(120)
    assert one.look()["damper"] == "shut"


def test_a_lockout_has_the_last_word_and_switches_back_a_little_way_past_its_limit() -> None:
    one = ventilator()
    one.hold("run", 1)
    one.hold("outdoor_c", -10.5)
    one.advance(60)
    assert (one.points()["locked"], one.runs) == ("low", False)
    one.hold("outdoor_c", -9.5)
    one.advance(60)
    assert one.points()["locked"] == "low", "not at once"
    one.hold("outdoor_c", -8.5)
    one.advance(60)
    assert (one.points()["locked"], one.runs) == ("", True)


def test_a_boost_comes_back_by_itself_unless_that_is_what_is_wrong() -> None:
    resting = VentilatorControl(minutes_per_hour=0.0, boost_min=30.0)
    one, stays = ventilator(control=resting), ventilator("boost", control=resting)
    for each in (one, stays):
        each.boost()
        each.advance(29 * 60)
        assert each.runs
        each.advance(3 * 60)
    assert (one.runs, stays.runs) == (False, True)
    with pytest.raises(DeviceRefused, match="no boost"):
        ventilator(control=VentilatorControl()).boost()


def test_its_ports_give_back_its_flow_through_the_chart() -> None:
    one = ventilator()
    one.hold("run", 1)
    one.advance(120)
    drop = one.port_pa("fresh")
    assert drop is not None
    assert port_flow(ORDINARY.chart, drop).airflow_m3s == pytest.approx(one.flows()["fresh"], rel=0.06)
    assert ventilator().port_pa("fresh") is None, "nothing moves"


def test_it_refuses_what_no_control_can_hold_and_is_silent_when_it_is_gone() -> None:
    one = ventilator()
    for point, value in (("fan", 1.0), ("run", 2.0), ("outdoor_c", 900.0)):
        with pytest.raises(DeviceRefused):
            one.hold(point, value)
    one.release("run")
    one.gone = True
    with pytest.raises(DeviceGone):
        one.points()


@pytest.mark.parametrize(
    ("fault", "test", "shows"),
    [
        ("fan_dead", "run", {"fan": "stands"}),
        ("damper_shut", "run", {"damper": "shut", "fan": "runs"}),
        ("reversed", "run", {"air": {"fresh": "wrong", "stale": "wrong"}}),
        ("interlock", "run", {"blower": "stands"}),
        ("damper_open", "stop", {"damper": "open", "fan": "stands"}),
        ("lockout", "low", {"fan": "runs"}),
        ("screen", "filters", {"screen": "clogged"}),
        ("no_screen", "filters", {"screen": "missing"}),
        ("settings", "settings", {"as_card": False}),
        ("boost", "boost", {"again": "runs"}),
        ("", "run", {"fan": "runs", "blower": "runs", "damper": "open", "air": {"fresh": "right", "stale": "right"}}),
        ("", "low", {"fan": "stands", "damper": "shut", "again": "runs"}),
        ("", "boost", {"fan": "runs", "again": "stands"}),
    ],
)
def test_every_fault_shows_where_it_should(fault: str, test: str, shows: dict[str, Any]) -> None:
    card = VentilatorControl(minutes_per_hour=30.0, low_c=-10.0, high_c=33.0, boost_min=30.0, interlock=True)
    one = ventilator(*([fault] if fault else []), control=card)
    wanted = [each for each in plan(ORDINARY, card) if each.key == test]
    [seen] = prove(one, wanted, card, Random(5))
    assert {name: getattr(seen, name) for name in shows} == shows
    assert not one.held, "everything is let go"


def test_the_sensor_and_the_timer_show_in_numbers() -> None:
    card = VentilatorControl(minutes_per_hour=30.0, low_c=-10.0)
    tests = {each.key: each for each in plan(ORDINARY, card)}
    [seen] = prove(ventilator("sensor", control=card), [tests["sensor"]], card, Random(5))
    assert seen.shown_c is not None
    assert seen.probe_c is not None
    assert abs(seen.shown_c - seen.probe_c) > 2.0
    [seen] = prove(ventilator("timer", control=card), [tests["hour"]], card, Random(5))
    assert seen.minutes is not None
    assert abs(seen.minutes - 30.0) > 3.0


def test_blind_it_is_told_what_is_wrong_and_sound_ones_are_acquitted() -> None:
    counts, judged = figures(880_000, 120)
    one = [each for each in judged if len(each.concluded) == 1]
    assert sum(each.kind == "right" for each in one) / len(one) > 0.7
    assert counts["accused"] <= 1
    assert counts["wrong"] <= 3


def test_what_is_drawn_differs_from_seed_to_seed() -> None:
    assert len({drawn(seed)[1] for seed in range(20)}) > 10


@pytest.fixture
def service() -> Any:
    with TestClient(application()) as client:
        yield client


def test_the_protocol_is_as_the_document_says(service: TestClient) -> None:
    listed = service.get("/v1/ventilators").json()["ventilators"]
    assert listed[0] == {"name": "FA-1", "kind": "balanced", "simulated": True}
    at = "/v1/ventilators/FA-1"
    assert service.put(f"{at}/holds/run", json={"value": 1}).json() == {"held": "run", "value": 1.0}
    shown = service.get(f"{at}/points").json()
    assert shown["held"] == {"run": 1.0}
    assert set(shown) == {"time_s", "fan", "blower", "damper", "outdoor_c", "locked", "boost_left_s", "run_s", "held"}
    assert service.delete(f"{at}/holds/run").status_code == 200
    assert service.put(f"{at}/holds/run", json={"value": True}).status_code == 422
    assert service.put(f"{at}/holds/roof", json={"value": 1}).status_code == 422
    card = write(VentilatorControl(minutes_per_hour=20.0))
    assert service.put(f"{at}/settings", json=card).json()["minutes_per_hour"] == 20.0
    refused = service.put(f"{at}/settings", json={"minutes_per_hour": 90.0})
    assert (refused.status_code, refused.json()["path"]) == (422, "minutes_per_hour")
    assert service.post(f"{at}/boost").status_code == 422, "no boost is set"
    assert set(service.get(f"{at}/look").json()) >= {"fan", "damper", "air", "port_pa", "probe_c"}


def test_a_scene_is_chosen_and_its_clock_runs(service: TestClient) -> None:
    at = "/v1/ventilators/FA-2"
    before = service.get(f"{at}/points").json()["time_s"]
    deadline = time.monotonic() + 60
    while service.get(f"{at}/points").json()["time_s"] <= before and time.monotonic() < deadline:
        time.sleep(0.05)
    assert service.get(f"{at}/points").json()["time_s"] > before
    assert service.post(f"{at}/scene", json={"preset": "fan_dead"}).json()["preset"] == "fan_dead"
    assert service.post(f"{at}/scene", json={"preset": "gremlin"}).status_code == 422
    assert service.post(f"{at}/scene", json={"ventilator": {"kind": "balanced", "step_min": 90}}).status_code == 422
    assert service.post(f"{at}/scene", json={"speed": 0}).status_code == 422
    service.post(f"{at}/scene", json={"reachable": False})
    assert service.get(f"{at}/points").status_code == 504
    assert service.get("/v1/ventilators/FA-9/points").status_code == 404
    assert {each["key"] for each in service.get(f"{at}/scene").json()["presets"]} == set(FAULTS)

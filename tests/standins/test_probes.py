"""The simulated probes: same seed, same samples; physics in balance; dropouts, batteries, scenes."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from itertools import pairwise
from typing import Any

import pytest
from starlette.testclient import TestClient

from fentro_core.air.state import AirState
from fentro_core.instruments.steadiness import steadiness
from fentro_standins.probes.physics import BUILDS, SCENARIOS, AirSystem
from fentro_standins.probes.rack import Rack
from fentro_standins.probes.service import application

START = datetime(2026, 7, 1, 10, tzinfo=UTC)


def run(scenario: str, seconds: float, seed: int = 1, speed: float = 1.0, **places: dict[str, Any]) -> list[dict[str, Any]]:
    rack = Rack(START, scenario, seed, speed)
    hung = places or {"TH-2041": {"station": "return"}, "TH-2042": {"station": "supply"}}
    rack.place("unit", "furnace_with_coil", START, {serial.replace("_", "-"): place for serial, place in hung.items()})
    return rack.advance(seconds / speed)


def values(frames: list[dict[str, Any]], serial: str, quantity: str = "dry_bulb") -> list[float]:
    return [frame["values"][serial][quantity] for frame in frames if serial in frame["values"]]


def test_the_same_seed_gives_the_same_samples() -> None:
    assert run("ordinary", 120) == run("ordinary", 120)
    assert run("ordinary", 120) != run("ordinary", 120, seed=2)


def test_it_warms_up_and_stands_still() -> None:
    supply = values(run("ordinary", 1500), "TH-2042")
    times = [float(n) for n in range(len(supply))]
    assert supply[5] > supply[-1] + 8
    assert steadiness(times[:300], supply[:300]).state == "moving"
    assert steadiness(times, supply).state == "steady"


@pytest.mark.parametrize(("scenario", "still"), [("ordinary", True), ("cycling", False), ("drifting", False)])
def test_only_the_ordinary_scene_settles(scenario: str, still: bool) -> None:
    supply = values(run(scenario, 1560), "TH-2042")
    found = steadiness([float(n) for n in range(len(supply))], supply)
    assert (found.state == "steady") is still


@pytest.mark.parametrize("kind", ["packaged_rooftop", "furnace_with_coil", "split_heat_pump"])
def test_the_cooling_balances(kind: str) -> None:
    """What the air gives up over the coil is what the coil takes."""
    system = AirSystem(kind, SCENARIOS["ordinary"], 1)
    system.run(True)
    for _ in range(1500):
        system.step(1.0)
    build = BUILDS[kind]
    before, after = system._mixed(), system._after_coil()
    mass = system.flow_m3s / AirState(*before, build.pressure_pa).specific_volume_m3_per_kg
    sensible = mass * (1006 + 1860 * before[1]) * (before[0] - after[0])
    assert sensible == pytest.approx(build.sensible_w, rel=0.02)


def test_layers_stay_where_they_are() -> None:
    leaky = AirSystem("furnace_with_coil", SCENARIOS["leaky_return"], 1)
    leaky.run(True)
    for _ in range(900):
        leaky.step(1.0)
    points = [leaky.truth("dry_bulb", "return", n) or 0.0 for n in range(1, 6)]
    assert max(points) - min(points) > 1.5
    assert points == [leaky.truth("dry_bulb", "return", n) for n in range(1, 6)]


def test_a_weak_signal_drops_out_and_a_battery_runs_low() -> None:
    frames = run("weak_signal", 320)
    gone = [frame for frame in frames if "TH-2042" in frame["lost"]]
    assert 60 < len(gone) < 120
    assert all("TH-2042" not in frame["values"] for frame in gone)
    assert frames[-1]["battery"]["TH-1807"] < 0.1


def test_fast_time_gives_fewer_samples_a_simulated_second() -> None:
    frames = run("ordinary", 600, speed=60)
    moments = [datetime.fromisoformat(frame["at"]) for frame in frames]
    assert {later - earlier for earlier, later in pairwise(moments)} == {timedelta(seconds=2)}


def test_probes_in_the_hand_feel_the_same_air() -> None:
    rack = Rack(START)
    frames = rack.advance(200)[60:]
    first, second = values(frames, "TH-2041"), values(frames, "TH-2042")
    mean = sum(a - b for a, b in zip(first, second, strict=True)) / len(first)
    apart = [abs(a - b - mean) for a, b in zip(first, second, strict=True)]
    assert max(apart) < 0.25
    assert abs(mean) < 0.5


def test_the_protocol_answers_and_refuses() -> None:
    with TestClient(application()) as client:
        assert len(client.get("/v1/probes").json()["probes"]) >= 8
        refused = client.post("/v1/scene", json={"scenario": "volcano"})
        assert (refused.status_code, refused.json()["path"]) == (422, "scenario")
        assert client.post("/v1/scene", json={"speed": 1e6}).json()["path"] == "speed"
        assert client.post("/v1/scene", json={"seed": "x"}).json()["path"] == "seed"
        assert client.post("/v1/scene", json={"scenario": "heating", "seed": 7, "speed": 20}).json()["seed"] == 7
        assert client.put("/v1/places", json={"kind": "submarine"}).json()["path"] == "kind"
        placed = client.put(
            "/v1/places",
            json={
                "system": "s",
                "kind": "split_heat_pump",
                "running_since": datetime.now(UTC).isoformat(),
                "places": {"TH-2041": {"station": "supply"}, "unknown": {"station": "supply"}},
            },
        )
        assert placed.json() == {"placed": ["TH-2041"]}
        assert client.post("/v1/probes/TH-2041/fault", json={"reachable": False}).json()["reachable"] is False
        assert client.post("/v1/probes/nope/fault", json={}).status_code == 404

"""95 % means 95 %: of few points, of streams whose noise lingers, of three visits. Drawn by seed, never tuned on these."""

from __future__ import annotations

from math import exp, hypot, sqrt
from random import Random

import pytest

from fentro_core.base.calculation import run
from fentro_core.base.measured import Measured
from fentro_core.base.refusal import Refused
from fentro_core.history.drift import HistoryPoint, drift
from fentro_core.instruments.averaging import average, scatter_half_width
from fentro_core.instruments.station_air import ProbePoint, station_air
from fentro_core.instruments.steadiness import steadiness

DRAWS = 3000


@pytest.mark.parametrize("points", [2, 3, 4, 5, 8])
def test_the_half_width_of_few_points_holds_the_truth_in_95_of_100(points: int) -> None:
    chance = Random(100 + points)
    held = 0
    for _ in range(DRAWS):
        found = average(tuple(chance.gauss(24.0, 0.6) for _ in range(points)))
        held += abs(found.mean - 24.0) <= found.scatter_plus_minus
    assert 0.94 <= held / DRAWS <= 0.96


@pytest.mark.parametrize(("points", "layers"), [(2, 0.25), (2, 0.41), (2, 0.6), (3, 0.41), (3, 0.6), (5, 0.6)])
def test_what_is_usual_narrows_it_and_still_holds(points: int, layers: float) -> None:
    """Two points alone would need twelve times their scatter; with the usual layers of a duct they need less, and mostly hold."""
    chance = Random(7)
    held, width = 0, 0.0
    for _ in range(DRAWS):
        values = [chance.gauss(24.0, layers) for _ in range(points)]
        own = scatter_half_width(values, [1 / points] * points, usual=0.8)
        held += abs(sum(values) / points - 24.0) <= own
        width += own / DRAWS
    assert held / DRAWS >= 0.93
    assert width < 1.1


def test_more_points_of_a_duct_never_make_it_less_sure_than_one() -> None:
    def width(*values: float) -> float:
        points = [ProbePoint(number, {"dry_bulb": Measured(value, {"A": 0.3})}) for number, value in enumerate(values, 1)]
        air = station_air("as_found/return", points, 101_325.0, "return")
        assert air is not None
        return air.dry_bulb.plus_minus

    assert width(24.0) == pytest.approx(hypot(0.3, 0.8))
    assert width(24.0) > width(24.0, 24.1) > width(24.0, 24.1, 24.0) > width(24.0, 24.1, 24.0, 24.1, 24.0, 24.1)
    assert width(23.0, 25.5) > width(24.0), "but points far apart do: the duct has more layers than usual"


def test_a_heated_supply_has_more_layers() -> None:
    def width(celsius: float) -> float:
        air = station_air("as_found/supply", [ProbePoint(1, {"dry_bulb": Measured(celsius)})], 101_325.0, "supply")
        assert air is not None
        return air.dry_bulb.plus_minus

    assert (width(13.0), width(48.0)) == (1.0, 3.0)


def stream(seed: int, lingers_s: float, every_s: float, per_10min: float, size: float = 0.05) -> tuple[list[float], list[float]]:
    """Three minutes of a probe whose noise lingers."""
    chance = Random(seed)
    kept = exp(-every_s / lingers_s) if lingers_s else 0.0
    noise, times, values = chance.gauss(0, size), [], []
    for number in range(int(180 / every_s) + 1):
        times.append(number * every_s)
        values.append(24.0 + noise + per_10min * times[-1] / 600)
        noise = kept * noise + chance.gauss(0, size * sqrt(1 - kept * kept))
    return times, values


@pytest.mark.parametrize("every_s", [1.0, 5.0, 10.0, 20.0])
@pytest.mark.parametrize("lingers_s", [0.0, 5.0, 15.0, 30.0, 45.0])
def test_still_air_is_hardly_ever_called_moving(lingers_s: float, every_s: float) -> None:
    count = 400
    moving = sum(steadiness(*stream(seed, lingers_s, every_s, 0.0)).state == "moving" for seed in range(count))
    assert moving / count <= (0.055 if lingers_s <= 30 else 0.08)


@pytest.mark.parametrize(("lingers_s", "every_s"), [(0.0, 1.0), (0.0, 10.0), (15.0, 1.0), (15.0, 10.0)])
def test_what_moves_is_still_seen(lingers_s: float, every_s: float) -> None:
    states = [steadiness(*stream(seed, lingers_s, every_s, 2.0, size=0.02)).state for seed in range(200)]
    assert states.count("moving") >= 150
    assert "steady" not in states


@pytest.mark.parametrize("every_s", [1.0, 5.0, 10.0])
@pytest.mark.parametrize("settles_s", [40.0, 90.0, 150.0, 400.0])
def test_an_approach_to_rest_is_moving_not_noise(settles_s: float, every_s: float) -> None:
    """A fast one bends in the window; its bend is no noise that lingers."""
    for seed in range(40):
        chance = Random(seed)
        times = [every_s * number for number in range(int(180 / every_s) + 1)]
        values = [14.0 + 6.0 * exp(-t / settles_s) + chance.gauss(0, 0.02) for t in times]
        assert steadiness(times, values).state == "moving"


@pytest.mark.parametrize("beyond", [0.0, 1.0, 3.0])
@pytest.mark.parametrize("visits", [3, 4, 6])
def test_visits_that_only_scatter_are_hardly_ever_called_drifting(visits: int, beyond: float) -> None:
    """`beyond`: how much more they scatter than their half-widths say, as a share of them."""
    chance = Random(int(visits * 10 + beyond))
    false = 0
    for _ in range(1500):
        points = tuple(
            HistoryPoint(90.0 * number + chance.uniform(-20, 20), chance.gauss(1.0, 0.025 * (1 + beyond)), 0.05)
            for number in range(visits)
        )
        false += drift(points).direction in ("up", "down")
    assert false / 1500 <= 0.06


def test_a_plain_fall_is_seen() -> None:
    chance = Random(3)
    seen = 0
    for _ in range(300):
        points = tuple(HistoryPoint(90.0 * n, 1.0 - 0.06 * n + chance.gauss(0, 0.02), 0.04) for n in range(6))
        seen += drift(points).direction == "down"
    assert seen >= 270


@pytest.mark.parametrize(
    ("name", "given", "path"),
    [
        ("measuring.average", {"values": [24.0], "ask_over": -1}, "ask_over"),
        ("measuring.average", {"values": [24.0], "usual_plus_minus": -1}, "usual_plus_minus"),
        ("measuring.average", {"values": []}, "values"),
        (
            "history.drift",
            {"points": [{"days": 0, "value": 1, "plus_minus": 1}, {"days": 9, "value": 1, "plus_minus": -1}]},
            "points.1.plus_minus",
        ),
    ],
)
def test_what_cannot_be_is_refused_at_its_field(name: str, given: dict[str, object], path: str) -> None:
    with pytest.raises(Refused) as refused:
        run(name, given)
    assert refused.value.path == path


@pytest.mark.parametrize("share", [0.0, 0.01, 0.05])
def test_the_dew_point_of_nearly_dry_air_is_hardly_known_but_known_to_be(share: float) -> None:
    readings = {"dry_bulb": Measured(24.0, {"A": 0.3}), "relative_humidity": Measured(share, {"A rh": 0.02})}
    air = station_air("as_found/outdoor", [ProbePoint(1, readings)], 101_325.0, "outdoor")
    assert air is not None
    dew = air.properties["dew_point_c"]
    assert 2.0 < dew.plus_minus < 60.0
    assert dew.value < 0.0


def test_an_absurd_half_width_stops_no_visit() -> None:
    """An instrument entered with a half-width of anything: its station shows it, and nothing raises."""
    readings = {"dry_bulb": Measured(24.0, {"A": 0.3}), "relative_humidity": Measured(0.5, {"A rh": 1e6})}
    air = station_air("as_found/outdoor", [ProbePoint(1, readings)], 101_325.0, "outdoor")
    assert air is not None
    assert -95.0 < air.properties["dew_point_c"].low < air.properties["dew_point_c"].high < 120.0

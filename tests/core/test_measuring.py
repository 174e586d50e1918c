"""Averages, steadiness, traverses, matches, interpolation: against the handbook's figures and by their properties."""

from __future__ import annotations

import math
import random
from itertools import pairwise

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from fentro_core.airflow.traverse import LOG_LINEAR, LOG_TCHEBYCHEFF, Duct, check_duct, plan, traverse, traverse_flow
from fentro_core.base.interpolation import Monotone
from fentro_core.base.measured import Measured
from fentro_core.base.refusal import Refused
from fentro_core.instruments.averaging import average, scatter_half_width, weights_of
from fentro_core.instruments.matching import MatchedProbe, check_match, corrected, offsets, probe_match, summary
from fentro_core.instruments.steadiness import settles_in, steadiness, whole_state

readings = st.floats(-40, 60, allow_nan=False)


@given(st.lists(st.tuples(readings, st.floats(0.2, 15)), min_size=1, max_size=30))
def test_an_average_lies_between_its_points_and_its_weights_add_up(points: list[tuple[float, float]]) -> None:
    values = tuple(value for value, _ in points)
    weighted = average(values, tuple(velocity for _, velocity in points))
    assert min(values) - 1e-9 <= weighted.mean <= max(values) + 1e-9
    assert weighted.spread == max(values) - min(values)
    assert math.isclose(sum(weights_of([velocity for _, velocity in points])), 1.0)
    assert weighted.read_more == (weighted.spread > 1.5)


@given(st.lists(readings, min_size=2, max_size=20), st.floats(-20, 20))
def test_the_scatter_does_not_care_where_zero_is(values: list[float], shift: float) -> None:
    equal = [1 / len(values)] * len(values)
    assert math.isclose(
        scatter_half_width(values, equal), scatter_half_width([each + shift for each in values], equal), abs_tol=1e-6
    )


def test_a_point_with_air_flowing_back_weighs_like_the_others() -> None:
    assert weights_of([3.0, -1.0, 2.0]) == [1 / 3] * 3
    with pytest.raises(Refused, match="flows back"):
        average((20.0, 21.0), (3.0, -1.0))


# steady or not


def stream(seconds: int, level: float, start: float, tau: float, noise: float, seed: int = 1) -> tuple[list[float], list[float]]:
    chance = random.Random(seed)
    times = [float(t) for t in range(seconds)]
    return times, [level + (start - level) * math.exp(-t / tau) + chance.gauss(0, noise) for t in times]


def test_a_warm_up_moves_first_and_is_steady_in_the_end() -> None:
    times, values = stream(2400, 13.0, 24.0, 240.0, 0.03)
    early = steadiness(times[:400], values[:400])
    late = steadiness(times, values)
    assert (early.state, late.state) == ("moving", "steady")
    assert abs(late.mean - 13.0) < 0.05


@pytest.mark.parametrize("seed", range(8))
def test_the_time_to_rest_is_about_right(seed: int) -> None:
    """Slope under 0.3 K in ten minutes: 11 exp(-t/240)/240 = 0.3/600 at t = 1,085 s."""
    times, values = stream(500, 13.0, 24.0, 240.0, 0.03, seed)
    remaining = settles_in(times, values, 0.3 / 600, 180.0)
    assert remaining is not None
    assert 0.7 * 585 < remaining < 1.4 * 585


def test_a_ramp_has_no_end_in_sight() -> None:
    times = [float(t) for t in range(600)]
    assert settles_in(times, [10 + 0.01 * t for t in times], 0.3 / 600, 180.0) is None


def test_a_short_or_jumping_stream_is_not_steady() -> None:
    times, values = stream(60, 13.0, 13.0, 100.0, 0.02)
    assert steadiness(times, values).state == "too_short"
    jumping = [steadiness(*stream(400, 13.0, 13.0, 100.0, 0.5, seed)).state for seed in range(10)]
    assert "steady" not in jumping
    assert jumping.count("scattered") >= 8
    with pytest.raises(Refused):
        steadiness([1.0], [])


@given(st.floats(-30, 40), st.integers(0, 5))
@settings(max_examples=30)
def test_steadiness_does_not_care_about_level_or_zero_of_time(level: float, seed: int) -> None:
    times, values = stream(300, 1.0, 3.0, 120.0, 0.05, seed)
    moved = steadiness([t + 1e5 for t in times], [value + level for value in values])
    assert moved.state == steadiness(times, values).state


def test_the_whole_visit_says_what_still_moves() -> None:
    still = steadiness(*stream(400, 24.0, 24.0, 100.0, 0.02))
    moves = steadiness(*stream(500, 13.0, 24.0, 240.0, 0.02))
    both = {"Return dry bulb": ("dry_bulb", still), "Supply dry bulb": ("dry_bulb", moves)}
    state, words = whole_state(both, 500.0)
    assert state == "moving"
    assert "Supply dry bulb" in words.say()
    assert "min more" in words.say()
    alone = {"Return dry bulb": ("dry_bulb", still)}
    assert whole_state(alone, 500.0)[0] == "too_short", "even when steady, ten minutes of running are needed"
    assert whole_state(alone, 900.0)[0] == "steady"
    assert whole_state({}, None)[0] == "too_short"


# traverses


@pytest.mark.parametrize(
    ("width", "height", "points", "depths"),
    [
        (0.6, 0.4, 25, (0.0296, 0.1152, 0.2, 0.2848, 0.3704)),
        (0.8, 0.4, 30, (0.0296, 0.1152, 0.2, 0.2848, 0.3704)),
        (0.4, 1.0, 35, (0.0296, 0.1152, 0.2, 0.2848, 0.3704)),
    ],
)
def test_a_rectangular_plan(width: float, height: float, points: int, depths: tuple[float, ...]) -> None:
    found = plan(Duct("rectangular", width_m=width, height_m=height, wall_m=0.025))
    assert len(found.points) == points >= 25
    assert found.marks_m == pytest.approx([depth + 0.025 for depth in depths])
    assert [point.depth_m for point in found.points[:5]] == pytest.approx(sorted(depths, reverse=True)), "far mark first"
    assert found.along == ("width" if width >= height else "height")
    assert all(0 < point.x < 1 and 0 < point.y < 1 for point in found.points)


@pytest.mark.parametrize(("diameter", "on_each"), [(0.2, 6), (0.3, 8), (0.6, 10)])
def test_a_round_plan_has_three_diameters(diameter: float, on_each: int) -> None:
    found = plan(Duct("round", diameter_m=diameter))
    assert len(found.points) == 3 * on_each
    assert [hole.angle_deg for hole in found.holes] == [0, 60, 120]
    assert found.marks_m == pytest.approx([share * diameter for share in LOG_LINEAR[on_each]])


def test_the_rules_are_symmetric() -> None:
    for table in (*LOG_TCHEBYCHEFF.values(), *LOG_LINEAR.values()):
        assert [a + b for a, b in zip(table, reversed(table), strict=True)] == pytest.approx([1.0] * len(table), abs=0.002)


def test_a_traverse_of_a_known_profile() -> None:
    """A seventh-power profile in a round duct has a mean of 0.8167 of the middle's velocity."""
    duct = Duct("round", diameter_m=0.3)
    found = plan(duct)
    shape = [5.0 * (1 - abs(2 * point.depth_m / 0.3 - 1)) ** (1 / 7) for point in found.points]
    assert traverse(duct, tuple(shape)).mean_velocity_m_per_s == pytest.approx(5 * 0.8167, rel=0.01)


def test_a_bad_plane_is_flagged_and_less_sure() -> None:
    good = Duct("round", diameter_m=0.2, after_m=1.6, before_m=0.4)
    bad = Duct("round", diameter_m=0.2, after_m=1.4, before_m=0.4)
    velocities = [Measured(5.0, {"probe": 0.1})] * 18
    assert not plan(good).flags
    assert "1.5 m" in plan(bad).flags[0].say() or "2 m" in plan(bad).flags[0].say()
    assert traverse_flow(bad, velocities, "t").plus_minus > traverse_flow(good, velocities, "t").plus_minus
    back = traverse(good, (*(5.0,) * 17, -0.5))
    assert any("flows back" in flag.say() for flag in back.flags)
    assert any("3 of 18" in flag.say() for flag in traverse(good, (5.0, 5.0, 5.0)).flags)


@pytest.mark.parametrize(
    ("duct", "path"),
    [
        (Duct("round"), "diameter_m"),
        (Duct("rectangular", width_m=0.5), "height_m"),
        (Duct("rectangular", width_m=0.5, height_m=24.0), "height_m"),
        (Duct("round", diameter_m=0.2, wall_m=-0.1), "wall_m"),
    ],
)
def test_a_duct_that_can_not_be_is_refused_at_its_field(duct: Duct, path: str) -> None:
    with pytest.raises(Refused) as refused:
        check_duct(duct)
    assert refused.value.path == path


# matches


@given(st.lists(st.floats(-5, 45), min_size=2, max_size=6))
def test_offsets_add_up_to_nothing(means: list[float]) -> None:
    found = offsets(tuple(MatchedProbe(str(n), mean, 0.1, 120) for n, mean in enumerate(means)))
    assert math.isclose(sum(each.offset for each in found), 0.0, abs_tol=1e-9)
    first, second = found[:2]
    assert math.isclose(first.offset - second.offset, means[0] - means[1], abs_tol=1e-9)


@given(st.floats(15, 30), st.floats(-1, 1), st.integers(0, 10_000))
@settings(max_examples=50)
def test_after_a_match_the_same_air_shows_no_difference(level: float, apart: float, seed: int) -> None:
    """Whatever the offset, matched probes agree within the scatter; the common error stays in each by itself."""
    chance = random.Random(seed)
    wander = [level + chance.gauss(0, 0.2) for _ in range(120)]
    series = {
        "a": [value + chance.gauss(0, 0.03) for value in wander],
        "b": [value + apart + chance.gauss(0, 0.03) for value in wander],
    }
    probes = summary(series)
    known = {each.instrument: each for each in offsets(probes)}
    read = {
        name: corrected(
            Measured(sum(values) / 120, {f"instrument:{name}:dry_bulb": 0.3}),
            f"instrument:{name}:dry_bulb",
            known[name],
            "m",
            0.3 / math.sqrt(2),
        )
        for name, values in series.items()
    }
    difference = read["a"] - read["b"]
    assert abs(difference.value) < 1e-9
    assert difference.plus_minus < 0.15 < 0.3 * math.sqrt(2)
    assert read["a"].plus_minus > 0.2


def test_a_match_says_when_an_offset_is_too_large() -> None:
    assert not probe_match((24.4,) * 30, (24.0,) * 30, 0.3, 0.3).too_large
    assert probe_match((24.5,) * 30, (24.0,) * 30, 0.3, 0.3).too_large
    with pytest.raises(Refused, match="two minutes"):
        check_match("dry_bulb", (MatchedProbe("a", 24, 0.1, 60), MatchedProbe("b", 24, 0.1, 60)), 60)
    with pytest.raises(Refused, match="two probes"):
        check_match("dry_bulb", (MatchedProbe("a", 24, 0.1, 120),), 120)


# interpolation


@given(st.lists(st.tuples(st.floats(0, 500), st.floats(0, 3)), min_size=2, max_size=9), st.floats(0, 1))
def test_monotone_interpolation_never_leaves_its_points(points: list[tuple[float, float]], share: float) -> None:
    points = sorted({round(x, 2): y for x, y in points}.items())
    assume(len(points) > 1)
    curve = Monotone(points)
    for (x0, y0), (x1, y1) in pairwise(points):
        value = curve(min(x0 + share * (x1 - x0), x1))
        assert min(y0, y1) <= value <= max(y0, y1)
        assert curve(x0) == pytest.approx(y0)
    falling = all(later <= earlier for (_, earlier), (_, later) in pairwise(points))
    if falling:
        first, last = points[0][0], points[-1][0]
        steps = [curve(min(first + n / 50 * (last - first), last)) for n in range(51)]
        assert all(later <= earlier + 1e-12 for earlier, later in pairwise(steps))
    for outside in (points[0][0] - 1, points[-1][0] + 1):
        with pytest.raises(Refused, match="beyond its ends"):
            curve(outside)

"""Drift over visits: found when larger than the half-widths, never from scatter or from too few."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.base.refusal import Refused
from fentro_core.history.drift import HistoryPoint, drift
from fentro_core.history.followed import drifting
from fentro_core.parts import PARTS
from fentro_core.phase.numbers import NUMBERS


def line(slope_per_visit: float, count: int, width: float = 0.05, noise: float = 0.0, seed: int = 0) -> tuple[HistoryPoint, ...]:
    chance = random.Random(seed)
    return tuple(HistoryPoint(100.0 * n, 1.0 + slope_per_visit * n + chance.gauss(0, noise), width) for n in range(count))


@given(st.integers(3, 12), st.floats(-0.2, 0.2), st.floats(0.01, 0.2))
def test_a_clean_line_gives_its_own_slope(count: int, slope: float, width: float) -> None:
    found = drift(line(slope, count, width))
    assert found.change == pytest.approx(slope * (count - 1), abs=1e-9)
    assert found.change_per_year == pytest.approx(slope * 3.6525, abs=1e-9)
    assert (found.direction == "none") == (abs(found.change) <= found.change_plus_minus)


def test_two_visits_tell_no_drift_and_one_day_neither() -> None:
    assert drift(line(-0.2, 2)).direction == "too_few"
    assert drift(()).direction == "too_few"
    same = tuple(HistoryPoint(5.0, value, 0.05) for value in (1.0, 0.9, 0.8))
    assert drift(same).direction == "too_few"


def test_scatter_alone_is_rarely_called_a_drift() -> None:
    """Visits that scatter as their half-widths say: a false drift in about one of twenty."""
    called = sum(drift(line(0.0, 5, 0.05, 0.025, seed)).direction != "none" for seed in range(400))
    assert called < 40


def test_visits_that_scatter_more_than_they_claim_need_a_larger_change() -> None:
    honest, bold = drift(line(-0.03, 5, 0.05)), drift(line(-0.03, 5, 0.05, 0.12, 3))
    assert bold.change_plus_minus > honest.change_plus_minus


def test_a_sure_visit_weighs_more() -> None:
    points = (HistoryPoint(0, 1.0, 0.01), HistoryPoint(100, 1.0, 0.01), HistoryPoint(200, 0.5, 1.0))
    assert drift(points).direction == "none"


@pytest.mark.parametrize(
    ("key", "slope", "mark"),
    [
        ("capacity_share", -0.06, "watch"),
        ("capacity_share", 0.06, None),
        ("leak_share", 0.06, "watch"),
        ("capacity_share", 0.0, None),
    ],
)
def test_only_a_drift_the_bad_way_is_to_be_watched(key: str, slope: float, mark: str | None) -> None:
    said = drifting(NUMBERS[key], line(slope, 5))
    assert said.mark == mark
    assert said.sentence.say("US")
    assert said.sentence.say("SI")


def test_every_followed_number_can_be_said() -> None:
    followed = [number for part in PARTS for number in part.numbers if number.followed]
    assert len(followed) >= 8
    for number in followed:
        assert number.name or number.followed.name
        assert drifting(number, line(0.1, 4)).sentence.say()
    with pytest.raises(Refused):
        drift((HistoryPoint(0, 1, -1), HistoryPoint(1, 1, 1), HistoryPoint(2, 1, 1)))

"""The walk to the minimum position: noise never turns the damper round, and nothing is done that is not known."""

from __future__ import annotations

from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.base.refusal import Refused
from fentro_core.economizer.minimum_position import (
    LARGEST_STEP,
    NEAR_ENOUGH,
    TOO_COARSE,
    NextPosition,
    PositionRead,
    next_position,
)

Read = PositionRead
NOISY = (Read(0.20, 0.30, 0.02), Read(0.25, 0.29, 0.02))


def go(reads: tuple[PositionRead, ...], wanted: float) -> NextPosition:
    return next_position(reads, wanted * 2.0, 2.0, 24.0, 4.0)


@pytest.mark.parametrize(("wanted", "low", "high"), [(0.20, 0.08, 0.19), (0.40, 0.26, 0.42)])
def test_noise_does_not_turn_the_damper_round(wanted: float, low: float, high: float) -> None:
    """A secant through these two advises 50 % for less air, and shuts the damper for more."""
    found = go(NOISY, wanted)
    assert low < found.position < high
    assert found.advice == "read_apart"


def test_it_is_not_done_when_the_share_is_hardly_known() -> None:
    coarse = go((Read(0.2, 0.21, 0.26),), 0.2)
    assert (coarse.done, coarse.advice, coarse.position) == (False, "too_coarse", 0.2)
    assert go((Read(0.2, 0.21, TOO_COARSE),), 0.2).done
    assert go((Read(0.2, 0.2 + NEAR_ENOUGH * 0.9, 0.0),), 0.2).done


def test_the_ends_of_the_stroke_are_said() -> None:
    assert go((Read(0.0, 0.30, 0.02),), 0.2).advice == "leaks_shut"
    assert go((Read(1.0, 0.30, 0.02),), 0.5).advice == "opens_short"
    assert go((Read(0.0, 0.21, 0.04),), 0.2).done


def test_without_readings_an_ordinary_damper_is_taken() -> None:
    first = go((), 0.2)
    assert first.advice == "set"
    assert 0.12 < first.position < 0.25
    assert go((), 0.01).position == 0.0
    assert go((), 1.0).position == 1.0


def test_the_latest_reading_of_a_place_counts() -> None:
    slipped = (Read(0.2, 0.6, 0.02), Read(0.2, 0.25, 0.02))
    assert go(slipped, 0.3).position == pytest.approx(go((Read(0.2, 0.25, 0.02),), 0.3).position)


def test_the_surer_of_two_readings_weighs_more() -> None:
    sure_low = go((Read(0.20, 0.30, 0.01), Read(0.22, 0.26, 0.08)), 0.5).position
    sure_high = go((Read(0.20, 0.30, 0.08), Read(0.22, 0.26, 0.01)), 0.5).position
    assert sure_low < sure_high


reads_of = st.lists(st.builds(PositionRead, st.floats(0, 1), st.floats(0, 1), st.floats(0, 0.3)), max_size=6).map(tuple)


@given(reads_of, st.floats(0.02, 0.98), st.floats(0.02, 0.98))
def test_more_air_never_asks_for_less_damper(reads: tuple[PositionRead, ...], wanted: float, other: float) -> None:
    low, high = (go(reads, each) for each in sorted((wanted, other)))
    if low.advice == high.advice == "set":
        assert low.position <= high.position + 1e-9
    for found in (low, high):
        assert 0 <= found.position <= 1
        if reads:
            assert abs(found.position - reads[-1].position) <= LARGEST_STEP + 1e-9


@pytest.mark.parametrize(
    ("read", "path"),
    [
        (Read(1.2, 0.3), "reads.1.position"),
        (Read(0.2, 1.3), "reads.1.outdoor_share"),
        (Read(0.2, 0.3, -0.1), "reads.1.plus_minus"),
        (Read(float("nan"), 0.3), "reads.1.position"),
    ],
)
def test_a_reading_that_cannot_be_is_refused(read: PositionRead, path: str) -> None:
    with pytest.raises(Refused) as refused:
        go((Read(0.1, 0.2), read), 0.3)
    assert refused.value.path == path


def walked(seed: int) -> tuple[bool, float, int]:
    """A damper of unknown shape, leak and top, read with noise: done or not, how far off, how many readings."""
    chance = Random(seed)
    bend, leak, top = chance.uniform(0.5, 2.2), chance.uniform(0, 0.12), chance.uniform(0.7, 1.0)
    wanted, noise = chance.uniform(0.12, 0.4), chance.choice((0.005, 0.01, 0.02, 0.035))

    def share(position: float) -> float:
        return leak + (top - leak) * (1 - (1 - position) ** bend)

    reads: tuple[PositionRead, ...] = ()
    for count in range(16):
        found = go(reads, wanted)
        if found.advice not in ("set", "read_apart"):
            return found.done, abs(share(found.position) - wanted), count
        shown = share(found.position) + chance.gauss(0, noise / 1.96)
        reads += (Read(found.position, min(max(shown, 0.0), 1.0), noise),)
    return False, 1.0, 16


def test_real_dampers_are_found_in_a_few_readings() -> None:
    walks = [walked(seed) for seed in range(400)]
    assert sum(done for done, _, _ in walks) >= 390
    assert sum(off > 0.05 for done, off, _ in walks if done) <= 4
    assert sum(count for *_, count in walks) / len(walks) < 4
    assert max(count for *_, count in walks) < 16

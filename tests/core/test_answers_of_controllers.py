"""Whatever a controller answers is known or named, and nothing that is none becomes a reading."""

from __future__ import annotations

import contextlib
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.base.device import DeviceGone
from fentro_core.economizer.answers import not_held, out_of_range, read_alarms, read_points
from fentro_core.economizer.places import POINTS

ANYTHING = st.recursive(
    st.none() | st.booleans() | st.floats() | st.integers() | st.text(max_size=8),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.sampled_from([*POINTS, "overridden", "time_s", "x"]), inner),
    max_leaves=12,
)


@pytest.mark.parametrize(
    "given_", [None, [], "points", 7, {}, {"fan": 1.0}, {"overridden": None}, {"overridden": [1]}, {"overridden": "fan"}]
)
def test_what_does_not_say_what_is_held_is_no_answer(given_: Any) -> None:
    with pytest.raises(DeviceGone, match="gateway"):
        read_points(given_)


@given(ANYTHING)
def test_any_answer_is_read_or_named(given_: Any) -> None:
    found: dict[str, Any] = {"mode": ""}
    with contextlib.suppress(DeviceGone):
        found = read_points(given_)
    assert isinstance(found["mode"], str)
    numbers = [value for key, value in found.items() if key not in ("mode", "alarm", "overridden")]
    assert all(isinstance(value, float) and abs(value) < float("inf") for value in numbers)


@given(ANYTHING)
def test_alarms_of_any_shape_are_read(given_: Any) -> None:
    assert all(isinstance(each["key"], str) for each in read_alarms(given_))


def test_a_point_without_a_value_is_not_there() -> None:
    found = read_points({"fan": None, "relief": "open", "heating": [1], "compressor": float("nan"), "overridden": []})
    assert found == {"mode": "", "overridden": []}


def test_an_alarm_point_is_there_only_where_it_is_told() -> None:
    assert "alarm" not in read_points({"overridden": []})
    assert read_points({"overridden": [], "alarm": None})["alarm"] == ""
    assert read_points({"overridden": [], "alarm": "freeze_trip"})["alarm"] == "freeze_trip"


def test_outputs_may_take_their_time_and_inputs_may_not() -> None:
    assert not_held({"compressor": 1.0}, {"compressor": 0.0, "overridden": ["compressor"]}) == ""
    assert (
        not_held({"building_pressure": 20.0}, {"building_pressure": 3.0, "overridden": ["building_pressure"]})
        == "building_pressure"
    )
    assert not_held({"building_pressure": 20.0}, {"overridden": ["building_pressure"]}) == ""
    assert not_held({"fan": 1.0}, {"fan": 1.0, "overridden": []}) == "fan"


def test_percent_is_no_share() -> None:
    assert out_of_range("damper_command", 20.0)
    assert not out_of_range("outdoor_temperature", 20.0)

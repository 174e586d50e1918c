"""Which sensor is which: every mix-up found, a drifted one not taken for a swapped one."""

from __future__ import annotations

import itertools
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.base.refusal import Refused
from fentro_core.economizer.proof.diagnosis import diagnose
from fentro_core.economizer.sensor_identity import Condition, Reference, audit_signs, sensor_identity
from tests.core.proofs import upset

PLACES = ("outdoor", "return", "mixed", "supply")


def condition(name: str, true: dict[str, float], wired: dict[str, str], errors: dict[str, float] | None = None) -> Condition:
    shown = {label: true[place] + (errors or {}).get(label, 0.0) for label, place in wired.items()}
    return Condition(name, shown, {place: Reference(value) for place, value in true.items()})


TWO = (
    {"outdoor": 6.0, "return": 23.0, "mixed": 22.4, "supply": 23.3},
    {"outdoor": 6.2, "return": 22.6, "mixed": 14.0, "supply": 14.9},
    {"outdoor": 6.1, "return": 22.8, "mixed": 20.5, "supply": 10.2},
)


@pytest.mark.parametrize("order", list(itertools.permutations(PLACES)), ids="-".join)
def test_every_mix_up_of_four_sensors_is_found(order: tuple[str, ...]) -> None:
    wired = dict(zip(PLACES, order, strict=True))
    found = sensor_identity(
        tuple(condition(str(index), true, wired) for index, true in enumerate(TWO)), {place: place for place in PLACES}
    )
    assert {sensor.label: sensor.best for sensor in found.sensors} == wired
    assert found.swapped == (wired != {place: place for place in PLACES})


@given(st.sampled_from(PLACES), st.floats(2.0, 6.0), st.booleans())
def test_a_drifted_sensor_is_not_taken_for_a_swapped_one(place: str, drift: float, up: bool) -> None:
    errors = {place: drift if up else -drift}
    wired = {each: each for each in PLACES}
    found = sensor_identity(tuple(condition(str(index), true, wired, errors) for index, true in enumerate(TWO)), wired)
    assert not found.swapped
    assert [sensor.label for sensor in found.sensors if sensor.off] == [place]
    assert next(sensor.error_k for sensor in found.sensors if sensor.off) == pytest.approx(errors[place], abs=0.01)


def test_air_that_is_alike_cannot_tell() -> None:
    alike = {"outdoor": 22.3, "return": 22.5, "mixed": 22.4, "supply": 22.6}
    swapped = {"outdoor": "return", "return": "outdoor", "mixed": "mixed", "supply": "supply"}
    found = sensor_identity((condition("alike", alike, swapped),), {each: each for each in PLACES})
    assert not found.swapped
    assert found.chance > 0.05
    assert not found.enough


@pytest.mark.parametrize(
    ("conditions", "claimed", "path"),
    [
        ((), {"A": "outdoor", "B": "return"}, "conditions"),
        ((condition("x", TWO[0], {"A": "outdoor"}),), {"A": "outdoor"}, "claimed"),
        ((condition("x", TWO[0], {"A": "outdoor", "B": "return"}),), {"A": "outdoor", "B": "outdoor"}, "claimed"),
        ((condition("x", TWO[0], {"A": "outdoor"}),), {"A": "outdoor", "B": "return"}, "conditions.0.shown_c"),
        (
            (Condition("x", {"A": 1.0, "B": 2.0}, {"outdoor": Reference(1.0)}),),
            {"A": "outdoor", "B": "return"},
            "conditions.0.known",
        ),
    ],
)
def test_what_lacks_a_reading_is_refused(conditions: Any, claimed: dict[str, str], path: str) -> None:
    with pytest.raises(Refused) as refused:
        sensor_identity(conditions, claimed)
    assert refused.value.path == path


def test_sensors_that_a_probe_found_swapped_come_first() -> None:
    low = [f"{test}.damper_position.low" for test in ("above", "inside", "heating", "cool", "below")]
    found = diagnose(upset(low), {"swapped": True, "drifted": False})
    assert found.found == "swapped_sensors"
    assert found.suspects[0].fault.key == "swapped_sensors"


def test_one_hung_wrong_is_told_from_two_that_changed_places() -> None:
    def at(name: str, **airs: tuple[float, float]) -> Condition:
        return Condition(
            name, {key: each[0] for key, each in airs.items()}, {key: Reference(each[1]) for key, each in airs.items()}
        )

    places = {"mixed": "mixed", "supply": "supply"}
    shut, cooling = at("damper shut", mixed=(24.0, 24.0), supply=(24.6, 24.6)), "compressor on"
    alone = sensor_identity((shut, at(cooling, mixed=(13.1, 24.0), supply=(13.0, 13.0))), places)
    assert [each.sits_in for each in alone.sensors] == ["supply", ""]
    assert not alone.swapped
    assert not any(each.off for each in alone.sensors), "its error is no constant one"
    changed = sensor_identity((shut, at(cooling, mixed=(13.1, 24.0), supply=(24.2, 13.0))), places)
    assert changed.swapped
    assert not any(each.sits_in for each in changed.sensors)
    only = sensor_identity((at("as it is", mixed=(24.1, 24.0), supply=(24.2, 24.3)),), places)
    assert "swapped" not in audit_signs(only), "airs as alike rule nothing out"

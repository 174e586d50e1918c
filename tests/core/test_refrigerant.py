"""The refrigerant side: tables against the open library they were made from, superheat, subcooling, site pressure."""

from __future__ import annotations

from typing import Any, get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.air.pressure import standard_pressure
from fentro_core.base.refusal import Refused
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.refrigerant.circuit import saturation_pressure, saturation_temperature, subcooling, superheat
from fentro_core.refrigerant.saturation_tables import TABLES
from fentro_core.system.nameplate import Refrigerant
from fentro_core.visit.results import PhaseResult
from fentro_core.visit.work_up import work_up
from tests.core.coolprop import fluid_property
from tests.core.visits import air, flow, reading, snapshot, started

SOURCE = {"R-410A": "R410A", "R-32": "R32", "R-454B": "R454B.mix", "R-22": "R22", "R-134a": "R134a"}


def test_every_refrigerant_has_a_table() -> None:
    assert set(TABLES) == set(get_args(Refrigerant)) == set(SOURCE)
    assert all(bubble >= dew for table in TABLES.values() for _, bubble, dew in table)


@pytest.mark.parametrize("name", SOURCE)
@pytest.mark.parametrize("celsius", [-37.3, -22.0, -6.1, 3.7, 14.2, 26.9, 38.5, 49.4, 59.7])
def test_within_a_fifth_of_a_kelvin_of_the_source(name: Any, celsius: float) -> None:
    for quality, side in ((0, 1), (1, 2)):
        pressure = fluid_property("P", "T", celsius + 273.15, "Q", quality, SOURCE[name])
        assert saturation_temperature(name, pressure, side) == pytest.approx(celsius, abs=0.02), "0.2 K is allowed"


@given(st.sampled_from(sorted(SOURCE)), st.floats(-40, 64), st.sampled_from([1, 2]))
def test_there_and_back(name: Any, celsius: float, side: int) -> None:
    assert saturation_temperature(name, saturation_pressure(name, celsius, side), side) == pytest.approx(celsius, abs=1e-6)


def test_a_blend_glides_and_a_pure_one_does_not() -> None:
    bubble, dew = (saturation_temperature("R-454B", 1_000_000.0, side) for side in (1, 2))
    assert 0.8 < dew - bubble < 2.0
    assert saturation_temperature("R-32", 1_000_000.0, 1) == pytest.approx(
        saturation_temperature("R-32", 1_000_000.0, 2), abs=0.01
    )


def test_a_gauge_shows_less_at_a_height() -> None:
    low, high = (superheat("R-410A", 800e3, 12.0, standard_pressure(at)) for at in (0, 1655))
    assert low < high
    assert high - low == pytest.approx(0.65, abs=0.3)


def test_superheat_and_subcooling_by_hand() -> None:
    assert superheat("R-410A", 990_480 - 101_325, 13.0) == pytest.approx(13.0 - 6.9, abs=0.2)
    assert subcooling("R-134a", fluid_property("P", "T", 318.15, "Q", 0, "R134a") - 101_325, 39.0) == pytest.approx(6.0, abs=0.05)


@pytest.mark.parametrize(
    ("call", "path"),
    [
        (lambda: superheat("R-410A", 9e6, 10.0), "suction_gauge_pa"),
        (lambda: subcooling("R-22", -99e3, 10.0), "liquid_gauge_pa"),
    ],
)
def test_a_pressure_no_table_has_is_refused_at_its_field(call: Any, path: str) -> None:
    with pytest.raises(Refused, match="Check gauge and unit") as refused:
        call()
    assert refused.value.path == path


GAUGES = [
    reading("suction_line", "pipe_temperature", 13.0, "degC"),
    reading("suction_line", "gauge_pressure", 889, "kPa"),
    reading("liquid_line", "pipe_temperature", 37.0, "degC"),
    reading("liquid_line", "gauge_pressure", 2_520, "kPa"),
]
COOLING = [*air("return", 24.6, 50), *air("supply", 13.6, 90), *air("outdoor", 31.0, 40), flow(1.8)]


def phase(*more: dict[str, Any], **plate: Any) -> PhaseResult:
    return work_up(read_snapshot(snapshot([started(), *COOLING, *more], "packaged_rooftop", **plate))).phases[0]


def results(found: PhaseResult) -> dict[str, Any]:
    return {each.key: each for each in found.results}


def test_without_gauges_nothing_is_asked_for() -> None:
    found = results(phase(refrigerant="R-410A", metering="valve"))
    assert not {"superheat", "subcooling", "target_superheat"} & set(found)


def test_gauges_give_superheat_and_subcooling_with_the_caution() -> None:
    found = results(phase(*GAUGES, refrigerant="R-410A", metering="valve"))
    assert found["superheat"].quantity.value == pytest.approx(6.0, abs=0.3)
    assert found["subcooling"].quantity.value == pytest.approx(6.2, abs=0.3)
    assert found["superheat"].quantity.plus_minus > 0.5
    assert "certified persons" in found["superheat"].remark.say()
    assert "target_superheat" not in found


def test_a_restrictor_gets_its_target_and_today_may_allow_none() -> None:
    found = results(phase(*GAUGES, refrigerant="R-410A", metering="restrictor"))
    assert found["target_superheat"].quantity.value == pytest.approx(6.2, abs=2.0)
    hot = [*air("outdoor", 46.0, 10)]
    withheld = results(phase(*GAUGES, *hot, refrigerant="R-410A", metering="restrictor"))["target_superheat"]
    assert withheld.quantity is None
    assert "no charge check" in withheld.remark.say()


def test_an_unknown_refrigerant_is_said() -> None:
    found = results(phase(*GAUGES))
    assert "does not say which refrigerant" in found["superheat"].remark.say()
    assert found["superheat"].quantity is None

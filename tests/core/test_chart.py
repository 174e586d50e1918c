"""The lines of the psychrometric chart: inside their window, round figures, in their places, at any pressure."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fentro_core.air import AirState, standard_pressure
from fentro_core.air.chart import Chart, ChartLine, chart
from fentro_core.base.refusal import Refused
from fentro_core.base.units import KINDS


def family(found: Chart, name: str) -> list[ChartLine]:
    return [line for line in found.lines if line.family == name]


@given(st.floats(-25, 15), st.floats(30, 60), st.floats(0.008, 0.04), st.floats(0, 3000), st.sampled_from(["SI", "US"]))
@settings(max_examples=25, deadline=None)
def test_every_line_stays_in_its_window(low: float, width: float, top: float, elevation: float, system: Any) -> None:
    found = chart(low, low + width, top, standard_pressure(elevation), system)
    for line in found.lines:
        assert len(line.dry_bulb_c) == len(line.humidity_ratio) > 1
        assert min(line.dry_bulb_c) >= low - 1e-6 or line.family == "wet_bulb"
        assert max(line.dry_bulb_c) <= low + width + 1e-6
        assert min(line.humidity_ratio) >= 0
        assert max(line.humidity_ratio) <= top * 1.001
        assert all(later >= earlier for earlier, later in pairwise(line.dry_bulb_c))


@pytest.mark.parametrize(
    ("system", "name", "step"),
    [
        ("SI", "wet_bulb", 5.0),
        ("US", "wet_bulb", 10.0),
        ("SI", "enthalpy", 10.0),
        ("US", "enthalpy", 5.0),
        ("SI", "specific_volume", 0.02),
    ],
)
def test_figures_are_round_in_their_system(system: Any, name: str, step: float) -> None:
    lines = family(chart(system=system), name)
    assert len(lines) > 2
    for line in lines:
        shown = KINDS[line.kind].unit(system).from_si(line.value)
        assert shown / step == pytest.approx(round(shown / step), abs=1e-6)


def test_humid_lines_lie_one_over_the_other() -> None:
    lines = sorted(family(chart(), "relative_humidity"), key=lambda line: line.value)
    assert [round(line.value, 1) for line in lines] == [n / 10 for n in range(1, 10)]
    at = [dict(zip((round(t, 3) for t in line.dry_bulb_c), line.humidity_ratio, strict=True)) for line in lines]
    common = sorted(set.intersection(*(set(each) for each in at)))
    for dry_bulb in common[5:15]:
        ratios = [each[dry_bulb] for each in at]
        assert ratios == sorted(ratios)


def test_nothing_lies_over_saturation() -> None:
    found = chart(pressure_pa=standard_pressure(1655))
    for line in found.lines:
        for dry_bulb, ratio in zip(line.dry_bulb_c, line.humidity_ratio, strict=True):
            if ratio > 1e-6:
                assert AirState(dry_bulb, ratio, found.pressure_pa).relative_humidity <= 1.002


def test_falling_lines_begin_on_the_saturation_curve() -> None:
    found = chart()
    for name in ("enthalpy", "specific_volume", "wet_bulb"):
        for line in family(found, name):
            first = AirState(line.dry_bulb_c[0], line.humidity_ratio[0], found.pressure_pa)
            inside = first.dry_bulb_c > found.low_c + 0.01 and first.humidity_ratio < found.highest_ratio * 0.9
            if inside:
                assert first.relative_humidity == pytest.approx(1.0, abs=0.005), (name, line.value)


def test_the_curve_is_cut_where_the_window_ends() -> None:
    found = chart(highest_ratio=0.02)
    saturation = family(found, "saturation")[0]
    assert saturation.humidity_ratio[-1] == pytest.approx(0.02)
    assert AirState(saturation.dry_bulb_c[-1], 0.02).relative_humidity == pytest.approx(1.0, abs=0.002)


def test_thin_air_lifts_the_curve() -> None:
    sea, high = (family(chart(pressure_pa=standard_pressure(z)), "saturation")[0] for z in (0.0, 2400.0))
    assert (
        dict(zip(high.dry_bulb_c, high.humidity_ratio, strict=True))[10.0]
        > dict(zip(sea.dry_bulb_c, sea.humidity_ratio, strict=True))[10.0]
    )


@pytest.mark.parametrize(
    ("given_", "path"),
    [
        ({"low_c": 20.0, "high_c": 22.0}, "high_c"),
        ({"low_c": -70.0}, "high_c"),
        ({"high_c": 95.0}, "high_c"),
        ({"highest_ratio": 0.5}, "highest_ratio"),
        ({"pressure_pa": 20_000.0}, "pressure_pa"),
    ],
)
def test_a_window_that_can_not_be_is_refused(given_: dict[str, float], path: str) -> None:
    with pytest.raises(Refused) as refused:
        chart(**given_)  # type: ignore[arg-type]
    assert refused.value.path == path

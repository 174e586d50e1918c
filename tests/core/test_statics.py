"""Static pressures: drops by build-up, at rated flow, against plate or ordinary; the filter's state."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.base.measured import Measured
from fentro_core.base.refusal import Refused
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.statics.drops import drop_at_rated, drops, wet_coil_drop
from fentro_core.system.nameplate import DropPoint
from fentro_core.visit.results import PhaseResult
from fentro_core.visit.work_up import work_up
from tests.core.visits import flow, reading, snapshot, started

PLATE = {"rated_total_w": 10_550.0, "rated_airflow_m3s": 0.566}


def phase(
    kind: str = "furnace_with_coil", m3s: float | None = 0.566, plate: dict[str, Any] | None = None, **pascal: float
) -> PhaseResult:
    taps = [reading(tap, "static_pressure", value, "Pa", instrument=None) for tap, value in pascal.items()]
    entries = [started(), *taps, *([flow(m3s)] if m3s else [])]
    return work_up(read_snapshot(snapshot(entries, kind, **(plate or PLATE)))).phases[0]


def values(found: PhaseResult) -> dict[str, float]:
    assert found.pages.statics
    return {drop.part: drop.drop.quantity.value for drop in found.pages.statics.drops if drop.drop.quantity}


def test_drops_follow_the_build_up() -> None:
    furnace = phase(return_static=-24, filter_static=-52, supply_static=70, coil_out_static=24)
    assert values(furnace) == pytest.approx({"return": 24, "filter": 28, "coil": 46, "supply": 24})
    pump = phase("split_heat_pump", return_static=-24, filter_static=-52, coil_out_static=-98, supply_static=31)
    assert values(pump) == pytest.approx({"return": 24, "filter": 28, "coil": 46, "supply": 31})
    assert [tap.station for tap in pump.pages.statics.taps] == [
        "return_static",
        "filter_static",
        "coil_out_static",
        "supply_static",
    ]


def test_a_missing_tap_leaves_its_drops_out() -> None:
    assert values(phase(return_static=-24)) == {"return": 24}
    assert phase().pages.statics.taps == ()
    assert drops({}, ()).parts() == {}


@given(st.floats(1, 200), st.floats(0.2, 1.0), st.floats(0.2, 1.0))
def test_at_rated_flow_goes_with_the_square(drop: float, flow_: float, rated: float) -> None:
    found = drop_at_rated(drop, flow_, rated)
    assert found == pytest.approx(drop * (rated / flow_) ** 2)
    assert drop_at_rated(found, rated, flow_) == pytest.approx(drop, rel=1e-6)


@pytest.mark.parametrize(
    ("drop", "m3s", "words"),
    [(30, 0.566, "is good"), (66, 0.566, "due soon"), (90, 0.566, "Change the filter"), (45, 0.38, "Change the filter")],
)
def test_a_filters_drop_tells_when_to_change_it(drop: float, m3s: float, words: str) -> None:
    """The last: a clogged filter at a low flow looks clean by its drop alone."""
    found = phase(m3s=m3s, return_static=-20, filter_static=-20 - drop)
    assert words in found.pages.statics.filter.say()


def test_the_plates_own_figures_go_before_ordinary_ones() -> None:
    plate = {
        **PLATE,
        "filter_change_pa": 40.0,
        "coil_curve": [{"drop_pa": 20, "airflow_m3s": 0.4}, {"drop_pa": 40, "airflow_m3s": 0.6}],
    }
    found = phase(plate=plate, return_static=-20, filter_static=-75, supply_static=80, coil_out_static=20)
    by_part = {drop.part: drop for drop in found.pages.statics.drops}
    assert (by_part["filter"].most, by_part["filter"].source, by_part["filter"].mark) == (40.0, "plate", "off")
    assert by_part["coil"].source == "plate"
    assert by_part["coil"].most == pytest.approx(36.5 * 1.4, rel=0.05)
    assert by_part["coil"].mark == "off"
    assert by_part["return"].source == "ordinary"


def test_too_large_a_drop_stands_in_the_rail_with_its_working() -> None:
    found = phase(return_static=-90, filter_static=-110, supply_static=70, coil_out_static=24)
    line = next(each for each in found.verdicts if each.key == "drop_return")
    assert line.mark == "off"
    assert line.result == "drop_return"
    drop = next(each for each in found.pages.statics.drops if each.part == "return")
    assert drop.drop.lines[0].symbol == "P_r"


def test_a_drop_below_zero_is_swapped_hoses() -> None:
    found = phase(return_static=-50, filter_static=-20)
    assert next(each for each in found.pages.statics.drops if each.part == "filter").mark == "off"


def test_without_a_measured_flow_the_drop_is_taken_as_it_is() -> None:
    found = phase(m3s=None, return_static=-20, filter_static=-60)
    drop = next(each for each in found.pages.statics.drops if each.part == "filter")
    assert drop.at_rated.value == drop.drop.quantity.value == 40


def test_no_flow_is_refused() -> None:
    with pytest.raises(Refused, match="above zero"):
        drop_at_rated(10, 0, 1)
    assert drops({"return_static": Measured(-5.0)}, ("filter_static", "coil_out_static")).parts()["return"].value == 5.0


def test_a_wet_coil_drops_more_than_its_dry_curve_and_nothing_follows_beyond_it() -> None:
    curve = (DropPoint(30.0, 0.4), DropPoint(60.0, 0.57), DropPoint(90.0, 0.7))
    assert wet_coil_drop(curve, 0.57) == pytest.approx(84.0)
    assert wet_coil_drop(curve, 0.4) == pytest.approx(42.0)
    for wrong, flow_m3s in ((curve, 0.71), (curve, 0.39), (curve[:1], 0.4)):
        with pytest.raises(Refused) as refused:
            wet_coil_drop(wrong, flow_m3s)
        assert refused.value.path == "curve"

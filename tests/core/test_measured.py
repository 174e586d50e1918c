"""Half-widths: root sum of squares, shared sources cancel, close calls say what would settle them."""

from math import hypot, sqrt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.air import AirState
from fentro_core.base.measured import Measured, exact, mean, propagate
from fentro_core.base.refusal import Refused
from fentro_core.base.verdict import judge
from fentro_core.instruments.instrument import Accuracy, Instrument, measured_reading
from fentro_core.instruments.station_air import ProbePoint, station_air

widths = st.floats(0.01, 2)


@given(widths, widths, st.floats(-5, 5), st.floats(-5, 5))
def test_linear_formulas_are_exact(a_width: float, b_width: float, a_weight: float, b_weight: float) -> None:
    inputs = {"a": Measured(3.0, {"a": a_width}), "b": Measured(-1.0, {"b": b_width})}
    result = propagate(lambda a, b: {"y": a_weight * a + b_weight * b}, inputs)["y"]
    assert result.plus_minus == pytest.approx(sqrt((a_weight * a_width) ** 2 + (b_weight * b_width) ** 2), abs=1e-9)


@given(widths)
def test_a_shared_probe_cancels_in_a_difference_and_adds_in_a_sum(width: float) -> None:
    inputs = {name: Measured(value, {"probe": width}) for name, value in (("a", 24.0), ("b", 13.0))}
    result = propagate(lambda a, b: {"difference": a - b, "sum": a + b}, inputs)
    assert result["difference"].plus_minus == pytest.approx(0, abs=1e-9)
    assert result["sum"].plus_minus == pytest.approx(2 * width)


def test_propagation_agrees_with_many_random_draws() -> None:
    import random

    draw = random.Random(7)
    inputs = {"dry": Measured(25.0, {"t": 0.4}), "wet": Measured(18.0, {"w": 0.4})}

    def formula(dry: float, wet: float) -> dict[str, float]:
        return {"h": AirState.from_wet_bulb(dry, wet).enthalpy_j_per_kg}

    found = propagate(formula, inputs)["h"].plus_minus
    drawn = [formula(draw.gauss(25.0, 0.2), draw.gauss(18.0, 0.2))["h"] for _ in range(4000)]
    average = sum(drawn) / len(drawn)
    spread = 2 * sqrt(sum((value - average) ** 2 for value in drawn) / len(drawn))
    assert found == pytest.approx(spread, rel=0.06)


def test_an_input_at_the_edge_of_the_possible_is_moved_to_the_other_side() -> None:
    result = propagate(lambda rh: {"w": AirState.from_rh(20.0, rh).humidity_ratio}, {"rh": Measured(1.0, {"probe": 0.02})})["w"]
    assert result.plus_minus == pytest.approx(0.02 * AirState.from_rh(20.0, 1.0).humidity_ratio, rel=0.05)


def test_shares_add_up_and_the_largest_comes_first() -> None:
    shares = Measured(1.0, {"small": 1.0, "large": 3.0}).shares()
    assert list(shares) == ["large", "small"]
    assert sum(shares.values()) == pytest.approx(1)
    assert exact(3.0).shares() == {}


@pytest.mark.parametrize(
    ("value", "width", "mark", "side"),
    [
        (10.5, 0.5, "holds", ""),
        (9.1, 0.1, "watch", "low"),
        (12.1, 0.05, "watch", "high"),
        (8.0, 0.5, "off", "low"),
        (13.0, 0.5, "off", "high"),
        (9.0, 0.5, "too_close", "low"),
        (12.4, 0.5, "too_close", "high"),
        (12.0, 0.5, "too_close", "high"),
    ],
)
def test_a_verdict_compares_the_whole_interval(value: float, width: float, mark: str, side: str) -> None:
    verdict = judge(Measured(value, {"a": width}), 8.9, 12.2)
    assert (verdict.mark, verdict.side) == (mark, side)


def test_a_close_call_is_settled_by_the_half_width_it_names() -> None:
    close = Measured(9.3, {"return probe": 0.8, "supply probe": 0.2})
    settle = judge(close, 8.9, 12.2).settle
    assert settle is not None
    assert settle.source == "return probe"
    assert settle.needed is not None
    assert judge(Measured(9.3, {"return probe": settle.needed * 0.999, "supply probe": 0.2}), 8.9, 12.2).mark != "too_close"
    assert judge(Measured(9.3, {"return probe": settle.needed * 1.01, "supply probe": 0.2}), 8.9, 12.2).mark == "too_close"


def test_when_one_source_alone_cannot_settle_it_says_so() -> None:
    settle = judge(Measured(9.0, {"a": 0.5, "b": 0.5}), 8.9, 12.2).settle
    assert settle is not None
    assert settle.needed is None


PROBE = Instrument("p", "Probe", accuracy={"dry_bulb": Accuracy(0.3, resolution=0.1)}, calibration_due_on="2026-06-30")


def test_an_overdue_instrument_doubles_the_half_width() -> None:
    before = measured_reading("dry_bulb", 24.0, "degC", "own", PROBE, "2026-06-30T23:00:00+00:00", None)
    after = measured_reading("dry_bulb", 24.0, "degC", "own", PROBE, "2026-07-01T01:00:00+00:00", None)
    assert after.plus_minus == pytest.approx(2 * before.plus_minus)


def test_a_typed_half_width_goes_before_the_instruments_and_keeps_its_unit() -> None:
    reading = measured_reading("dry_bulb", 75.2, "degF", "own", PROBE, "2026-07-01T00:00:00+00:00", 1.8)
    assert reading.value == pytest.approx(24.0)
    assert reading.plus_minus == pytest.approx(1.0)


def point(number: int, dry_bulb: float, rh: float | None = None) -> ProbePoint:
    readings = {"dry_bulb": Measured(dry_bulb, {f"t{number}": 0.1})}
    if rh is not None:
        readings["relative_humidity"] = Measured(rh, {f"h{number}": 0.01})
    return ProbePoint(number, readings)


def test_points_are_averaged_and_their_spread_widens_the_result() -> None:
    air = station_air("return", [point(1, 24.0, 0.5), point(2, 26.0, 0.45)], 101325.0, "return")
    assert air is not None
    assert air.dry_bulb.value == pytest.approx(25.0)
    assert air.spread_k == pytest.approx(2.0)
    assert 1.1 < air.dry_bulb.plus_minus < 2.5
    single = station_air("return", [point(1, 24.0, 0.5)], 101325.0, "return")
    assert single is not None
    assert single.dry_bulb.plus_minus == pytest.approx(hypot(0.1, 0.8)), "one point stands for a duct within its layers"
    room = station_air("return_grille", [point(1, 24.0, 0.5)], 101325.0)
    assert room is not None
    assert room.dry_bulb.plus_minus == pytest.approx(0.1)


def test_a_point_without_humidity_counts_for_temperature_only() -> None:
    air = station_air("mixed", [point(1, 20.0, 0.5), point(2, 22.0)], 101325.0)
    assert air is not None
    assert air.dry_bulb.value == pytest.approx(21.0)
    assert air.humidity_ratio is not None
    assert air.humidity_ratio.value == pytest.approx(AirState.from_rh(20.0, 0.5).humidity_ratio)


def test_averages_are_of_the_values_given() -> None:
    assert mean([exact(1.0), exact(4.0)]).value == pytest.approx(2.5)
    assert station_air("return", [], 101325.0) is None


def test_an_impossible_pair_is_refused_at_the_humidity() -> None:
    readings = {"dry_bulb": exact(20.0), "wet_bulb": exact(21.0)}
    with pytest.raises(Refused) as refused:
        station_air("return", [ProbePoint(1, readings)], 101325.0)
    assert refused.value.path == "wet_bulb"

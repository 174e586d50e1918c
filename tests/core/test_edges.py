"""Just inside and just outside: every limit that a technician can meet, one pair of values each."""

from __future__ import annotations

from dataclasses import replace
from math import exp, sqrt
from typing import Any

import pytest

from fentro_core.air import AirState
from fentro_core.air.chart import chart
from fentro_core.airflow.traverse import Duct, traverse, traverse_plan
from fentro_core.base.interpolation import Monotone
from fentro_core.base.measured import Measured
from fentro_core.base.refusal import Refused
from fentro_core.cooling.expected import expected_cooling
from fentro_core.economizer.configuration import Configuration, configuration_json, read_configuration
from fentro_core.economizer.places import POINTS
from fentro_core.economizer.proof.day import Day
from fentro_core.economizer.proof.plan import Wanted, plan
from fentro_core.economizer.sensor_identity import Condition, Reference, sensor_identity
from fentro_core.history.drift import HistoryPoint, drift
from fentro_core.instruments.instrument import Instrument, measured_reading
from fentro_core.instruments.steadiness import settles_in, steadiness
from fentro_core.leakage.entries import ReturnDuct
from fentro_core.logbook.entry import read_entry
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.visit.work_up import work_up
from tests.core.visits import INSTRUMENTS, air, entry, flow, reading, snapshot, started


@pytest.mark.parametrize(("dry_bulb", "fits"), [(-60.0, True), (-60.1, False), (90.0, True), (90.1, False)])
def test_air_is_known_from_sixty_below_to_ninety_above(dry_bulb: float, fits: bool) -> None:
    if fits:
        assert AirState.from_rh(dry_bulb, 0.1).dry_bulb_c == dry_bulb
    else:
        with pytest.raises(Refused):
            AirState.from_rh(dry_bulb, 0.1)


def test_the_charts_lines_stay_within_its_window() -> None:
    for found, (low, high, top) in ((chart(), (-5, 45, 0.028)), (chart(0.0, 30.0, 0.02), (0, 30, 0.02))):
        points = [point for line in found.lines for point in zip(line.dry_bulb_c, line.humidity_ratio, strict=True)]
        assert all(low - 1e-6 <= celsius <= high + 1e-6 and -1e-9 <= ratio <= top + 1e-6 for celsius, ratio in points)
        assert max(ratio for _, ratio in points) > 0.9 * top


@pytest.mark.parametrize(("diameter", "points"), [(0.10, 18), (0.249, 18), (0.30, 24), (0.499, 24), (0.60, 30)])
def test_a_larger_round_duct_has_more_points(diameter: float, points: int) -> None:
    assert len(traverse_plan(Duct("round", diameter_m=diameter)).points) == points


@pytest.mark.parametrize(("after", "flagged"), [(7.6, False), (7.4, True)])
def test_a_plane_near_a_disturbance_is_flagged(after: float, flagged: bool) -> None:
    duct = Duct("round", diameter_m=0.2, after_m=after * 0.2, before_m=2.0)
    assert bool(traverse_plan(duct).flags) is flagged


@pytest.mark.parametrize(("before", "flagged"), [(1.6, False), (1.4, True)])
def test_and_so_is_one_near_the_next(before: float, flagged: bool) -> None:
    duct = Duct("round", diameter_m=0.2, after_m=3.0, before_m=before * 0.2)
    assert bool(traverse_plan(duct).flags) is flagged


def test_the_flow_of_a_traverse_is_mean_velocity_times_the_inside() -> None:
    assert traverse(Duct("rectangular", width_m=0.5, height_m=0.3), (4.0, 6.0)).airflow_m3s == pytest.approx(5 * 0.15)
    assert traverse(Duct("round", diameter_m=0.4), (3.0,)).airflow_m3s == pytest.approx(3 * 3.14159265 * 0.04, rel=1e-6)


def test_a_cubic_between_points_is_fritsch_and_butlands() -> None:
    """Worked by hand: x 0 1 3, y 0 2 3, secants 2 and 0.5, slope at 1 from weights 5 and 4: 9 / (5/2 + 4/0.5)."""
    table = Monotone([(0.0, 0.0), (1.0, 2.0), (3.0, 3.0)])
    slope = 9 / (5 / 2 + 4 / 0.5)
    h00, h10, h01, h11 = 0.5, 0.125, 0.5, -0.125
    assert table(0.5) == pytest.approx(h00 * 0 + h10 * 2.0 + h01 * 2.0 + h11 * slope)
    assert table(2.0) == pytest.approx(h00 * 2 + h10 * slope * 2 + h01 * 3 + h11 * 0.5 * 2)
    for outside in (-0.01, 3.01):
        with pytest.raises(Refused):
            table(outside)


WITHIN = {"wet_bulb_f": 67.0, "outdoor_f": 95.0, "flow_share": 1.0}


@pytest.mark.parametrize(
    ("what", "value", "known"),
    [
        ("wet_bulb_f", 55.5, True),
        ("wet_bulb_f", 54.0, False),
        ("wet_bulb_f", 74.5, True),
        ("wet_bulb_f", 76.5, False),
        ("outdoor_f", 66.0, True),
        ("outdoor_f", 63.0, False),
        ("outdoor_f", 114.0, True),
        ("outdoor_f", 117.0, False),
        ("flow_share", 0.62, True),
        ("flow_share", 0.57, False),
        ("flow_share", 1.28, True),
        ("flow_share", 1.34, False),
    ],
)
def test_what_this_unit_should_show_is_only_told_where_the_model_was_fitted(what: str, value: float, known: bool) -> None:
    at = WITHIN | {what: value}
    return_ = AirState.from_wet_bulb(30.0, (at["wet_bulb_f"] - 32) / 1.8)
    found = expected_cooling(return_, (at["outdoor_f"] - 32) / 1.8, 0.566 * at["flow_share"], 10_550.0, 0.566)
    assert (found.outside == ()) is known


@pytest.mark.parametrize(
    ("field", "least", "most"),
    [
        ("high_limit_c", 5.0, 35.0),
        ("supply_setpoint_c", 8.0, 24.0),
        ("mixed_low_limit_c", 2.0, 15.0),
        ("relief_opens_pa", 2.0, 60.0),
        ("freeze_delay_s", 0.0, 1800.0),
        ("differential_k", 0.0, 6.0),
        ("minimum_position", 0.0, 1.0),
        ("high_limit_j_per_kg", 20_000.0, 80_000.0),
    ],
)
def test_a_setting_lies_within_what_a_controller_takes(field: str, least: float, most: float) -> None:
    usual = replace(Configuration(), freeze_c=-4.0)
    for value, fits in ((least, True), (most, True), (least - 0.01, False), (most * 1.01, False)):
        document = {**configuration_json(usual), field: value}
        if fits:
            assert getattr(read_configuration(document), field) == value
        else:
            with pytest.raises(Refused) as refused:
                read_configuration(document)
            assert refused.value.path == field


def test_a_controllers_points_have_the_ranges_of_their_sensors() -> None:
    said = {key: (point.low, point.high) for key, point in POINTS.items() if point.kind == "temperature"}
    assert said["outdoor_temperature"] == (-40, 60)
    assert said["supply_temperature"] == (-40, 80)
    assert said["cooling_setpoint"] == (10, 40)
    assert (POINTS["building_pressure"].low, POINTS["building_pressure"].high) == (-100, 200)


@pytest.mark.parametrize(
    ("field", "most"), [("length_m", 200.0), ("perimeter_m", 12.0), ("resistance_m2k_per_w", 5.0), ("floor_area_m2", 20_000.0)]
)
def test_a_return_run_is_of_a_size_that_ducts_have(field: str, most: float) -> None:
    body = {"length_m": 7.0, "perimeter_m": 1.4, "resistance_m2k_per_w": 1.0}
    assert isinstance(read_entry(entry("return_duct", {**body, field: most})).body, ReturnDuct)
    for wrong in (0.0, most * 1.01):
        with pytest.raises(Refused) as refused:
            read_entry(entry("return_duct", {**body, field: wrong}))
        assert refused.value.path == f"body.{field}"


def test_a_drift_is_told_a_year_and_by_the_scatter_where_that_is_larger() -> None:
    even = tuple(HistoryPoint(365.25 * n, 1.0 + 0.2 * n, 0.05) for n in range(4))
    found = drift(even)
    assert found.direction == "up"
    assert found.change == pytest.approx(0.6)
    noisy = tuple(HistoryPoint(365.25 * n, value, 0.01) for n, value in enumerate((1.0, 1.4, 1.1, 1.5)))
    assert drift(noisy).direction == "none"
    still = drift(tuple(replace(each, value=1.0) for each in noisy))
    assert drift(noisy).change_plus_minus > 10 * still.change_plus_minus


def test_an_instruments_figures_add_up_and_double_when_overdue() -> None:
    given = {"plus_minus": 0.2, "share": 0.01, "resolution": 0.2, "repeatability": 0.15}
    made = {**INSTRUMENTS[0], "accuracy": {"dry_bulb": given}, "calibration_due_on": "2026-07-01"}
    from fentro_core.base.typed_json import read

    instrument: Instrument = read(made, Instrument)
    for at, factor in (("2026-06-30T10:00:00+00:00", 1), ("2026-07-02T10:00:00+00:00", 2)):
        found = measured_reading("dry_bulb", 25.0, "degC", "own", instrument, at, None)
        assert found.parts["own"] == pytest.approx(factor * sqrt(0.1**2 + 0.15**2))
        common = next(width for source, width in found.parts.items() if source != "own")
        assert common == pytest.approx(factor * (0.2 + 0.01 * 25))


def test_a_first_order_approach_is_told_when_it_will_be_slow_enough() -> None:
    tau, limit = 100.0, 0.3 / 600
    times = [float(second) for second in range(541)]
    values = [24.0 - 8.0 * exp(-time / tau) for time in times]
    told = settles_in(times, values, limit, 180.0)
    assert told is not None
    slope_now = 8.0 / tau * exp(-times[-1] / tau)
    from math import log

    assert told == pytest.approx(max(tau * log(slope_now / limit), 0.0), abs=12.0)
    assert settles_in(times, [24.0] * len(times), limit, 180.0) is None
    assert settles_in(times, [24.0 + 0.001 * time for time in times], limit, 180.0) is None


def test_a_ramp_is_moving_and_a_still_stream_steady() -> None:
    times = [float(second) for second in range(200)]
    assert steadiness(times, [24.0] * 200).state == "steady"
    assert steadiness(times, [24.0 + 0.002 * time for time in times]).state == "moving"
    assert steadiness(times[:5], [24.0] * 5).state == "too_short"


def test_the_plan_asks_for_the_share_that_was_measured_or_for_what_dampers_do() -> None:
    setting = replace(Configuration(), minimum_position=0.2)
    told = next(step for step in plan(setting, Day(outdoor_c=5.0), Wanted(0.25)) if step.key == "minimum").expected
    assert any(due.low == pytest.approx(0.17) and due.high == pytest.approx(0.33) for due in told)
    guessed = next(step for step in plan(setting, Day(outdoor_c=5.0)) if step.key == "minimum").expected
    assert any(due.low == pytest.approx(0.1) and due.high == pytest.approx(0.5) for due in guessed)


def test_which_sensor_is_which_is_told_by_chance() -> None:
    known = {"outdoor": Reference(5.0), "return": Reference(22.0)}
    right = sensor_identity((Condition("as it is", {"A": 5.2, "B": 21.8}, known),), {"A": "outdoor", "B": "return"})
    assert not right.swapped
    assert right.chance == 1.0
    wrong = sensor_identity((Condition("as it is", {"A": 21.8, "B": 5.2}, known),), {"A": "outdoor", "B": "return"})
    assert wrong.swapped
    assert wrong.chance < 1e-6


def ribbon(*more: dict[str, Any], **readings: float) -> Any:
    entries = [each for station, celsius in readings.items() for each in air(station, celsius, 50)]
    return work_up(read_snapshot(snapshot([started(), *entries, *more], "packaged_rooftop", economizer=True))).phases[0].ribbon


def test_the_air_path_is_as_wide_as_the_outdoor_share_that_is_known_well_enough() -> None:
    known = ribbon(**{"return": 24.0, "outdoor": 4.0, "mixed": 18.0}).bands[0].segments
    assert {round(segment.share, 6) for segment in known} == {0.7, 1.0}
    assert known[-1].share == 1.0
    assert all(segment.share_known for segment in known)
    wide = {"return": 24.0, "outdoor": 23.0, "mixed": 23.5}
    close = (
        ribbon(*(each for name, celsius in wide.items() for each in air(name, celsius, 50, instrument=None))).bands[0].segments
    )
    assert not close[0].share_known
    assert close[-1].share_known


def test_where_to_read_next_is_the_first_needed_station_without_humidity() -> None:
    def following(*entries: dict[str, Any]) -> str:
        return work_up(read_snapshot(snapshot([started(), *entries]))).next_station

    assert following() == "return"
    assert following(reading("return", "dry_bulb", 24.0, "degC")) == "return"
    assert following(*air("return", 24.0, 50)) == "supply"
    assert following(*air("return", 24.0, 50), *air("supply", 13.0, 90)) not in ("return", "supply")


def test_nothing_is_said_before_something_was_read() -> None:
    assert work_up(read_snapshot(snapshot([]))).phases[0].verdicts == ()
    assert work_up(read_snapshot(snapshot([*air("return", 24.0, 50)]))).phases[0].verdicts != ()


def test_a_flow_typed_with_its_doubt_keeps_it() -> None:
    phase = work_up(read_snapshot(snapshot([started(), *air("return", 24.6, 58), *air("supply", 13.8, 91), flow(1.8)]))).phases[0]
    found = next(each for each in phase.results if each.key == "airflow")
    assert found.quantity is not None
    assert found.quantity.plus_minus == pytest.approx(0.054, rel=0.5)
    assert Measured(1.0, {"a": 0.3}).low == 0.7

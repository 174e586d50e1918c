"""One figure, one side of a comparison or one branch each, where a break went unseen by all other tests."""

from __future__ import annotations

import csv
import io
from dataclasses import replace

import pytest

from fentro_core.air import AirState
from fentro_core.air.chart import chart
from fentro_core.airflow.traverse import Duct
from fentro_core.base.measured import Measured
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.student import t_95
from fentro_core.base.version import fingerprint
from fentro_core.cooling.expected import rated_coil
from fentro_core.cooling.judging import CAPACITY_TOLERANCE_SHARE
from fentro_core.cooling.part import PART as COOLING
from fentro_core.diagnosis.signs import state_of
from fentro_core.economizer.configuration import FORMAT, VERSION, Configuration
from fentro_core.economizer.mode_map import PositionRead, mode_map, share_of
from fentro_core.economizer.page import _sign_words
from fentro_core.economizer.points import Compared, PointLine, physics_checks, write_points
from fentro_core.economizer.proof.day import Day
from fentro_core.economizer.proof.diagnosis import signs_of
from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.plan import plan
from fentro_core.economizer.proof.running import share_half_width
from fentro_core.economizer.proof.step import EYE_HALF_WIDTHS, HALF_WIDTHS, Due, TestRun
from fentro_core.economizer.sensors import RANGE_C, resistance_of
from fentro_core.heating.heat import INDOOR_RANGE_F, OUTDOOR_RANGE_F
from fentro_core.history.drift import HistoryPoint, drift
from fentro_core.instruments.steadiness import Evidence, Steadiness, judge_evidence, settles_in, whole_state
from fentro_core.leakage.part import _weights
from fentro_core.leakage.return_side import ReturnRun, return_leak
from fentro_core.logbook.entry import read_entry
from fentro_core.measuring.logger_layout import decode, layout_of
from fentro_core.phase.matches import _widest_two
from fentro_core.phase.results import VerdictLine
from fentro_core.refrigerant.circuit import saturation_pressure, saturation_temperature
from fentro_core.visit.verdicts import ranked
from fentro_core.weather.year import HEADER_LINES, read_epw, synthetic_year, write_epw
from tests.core.bodies import BODIES, of_kind

Watched = dict[str, float]


# figures


def test_half_widths_of_a_controllers_points_are_as_docs_say() -> None:
    assert {key: width for key, width in HALF_WIDTHS.items() if key.endswith("_temperature")} == dict.fromkeys(
        (key for key in HALF_WIDTHS if key.endswith("_temperature")), 0.4
    )
    assert EYE_HALF_WIDTHS == {"damper_position": 0.05, "building_pressure": 1.5}


def test_the_heating_models_range_and_the_form_of_a_file() -> None:
    assert (OUTDOOR_RANGE_F, INDOOR_RANGE_F) == ((5.0, 65.0), (60.0, 80.0))
    assert (FORMAT, VERSION, len(fingerprint())) == ("fentro.economizer", 1, 12)


@pytest.mark.parametrize(("freedom", "told"), [(2.5, 3.558), (3.5, 2.938), (4.5, 2.660), (7.5, 2.334)])
def test_students_t_between_whole_numbers(freedom: float, told: float) -> None:
    """Against the incomplete beta function, worked out elsewhere."""
    assert t_95(freedom) == pytest.approx(told, abs=0.02)


def test_a_thermistor_is_known_down_to_the_ranges_end() -> None:
    cold = resistance_of("10k type II", RANGE_C[0])
    assert 150_000 < cold < 2_000_000
    assert cold > resistance_of("10k type II", RANGE_C[0] + 1)


def test_capacity_is_followed_about_its_target() -> None:
    share = next(number for number in COOLING.numbers if number.key == "capacity_share")
    assert share.followed is not None
    assert (share.followed.low, share.followed.high) == (1 - CAPACITY_TOLERANCE_SHARE, 1 + CAPACITY_TOLERANCE_SHARE)


def test_the_two_least_sure_make_a_differences_half_width() -> None:
    assert _widest_two([0.1, 0.4, 0.2, 0.3]) == pytest.approx(0.5)


# sides of comparisons


@pytest.mark.parametrize(
    ("low", "high", "fits"), [(0.0, 5.0, True), (0.0, 4.9, False), (-60.0, 40.0, True), (-61.0, 30.0, False)]
)
def test_a_charts_window_has_a_least_and_a_most(low: float, high: float, fits: bool) -> None:
    if fits:
        assert chart(low, high).high_c == high
    else:
        with pytest.raises(Refused, match="window"):
            chart(low, high)


def test_a_number_without_doubt_is_on_one_side() -> None:
    assert state_of(Measured(1.0), 2.0, 3.0) == ("low", 1.0)
    assert state_of(Measured(4.0), 2.0, 3.0) == ("high", 1.0)
    assert state_of(Measured(2.5), 2.0, 3.0) == ("right", 1.0)


@pytest.mark.parametrize(("ratio", "named"), [(0.4, False), (0.39, True), (1.0, False), (1.01, True)])
def test_a_rated_ratio_lies_between_two_fifths_and_one(ratio: float, named: bool) -> None:
    """No ordinary coil has a ratio at either end: inside, it is the coil that is refused, and not the ratio."""
    with pytest.raises(Refused) as refusal:
        rated_coil(9_000.0, 0.55, ratio)
    assert ("lies between 0.4 and 1" in str(refusal.value)) is named


@pytest.mark.parametrize("refrigerant", ["R-410A", "R-32", "R-454B"])
def test_the_ends_of_a_saturation_table_are_in_it(refrigerant: str) -> None:
    least, most = (saturation_pressure(refrigerant, at) for at in (-40.0, 64.0))  # type: ignore[arg-type]
    assert saturation_temperature(refrigerant, least) == pytest.approx(-40.0, abs=0.01)  # type: ignore[arg-type]
    assert saturation_temperature(refrigerant, most) == pytest.approx(64.0, abs=0.01)  # type: ignore[arg-type]
    for beyond in (least * 0.99, most * 1.01):
        with pytest.raises(Refused) as refusal:
            saturation_temperature(refrigerant, beyond)  # type: ignore[arg-type]
        said = refusal.value.sentence.numbers
        assert (said["low"].value, said["high"].value) == (-40.0, 64.0)


def test_a_position_beyond_open_or_below_shut_is_refused_in_a_map() -> None:
    for position, share in ((-0.1, 0.2), (1.1, 0.2), (0.2, -0.1), (0.2, 1.1)):
        with pytest.raises(Refused) as refusal:
            mode_map(Configuration(), reads=(PositionRead(0.5, 0.5), PositionRead(position, share)))
        assert refusal.value.path == "reads.1.position"
    assert mode_map(Configuration(), reads=(PositionRead(0.0, 0.0), PositionRead(1.0, 1.0))).points


def test_a_share_lies_on_the_line_between_two_that_were_read() -> None:
    reads = (PositionRead(0.2, 0.3), PositionRead(0.6, 0.5))
    assert [share_of(at, reads) for at in (0.2, 0.3, 0.6)] == pytest.approx([0.3, 0.35, 0.5])


def test_a_unit_without_compressor_has_no_stages_on_its_map() -> None:
    assert {point.stages for point in mode_map(Configuration(stages=0)).points if point.mode == "free"} == {0.0}
    assert {point.stages for point in mode_map(Configuration(stages=0)).points if point.mode == "compressor"} <= {0.0}


@pytest.mark.parametrize(("part", "most"), [("length_m", 1000.0), ("perimeter_m", 100.0), ("resistance_m2k_per_w", 100.0)])
def test_a_run_of_duct_has_a_most(part: str, most: float) -> None:
    air = [AirState.from_rh(*each) for each in ((22.0, 0.5), (24.0, 0.5), (45.0, 0.3), (13.0, 0.9))]
    run = replace(ReturnRun(10.0, 2.0, 1.0), **{part: most})
    assert return_leak(*air, 0.5, run, None, "spread")
    with pytest.raises(Refused) as refusal:
        return_leak(*air, 0.5, replace(run, **{part: most * 1.01}), None, "spread")
    assert refusal.value.path == f"duct.{part}"
    for pressure in (-5001.0, 5001.0):
        with pytest.raises(Refused) as refusal:
            return_leak(*air, 0.5, None, pressure, "spread")
        assert refusal.value.path == "static_pa"


@pytest.mark.parametrize(("year", "fits"), [(1999, False), (2000, True), (2100, True), (2101, False)])
def test_an_entry_is_of_this_century(year: int, fits: bool) -> None:
    given = of_kind("note", BODIES["note"]) | {"at": f"{year}-06-01T10:00:00+00:00"}
    if fits:
        assert read_entry(given).kind == "note"
    else:
        with pytest.raises(Refused) as refusal:
            read_entry(given)
        assert refusal.value.path == "at"


# what is streamed


def test_scatter_is_allowed_for_by_how_few_samples_there_are() -> None:
    few, many = (Evidence(180.0, count, 0.0, 0.01, 0.1 * 1.05) for count in (20, 20_000))
    assert judge_evidence(few, "dry_bulb", 0.1) == "steady"
    assert judge_evidence(many, "dry_bulb", 0.1) == "scattered"


def test_no_end_is_told_from_a_handful_of_samples() -> None:
    assert settles_in([0.0, 60.0, 120.0, 180.0, 240.0], [10.0, 14.0, 16.0, 17.0, 17.5], 0.001, 180.0) is None


def test_the_slowest_of_those_that_move_is_waited_for() -> None:
    quick, slow = (Steadiness("moving", 24.0, Evidence(180.0, 180, 2.0, 0.1, 0.1), settles) for settles in (120.0, 600.0))
    _, words = whole_state({"A": ("dry_bulb", quick), "B": ("dry_bulb", slow)}, None)
    assert words.numbers["wait"].value == 600.0
    _, words = whole_state({"A": ("dry_bulb", replace(quick, settles_in_s=None)), "B": ("dry_bulb", slow)}, None)
    assert "No end in sight" in words.say()


def test_the_form_of_a_file_is_told_by_its_first_two_bytes() -> None:
    assert decode("Time,T\n".encode("utf-16-be")[:0] + b"\xfe\xff" + "Time".encode("utf-16-be")) == "utf-16"
    assert decode(b"\xff") == "cp1252"
    assert decode(b"Time") == "utf-8-sig"


def test_the_layout_is_looked_for_in_sixty_lines() -> None:
    preface = [f"remark {number}\n" for number in range(62)]
    table = ["Time,Temp (C)\n", *(f"2026-07-01 10:{minute:02},2{minute % 10}.5\n" for minute in range(20))]
    assert layout_of([*preface[:40], *table]).columns
    with pytest.raises(Refused):
        layout_of([*preface, *table])


# the economizer's page and proof


def test_what_a_sign_is_called() -> None:
    assert _sign_words("audit.swapped", {}) == "Sensors against the reference probe"
    assert _sign_words("any.tripped", {}) == "Freeze protection tripped"
    assert _sign_words("minimum.damper_position.low", {"minimum": "Minimum position"}) == "Minimum position"


def test_a_difference_is_written_only_of_two_known_values() -> None:
    line = PointLine("AI-1", "Mixed", "mixed")
    compared = (Compared(line, 18.0, 18.5), Compared(line, 18.0, None), Compared(line, None, 18.5), Compared(line))
    rows = list(csv.DictReader(io.StringIO(write_points(compared))))
    assert [row["difference_k"] for row in rows] == ["-0.50", "", "", ""]


@pytest.mark.parametrize(("mixed", "mark"), [(4.1, "holds"), (3.9, "off"), (22.9, "holds"), (23.1, "off")])
def test_mixed_air_lies_between_the_others_or_a_kelvin_beyond(mixed: float, mark: str) -> None:
    found = physics_checks({"mixed": mixed, "return": 22.0, "outdoor": 5.0}, 0.5, None)
    assert [check.mark for check in found if check.key == "between"] == [mark]


def test_a_trip_in_any_test_is_a_sign_of_the_whole() -> None:
    seen = [TestRun("minimum", "controller", ended=ended) for ended in ("tripped", "done", "done")]  # type: ignore[arg-type]
    assert signs_of(seen)["any.tripped"] is True
    assert signs_of(seen[1:])["any.tripped"] is False


def test_what_was_not_measured_has_no_half_width() -> None:
    run = TestRun("minimum", "controller", {}, {"damper_position": 0.01}, (Due("damper_position", 0.1, 0.3),))
    judged = verdict(run).points[0]
    assert (judged.mark, judged.value, judged.plus_minus) == ("not_measured", None, 0.0)


def test_without_one_of_two_temperatures_a_share_is_not_known() -> None:
    assert share_half_width({"outdoor_temperature": 5.0}) == share_half_width({"return_temperature": 22.0}) == 1.0


def test_the_compressor_helps_from_a_little_above_the_supply_setpoint() -> None:
    setting = Configuration()
    for above, there in ((1.4, False), (1.6, True)):
        steps = plan(setting, Day(outdoor_c=setting.supply_setpoint_c + above))
        assert ("assist" in {step.key for step in steps}) is there


def test_a_damper_that_closes_down_on_cold_mixed_air_comes_below_its_minimum() -> None:
    for minimum, most in ((0.2, 0.17), (0.04, 0.02)):
        steps = {step.key: step for step in plan(Configuration(minimum_position=minimum), Day())}
        assert steps["cold_mixed"].expected[0].high == pytest.approx(most)


# weather


def test_a_year_written_is_the_year_read() -> None:
    year = synthetic_year("5A")
    lines = write_epw(year, 200.0).splitlines()
    back = read_epw("\n".join(lines))
    assert (back.dry_bulb_c, back.relative_humidity, back.missing) == (year.dry_bulb_c, year.relative_humidity, ())
    dates = [tuple(int(cell) for cell in line.split(",")[1:4]) for line in lines[HEADER_LINES:]]
    assert {month: max(day for at, day, _ in dates if at == month) for month in range(1, 13)} == {
        1: 31, 2: 28, 3: 31, 4: 30, 5: 31, 6: 30, 7: 31, 8: 31, 9: 30, 10: 31, 11: 30, 12: 31,
    }  # fmt: skip
    assert all(len(line.split(",")) == 35 for line in lines[HEADER_LINES:])


def test_a_missing_hour_lies_between_its_neighbours_by_its_distance() -> None:
    lines = write_epw(synthetic_year("5A")).splitlines()
    for at, celsius in ((100, "10.0"), (104, "18.0")):
        cells = lines[HEADER_LINES + at].split(",")
        cells[6], cells[8] = celsius, "50"
        lines[HEADER_LINES + at] = ",".join(cells)
    found = read_epw("\n".join(lines[: HEADER_LINES + 101] + lines[HEADER_LINES + 104 :]))
    assert found.missing == (101, 102, 103)
    assert found.dry_bulb_c[101:104] == pytest.approx((12.0, 14.0, 16.0))
    assert found.relative_humidity[102] == pytest.approx(0.5)


def test_a_weather_files_place_leaves_out_what_stands_for_nothing() -> None:
    lines = write_epw(synthetic_year("5A")).splitlines()
    lines[0] = "LOCATION,Elm Ridge,-,,made up,0,0,0,0,0"
    assert read_epw("\n".join(lines)).name == "Elm Ridge"
    cells = lines[HEADER_LINES + 50].split(",")
    for column, value, told in ((8, "0", 0.01), (8, "110", 1.0)):
        other = [*cells[:column], value, *cells[column + 1 :]]
        changed = [*lines[: HEADER_LINES + 50], ",".join(other), *lines[HEADER_LINES + 51 :]]
        assert read_epw("\n".join(changed)).relative_humidity[50] == told


@pytest.mark.parametrize(("month", "day", "hour"), [(13, 1, 1), (0, 1, 1), (4, 31, 1), (4, 0, 1), (4, 1, 25), (4, 1, 0)])
def test_a_date_that_no_year_has_is_refused_by_its_line(month: int, day: int, hour: int) -> None:
    lines = write_epw(synthetic_year("5A")).splitlines()
    cells = lines[HEADER_LINES + 50].split(",")
    lines[HEADER_LINES + 50] = ",".join([cells[0], str(month), str(day), str(hour), *cells[4:]])
    with pytest.raises(Refused, match=f"Line {HEADER_LINES + 51} "):
        read_epw("\n".join(lines))


# words and order


def test_a_place_without_a_number_stands_as_it_is() -> None:
    assert Sentence("Label {odd}, split {split}.", Sentence.of("{split}", split=(10.0, "temperature_difference")).numbers).say(
        "US"
    ) == ("Label {odd}, split 18.0 °F.")


def test_air_read_the_wrong_way_round_goes_before_the_leading_cause_and_all_else() -> None:
    from fentro_core.phase.declaration import PartResult

    given = [
        VerdictLine(key, mark, Sentence.of(key)) for key, mark in (("split", "off"), ("finding", None), ("filter_arrow", None))
    ]  # type: ignore[arg-type]
    ordered = ranked([PartResult(verdicts=tuple(given))], ())
    assert [line.key for line in ordered] == ["filter_arrow", "finding", "split"]


def test_two_answers_about_a_leak_are_weighed_as_they_agree() -> None:
    from types import SimpleNamespace

    one = Measured(0.1, {"a": 0.02})
    said = {
        (agree, by_heat is not None, by_moisture is not None): _weights(SimpleNamespace(agree=agree), by_heat, by_moisture).text  # type: ignore[arg-type]
        for agree in (True, False)
        for by_heat, by_moisture in ((one, one), (one, None), (None, one))
    }
    assert said[False, True, True].startswith("The two answers disagree")
    assert said[True, True, True].startswith("Both answers together")
    assert said[False, True, False].startswith("By heat alone")
    assert said[False, False, True].startswith("By moisture alone")


def test_a_drift_of_sure_points_is_as_sure_as_they_are() -> None:
    points = tuple(HistoryPoint(30.0 * number, 10.0 - number, 0.0) for number in range(4))
    found = drift(points)
    assert (found.direction, found.change) == ("down", pytest.approx(-3.0))
    assert found.change_plus_minus < 1e-6


def test_a_duct_without_its_sides_has_no_area() -> None:
    assert Duct("rectangular").area_m2 == Duct("rectangular", width_m=0.3).area_m2 == Duct("round").area_m2 == 0.0

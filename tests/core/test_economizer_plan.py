"""The settings plan: configuration, mode map, weather and the hours of a year, retrofit, intake, points, alarms."""

from __future__ import annotations

import dataclasses
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.air import AirState
from fentro_core.airflow.intake import LEAST_DISTANCE_M, IntakeDistances, intake
from fentro_core.base.refusal import Refused
from fentro_core.economizer.alarms import ALARMS, consequence
from fentro_core.economizer.changeover import FIXED_LIMIT_F, changeover, default_method, enthalpy_limit
from fentro_core.economizer.configuration import (
    CHOICES,
    LABELS,
    Configuration,
    check_model,
    configuration_json,
    differences,
    read_configuration,
    with_setting,
)
from fentro_core.economizer.minimum_position import PositionRead
from fentro_core.economizer.mode_map import OPEN_SHARE, mode_map, position_of, share_of
from fentro_core.economizer.points import COLUMNS, PointLine, compare, physics_checks, read_points, write_points
from fentro_core.economizer.retrofit import WIRES, retrofit
from fentro_core.economizer.year import hours_of_year
from fentro_core.weather.year import HOURS, WeatherYear, read_epw, synthetic_year, write_epw

PLANNED = Configuration(model="ED-20")


def refused(call: Any, *given: Any, **more: Any) -> Refused:
    with pytest.raises(Refused) as caught:
        call(*given, **more)
    assert caught.value.sentence.say().endswith((".", "?"))
    return caught.value


# configuration


def test_a_configuration_goes_out_and_comes_back_the_same() -> None:
    assert read_configuration(configuration_json(PLANNED)) == PLANNED


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"format": "something.else"}, "format"),
        ({"minimum_position": 1.4}, "minimum_position"),
        ({"high_limit_c": "warm"}, "high_limit_c"),
        ({"stages": 9}, "stages"),
        ({"heating_setpoint_c": 25.0}, "heating_setpoint_c"),
        ({"freeze_c": 8.0}, "freeze_c"),
        ({"loops": {"low_limit": "attic"}}, "loops.low_limit"),
        ({"loops": {"magic": "mixed"}}, "loops.magic"),
        ({"terminals": {"AI-1": "attic"}}, "terminals.AI-1"),
        ({"surprise": 1}, "surprise"),
    ],
)
def test_a_configuration_that_cannot_be_is_refused_at_its_field(change: dict[str, Any], path: str) -> None:
    assert refused(read_configuration, {**configuration_json(PLANNED), **change}).path == path


def test_one_from_another_model_is_refused_in_words() -> None:
    words = refused(check_model, PLANNED, "ED-30").sentence.say()
    assert "another model: ED-20" in words
    assert "Nothing was loaded" in words
    check_model(Configuration(), "ED-30")


def test_differences_are_readable_and_complete() -> None:
    now = dataclasses.replace(
        PLANNED, minimum_position=0.3, sequence="exclusive", loops={**PLANNED.loops, "low_limit": "outdoor"}
    )
    found = {each.key: each for each in differences(PLANNED, now)}
    assert set(found) == {"minimum_position", "sequence", "loops.low_limit"}
    assert found["minimum_position"].now_number is not None
    assert (found["loops.low_limit"].was, found["loops.low_limit"].now) == ("mixed air", "outdoor air")
    assert differences(now, now) == ()


def test_every_setting_has_a_name_and_every_choice_is_taken() -> None:
    for key, words in CHOICES.items():
        assert key in LABELS
        for value in words:
            with_setting(PLANNED, key, {"yes": True, "no": False}.get(value, value))
    assert refused(with_setting, PLANNED, "colour", "red").path == "setting"
    assert with_setting(PLANNED, "loops.low_limit", "outdoor").loops["low_limit"] == "outdoor"


# mode map


@given(st.floats(0, 1), st.lists(st.tuples(st.floats(0.05, 0.95), st.floats(0.05, 0.9)), max_size=3))
def test_a_share_gives_its_position_back(position: float, reads: list[tuple[float, float]]) -> None:
    ordered = sorted(zip(sorted(read[0] for read in reads), sorted(read[1] for read in reads), strict=True))
    measured = tuple(PositionRead(at, share) for at, share in ordered)
    share = share_of(position, measured)
    assert 0 <= share <= 1
    assert share_of(position_of(share, measured), measured) == pytest.approx(share, abs=1e-4)


def modes(setting: Configuration, **more: Any) -> dict[float, Any]:
    return {point.outdoor_c: point for point in mode_map(setting, **more).points}


def test_the_modes_follow_one_another_from_cold_to_hot() -> None:
    found = modes(PLANNED)
    order = list(dict.fromkeys(point.mode for point in found.values()))
    assert order == ["heating", "minimum", "free", "free_and_compressor", "compressor"]
    assert found[20.0].position == 1.0
    assert found[30.0].position == PLANNED.minimum_position
    assert found[11.0].supply_c == pytest.approx(PLANNED.supply_setpoint_c, abs=0.1), "dampers hold the supply air"


def test_exclusive_never_runs_both() -> None:
    found = modes(dataclasses.replace(PLANNED, sequence="exclusive"))
    assert all(not (point.stages and point.position > PLANNED.minimum_position) for point in found.values())


def test_the_low_limit_pulls_the_damper_below_its_minimum() -> None:
    found = modes(dataclasses.replace(PLANNED, minimum_position=0.5))
    assert found[-20.0].position < 0.5
    assert found[-20.0].mixed_c == pytest.approx(PLANNED.mixed_low_limit_c, abs=0.2)


def test_a_closed_damper_on_heating_and_enthalpy_in_wet_air() -> None:
    assert modes(dataclasses.replace(PLANNED, heating_damper="closed"))[0.0].position == 0.0
    wet = mode_map(dataclasses.replace(PLANNED, changeover="fixed_enthalpy"), outdoor_rh=0.95).free_up_to_c
    dry = mode_map(dataclasses.replace(PLANNED, changeover="fixed_enthalpy"), outdoor_rh=0.3).free_up_to_c
    assert wet < dry <= PLANNED.high_limit_c
    assert mode_map(PLANNED, today_c=15.0).today.mode == "free"  # type: ignore[union-attr]
    assert refused(mode_map, PLANNED, heating_below_c=15.0).path == "heating_below_c"
    assert share_of(1.0) == pytest.approx(OPEN_SHARE)


# weather and the hours of a year


@pytest.mark.parametrize("zone", ["1A", "3A", "3C", "4B", "5B", "6A", "8"])
def test_a_made_up_year_is_a_year_of_its_zone(zone: str) -> None:
    year = synthetic_year(zone)
    assert len(year.dry_bulb_c) == len(year.relative_humidity) == HOURS
    july, january = sum(year.dry_bulb_c[4400:5000]), sum(year.dry_bulb_c[:600])
    assert july > january
    assert read_epw(write_epw(year)).dry_bulb_c == year.dry_bulb_c


@pytest.mark.parametrize(
    ("spoil", "words"),
    [
        (lambda text: text.replace("LOCATION", "PLACE", 1), "not an EPW weather file"),
        (lambda text: "\n".join(text.splitlines()[:500]), "A year has 8,760 hours; this file has 492"),
        (lambda text: text.replace("2001,1,1,3,0,?,", "2001,1,1,3,0,?,warm", 1), "Line 11 of the weather file"),
        (lambda text: "", "not an EPW weather file"),
    ],
)
def test_a_weather_file_that_cannot_be_used_says_why(spoil: Any, words: str) -> None:
    assert words in refused(read_epw, spoil(write_epw(synthetic_year("5B")))).sentence.say()


def test_hours_without_a_value_are_left_out_and_counted() -> None:
    lines = write_epw(synthetic_year("5B")).splitlines()
    lines[20] = ",".join("99.9" if index == 6 else cell for index, cell in enumerate(lines[20].split(",")))
    (missing,) = read_epw("\n".join(lines)).missing
    assert read_epw("\n".join(lines)).dry_bulb_c[missing] != 99.9


def test_a_gap_keeps_every_later_value_at_its_hour() -> None:
    """Lines left out, and hours without a value, shifted the rest of the year before: noon became morning."""
    year = synthetic_year("5B")
    lines = write_epw(year).splitlines()
    begin = 8 + 24 * 40 + 5
    gapped = read_epw("\n".join([*lines[:begin], *lines[begin + 31 :]]))
    hours = range(24 * 40 + 5, 24 * 40 + 36)
    assert gapped.missing == tuple(hours)
    assert [gapped.dry_bulb_c[hour] for hour in (0, 24 * 40 + 4, 24 * 200 + 12, HOURS - 1)] == [
        year.dry_bulb_c[hour] for hour in (0, 24 * 40 + 4, 24 * 200 + 12, HOURS - 1)
    ]
    low, high = sorted((year.dry_bulb_c[hours[0] - 1], year.dry_bulb_c[hours[-1] + 1]))
    assert all(low <= gapped.dry_bulb_c[hour] <= high for hour in hours)
    whole, counted = hours_of_year(year, "5B"), hours_of_year(gapped, "5B")
    assert (whole.missing, counted.missing) == (0, sum(6 <= hour % 24 < 20 for hour in hours))
    assert whole.needed - counted.missing <= counted.needed <= whole.needed


def test_a_leap_day_does_not_shift_the_year() -> None:
    lines = write_epw(synthetic_year("3A")).splitlines()
    after = 8 + 24 * 59
    leap = [line.replace("2001,2,28", "2000,2,29") for line in lines[after - 24 : after]]
    assert read_epw("\n".join([*lines[:after], *leap, *lines[after:]])).dry_bulb_c == synthetic_year("3A").dry_bulb_c


@pytest.mark.parametrize(("pressure_pa", "limit"), [(101_325.0, 28.0), (98_500.0, 28.0), (81_200.0, 30.7), (70_000.0, 32.74)])
def test_the_enthalpy_limit_belongs_to_the_site(pressure_pa: float, limit: float) -> None:
    """75 °F and 50 % at the site's own pressure; 28 Btu/lb near sea level. In the year, the changeover and the proposed plan."""
    assert enthalpy_limit(pressure_pa) / 2326 + 7.68 == pytest.approx(limit, abs=0.05)
    back = AirState.from_rh(24.0, 0.5, pressure_pa)
    found = changeover("fixed_enthalpy", "3A", AirState.from_rh(20.0, 0.5, pressure_pa), back)
    assert found.margin_difference_j_per_kg == pytest.approx(
        enthalpy_limit(pressure_pa) - AirState.from_rh(20.0, 0.5, pressure_pa).enthalpy_j_per_kg
    )


def test_the_hottest_zones_go_with_their_neighbours() -> None:
    for zone, like in (("0A", "1A"), ("0B", "1B")):
        assert default_method(zone)[0] == default_method(like)[0]
        assert FIXED_LIMIT_F[zone] == FIXED_LIMIT_F[like]
        assert hours_of_year(synthetic_year(zone), zone).needed > 3000
    with pytest.raises(Refused, match="humid zones"):
        changeover("differential_dry_bulb", "0A", AirState.from_rh(20.0, 0.5), AirState.from_rh(24.0, 0.5))


@pytest.mark.parametrize("zone", ["3A", "5B", "4C"])
def test_a_better_sensor_errs_fewer_hours(zone: str) -> None:
    year = synthetic_year(zone)
    coarse = {each.method: each for each in hours_of_year(year, zone, sensor_k=1.5, sensor_rh=0.08).methods}
    fine = {each.method: each for each in hours_of_year(year, zone, sensor_k=0.3, sensor_rh=0.02).methods}
    exact = hours_of_year(year, zone, sensor_k=0.0, sensor_rh=0.0)
    assert all(each.lost == each.mis_spent == 0 for each in exact.methods)
    for method, found in fine.items():
        assert found.free == coarse[method].free
        assert 0 < found.lost < coarse[method].lost < coarse[method].free
        assert found.mis_spent < coarse[method].mis_spent
    assert coarse["differential_dry_bulb"].allowed == (zone != "3A")
    assert coarse["fixed_dry_bulb"].free <= exact.needed


def test_the_count_is_that_of_a_hand_made_year() -> None:
    """Ten hours of daytime at known temperatures: the limit of zone 5B is 75 °F, 23.9 °C."""
    values = [20.0] * 6 + [23.5, 24.3] + [30.0] * 2
    whole = tuple(values[hour - 8] if 8 <= hour < 18 else 5.0 for hour in range(24)) * 365
    year = WeatherYear("by hand", whole, (0.3,) * HOURS, True)
    dry = hours_of_year(year, "5B", sensor_k=0.5).methods[0]
    assert (dry.free, dry.lost, dry.mis_spent) == (7 * 365, 365, 365)


def test_a_year_without_a_zone_or_with_a_wrong_error_is_refused() -> None:
    assert refused(hours_of_year, synthetic_year("5B"), "").path == "climate_zone"
    assert refused(synthetic_year, "9Z").path == "climate_zone"
    assert refused(hours_of_year, synthetic_year("5B"), "5B", sensor_k=-1.0).path == "sensor_k"


# retrofit and intake


@pytest.mark.parametrize(
    ("call", "outdoor", "opened", "compressor"),
    [
        ("none", 10, False, False),
        ("first", 10, True, False),
        ("second", 10, True, True),
        ("heating", 10, False, False),
        ("first", 19, False, True),
        ("second", 25, False, True),
    ],
)
def test_both_conditions_must_hold(call: Any, outdoor: float, opened: bool, compressor: bool) -> None:
    found = retrofit(call, outdoor, 24.0)
    assert (found.outdoor_open, found.compressor) == (opened, compressor)


def test_the_margin_under_the_setpoint_counts_too() -> None:
    assert not retrofit("first", 17.0, 20.0, limit_c=18.0, margin_k=4.0).outdoor_open
    assert retrofit("first", 15.9, 20.0, limit_c=18.0, margin_k=4.0).outdoor_open
    assert refused(retrofit, "first", 15.0, 20.0, 18.0, -1.0).path == "margin_k"


def test_the_terminal_list_says_from_to_wire_and_purpose() -> None:
    assert all(wire.start and wire.end and wire.wire and wire.purpose for wire in WIRES)
    assert any("outdoor damper closed" in wire.purpose for wire in WIRES)


def test_the_intake_keeps_ten_feet() -> None:
    assert pytest.approx(3.048) == LEAST_DISTANCE_M
    near = intake(IntakeDistances(exhaust_m=3.0, flue_m=3.1, cooking_m=5.0)).flags
    assert [(flag.key, flag.off) for flag in near] == [("exhaust_m", True), ("cooking_m", False)]
    assert refused(intake, IntakeDistances(flue_m=-1.0)).path == "distances.flue_m"


# points


def test_a_point_list_comes_in_whatever_its_delimiter_and_order() -> None:
    found = read_points("\ufeffName;Terminal;Note;Place\nOAT;AI-1;roof;Outdoor air\nMAT;AI-3;;mixed\n;AO-1;;\n")
    assert found == (PointLine("AI-1", "OAT", "outdoor"), PointLine("AI-3", "MAT", "mixed"), PointLine("AO-1", "AO-1", ""))


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "The list is empty"),
        (
            "terminal,label\nAI-1,OAT\n",
            "lacks the columns: name, place. Its first line names the columns; it has: terminal, label",
        ),
        ("terminal,name,place\n,OAT,outdoor\n", "Line 2 names no terminal"),
        ("terminal,name,place\nAI-1,OAT,attic\n", "Line 2: no such place “attic”"),
        ("terminal,name,place\nAI-1,a,\nAI-1,b,\n", "stands there twice"),
        ("terminal,name,place\n", "headings, but no points"),
    ],
)
def test_a_list_that_cannot_be_used_says_where(text: str, words: str) -> None:
    assert words in refused(read_points, text).sentence.say()


def test_the_list_goes_out_with_what_was_compared() -> None:
    lines = write_points(
        (compare(PointLine("AI-1", "OAT", "outdoor"), 10.4, 10.0), compare(PointLine("AI-2", "RAT", "return"), None, None))
    )
    assert lines.splitlines() == [",".join(COLUMNS), "AI-1,OAT,outdoor,10.40,10.00,0.40,holds", "AI-2,RAT,return,,,,"]
    assert read_points(lines)[0].name == "OAT"


@pytest.mark.parametrize(
    ("shown", "mark"), [(10.5, "holds"), (10.9, "too_close"), (11.2, "too_close"), (11.4, "off"), (8.4, "off")]
)
def test_a_sensor_against_a_reference(shown: float, mark: str) -> None:
    assert compare(PointLine("AI-1", "OAT", "outdoor"), shown, 10.0, 0.3).mark == mark


def test_physics_between_the_sensors() -> None:
    shown = {"outdoor": 5.0, "return": 22.0, "mixed": 18.0, "supply": 19.0}
    assert {check.key: check.mark for check in physics_checks(shown, 0.0, False)} == {
        "between": "holds",
        "shut": "off",
        "no_coil": "holds",
    }
    assert physics_checks({**shown, "mixed": 3.0}, None, None)[0].mark == "off"
    assert physics_checks({}, None, None) == ()


# alarms


@pytest.mark.parametrize("alarm", sorted(ALARMS))
def test_every_alarm_says_what_it_locks_out_how_it_clears_and_what_to_check(alarm: str) -> None:
    kind = ALARMS[alarm]
    assert kind.checks
    assert kind.means.endswith(".")
    assert consequence(alarm, PLANNED).endswith(".")
    assert kind.by_itself != (alarm == "freeze_trip")


def test_a_failed_sensor_may_lock_out_the_compressor() -> None:
    assert "compressor may run" in consequence("sensor_outdoor", PLANNED)
    assert "“no cooling” on a hot day" in consequence("sensor_mixed", dataclasses.replace(PLANNED, locks_out=True))
    assert "no loop reads this sensor" in consequence("sensor_return", PLANNED)
    full = dataclasses.replace(PLANNED, on_sensor_failure="full")
    assert "fully open" in consequence("sensor_outdoor", full)

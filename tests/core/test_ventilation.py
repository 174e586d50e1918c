"""Ventilation: what a dwelling and occupied spaces need, a ventilator's flow by its chart, run time, lockouts over a year."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.base.refusal import Refused
from fentro_core.system.fresh_air import ChartPoint, Dwelling, Lockouts
from fentro_core.ventilation.dwelling import CFM, SQ_FT, dwelling_need
from fentro_core.ventilation.lockouts import LockoutYear, Running, YearOfAir, lockout_year
from fentro_core.ventilation.port_flow import port_flow
from fentro_core.ventilation.runtime import runtime
from fentro_core.ventilation.spaces import Space, air_balance, spaces_need
from fentro_core.weather.year import WeatherYear, write_epw

HOME = Dwelling(1740 * SQ_FT, 3)
CHART = tuple(ChartPoint(float(pa), ls / 1000) for pa, ls in ((20, 41), (45, 62), (80, 84), (120, 103), (170, 121)))


@pytest.mark.parametrize(("edition", "cfm", "minutes"), [("2010", 47.4, 23.7), ("2013", 82.2, 41.1)])
def test_a_dwelling_by_both_editions_as_worked_out_elsewhere(edition: str, cfm: float, minutes: float) -> None:
    found = dwelling_need(HOME, edition)  # type: ignore[arg-type]
    assert found.required_m3s / CFM == pytest.approx(cfm, abs=0.05)
    assert found.edition == edition
    assert runtime(found.required_m3s, 120 * CFM).minutes_per_hour == pytest.approx(minutes, abs=0.05)


def test_more_people_than_bedrooms_count_and_fewer_do_not() -> None:
    assert dwelling_need(replace(HOME, people=7), "2010").whole_m3s / CFM == pytest.approx(47.4 + 3 * 7.5)
    assert dwelling_need(replace(HOME, people=1), "2010") == dwelling_need(HOME, "2010")


def test_tested_leaks_count_in_the_later_edition_up_to_two_thirds() -> None:
    tested = replace(HOME, blower_door_m3s=0.6, height_m=2.6, weather_factor=0.6)
    found = dwelling_need(tested, "2013")
    # by hand: ELA = 0.6 (4/50)^0.65 sqrt(1.2/8) = 0.04501 m2; NL = 1000 * 0.04501/161.65 (2.6/2.5)^0.4 = 0.2828
    assert found.leaks_m3s == pytest.approx(0.2828 * 0.6 * 161.65 / 1440, rel=2e-3)
    assert found.required_m3s == pytest.approx(found.whole_m3s - found.leaks_m3s)
    assert dwelling_need(tested, "2010").leaks_m3s == 0
    leaky = dwelling_need(replace(tested, blower_door_m3s=5.0), "2013")
    assert leaky.leaks_m3s == pytest.approx(leaky.whole_m3s * 2 / 3)


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"floor_area_m2": 0.0}, "floor_area_m2"),
        ({"bedrooms": -1}, "bedrooms"),
        ({"bedrooms": 21}, "bedrooms"),
        ({"people": 0}, "people"),
        ({"blower_door_m3s": 0.5}, "height_m"),
        ({"blower_door_m3s": 0.5, "height_m": 2.6}, "weather_factor"),
        ({"blower_door_m3s": 0.0, "height_m": 2.6, "weather_factor": 0.5}, "blower_door_m3s"),
    ],
)
def test_what_no_dwelling_is_is_refused(change: dict[str, float], path: str) -> None:
    with pytest.raises(Refused) as refused:
        dwelling_need(replace(HOME, **change))  # type: ignore[arg-type]
    assert refused.value.path == path


@pytest.mark.parametrize(("port_pa", "flow"), [(62.0, 73.48), (100.0, 94.16), (20.0, 41.0), (170.0, 121.0)])
def test_a_ports_chart_as_worked_out_elsewhere(port_pa: float, flow: float) -> None:
    assert port_flow(CHART, port_pa).airflow_m3s * 1000 == pytest.approx(flow, rel=0.01)


def test_the_charts_slope_passes_the_doubt_on() -> None:
    assert port_flow(CHART, 62.0).slope_m3s_per_pa * 1000 == pytest.approx(0.6286, rel=0.03)
    steep, flat = port_flow(CHART, 22.0), port_flow(CHART, 165.0)
    assert steep.slope_m3s_per_pa / steep.airflow_m3s > 2 * flat.slope_m3s_per_pa / flat.airflow_m3s


@pytest.mark.parametrize("port_pa", [15.0, 19.99, 180.0])
def test_a_chart_is_not_carried_on(port_pa: float) -> None:
    with pytest.raises(Refused, match="outside the chart") as refused:
        port_flow(CHART, port_pa)
    assert refused.value.path == "port_pa"


@pytest.mark.parametrize(
    ("chart", "words"),
    [
        (CHART[:1], "two points"),
        ((*CHART, ChartPoint(45.0, 0.07)), "same drop twice"),
        ((ChartPoint(20.0, 0.05), ChartPoint(60.0, 0.04)), "larger flow"),
        ((ChartPoint(20.0, 0.05), ChartPoint(60.0, 0.05)), "larger flow"),
        ((ChartPoint(0.0, 0.05), ChartPoint(60.0, 0.06)), "drop lies between"),
        ((ChartPoint(20.0, 0.0), ChartPoint(60.0, 0.06)), "flow lies between"),
        (tuple(ChartPoint(10.0 + n, 0.01 + n / 1000) for n in range(41)), "at most 40"),
    ],
)
def test_what_no_chart_is_is_refused(chart: tuple[ChartPoint, ...], words: str) -> None:
    with pytest.raises(Refused, match=words):
        port_flow(chart, 50.0)


def test_run_time_as_worked_out_elsewhere() -> None:
    found = runtime(0.0241, 0.068)
    assert found.minutes_per_hour == pytest.approx(21.26, abs=0.01)
    assert found.set_minutes == 25
    assert found.gives_m3s * 1000 == pytest.approx(28.33, abs=0.01)
    assert found.enough


def test_too_small_a_ventilator_says_what_it_lacks() -> None:
    found = runtime(0.05, 0.04)
    assert not found.enough
    assert found.set_minutes == 60
    assert found.minutes_per_hour == pytest.approx(75)
    assert found.lacks_m3s == pytest.approx(0.01)
    exactly = runtime(0.05, 0.05)
    assert exactly.enough
    assert exactly.set_minutes == 60


def test_a_step_that_is_met_is_not_passed() -> None:
    assert runtime(0.02, 0.04, step_min=10.0).set_minutes == 30
    assert runtime(0.0201, 0.04, step_min=10.0).set_minutes == 40


@pytest.mark.parametrize(
    ("share", "cycle_h", "on", "effect"),
    [
        (0.30, 4.0, 0.30, 1.0),
        (0.10, 12.0, 0.10 / 0.33, 0.33),
        (0.25, 12.0, 0.25 / 0.50, 0.50),
        (0.12, 12.0, 0.35, 0.50),
        (0.50, 12.0, 0.50 / 0.75, 0.75),
        (0.70, 12.0, 0.80, 1.0),
        (0.95, 24.0, 0.95, 1.0),
    ],
)
def test_in_long_cycles_air_counts_for_less(share: float, cycle_h: float, on: float, effect: float) -> None:
    found = runtime(share * 0.1, 0.1, step_min=0.1, cycle_h=cycle_h)
    assert found.minutes_per_hour == pytest.approx(60 * on)
    assert found.effectiveness == effect
    assert found.gives_m3s >= share * 0.1 - 1e-9


@given(st.floats(0.005, 0.2), st.floats(0.005, 0.2), st.sampled_from([1.0, 5.0, 10.0]), st.sampled_from([1.0, 4.0, 8.0, 24.0]))
def test_what_is_set_gives_enough_or_says_that_it_does_not(need: float, have: float, step: float, cycle: float) -> None:
    found = runtime(need, have, step, cycle)
    assert 0 <= found.set_minutes <= 60
    assert found.enough == (need <= have)
    if found.enough:
        assert found.gives_m3s >= need * (1 - 1e-9)


@pytest.mark.parametrize(
    ("field", "value"), [("step_min", 0.0), ("cycle_h", 25.0), ("measured_m3s", 0.0), ("required_m3s", -1.0)]
)
def test_what_can_not_be_set_is_refused(field: str, value: float) -> None:
    with pytest.raises(Refused) as refused:
        runtime(**{"required_m3s": 0.02, "measured_m3s": 0.06, field: value})
    assert refused.value.path == field


def flat_year(*days: tuple[float, ...], rh: float = 0.4) -> str:
    """An EPW file that repeats a few days over and over."""
    hours = [celsius for n in range(365) for celsius in days[n % len(days)]]
    return write_epw(WeatherYear("made", tuple(hours), (rh,) * 8760, True))


FAN = Running(required_m3s=0.025, measured_m3s=0.1, set_minutes=15.0)


def test_a_day_makes_up_for_its_locked_hours_and_the_cost_is_by_hand() -> None:
    """Half of each day at -20 °C, half at 0 °C: locked below -10 °C it must run twice as long in the mild half."""
    found = lockout_year(FAN, Lockouts(low_c=-10.0), weather=flat_year((-20.0,) * 12 + (0.0,) * 12))
    assert found.as_set.locked_h == found.cold_h == 12 * 365
    assert found.days[0] == "c" * 12 + "." * 12
    assert found.as_set.missed_share == pytest.approx(0.5)
    assert found.as_set.short_days == 365
    assert (found.as_set.failed_days, found.as_set.missed_made_up_share) == (0, 0)
    air_kg = 0.025 * 86_400 * 365 * 101_325 / (287.05 * 293.15)
    assert found.as_set.heating_j == pytest.approx(air_kg * 1006 * 20)
    assert found.none.heating_j == pytest.approx(air_kg * 1006 * 30)
    assert found.spared_j == pytest.approx(air_kg * 1006 * 10)
    assert found.as_set.cooling_j == found.as_set.drying_j == 0
    assert found.best.heating_j == pytest.approx(found.as_set.heating_j)
    assert found.best.failed_days == 0


def test_days_that_can_not_be_made_up_fail_and_the_best_pair_has_none() -> None:
    cold, mild = (-20.0,) * 24, (5.0,) * 24
    found = lockout_year(FAN, Lockouts(low_c=-10.0), weather=flat_year(cold, mild, mild, mild, mild))
    assert found.as_set.failed_days == 73
    assert found.as_set.missed_made_up_share == pytest.approx(0.2)
    assert found.best.failed_days == 0
    assert found.best.low_c is None or found.best.low_c <= -20.0


def test_hot_hours_are_locked_above() -> None:
    found = lockout_year(FAN, Lockouts(high_c=35.0), weather=flat_year((38.0,) * 6 + (28.0,) * 18, rh=0.1))
    assert found.hot_h == found.as_set.locked_h == 6 * 365
    assert found.as_set.cooling_j < found.none.cooling_j
    assert found.best.high_c is not None
    assert 28.0 <= found.best.high_c < 38.0


def test_the_comfort_school_locks_by_moisture_too() -> None:
    weather = flat_year((26.0,) * 24, rh=0.8)
    found = lockout_year(FAN, Lockouts(dew_point_c=16.0), weather=weather)
    assert found.moist_h == found.as_set.locked_h == 8760
    assert found.as_set.failed_days == 365
    indoors = lockout_year(FAN, Lockouts(indoor_rh=0.5), weather=flat_year((18.0,) * 24, rh=0.8))
    assert indoors.indoor_h == 8760
    assert set("".join(indoors.days)) == {"m"}
    dry = lockout_year(FAN, Lockouts(indoor_rh=0.5, dew_point_c=16.0), weather=flat_year((5.0,) * 24, rh=0.5))
    assert dry.as_set.locked_h == 0
    assert dry.as_set == replace(dry.none, low_c=None)


def test_recovered_heat_and_what_runs_along_count() -> None:
    weather = flat_year((0.0,) * 24)
    plain = lockout_year(FAN, Lockouts(), weather=weather).as_set
    better = lockout_year(replace(FAN, recovered_share=0.75, fan_power_w=40, interlock_w=360), Lockouts(), weather=weather).as_set
    assert better.heating_j == pytest.approx(plain.heating_j / 4)
    assert better.fan_j == pytest.approx(400 * 3600 * 6 * 365)


def test_a_setting_that_gives_too_little_misses_without_any_lockout() -> None:
    found = lockout_year(replace(FAN, set_minutes=10.0), Lockouts(), weather=flat_year((10.0,) * 24)).as_set
    assert found.missed_share == pytest.approx(1 / 3)
    assert found.failed_days == 0


ZONES = ("1A", "2B", "3A", "4C", "5A", "6B", "7")


@pytest.mark.parametrize("zone", ZONES)
def test_the_best_pair_is_never_dearer_than_none_and_no_pair_tried_beats_it(zone: str) -> None:
    def cost(year: YearOfAir) -> float:
        return year.conditioning_j

    found: LockoutYear = lockout_year(FAN, Lockouts(), zone)
    assert found.made_up
    assert found.best.failed_days == 0
    assert cost(found.best) <= cost(found.none)
    for low, high in ((-12.0, None), (None, 32.0), (-6.0, 34.0), (found.best.low_c, 30.0)):
        other = lockout_year(FAN, Lockouts(low, high), zone).as_set
        assert other.failed_days > 0 or cost(other) >= cost(found.best) - 1.0


@pytest.mark.parametrize(
    ("lockouts", "path"),
    [
        (Lockouts(low_c=30.0, high_c=20.0), "lockouts.low_c"),
        (Lockouts(low_c=-80.0), "lockouts.low_c"),
        (Lockouts(dew_point_c=40.0), "lockouts.dew_point_c"),
        (Lockouts(indoor_rh=0.05), "lockouts.indoor_rh"),
    ],
)
def test_limits_that_no_control_has_are_refused(lockouts: Lockouts, path: str) -> None:
    with pytest.raises(Refused) as refused:
        lockout_year(FAN, lockouts, "5A")
    assert refused.value.path == path


def test_without_a_climate_zone_the_year_is_asked_for() -> None:
    with pytest.raises(Refused, match="climate zone"):
        lockout_year(FAN, Lockouts())


OFFICE = Space("Office", "office", 1800 * SQ_FT, 9, 0.8)
CLASS = Space("Classroom", "classroom", 900 * SQ_FT, 26, 0.8)
CORRIDOR = Space("Corridor", "corridor", 400 * SQ_FT, 0, 0.8)


def test_occupied_spaces_as_worked_out_elsewhere() -> None:
    found = spaces_need((OFFICE, CLASS, CORRIDOR), 28)
    assert [each.breathing_m3s / CFM for each in found.spaces] == pytest.approx([153, 368, 24])
    assert [each.zone_m3s / CFM for each in found.spaces] == pytest.approx([191.25, 460, 30])
    assert (found.diversity, found.system_effectiveness) == (pytest.approx(0.8), 0.75)
    assert found.uncorrected_m3s / CFM == pytest.approx(605)
    assert found.outdoor_m3s / CFM == pytest.approx(806.67, abs=0.01)
    assert found.rule == "simplified"
    assert "2019" in found.edition


def test_below_a_diversity_of_six_tenths_the_systems_part_follows_it() -> None:
    found = spaces_need((OFFICE, CLASS), 14)
    assert found.system_effectiveness == pytest.approx(0.88 * 0.4 + 0.22)


def test_people_are_taken_by_density_where_nobody_counted_them() -> None:
    (need,) = spaces_need((replace(CLASS, people=None, effectiveness=1.0),)).spaces
    assert need.by_density
    assert need.occupants == pytest.approx(35 * 0.9)
    assert need.breathing_m3s / CFM == pytest.approx(315 + 108)


@pytest.mark.parametrize(
    ("spaces", "at_once", "rule", "path"),
    [
        ((), None, None, "spaces"),
        ((OFFICE, CLASS), None, "single", "rule"),
        ((OFFICE,), 10, None, "people_at_once"),
        ((OFFICE, replace(CLASS, name=" ")), None, None, "spaces.1.name"),
        ((replace(OFFICE, effectiveness=0.2),), None, None, "spaces.0.effectiveness"),
        ((replace(OFFICE, use="other"),), None, None, "spaces.0.per_person_m3s"),
    ],
)
def test_spaces_that_can_not_be_are_refused(spaces: tuple[Space, ...], at_once: int | None, rule: str | None, path: str) -> None:
    with pytest.raises(Refused) as refused:
        spaces_need(spaces, at_once, rule)  # type: ignore[arg-type]
    assert refused.value.path == path


@pytest.mark.parametrize(
    ("outdoor", "exhaust", "flue", "balance"),
    [
        (0.5, 0.4, True, "positive"),
        (0.5, 0.49, True, "even"),
        (0.5, 0.51, True, "hazard"),
        (0.5, 0.51, False, "even"),
        (0.5, 0.7, False, "negative"),
        (0.0, 0.0, True, "even"),
    ],
)
def test_a_building_out_of_balance(outdoor: float, exhaust: float, flue: bool, balance: str) -> None:
    assert air_balance(outdoor, exhaust, flue).balance == balance

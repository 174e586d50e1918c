"""Night cooling: the two-node house, and tonight's plan beside the fixed rules."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise
from math import cos, pi
from random import Random
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fentro_core.base.refusal import Refused
from fentro_core.logbook.entry import read_entry
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.night.fit import fit_house, read_samples
from fentro_core.night.house import Weather, free_run
from fentro_core.night.plan import NightPlan, Tonight, day_from, night_plan
from fentro_core.night.tonight import Forecast, season_table, tonight_plan
from fentro_core.system.night_setup import Cooling, Flush, House, NightSetup
from fentro_core.visit.work_up import work_up
from tests.core.bodies import BODIES
from tests.core.visits import air, entry, snapshot, worked

HOUSE = House(0.45e6, 24e6, 650.0, 190.0)
EVENING = 20


def worked_weather() -> Weather:
    hours = [EVENING + n for n in range(24)]
    outdoor = tuple(22 + 8 * cos(2 * pi * (hour - 15) / 24) for hour in hours)
    return Weather(outdoor, tuple(350.0 if 7 <= hour % 24 < 22 else 150.0 for hour in hours))


@pytest.mark.parametrize(
    ("flow", "at_7", "at_15"),
    [(0.0, (22.98, 24.26), (26.30, 24.71)), (0.35, (20.36, 22.50), (25.14, 23.22)), (0.70, (19.46, 21.74), (24.65, 22.58))],
)
def test_two_nodes_as_worked_out_elsewhere(flow: float, at_7: tuple[float, float], at_15: tuple[float, float]) -> None:
    flows = [flow if (EVENING + n) % 24 >= 22 or (EVENING + n) % 24 < 7 else 0.0 for n in range(24)]
    course = free_run(HOUSE, worked_weather(), flows, 26.0, 26.0)
    assert course[11] == pytest.approx(at_7, abs=0.1)
    assert course[19] == pytest.approx(at_15, abs=0.1)


@given(st.floats(1e5, 5e6), st.floats(5e6, 1e9), st.floats(50.0, 5000.0), st.floats(20.0, 2000.0), st.floats(0.0, 3.0))
def test_left_alone_a_house_goes_to_where_heat_in_is_heat_out(
    air: float, mass: float, couple: float, outside: float, flow: float
) -> None:
    house = House(air, mass, couple, outside)
    still = Weather((15.0,) * 48, (500.0,) * 48)
    rest = 15.0 + 500.0 / (outside + flow * 1.2 * 1006.0)
    assert free_run(house, still, [flow] * 48, rest, rest)[-1] == pytest.approx((rest, rest), abs=1e-6)
    near = free_run(house, still, [flow] * 48, rest + 3.0, rest + 3.0)
    airs = [air for air, _ in near]
    assert all(later <= earlier + 1e-9 for earlier, later in pairwise(airs))
    assert airs[-1] >= rest - 1e-9


def tonight(high: float = 34.0, low: float = 17.0, air: float = 24.5, hours: int = 28, dew: float | None = None) -> Tonight:
    hours_of_day = [(EVENING + n) % 24 for n in range(hours)]
    gains = tuple(700.0 if 7 <= hour < 22 else 250.0 for hour in hours_of_day)
    sun = tuple(max(0.0, 3000.0 * (1 - ((hour - 13) / 6) ** 2)) if 7 <= hour <= 19 else 0.0 for hour in hours_of_day)
    outdoor = day_from(high, low, EVENING, hours)
    return Tonight(EVENING, Weather(outdoor, gains, sun, (dew,) * hours if dew is not None else ()), air, air)


UNIT = Cooling(24.5, 8000.0)
FLUSH = Flush(0.6, 500.0, 20.0)
TYPICAL = House.typical(161.65)


def planned(**change: object) -> NightPlan:
    return night_plan(TYPICAL, UNIT, replace(FLUSH, **change), tonight())  # type: ignore[arg-type]


def test_the_plan_costs_less_than_both_rules_and_than_nothing() -> None:
    plan = planned()
    assert plan.plan.all_j < min(plan.by_difference.all_j, plan.by_clock.all_j, plan.without.all_j)
    assert plan.saved_j == pytest.approx(plan.without.all_j - plan.plan.all_j)
    assert plan.saved_s > 0
    assert plan.start_hour is not None
    assert plan.plan.wake_c >= FLUSH.floor_c
    assert max(plan.plan.speeds) < 1.0, "a blower's power goes with the cube of its flow"


def test_a_blower_that_costs_nothing_runs_as_hard_as_it_can() -> None:
    cheap = planned(full_w=1.0)
    assert max(cheap.plan.speeds) == 1.0
    assert cheap.plan.compressor_j < planned().plan.compressor_j


def test_the_comfort_floor_holds() -> None:
    plan = night_plan(TYPICAL, UNIT, replace(FLUSH, full_w=1.0, full_m3s=2.0, floor_c=22.0), tonight(low=8.0))
    assert plan.without.coldest_c < 22.0, "this night cools the house by itself"
    assert plan.plan.coldest_c >= plan.without.coldest_c - 0.05
    mild = night_plan(TYPICAL, UNIT, replace(FLUSH, full_w=1.0, full_m3s=2.0, floor_c=22.0), tonight(low=17.0))
    assert sum(mild.plan.speeds) > 0
    assert mild.plan.coldest_c >= 22.0 - 0.05
    assert plan.target_c >= 22.0


def test_before_a_hotter_day_the_same_night_is_used_more() -> None:
    def plan_for(day_c: float) -> NightPlan:
        known = tonight(28.0, 15.0)
        outdoor = tuple(day_c if 14 <= hour <= 23 else celsius for hour, celsius in enumerate(known.weather.outdoor_c))
        return night_plan(TYPICAL, UNIT, FLUSH, replace(known, weather=replace(known.weather, outdoor_c=outdoor)))

    mild, hot = plan_for(23.0), plan_for(38.0)
    assert sum(hot.plan.speeds) > sum(mild.plan.speeds)
    assert hot.saved_j > mild.saved_j


def test_a_night_warmer_than_the_rooms_is_left_alone() -> None:
    plan = night_plan(TYPICAL, UNIT, FLUSH, tonight(high=38.0, low=27.0))
    assert plan.start_hour is plan.stop_hour is None
    assert plan.saved_j == 0
    assert plan.plan == plan.without


@pytest.mark.parametrize("hold", ["smoke", "security", "pollen"])
def test_a_hold_keeps_the_damper_shut(hold: str) -> None:
    plan = planned(hold=hold)
    assert plan.held == hold
    assert sum(plan.plan.speeds) == sum(plan.by_clock.speeds) == 0


def test_moist_air_is_kept_out() -> None:
    wet = night_plan(TYPICAL, UNIT, FLUSH, tonight(dew=16.0))
    assert wet.held == "dew_point"
    assert wet.moist_h == 13
    assert sum(wet.plan.speeds) == 0
    assert night_plan(TYPICAL, UNIT, FLUSH, tonight(dew=12.0)).held == ""


def test_only_tonight_is_planned() -> None:
    plan = night_plan(TYPICAL, UNIT, FLUSH, tonight(hours=48)).plan
    assert sum(plan.speeds[:13]) > 0
    assert sum(plan.speeds[13:]) == 0


@settings(deadline=None, max_examples=40)
@given(
    st.floats(20.0, 42.0),
    st.floats(2.0, 18.0),
    st.floats(80.0, 400.0),
    st.floats(0.1, 1.5),
    st.floats(50.0, 1500.0),
    st.floats(20.0, 27.0),
)
def test_a_plan_never_costs_comfort_nor_more_than_nothing(
    high: float, swing: float, area: float, full: float, watts: float, air: float
) -> None:
    flush = replace(FLUSH, full_m3s=full, full_w=watts)
    plan = night_plan(House.typical(area), replace(UNIT, capacity_w=100.0 * area), flush, tonight(high, high - swing, air))
    assert plan.plan.all_j <= plan.without.all_j + 1.0
    assert plan.plan.coldest_c >= min(flush.floor_c, plan.without.coldest_c) - 0.05
    assert plan.plan.too_warm_kh <= plan.without.too_warm_kh + 0.05
    assert len(plan.plan.air_c) == len(plan.plan.speeds) + 1 == 29


@pytest.mark.parametrize(
    ("flush", "night", "path"),
    [
        ({"floor_c": 25.0}, {}, "flush.floor_c"),
        ({"full_m3s": 0.0}, {}, "flush.full_m3s"),
        ({"wake_hour": 24}, {}, "flush.wake_hour"),
        ({}, {"hours": 11}, "tonight.weather.outdoor_c"),
        ({}, {"air": 60.0}, "tonight.air_c"),
    ],
)
def test_a_night_that_can_not_be_is_refused(flush: dict[str, float], night: dict[str, float], path: str) -> None:
    with pytest.raises(Refused) as refused:
        night_plan(TYPICAL, UNIT, replace(FLUSH, **flush), tonight(**night))  # type: ignore[arg-type]
    assert refused.value.path == path


def test_a_forecast_by_high_and_low() -> None:
    day = day_from(34.0, 18.0, 0, 24)
    assert min(day) == day[5] == pytest.approx(18.0)
    assert max(day) == day[15] == pytest.approx(34.0)
    with pytest.raises(Refused):
        day_from(18.0, 34.0, 0)


AREA = 161.65


def setup(flush: Flush = FLUSH, house: House | None = None) -> NightSetup:
    return NightSetup(flush, UNIT, AREA, house)


def forecast(high: float = 34.0, low: float = 16.0, room: float = 24.5, dew: float | None = None) -> Forecast:
    return Forecast(high, low, room, dew)


def test_tonight_is_the_plan_for_a_typed_forecast() -> None:
    found = tonight_plan(setup(), forecast())
    assert found.typical
    assert found.first_hour == 20
    assert min(found.outdoor_c) == pytest.approx(16.0)
    assert max(found.outdoor_c) == pytest.approx(34.0)
    assert found.saved_j == found.plan.saved_j > 0
    fitted = tonight_plan(setup(house=House(5e5, 8e7, 900.0, 100.0)), forecast())
    assert not fitted.typical
    assert fitted.saved_j != found.saved_j


def test_a_target_that_is_asked_for_is_kept_to() -> None:
    free = tonight_plan(setup(), forecast()).plan
    held = tonight_plan(setup(), forecast(), target_c=23.0).plan
    assert held.target_c == 23.0
    assert sum(held.plan.speeds) < sum(free.plan.speeds)
    assert held.saved_j <= free.saved_j + 3600.0
    for target in (19.0, 24.5):
        with pytest.raises(Refused) as refused:
            tonight_plan(setup(), forecast(), target_c=target)
        assert refused.value.path == "target_c"


def test_a_dew_point_over_the_limit_holds_the_night() -> None:
    assert tonight_plan(setup(), forecast(dew=18.0)).plan.held == "dew_point"


def test_a_season_saves_more_on_hotter_days_as_long_as_nights_are_cool() -> None:
    table = season_table(setup())
    assert [line.high_c for line in table.lines] == [26, 28, 30, 32, 34, 36, 38]
    assert all(line.saved_j >= 0 for line in table.lines)
    assert table.differential_k >= 0.5
    held = season_table(setup(flush=replace(FLUSH, hold="smoke")))
    assert held == table, "tonight's smoke is no setting for a season"
    tight = season_table(setup(), swing_k=3.0)
    assert sum(line.saved_j for line in tight.lines) < sum(line.saved_j for line in table.lines)


PUMP = {"night_cooling": True, "rated_airflow_m3s": 0.45}


def phase_of(*entries: dict[str, Any], **plate: Any) -> Any:
    document = snapshot(list(entries), "split_heat_pump", **{**PUMP, **plate})
    return worked(document).result


def test_the_page_knows_what_the_visit_and_the_nameplate_say() -> None:
    dwelling = entry("dwelling", {"dwelling": {"floor_area_m2": AREA, "bedrooms": 3}}, phase="as_found")
    shown = phase_of(dwelling, *air("return", 25.2, 50, phase="as_found")).pages.night
    assert (shown.floor_area_m2, shown.full_m3s, shown.capacity_w) == (AREA, 0.45, 35169.0)
    assert shown.room_c == pytest.approx(25.2)
    assert shown.setup is None
    noted = phase_of(entry("night_setup", BODIES["night_setup"], phase="as_found")).pages.night
    assert noted.setup.flush.full_m3s == 0.5
    assert noted.setup_entry
    kept = phase_of(night=BODIES["night_setup"]).pages.night
    assert kept.setup == noted.setup
    assert kept.setup_entry == ""


def test_without_a_damper_for_it_there_is_no_such_part() -> None:
    assert phase_of(night_cooling=False).pages.night is None
    document = snapshot([], "split_heat_pump", night_cooling=False)
    assert "night" not in work_up(read_snapshot(document)).parts


def test_a_plan_taken_over_is_said_with_its_hours() -> None:
    made = phase_of(entry("night_planned", BODIES["night_planned"], phase="as_found"), *air("return", 25.2, 50, phase="as_found"))
    line = next(line for line in made.verdicts if line.key == "night:planned")
    assert line.sentence.say() == "Tonight from 22 to 7 h, down to 20.5 °C."
    assert line.mark is None


@pytest.mark.parametrize(
    ("kind", "change", "path"),
    [
        ("night_setup", {"floor_area_m2": 1.0}, "body.floor_area_m2"),
        ("night_setup", {"flush": {**BODIES["night_setup"]["flush"], "floor_c": 26.0}}, "body.flush.floor_c"),
        ("night_planned", {"low_c": 40.0}, "body.low_c"),
        ("night_planned", {"stop_hour": 24}, "body.stop_hour"),
        ("night_planned", {"speeds": [1.2]}, "body.speeds"),
        ("outdoor_air_now", {"hours": 0}, "body.hours"),
        ("outdoor_air_now", {"hours": 13}, "body.hours"),
    ],
)
def test_what_is_said_of_a_night_is_refused_at_its_field(kind: str, change: dict[str, Any], path: str) -> None:
    with pytest.raises(Refused) as refused:
        read_entry(entry(kind, {**BODIES[kind], **change}))
    assert refused.value.path == path


def samples(house: House, days: int = 4, noise: float = 0.1, seed: int = 1) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Outdoors and rooms of a house by the hour, from the evening on, read with a little noise."""
    random = Random(seed)
    count = days * 24
    outdoor = tuple(19 + 7 * cos(2 * pi * (EVENING + hour - 15) / 24) + random.gauss(0, 1.5) for hour in range(count))
    hours = [(EVENING + hour) % 24 for hour in range(count)]
    gains = tuple(AREA * (4.0 if 7 <= hour < 22 else 1.5) for hour in hours)
    sun = tuple(AREA * 14.0 * max(0.0, 1 - ((hour - 13) / 6) ** 2) for hour in hours)
    course = free_run(house, Weather(outdoor, gains, sun), (0.0,) * (count - 1), 24.0, 24.5)
    return outdoor, tuple(air + random.gauss(0, noise) for air, _ in course)


@pytest.mark.parametrize(("mass", "outside"), [(0.5, 1.0), (1.0, 1.0), (2.0, 0.6), (1.3, 1.8)])
def test_a_house_is_fitted_from_its_samples(mass: float, outside: float) -> None:
    typical = House.typical(AREA)
    true = replace(typical, mass_j_per_k=typical.mass_j_per_k * mass, outside_w_per_k=typical.outside_w_per_k * outside)
    found = fit_house(AREA, EVENING, *samples(true))
    assert found.misfit_k < 0.3
    assert found.hours == 96
    assert found.mass_times == pytest.approx(mass, rel=0.35)
    assert abs(found.outside_times / outside - 1) < max(found.outside_plus_minus, 0.2)
    assert 0 < found.mass_plus_minus < 0.8


def test_more_samples_say_more() -> None:
    true = House.typical(AREA)
    short, long = (fit_house(AREA, EVENING, *samples(true, days)) for days in (1, 8))
    assert long.mass_plus_minus < short.mass_plus_minus


def test_a_fitted_house_plans_its_own_night_better_than_a_typical_one() -> None:
    typical = House.typical(AREA)
    true = replace(typical, mass_j_per_k=typical.mass_j_per_k * 2.2)
    fitted = fit_house(AREA, EVENING, *samples(true)).house
    own, by_fit, by_typical = (tonight_plan(setup(house=each), forecast()).plan for each in (true, fitted, typical))
    assert abs(by_fit.saved_j - own.saved_j) < abs(by_typical.saved_j - own.saved_j)


@pytest.mark.parametrize(
    ("outdoor", "rooms", "path"),
    [
        ((20.0,) * 23, (24.0,) * 23, "outdoor_c"),
        ((20.0,) * 24, (24.0,) * 23, "room_c"),
        ((20.0,) * 24, (24.0,) * 23 + (90.0,), "room_c.23"),
        ((20.0,) * 600, (24.0,) * 600, "outdoor_c"),
    ],
)
def test_samples_that_can_not_be_are_refused(outdoor: tuple[float, ...], rooms: tuple[float, ...], path: str) -> None:
    with pytest.raises(Refused) as refused:
        fit_house(AREA, EVENING, outdoor, rooms)
    assert refused.value.path == path


def table(heading: str = "Time,Outdoor °F,Living room °F", hours: int = 30, mark: str = ",", skip: tuple[int, ...] = ()) -> str:
    rows = [
        mark.join((f"2026-07-{1 + hour // 24:02d}T{hour % 24:02d}:{minute:02d}:00", f"{68 + hour % 3}", "77"))
        for hour in range(hours)
        for minute in (5, 35)
        if hour not in skip
    ]
    return "\n".join([heading.replace(",", mark), *rows, ""])


def test_a_table_of_samples_is_read_by_the_hour() -> None:
    found = read_samples(table())
    assert (found.first_hour, len(found.room_c), found.gaps) == (0, 30, 0)
    assert found.room_c[0] == pytest.approx(25.0)
    assert found.outdoor_c[1] == pytest.approx((69 - 32) / 1.8)
    celsius = read_samples(table("date;outside;indoor".replace(";", ","), mark=";"))
    assert celsius.room_c[0] == 77.0
    gap = read_samples(table(skip=(7, 8)))
    assert gap.gaps == 2
    assert gap.outdoor_c[7] == pytest.approx(gap.outdoor_c[6] + (gap.outdoor_c[9] - gap.outdoor_c[6]) / 3)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "No column is called time"),
        (table("time,outdoor,kitchen"), "No column is called room"),
        (table(hours=6), "even hours of samples"),
        (table(skip=(7, 8, 9, 10)), "three hours are missing"),
        (table() + "yesterday,1,2\n", "Line 62 can't be read"),
        (table() + "2026-07-02T07:00,,2\n", "Line 62 can't be read"),
    ],
)
def test_a_table_that_can_not_be_read_says_why(text: str, words: str) -> None:
    with pytest.raises(Refused, match=words):
        read_samples(text)


def test_a_fitted_house_stays_with_the_setup() -> None:
    house = {"air_j_per_k": 5e5, "mass_j_per_k": 4e7, "coupling_w_per_k": 700.0, "outside_w_per_k": 150.0}
    body = {**BODIES["night_setup"], "house": house}
    shown = phase_of(entry("night_setup", body, phase="as_found")).pages.night
    assert shown.setup.house.mass_j_per_k == 4e7
    with pytest.raises(Refused) as refused:
        read_entry(entry("night_setup", {**body, "house": {**house, "mass_j_per_k": 1.0}}))
    assert refused.value.path == "body.house.mass_j_per_k"

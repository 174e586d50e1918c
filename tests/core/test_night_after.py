"""The night by the hour and afterwards: a forecast from a file, the samples against the plan, what the house teaches, its damper."""

from __future__ import annotations

from dataclasses import replace
from math import cos, pi
from random import Random
from typing import Any

import pytest

from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import write
from fentro_core.night.after import NightSamples, night_after
from fentro_core.night.forecast import read_forecast
from fentro_core.night.house import free_run
from fentro_core.night.proof import NightTestSeen, verdict
from fentro_core.night.proof import tests as night_tests
from fentro_core.night.tonight import EVENING, HOURS, Forecast, tonight_plan, weather_of
from fentro_core.system.night_setup import Cooling, Flush, House, NightPlanned, NightSetup
from fentro_core.weather.year import synthetic_year, write_epw
from tests.core.test_night import phase_of
from tests.core.visits import air, entry

AREA = 161.65
SETUP = NightSetup(Flush(0.5, 250.0), Cooling(24.5, 8000.0), AREA)
TYPICAL = House.typical(AREA)


def planned(setup: NightSetup = SETUP, high: float = 34.0, low: float = 16.0, room: float = 24.5) -> NightPlanned:
    """A plan as the page notes it."""
    made = tonight_plan(setup, Forecast(high, low, room)).plan
    blown = [hour for hour, speed in enumerate(made.plan.speeds) if speed > 0]
    assert made.start_hour is not None
    assert made.stop_hour is not None
    return NightPlanned(
        high,
        low,
        room,
        made.target_c,
        made.start_hour,
        made.stop_hour,
        tuple(made.plan.speeds[blown[0] : blown[-1] + 1]),
        planned_c=made.plan.air_c,
    )


def night(
    plan: NightPlanned, house: House = TYPICAL, share: float = 1.0, seed: int = 1, hours: int = 14, noise: float = 0.1
) -> NightSamples:
    """What loggers see of a true house while so much of the planned air comes in."""
    random = Random(seed)
    outdoor = tuple(25 + 9 * cos(2 * pi * (EVENING + hour - 15) / 24) + random.gauss(0, 0.4) for hour in range(hours))
    before = (plan.start_hour - EVENING) % 24
    blown = [SETUP.flush.full_m3s * share * speed for speed in (*plan.speeds, *([0.0] * hours))][: hours - 1 - before]
    course = free_run(house, weather_of(AREA, plan.start_hour, outdoor[before:]), blown, 24.5, 24.5)
    rooms = [24.5] * before + [each for each, _ in course]
    return NightSamples(EVENING, outdoor, tuple(each + random.gauss(0, noise) for each in rooms))


def test_a_night_as_planned_is_said_to_be_so() -> None:
    plan = planned()
    found = night_after(SETUP, plan, night(plan))
    assert found.mark == "holds"
    assert found.words.text.startswith("As planned")
    assert found.teaches
    assert found.air_share is not None
    assert abs(found.air_share.value - 1.0) < found.air_share.plus_minus
    assert found.misfit_k < 0.3
    assert len(found.course_c) == len(found.expected_c) == found.hours


@pytest.mark.parametrize("seed", range(4))
def test_air_that_did_not_come_in_is_seen(seed: int) -> None:
    plan = planned()
    doubtful = night_after(SETUP, plan, night(plan, share=0.1, seed=seed))
    assert doubtful.mark == "watch", "a house that nobody knows could be a heavier one"
    assert "a heavier house, or less air" in doubtful.words.text
    fitted = replace(SETUP, house=TYPICAL)
    plan = planned(fitted)
    found = night_after(fitted, plan, night(plan, share=0.1, seed=seed))
    assert found.mark == "off"
    assert "of the planned air came in" in found.words.text
    assert found.air_share is not None
    assert found.air_share.value < 0.5


@pytest.mark.parametrize("seed", range(12))
def test_a_sound_night_in_an_unknown_house_is_never_accused_of_its_air(seed: int) -> None:
    random = Random(f"after/{seed}")
    house = House(
        TYPICAL.air_j_per_k * random.lognormvariate(0, 0.3),
        TYPICAL.mass_j_per_k * random.lognormvariate(0, 0.35),
        TYPICAL.coupling_w_per_k * random.lognormvariate(0, 0.3),
        TYPICAL.outside_w_per_k * random.lognormvariate(0, 0.3),
        random.uniform(0.3, 0.9),
    )
    plan = planned()
    found = night_after(SETUP, plan, night(plan, house, random.uniform(0.85, 1.1), seed))
    assert "planned air came in" not in found.words.text


def test_the_model_learns_from_nights() -> None:
    heavy = replace(TYPICAL, mass_j_per_k=2 * TYPICAL.mass_j_per_k, coupling_w_per_k=1.5 * TYPICAL.coupling_w_per_k)
    plan = planned()
    setup, gone = SETUP, []
    for seed in range(4):
        found = night_after(setup, plan, night(plan, heavy, seed=seed))
        assert found.difference is not None
        gone.append(abs(found.difference.value))
        setup = replace(setup, house=found.house)
    assert gone[-1] < gone[0] - 0.1


def test_a_night_that_would_look_alike_without_air_is_not_said_to_have_had_it() -> None:
    weak = replace(planned(), speeds=(0.1,) * 11)
    found = night_after(SETUP, weak, night(weak))
    assert found.mark == "too_close"
    assert "can't be told" in found.words.text
    assert found.teaches


def test_a_cold_morning_is_said_before_anything_else_about_it() -> None:
    plan = planned()
    cold = NightSamples(EVENING, (12.0,) * 14, tuple(24.5 - 0.55 * hour for hour in range(14)))
    found = night_after(SETUP, plan, cold)
    assert found.wake is not None
    assert found.wake.value < 19.4
    assert "colder than the comfort floor" in found.words.text


def test_rooms_that_go_as_no_house_goes_are_not_judged() -> None:
    plan = planned()
    seen = night(plan)
    odd = NightSamples(EVENING, seen.outdoor_c, tuple(24.5 - (4.0 if hour % 2 else 0.0) for hour in range(14)))
    found = night_after(SETUP, plan, odd)
    assert found.mark == "too_close"
    assert "was a window open" in found.words.text
    assert not found.teaches


@pytest.mark.parametrize(
    ("samples", "path"),
    [
        (NightSamples(20, (18.0,) * 14, (24.0,) * 13), "samples.room_c"),
        (NightSamples(20, (18.0,) * 5, (24.0,) * 5), "samples.outdoor_c"),
        (NightSamples(24, (18.0,) * 14, (24.0,) * 14), "samples.first_hour"),
        (NightSamples(8, (18.0,) * 10, (24.0,) * 10), "samples.room_c"),
        (NightSamples(20, (18.0,) * 14, (240.0,) * 14), "samples.room_c.0"),
    ],
)
def test_samples_without_a_night_are_refused_at_their_field(samples: NightSamples, path: str) -> None:
    with pytest.raises(Refused) as refused:
        night_after(SETUP, planned(), samples)
    assert refused.value.path == path


def test_the_page_shows_the_night_and_keeps_what_can_not_be_followed() -> None:
    plan = planned()
    said = [
        entry("night_setup", write(SETUP), phase="as_found"),
        entry("night_planned", write(plan), phase="as_found"),
        entry("night_seen", write(night(plan)), phase="as_found"),
        *air("return", 22.0, 50, phase="as_found"),
    ]
    shown = phase_of(*said)
    page: Any = shown.pages.night
    assert page.after.mark == "holds"
    assert next(line for line in shown.verdicts if line.key == "night:after").mark == "holds"
    alone: Any = phase_of(said[2], *air("return", 22.0, 50, phase="as_found")).pages.night
    assert alone.after is None
    assert "first" in alone.after_words.text


def test_the_override_says_when_it_goes_back() -> None:
    page: Any = phase_of(entry("outdoor_air_now", {"hours": 2}, phase="as_found")).pages.night
    assert page.override.hours == 2
    assert page.override_until > page.override_until[:11]


# a forecast from a file


def table(first_hour: int, hours: int, heading: str = "time,temperature °F,dew point °F") -> str:
    rows = [
        f"2026-07-{1 + (first_hour + hour) // 24:02d}T{(first_hour + hour) % 24:02d}:00,{60 + (first_hour + hour) % 24},{50}"
        for hour in range(hours)
    ]
    return "\n".join([heading, *rows])


def test_a_forecast_is_read_from_its_first_evening_on() -> None:
    found = read_forecast(table(9, 60))
    assert found.begins == "2026-07-01"
    assert len(found.outdoor_c) == HOURS
    assert found.outdoor_c[0] == pytest.approx((80 - 32) / 1.8)
    assert found.low_c == pytest.approx((60 - 32) / 1.8)
    assert found.high_c == pytest.approx((83 - 32) / 1.8)
    assert found.dew_points_c[3] == pytest.approx(10.0)
    plan = tonight_plan(SETUP, Forecast(found.high_c, found.low_c, 24.5, None, found.outdoor_c, found.dew_points_c))
    assert plan.outdoor_c == found.outdoor_c


def test_a_day_of_a_weather_year_is_a_forecast_too() -> None:
    text = write_epw(synthetic_year("5A"))
    found = read_forecast(text, 7, 15)
    assert found.begins == "07-15"
    assert found.low_c < found.high_c
    assert len(found.dew_points_c) == HOURS
    assert all(dew <= out + 0.01 for dew, out in zip(found.dew_points_c, found.outdoor_c, strict=True))
    assert read_forecast(text, 12, 31).outdoor_c, "the year goes round"
    for month, day, path in ((13, 1, "month"), (2, 30, "day"), (None, 1, "month"), (7, None, "day")):
        with pytest.raises(Refused) as refused:
            read_forecast(text, month, day)
        assert refused.value.path == path


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "No column is called time"),
        ("time,temperature", "no line under the heading"),
        (table(21, 30), "from 8 in the evening"),
        (table(9, 20), "from 8 in the evening"),
        (table(9, 60).replace(",50", ",500"), "A dew point lies"),
        (table(9, 60) + "\n2026-07-05T00:00,nan,50", "Line 62"),
        (table(9, 60) + "\n2028-07-05T00:00,60,50", "more than a year"),
    ],
)
def test_a_forecast_that_is_none_says_why(text: str, words: str) -> None:
    with pytest.raises(Refused, match=words):
        read_forecast(text)


def test_a_forecast_of_another_length_is_refused_at_its_field() -> None:
    with pytest.raises(Refused) as refused:
        tonight_plan(SETUP, Forecast(34.0, 16.0, 24.5, None, (20.0,) * 20))
    assert refused.value.path == "forecast.outdoor_c"


# the damper

TESTS = {test.kind: test for test in night_tests()}


@pytest.mark.parametrize(
    ("seen", "mark", "words"),
    [
        (NightTestSeen("outdoor", "outdoors", "open", "runs"), "holds", "As it should be."),
        (NightTestSeen("outdoor", "outdoors", "open"), "not_measured", "Not looked at: the blower."),
        (NightTestSeen("outdoor", "rooms", "open", "runs"), "off", "The damper is set to the rooms: no night air comes in."),
        (
            NightTestSeen("override", "outdoors", "shut", "runs"),
            "off",
            "The relief is shut: nothing lets the stale air out, doors press, little comes in.",
        ),
        (
            NightTestSeen("recirculate", "outdoors", "shut"),
            "off",
            "The damper is set to outdoors, and should be set to the rooms.",
        ),
        (NightTestSeen("return", "between", "open"), "off", None),
        (NightTestSeen("hold", "rooms", "shut"), "holds", "As it should be."),
        (NightTestSeen("sensor", shown_c=24.0, probe_c=17.0), "off", None),
        (NightTestSeen("sensor", shown_c=17.5, probe_c=17.0), "holds", "As it should be."),
        (NightTestSeen("sensor", shown_c=17.5), "not_measured", "Not looked at: its sensor against a probe."),
    ],
)
def test_the_damper_is_judged_by_what_was_looked_at(seen: NightTestSeen, mark: str, words: str | None) -> None:
    found = verdict(TESTS[seen.test], seen)
    assert found[0] == mark
    if words is not None:
        assert found[1].text == words


def test_a_sensor_in_the_sun_is_why_it_never_cools_at_night() -> None:
    shown = phase_of(entry("night_test", {"test": "sensor", "shown_c": 27.0, "probe_c": 17.0}, phase="as_found"))
    line = next(line for line in shown.verdicts if line.key == "night:proof")
    assert line.mark == "off"
    assert "it never cools at night" in line.sentence.say()
    placed = phase_of(entry("intake", {"distances": {}, "shaded": False}, phase="as_found"))
    assert any("never cools at night" in line.sentence.say() for line in placed.verdicts)


def test_all_tests_that_hold_prove_the_damper() -> None:
    right = {
        "sensor": {"shown_c": 17.0, "probe_c": 17.2},
        "recirculate": {"damper": "rooms", "relief": "shut"},
        "outdoor": {"damper": "outdoors", "relief": "open", "blower": "runs"},
        "hold": {"damper": "rooms", "relief": "shut"},
        "override": {"damper": "outdoors", "relief": "open", "blower": "runs"},
        "return": {"damper": "rooms", "relief": "shut"},
    }
    assert set(right) == set(TESTS)
    said = [entry("night_test", {"test": test, **looks}, phase="as_found") for test, looks in right.items()]
    page: Any = phase_of(*said).pages.night
    assert (page.proof.mark, page.proof.done) == ("holds", 6)
    part: Any = phase_of(*said[:3]).pages.night
    assert part.proof.words.text == "Good so far. Next: Held: shut all the same."

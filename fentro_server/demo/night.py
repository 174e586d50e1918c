"""Night cooling at the courtyard dwelling: its blower and limits, the plan of one night, and what a logger saw of it.

The plan is the core's own, for a typical house; the house behind the samples is a heavier one.
"""

from __future__ import annotations

from dataclasses import replace
from random import Random
from typing import Any

from fentro_core.base.typed_json import read, write
from fentro_core.night.house import free_run
from fentro_core.night.plan import day_from
from fentro_core.night.tonight import EVENING, Forecast, tonight_plan, weather_of
from fentro_core.system.night_setup import House, NightPlanned, NightSetup

SETUP: dict[str, Any] = {
    "flush": {"full_m3s": 0.47, "full_w": 390.0, "floor_c": 20.0, "dew_point_limit_c": 15.0},
    "cooling": {"setpoint_c": 24.5, "capacity_w": 8792.0},
    "floor_area_m2": 161.65,
}
FORECAST = Forecast(34.0, 16.5, 24.8, 11.0)
COLDER_K = -0.6
"""The night became so much colder than its forecast."""

HEAVIER, COUPLED = 1.7, 1.6
NOISE_K = 0.08


def plan() -> NightPlanned:
    """As the page notes it."""
    made = tonight_plan(read(SETUP, NightSetup), FORECAST)
    speeds = made.plan.plan.speeds
    blown = [hour for hour, speed in enumerate(speeds) if speed > 0]
    return NightPlanned(
        FORECAST.high_c,
        FORECAST.low_c,
        FORECAST.room_c,
        round(made.plan.target_c, 2),
        made.plan.start_hour or 0,
        made.plan.stop_hour or 0,
        tuple(round(speed, 3) for speed in speeds[blown[0] : blown[-1] + 1]),
        FORECAST.dew_point_c,
        round(made.plan.saved_j),
        tuple(round(each, 2) for each in made.plan.plan.air_c),
        tuple(round(each, 2) for each in made.outdoor_c),
    )


def seen(planned: NightPlanned) -> dict[str, Any]:
    """The logger's hours from 8 in the evening to 10 in the morning."""
    random = Random("wren street")
    setup = read(SETUP, NightSetup)
    outdoor = tuple(each + COLDER_K for each in day_from(FORECAST.high_c, FORECAST.low_c, EVENING, 15))
    typical = House.typical(setup.floor_area_m2)
    house = replace(typical, mass_j_per_k=typical.mass_j_per_k * HEAVIER, coupling_w_per_k=typical.coupling_w_per_k * COUPLED)
    before = (planned.start_hour - EVENING) % 24
    flows = [setup.flush.full_m3s * speed for speed in planned.speeds] + [0.0] * len(outdoor)
    weather = weather_of(setup.floor_area_m2, planned.start_hour, outdoor[before:])
    course = free_run(house, weather, flows[: len(outdoor) - 1 - before], FORECAST.room_c, FORECAST.room_c)
    rooms = [FORECAST.room_c] * before + [air for air, _ in course]
    return {
        "first_hour": EVENING,
        "outdoor_c": [round(each + random.gauss(0, NOISE_K), 2) for each in outdoor],
        "room_c": [round(each + random.gauss(0, NOISE_K), 2) for each in rooms],
    }


def planned(minute: int) -> list[Any]:
    """The setup as it was noted, a night's plan, and the night as the logger saw it."""
    made = plan()
    return [
        (minute, "night_setup", SETUP, "as_found"),
        (minute + 4, "night_planned", write(made), "as_found"),
        (minute + 6, "night_seen", seen(made), "as_left"),
    ]

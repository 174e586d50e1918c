"""Tonight from a forecast that somebody typed: the day's high, the night's low, a dew point; and the table for a season."""

from __future__ import annotations

from dataclasses import dataclass, replace

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import WEATHER_C, within
from fentro_core.base.refusal import Refused, inside
from fentro_core.base.working import SILENT, Working
from fentro_core.night.house import Weather
from fentro_core.night.plan import NightPlan, Tonight, day_from, night_plan
from fentro_core.system.night_setup import House, NightSetup

GAIN_DAY_W_M2, GAIN_NIGHT_W_M2, SUN_W_M2 = 4.0, 1.5, 14.0
"""What people, lamps and things give by day and by night, and the sun at its most, to a square metre of floor. Ours, ordinary."""

UNSURE_K = 0.5
"""A house that was not fitted, and a forecast, are a little wrong: so much is kept from the comfort floor. Ours, by simulated
seasons (`bin/bench night`)."""

HOURS = 28
EVENING = 20
DEW_POINT_C = (-40.0, 35.0)

SEASON_HIGHS = (26.0, 28.0, 30.0, 32.0, 34.0, 36.0, 38.0)
USUAL_SWING_K = 14.0


@dataclass(frozen=True)
class Forecast:
    """Tomorrow's high, tonight's low [°C], the night's dew point where it is known; the rooms now [°C].

    `outdoor_c`, `dew_points_c`: by the hour from 20 h on, 28 of them, where the forecast is known so; they count then.
    """

    high_c: float
    low_c: float
    room_c: float
    dew_point_c: float | None = None
    outdoor_c: tuple[float, ...] = ()
    dew_points_c: tuple[float, ...] = ()

    def check(self) -> None:
        """Refuse what no weather is."""
        for name in ("high_c", "low_c"):
            within(getattr(self, name), WEATHER_C, name, "temperature")
        within(self.room_c, (0.0, 45.0), "room_c", "temperature")
        if self.dew_point_c is not None:
            within(self.dew_point_c, DEW_POINT_C, "dew_point_c", "temperature")
        for name, limits in (("outdoor_c", WEATHER_C), ("dew_points_c", DEW_POINT_C)):
            values = getattr(self, name)
            if values and len(values) != HOURS:
                raise Refused("Give 28 hours, from 8 in the evening to the next midnight.", name)
            for index, value in enumerate(values):
                within(value, limits, f"{name}.{index}", "temperature")


@dataclass(frozen=True)
class PlannedTonight:
    """The plan with the weather it stands on. `typical`: the house is one of its size, not fitted from samples."""

    plan: NightPlan
    first_hour: int
    outdoor_c: tuple[float, ...]
    typical: bool
    saved_j: float


@calculation("ventilation.tonight", "Tonight's plan from a high and a low")
def tonight_plan(setup: NightSetup, forecast: Forecast, target_c: float | None = None, work: Working = SILENT) -> PlannedTonight:
    """`ventilation.night` from 20 h on, for a forecast by the hour or by high and low; a typical house unless one was fitted.

    Parameters
    ----------
    setup : NightSetup
        Blower, damper and limits, the compressor, the floor area (also for the gains), the house where it was fitted.
    forecast : Forecast
        High, low, dew point, and the rooms now; by the hour where it is known so.
    target_c : float, optional
        Air down to which it blows; None: searched.

    Raises
    ------
    Refused
        What can't be, with its field.

    References
    ----------
    A day between its low at 5 h and its high at 15 h, by cosines; gains and sun by floor area (ours).

    >>> from fentro_core.system.night_setup import Cooling, Flush
    >>> setup = NightSetup(Flush(0.5, 250.0), Cooling(24.5, 8000.0), 161.65)
    >>> found = tonight_plan(setup, Forecast(34.0, 16.0, 24.5))
    >>> found.typical, found.plan.saved_j > 0
    (True, True)
    """
    with inside("setup"):
        setup.check()
    with inside("forecast"):
        forecast.check()
    outdoor = forecast.outdoor_c or day_from(forecast.high_c, forecast.low_c, EVENING, HOURS)
    dew_point = forecast.dew_points_c or ((forecast.dew_point_c,) * HOURS if forecast.dew_point_c is not None else ())
    weather = weather_of(setup.floor_area_m2, EVENING, outdoor, dew_point)
    night = Tonight(EVENING, weather, forecast.room_c, forecast.room_c)
    flush, cooling, house = setup.flush, setup.cooling, setup.house
    if house is None and target_c is None:
        flush = replace(flush, floor_c=max(min(flush.floor_c + UNSURE_K, cooling.setpoint_c - UNSURE_K), flush.floor_c))
    plan = night_plan(house or House.typical(setup.floor_area_m2), cooling, flush, night, target_c, work)
    return PlannedTonight(plan, EVENING, outdoor, house is None, plan.saved_j)


def weather_of(
    floor_area_m2: float, first_hour: int, outdoor_c: tuple[float, ...], dew_point_c: tuple[float, ...] = ()
) -> Weather:
    """Outdoor air with ordinary gains and sun for a house of this floor area [m²], from an hour of the day on."""
    hours = [(first_hour + hour) % 24 for hour in range(len(outdoor_c))]
    gains = tuple(floor_area_m2 * (GAIN_DAY_W_M2 if 7 <= hour < 22 else GAIN_NIGHT_W_M2) for hour in hours)
    sun = tuple(floor_area_m2 * SUN_W_M2 * max(0.0, 1.0 - ((hour - 13) / 6.0) ** 2) for hour in hours)
    return Weather(outdoor_c, gains, sun, dew_point_c)


@dataclass(frozen=True)
class SeasonLine:
    """For days of this high [°C]: how cold to blow, when, how hard at most, and what it saves [J]."""

    high_c: float
    target_c: float | None
    start_hour: int | None
    stop_hour: int | None
    most_speed: float
    saved_j: float


@dataclass(frozen=True)
class Season:
    """A control's settings by the day's high, and the difference at which outdoor air is worth it [K]."""

    lines: tuple[SeasonLine, ...]
    differential_k: float


@calculation("ventilation.season", "A season's settings for night cooling, by the day's high")
def season_table(setup: NightSetup, swing_k: float = USUAL_SWING_K, work: Working = SILENT) -> Season:
    """Tonight's plan for days from 26 °C to 38 °C: for a control that is set once a season.

    Parameters
    ----------
    setup : NightSetup
        As for `ventilation.tonight`; what holds it tonight does not count.
    swing_k : float
        From the day's high to the night's low here [K], 2 to 30.

    Raises
    ------
    Refused
        What can't be, with its field.

    References
    ----------
    `ventilation.tonight`, each with the rooms at their setpoint in the evening.

    >>> from fentro_core.system.night_setup import Cooling, Flush
    >>> table = season_table(NightSetup(Flush(0.5, 250.0), Cooling(24.5, 8000.0), 161.65))
    >>> [line.high_c for line in table.lines][:2], table.lines[2].saved_j > 0
    ([26.0, 28.0], True)
    """
    within(swing_k, (2.0, 30.0), "swing_k", "temperature_difference")
    free = replace(setup, flush=replace(setup.flush, hold=""))
    lines, least = [], []
    for high in SEASON_HIGHS:
        found = tonight_plan(free, Forecast(high, high - swing_k, setup.cooling.setpoint_c))
        plan = found.plan
        blown = plan.start_hour is not None
        gaps = [
            air - outdoor
            for air, outdoor, speed in zip(plan.plan.air_c, found.outdoor_c, plan.plan.speeds, strict=False)
            if speed > 0
        ]
        least += gaps
        lines.append(
            SeasonLine(
                high,
                plan.target_c if blown else None,
                plan.start_hour,
                plan.stop_hour,
                max(plan.plan.speeds),
                plan.saved_j,
            )
        )
    differential = max(min(least), 0.5) if least else 2.2
    return Season(tuple(lines), work.step("worth it from", "dT", "least(dT_h)", differential, "temperature_difference"))

"""Tonight from a forecast that somebody typed: the day's high, the night's low, a dew point; and the table for a season."""

from __future__ import annotations

from dataclasses import dataclass, replace

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import WEATHER_C, within
from fentro_core.base.working import SILENT, Working
from fentro_core.night.house import Weather
from fentro_core.night.plan import NightPlan, Tonight, day_from, night_plan
from fentro_core.system.night_setup import Cooling, Flush, House

GAIN_DAY_W_M2, GAIN_NIGHT_W_M2, SUN_W_M2 = 4.0, 1.5, 14.0
"""What people, lamps and things give by day and by night, and the sun at its most, to a square metre of floor. Ours, ordinary."""

UNSURE_K = 0.5
"""A house that was not fitted, and a forecast, are a little wrong: so much is kept from the comfort floor. Ours, by simulated
seasons (`bin/bench night`)."""

HOURS = 28
EVENING = 20

SEASON_HIGHS = (26.0, 28.0, 30.0, 32.0, 34.0, 36.0, 38.0)
USUAL_SWING_K = 14.0


@dataclass(frozen=True)
class Forecast:
    """Tomorrow's high, tonight's low [°C], the night's dew point where it is known; the rooms now [°C]."""

    high_c: float
    low_c: float
    room_c: float
    dew_point_c: float | None = None

    def check(self) -> None:
        """Refuse what no weather is."""
        for name in ("high_c", "low_c"):
            within(getattr(self, name), WEATHER_C, name, "temperature")
        within(self.room_c, (0.0, 45.0), "room_c", "temperature")
        if self.dew_point_c is not None:
            within(self.dew_point_c, (-40.0, 35.0), "dew_point_c", "temperature")


@dataclass(frozen=True)
class PlannedTonight:
    """The plan with the weather it stands on. `typical`: the house is one of its size, not fitted from samples."""

    plan: NightPlan
    first_hour: int
    outdoor_c: tuple[float, ...]
    typical: bool
    saved_j: float


@calculation("ventilation.tonight", "Tonight's plan from a high and a low")
def tonight_plan(
    floor_area_m2: float,
    cooling: Cooling,
    flush: Flush,
    forecast: Forecast,
    target_c: float | None = None,
    house: House | None = None,
    work: Working = SILENT,
) -> PlannedTonight:
    """`ventilation.night` for a forecast by high and low, from 20 h on; a typical house of this floor area unless one is given.

    Parameters
    ----------
    floor_area_m2 : float
        Of the house [m²], 10 to 5,000; also for its gains.
    cooling : Cooling
        The compressor.
    flush : Flush
        Blower, damper and limits.
    forecast : Forecast
        High, low, dew point, and the rooms now.
    target_c : float, optional
        Air down to which it blows; None: searched.
    house : House, optional
        Fitted from samples.

    Raises
    ------
    Refused
        What can't be, with its field.

    References
    ----------
    A day between its low at 5 h and its high at 15 h, by cosines; gains and sun by floor area (ours).

    >>> found = tonight_plan(161.65, Cooling(24.5, 8000.0), Flush(0.5, 250.0), Forecast(34.0, 16.0, 24.5))
    >>> found.typical, found.plan.saved_j > 0
    (True, True)
    """
    within(floor_area_m2, (10.0, 5000.0), "floor_area_m2", "area")
    forecast.check()
    hours = [(EVENING + hour) % 24 for hour in range(HOURS)]
    outdoor = day_from(forecast.high_c, forecast.low_c, EVENING, HOURS)
    gains = tuple(floor_area_m2 * (GAIN_DAY_W_M2 if 7 <= hour < 22 else GAIN_NIGHT_W_M2) for hour in hours)
    sun = tuple(floor_area_m2 * SUN_W_M2 * max(0.0, 1.0 - ((hour - 13) / 6.0) ** 2) for hour in hours)
    dew_point = (forecast.dew_point_c,) * HOURS if forecast.dew_point_c is not None else ()
    night = Tonight(EVENING, Weather(outdoor, gains, sun, dew_point), forecast.room_c, forecast.room_c)
    if house is None and target_c is None:
        flush = replace(flush, floor_c=max(min(flush.floor_c + UNSURE_K, cooling.setpoint_c - UNSURE_K), flush.floor_c))
    plan = night_plan(house or House.typical(floor_area_m2), cooling, flush, night, target_c, work)
    return PlannedTonight(plan, EVENING, outdoor, house is None, plan.saved_j)


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
def season_table(
    floor_area_m2: float,
    cooling: Cooling,
    flush: Flush,
    swing_k: float = USUAL_SWING_K,
    house: House | None = None,
    work: Working = SILENT,
) -> Season:
    """Tonight's plan for days from 26 °C to 38 °C: for a control that is set once a season.

    Parameters
    ----------
    floor_area_m2 : float
        Of the house [m²].
    cooling : Cooling
        The compressor.
    flush : Flush
        Blower, damper and limits; what holds it tonight does not count.
    swing_k : float
        From the day's high to the night's low here [K], 2 to 30.
    house : House, optional
        Fitted from samples.

    Raises
    ------
    Refused
        What can't be, with its field.

    References
    ----------
    `ventilation.tonight`, each with the rooms at their setpoint in the evening.

    >>> table = season_table(161.65, Cooling(24.5, 8000.0), Flush(0.5, 250.0))
    >>> [line.high_c for line in table.lines][:2], table.lines[2].saved_j > 0
    ([26.0, 28.0], True)
    """
    within(swing_k, (2.0, 30.0), "swing_k", "temperature_difference")
    lines, least = [], []
    for high in SEASON_HIGHS:
        forecast = Forecast(high, high - swing_k, cooling.setpoint_c)
        found = tonight_plan(floor_area_m2, cooling, replace(flush, hold=""), forecast, house=house)
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

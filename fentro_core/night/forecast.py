"""Tonight's weather by the hour from a file: a forecast's table, or a day of a weather year."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.air.saturation import dew_point, saturation
from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working
from fentro_core.night.tonight import DEW_POINT_C, EVENING, HOURS
from fentro_core.weather.table import Hourly, hourly
from fentro_core.weather.year import DAYS, read_epw

NIGHT_H = 13
"""From the evening to the morning: the night's low lies there, the next day's high after it."""


@dataclass(frozen=True)
class HourlyForecast:
    """From 20 h on, 28 hours: outdoor air [°C], dew points [°C] or none; the next day's high and the night's low.

    `begins`: the evening, as the file dates it.
    """

    begins: str
    outdoor_c: tuple[float, ...]
    dew_points_c: tuple[float, ...]
    high_c: float
    low_c: float


@calculation("ventilation.read_forecast", "A forecast by the hour, from a table or a day of a weather year")
def read_forecast(text: str, month: int | None = None, day: int | None = None, work: Working = SILENT) -> HourlyForecast:
    """The first evening of a table (CSV) from which 28 hours follow; of an EPW file, the evening of a day.

    Parameters
    ----------
    text : str
        A table with a heading: a column with *time*, one with *out* or *temp*, perhaps one with *dew*; ``°F`` in a heading says
        so. Or a weather file in the open EPW form.
    month, day : int, optional
        Of the evening, in an EPW file: 1 to 12, and a day that the month has.

    Raises
    ------
    Refused
        No such columns, a line that can't be read (the sentence says which), no evening with 28 hours after it; no such day.

    References
    ----------
    ISO 8601 times; EPW; dew point from dry bulb and relative humidity as everywhere here (Hyland and Wexler).

    >>> rows = [f"2026-07-{1 + hour // 24:02d}T{hour % 24:02d}:00,{20 + hour % 24 / 2}" for hour in range(60)]
    >>> found = read_forecast("time,temperature" + chr(10) + chr(10).join(rows))
    >>> found.begins, found.outdoor_c[0], len(found.outdoor_c)
    ('2026-07-01', 30.0, 28)
    """
    if text.lstrip().upper().startswith("LOCATION"):
        begins, outdoor, dew_points = _of_year(text, month, day)
    else:
        begins, outdoor, dew_points = _of_table(hourly(text, {"outdoor": ("out", "temp")}, {"dew_point": ("dew",)}))
    low = work.step("tonight's low", "T_min", "least(T_h)", min(outdoor[:NIGHT_H]), "temperature")
    high = max(outdoor[NIGHT_H - 1 :])
    return HourlyForecast(begins, outdoor, dew_points, high, low)


Evening = tuple[str, tuple[float, ...], tuple[float, ...]]


def _of_table(table: Hourly) -> Evening:
    count = len(table.values["outdoor"])
    first = (EVENING - table.first_hour) % 24
    if first + HOURS > count:
        raise Refused("A forecast must go from 8 in the evening to the next midnight, hour by hour.", "text")
    part = table.part(first, HOURS)
    dew_points = part.values.get("dew_point", ())
    if any(not DEW_POINT_C[0] <= value <= DEW_POINT_C[1] for value in dew_points):
        raise Refused("A dew point lies between -40 and 35 °C: check the column and its unit.", "text")
    return part.begins.date().isoformat(), part.values["outdoor"], dew_points


def _of_year(text: str, month: int | None, day: int | None) -> Evening:
    if month is None or day is None:
        raise Refused("Say which day of this year of weather tonight is: its month and day.", "month" if month is None else "day")
    if not 1 <= month <= 12:
        raise Refused("A month lies between 1 and 12.", "month")
    if not 1 <= day <= DAYS[month - 1]:
        raise Refused("This month has no such day.", "day")
    year = read_epw(text)
    first = (sum(DAYS[: month - 1]) + day - 1) * 24 + EVENING
    hours = [(first + at) % len(year.dry_bulb_c) for at in range(HOURS)]
    outdoor = tuple(year.dry_bulb_c[hour] for hour in hours)
    dew_points = tuple(
        min(max(dew_point(year.relative_humidity[hour] * saturation(year.dry_bulb_c[hour])[0]), DEW_POINT_C[0]), DEW_POINT_C[1])
        for hour in hours
    )
    return f"{month:02d}-{day:02d}", outdoor, dew_points

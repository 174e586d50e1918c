"""A year of weather by the hour: from an EPW file, or made for a climate zone from a few figures, the same every time."""

from __future__ import annotations

from dataclasses import dataclass
from math import cos, pi
from random import Random

from fentro_core.base.refusal import Refused

HEADER_LINES = 8
HOURS = 8760


@dataclass(frozen=True)
class WeatherYear:
    """Dry bulb [°C] and relative humidity (0 to 1) of every hour from 1 January, 8,760 of them.

    `missing`: hours that the file has no value for; their numbers lie on the line between the hours around them and are not
    to be counted.
    """

    name: str
    dry_bulb_c: tuple[float, ...]
    relative_humidity: tuple[float, ...]
    made_up: bool
    missing: tuple[int, ...] = ()


DAYS = (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)


def read_epw(text: str) -> WeatherYear:
    """A weather file in the open EPW form. Every value stays at its own hour of day, however many lines before it are missing.

    Raises
    ------
    Refused
        No EPW file, a line that can't be read (the sentence says which), or more than a tenth of the year missing.
    """
    lines = text.splitlines()
    if not lines or not lines[0].upper().startswith("LOCATION"):
        raise Refused("This is not an EPW weather file: its first line must begin with LOCATION.", "weather")
    place = ", ".join(part.strip() for part in lines[0].split(",")[1:4] if part.strip() and part.strip() != "-")
    known: dict[int, tuple[float, float]] = {}
    for number, line in enumerate(lines[HEADER_LINES:], HEADER_LINES + 1):
        if not line.strip():
            continue
        cells = line.split(",")
        try:
            hour = _hour_of_year(int(cells[1]), int(cells[2]), int(cells[3]))
            celsius, percent = float(cells[6]), float(cells[8])
        except (IndexError, ValueError):
            raise Refused(f"Line {number} of the weather file can't be read.", "weather") from None
        if hour is not None and -70 <= celsius <= 60 and 0 <= percent <= 110:
            known[hour] = (celsius, min(max(percent / 100, 0.01), 1.0))
    missing = tuple(hour for hour in range(HOURS) if hour not in known)
    if len(missing) > HOURS / 10:
        raise Refused(f"A year has {HOURS:,} hours; this file has {len(known):,} with values: take another file.", "weather")
    filled = [_between(known, hour) for hour in range(HOURS)]
    return WeatherYear(place, tuple(c for c, _ in filled), tuple(share for _, share in filled), False, missing)


def _hour_of_year(month: int, day: int, hour: int) -> int | None:
    """Hours since the year began, of a date and its hour 1 to 24; None on 29 February, which an ordinary year does not have."""
    if (month, day) == (2, 29):
        return None
    if not (1 <= month <= 12 and 1 <= day <= DAYS[month - 1] and 1 <= hour <= 24):
        raise ValueError(month, day, hour)
    return (sum(DAYS[: month - 1]) + day - 1) * 24 + hour - 1


def _between(known: dict[int, tuple[float, float]], hour: int) -> tuple[float, float]:
    """The hour's own values, or those on the line between the nearest hours before and after; the year goes round."""
    if hour in known:
        return known[hour]
    before = next(back for back in range(1, HOURS) if (hour - back) % HOURS in known)
    after = next(on for on in range(1, HOURS) if (hour + on) % HOURS in known)
    (c0, w0), (c1, w1) = known[(hour - before) % HOURS], known[(hour + after) % HOURS]
    part = before / (before + after)
    return c0 + (c1 - c0) * part, w0 + (w1 - w0) * part


_MEAN_C = {"0": 27.0, "1": 25.0, "2": 21.5, "3": 17.5, "4": 13.0, "5": 10.0, "6": 7.5, "7": 4.0, "8": -3.0}
_SEASON_K = {"0": 3.0, "1": 4.0, "2": 7.5, "3": 9.5, "4": 11.0, "5": 12.5, "6": 13.5, "7": 15.0, "8": 18.0}
_DAY_K = {"A": 4.5, "B": 7.5, "C": 3.5, "": 6.0}
_RH = {"A": 0.72, "B": 0.42, "C": 0.76, "": 0.62}


def synthetic_year(zone: str, seed: int = 7) -> WeatherYear:
    """A made-up year with a climate zone's ordinary mean, season, daily swing and humidity; deterministic by seed.

    >>> year = synthetic_year("3A")
    >>> len(year.dry_bulb_c), year.made_up, year == synthetic_year("3A")
    (8760, True, True)
    """
    number, letter = zone[:1], zone[1:2]
    if number not in _MEAN_C or letter not in _DAY_K:
        raise Refused("Set the site's climate zone first.", "climate_zone")
    random = Random(f"{zone}/{seed}")
    season = _SEASON_K[number] * (0.75 if letter == "C" else 1.0)
    dry_bulb: list[float] = []
    humidity: list[float] = []
    front = 0.0
    for hour in range(HOURS):
        if hour % 6 == 0:
            front = 0.93 * front + random.gauss(0, 1.35)
        of_year, of_day = hour / HOURS, (hour % 24) / 24
        swing = -_DAY_K[letter] * cos(2 * pi * (of_day - 0.125))
        celsius = _MEAN_C[number] - season * cos(2 * pi * (of_year - 0.06)) + swing * 0.9 + front
        percent = _RH[letter] - 0.022 * swing - 0.004 * front + random.gauss(0, 0.02)
        dry_bulb.append(round(celsius, 1))
        humidity.append(round(min(max(percent, 0.08), 1.0), 2))
    return WeatherYear(f"Made-up year of zone {zone}", tuple(dry_bulb), tuple(humidity), True)


def write_epw(year: WeatherYear, elevation_m: float = 0.0) -> str:
    """The year in EPW form; what is not known stands as missing."""
    lines = [f"LOCATION,{year.name.replace(',', ' ')},-,-,made up,0,0.0,0.0,0.0,{elevation_m:.1f}"]
    lines += ["DESIGN CONDITIONS,0", "TYPICAL/EXTREME PERIODS,0", "GROUND TEMPERATURES,0", "HOLIDAYS/DAYLIGHT SAVINGS,No,0,0,0"]
    lines += ["COMMENTS 1,made by Fentro", "COMMENTS 2,", "DATA PERIODS,1,1,Data,Sunday, 1/ 1,12/31"]
    dates = [(month, day) for month, most in enumerate(DAYS, 1) for day in range(1, most + 1)]
    rest = ",".join(["9999"] * 12 + ["999"] * 13)
    for index, (celsius, share) in enumerate(zip(year.dry_bulb_c, year.relative_humidity, strict=True)):
        month, day = dates[index // 24]
        lines.append(f"2001,{month},{day},{index % 24 + 1},0,?,{celsius:.1f},99.9,{share * 100:.0f},999999,{rest}")
    return "\n".join(lines) + "\n"

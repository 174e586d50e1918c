"""The two nodes of a house from its own samples: outdoor air and rooms by the hour, while nothing was blown and nothing cooled.

A house is unknown by an ordinary amount before anything is read (`UNSURE`, on logarithms); samples say more. The likeliest one is
found by Gauss-Newton steps.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from math import exp, sqrt

from fentro_core.base.calculation import calculation
from fentro_core.base.least_squares import cholesky, inverse, solved
from fentro_core.base.limits import within
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working
from fentro_core.night.house import Weather, free_run
from fentro_core.night.tonight import GAIN_DAY_W_M2, GAIN_NIGHT_W_M2, SUN_W_M2
from fentro_core.system.night_setup import House

LEAST_H, MOST_H = 24, 24 * 21
LARGEST_TEXT = 2_000_000
UNSURE = (0.4, 0.4, 0.4, 0.4, 0.5, 0.6)
"""Standard deviation of the logarithms of air, mass, coupling, outside, gains and sun, before anything is read. Ours."""

MASS_K = 1.0
"""How far the mass may lie from the rooms when the samples begin [K]. Ours."""

SAMPLE_K = 0.3
"""A sample, and what two nodes can't say of a house, together [K]. Ours."""

STEPS = 12
ROOM_C = (-10.0, 50.0)
OUT_C = (-50.0, 60.0)
FAHRENHEIT = re.compile(r"(°\s*|deg\s*|[\[(_ ])f\b", re.IGNORECASE)


@dataclass(frozen=True)
class Fitted:
    """What the samples say.

    Attributes
    ----------
    house
        The likeliest.
    mass_times, outside_times
        Against a typical house of its size.
    mass_plus_minus, outside_plus_minus
        95 % half-widths of these, as a share.
    misfit_k
        Root mean square of what is left between samples and model [K].
    hours
        Of samples that were used.
    """

    house: House
    mass_times: float
    outside_times: float
    mass_plus_minus: float
    outside_plus_minus: float
    misfit_k: float
    hours: int


@calculation("ventilation.fit_house", "A house's two nodes from its own samples")
def fit_house(
    floor_area_m2: float,
    first_hour: int,
    outdoor_c: tuple[float, ...],
    room_c: tuple[float, ...],
    work: Working = SILENT,
) -> Fitted:
    """The house that follows the samples best, held to a typical one of its size as far as they say nothing.

    Parameters
    ----------
    floor_area_m2 : float
        Of the house [m²], 10 to 5,000.
    first_hour : int
        Of the day, of the first sample.
    outdoor_c, room_c : tuple of float
        One an hour [°C], 24 to 504 of each, with the damper shut and nothing cooling or heating.

    Raises
    ------
    Refused
        Too few or too many samples, not as many of one as of the other, air that can't be.

    References
    ----------
    Two-node model; most likely parameters by Gauss-Newton steps with normal priors on logarithms (ours).

    >>> outdoor = tuple(20.0 + (8.0 if 10 <= hour % 24 <= 18 else -4.0) for hour in range(48))
    >>> fitted = fit_house(150.0, 0, outdoor, tuple(23.0 for _ in outdoor))
    >>> fitted.hours, fitted.mass_times > 0.5
    (48, True)
    """
    within(floor_area_m2, (10.0, 5000.0), "floor_area_m2", "area")
    if not 0 <= first_hour <= 23:
        raise Refused("An hour of the day lies between 0 and 23.", "first_hour")
    if not LEAST_H <= len(outdoor_c) <= MOST_H:
        raise Refused("Give a day of samples at least, three weeks at most, one an hour.", "outdoor_c")
    if len(room_c) != len(outdoor_c):
        raise Refused("Give as many samples of the rooms as of outdoors.", "room_c")
    for name, values, limits in (("outdoor_c", outdoor_c, OUT_C), ("room_c", room_c, ROOM_C)):
        for index, value in enumerate(values):
            within(value, limits, f"{name}.{index}", "temperature")
    fit = _Fit(floor_area_m2, first_hour, outdoor_c, room_c)
    theta, spread = fit.found()
    house, gone = fit.house(theta), fit.residuals(theta)
    misfit = sqrt(sum(each * each for each in gone) / len(gone))
    work.step(
        "left between samples and model",
        "e",
        "sqrt(mean(dT^2))",
        misfit,
        "temperature_difference",
        source=f"two nodes, {len(outdoor_c)} hours",
    )
    return Fitted(house, exp(theta[1]), exp(theta[3]), 1.96 * spread[1], 1.96 * spread[3], misfit, len(outdoor_c))


class _Fit:
    """Samples of one house, and the model against them. Unknown: six logarithms, and where the mass stood at the beginning."""

    def __init__(self, area: float, first_hour: int, outdoor: Sequence[float], rooms: Sequence[float]) -> None:
        self.area, self.outdoor, self.rooms = area, tuple(outdoor), tuple(rooms)
        self.typical = House.typical(area)
        self.hours = [(first_hour + at) % 24 for at in range(len(outdoor))]
        self.doubts = (*UNSURE, MASS_K)

    def house(self, theta: Sequence[float]) -> House:
        """The typical one, each of its figures so many times as much."""
        typical = self.typical
        return House(
            typical.air_j_per_k * exp(theta[0]),
            typical.mass_j_per_k * exp(theta[1]),
            typical.coupling_w_per_k * exp(theta[2]),
            typical.outside_w_per_k * exp(theta[3]),
        )

    def residuals(self, theta: Sequence[float]) -> list[float]:
        """Samples less model [K], from the second hour on."""
        gains, sun = exp(theta[4]) * self.area, exp(theta[5]) * self.area * SUN_W_M2
        weather = Weather(
            self.outdoor,
            tuple(gains * (GAIN_DAY_W_M2 if 7 <= hour < 22 else GAIN_NIGHT_W_M2) for hour in self.hours),
            tuple(sun * max(0.0, 1.0 - ((hour - 13) / 6.0) ** 2) for hour in self.hours),
        )
        still = (0.0,) * (len(self.rooms) - 1)
        course = free_run(self.house(theta), weather, still, self.rooms[0], self.rooms[0] + theta[6])
        return [room - air for room, (air, _) in zip(self.rooms[1:], course[1:], strict=True)]

    def found(self) -> tuple[list[float], list[float]]:
        """The likeliest, and standard deviations."""
        theta = [0.0] * 7
        spread = list(self.doubts)
        for _ in range(STEPS):
            gone = self.residuals(theta)
            slopes = []
            for at in range(7):
                moved = [value + (0.01 if each == at else 0.0) for each, value in enumerate(theta)]
                slopes.append([(now - was) / 0.01 for now, was in zip(self.residuals(moved), gone, strict=True)])
            normal = [
                [sum(a * b for a, b in zip(slopes[i], slopes[j], strict=True)) / SAMPLE_K**2 for j in range(7)] for i in range(7)
            ]
            right = [-sum(a * b for a, b in zip(slopes[i], gone, strict=True)) / SAMPLE_K**2 for i in range(7)]
            for i, doubt in enumerate(self.doubts):
                normal[i][i] += 1.0 / doubt**2
                right[i] -= theta[i] / doubt**2
            lower = cholesky(normal)
            step = solved(lower, right)
            longest = max(abs(each) for each in step)
            shorter = min(1.0, 0.5 / longest) if longest else 1.0
            theta = [value + shorter * move for value, move in zip(theta, step, strict=True)]
            covariance = inverse(lower)
            spread = [sqrt(covariance[i][i]) for i in range(7)]
            if longest < 1e-3:
                break
        return theta, spread


@dataclass(frozen=True)
class HouseSamples:
    """Samples of a file, one an hour: the day's hour of the first, outdoors and rooms [°C], and how many hours had none."""

    first_hour: int
    outdoor_c: tuple[float, ...]
    room_c: tuple[float, ...]
    gaps: int
    whole_hours: float


@calculation("ventilation.read_samples", "A file of outdoor and room temperatures, hour by hour")
def read_samples(text: str, work: Working = SILENT) -> HouseSamples:
    """A table (CSV) with a time, outdoor air and the rooms; means by the hour, short gaps on the line between.

    Parameters
    ----------
    text : str
        With a heading: a column with *time*, one with *out*, one with *room*, *in* or *return*; ``°F`` in a heading says so.

    Raises
    ------
    Refused
        No such columns, a line that can't be read (the sentence says which), fewer than 24 hours, a gap of over three hours.

    References
    ----------
    ISO 8601 times; comma, semicolon or tab between.

    >>> rows = [f"2026-07-{1 + hour // 24:02d}T{hour % 24:02d}:00,{20 + hour % 5},24.0" for hour in range(30)]
    >>> read_samples("time,outdoor,room" + chr(10) + chr(10).join(rows)).room_c[:2]
    (24.0, 24.0)
    """
    if len(text) > LARGEST_TEXT:
        raise Refused("This file is too long: three weeks of samples are enough.", "text")
    lines = text.splitlines()
    heading = lines[0] if lines else ""
    mark = max((",", ";", "\t"), key=heading.count)
    names = [cell.strip().lower() for cell in next(csv.reader(io.StringIO(heading), delimiter=mark), [])]
    at_time = _column(names, ("time", "date"))
    at_out = _column(names, ("out",))
    at_room = _column(names, ("room", "return", "indoor", "inside"))
    means: dict[datetime, list[list[float]]] = {}
    for number, row in enumerate(csv.reader(io.StringIO("\n".join(lines[1:])), delimiter=mark), 2):
        if not any(cell.strip() for cell in row):
            continue
        try:
            moment = datetime.fromisoformat(row[at_time].strip())
            pair = [_celsius(row[at], names[at]) for at in (at_out, at_room)]
        except (IndexError, ValueError):
            raise Refused(f"Line {number} can't be read: a time like 2026-07-01T14:00 and two numbers.", "text") from None
        hour = moment.replace(minute=0, second=0, microsecond=0)
        means.setdefault(hour, []).append(pair)
    return _hourly(means, work)


def _column(names: Sequence[str], words: Sequence[str]) -> int:
    for word in words:
        for index, name in enumerate(names):
            if word in name:
                return index
    raise Refused(f"No column is called {' or '.join(words)}: the first line names time, outdoor and room.", "text")


def _celsius(cell: str, name: str) -> float:
    value = float(cell.strip().replace(",", "."))
    return (value - 32.0) / 1.8 if FAHRENHEIT.search(name) else value


def _hourly(means: dict[datetime, list[list[float]]], work: Working) -> HouseSamples:
    known = sorted(means)
    if not known or (known[-1] - known[0]) < timedelta(hours=LEAST_H - 1):
        raise Refused("A day of samples is needed at least.", "text")
    if (known[-1] - known[0]) > timedelta(hours=MOST_H - 1):
        known = [hour for hour in known if known[-1] - hour < timedelta(hours=MOST_H)]
    count = int((known[-1] - known[0]).total_seconds() // 3600) + 1
    series: list[list[float] | None] = [None] * count
    for hour in known:
        pairs = means[hour]
        mean = [sum(pair[side] for pair in pairs) / len(pairs) for side in (0, 1)]
        series[int((hour - known[0]).total_seconds() // 3600)] = mean
    gaps = sum(1 for pair in series if pair is None)
    filled: list[list[float]] = []
    for at, pair in enumerate(series):
        if pair is None:
            after = next(later for later in range(at, count) if series[later] is not None)
            following = series[after]
            if following is None or after - at > 2:
                raise Refused("Over three hours are missing in a row: take a stretch without a gap.", "text")
            before = filled[-1]
            pair = [had + (then - had) / (after - at + 1) for had, then in zip(before, following, strict=True)]
        filled.append(pair)
    hours = work.step("hours", "n", "count(hours)", float(count), "ratio")
    return HouseSamples(known[0].hour, tuple(pair[0] for pair in filled), tuple(pair[1] for pair in filled), gaps, hours)

"""The two nodes of a house from its own samples: outdoor air and rooms by the hour, while nothing was blown and nothing cooled.

A house is unknown by an ordinary amount before anything is read (`UNSURE`, on logarithms); samples say more. The likeliest one is
found by Gauss-Newton steps.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, sqrt

from fentro_core.base.calculation import calculation
from fentro_core.base.least_squares import cholesky, inverse, solved
from fentro_core.base.limits import within
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working
from fentro_core.night.house import Weather, free_run
from fentro_core.night.tonight import GAIN_DAY_W_M2, GAIN_NIGHT_W_M2, SUN_W_M2
from fentro_core.system.night_setup import House
from fentro_core.weather.table import hourly

LEAST_H, MOST_H = 24, 24 * 21
LEAST_NIGHT_H = 7
"""Hours of samples without which a night says nothing. Ours."""

UNSURE = (0.4, 0.4, 0.4, 0.4, 0.5, 0.6)
"""Standard deviation of the logarithms of air, mass, coupling, outside, gains and sun, before anything is read. Ours."""

MASS_K = 1.0
"""How far the mass may lie from the rooms when the samples begin [K]. Ours."""

FLOW_UNSURE = 0.5
"""Standard deviation of how much of the planned air really came in. Ours."""

SAMPLE_K = 0.3
"""A sample, and what two nodes can't say of a house, together [K]. Ours."""

STEPS = 12
ROOM_C = (-10.0, 50.0)
OUT_C = (-50.0, 60.0)


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
        raise Refused("Give at least a day of samples and at most three weeks, one an hour.", "outdoor_c")
    if len(room_c) != len(outdoor_c):
        raise Refused("Give as many samples of the rooms as of outdoors.", "room_c")
    for name, values, limits in (("outdoor_c", outdoor_c, OUT_C), ("room_c", room_c, ROOM_C)):
        for index, value in enumerate(values):
            within(value, limits, f"{name}.{index}", "temperature")
    fit = HouseFit(floor_area_m2, first_hour, outdoor_c, room_c)
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


class HouseFit:
    """Samples of one house, and the model against them.

    Unknown: six logarithms, where the mass stood at the beginning, and what share of `flows` [m³/s], by the hour, really came in.
    `house`: from which it starts, fitted before and known twice as well; a typical one unless one is given.
    """

    def __init__(
        self,
        area: float,
        first_hour: int,
        outdoor: Sequence[float],
        rooms: Sequence[float],
        flows: Sequence[float] = (),
        house: House | None = None,
    ) -> None:
        self.area, self.outdoor, self.rooms = area, tuple(outdoor), tuple(rooms)
        self.start = house or House.typical(area)
        self.hours = [(first_hour + at) % 24 for at in range(len(outdoor))]
        self.flows = tuple(flows) or (0.0,) * (len(self.rooms) - 1)
        fitted = 0.5 if house else 1.0
        self.doubts = (*(each * fitted for each in UNSURE[:4]), *UNSURE[4:], MASS_K, *((FLOW_UNSURE,) if any(self.flows) else ()))

    def house(self, theta: Sequence[float]) -> House:
        """The one it starts from, each of its figures so many times as much."""
        start = self.start
        return House(
            start.air_j_per_k * exp(theta[0]),
            start.mass_j_per_k * exp(theta[1]),
            start.coupling_w_per_k * exp(theta[2]),
            start.outside_w_per_k * exp(theta[3]),
            start.solar_to_mass,
        )

    def residuals(self, theta: Sequence[float]) -> list[float]:
        """Samples less model [K], from the second hour on."""
        gains, sun = exp(theta[4]) * self.area, exp(theta[5]) * self.area * SUN_W_M2
        weather = Weather(
            self.outdoor,
            tuple(gains * (GAIN_DAY_W_M2 if 7 <= hour < 22 else GAIN_NIGHT_W_M2) for hour in self.hours),
            tuple(sun * max(0.0, 1.0 - ((hour - 13) / 6.0) ** 2) for hour in self.hours),
        )
        share = max(1.0 + theta[7], 0.0) if len(theta) > 7 else 1.0
        blown = [share * flow for flow in self.flows]
        course = free_run(self.house(theta), weather, blown, self.rooms[0], self.rooms[0] + theta[6])
        return [room - air for room, (air, _) in zip(self.rooms[1:], course[1:], strict=True)]

    def found(self) -> tuple[list[float], list[float]]:
        """The likeliest, and standard deviations."""
        count = len(self.doubts)
        theta = [0.0] * count
        spread = list(self.doubts)
        for _ in range(STEPS):
            gone = self.residuals(theta)
            slopes = []
            for at in range(count):
                moved = [value + (0.01 if each == at else 0.0) for each, value in enumerate(theta)]
                slopes.append([(now - was) / 0.01 for now, was in zip(self.residuals(moved), gone, strict=True)])
            normal = [
                [sum(a * b for a, b in zip(slopes[i], slopes[j], strict=True)) / SAMPLE_K**2 for j in range(count)]
                for i in range(count)
            ]
            right = [-sum(a * b for a, b in zip(slopes[i], gone, strict=True)) / SAMPLE_K**2 for i in range(count)]
            for i, doubt in enumerate(self.doubts):
                normal[i][i] += 1.0 / doubt**2
                right[i] -= theta[i] / doubt**2
            lower = cholesky(normal)
            step = solved(lower, right)
            longest = max(abs(each) for each in step)
            shorter = min(1.0, 0.5 / longest) if longest else 1.0
            theta = [value + shorter * move for value, move in zip(theta, step, strict=True)]
            covariance = inverse(lower)
            spread = [sqrt(covariance[i][i]) for i in range(count)]
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
        No such columns, a line that can't be read (the sentence says which), fewer than 7 hours, a gap of over three hours.

    References
    ----------
    ISO 8601 times; comma, semicolon or tab between.

    >>> rows = [f"2026-07-{1 + hour // 24:02d}T{hour % 24:02d}:00,{20 + hour % 5},24.0" for hour in range(30)]
    >>> read_samples("time,outdoor,room" + chr(10) + chr(10).join(rows)).room_c[:2]
    (24.0, 24.0)
    """
    read = hourly(text, {"outdoor": ("out",), "room": ("room", "return", "indoor", "inside")})
    if len(read.values["room"]) < LEAST_NIGHT_H:
        raise Refused("At least seven hours of samples are needed.", "text")
    read = read.last(MOST_H)
    hours = work.step("hours", "n", "count(hours)", float(len(read.values["room"])), "ratio")
    return HouseSamples(read.first_hour, read.values["outdoor"], read.values["room"], read.gaps, hours)

"""A house as two nodes, its air and its mass: how both move by the hour with weather, gains, night air and a compressor."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import exp, sqrt

from fentro_core.air.constants import CP_DRY_AIR
from fentro_core.system.night_setup import House

AIR_KG_M3 = 1.2
STEPS_PER_HOUR = 4
STEP_S = 3600.0 / STEPS_PER_HOUR


@dataclass(frozen=True)
class Step:
    """A quarter of an hour, exactly: temperatures afterwards are ``A T + b_out T_out + b_air Q_air + b_mass Q_mass``."""

    aa: float
    am: float
    ma: float
    mm: float
    out_air: float
    out_mass: float
    air_air: float
    air_mass: float
    mass_air: float
    mass_mass: float

    def after(self, air: float, mass: float, outdoor: float, to_air: float, to_mass: float) -> tuple[float, float]:
        """Air and mass [°C] a step later, from outdoors [°C] and heat to each [W]."""
        return (
            self.aa * air + self.am * mass + self.out_air * outdoor + self.air_air * to_air + self.mass_air * to_mass,
            self.ma * air + self.mm * mass + self.out_mass * outdoor + self.air_mass * to_air + self.mass_mass * to_mass,
        )


@lru_cache(maxsize=512)
def step_of(house: House, airflow_m3s: float) -> Step:
    """The step of a house through which so much outdoor air is blown [m³/s], by the exponential of its matrix."""
    c_air, c_mass = house.air_j_per_k, house.mass_j_per_k
    out = house.outside_w_per_k + airflow_m3s * AIR_KG_M3 * CP_DRY_AIR
    couple = house.coupling_w_per_k
    a, b, c, d = -(couple + out) / c_air, couple / c_air, couple / c_mass, -couple / c_mass
    mean, half = (a + d) / 2.0, sqrt(((a - d) / 2.0) ** 2 + b * c)
    fast, slow = mean - half, mean + half
    e_fast, e_slow = exp(fast * STEP_S), exp(slow * STEP_S)
    plain = (slow * e_fast - fast * e_slow) / (slow - fast)
    tilt = (e_slow - e_fast) / (slow - fast)
    aa, am, ma, mm = plain + tilt * a, tilt * b, tilt * c, plain + tilt * d
    whole = a * d - b * c
    ia, ib, ic, id_ = d / whole, -b / whole, -c / whole, a / whole
    xa, xb, xc, xd = (
        ia * (aa - 1.0) + ib * ma,
        ia * am + ib * (mm - 1.0),
        ic * (aa - 1.0) + id_ * ma,
        ic * am + id_ * (mm - 1.0),
    )
    return Step(aa, am, ma, mm, xa * out / c_air, xc * out / c_air, xa / c_air, xc / c_air, xb / c_mass, xd / c_mass)


@dataclass(frozen=True)
class Weather:
    """By the hour, from the first one on: outdoor air [°C], its dew point [°C] where it is known, gains and sun [W]."""

    outdoor_c: tuple[float, ...]
    gains_w: tuple[float, ...]
    solar_w: tuple[float, ...] = ()
    dew_point_c: tuple[float, ...] = ()

    def at(self, step: int) -> tuple[float, float, float]:
        """Outdoors, gains and sun in the middle of a step; outdoors on the line between hours, each known at its full hour."""
        hour, quarter = divmod(step, STEPS_PER_HOUR)
        here = self.outdoor_c[hour]
        following = self.outdoor_c[hour + 1] if hour + 1 < len(self.outdoor_c) else here
        outdoor = here + (following - here) * (quarter + 0.5) / STEPS_PER_HOUR
        return outdoor, self.gains_w[hour], self.solar_w[hour] if self.solar_w else 0.0


def free_run(
    house: House, weather: Weather, airflow_m3s: Sequence[float], air_c: float, mass_c: float
) -> list[tuple[float, float]]:
    """Air and mass [°C] at each full hour, the first one included, with this much outdoor air in each hour [m³/s].

    >>> house = House(0.45e6, 24e6, 650.0, 190.0)
    >>> still = Weather((20.0,) * 24, (0.0,) * 24)
    >>> [round(each, 1) for each in free_run(house, still, (0.35,) * 24, 26.0, 26.0)[-1]]
    [21.0, 21.9]
    """
    found = [(air_c, mass_c)]
    air, mass = air_c, mass_c
    for hour, flow in enumerate(airflow_m3s):
        step = step_of(house, flow)
        for quarter in range(STEPS_PER_HOUR):
            outdoor, gains, solar = weather.at(hour * STEPS_PER_HOUR + quarter)
            to_mass = solar * house.solar_to_mass
            air, mass = step.after(air, mass, outdoor, gains + solar - to_mass, to_mass)
        found.append((air, mass))
    return found

"""The bypass: how much air it must take, how large it is, and what the air that goes round does to coil and supply."""

from __future__ import annotations

from dataclasses import dataclass
from math import exp, pi, sqrt

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import AIR_C, flows, within
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

DUCT_M_PER_S = 5.0
"""Speed for which a bypass duct is sized."""

SETTLES_MIN = 2.0
"""Coil, casing and plenum follow the air with about this time constant [min]. Ours, from ordinary units."""

LOST_PER_K = 0.02
"""Share of the sensible capacity that a cooling coil loses for each kelvin that its entering air is colder. Ours, after ordinary
performance tables at constant flow."""

LONGEST_MIN = 60


@dataclass(frozen=True)
class Mixed:
    """Bypass flow [m³/s], the return as it is mixed [°C], and the duct that carries it [m]."""

    bypass_m3s: float
    mixed_return_c: float
    bypass_diameter_m: float


@calculation("zoning.bypass_mixing", "A bypass: its flow, its duct, and the return it mixes")
def bypass_mixing(blower_m3s: float, taken_m3s: float, supply_c: float, return_c: float, work: Working = SILENT) -> Mixed:
    """``bypass = blower - taken``; ``mixed = (taken return + bypass supply) / blower``.

    Parameters
    ----------
    blower_m3s : float
        Blower flow at the static pressure aimed for [m³/s].
    taken_m3s : float
        What the smallest calling zone takes [m³/s], at most the blower's flow.
    supply_c, return_c : float
        Air that leaves the unit, and air that comes back from the rooms [°C].

    Raises
    ------
    Refused
        A zone that takes more than the blower moves; temperatures that no air has.

    References
    ----------
    Balance of heat where the bypass joins the return; dry-air flows taken as volume.

    >>> round(bypass_mixing(0.5, 0.22, 12.5, 24.0).mixed_return_c, 2)
    17.56
    """
    flows(blower_m3s, "blower_m3s")
    flows(taken_m3s, "taken_m3s")
    within(supply_c, AIR_C, "supply_c", "temperature")
    within(return_c, AIR_C, "return_c", "temperature")
    if taken_m3s > blower_m3s:
        raise Refused("The zone takes more than the blower moves: it needs no bypass.", "taken_m3s")
    bypass = work.step(
        "bypass",
        "V_b",
        "V - V_z",
        blower_m3s - taken_m3s,
        "airflow",
        V=(blower_m3s, "airflow"),
        V_z=(taken_m3s, "airflow"),
    )
    mixed = work.step(
        "mixed return",
        "t_m",
        "(V_z * t_r + V_b * t_s) / V",
        (taken_m3s * return_c + bypass * supply_c) / blower_m3s,
        "temperature",
        source="balance of heat, dry-air flows taken as volume",
        V_z=(taken_m3s, "airflow"),
        t_r=(return_c, "temperature"),
        V_b=(bypass, "airflow"),
        t_s=(supply_c, "temperature"),
        V=(blower_m3s, "airflow"),
    )
    return Mixed(bypass, mixed, sqrt(4.0 * bypass / DUCT_M_PER_S / pi))


@dataclass(frozen=True)
class Minute:
    """Supply and mixed return after some minutes [°C]."""

    minute: int
    supply_c: float
    mixed_return_c: float


@dataclass(frozen=True)
class BypassCourse:
    """What becomes of the air that goes round: by the minute, where it ends, when the limit is reached, capacity lost."""

    minutes: tuple[Minute, ...]
    supply_end_c: float
    mixed_return_end_c: float
    minutes_to_limit: float | None
    capacity_lost: float


def bypass_course(share: float, supply_c: float, return_c: float, limit_c: float, minutes: int = 30) -> BypassCourse:
    """Follow the supply while a share of it goes back into the return.

    Parameters
    ----------
    share : float
        Bypass over blower flow, 0 to 0.95.
    supply_c, return_c : float
        As they are without a bypass [°C]. Supply below return cools, above it heats.
    limit_c : float
        Supply temperature at which the unit must stop: low while cooling, high while heating [°C].

    The unit's difference falls by 2 % for each kelvin that a cooling coil's entering air is colder; a heater's stays.
    """
    cools = supply_c < return_c
    change = supply_c - return_c

    def step(entering: float) -> float:
        lost = LOST_PER_K * max(return_c - entering, 0.0) if cools else 0.0
        return entering + change * max(1.0 - lost, 0.0)

    supply, course, reached = supply_c, [], None
    follow = 1.0 - exp(-1.0 / SETTLES_MIN)
    for minute in range(minutes + 1):
        mixed = (1.0 - share) * return_c + share * supply
        course.append(Minute(minute, supply, mixed))
        if reached is None and (supply <= limit_c if cools else supply >= limit_c):
            reached = float(minute)
        supply += (step(mixed) - supply) * follow
    last = course[-1]
    lost = LOST_PER_K * max(return_c - last.mixed_return_c, 0.0) if cools else 0.0
    return BypassCourse(tuple(course), last.supply_c, last.mixed_return_c, reached, min(lost, 1.0))

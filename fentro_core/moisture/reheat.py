"""Reheat: air warmed after the coil. It dries nothing; it lets a cold coil go on drying without overcooling the room."""

from __future__ import annotations

from dataclasses import dataclass
from math import exp

from fentro_core.air.constants import heat_capacity
from fentro_core.air.state import AirState, same_pressure
from fentro_core.base.calculation import calculation
from fentro_core.base.limits import AIR_C, POWER_W, flows, within
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working
from fentro_core.moisture.mass_flow import dry_air

FELT_K = 3.0
"""Supply air that swings further than this is felt where it arrives. Ours, a rule of thumb."""

COIL_SETTLES_S = 75.0
"""How long a reheat coil takes for 63 % of its way, on or off. Ours: a few kilograms of copper and aluminium in moving air."""

CYCLE_S = 600.0
"""One cycle of an on/off valve: six an hour, as room thermostats commonly make."""

STEP_S = 15.0
DRAWN_S = 1800.0


@dataclass(frozen=True)
class Reheat:
    """The heat needed, and what the supply does meanwhile.

    `share`: of the rejected heat, None where that is not known; `on_share`: of the time that an on/off coil is on, None where
    it modulates; `low_c`, `high_c`: between which the supply swings; `course_c`: the supply every 15 s for half an hour;
    `humidity_ratio`, `dew_point_c`: before and after alike; `relative_humidity`: after. `enough`: the coil gives the heat.
    """

    heat_w: float
    share: float | None
    on_share: float | None
    low_c: float
    high_c: float
    felt: bool
    enough: bool
    humidity_ratio: float
    dew_point_c: float
    relative_humidity: float
    course_c: tuple[float, ...]


@calculation("moisture.reheat", "Reheat after the coil: heat needed, what it does to the supply, and that it dries nothing")
def reheat(
    entering: AirState,
    leaving: AirState,
    airflow_m3s: float,
    wanted_c: float,
    full_heat_w: float | None = None,
    rejected_w: float | None = None,
    modulates: bool = True,
    work: Working = SILENT,
) -> Reheat:
    """``Q = m cp (T_wanted - T_coil)`` at constant humidity ratio.

    Parameters
    ----------
    entering : AirState
        The air that enters the coil, in which the flow was measured.
    leaving : AirState
        The air after the coil, before any reheat; at the same pressure.
    airflow_m3s : float
        [m³/s], above zero.
    wanted_c : float
        Supply air wanted [°C], not below that after the coil.
    full_heat_w : float, optional
        What the reheat coil gives when fully on [W]; as much as is needed where it is not given.
    rejected_w : float, optional
        Heat that the condenser would give off [W]: hot gas takes a share of it.
    modulates : bool
        False: the coil is either fully on or off.

    Raises
    ------
    Refused
        No airflow, supply wanted colder than after the coil, heat or air beyond what can be, two pressures.

    References
    ----------
    Balance of heat at constant humidity ratio; the course of an on/off coil is simulated with a first-order lag.

    >>> entering, leaving = AirState.from_rh(24.0, 0.58), AirState.from_rh(9.0, 0.95)
    >>> found = reheat(entering, leaving, 1.2, 15.0)
    >>> round(found.heat_w, -1), found.humidity_ratio == leaving.humidity_ratio
    (8560.0, True)
    """
    flows(airflow_m3s)
    same_pressure(entering=entering, leaving=leaving)
    within(wanted_c, AIR_C, "wanted_c", "temperature")
    for name, power in (("full_heat_w", full_heat_w), ("rejected_w", rejected_w)):
        if power is not None:
            within(power, POWER_W, name, "power")
    if wanted_c < leaving.dry_bulb_c:
        raise Refused("The coil leaves warmer than that already: there is nothing to reheat.", "wanted_c")
    mass = dry_air(airflow_m3s, entering, work)
    per_kelvin = mass * heat_capacity(leaving.humidity_ratio)
    heat = per_kelvin * (wanted_c - leaving.dry_bulb_c)
    work.step(
        "heat needed",
        "Q",
        "m * (1.006 + 0.00186 * W) * (T - T_c)",
        heat,
        "power",
        us="60 * m * (0.24028 + 0.44425 * W / 7000) * (T - T_c)",
        source="at constant humidity ratio: not a gram of water leaves by it",
        m=(mass, "mass_flow"),
        W=(leaving.humidity_ratio, "humidity_ratio"),
        T=(wanted_c, "temperature"),
        T_c=(leaving.dry_bulb_c, "temperature"),
    )
    share = None
    if rejected_w is not None:
        share = work.step(
            "share of the rejected heat",
            "x",
            "100 * Q / R",
            heat / rejected_w,
            "share",
            Q=(heat, "power"),
            R=(rejected_w, "power"),
        )
    full = max(heat, 0.0) if full_heat_w is None else full_heat_w
    warm = AirState(max(wanted_c, leaving.dry_bulb_c), leaving.humidity_ratio, leaving.pressure_pa)
    enough = heat <= full * 1.0001
    if modulates or not full:
        reached = leaving.dry_bulb_c + min(heat, full) / per_kelvin
        low = high = reached
        on = None
        course: tuple[float, ...] = (reached,) * (int(DRAWN_S / STEP_S) + 1)
    else:
        on = min(heat / full, 1.0)
        course = _swinging(leaving.dry_bulb_c, full / per_kelvin, on)
        low, high = min(course), max(course)
    return Reheat(
        heat,
        share,
        on,
        low,
        high,
        high - low > FELT_K,
        enough,
        leaving.humidity_ratio,
        leaving.dew_point_c,
        warm.relative_humidity,
        course,
    )


def _swinging(cold_c: float, rise_k: float, on_share: float) -> tuple[float, ...]:
    """Supply air of an on/off coil every 15 s for half an hour, after it has swung in."""
    lag = 1 - exp(-STEP_S / COIL_SETTLES_S)
    warm = rise_k * on_share
    found = []
    for step in range(int((2 * CYCLE_S + DRAWN_S) / STEP_S) + 1):
        on = (step * STEP_S) % CYCLE_S < on_share * CYCLE_S
        warm += lag * ((rise_k if on else 0.0) - warm)
        if step * STEP_S >= 2 * CYCLE_S:
            found.append(cold_c + warm)
    return tuple(found)

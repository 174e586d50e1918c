"""Return-side leakage: how much air from around the duct is drawn in, by moisture and by heat, and what it costs."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt
from typing import Literal

from fentro_core.air.constants import heat_capacity
from fentro_core.air.state import AirState, same_pressure
from fentro_core.base.calculation import calculation
from fentro_core.base.limits import flows
from fentro_core.base.quick import quick
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

LEAST_DIFFERENCE_K = 8.0
LEAST_DIFFERENCE_RATIO = 0.002
"""The test needs one of these between room and surroundings: 8 K, or 2 g/kg."""

LEAST_GIVEN_J_PER_KG = 1000.0
"""Where the unit gives the air less than this, nothing can be said to be lost of it. Ours."""

LEAST_STATIC_PA = 1.0
"""Below this no figure at 25 Pa follows: a tube's noise is as large. Ours."""

FLOW_EXPONENT = 0.60
"""Of the flow through leaks, by pressure."""

REFERENCE_PA = 25.0
DISCHARGE = 0.6

Where = Literal["near_unit", "spread"]


@quick
@dataclass(frozen=True)
class ReturnRun:
    """The run in the surroundings: length and perimeter [m], thermal resistance of its wall [m²K/W]."""

    length_m: float
    perimeter_m: float
    resistance_m2k_per_w: float


@quick
@dataclass(frozen=True)
class ReturnLeak:
    """Shares of the air drawn in, by each balance; the flow; what comes through the wall; what is lost.

    A share is missing where the difference is under half of what its balance needs.

    `capacity_share_lost` and what follows is missing where the supply is like the mixed air: nothing is given that could be
    lost. At 25 Pa and the opening are missing without a static pressure. `drawn_in_w`: what all air being drawn in would bring;
    `given_w`: what the unit gives to the mixed air, below zero in cooling: with any share of one's own they give its cost.
    """

    share_by_heat: float | None
    share_by_moisture: float | None
    heat_usable: bool
    moisture_usable: bool
    wall_gain_w: float
    leak_load_w: float
    capacity_share_lost: float | None
    leak_m3s_from_heat: float
    leak_at_25pa_m3s: float | None
    opening_area_m2: float | None
    drawn_in_w: float
    given_w: float


def heat_is_usable(grille: AirState, around: AirState) -> bool:
    """Room and surroundings differ enough in temperature.

    >>> heat_is_usable(AirState.from_rh(24.0, 0.5), AirState.from_rh(40.0, 0.3))
    True
    """
    return abs(around.dry_bulb_c - grille.dry_bulb_c) >= LEAST_DIFFERENCE_K


def moisture_is_usable(grille: AirState, around: AirState) -> bool:
    """Room and surroundings differ enough in humidity ratio."""
    return abs(around.humidity_ratio - grille.humidity_ratio) >= LEAST_DIFFERENCE_RATIO


@calculation("leakage.return_side", "Air drawn into a return duct, by moisture and by heat")
def return_leak(
    grille: AirState,
    mixed: AirState,
    around: AirState,
    supply: AirState,
    airflow_m3s: float,
    duct: ReturnRun | None = None,
    static_pa: float | None = None,
    where: Where = "spread",
    work: Working = SILENT,
) -> ReturnLeak:
    """Both balances side by side.

    ``f_w = (W_mix - W_grille) / (W_around - W_grille)``;
    ``f_t = ((T_mix - T_grille) - q_wall / (m cp)) / (T_around - T_grille)`` with
    ``q_wall = L x perimeter / R (T_around - (T_grille + T_mix) / 2)``.

    Parameters
    ----------
    grille, mixed, around, supply : AirState
        Room air at the grille, air at the filter rack, air around the duct, supply air; one pressure. 8 K or 2 g/kg
        between room and surroundings at least.
    airflow_m3s : float
        Flow of the mixed air at the unit [m³/s], above zero.
    duct : ReturnRun, optional
        Without it nothing is taken off for the wall.
    static_pa : float, optional
        Return static at the unit [Pa], for the figure at 25 Pa and the opening.
    where : "near_unit" or "spread"
        Whether the leak sees all of that static, or half of it (spread along the run).

    Raises
    ------
    Refused
        Room and surroundings are too much alike: neither balance says anything. A flow of zero or below, states of two
        pressures, a run without length, size or wall.

    Notes
    -----
    Opening: the air drawn in, at its own density, through a hole of coefficient 0.6.

    References
    ----------
    Balances of moisture and energy; leakage flow goes with pressure to the power 0.60, as usual for ducts.
    """
    flows(airflow_m3s)
    same_pressure(grille=grille, mixed=mixed, around=around, supply=supply)
    for name, most in (("length_m", 1e3), ("perimeter_m", 100.0), ("resistance_m2k_per_w", 100.0)) if duct else ():
        if not 0 < getattr(duct, name) <= most:
            raise Refused("This must be above zero, and not beyond any duct.", f"duct.{name}")
    if static_pa is not None and not -5000 <= static_pa <= 5000:
        raise Refused("No return duct is under such a pressure.", "static_pa")
    heat, moisture = heat_is_usable(grille, around), moisture_is_usable(grille, around)
    if not heat and not moisture:
        raise Refused(
            "Room and surroundings are too much alike: come back when they differ by {kelvin}, or use a duct tester.",
            "around",
            kelvin=(LEAST_DIFFERENCE_K, "temperature_difference"),
        )
    mass = airflow_m3s / mixed.specific_volume_m3_per_kg
    per_kelvin = mass * heat_capacity(grille.humidity_ratio)
    warmer = around.dry_bulb_c - (grille.dry_bulb_c + mixed.dry_bulb_c) / 2
    wall = duct.length_m * duct.perimeter_m / duct.resistance_m2k_per_w * warmer if duct else 0.0
    by_heat = by_moisture = None
    if abs(around.dry_bulb_c - grille.dry_bulb_c) >= LEAST_DIFFERENCE_K / 2:
        by_heat = ((mixed.dry_bulb_c - grille.dry_bulb_c) - wall / per_kelvin) / (around.dry_bulb_c - grille.dry_bulb_c)
    if abs(around.humidity_ratio - grille.humidity_ratio) >= LEAST_DIFFERENCE_RATIO / 2:
        by_moisture = (mixed.humidity_ratio - grille.humidity_ratio) / (around.humidity_ratio - grille.humidity_ratio)
    load = mass * (mixed.enthalpy_j_per_kg - grille.enthalpy_j_per_kg)
    given = mass * (supply.enthalpy_j_per_kg - mixed.enthalpy_j_per_kg)
    lost = -load / given if abs(given) >= mass * LEAST_GIVEN_J_PER_KG else None
    share = max((by_heat if heat else by_moisture) or 0.0, 0.0)
    leak = share * airflow_m3s
    at_25 = opening = None
    if static_pa is not None and abs(static_pa) >= LEAST_STATIC_PA:
        pressure = abs(static_pa) * (0.5 if where == "spread" else 1.0)
        at_25 = leak * (REFERENCE_PA / pressure) ** FLOW_EXPONENT
        drawn_in = share * mass * around.specific_volume_m3_per_kg
        opening = drawn_in / (DISCHARGE * sqrt(2 * pressure / around.density_kg_per_m3))
    t_g, t_m, t_a = ((state.dry_bulb_c, "temperature") for state in (grille, mixed, around))
    w_g, w_m, w_a = ((state.humidity_ratio, "humidity_ratio") for state in (grille, mixed, around))
    if by_moisture is not None and moisture and not work.silent:
        work.step(
            "share by moisture",
            "f_w",
            "100 * (W_m - W_g) / (W_a - W_g)",
            by_moisture,
            "share",
            source="balance of water",
            remark="Blind to what comes through the wall.",
            W_m=w_m,
            W_g=w_g,
            W_a=w_a,
        )
    if by_heat is not None and heat and not work.silent:
        work.step(
            "share by heat",
            "f_t",
            "100 * (T_m - T_g - dT_w) / (T_a - T_g)",
            by_heat,
            "share",
            source="balance of heat less what comes through the wall",
            T_m=t_m,
            T_g=t_g,
            T_a=t_a,
            dT_w=(wall / per_kelvin, "temperature_difference"),
        )
    return ReturnLeak(
        share_by_heat=by_heat,
        share_by_moisture=by_moisture,
        heat_usable=heat,
        moisture_usable=moisture,
        wall_gain_w=wall,
        leak_load_w=load - wall,
        capacity_share_lost=lost,
        leak_m3s_from_heat=leak,
        leak_at_25pa_m3s=at_25,
        opening_area_m2=opening,
        drawn_in_w=mass * (around.enthalpy_j_per_kg - grille.enthalpy_j_per_kg),
        given_w=given,
    )

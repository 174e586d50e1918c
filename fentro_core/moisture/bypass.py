"""Return bypass: a share of the return air passes around the coil and mixes again. A colder coil takes out more water."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.air.constants import CP_WATER
from fentro_core.air.state import AirState
from fentro_core.base.calculation import calculation
from fentro_core.base.limits import AIR_C, flows, within
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working
from fentro_core.moisture.coil import apparatus_dew_point, freezes
from fentro_core.moisture.mass_flow import dry_air

COIL_LEAVES_AT = 0.95
"""Relative humidity of the air that leaves a wet coil, ordinarily."""

LEAST_COIL_FLOW = 0.7
"""Share of the air that must go over the coil, where its maker says nothing: below, a direct-expansion coil starves. Ours."""

MOST_SHARE = 0.6


@dataclass(frozen=True)
class Bypassed:
    """The coil with a share of the air around it, at the same supply temperature and flow.

    `supply_ratio`: humidity ratio of the mixed supply; `gained_kg_per_s`: water beyond that without a bypass;
    `apparatus_dew_point_c`: the surface, None where the coil's line meets saturation nowhere; `freezes`, `starves`: its limits.
    """

    leaving_dry_bulb_c: float
    supply_ratio: float
    water_kg_per_s: float
    gained_kg_per_s: float
    total_w: float
    apparatus_dew_point_c: float | None
    freezes: bool
    starves: bool


@calculation("moisture.bypass", "Return bypass: the coil temperature it asks for, and the water it gains")
def bypass(
    entering: AirState,
    supply_c: float,
    airflow_m3s: float,
    bypass_share: float,
    leaving_rh: float = COIL_LEAVES_AT,
    work: Working = SILENT,
) -> Bypassed:
    """``T_coil = (T_supply - b T_return) / (1 - b)``; streams mix by dry-air mass.

    Parameters
    ----------
    entering : AirState
        Return air, in which the flow was measured.
    supply_c : float
        Supply air wanted [°C], colder than the return.
    airflow_m3s : float
        Of the whole unit [m³/s], above zero.
    bypass_share : float
        Share of the return air that passes around the coil, 0 to 0.6.
    leaving_rh : float
        Relative humidity after a wet coil, 0.5 to 1.

    Raises
    ------
    Refused
        No airflow, no share, a supply that is no colder than the return, a coil colder than any.

    References
    ----------
    Balance of two streams by dry-air mass; condensate leaves at the coil's leaving temperature.

    >>> found = bypass(AirState.from_rh(24.0, 0.58), 15.0, 1.2, 0.2)
    >>> round(found.leaving_dry_bulb_c, 2), round(found.water_kg_per_s * 3600, 1)
    (12.75, 8.5)
    """
    flows(airflow_m3s)
    within(supply_c, AIR_C, "supply_c", "temperature")
    if not 0 <= bypass_share <= MOST_SHARE:
        raise Refused("A bypass carries 0 to 60 % of the air.", "bypass_share")
    if not 0.5 <= leaving_rh <= 1:
        raise Refused("Air leaves a wet coil at 50 to 100 % relative humidity.", "leaving_rh")
    if supply_c >= entering.dry_bulb_c:
        raise Refused("The supply must be colder than the return: else nothing is cooled.", "supply_c")
    mass = airflow_m3s / entering.specific_volume_m3_per_kg
    plain = _coil(entering, supply_c, leaving_rh)
    coil_c = (supply_c - bypass_share * entering.dry_bulb_c) / (1 - bypass_share)
    if coil_c < -20:
        raise Refused("No coil is that cold. A smaller share, or a warmer supply.", "bypass_share")
    leaving = _coil(entering, coil_c, leaving_rh)
    ratio = bypass_share * entering.humidity_ratio + (1 - bypass_share) * leaving.humidity_ratio
    water = mass * (entering.humidity_ratio - ratio)
    gained = water - mass * (entering.humidity_ratio - plain.humidity_ratio)
    total = (1 - bypass_share) * mass * coil_heat(entering, leaving)
    surface = apparatus_dew_point(entering, leaving)
    if not work.silent:
        _write_down(work, entering, supply_c, airflow_m3s, bypass_share, mass, coil_c, leaving, ratio, water)
    return Bypassed(
        coil_c,
        ratio,
        water,
        gained,
        total,
        surface,
        freezes(entering, leaving),
        1 - bypass_share < LEAST_COIL_FLOW,
    )


def _coil(entering: AirState, coil_c: float, leaving_rh: float) -> AirState:
    """Air after the coil: as humid as a wet coil leaves it, and never with more water than came in."""
    wet = AirState.from_rh(coil_c, leaving_rh, entering.pressure_pa)
    return AirState(coil_c, min(wet.humidity_ratio, entering.humidity_ratio), entering.pressure_pa)


def coil_heat(entering: AirState, leaving: AirState) -> float:
    """Heat a coil takes up [J per kg of dry air]; its condensate leaves at the leaving temperature."""
    drained = (entering.humidity_ratio - leaving.humidity_ratio) * CP_WATER * leaving.dry_bulb_c
    return entering.enthalpy_j_per_kg - leaving.enthalpy_j_per_kg - drained


def _write_down(
    work: Working,
    entering: AirState,
    supply_c: float,
    airflow_m3s: float,
    share: float,
    mass: float,
    coil_c: float,
    leaving: AirState,
    ratio: float,
    water: float,
) -> None:
    b, w_e = (share, "ratio"), (entering.humidity_ratio, "humidity_ratio")
    m = (mass, "mass_flow")
    dry_air(airflow_m3s, entering, work)
    work.step(
        "the coil must leave at",
        "T_c",
        "(T_s - b * T_r) / (1 - b)",
        coil_c,
        "temperature",
        source="two streams mixed",
        T_s=(supply_c, "temperature"),
        b=b,
        T_r=(entering.dry_bulb_c, "temperature"),
    )
    work.step(
        "humidity ratio of the supply",
        "W_s",
        "b * W_r + (1 - b) * W_c",
        ratio,
        "humidity_ratio",
        source="mixed by dry-air mass",
        b=b,
        W_r=w_e,
        W_c=(leaving.humidity_ratio, "humidity_ratio"),
    )
    work.step(
        "water taken out",
        "w",
        "3.6 * m * (W_r - W_s)",
        water,
        "water_rate",
        us="60 * m * (W_r - W_s) / 7000",
        m=m,
        W_r=w_e,
        W_s=(ratio, "humidity_ratio"),
    )


LEAST_APART_K = 4.0
"""Return and coil nearer than this: a tenth of a kelvin at a probe is more than a fortieth of the share."""


@calculation("moisture.bypass_share", "Share that passes around the coil, from three temperatures", result="bypass_share")
def bypass_share_read(
    return_c: float, leaving_dry_bulb_c: float, supply_c: float, fan_k: float = 0.0, work: Working = SILENT
) -> float:
    """``b = (T_supply - fan - T_coil) / (T_return - T_coil)``, all three read at the same time, with reheat off.

    Parameters
    ----------
    return_c, leaving_dry_bulb_c, supply_c : float
        Return, after the coil before the streams meet, and mixed supply [°C].
    fan_k : float
        What the fan warms the supply by [K], where it stands after the place at which the streams meet; 0 to 10.

    Raises
    ------
    Refused
        Return and coil too close together to tell, or three temperatures that no mixing gives.

    References
    ----------
    Balance of two streams; the specific heat of both is taken as equal.

    >>> round(bypass_share_read(24.0, 12.0, 15.0), 3)
    0.25
    """
    for name, celsius in (("return_c", return_c), ("leaving_dry_bulb_c", leaving_dry_bulb_c), ("supply_c", supply_c)):
        within(celsius, AIR_C, name, "temperature")
    if not 0 <= fan_k <= 10:
        raise Refused("A fan warms the air by 0 to 10 K.", "fan_k")
    apart = return_c - leaving_dry_bulb_c
    if apart < LEAST_APART_K:
        raise Refused(
            "Return and coil are within {least}: these three can't tell the share. Read again with the coil cold.",
            "leaving_dry_bulb_c",
            least=(LEAST_APART_K, "temperature_difference"),
        )
    share = (supply_c - fan_k - leaving_dry_bulb_c) / apart
    if not -0.25 <= share <= 1.25:
        raise Refused("The supply must lie between coil and return. One of the three is wrong, or reheat is on.", "supply_c")
    return work.step(
        "share around the coil",
        "b",
        "100 * (T_s - F - T_c) / (T_r - T_c)",
        share,
        "share",
        source="two streams mixed",
        T_s=(supply_c, "temperature"),
        F=(fan_k, "temperature_difference"),
        T_c=(leaving_dry_bulb_c, "temperature"),
        T_r=(return_c, "temperature"),
    )

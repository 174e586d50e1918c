"""What a coil does to the water in the air: its dew points, the water it takes out, or why it takes out none."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from fentro_core.air.constants import heat_capacity
from fentro_core.air.saturation import MELTING_C, WATER_TO_AIR, over_ice, over_water, saturated_ratio
from fentro_core.air.state import AirState, same_pressure
from fentro_core.base.calculation import calculation
from fentro_core.base.limits import flows
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working
from fentro_core.cooling.capacity import capacity
from fentro_core.moisture.mass_flow import dry_air

COLDEST_SURFACE_C = -25.0
"""No cooling coil's surface is colder; a line that has not met saturation there never does."""

DRY_RATIO = 2e-5
"""Two hundredths of a gram to the kilogram: less water taken out than this is none."""

Reason = Literal["", "surface_above_dew_point", "no_drier", "not_cooling"]


@dataclass(frozen=True)
class CoilNow:
    """The coil as it runs now.

    `leaving_dry_bulb_c`: after the coil, before the fan's heat; `apparatus_dew_point_c`: where the coil's line meets saturation,
    None where it takes out no water or the line meets it nowhere; `dry_because`: why no water leaves, "" where some does.
    """

    dew_point_c: float
    leaving_dry_bulb_c: float
    apparatus_dew_point_c: float | None
    water_kg_per_s: float
    total_w: float
    sensible_heat_ratio: float
    dry_because: Reason


def apparatus_dew_point(entering: AirState, leaving: AirState) -> float | None:
    """Where the straight line from entering to leaving air meets saturation [°C]; None where it never does.

    >>> entering, leaving = AirState.from_rh(24.0, 0.58), AirState.from_rh(13.0, 0.95)
    >>> round(apparatus_dew_point(entering, leaving), 2)
    11.88
    """
    across = entering.dry_bulb_c - leaving.dry_bulb_c
    if across <= 0:
        return None
    slope = (entering.humidity_ratio - leaving.humidity_ratio) / across
    warm = leaving.dry_bulb_c
    if leaving.humidity_ratio >= saturated_ratio(warm, leaving.pressure_pa):
        return warm
    if warm > MELTING_C:
        met = _met(leaving, slope, warm, MELTING_C, over_water)
        if met is not None:
            return met
    return _met(leaving, slope, min(warm, MELTING_C), COLDEST_SURFACE_C, over_ice)


STEPS = 60
SETTLED_K = 1e-12


def _met(
    leaving: AirState, slope: float, from_c: float, to_c: float, saturation: Callable[[float], tuple[float, float]]
) -> float | None:
    """Where the line first meets one curve of saturation, going colder; None where it does not on this stretch.

    Each curve bends one way only, so Newton's steps from the warm side come nearer and never pass the first crossing.
    """
    celsius, pressure = from_c, leaving.pressure_pa
    for _ in range(STEPS):
        vapour, rise = saturation(celsius)
        dry = pressure - vapour
        if dry <= 0:  # Water boils here.
            celsius -= 1.0
            continue
        below = WATER_TO_AIR * vapour / dry - (leaving.humidity_ratio - slope * (leaving.dry_bulb_c - celsius))
        nearer = WATER_TO_AIR * pressure * rise / (dry * dry) - slope
        if nearer <= 0:
            return None
        step = below / nearer
        celsius -= step
        if celsius < to_c:
            return None
        if step < SETTLED_K:
            return celsius
    return celsius


FREEZES_BELOW_C = 2.0
"""Surface temperature under which a coil is taken to frost sooner or later."""


def freezes(entering: AirState, leaving: AirState) -> bool:
    """The surface that this takes is near freezing, or colder than any: the coil's line meets saturation nowhere."""
    if entering.humidity_ratio - leaving.humidity_ratio <= DRY_RATIO:
        return leaving.dry_bulb_c < FREEZES_BELOW_C
    surface = apparatus_dew_point(entering, leaving)
    return surface is None or surface < FREEZES_BELOW_C


@calculation("moisture.coil", "What this coil does now: dew points, water taken out, sensible heat ratio")
def coil_now(
    entering: AirState,
    supply: AirState,
    airflow_m3s: float,
    flow_measured_at: Literal["return", "supply"] = "return",
    fan_w: float = 0.0,
    work: Working = SILENT,
) -> CoilNow:
    """Water leaves where the coil's surface is below the dew point of the air that enters.

    The supply is read after the fan: its heat is taken off first, so that the line is the coil's own.

    Parameters
    ----------
    entering : AirState
        The air that enters the coil.
    supply : AirState
        The air after the fan, at the same pressure.
    airflow_m3s : float
        Where it was measured [m³/s], above zero.
    flow_measured_at : str
        ``return``: in the air that enters; ``supply``: in the air after the fan.
    fan_w : float
        Heat of a fan after the coil [W], zero or more; 0 where it stands before the coil, or nobody read it.

    Raises
    ------
    Refused
        No airflow, a fan's heat below zero or beyond what can be, two pressures.

    References
    ----------
    ASHRAE Handbook, Fundamentals, psychrometrics chapter; apparatus dew point by the straight line to saturation.

    >>> entering, supply = AirState.from_rh(24.0, 0.58), AirState.from_rh(13.0, 0.95)
    >>> round(coil_now(entering, supply, 1.2).water_kg_per_s * 3600, 1)
    9.9
    """
    flows(airflow_m3s)
    same_pressure(entering=entering, supply=supply)
    if not fan_w >= 0:
        raise Refused("A fan's heat can't be below zero.", "fan_w")
    flowing = entering if flow_measured_at == "return" else supply
    mass = airflow_m3s / flowing.specific_volume_m3_per_kg
    rise = fan_w / (mass * heat_capacity(supply.humidity_ratio))
    if rise > MOST_FAN_RISE_K:
        raise Refused("No fan gives off that much heat. Check the power and the airflow.", "fan_w")
    leaving = AirState(supply.dry_bulb_c - rise, supply.humidity_ratio, supply.pressure_pa)
    found = (
        capacity(entering, leaving, airflow_m3s)
        if flow_measured_at == "return"
        else capacity(entering, leaving, mass * leaving.specific_volume_m3_per_kg, "supply")
    )
    dry = _dry_because(entering, leaving)
    surface = None if dry else apparatus_dew_point(entering, leaving)
    if not work.silent:
        _write_down(work, entering, supply, leaving, flowing, airflow_m3s, fan_w, mass)
        if surface is not None:
            work.step(
                "apparatus dew point",
                "A",
                "curve(T_e, W_e, T_c, W_c)",
                surface,
                "temperature",
                source="the coil's line drawn on to saturation",
                T_e=(entering.dry_bulb_c, "temperature"),
                W_e=(entering.humidity_ratio, "humidity_ratio"),
                T_c=(leaving.dry_bulb_c, "temperature"),
                W_c=(leaving.humidity_ratio, "humidity_ratio"),
            )
    return CoilNow(
        entering.dew_point_c,
        leaving.dry_bulb_c,
        surface,
        0.0 if dry else found.water_kg_per_s,
        found.total_w,
        min(found.sensible_heat_ratio, 1.0),
        dry,
    )


MOST_FAN_RISE_K = 15.0


def _dry_because(entering: AirState, leaving: AirState) -> Reason:
    """Why no water leaves; "" where some does."""
    if leaving.dry_bulb_c >= entering.dry_bulb_c:
        return "not_cooling"
    if entering.humidity_ratio - leaving.humidity_ratio > DRY_RATIO:
        return ""
    return "surface_above_dew_point" if leaving.dry_bulb_c > entering.dew_point_c else "no_drier"


def _write_down(
    work: Working,
    entering: AirState,
    supply: AirState,
    leaving: AirState,
    flowing: AirState,
    airflow_m3s: float,
    fan_w: float,
    mass: float,
) -> None:
    m = (mass, "mass_flow")
    dry_air(airflow_m3s, flowing, work, "v where the flow was measured")
    work.step(
        "dew point of the air that enters",
        "D",
        "curve(W_e, p)",
        entering.dew_point_c,
        "temperature",
        source="water leaves only where the surface is colder than this",
        W_e=(entering.humidity_ratio, "humidity_ratio"),
        p=(entering.pressure_pa, "barometric_pressure"),
    )
    if fan_w:
        work.step(
            "after the coil, before the fan",
            "T_c",
            "T_s - P / 1000 / (m * (1.006 + 0.00186 * W_s))",
            leaving.dry_bulb_c,
            "temperature",
            us="T_s - 3.412142 * P / (60 * m * (0.24028 + 0.44425 * W_s / 7000))",
            source="the fan's heat stays in the air",
            T_s=(supply.dry_bulb_c, "temperature"),
            P=(fan_w, "electric_power"),
            m=m,
            W_s=(supply.humidity_ratio, "humidity_ratio"),
        )
    work.step(
        "water taken out",
        "w",
        "3.6 * m * (W_e - W_s)",
        mass * (entering.humidity_ratio - supply.humidity_ratio),
        "water_rate",
        us="60 * m * (W_e - W_s) / 7000",
        source="balance of water",
        m=m,
        W_e=(entering.humidity_ratio, "humidity_ratio"),
        W_s=(supply.humidity_ratio, "humidity_ratio"),
    )

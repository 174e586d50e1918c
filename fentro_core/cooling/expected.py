"""What this unit should do at these conditions: apparatus dew point and bypass factor, from the rated point to now."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from math import exp, log

from fentro_core.air.constants import CP_DRY_AIR, dry_bulb_of, heat_capacity, vapour_enthalpy
from fentro_core.air.pressure import SEA_LEVEL_PA
from fentro_core.air.saturation import WATER_TO_AIR, saturated_ratio, saturation
from fentro_core.air.state import AirState
from fentro_core.base.calculation import calculation
from fentro_core.base.limits import flows, within
from fentro_core.base.quick import quick
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

RATED_DRY_BULB_C = (80 - 32) / 1.8
RATED_WET_BULB_C = (67 - 32) / 1.8
RATED_OUTDOOR_F = 95.0
RATED_OUTDOOR_C = (RATED_OUTDOOR_F - 32) / 1.8
RATED_WET_BULB_F = 67.0
"""Rated at 80/67 °F entering, 95 °F outdoor, sea level."""

USUAL_SHR = 0.76
"""Taken when the plate says no sensible heat ratio; said beside the number."""

SPLIT_TOLERANCE_K = 3 / 1.8
"""±3 °F on the split."""

CAPACITY_TOLERANCE_SHARE = 0.10

WET_BULB_RANGE_F = (55.0, 75.0)
OUTDOOR_RANGE_F = (65.0, 115.0)
FLOW_RANGE = (0.6, 1.3)
"""Where the curves below were fitted; outside, no verdict comes from them."""

COLDEST_COIL_C = -20.0
"""No coil that cools air of a building is colder: what asks for it cannot be."""

POSSIBLE_OUTDOOR_C = (-60.0, 70.0)
NO_WEATHER = "No weather is that cold or warm: outdoor air lies between {low} and {high}."
POSSIBLE_FLOW = (0.1, 3.0)
"""Beyond these, nothing is answered: no weather, and no blower at a tenth or at three times of the rated flow."""

NOT_TOGETHER = (
    "The nameplate's rated point is not possible: no coil has this capacity, airflow and sensible heat ratio. "
    "Read the nameplate again."
)


@quick
@dataclass(frozen=True)
class ExpectedCooling:
    """What the unit should do now. `outside`: which conditions lie outside the model's range; empty when none."""

    total_w: float
    sensible_w: float
    sensible_heat_ratio: float
    split_k: float
    leaving_dry_bulb_c: float
    leaving_humidity_ratio: float
    apparatus_dew_point_c: float
    bypass_factor: float
    rated_bypass_factor: float
    dry_coil: bool
    outside: tuple[str, ...]


def capacity_by_temperature(entering_wet_bulb_f: float, outdoor_f: float) -> float:
    """Share of rated capacity at these temperatures [°F], 1 at the rated point (NREL/TP-5500-56354, single speed)."""

    return _curve(entering_wet_bulb_f, outdoor_f) / _CURVE_AT_RATING


def _curve(wb: float, odb: float) -> float:
    return 3.670270705 - 0.098652414 * wb + 0.000955906 * wb**2 + 0.006552414 * odb - 0.0000156 * odb**2 - 0.000131877 * wb * odb


_CURVE_AT_RATING = _curve(RATED_WET_BULB_F, RATED_OUTDOOR_F)


def capacity_by_flow(share: float) -> float:
    """Share of rated capacity at this share of the rated dry-air mass flow (same source)."""
    return 0.718605468 + 0.410099989 * share - 0.128705457 * share**2


def _root(function: Callable[[float], float], low: float, high: float) -> float:
    """Where an increasing function crosses zero, by halving."""
    for _ in range(44):
        middle = (low + high) / 2
        if function(middle) > 0:
            high = middle
        else:
            low = middle
    return (low + high) / 2


def _saturated_at(enthalpy: float, pressure_pa: float) -> AirState:
    """Saturated air of this enthalpy, by Newton's steps: the curve rises and bends upwards, so they never turn back.

    Raises
    ------
    Refused
        Colder than -20 °C or warmer than 60 °C: no coil is.
    """
    dry_bulb = 0.45e-3 * enthalpy - 6.0 if enthalpy > 0 else 0.0
    for _ in range(40):
        vapour, steep = saturation(dry_bulb)
        dry_part = pressure_pa - vapour
        ratio = WATER_TO_AIR * vapour / dry_part
        water = vapour_enthalpy(dry_bulb)
        slope = heat_capacity(ratio) + water * ratio * steep * pressure_pa / (vapour * dry_part)
        step = (CP_DRY_AIR * dry_bulb + ratio * water - enthalpy) / slope
        dry_bulb = min(max(dry_bulb - step, -60.0), 70.0)
        if abs(step) < 1e-4:
            break
    if not COLDEST_COIL_C <= dry_bulb <= 60.0:
        raise Refused("No coil is that cold: this much cooling needs more air over it.", "airflow_m3s")
    return AirState(dry_bulb, saturated_ratio(dry_bulb, pressure_pa), pressure_pa)


def _apparatus_dew_point(entering: AirState, leaving_enthalpy: float, leaving_ratio: float) -> float:
    """Enthalpy where the mixing line from entering through leaving meets saturation."""
    dh, dw = leaving_enthalpy - entering.enthalpy_j_per_kg, leaving_ratio - entering.humidity_ratio

    def excess(along: float) -> float:
        """How far the line lies above saturation, in humidity ratio, at this multiple of the way to leaving."""
        ratio = max(entering.humidity_ratio + along * dw, 0.0)
        dry_bulb = dry_bulb_of(entering.enthalpy_j_per_kg + along * dh, ratio)
        if dry_bulb < COLDEST_COIL_C:
            raise Refused(NOT_TOGETHER, "rated_total_w")
        return ratio - saturated_ratio(dry_bulb, entering.pressure_pa)

    far = 1.0
    while excess(far) < 0:
        far += 0.05
        if far > 4.0:
            raise Refused(NOT_TOGETHER, "rated_sensible_heat_ratio")
    if far == 1.0:
        raise Refused("The rated point of the nameplate would blow fog: check capacity, airflow and ratio.", "rated_total_w")
    along = _root(excess, far - 0.05, far)
    return entering.enthalpy_j_per_kg + along * dh


@dataclass(frozen=True)
class RatedCoil:
    """A coil from its rated point: dry-air mass flow, bypass factor, and ``A0 = -ln(BF) m``."""

    total_w: float
    mass_flow: float
    bypass_factor: float
    area: float


@lru_cache(maxsize=256)
def rated_coil(rated_total_w: float, rated_airflow_m3s: float, rated_sensible_heat_ratio: float = USUAL_SHR) -> RatedCoil:
    """The coil behind a plate.

    Raises
    ------
    Refused
        A rated point that no coil can have.
    """
    if not rated_total_w > 0:
        raise Refused("The rated capacity must be above zero.", "rated_total_w")
    flows(rated_airflow_m3s, "rated_airflow_m3s")
    if not 0.4 <= rated_sensible_heat_ratio <= 1:
        raise Refused("A rated sensible heat ratio lies between 0.4 and 1.", "rated_sensible_heat_ratio")
    entering = AirState.from_wet_bulb(RATED_DRY_BULB_C, RATED_WET_BULB_C, SEA_LEVEL_PA)
    mass = rated_airflow_m3s / entering.specific_volume_m3_per_kg
    fall = rated_total_w / mass
    leaving_enthalpy = entering.enthalpy_j_per_kg - fall
    wet_part = (1 - rated_sensible_heat_ratio) * fall
    leaving_ratio = entering.humidity_ratio - wet_part / vapour_enthalpy(entering.dry_bulb_c)
    adp = _apparatus_dew_point(entering, leaving_enthalpy, leaving_ratio)
    bypass = (leaving_enthalpy - adp) / (entering.enthalpy_j_per_kg - adp)
    return RatedCoil(rated_total_w, mass, bypass, -log(bypass) * mass)


@calculation("cooling.expected", "Cooling that this unit should give at these conditions")
def expected_cooling(
    entering: AirState,
    outdoor_dry_bulb_c: float,
    airflow_m3s: float,
    rated_total_w: float,
    rated_airflow_m3s: float,
    rated_sensible_heat_ratio: float = USUAL_SHR,
    fan_power_w: float = 0.0,
    work: Working = SILENT,
) -> ExpectedCooling:
    """Capacity, sensible heat ratio, leaving air and split of *this* unit, entering air and outdoor temperature as given.

    Parameters
    ----------
    entering : AirState
        Return air at the site's pressure; wet bulb 55 to 75 °F (12.8 to 23.9 °C).
    outdoor_dry_bulb_c : float
        Air into the condenser [°C], 65 to 115 °F (18.3 to 46.1 °C).
    airflow_m3s : float
        Volume flow of the return air [m³/s], 0.6 to 1.3 of the rated.
    rated_total_w, rated_airflow_m3s : float
        Of the nameplate [W, m³/s], above zero.
    rated_sensible_heat_ratio : float
        Of the nameplate, 0.4 to 1.
    fan_power_w : float
        Heat of an indoor fan after the coil [W]: it makes the split smaller.

    Raises
    ------
    Refused
        A plate that no coil can have, a flow of zero, or conditions far outside what the model knows.

    Notes
    -----
    Rated point gives the coil (`rated_coil`). Now ``Q = Q_r f_T f_F``; ``BF = exp(-A0 / m)``;
    ``h_adp = h - (Q / m) / (1 - BF)``; ``SHR = (h(T, W_adp) - h_adp) / (h - h_adp)``, at most 1: a dry coil.

    References
    ----------
    NREL/TP-5500-56354 for the two curves, single-speed unit.

    >>> now = AirState.from_wet_bulb(24.0, 17.0)
    >>> found = expected_cooling(now, 31.0, 0.566, 10_550.0, 0.566)
    >>> round(found.total_w), round(found.split_k, 1)
    (10324, 12.1)
    """
    flows(airflow_m3s)
    coil = rated_coil(rated_total_w, rated_airflow_m3s, rated_sensible_heat_ratio)
    within(outdoor_dry_bulb_c, POSSIBLE_OUTDOOR_C, "outdoor_dry_bulb_c", "temperature", NO_WEATHER)
    if not 0 <= fan_power_w <= rated_total_w:
        raise Refused("The fan's power lies between zero and the cooling itself.", "fan_power_w")
    mass = airflow_m3s / entering.specific_volume_m3_per_kg
    wet_f, outdoor_f = entering.wet_bulb_c * 1.8 + 32, outdoor_dry_bulb_c * 1.8 + 32
    flow_share = mass / coil.mass_flow
    if not POSSIBLE_FLOW[0] <= flow_share <= POSSIBLE_FLOW[1]:
        raise Refused("This airflow is a tenth of the rated or less, or three times it or more: read both again.", "airflow_m3s")
    by_temperature, by_flow = capacity_by_temperature(wet_f, outdoor_f), capacity_by_flow(flow_share)
    total = coil.total_w * by_temperature * by_flow
    outside = tuple(
        words
        for words, value, (low, high) in (
            ("return wet bulb", wet_f, WET_BULB_RANGE_F),
            ("outdoor temperature", outdoor_f, OUTDOOR_RANGE_F),
            ("airflow", flow_share, FLOW_RANGE),
        )
        if not low <= value <= high
    )
    if not total > 0:
        raise Refused("These conditions are far outside what the model knows.", "outdoor_dry_bulb_c")
    bypass = exp(-coil.area / mass)
    enthalpy = entering.enthalpy_j_per_kg
    adp = _saturated_at(enthalpy - total / mass / (1 - bypass), entering.pressure_pa)
    over_adp = CP_DRY_AIR * entering.dry_bulb_c + adp.humidity_ratio * vapour_enthalpy(entering.dry_bulb_c)
    shr = min(1.0, (over_adp - adp.enthalpy_j_per_kg) / (enthalpy - adp.enthalpy_j_per_kg))
    leaving_enthalpy = enthalpy - total / mass
    leaving_ratio = entering.humidity_ratio - (1 - shr) * total / mass / vapour_enthalpy(entering.dry_bulb_c)
    fan_rise = fan_power_w / (mass * heat_capacity(leaving_ratio))
    leaving = dry_bulb_of(leaving_enthalpy, leaving_ratio) + fan_rise
    if shr < 0 or leaving_ratio < 0:
        raise Refused("These conditions are far outside what the model knows.", "outdoor_dry_bulb_c")
    found = ExpectedCooling(
        total_w=total,
        sensible_w=shr * total,
        sensible_heat_ratio=shr,
        split_k=entering.dry_bulb_c - leaving,
        leaving_dry_bulb_c=leaving,
        leaving_humidity_ratio=leaving_ratio,
        apparatus_dew_point_c=adp.dry_bulb_c,
        bypass_factor=bypass,
        rated_bypass_factor=coil.bypass_factor,
        dry_coil=shr >= 1.0,
        outside=outside,
    )
    if not work.silent:
        _write_down(work, found, entering, coil, mass, by_temperature, by_flow)
    return found


def _write_down(
    work: Working,
    found: ExpectedCooling,
    entering: AirState,
    coil: RatedCoil,
    mass: float,
    by_temperature: float,
    by_flow: float,
) -> None:
    source = "NREL/TP-5500-56354, single-speed unit"
    m, h = (mass, "mass_flow"), (entering.enthalpy_j_per_kg, "enthalpy")
    total = (found.total_w, "power")
    work.step(
        "capacity expected now",
        "Q",
        "Q_r * f_T * f_F",
        *total,
        source=source,
        remark="f_T by return wet bulb and outdoor temperature, f_F by dry-air flow against rated.",
        Q_r=(coil.total_w, "power"),
        f_T=(by_temperature, "ratio"),
        f_F=(by_flow, "ratio"),
    )
    work.step(
        "bypass factor now",
        "BF",
        "BF_r^(m_r / m)",
        found.bypass_factor,
        "ratio",
        source="rated point: the coil's line to its apparatus dew point",
        BF_r=(coil.bypass_factor, "ratio"),
        m_r=(coil.mass_flow, "mass_flow"),
        m=m,
    )
    adp_enthalpy = entering.enthalpy_j_per_kg - found.total_w / mass / (1 - found.bypass_factor)
    work.step(
        "enthalpy at the apparatus dew point",
        "h_a",
        "h - Q / m / (1 - BF)",
        adp_enthalpy,
        "enthalpy",
        us="h - Q / 60 / m / (1 - BF)",
        source="balance over the coil",
        h=h,
        Q=total,
        m=m,
        BF=(found.bypass_factor, "ratio"),
    )
    work.step(
        "split expected now",
        "dT",
        "T - T_leave",
        found.split_k,
        "temperature_difference",
        source="leaving air by the sensible heat ratio at that dew point",
        T=(entering.dry_bulb_c, "temperature"),
        T_leave=(found.leaving_dry_bulb_c, "temperature"),
    )


def return_to_supply(
    coil: ExpectedCooling, taken: float, flow_m3s: float, return_: AirState, outdoor: AirState, work: Working = SILENT
) -> tuple[float, float]:
    """Split [K] and cooling [W] from return to supply where outdoor air comes in between: the coil's, less what that brings.

    Parameters
    ----------
    coil : ExpectedCooling
        What the coil does.
    taken : float
        Share of outdoor air in what enters it, 0 to 1.
    flow_m3s : float
        Of the air over it, as it is at the return [m³/s], above zero.
    return_, outdoor : AirState
        At the same pressure.

    Raises
    ------
    Nothing: what comes in was checked where it was read.

    References
    ----------
    Balances of heat and enthalpy of two mixed streams.
    """
    x, mass = (taken, "share"), flow_m3s / return_.specific_volume_m3_per_kg
    richer = outdoor.enthalpy_j_per_kg - return_.enthalpy_j_per_kg
    split_k = work.step(
        "split from return to supply",
        "dT",
        "dT_coil - x / 100 * (T_o - T_r)",
        coil.split_k - taken * (outdoor.dry_bulb_c - return_.dry_bulb_c),
        "temperature_difference",
        source="balance of heat; a share measured weakly is held against 12 %, which is usual",
        dT_coil=(coil.split_k, "temperature_difference"),
        x=x,
        T_o=(outdoor.dry_bulb_c, "temperature"),
        T_r=(return_.dry_bulb_c, "temperature"),
    )
    total_w = work.step(
        "cooling from return to supply",
        "Q",
        "Q_coil - x / 100 * m * (h_o - h_r)",
        coil.total_w - taken * mass * richer,
        "power",
        us="Q_coil - 60 * x / 100 * m * (h_o - h_r)",
        Q_coil=(coil.total_w, "power"),
        x=x,
        m=(mass, "mass_flow"),
        h_o=(outdoor.enthalpy_j_per_kg, "enthalpy"),
        h_r=(return_.enthalpy_j_per_kg, "enthalpy"),
    )
    return split_k, total_w

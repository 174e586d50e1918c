"""Heating: rise against the plate, heat given against what the fuel or the outdoor air allows."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.air.constants import heat_capacity
from fentro_core.air.pressure import SEA_LEVEL_PA, check_pressure
from fentro_core.air.state import AirState
from fentro_core.base.calculation import calculation
from fentro_core.base.limits import AIR_C, POWER_W, flows, within
from fentro_core.base.measured import Measured
from fentro_core.base.refusal import Refused, inside
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Verdict, judge
from fentro_core.base.working import SILENT, Working

LEAST_BURNING_S = 600.0
"""At least ten minutes of steady burning before a rise counts."""

HOTTEST_RISE_K = 150.0
"""A heater's limit switch opens long before."""

HEAT_TOLERANCE_SHARE = 0.10
"""±10 % on the heat given, as on cooling."""

RATED_OUTDOOR_F, RATED_INDOOR_F = 47.0, 70.0
OUTDOOR_RANGE_F = (5.0, 65.0)
INDOOR_RANGE_F = (60.0, 80.0)
FLOW_RANGE = (0.6, 1.3)
"""Where the heat pump's curves hold; outside, no verdict comes from them."""

CARBON_MONOXIDE = (
    "A carbon monoxide alarm belongs in every home with a flame. Headache, dizziness, an alarm: everyone out, call from outside."
)

WHO_MAY = (
    ("Anyone in the house", "Change the filter. Open registers and grilles, keep them free."),
    ("Technician", "Blower speed, ducts, coil, controls, electric heat; power locked out before a panel comes off."),
    ("Licensed person with an analyser", "Gas pressure, burner, flue, air for combustion. Nobody else."),
)
"""Who may do what about a rise that is off."""


@calculation("heating.rise", "Temperature rise, supply less return", result="rise_k")
def rise(return_dry_bulb_c: float, supply_dry_bulb_c: float, work: Working = SILENT) -> float:
    """Supply dry bulb less return dry bulb [K], after ten minutes of steady heating.

    Parameters
    ----------
    return_dry_bulb_c, supply_dry_bulb_c : float
        Dry bulb at return and supply [°C], -60 to 90.

    Raises
    ------
    Nothing: any two temperatures have a difference.

    References
    ----------
    Trade practice; the arithmetic is the definition.

    >>> rise(20.0, 48.5)
    28.5
    """
    within(return_dry_bulb_c, AIR_C, "return_dry_bulb_c", "temperature")
    within(supply_dry_bulb_c, AIR_C, "supply_dry_bulb_c", "temperature")
    return work.step(
        "rise",
        "dT",
        "T_supply - T_return",
        supply_dry_bulb_c - return_dry_bulb_c,
        "temperature_difference",
        T_supply=(supply_dry_bulb_c, "temperature"),
        T_return=(return_dry_bulb_c, "temperature"),
    )


@calculation("heating.output", "Heat that the air takes up", result="heat_w")
def heat_output(
    airflow_m3s: float,
    return_dry_bulb_c: float,
    supply_dry_bulb_c: float,
    humidity_ratio: float = 0.0,
    pressure_pa: float = SEA_LEVEL_PA,
    work: Working = SILENT,
) -> float:
    """``Q = m cp dT`` [W], with m from the return air's volume at this site's pressure.

    Parameters
    ----------
    airflow_m3s : float
        Flow of the return air [m³/s], above zero.
    return_dry_bulb_c, supply_dry_bulb_c : float
        Air before and after [°C], -60 to 90.
    humidity_ratio : float
        Of the air heated [kg/kg]; 0 when not known (changes the heat by under 2 %).
    pressure_pa : float
        Air pressure of the site [Pa], 50,000 to 110,000.

    Raises
    ------
    Refused
        A flow of zero or below.

    References
    ----------
    Balance of energy; specific heat and volume of moist air as in ASHRAE Handbook, Fundamentals, psychrometrics
    chapter.

    >>> round(heat_output(0.581, 20.0, 50.0))
    21114
    """
    flows(airflow_m3s)
    within(supply_dry_bulb_c, AIR_C, "supply_dry_bulb_c", "temperature")
    with inside(dry_bulb_c="return_dry_bulb_c"):
        air = AirState(return_dry_bulb_c, humidity_ratio, pressure_pa)
    mass = airflow_m3s / air.specific_volume_m3_per_kg
    heat = mass * heat_capacity(humidity_ratio) * (supply_dry_bulb_c - return_dry_bulb_c)
    t_s, t_r = (supply_dry_bulb_c, "temperature"), (return_dry_bulb_c, "temperature")
    work.step(
        "dry-air mass flow",
        "m",
        "V / 1000 / v",
        mass,
        "mass_flow",
        us="V / v",
        source="v of the return air",
        V=(airflow_m3s, "airflow"),
        v=(air.specific_volume_m3_per_kg, "specific_volume"),
    )
    return work.step(
        "heat given to the air",
        "Q",
        "m * (1.006 + 0.00186 * W) * (T_s - T_r)",
        heat,
        "power",
        us="60 * m * (0.24028 + 0.44425 * W / 7000) * (T_s - T_r)",
        source="balance of heat",
        m=(mass, "mass_flow"),
        W=(humidity_ratio, "humidity_ratio"),
        T_s=t_s,
        T_r=t_r,
    )


@calculation("heating.electric_rise", "Rise that electric heat should give", result="rise_k")
def electric_rise(
    heat_w: float,
    airflow_m3s: float,
    return_dry_bulb_c: float,
    humidity_ratio: float = 0.0,
    pressure_pa: float = SEA_LEVEL_PA,
    work: Working = SILENT,
) -> float:
    """``dT = Q / (m cp)`` [K]: every watt taken up comes out as heat.

    Parameters
    ----------
    heat_w : float
        Power of the heater [W], above zero.
    airflow_m3s : float
        Flow of the return air [m³/s], above zero.
    return_dry_bulb_c : float
        Return air [°C], -60 to 90.
    humidity_ratio : float
        Of the air heated [kg/kg]; 0 when not known (changes the rise by under 2 %).
    pressure_pa : float
        Air pressure of the site [Pa], 50,000 to 110,000.

    Raises
    ------
    Refused
        No heat, or no flow.

    References
    ----------
    Balance of energy; specific heat and volume of moist air as in ASHRAE Handbook, Fundamentals, psychrometrics
    chapter.

    >>> round(electric_rise(9_600.0, 0.45, 20.0), 1)
    17.6
    """
    if not heat_w > 0:
        raise Refused("The heat input must be above zero.", "heat_w")
    within(heat_w, POWER_W, "heat_w", "power")
    flows(airflow_m3s)
    per_kelvin = heat_output(airflow_m3s, return_dry_bulb_c, return_dry_bulb_c + 1.0, humidity_ratio, pressure_pa)
    if heat_w / per_kelvin > HOTTEST_RISE_K:
        raise Refused("No heater warms its air so much: read its power and the airflow again.", "airflow_m3s")
    return work.step(
        "rise by electric heat",
        "dT",
        "1000 * Q / K",
        heat_w / per_kelvin,
        "temperature_difference",
        us="Q / K",
        source="balance of heat; K is m cp of this air, per kelvin",
        Q=(heat_w, "power"),
        K=(per_kelvin, "heat_per_kelvin"),
    )


@dataclass(frozen=True)
class ExpectedHeating:
    """What a heat pump should give now, without its electric heater. `outside`: conditions the curves don't know."""

    heat_w: float
    rise_k: float
    outside: tuple[str, ...]


def heat_by_temperature(indoor_f: float, outdoor_f: float) -> float:
    """Share of the rated heat at these temperatures [°F]; 1 at 70/47 (NREL/TP-5500-56354, single speed)."""

    def curve(t: float, o: float) -> float:
        return 0.566333415 - 0.000744164 * t - 0.0000103 * t * t + 0.009414634 * o + 0.0000506 * o * o - 0.00000675 * t * o

    return curve(indoor_f, outdoor_f) / curve(RATED_INDOOR_F, RATED_OUTDOOR_F)


def heat_by_flow(share: float) -> float:
    """Share of the rated heat at this share of the rated airflow (same source)."""
    return 0.694045465 + 0.474207981 * share - 0.168253446 * share * share


@calculation("heating.heat_pump", "Heat and rise that a heat pump should give at these conditions")
def heat_pump_expected(
    return_dry_bulb_c: float,
    outdoor_dry_bulb_c: float,
    airflow_m3s: float,
    rated_heating_w: float,
    rated_airflow_m3s: float,
    pressure_pa: float = SEA_LEVEL_PA,
    work: Working = SILENT,
) -> ExpectedHeating:
    """``Q = Q_r f_T f_F``, the rise from it: rated at 70 °F indoor, 47 °F outdoor, sea level.

    The compressor's heat alone, not while it defrosts and without the electric heater.

    Parameters
    ----------
    return_dry_bulb_c, outdoor_dry_bulb_c : float
        Return air, 60 to 80 °F (15.6 to 26.7 °C), and outdoor air, 5 to 65 °F (-15 to 18.3 °C).
    airflow_m3s : float
        Flow of the return air [m³/s], above zero.
    rated_heating_w, rated_airflow_m3s : float
        Of the nameplate [W, m³/s], above zero.
    pressure_pa : float
        Air pressure of the site [Pa], 50,000 to 110,000.

    Raises
    ------
    Refused
        A flow or a plate of zero or below.

    References
    ----------
    NREL/TP-5500-56354, heating curves of the single-speed unit.

    >>> found = heat_pump_expected(21.1, 8.3, 0.42, 8_500.0, 0.42)
    >>> round(found.heat_w), round(found.rise_k, 1)
    (8493, 16.8)
    """
    flows(airflow_m3s)
    check_pressure(pressure_pa)
    if not rated_heating_w > 0:
        raise Refused("The rated heating must be above zero.", "rated_heating_w")
    flows(rated_airflow_m3s, "rated_airflow_m3s")
    density_share = pressure_pa / SEA_LEVEL_PA
    share = airflow_m3s / rated_airflow_m3s * density_share
    indoor_f, outdoor_f = return_dry_bulb_c * 1.8 + 32, outdoor_dry_bulb_c * 1.8 + 32
    by_temperature, by_flow = heat_by_temperature(indoor_f, outdoor_f), heat_by_flow(share)
    heat = work.step(
        "heat expected now",
        "Q",
        "Q_r * f_T * f_F",
        rated_heating_w * by_temperature * by_flow,
        "power",
        source="NREL/TP-5500-56354, single-speed heat pump",
        remark="f_T by indoor and outdoor temperature, f_F by airflow, as mass, against rated.",
        Q_r=(rated_heating_w, "power"),
        f_T=(by_temperature, "ratio"),
        f_F=(by_flow, "ratio"),
    )
    outside = tuple(
        words
        for words, value, (low, high) in (
            ("return temperature", indoor_f, INDOOR_RANGE_F),
            ("outdoor temperature", outdoor_f, OUTDOOR_RANGE_F),
            ("airflow", share, FLOW_RANGE),
        )
        if not low <= value <= high
    )
    if not heat > 0:
        raise Refused("These temperatures are far outside what the model knows.", "outdoor_dry_bulb_c")
    return ExpectedHeating(heat, electric_rise(heat, airflow_m3s, return_dry_bulb_c, 0.0, pressure_pa, work), outside)


def judge_rise(found: Measured, low: float, high: float) -> tuple[Verdict, Sentence]:
    """A rise [K] against the plate's range.

    >>> judge_rise(Measured(40.0, {"a": 0.5}), 19.4, 36.1)[0].mark
    'off'
    """
    verdict = judge(found, low, high)
    return verdict, Sentence.of(
        _RISE_SAID[verdict.mark, verdict.side],
        rise=(found.value, "temperature_difference"),
        low=(low, "temperature_difference"),
        high=(high, "temperature_difference"),
    )


_RISE_SAID = {
    ("holds", ""): "Rise {rise} lies in the nameplate's range, {low} to {high}. Rooms still uncomfortable? Look at the ducts.",
    ("watch", "low"): "Rise {rise} is just inside the nameplate's range, near its low end {low}.",
    ("watch", "high"): "Rise {rise} is just inside the nameplate's range, near its high end {high}.",
    (
        "off",
        "low",
    ): "Rise {rise} is below the nameplate's range, {low} to {high}: too much air, too little fire, or a cold leak.",
    ("off", "high"): "Rise {rise} is above the nameplate's range, {low} to {high}: too little air, or too much fire.",
    ("too_close", "low"): "Rise {rise} may lie on either side of the nameplate's low end {low}.",
    ("too_close", "high"): "Rise {rise} may lie on either side of the nameplate's high end {high}.",
}

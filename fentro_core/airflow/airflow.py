"""Airflow by every way there is: traverse, heat and rise, fan table, registers, pressure drop, nominal."""

from __future__ import annotations

from typing import Literal

from fentro_core.air.constants import heat_capacity
from fentro_core.air.pressure import SEA_LEVEL_PA
from fentro_core.air.state import AirState
from fentro_core.base.calculation import calculation
from fentro_core.base.interpolation import Monotone
from fentro_core.base.limits import AIR_C, AIRFLOW_M3S, POWER_W, STATIC_PA, flows, within
from fentro_core.base.refusal import Refused, inside
from fentro_core.base.units import CFM_M3S, TON_W
from fentro_core.base.working import SILENT, Working
from fentro_core.system.nameplate import DropPoint, FanPoint

NOMINAL_CFM_PER_TON: dict[str, float] = {"": 400.0, "humid": 350.0, "dry": 450.0}
"""The trade's nominal flow: 400 cfm per ton (0.0537 m³/s per kW); 350 in humid climates, up to 450 in dry ones."""

NOMINAL_HALF_WIDTH_SHARE = 0.25
"""A nominal flow is a guess, good to about ±25 %: of units measured in the field seven in ten moved less than 350 cfm per ton
(Neme, Proctor and Nadel 1999); on machines of other ducts ±15 % held four in five (`bin/bench stranger`)."""

FAN_TABLE_SHARE = 0.07
DROP_CURVE_SHARE = 0.07
"""95 % half-width of a maker's table or curve as a share of the flow: made on a test stand with clean, dry parts. Ours."""

GAS_HEAT_SHARE = 0.05
"""95 % half-width of "input on the plate times efficiency" as a share, until the gas meter was clocked. Ours."""

USUAL_GAS_EFFICIENCY = 0.80
"""Taken for a furnace whose plate says none: an ordinary non-condensing one. Ours; said beside the number."""

Climate = Literal["", "humid", "dry"]


def climate_of(zone: str) -> Climate:
    """Humid for a zone's letter A, dry for B, neither for C, 7, 8 or none.

    >>> climate_of("3A"), climate_of("5B"), climate_of("7")
    ('humid', 'dry', '')
    """
    return "humid" if zone.endswith("A") else "dry" if zone.endswith("B") else ""


@calculation("airflow.nominal", "Nominal airflow for a rated capacity", result="airflow_m3s")
def nominal_airflow(rated_total_w: float, climate: Climate = "", work: Working = SILENT) -> float:
    """Airflow [m³/s] by the trade's 400 cfm per ton of rated total cooling [W]. Good to ±25 %, a last resort.

    350 cfm per ton in humid climates, 450 in dry ones.

    Parameters
    ----------
    rated_total_w : float
        Rated total cooling [W], above zero.
    climate : "humid", "dry" or ""
        How the unit was set up for its climate; "" where nothing is known.

    Raises
    ------
    Refused
        A rated capacity of zero or below.

    References
    ----------
    The trade's rule of thumb, 350, 400 and 450 cfm per ton; the ±25 % are ours, after Neme, Proctor
    and Nadel, Energy savings potential from addressing residential air conditioner and heat pump installation problems, 1999.

    >>> round(nominal_airflow(10550.56), 3), round(nominal_airflow(10550.56, "humid"), 3)
    (0.566, 0.496)
    """
    if not rated_total_w > 0:
        raise Refused("The rated capacity must be above zero.", "rated_total_w")
    within(rated_total_w, POWER_W, "rated_total_w", "power")
    per_ton = NOMINAL_CFM_PER_TON[climate]
    return work.step(
        "nominal airflow (not measured)",
        "V",
        f"{per_ton * CFM_M3S * 1e6 / TON_W:.2f} * Q_rated",
        rated_total_w * per_ton * CFM_M3S / TON_W,
        "airflow",
        us=f"{per_ton:.0f} * Q_rated / 12000",
        source=f"trade convention, {per_ton:.0f} cfm per ton" + (f" in a {climate} climate" if climate else ""),
        remark="A last resort, good to ±25 %. Measure the flow to do better.",
        Q_rated=(rated_total_w, "power"),
    )


@calculation("airflow.rise", "Airflow from a known heat input and the temperature rise", result="airflow_m3s")
def airflow_from_rise(
    heat_w: float,
    return_dry_bulb_c: float,
    supply_dry_bulb_c: float,
    humidity_ratio: float = 0.0,
    pressure_pa: float = SEA_LEVEL_PA,
    work: Working = SILENT,
) -> float:
    """Airflow [m³/s] of return air that carries `heat_w` with this rise.

    ``m = Q / (cp dT)`` with cp of the moist air per kg of dry air, ``V = m v_return``.

    Parameters
    ----------
    heat_w : float
        Heat given to the air [W], above zero: gas input times efficiency, or volts times amps of an electric
        heater.
    return_dry_bulb_c, supply_dry_bulb_c : float
        Air before and after the heater [°C], 3 K apart at least.
    humidity_ratio : float
        Of the air heated [kg/kg]; 0 when not known (changes the flow by under 2 %).
    pressure_pa : float
        Air pressure of the site [Pa], 50,000 to 110,000.

    Raises
    ------
    Refused
        No heat, or a rise under 3 K: nothing follows from it.

    References
    ----------
    Balance of energy; specific heat and volume of moist air as in ASHRAE Handbook, Fundamentals, psychrometrics
    chapter.

    >>> round(airflow_from_rise(21_101.0, 20.0, 50.0), 3)
    0.581
    """
    if not heat_w > 0:
        raise Refused("The heat input must be above zero.", "heat_w")
    within(heat_w, POWER_W, "heat_w", "power")
    within(return_dry_bulb_c, AIR_C, "return_dry_bulb_c", "temperature")
    within(supply_dry_bulb_c, AIR_C, "supply_dry_bulb_c", "temperature")
    rise = supply_dry_bulb_c - return_dry_bulb_c
    if rise < 3.0:
        raise Refused(
            "The supply must be at least {least} warmer than the return before a flow follows from the rise.",
            "supply_dry_bulb_c",
            least=(3.0, "temperature_difference"),
        )
    with inside(dry_bulb_c="return_dry_bulb_c"):
        entering = AirState(return_dry_bulb_c, humidity_ratio, pressure_pa)
    mass = heat_w / (heat_capacity(humidity_ratio) * rise)
    t_r, t_s = (return_dry_bulb_c, "temperature"), (supply_dry_bulb_c, "temperature")
    w = (humidity_ratio, "humidity_ratio")
    work.step(
        "dry-air mass flow",
        "m",
        "Q / ((1.006 + 0.00186 * W) * (T_s - T_r))",
        mass,
        "mass_flow",
        us="Q / 60 / ((0.24028 + 0.44425 * W / 7000) * (T_s - T_r))",
        source="balance of heat",
        Q=(heat_w, "power"),
        W=w,
        T_s=t_s,
        T_r=t_r,
    )
    volume = entering.specific_volume_m3_per_kg
    return work.step(
        "airflow from rise",
        "V",
        "1000 * m * v",
        mass * volume,
        "airflow",
        us="m * v",
        source="v of the return air, at this site's pressure",
        m=(mass, "mass_flow"),
        v=(volume, "specific_volume"),
    )


@calculation("airflow.fan_table", "Airflow from external static and speed tap", result="airflow_m3s")
def airflow_from_fan_table(table: tuple[FanPoint, ...], tap: str, external_static_pa: float, work: Working = SILENT) -> float:
    """Airflow [m³/s] from the maker's table: monotone interpolation within one tap, nothing beyond its ends.

    Parameters
    ----------
    table : tuple of FanPoint
        The maker's table: speed tap, external static [Pa], airflow [m³/s]; two rows of a tap at least.
    tap : str
        Speed tap in use.
    external_static_pa : float
        Total external static [Pa], within the tap's rows.

    Raises
    ------
    Refused
        No such tap, or a static beyond the table's ends.

    References
    ----------
    The maker's table; between its rows Fritsch and Carlson, monotone piecewise cubic interpolation, SIAM J. Numer.
    Anal. 17 (1980).

    >>> rows = (FanPoint("high", 50.0, 0.62), FanPoint("high", 125.0, 0.52), FanPoint("high", 200.0, 0.40))
    >>> airflow_from_fan_table(rows, "high", 125.0)
    0.52
    """
    for index, row in enumerate(table):
        flows(row.airflow_m3s, f"table.{index}.airflow_m3s")
        within(row.external_static_pa, STATIC_PA, f"table.{index}.external_static_pa", "pressure")
    rows = [row for row in table if row.tap == tap]
    if not rows:
        taps = ", ".join(dict.fromkeys(row.tap for row in table)) or "none"
        raise Refused(f"The fan table has no such speed tap. It has: {taps}.", "tap")
    low, high = min(row.external_static_pa for row in rows), max(row.external_static_pa for row in rows)
    if not low <= external_static_pa <= high:
        raise Refused(
            "The fan table of this tap goes from {low} to {high}: external static lies outside, and no flow follows.",
            "external_static_pa",
            low=(low, "pressure"),
            high=(high, "pressure"),
        )
    flow = Monotone([(row.external_static_pa, row.airflow_m3s) for row in rows])(external_static_pa)
    return work.step(
        f"airflow by the fan table, tap {tap}",
        "V",
        "table(P)",
        flow,
        "airflow",
        source="the maker's fan table, monotone between its lines",
        P=(external_static_pa, "pressure"),
    )


def check_curve(curve: tuple[DropPoint, ...]) -> None:
    """Refuse a component's curve of fewer than two points, or with flows and drops that none has."""
    if len(curve) < 2:
        raise Refused("The component's curve needs two points or more.", "curve")
    for index, point in enumerate(curve):
        flows(point.airflow_m3s, f"curve.{index}.airflow_m3s")
        within(point.drop_pa, (0.0, STATIC_PA[1]), f"curve.{index}.drop_pa", "pressure")


@calculation("airflow.pressure_drop", "Airflow from the pressure drop over a known component", result="airflow_m3s")
def airflow_from_drop(curve: tuple[DropPoint, ...], drop_pa: float, work: Working = SILENT) -> float:
    """Airflow [m³/s] from the drop over a coil or filter whose curve is known; nothing beyond the curve's ends.

    A wet or dirty component drops more than its curve: the flow comes out too high.

    Parameters
    ----------
    curve : tuple of DropPoint
        Drop [Pa] and airflow [m³/s] of the component, two points at least.
    drop_pa : float
        Drop that was read [Pa], within the curve.

    Raises
    ------
    Refused
        A curve of one point, or a drop beyond its ends.

    References
    ----------
    The maker's curve; between its points as `airflow.fan_table`.

    >>> airflow_from_drop((DropPoint(30.0, 0.4), DropPoint(60.0, 0.57), DropPoint(90.0, 0.7)), 60.0)
    0.57
    """
    check_curve(curve)
    low, high = min(point.drop_pa for point in curve), max(point.drop_pa for point in curve)
    if not low <= drop_pa <= high:
        raise Refused(
            "The component's curve goes from {low} to {high}: this drop lies outside, and no flow follows.",
            "drop_pa",
            low=(low, "pressure"),
            high=(high, "pressure"),
        )
    flow = Monotone([(point.drop_pa, point.airflow_m3s) for point in curve])(drop_pa)
    return work.step(
        "airflow by pressure drop",
        "V",
        "curve(P)",
        flow,
        "airflow",
        source="the component's curve, clean and dry",
        P=(drop_pa, "pressure"),
    )


@calculation("airflow.registers", "Airflow as the sum of the registers", result="airflow_m3s")
def airflow_from_registers(registers_m3s: tuple[float, ...], work: Working = SILENT) -> float:
    """Sum of hood readings at every register [m³/s]. Air that leaks from the duct before them is missing.

    Parameters
    ----------
    registers_m3s : tuple of float
        Flow hood's reading at each register [m³/s], one at least.

    Raises
    ------
    Refused
        No register was read.

    References
    ----------
    Trade practice; the arithmetic is the definition.

    >>> round(airflow_from_registers((0.05, 0.07)), 3)
    0.12
    """
    if not registers_m3s:
        raise Refused("Read at least one register.", "registers_m3s")
    for index, flow in enumerate(registers_m3s):
        if not 0 <= flow <= AIRFLOW_M3S[1]:
            raise Refused("A register's flow can't be below zero: check which way the hood faces.", f"registers_m3s.{index}")
    return work.step(
        "sum of the registers",
        "V",
        "sum(V_i)",
        sum(registers_m3s),
        "airflow",
        source="hood at each register; leaks before them are missing",
        n=(float(len(registers_m3s)), "ratio"),
    )

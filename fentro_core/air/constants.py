"""What moist air carries: the constants of its enthalpy, once (ASHRAE Handbook, Fundamentals, psychrometrics chapter)."""

from __future__ import annotations

CP_DRY_AIR = 1006.0
"""Specific heat of dry air [J/(kg K)]."""

CP_VAPOUR = 1860.0
"""Specific heat of water vapour [J/(kg K)]."""

EVAPORATION_J_PER_KG = 2_501_000.0
"""Heat of evaporation of water at 0 °C [J/kg]."""

CP_WATER = 4186.0
"""Specific heat of water [J/(kg K)]."""

CP_ICE = 2100.0
MELTING_J_PER_KG = 333_400.0
"""Specific heat of ice, and its heat of melting at 0 °C."""

GAS_CONSTANT = 287.05
"""Of dry air [J/(kg K)]."""

KELVIN = 273.15

STANDARD_DENSITY = 1.204
"""Of the air for which blowers and registers are rated: 20 °C at sea level [kg/m³]."""


def heat_capacity(humidity_ratio: float) -> float:
    """Specific heat of moist air per kilogram of dry air [J/(kg K)].

    >>> round(heat_capacity(0.01), 1)
    1024.6
    """
    return CP_DRY_AIR + CP_VAPOUR * humidity_ratio


def vapour_enthalpy(dry_bulb_c: float) -> float:
    """Enthalpy of the water vapour in air at this temperature [J/kg of water]."""
    return EVAPORATION_J_PER_KG + CP_VAPOUR * dry_bulb_c


def dry_bulb_of(enthalpy_j_per_kg: float, humidity_ratio: float) -> float:
    """Dry bulb [°C] of air with this enthalpy and humidity ratio."""
    return (enthalpy_j_per_kg - EVAPORATION_J_PER_KG * humidity_ratio) / heat_capacity(humidity_ratio)


def humidity_ratio_of(enthalpy_j_per_kg: float, dry_bulb_c: float) -> float:
    """Humidity ratio [kg/kg] of air with this enthalpy and dry bulb [°C]."""
    return (enthalpy_j_per_kg - CP_DRY_AIR * dry_bulb_c) / vapour_enthalpy(dry_bulb_c)


def dry_heat_per_m3(dry_bulb_c: float, pressure_pa: float) -> float:
    """Heat that a cubic metre of dry air takes up per kelvin [J/(m³ K)]."""
    return CP_DRY_AIR * pressure_pa / (GAS_CONSTANT * (dry_bulb_c + KELVIN))

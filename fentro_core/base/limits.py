"""How far the numbers of the trade go: beyond, nothing is answered, whatever a formula would give."""

from __future__ import annotations

from fentro_core.base.refusal import Refused

AIR_C = (-60.0, 150.0)
"""Air in a duct, a heater's included [°C]."""

WEATHER_C = (-60.0, 60.0)

LINE_C = (-60.0, 150.0)
"""A refrigerant line at its outside [°C]."""

AIRFLOW_M3S = (1e-4, 200.0)
"""From a tenth of a litre a second to more than any unit blows."""

STATIC_PA = (-5000.0, 5000.0)
VELOCITY_M_PER_S = (-60.0, 60.0)
POWER_W = (1e-3, 1e7)


BETWEEN = "This must be between {low} and {high}."


def within(value: float, limits: tuple[float, float], path: str, kind: str, text: str = BETWEEN) -> None:
    """Refuse a number outside its limits, both ends taken; `text` says it, with ``{low}`` and ``{high}`` for the limits.

    >>> within(1380.0, AIR_C, "supply_dry_bulb_c", "temperature")
    Traceback (most recent call last):
    fentro_core.base.refusal.Refused: supply_dry_bulb_c: This must be between −60.0 °C and 150.0 °C.
    """
    low, high = limits
    if not low <= value <= high:
        raise Refused(text, path, low=(low, kind), high=(high, kind))


def flows(airflow_m3s: float, path: str = "airflow_m3s") -> None:
    """Refuse an airflow of nothing, or of more than any unit blows."""
    low, high = AIRFLOW_M3S
    if not airflow_m3s >= low:
        raise Refused("Airflow must be above zero.", path)
    if not airflow_m3s <= high:
        raise Refused("No unit blows that much. Check the unit of the airflow.", path)

"""Pressure of a site."""

from __future__ import annotations

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import within
from fentro_core.base.working import SILENT, Working

SEA_LEVEL_PA = 101325.0
ELEVATION_RANGE_M = (-430.0, 5000.0)
PRESSURE_RANGE_PA = (50_000.0, 110_000.0)


@calculation("air.standard_pressure", "Pressure of the standard atmosphere at an elevation", result="pressure_pa")
def standard_pressure(elevation_m: float, work: Working = SILENT) -> float:
    """Air pressure [Pa] at an elevation [m], standard atmosphere; -430 to 5,000 m.

    Parameters
    ----------
    elevation_m : float
        Elevation of the site over the sea [m], -430 to 5,000.

    Raises
    ------
    Refused
        No site lies at such an elevation.

    References
    ----------
    ASHRAE Handbook, Fundamentals, psychrometrics chapter (ICAO standard atmosphere).

    >>> round(standard_pressure(1655.0))
    82960
    """
    check_elevation(elevation_m)
    pressure = SEA_LEVEL_PA * (1 - 2.25577e-5 * elevation_m) ** 5.2559
    return work.step(
        "site pressure",
        "p",
        "101.325 * (1 - 2.25577e-5 * z) ** 5.2559",
        pressure,
        "barometric_pressure",
        us="29.921 * (1 - 6.87559e-6 * z) ** 5.2559",
        source="standard atmosphere",
        z=(elevation_m, "length"),
    )


def check_elevation(elevation_m: float) -> None:
    """Refuse an elevation that no site has."""
    within(elevation_m, ELEVATION_RANGE_M, "elevation_m", "length", "Elevation must be between {low} and {high}.")


def elevation_of(pressure_pa: float) -> float:
    """Elevation [m] at which the standard atmosphere has this pressure: `standard_pressure` turned round.

    >>> round(elevation_of(82_960.0))
    1655
    """
    return float((1 - (pressure_pa / SEA_LEVEL_PA) ** (1 / 5.2559)) / 2.25577e-5)


def check_pressure(pressure_pa: float, path: str = "pressure_pa") -> None:
    """Refuse a pressure no site has: 50 to 110 kPa."""
    text = "No site has this air pressure. It must be between {low} and {high}."
    within(pressure_pa, PRESSURE_RANGE_PA, path, "barometric_pressure", text)

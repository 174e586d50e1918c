"""Total external static: by its formula, and from the taps of a system."""

from __future__ import annotations

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import STATIC_PA, within
from fentro_core.base.working import SILENT, Working
from fentro_core.phase.known import Known, Missing
from fentro_core.phase.readings import Readings
from fentro_core.system.air_path import AirPath


@calculation("airflow.external_static", "Total external static", result="external_static_pa")
def external_static(supply_static_pa: float, return_static_pa: float, work: Working = SILENT) -> float:
    """Supply static less return static [Pa], signs kept: the return side of a running unit is below zero.

    Parameters
    ----------
    supply_static_pa, return_static_pa : float
        Against the room [Pa], -2,500 to 2,500, signs kept.

    Raises
    ------
    Nothing: any two pressures have a difference.

    References
    ----------
    Trade practice; the arithmetic is the definition.

    >>> external_static(62.0, -48.0)
    110.0
    """
    within(supply_static_pa, STATIC_PA, "supply_static_pa", "pressure")
    within(return_static_pa, STATIC_PA, "return_static_pa", "pressure")
    return work.step(
        "total external static",
        "P",
        "P_s - P_r",
        supply_static_pa - return_static_pa,
        "pressure",
        P_s=(supply_static_pa, "pressure"),
        P_r=(return_static_pa, "pressure"),
    )


def external_static_read(readings: Readings, path: AirPath) -> Known | Missing:
    """From the return and supply tap that this kind of system is rated between."""
    return_tap, supply_tap = path.external_taps
    return_, supply = (readings.average(tap, "static_pressure") for tap in (return_tap, supply_tap))
    if return_ is None or supply is None:
        pairs = ((return_tap, return_), (supply_tap, supply))
        return Missing(tuple(readings.names[tap] for tap, found in pairs if found is None))
    work = Working()
    external_static(supply.value, return_.value, work)
    return Known(supply - return_, work)

"""Dry air that flows, from an airflow and the air in which it was measured, with its line of the working."""

from __future__ import annotations

from fentro_core.air.state import AirState
from fentro_core.base.working import SILENT, Working


def dry_air(airflow_m3s: float, air: AirState, work: Working = SILENT, source: str = "") -> float:
    """Dry-air mass flow [kg/s], ``m = V / v``.

    >>> round(dry_air(1.2, AirState.from_rh(24.0, 0.58)), 3)
    1.401
    """
    return work.step(
        "dry-air mass flow",
        "m",
        "V / 1000 / v",
        airflow_m3s / air.specific_volume_m3_per_kg,
        "mass_flow",
        us="V / v",
        source=source,
        V=(airflow_m3s, "airflow"),
        v=(air.specific_volume_m3_per_kg, "specific_volume"),
    )

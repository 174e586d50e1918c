"""Airflow, for now measured directly or taken as nominal."""

from __future__ import annotations

from fentro_core.calculation import calculation
from fentro_core.refusal import Refused
from fentro_core.units import TON_W
from fentro_core.working import SILENT, Working

NOMINAL_M3S_PER_W = 400 * 0.3048**3 / 60 / TON_W
"""400 cfm per ton, the trade's nominal flow (0.0537 m³/s per kW). Humid climates run near 350, dry ones up to 450."""

NOMINAL_HALF_WIDTH_SHARE = 0.15
"""A nominal flow is a guess: it is good to about ±15 %."""


@calculation("airflow.nominal", "Nominal airflow for a rated capacity", result="airflow_m3s")
def nominal_airflow(rated_total_w: float, work: Working = SILENT) -> float:
    """Airflow [m³/s] by the trade's 400 cfm per ton of rated total cooling [W]. Good to ±15 %, a last resort.

    >>> round(nominal_airflow(10550.56), 3)
    0.566
    """
    if rated_total_w <= 0:
        raise Refused("The rated capacity must be above zero.", "rated_total_w")
    return work.step(
        "nominal airflow (not measured)",
        "V",
        "53.68 * Q_rated",
        rated_total_w * NOMINAL_M3S_PER_W,
        "airflow",
        us="400 * Q_rated / 12000",
        source="trade convention, 400 cfm per ton",
        remark="A last resort, good to ±15 %. Measure the flow to do better.",
        Q_rated=(rated_total_w, "power"),
    )

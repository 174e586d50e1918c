"""Simulated ventilators by name: two ordinary ones."""

from __future__ import annotations

from fentro_core.system.fresh_air import ChartPoint, Ventilator, VentilatorControl
from fentro_standins.ventilator.unit import SimulatedVentilator

VENTILATORS = ("FA-1", "FA-2")
CHART = tuple(
    ChartPoint(drop, flow) for drop, flow in ((20.0, 0.041), (45.0, 0.062), (80.0, 0.084), (120.0, 0.103), (170.0, 0.121))
)
ORDINARY = Ventilator(kind="balanced", chart=CHART, stale_chart=CHART)
SET = VentilatorControl(minutes_per_hour=30.0, low_c=-10.0, high_c=33.0, boost_min=60.0, filter_months=3)


def ordinary(name: str, fault: str = "") -> SimulatedVentilator:
    """A ventilator that nobody has told of the visit yet."""
    return SimulatedVentilator(ORDINARY, SET, VENTILATORS.index(name) if name in VENTILATORS else 7, (fault,) if fault else ())

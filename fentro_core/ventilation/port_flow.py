"""A ventilator's flow from the pressure drop across its ports, by its model's own chart."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.calculation import calculation
from fentro_core.base.interpolation import Monotone
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working
from fentro_core.system.fresh_air import ChartPoint, check_chart

STEEP = 0.15
"""A flow that is known no better than by this share is said to be poor. Ours."""


@dataclass(frozen=True)
class PortFlow:
    """The flow [m³/s], and how it moves with the pressure [m³/s per Pa]."""

    airflow_m3s: float
    slope_m3s_per_pa: float


@calculation("ventilation.port_flow", "A ventilator's flow from its ports' pressure drop")
def port_flow(chart: tuple[ChartPoint, ...], port_pa: float, work: Working = SILENT) -> PortFlow:
    """The model's chart read at the drop that was measured; never beyond its ends.

    Parameters
    ----------
    chart : tuple of ChartPoint
        Drops [Pa] with their flows [m³/s], two or more, in any order.
    port_pa : float
        The drop across the ports [Pa], within the chart.

    Raises
    ------
    Refused
        A drop outside the chart; a chart that is none.

    References
    ----------
    Monotone cubic interpolation (Fritsch and Butland, 1984).

    >>> chart = tuple(ChartPoint(pa, ls / 1000) for pa, ls in ((20, 41), (45, 62), (80, 84), (120, 103), (170, 121)))
    >>> found = port_flow(chart, 62.0)
    >>> round(found.airflow_m3s * 1000, 1), round(found.slope_m3s_per_pa * 1000, 2)
    (73.5, 0.63)
    """
    check_chart(chart)
    drops = sorted(point.port_pa for point in chart)
    first, last = drops[0], drops[-1]
    if not first <= port_pa <= last:
        raise Refused(
            "This lies outside the chart, {low} to {high}, and a chart is not carried on. Check the tubes and the ports.",
            "port_pa",
            low=(first, "pressure"),
            high=(last, "pressure"),
        )
    curve = Monotone([(point.port_pa, point.airflow_m3s) for point in chart])
    flow = work.step(
        "flow by the chart",
        "Q",
        "curve(dp)",
        curve(port_pa),
        "airflow",
        source="the model's chart, monotone cubic between its points",
        dp=(port_pa, "pressure"),
    )
    step = min(0.5, 0.01 * (last - first))
    low, high = max(first, port_pa - step), min(last, port_pa + step)
    return PortFlow(flow, (curve(high) - curve(low)) / (high - low))

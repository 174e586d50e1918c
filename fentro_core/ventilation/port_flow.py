"""A ventilator's flow from the pressure drop across its ports, by its model's own chart."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

from fentro_core.base.calculation import calculation
from fentro_core.base.interpolation import Monotone
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

MOST_POINTS = 40
PORT_PA = (0.5, 1000.0)
CHART_M3S = (0.001, 5.0)

STEEP = 0.15
"""A flow that is known no better than by this share is said to be poor. Ours."""


@dataclass(frozen=True)
class ChartPoint:
    """One point of the chart: the ports' drop [Pa], and the flow there [m³/s]."""

    port_pa: float
    airflow_m3s: float


@dataclass(frozen=True)
class PortFlow:
    """The flow [m³/s], and how it moves with the pressure [m³/s per Pa]."""

    airflow_m3s: float
    slope_m3s_per_pa: float


def check_chart(chart: tuple[ChartPoint, ...], path: str = "chart") -> None:
    """Refuse a chart of fewer than two points, a point twice, a flow that falls while the drop rises."""
    if len(chart) < 2:
        raise Refused("A chart needs two points or more.", path)
    if len(chart) > MOST_POINTS:
        raise Refused("A chart has at most 40 points.", path)
    for index, point in enumerate(chart):
        if not PORT_PA[0] <= point.port_pa <= PORT_PA[1]:
            raise Refused(
                "The ports' drop lies between {low} and {high}.",
                f"{path}.{index}.port_pa",
                low=(PORT_PA[0], "pressure"),
                high=(PORT_PA[1], "pressure"),
            )
        if not CHART_M3S[0] <= point.airflow_m3s <= CHART_M3S[1]:
            raise Refused(
                "The flow lies between {low} and {high}.",
                f"{path}.{index}.airflow_m3s",
                low=(CHART_M3S[0], "airflow"),
                high=(CHART_M3S[1], "airflow"),
            )
    ordered = sorted(chart, key=lambda point: point.port_pa)
    for one, other in pairwise(ordered):
        if one.port_pa == other.port_pa:
            raise Refused("The chart has the same drop twice.", path)
        if other.airflow_m3s <= one.airflow_m3s:
            raise Refused("A larger drop across the ports is a larger flow: check the points of the chart.", path)


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

"""The blower: its pressure over the flow, from its table or held at one flow; and what stands between it and the plenum."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

from fentro_core.air.constants import STANDARD_DENSITY
from fentro_core.base.interpolation import Monotone
from fentro_core.base.refusal import Refused
from fentro_core.system.nameplate import FanPoint


@dataclass(frozen=True)
class Blower:
    """Pressure over flow at standard density; without points it holds `held_m3s` against whatever comes (constant-airflow motor).

    Beyond the table's ends the last slope goes on; `beyond` says so of a flow.
    """

    points: tuple[tuple[float, float], ...] = ()
    held_m3s: float = 0.0

    @cached_property
    def _curve(self) -> Monotone:
        return Monotone(self.points)

    def pressure(self, flow: float, density: float) -> float:
        """Pressure [Pa] at a flow [m³/s] of air of this density."""
        (first, top), (last, bottom) = self.points[0], self.points[-1]
        if flow < first:
            head = top + self._slopes[0] * (flow - first)
        elif flow > last:
            head = bottom + self._slopes[1] * (flow - last)
        else:
            head = self._curve(flow)
        return head * density / STANDARD_DENSITY

    @cached_property
    def _slopes(self) -> tuple[float, float]:
        def slope(one: tuple[float, float], other: tuple[float, float]) -> float:
            return (other[1] - one[1]) / (other[0] - one[0])

        return slope(self.points[0], self.points[1]), slope(self.points[-2], self.points[-1])

    def beyond(self, flow: float) -> bool:
        """The flow lies outside the table."""
        return bool(self.points) and not self.points[0][0] <= flow <= self.points[-1][0]

    @property
    def most_m3s(self) -> float:
        """The flow at which it has no pressure left."""
        flow, head = self.points[-1]
        return flow - head / self._slopes[1]


def blower_of(table: Iterable[FanPoint], tap: str = "") -> Blower:
    """The blower by its table at a tap ("" the first).

    Raises
    ------
    Refused
        Fewer than two points at the tap, or a table whose pressure rises with the flow.

    >>> blower = blower_of((FanPoint("high", 0.0, 0.62), FanPoint("high", 120.0, 0.53), FanPoint("high", 300.0, 0.20)))
    >>> round(blower.pressure(0.53, 1.204)), blower.beyond(0.7)
    (120, True)
    """
    rows = list(table)
    chosen = tap or (rows[0].tap if rows else "")
    points = sorted((row.airflow_m3s, row.external_static_pa) for row in rows if row.tap == chosen)
    if len(points) < 2:
        raise Refused("The blower's table needs two points or more at this tap.", "fan_table")
    for (flow, head), (more, less) in pairwise(points):
        if more <= flow or less >= head:
            raise Refused(
                "The blower's table goes back up between {flow} and {more}: more air goes with less pressure. Check these lines.",
                "fan_table",
                flow=(flow, "airflow"),
                more=(more, "airflow"),
            )
    return Blower(tuple(points))


@dataclass(frozen=True)
class AirMover:
    """Blower, and what the air passes besides the supply ducts: return side, filter, coil, as one drop at one flow."""

    blower: Blower
    drop_pa: float
    at_m3s: float

    @property
    def per_square(self) -> float:
        """Of all that is not supply duct, at standard density [Pa s²/m⁶]."""
        return self.drop_pa / self.at_m3s**2

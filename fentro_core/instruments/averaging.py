"""Several points of one place become one value, with their spread."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working


@dataclass(frozen=True)
class Average:
    """Mean, range of the points, half-width from their scatter, and whether more points are asked for."""

    mean: float
    spread: float
    scatter_plus_minus: float
    points: int
    read_more: bool


def weights_of(velocities: list[float | None]) -> list[float]:
    """Weights by local velocity where every point has one (and air moves forward), else equal; they add up to 1.

    >>> weights_of([3.0, 1.0]), weights_of([3.0, None])
    ([0.75, 0.25], [0.5, 0.5])
    """
    known = [velocity for velocity in velocities if velocity is not None and velocity > 0]
    if len(known) < len(velocities):
        return [1 / len(velocities)] * len(velocities)
    return [velocity / sum(known) for velocity in known]


def scatter_half_width(values: list[float], weights: list[float]) -> float:
    """95 % half-width of a weighted mean from the scatter of its points: ``2 s / sqrt(n)`` for equal weights.

    >>> round(scatter_half_width([24.0, 25.0], [0.5, 0.5]), 3)
    1.0
    """
    if len(values) < 2:
        return 0.0
    mean = sum(weight * value for weight, value in zip(weights, values, strict=True))
    square = sum(weight * (value - mean) ** 2 for weight, value in zip(weights, values, strict=True))
    effective = 1 / sum(weight * weight for weight in weights)
    if effective <= 1:
        return 0.0
    return 2 * sqrt(square * effective / (effective - 1)) / sqrt(effective)


@calculation("measuring.average", "Average of several points, with spread")
def average(
    values: tuple[float, ...],
    velocities_m_per_s: tuple[float, ...] = (),
    ask_over: float = 1.5,
    work: Working = SILENT,
) -> Average:
    """Mean of the points at one station, weighted by local velocity where that is given for each.

    Parameters
    ----------
    values : tuple of float
        Of each point at the station, one at least; any one SI unit.
    velocities_m_per_s : tuple of float, optional
        Local velocity [m/s] of each point, all above zero.
    ask_over : float
        A spread over this asks for more points: 1.5 K for temperatures.

    Raises
    ------
    Refused
        No value, a velocity missing, or air that flows back.

    References
    ----------
    Mean weighed by velocity, as the flow carries the heat; t distribution for the mean's half-width.

    >>> average((24.0, 25.0, 26.2)).read_more
    True
    """
    if not values:
        raise Refused("Give at least one value.", "values")
    if velocities_m_per_s and len(velocities_m_per_s) != len(values):
        raise Refused("Give a velocity for each point, or none.", "velocities_m_per_s")
    if any(velocity <= 0 for velocity in velocities_m_per_s):
        raise Refused("Velocities must be above zero: air that flows back can't be a weight.", "velocities_m_per_s")
    weights = weights_of(list(velocities_m_per_s) or [None] * len(values))
    mean = sum(weight * value for weight, value in zip(weights, values, strict=True))
    spread = max(values) - min(values)
    work.step("mean", "m", "sum(w * x)", mean, "ratio", n=(float(len(values)), "ratio"))
    return Average(mean, spread, scatter_half_width(list(values), weights), len(values), spread > ask_over)

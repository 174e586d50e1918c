"""Several points of one place become one value, with their spread."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.student import t_95
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


USUAL_COUNTS_AS = 2
"""What is known of a place's usual scatter counts as much as so many points more. Ours."""


def scatter_half_width(values: list[float], weights: list[float], usual: float = 0.0) -> float:
    """95 % half-width of a weighted mean from the scatter of its points: ``t s / sqrt(n)`` for equal weights.

    `usual`: how far (95 %) one point ordinarily lies from the mean of such a place. It is pooled with the scatter seen, for two
    points alone say next to nothing of it; one point has all of it.

    >>> round(scatter_half_width([24.0, 25.0], [0.5, 0.5]), 3)
    6.353
    >>> round(scatter_half_width([24.0, 25.0], [0.5, 0.5], usual=0.8), 3), scatter_half_width([24.0], [1.0], usual=0.8)
    (1.186, 0.8)
    """
    if len(values) < 2:
        return usual
    mean = sum(weight * value for weight, value in zip(weights, values, strict=True))
    square = sum(weight * (value - mean) ** 2 for weight, value in zip(weights, values, strict=True))
    effective = 1 / sum(weight * weight for weight in weights)
    if effective <= 1:
        return 0.0
    freedom = effective - 1
    seen = square * effective / freedom
    known = USUAL_COUNTS_AS if usual > 0 else 0
    pooled = (known * (usual / NORMAL_95) ** 2 + freedom * seen) / (known + freedom)
    return t_95(known + freedom) * sqrt(pooled / effective)


NORMAL_95 = 1.96
"""Half-width at 95 % of a normal distribution, in standard deviations."""


@calculation("measuring.average", "Average of several points, with spread")
def average(
    values: tuple[float, ...],
    velocities_m_per_s: tuple[float, ...] = (),
    ask_over: float = 1.5,
    usual_plus_minus: float = 0.0,
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
        A spread over this asks for more points: 1.5 K for temperatures; zero or more.
    usual_plus_minus : float
        How far (95 %) one point ordinarily lies from the mean there, zero or more; 0 where nothing is known of the place.

    Raises
    ------
    Refused
        No value, a velocity missing, air that flows back, a limit or half-width below zero.

    References
    ----------
    Mean weighed by velocity, as the flow carries the heat; Student, The probable error of a mean, Biometrika 6 (1908); the usual
    scatter pooled with the one seen, as two points more (ours).

    >>> average((24.0, 25.0, 26.2)).read_more
    True
    """
    if not values:
        raise Refused("Give at least one value.", "values")
    if velocities_m_per_s and len(velocities_m_per_s) != len(values):
        raise Refused("Give a velocity for each point, or none.", "velocities_m_per_s")
    if any(velocity <= 0 for velocity in velocities_m_per_s):
        raise Refused("Velocities must be above zero: air that flows back can't be a weight.", "velocities_m_per_s")
    for name, given in (("ask_over", ask_over), ("usual_plus_minus", usual_plus_minus)):
        if not given >= 0:
            raise Refused("This can't be below zero.", name)
    weights = weights_of(list(velocities_m_per_s) or [None] * len(values))
    mean = sum(weight * value for weight, value in zip(weights, values, strict=True))
    spread = max(values) - min(values)
    work.step("mean", "m", "sum(w * x)", mean, "ratio", n=(float(len(values)), "ratio"))
    width = scatter_half_width(list(values), weights, usual_plus_minus)
    return Average(mean, spread, width, len(values), spread > ask_over)

"""Does a number drift from visit to visit, or do the visits only scatter within their half-widths?"""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt
from typing import Literal

from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.student import t_95
from fentro_core.base.working import SILENT, Working

LEAST_VISITS = 3
YEAR_DAYS = 365.25

Direction = Literal["up", "down", "none", "too_few"]


@dataclass(frozen=True)
class HistoryPoint:
    """One visit's value [SI] with its 95 % half-width, and when, in days from any start."""

    days: float
    value: float
    plus_minus: float


@dataclass(frozen=True)
class Drift:
    """Change over the whole time covered, its 95 % half-width, and the direction when it is larger than that.

    `change_per_year` is the same slope per year; `visits` how many went in.
    """

    direction: Direction
    change: float
    change_plus_minus: float
    change_per_year: float
    visits: int


@calculation("history.drift", "Whether a number drifts from visit to visit")
def drift(points: tuple[HistoryPoint, ...], work: Working = SILENT) -> Drift:
    """Weighted straight line through the visits; drifting when its slope is larger than its own 95 % half-width.

    Each visit weighs by its half-width. The slope's own half-width is the larger of two: by the visits' half-widths, and by
    their scatter about the line with Student's t for the few visits there are. Fewer than three visits tell no drift.

    Parameters
    ----------
    points : tuple of HistoryPoint
        One of each visit: day, value and 95 % half-width, in one SI unit; any number.

    Raises
    ------
    Refused
        Half-widths below zero.

    References
    ----------
    Weighted least squares; Student, The probable error of a mean, Biometrika 6 (1908).

    >>> falling = tuple(HistoryPoint(90.0 * n, 1.0 - 0.06 * n, 0.05) for n in range(5))
    >>> drift(falling).direction, drift(falling[:2]).direction
    ('down', 'too_few')
    """
    for index, point in enumerate(points):
        if not point.plus_minus >= 0:
            raise Refused("A half-width can't be below zero.", f"points.{index}.plus_minus")
    first = min((point.days for point in points), default=0.0)
    span = max((point.days for point in points), default=0.0) - first
    if len(points) < LEAST_VISITS or span <= 0:
        work.step("visits", "n", "count", float(len(points)), "ratio", remark="Three visits or more tell a drift.")
        return Drift("too_few", 0.0, 0.0, 0.0, len(points))
    widest = max(point.plus_minus for point in points)
    least = 0.05 * widest or 1e-9
    weights = [1 / (max(point.plus_minus, least) / 2) ** 2 for point in points]
    total = sum(weights)
    mean_day = sum(w * p.days for w, p in zip(weights, points, strict=True)) / total
    mean = sum(w * p.value for w, p in zip(weights, points, strict=True)) / total
    spread = sum(w * (p.days - mean_day) ** 2 for w, p in zip(weights, points, strict=True))
    slope = sum(w * (p.days - mean_day) * (p.value - mean) for w, p in zip(weights, points, strict=True)) / spread
    free = len(points) - 2
    misfit = sum(w * (p.value - mean - slope * (p.days - mean_day)) ** 2 for w, p in zip(weights, points, strict=True)) / free
    from_widths = 2 / sqrt(spread)
    from_scatter = t_95(free) * sqrt(misfit / spread)
    width = max(from_widths, from_scatter)
    change, plus_minus = slope * span, width * span
    direction: Direction = "none" if abs(change) <= plus_minus else "up" if change > 0 else "down"
    work.step(
        "change over the time covered",
        "d",
        "b * t",
        change,
        "ratio",
        source="weighted least squares",
        remark="b is the slope a day through all visits, weighted by their half-widths.",
        b=(slope, "ratio"),
        t=(span, "ratio"),
    )
    return Drift(direction, change, plus_minus, slope * YEAR_DAYS, len(points))

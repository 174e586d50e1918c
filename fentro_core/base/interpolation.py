"""Monotone interpolation of a table: between its points, never beyond them and never over them."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from itertools import pairwise

from fentro_core.base.refusal import Refused


class Monotone:
    """A smooth curve through points that never leaves the range of its neighbours, and is not carried on outside.

    Cubic Hermite with the slopes of Fritsch and Carlson ("Monotone piecewise cubic interpolation", SIAM J. Numer.
    Anal. 17, 1980), in the harmonic-mean form of Fritsch and Butland (1984).

    >>> curve = Monotone([(0.0, 0.60), (125.0, 0.52), (250.0, 0.30)])
    >>> curve(0.0), round(curve(60.0), 3), curve(250.0)
    (0.6, 0.566, 0.3)
    """

    def __init__(self, points: Sequence[tuple[float, float]]) -> None:
        ordered = sorted(points)
        self.x = [x for x, _ in ordered]
        self.y = [y for _, y in ordered]
        if len(ordered) < 2:
            raise Refused("A table needs two points or more.")
        if any(later <= earlier for earlier, later in pairwise(self.x)):
            raise Refused("The table has the same point twice.")
        self._slopes = self._monotone_slopes()

    def _monotone_slopes(self) -> list[float]:
        steps = [b - a for a, b in pairwise(self.x)]
        secants = [(b - a) / step for a, b, step in zip(self.y, self.y[1:], steps, strict=False)]
        slopes = [secants[0]]
        for (h0, h1), (s0, s1) in zip(pairwise(steps), pairwise(secants), strict=True):
            if s0 * s1 <= 0:
                slopes.append(0.0)
            else:
                w0, w1 = 2 * h1 + h0, h1 + 2 * h0
                slopes.append((w0 + w1) / (w0 / s0 + w1 / s1))
        return [*slopes, secants[-1]]

    def __call__(self, x: float) -> float:
        """The value at x; refused outside the table."""
        if not self.x[0] <= x <= self.x[-1]:
            raise Refused("This lies outside the table, and a table is not carried on beyond its ends.")
        at = min(bisect_right(self.x, x), len(self.x) - 1)
        x0, x1, y0, y1 = self.x[at - 1], self.x[at], self.y[at - 1], self.y[at]
        h = x1 - x0
        t = (x - x0) / h
        m0, m1 = self._slopes[at - 1] * h, self._slopes[at] * h
        value = (2 * t**3 - 3 * t**2 + 1) * y0 + (t**3 - 2 * t**2 + t) * m0 + (3 * t**2 - 2 * t**3) * y1 + (t**3 - t**2) * m1
        return min(max(value, min(y0, y1)), max(y0, y1))

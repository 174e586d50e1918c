"""Student's t: how many times its own estimated scatter a mean may lie off, for the few points there are."""

from __future__ import annotations

from functools import lru_cache
from math import cos, exp, pi, sqrt


@lru_cache(maxsize=512)
def t_95(freedom: float) -> float:
    """Two-sided 95 % factor for so many degrees of freedom, one at least, whole or not.

    References
    ----------
    G. W. Hill, Algorithm 396: Student's t-quantiles, Communications of the ACM 13 (1970).

    >>> [round(t_95(n), 2) for n in (1, 2, 3, 4, 10, 30, 1e9)]
    [12.71, 4.3, 3.18, 2.78, 2.23, 2.04, 1.96]
    """
    p, n = 0.05, max(freedom, 1.0)
    if n == 1:
        return cos(p * pi / 2) / sqrt(1 - cos(p * pi / 2) ** 2)
    if n == 2:
        return sqrt(2 / (p * (2 - p)) - 2)
    a = 1 / (n - 0.5)
    b = (48 / a) / a
    c = ((20700 * a / b - 98) * a - 16) * a + 96.36
    d = ((94.5 / (b + c) - 3) / b + 1) * sqrt(a * pi / 2) * n
    y = (d * p) ** (2 / n)
    if y > 0.05 + a:
        x = _NORMAL
        y = x * x
        if n < 5:
            c += 0.3 * (n - 4.5) * (x + 0.6)
        c = (((0.05 * d * x - 5) * x - 7) * x - 2) * x + b + c
        y = (((((0.4 * y + 6.3) * y + 36) * y + 94.5) / c - y - 3) / b + 1) * x
        y = a * y * y
        y = exp(y) - 1 if y > 0.002 else 0.5 * y * y + y
    else:
        y = ((1 / (((n + 6) / (n * y) - 0.089 * d - 0.822) * (n + 2) * 3) + 0.5 / (n + 4)) * y - 1) * (n + 1) / (n + 2) + 1 / y
    return sqrt(n * y)


_NORMAL = -1.959963984540054
"""The normal distribution's quantile at 2.5 %."""

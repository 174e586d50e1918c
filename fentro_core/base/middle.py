"""The median, without the standard library's `statistics`: that would bring decimals and fractions into the device's memory."""

from __future__ import annotations

from collections.abc import Sequence


def median(values: Sequence[float]) -> float:
    """The middle value, or the mean of the middle two; of one value at least.

    >>> median([3.0, 1.0, 2.0]), median([4.0, 1.0])
    (2.0, 2.5)
    """
    ordered = sorted(values)
    half = len(ordered) // 2
    return ordered[half] if len(ordered) % 2 else (ordered[half - 1] + ordered[half]) / 2

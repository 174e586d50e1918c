"""A result *with its half-width* against its limits."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt
from typing import Literal

from fentro_core.base.measured import Measured
from fentro_core.base.quick import quick

Mark = Literal["holds", "watch", "off", "too_close", "not_measured"]

NEAR_SHARE = 0.10
"""Inside, but within this share of the band from a limit, is "watch"."""


@dataclass(frozen=True)
class Settle:
    """What would settle a close call: the source with the largest share, and the half-width it would need.

    `needed` is None when no improvement of that one source alone can settle it.
    """

    source: str
    share: float
    now: float
    needed: float | None


@quick
@dataclass(frozen=True)
class Verdict:
    """How a result stands against its limits; `side` says on which side it is out or near."""

    mark: Mark
    side: Literal["low", "high", ""] = ""
    settle: Settle | None = None


NOT_MEASURED = Verdict("not_measured")


def judge(result: Measured, low: float | None, high: float | None) -> Verdict:
    """Compare the whole interval of a result with a band, or with one limit.

    Parameters
    ----------
    result : Measured
    low, high : float or None
        Same unit as the result. With only one limit, "near" is a tenth of that limit's size.

    >>> judge(Measured(10.5, {"split": 0.4}), 8.9, 12.2).mark
    'holds'
    >>> judge(Measured(9.0, {"split": 0.4}), 8.9, 12.2).mark
    'too_close'
    >>> judge(Measured(7.0, {"split": 0.4}), 8.9, 12.2).mark
    'off'
    """
    if low is not None and result.high < low:
        return Verdict("off", "low")
    if high is not None and result.low > high:
        return Verdict("off", "high")
    if low is not None and result.low < low:
        return Verdict("too_close", "low", _settle(result, low))
    if high is not None and result.high > high:
        return Verdict("too_close", "high", _settle(result, high))
    band = high - low if low is not None and high is not None else abs(low if low is not None else high or 0.0)
    if low is not None and result.value - low < NEAR_SHARE * band:
        return Verdict("watch", "low")
    if high is not None and high - result.value < NEAR_SHARE * band:
        return Verdict("watch", "high")
    return Verdict("holds")


def _settle(result: Measured, limit: float) -> Settle | None:
    """The deciding source, and the half-width (in the result's unit, then scaled to the source) it would need."""
    shares = result.shares()
    if not shares:
        return None
    source, share = next(iter(shares.items()))
    now = abs(result.parts[source])
    room = (result.value - limit) ** 2 - (result.plus_minus**2 - now**2)
    return Settle(source, share, now, sqrt(room) if room > 0 else None)

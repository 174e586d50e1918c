"""Steady or not: is a stream of samples at rest, what still moves, and for about how long."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import exp, log, sqrt
from typing import Literal

from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.student import t_95
from fentro_core.base.working import SILENT, Working
from fentro_core.instruments.quantities import READABLE

WINDOW_S = 180.0
"""Three minutes, as a technician would watch a display."""

SETTLING_S = 600.0
"""Below ten minutes of running a reading is early even when it looks steady."""

FEWEST = 6
"""Samples in a window below which nothing is said."""

COVERED_SHARE = 0.9
"""The window counts as filled when its samples reach over this share of it."""

FIT_WINDOWS = 3.0
"""The approach to rest is fitted over this many windows: longer would average over another state of the equipment."""

LONGEST_GUESS_S = 3600.0
"""A settling time beyond an hour is not shown: the equipment changes its mind sooner."""

SURE_TO_MOVE = 1.8
"""A slope so many times its half-width is called moving: the correlation of few samples is itself hardly known. Tried on made-up
streams with noise that lingers up to 30 s, read every 1 to 20 s: called moving wrongly in 5 of 100 at most."""

State = Literal["steady", "moving", "scattered", "too_short"]


@dataclass(frozen=True)
class Evidence:
    """What a window of samples shows, in the quantity's SI unit; enough to judge it again later.

    Attributes
    ----------
    seconds, samples
        Length of the window reached, and how many samples lie in it.
    slope_per_10min, slope_plus_minus
        Least-squares slope and its 95 % half-width, per ten minutes.
    scatter
        95 % half-width of the residuals (twice their standard deviation).
    onward
        The means of six equal parts of the window all rise, or all fall: a smooth approach, whatever its shape.
    """

    seconds: float
    samples: int
    slope_per_10min: float
    slope_plus_minus: float
    scatter: float
    onward: bool = False


@dataclass(frozen=True)
class Steadiness:
    """State of one stream, its mean over the window, and when it should come to rest."""

    state: State
    mean: float
    evidence: Evidence
    settles_in_s: float | None = None


def steadiness(
    times_s: Sequence[float],
    values: Sequence[float],
    quantity: str = "dry_bulb",
    repeatability: float | None = None,
    window_s: float = WINDOW_S,
) -> Steadiness:
    """Judge the last window of a stream.

    Parameters
    ----------
    times_s : sequence of float
        Increasing [s], any zero.
    values : sequence of float
        Same length, the quantity's SI unit.
    repeatability : float, optional
        95 % scatter of the probe in steady air; the quantity's usual one when left out.

    Only the window, and three windows for the approach, are looked at: a long record costs nothing more.

    >>> still = steadiness([float(t) for t in range(200)], [24.0 + 0.01 * (t % 3) for t in range(200)])
    >>> still.state, round(still.mean, 2)
    ('steady', 24.01)
    """
    if len(times_s) != len(values):
        raise Refused("Each value needs its time.", "values")
    if not values:
        raise Refused("There are no samples.", "values")
    if not window_s > 0:
        raise Refused("The window must be longer than zero.", "window_s")
    start = bisect_left(times_s, times_s[-1] - window_s)
    times, inside = times_s[start:], values[start:]
    evidence = _evidence(times, inside)
    mean = sum(inside) / len(inside)
    state = judge_evidence(evidence, quantity, repeatability, window_s)
    remaining = None
    if state == "moving":
        limit = READABLE[quantity].steady_per_10min / SETTLING_S
        remaining = settles_in(times_s, values, limit, window_s)
    return Steadiness(state, mean, evidence, remaining)


def judge_evidence(evidence: Evidence, quantity: str, repeatability: float | None = None, window_s: float = WINDOW_S) -> State:
    """Steady when the slope's whole interval is small and the scatter is no more than the probe's own.

    A quantity without a limit of its own (flow, volts, amps: they follow something else) only has to be watched.
    A standard deviation of n samples is itself only known to ``1 / sqrt(2 n)``: twice that is allowed for.

    >>> judge_evidence(Evidence(180, 180, 0.1, 0.05, 0.08), "dry_bulb")
    'steady'
    >>> judge_evidence(Evidence(180, 180, 2.4, 0.05, 0.08), "dry_bulb")
    'moving'
    """
    if quantity not in READABLE:
        raise Refused("This can't be read. Choose one of the pad's quantities.", "quantity")
    readable = READABLE[quantity]
    if evidence.samples < FEWEST or evidence.seconds < COVERED_SHARE * window_s:
        return "too_short"
    if not readable.steady_per_10min:
        return "steady"
    if abs(evidence.slope_per_10min) + evidence.slope_plus_minus > readable.steady_per_10min:
        slope, width = abs(evidence.slope_per_10min), evidence.slope_plus_minus
        on_its_way = evidence.onward and slope > readable.steady_per_10min
        return "moving" if on_its_way or slope > SURE_TO_MOVE * width else "scattered"
    own = repeatability if repeatability else readable.repeatability
    by_chance = 1 + 2 / sqrt(2 * evidence.samples)
    return "steady" if evidence.scatter <= own * by_chance else "scattered"


def _evidence(times: Sequence[float], values: Sequence[float]) -> Evidence:
    count = len(times)
    seconds = times[-1] - times[0]
    if count < 3 or seconds <= 0:
        return Evidence(seconds, count, 0.0, 0.0, 0.0)
    mid, mean = sum(times) / count, sum(values) / count
    spread = covariance = square = 0.0
    for time, value in zip(times, values, strict=True):
        t, v = time - mid, value - mean
        spread += t * t
        covariance += t * v
        square += v * v
    slope = covariance / spread
    residual = sqrt(max(square - slope * covariance, 0.0) / (count - 2))
    apart = [time - mid for time in times]
    left = [value - mean - slope * t for t, value in zip(apart, values, strict=True)]
    alone = _independent(apart, left)
    width = t_95(max(alone - 2, 1.0)) * residual * sqrt(count / alone) / sqrt(spread)
    return Evidence(seconds, count, slope * SETTLING_S, width * SETTLING_S, 2 * residual, _onward(values))


def _independent(times: Sequence[float], residuals: Sequence[float]) -> float:
    """How many of the samples count as independent: noise that lingers from one to the next tells less.

    By the correlation from one sample to the next, ``n (1 - r) / (1 + r)``, once a bend is taken off too: an approach to rest is
    no noise. What fitting takes off the correlation of few samples is put back, to first order ``(3 + 5 r) / n`` (Kendall).
    """
    count = len(residuals)
    if count < 5:
        return float(count)
    second = sum(t * t for t in times)
    skew = sum(t * t * t for t in times) / second
    bends = [t * t - second / count - skew * t for t in times]
    size = sum(bend * bend for bend in bends)
    bent = sum(bend * each for bend, each in zip(bends, residuals, strict=True)) / size if size else 0.0
    noise = [each - bent * bend for bend, each in zip(bends, residuals, strict=True)]
    whole = sum(each * each for each in noise)
    if whole <= 0:
        return float(count)
    along = sum(first * later for first, later in pairwise(noise)) / whole
    along += (3 + 5 * max(along, 0.0)) / count
    along = min(max(along, 0.0), 0.99)
    return max(count * (1 - along) / (1 + along), 2.5)


PARTS_ONWARD = 6


def _onward(values: Sequence[float]) -> bool:
    count = len(values)
    if count < 2 * PARTS_ONWARD:
        return False
    cuts = [number * count // PARTS_ONWARD for number in range(PARTS_ONWARD + 1)]
    means = [sum(values[first:last]) / (last - first) for first, last in pairwise(cuts)]
    steps = [later - first for first, later in pairwise(means)]
    return all(step > 0 for step in steps) or all(step < 0 for step in steps)


def settles_in(times_s: Sequence[float], values: Sequence[float], slope_limit_per_s: float, window_s: float) -> float | None:
    """Seconds until a first-order approach is slower than the limit; None when no such approach is seen.

    ``y = y_end + a exp(-t / tau)`` has the same mean step ratio ``r`` over equal thirds, so with the means of three
    thirds ``r = (m3 - m2) / (m2 - m1)``, ``tau = T / -ln r`` where T is a third's length, and the slope now is known.
    """
    start = bisect_left(times_s, times_s[-1] - FIT_WINDOWS * window_s)
    span = times_s[-1] - times_s[start]
    if len(times_s) - start < 3 * FEWEST or span < window_s:
        return None
    third = span / 3
    cuts = [start, *(bisect_left(times_s, times_s[start] + n * third) for n in (1, 2)), len(times_s)]
    if any(later - earlier < 2 for earlier, later in pairwise(cuts)):
        return None
    first, second, last = (sum(values[a:b]) / (b - a) for a, b in pairwise(cuts))
    if second == first:
        return None
    ratio = (last - second) / (second - first)
    if not 0.02 < ratio < 0.97:
        return None
    tau = third / -log(ratio)
    # The mean of the last third belongs to a moment a little before its middle; the slope there, carried on to now.
    shape = (1 - exp(-third / tau)) * tau / third
    left = abs(last - second) * ratio / (1 - ratio) / shape * exp(-third / tau)
    remaining = tau * log(max(left / tau / slope_limit_per_s, 1.0))
    return remaining if remaining <= LONGEST_GUESS_S else None


@calculation("measuring.steadiness", "Is a stream of samples steady, and when will it be")
def steadiness_of(
    times_s: tuple[float, ...],
    values: tuple[float, ...],
    quantity: str = "dry_bulb",
    repeatability: float | None = None,
    window_s: float = WINDOW_S,
    work: Working = SILENT,
) -> Steadiness:
    """`steadiness` by name: times [s] and values (the quantity's SI unit), judged over the last window.

    Steady: the 95 % interval of the slope lies inside ±0.3 K per 10 minutes (temperatures), and the residuals scatter
    no more than the probe itself does.

    Parameters
    ----------
    times_s : tuple of float
        Moments [s], increasing.
    values : tuple of float
        One for each moment, the quantity's SI unit.
    quantity : str
        What is read: its limits of slope and scatter are used.
    repeatability : float, optional
        95 % half-width of one reading against the next; else an ordinary probe's.
    window_s : float
        Judged over the last so many seconds, above zero.

    Raises
    ------
    Refused
        No sample, a moment missing, times that do not increase, or a quantity that cannot be read.

    References
    ----------
    Least squares with the 95 % interval of the slope by the t distribution; limits in docs/method.md.
    """
    if any(later <= earlier for earlier, later in pairwise(times_s)):
        raise Refused("Times must increase.", "times_s")
    found = steadiness(times_s, values, quantity, repeatability, window_s)
    kind = READABLE[quantity].kind
    difference = "temperature_difference" if kind == "temperature" else kind
    work.step("mean of the window", "m", "sum / n", found.mean, kind, n=(float(found.evidence.samples), "ratio"))
    work.step(
        "slope in ten minutes",
        "b",
        "least squares",
        found.evidence.slope_per_10min,
        difference,
        source="least squares over the window",
        remark=f"±{found.evidence.slope_plus_minus:.3g} (95 %, SI)",
    )
    return found


def whole_state(streams: Mapping[str, tuple[str, Steadiness]], running_s: float | None) -> tuple[State, Sentence]:
    """The visit's state from its streams: steady only when every one is, and the unit has run ten minutes.

    Parameters
    ----------
    streams : mapping
        By the name a person knows it by ("Supply dry bulb"): quantity and steadiness.
    running_s : float or None
        Seconds since the unit was noted as started; None when nobody noted it.
    """
    if not streams:
        return "too_short", Sentence.of("No probe is listened to.")
    moving = {name: found for name, (_, found) in streams.items() if found.state == "moving"}
    if moving:
        slowest = max(moving, key=lambda name: moving[name].settles_in_s or LONGEST_GUESS_S)
        names = _several(list(moving))
        remaining = moving[slowest].settles_in_s
        if remaining is None:
            return "moving", Sentence.of(f"Still moving: {names}. No end in sight yet.")
        return "moving", Sentence.of(f"Still moving: {names}. About {{wait}} more.", wait=(max(remaining, 60.0), "duration"))
    short = [name for name, (_, found) in streams.items() if found.state == "too_short"]
    if short:
        return "too_short", Sentence.of(f"Listening: {_several(short)} not watched for three minutes yet.")
    unquiet = [name for name, (_, found) in streams.items() if found.state == "scattered"]
    if unquiet:
        return "scattered", Sentence.of(
            f"Unsteady: {_several(unquiet)} {'jumps' if len(unquiet) == 1 else 'jump'} more than the probe itself. "
            "Move the probe a little."
        )
    if running_s is None:
        return "steady", Sentence.of("Steady. Nobody noted when the unit started.")
    if running_s < SETTLING_S:
        return "too_short", Sentence.of("Readings stand still, but the unit has not run ten minutes.")
    return "steady", Sentence.of("Steady: read now.")


def _several(names: list[str]) -> str:
    if len(names) <= 2:
        return " and ".join(names)
    return f"{names[0]}, {names[1]} and {len(names) - 2} more"

"""A value with its 95 % half-width, and how half-widths pass through a formula.

A measured value remembers *where* its doubt comes from: each part belongs to a source (a probe's accuracy, one
reading's last digit, the spread of several points). Two values that share a source are correlated by that alone: when
both are put into a difference, the common part cancels. So a formula needs no error code of its own.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from math import hypot
from operator import itemgetter

from fentro_core.base.kept import kept
from fentro_core.base.refusal import Refused

STEP_SHARE = 0.25
"""The share of a half-width by which an input is moved to find its influence: small enough to be first order, large
enough to stand above the tolerance of the iterative wet bulb."""


@dataclass(frozen=True, init=False)
class Measured:
    """A value and the signed contribution of every source of doubt to its 95 % half-width.

    >>> probe = {"probe A": 0.3}
    >>> (Measured(24.0, probe) - Measured(13.0, probe)).plus_minus
    0.0
    >>> round((Measured(24.0, {"A": 0.3}) - Measured(13.0, {"B": 0.4})).plus_minus, 3)
    0.5
    """

    value: float
    parts: Mapping[str, float] = field(default_factory=dict)

    def __init__(self, value: float, parts: Mapping[str, float] | None = None) -> None:
        own = self.__dict__  # as a frozen dataclass does it, it would cost three times as much
        own["value"] = value
        own["parts"] = {} if parts is None else parts

    @kept
    def plus_minus(self) -> float:
        """95 % half-width: root sum of squares of the parts."""
        return hypot(*self.parts.values())

    @property
    def low(self) -> float:
        """Lower end of the interval."""
        return self.value - self.plus_minus

    @property
    def high(self) -> float:
        """Upper end of the interval."""
        return self.value + self.plus_minus

    @property
    def guessed(self) -> bool:
        """It stands on a value that nobody measured."""
        return any(source.startswith(GUESS) for source in self.parts)

    def shares(self) -> dict[str, float]:
        """Share of the variance by source, largest first; they add up to 1."""
        whole = self.plus_minus
        if whole == 0:
            return {}
        shares = [(source, (part / whole) ** 2) for source, part in self.parts.items()]
        shares.sort(key=itemgetter(1), reverse=True)
        return dict(shares)

    def __sub__(self, other: Measured) -> Measured:
        return Measured(self.value - other.value, weighted_sum([(1.0, self), (-1.0, other)]).parts)


GUESS = "guess:"
"""How the name of a source begins that is no measurement: an ordinary figure taken until one is read."""


def exact(value: float) -> Measured:
    """A value without doubt."""
    return Measured(value)


def weighted_sum(terms: Iterable[tuple[float, Measured]]) -> Measured:
    """Sum of weight x value; common sources add with their sign before they are squared."""
    value = 0.0
    parts: dict[str, float] = {}
    for weight, term in terms:
        value += weight * term.value
        for source, part in term.parts.items():
            if source in parts:
                parts[source] += weight * part
            else:
                parts[source] = weight * part
    return Measured(value, parts)


def mean(values: list[Measured]) -> Measured:
    """Plain average of one or more measured values."""
    if len(values) == 1:
        return values[0]
    return weighted_sum([(1 / len(values), value) for value in values])


def propagate(
    formula: Callable[..., Mapping[str, float]],
    inputs: Mapping[str, Measured],
    centre: Mapping[str, float] | None = None,
) -> dict[str, Measured]:
    """Pass measured inputs through a formula, to first order.

    Parameters
    ----------
    formula : callable
        Takes the inputs by name as floats, returns named floats; what it names beside those of `centre` is left out.
    inputs : mapping of Measured
        Inputs with half-width zero are taken as exact.
    centre : mapping, optional
        What the formula gives for the values as they are, where that is known already.

    Each uncertain input is moved by a quarter of its half-width to both sides; where one side is impossible (a
    relative humidity over 100 %), by the other side alone.

    Raises
    ------
    Refused
        The formula refuses the central values.

    >>> area = propagate(lambda a, b: {"area": a * b}, {"a": Measured(2.0, {"tape": 0.1}), "b": Measured(3.0)})
    >>> round(area["area"].plus_minus, 6)
    0.3
    """
    values = {name: given.value for name, given in inputs.items()}
    if centre is None:
        centre = formula(**values)
    doubts: dict[str, list[float]] = {}
    for name, given in inputs.items():
        width = given.plus_minus
        if width == 0:
            continue
        slopes = _slopes(formula, values, name, width * STEP_SHARE, centre)
        for source, part in given.parts.items():
            row = doubts.get(source)
            if row is None:
                doubts[source] = [slope * part for slope in slopes]
            else:
                doubts[source] = [had + slope * part for had, slope in zip(row, slopes, strict=True)]
    return {
        name: Measured(value, {source: row[index] for source, row in doubts.items() if row[index]})
        for index, (name, value) in enumerate(centre.items())
    }


def _slopes(
    formula: Callable[..., Mapping[str, float]],
    values: dict[str, float],
    name: str,
    step: float,
    centre: Mapping[str, float],
) -> list[float]:
    """Change of every result per unit of one input, in the order of the results. `values` are given back as they were."""
    at = values[name]
    above = below = centre
    apart = 0.0
    try:
        values[name] = at + step
        above = formula(**values)
        apart = step
    except Refused:
        pass
    try:
        values[name] = at - step
        below = formula(**values)
        apart += step
    except Refused:
        pass
    values[name] = at
    if apart == 0:
        raise Refused("This reading can't be varied within its own half-width. Check it.", name)
    return [(above[result] - below[result]) / apart for result in centre]

"""What the visits together say of a number that is followed over them."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.quantity import difference_kind
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.history.drift import HistoryPoint, drift
from fentro_core.phase.numbers import Number

LEADS = {
    "up": "Rising",
    "down": "Falling",
    "none": "No drift beyond measurement error.",
    "too_few": "Three visits or more tell a drift.",
}


@dataclass(frozen=True)
class Drifting:
    """What the visits together say of one number."""

    mark: Mark | None
    sentence: Sentence


def drifting(number: Number, points: tuple[HistoryPoint, ...]) -> Drifting:
    """The drift of a number in words; only a drift the bad way is "watch".

    >>> falling = tuple(HistoryPoint(90.0 * n, 1.0 - 0.06 * n, 0.05) for n in range(5))
    >>> from fentro_core.phase.numbers import Followed
    >>> share = Number(key="x", kind="share", followed=Followed(worse="down", says="Less cooling."))
    >>> drifting(share, falling).mark
    'watch'
    """
    how, found = number.followed, drift(points)
    assert how is not None
    if found.direction in ("none", "too_few"):
        return Drifting(None, Sentence.of(LEADS[found.direction]))
    kind = difference_kind(number.kind)
    words = f"{LEADS[found.direction]}: {{change}} ±{{width}} over the time shown."
    bad = found.direction == how.worse
    text = f"{words} {how.says}" if bad else words
    return Drifting(
        "watch" if bad else None, Sentence.of(text, change=(found.change, kind), width=(found.change_plus_minus, kind))
    )

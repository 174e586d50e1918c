"""A symptom in a state: by a number against limits, with how surely it is so, or by what was seen."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import erf, sqrt

from fentro_core.base.measured import Measured
from fentro_core.base.quick import quick
from fentro_core.base.sentence import Sentence
from fentro_core.diagnosis.symptom import Group, Symptom

LEANS_FROM = 0.65
"""Below this a state is not even leaned to, and the symptom counts as not known."""

CLEAR_FROM = 0.95
"""A state is clear when its whole 95 % interval lies there; below, it leans, and counts by how surely."""


@quick
@dataclass(frozen=True)
class Sign:
    """A symptom's key, its state, how surely it is so (0 to 1), and the sentence that says it with its number.

    `place`: the one of several that it was seen at, by its name; "" where there is but one.
    """

    symptom: str
    state: str
    sure: float
    words: Sentence
    group: Group
    place: str = ""


def state_of(value: Measured, low: float | None, high: float | None) -> tuple[str, float]:
    """The likeliest of ``low``, ``right`` and ``high``, and how surely it is that: by a normal doubt of half the half-width.

    >>> state_of(Measured(3.0, {"a": 0.5}), -1.7, 1.7)[0], state_of(Measured(1.6, {"a": 0.5}), -1.7, 1.7)[0]
    ('high', 'right')
    """
    under = _below(value, low) if low is not None else 0.0
    over = 1 - _below(value, high) if high is not None else 0.0
    chances = {"low": under, "high": over, "right": 1 - under - over}
    state = max(chances, key=lambda each: chances[each])
    return state, chances[state]


def _below(value: Measured, limit: float) -> float:
    """Chance that the true value lies below the limit."""
    spread = value.plus_minus / 2
    if spread == 0:
        return 1.0 if value.value < limit else 0.0
    return 0.5 * (1 + erf((limit - value.value) / spread / sqrt(2)))


def sign_by_number(
    symptom: Symptom,
    value: Measured,
    low: float | None,
    high: float | None,
    names: Mapping[str, str],
    says: tuple[float, str] | None,
) -> Sign | None:
    """A symptom told by one number; None when it leans to no side clearly enough.

    Parameters
    ----------
    names : mapping
        The symptom's own names of ``low``, ``right`` and ``high``, where they differ.
    says : (value, kind) or None
        The number said beside it.
    """
    state, sure = state_of(value, low, high)
    return sign(symptom, names.get(state, state), sure, says) if sure >= LEANS_FROM else None


def sign(symptom: Symptom, state: str, sure: float, says: tuple[float, str] | None) -> Sign | None:
    """A symptom in a state; None for a state it does not have."""
    if state not in symptom.states:
        return None
    weight = 1.0 if sure >= CLEAR_FROM else 2 * sure - 1
    words = symptom.states[state]
    if weight < 1:
        words = f"Perhaps: {words[0].lower()}{words[1:]}"
    sentence = Sentence.of(f"{words}: {{value}}", value=says) if says else Sentence.of(words)
    return Sign(symptom.key, state, weight, sentence, symptom.group)

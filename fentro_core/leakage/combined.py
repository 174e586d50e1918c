"""Both answers to "how much air leaks in" put together, what it costs in parts, and when to come back if it can't be told."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.air.state import AirState
from fentro_core.base.measured import Measured, weighted_sum
from fentro_core.base.sentence import Sentence
from fentro_core.base.units import CFM_M3S, FOOT_M
from fentro_core.leakage.return_side import LEAST_DIFFERENCE_K, LEAST_DIFFERENCE_RATIO

LEAKS_FROM_SHARE = 0.05
"""From this share of the airflow a return counts as leaking. Ours: it is about what a good pair of probes can show."""

NARROWEST_SHARE = 0.05
"""A share known to no better than this says little; said when it is so."""

USUAL_LIMIT_M3S_PER_M2 = 4.0 * CFM_M3S / (100 * FOOT_M**2)
"""4 cfm at 25 Pa per 100 sq ft of floor, all ducts together. The user picks; a local code rules."""

DISAGREEMENT = "leak:the two balances disagree"

EXPLAINS_DISAGREEMENT = (
    "Mixed air in layers: read more points across the filter rack.",
    "The air around the duct read in the wrong place, or the duct runs through two spaces.",
    "Wet insulation or a wet duct: it gives moisture that is no leak.",
    "A second leak, from a space with other air.",
    "The duct's length, size or insulation typed wrong: the heat answer rests on it.",
)


@dataclass(frozen=True)
class Share:
    """The share drawn in by both balances together; `agree` False when they differ by more than both can explain."""

    share: Measured
    agree: bool


def combine(by_heat: Measured | None, by_moisture: Measured | None) -> Share | None:
    """Weighted by inverse variance where both are there; None without any.

    Where they differ by more than both can explain, neither is known to be the right one: the answer is their middle, and its
    half-width reaches to both.

    >>> both = combine(Measured(0.08, {"a": 0.01}), Measured(0.10, {"b": 0.03}))
    >>> round(both.share.value, 3), round(both.share.plus_minus, 4), both.agree
    (0.082, 0.0095, True)
    """
    found = [each for each in (by_heat, by_moisture) if each is not None]
    if not found:
        return None
    if len(found) == 1:
        return Share(found[0], True)
    difference = found[0] - found[1]
    if abs(difference.value) > difference.plus_minus:
        middle = weighted_sum([(0.5, each) for each in found])
        return Share(Measured(middle.value, {**middle.parts, DISAGREEMENT: abs(difference.value) / 2}), False)
    weights = [1 / max(each.plus_minus, 1e-6) ** 2 for each in found]
    together = weighted_sum([(weight / sum(weights), each) for weight, each in zip(weights, found, strict=True)])
    return Share(together, True)


def come_back(grille: AirState, around: AirState) -> Sentence:
    """When the test will work: in words with the temperatures it needs.

    >>> come_back(AirState.from_rh(24.0, 0.5), AirState.from_rh(27.0, 0.42)).say("SI")[:57]
    'Room 24.0 °C and air around the duct 27.0 °C are too much'
    """
    return Sentence.of(
        "Room {room} and air around the duct {around} are too much alike to tell a leak. Come back when it is over {warm} there "
        "(the heat of the day) or under {cold} (a cold morning), or when its air holds {ratio} more or less water than "
        "the room's. Or use a duct tester.",
        room=(grille.dry_bulb_c, "temperature"),
        around=(around.dry_bulb_c, "temperature"),
        warm=(grille.dry_bulb_c + LEAST_DIFFERENCE_K, "temperature"),
        cold=(grille.dry_bulb_c - LEAST_DIFFERENCE_K, "temperature"),
        ratio=(LEAST_DIFFERENCE_RATIO, "humidity_ratio"),
    )


def limit_at_25pa(floor_area_m2: float, limit_m3s_per_m2: float = USUAL_LIMIT_M3S_PER_M2) -> float:
    """The most that may leak at 25 Pa [m³/s] for a floor area; the user picks the figure, local code rules.

    >>> round(limit_at_25pa(100.0) / CFM_M3S, 1)
    43.1
    """
    return floor_area_m2 * limit_m3s_per_m2

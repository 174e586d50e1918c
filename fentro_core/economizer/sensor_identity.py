"""Which is which: the assignment of sensors to places with the least squared misfit, and whether the labels claim another.

Every sensor may have a constant error of its own, as ordinary sensors do; it is fitted and paid for. What moves with the
air of a place hangs in it: that is why two conditions tell more than one.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from itertools import permutations
from math import exp, log, sqrt

from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

ORDINARY_ERROR_K = 1.0
"""One sigma of the constant error that an ordinary sensor may have. Ours."""

SENSOR_HALF_WIDTH_K = 0.4
MORE_THAN_CHANCE = 0.05
MOST_SENSORS = 7
OFF_FROM_K = 1.5
"""A constant error this large is worth a look wherever the sensor hangs."""

BETTER = 4.0
"""By so much must the misfit of each sensor fall where two have changed places. Ours."""

ALIKE = 6.0
"""Orders and places within this of the best fit as well. Ours."""

UNCLEAR = "unclear"

UNEVEN_FROM = 12.0
"""Squared misfit, its constant error taken out, from which no constant error explains a sensor at its place. Ours."""


@dataclass(frozen=True)
class Reference:
    """What a good probe showed at a place [°C], with its 95 % half-width [K]."""

    value_c: float
    plus_minus_k: float = 0.4


@dataclass(frozen=True)
class Condition:
    """One state of the unit: what every named sensor showed [°C], and what a probe showed at every place."""

    name: str
    shown_c: dict[str, float]
    known: dict[str, Reference]


@dataclass(frozen=True)
class SensorAt:
    """A sensor by its label: the place the label claims, the best place, and its constant error there [K].

    `sits_in`: another place whose air it follows from condition to condition although that place has its own sensor.
    """

    label: str
    claimed: str
    best: str
    error_k: float
    looks_swapped: bool
    off: bool
    sits_in: str = ""


@dataclass(frozen=True)
class SensorIdentity:
    """The best assignment. `chance`: how likely the claimed one is as good, by chance alone, 0 to 1; `swapped`: it is not.

    `unclear`: the labels do not fit, but whether two sensors are swapped or one hangs wrong can't be told from these readings.
    `off_unclear`: one is off at its place, but another order fits as well, and there it is not.
    """

    sensors: tuple[SensorAt, ...]
    misfit_best: float
    misfit_claimed: float
    chance: float
    swapped: bool
    enough: bool
    also: tuple[tuple[str, ...], ...] = field(default=())
    unclear: bool = False
    off_unclear: bool = False


@calculation("economizer.sensor_identity", "Which sensor is in which air, by least squared misfit")
def sensor_identity(conditions: tuple[Condition, ...], claimed: dict[str, str], work: Working = SILENT) -> SensorIdentity:
    """Find the places that fit the readings best, over all permutations.

    Parameters
    ----------
    conditions : tuple of Condition
        One at least; two or more, with air that changed in between, tell swapped sensors from ones with an error.
    claimed : dict
        Place by sensor label, as the point list says.

    Raises
    ------
    Refused
        No condition, more than seven sensors, a sensor or place that was not read in every condition.

    References
    ----------
    Least squares with a normal prior on each sensor's constant error; the chance of the claimed assignment is
    ``exp(-difference / 2)`` times the number of assignments tried (Bonferroni).

    >>> cold = Condition("damper shut", {"A": 21.9, "B": 5.1}, {"return": Reference(22.0), "outdoor": Reference(5.0)})
    >>> sensor_identity((cold,), {"A": "outdoor", "B": "return"}).swapped
    True
    """
    labels = sorted(claimed)
    _check(conditions, claimed, labels)
    places = sorted(set(claimed.values()))
    costs = {(label, place): _cost(label, place, conditions) for label in labels for place in places}
    assignments = [dict(zip(labels, order, strict=True)) for order in permutations(places)]
    total = {tuple(each.values()): sum(costs[label, place][0] for label, place in each.items()) for each in assignments}
    least = min(total.values())
    fitting = [each for each in assignments if total[tuple(each.values())] - least < ALIKE]
    # Of orders that fit as well, the one that moves the fewest: what need not have changed places is left where it is said to be.
    best = min(fitting, key=lambda each: (sum(each[label] != claimed[label] for label in labels), total[tuple(each.values())]))
    said = total[tuple(claimed[label] for label in labels)]
    chance = min(1.0, len(assignments) * exp(-(said - least) / 2))
    work.step("misfit of the best places", "M", "sum(r * r)", least, "ratio")
    work.step("misfit of the claimed places", "M_c", "sum(r * r)", said, "ratio")
    moved = [label for label in labels if best[label] != claimed[label]]
    # Sensors that changed places each follow the other's air. Where only one fits better, it hangs wrong by itself.
    both = all(costs[label, best[label]][0] <= costs[label, claimed[label]][0] - BETTER for label in moved)
    swapped = bool(moved) and both and chance < MORE_THAN_CHANCE
    kept = best if swapped else claimed
    elsewhere = {} if swapped else {label: _elsewhere(label, claimed, costs) for label in labels}
    unclear = bool(moved) and chance < MORE_THAN_CHANCE and not swapped and not any(elsewhere.values())
    alike = [order for order, cost in sorted(total.items(), key=lambda each: each[1]) if cost - least < ALIKE]
    off = {label: abs(costs[label, kept[label]][1]) >= OFF_FROM_K and not elsewhere.get(label) for label in labels}
    doubted = {
        label: not swapped and any(abs(costs[label, order[at]][1]) < OFF_FROM_K for order in alike)
        for at, label in enumerate(labels)
    }
    return SensorIdentity(
        tuple(
            SensorAt(
                label,
                claimed[label],
                best[label],
                costs[label, kept[label]][1],
                swapped and best[label] != claimed[label],
                off[label] and not doubted[label],
                elsewhere.get(label, ""),
            )
            for label in labels
        ),
        least,
        said,
        chance,
        swapped,
        len(conditions) >= 2,
        tuple(alike[1:4]),
        unclear,
        any(off[label] and doubted[label] for label in labels),
    )


def audit_signs(found: SensorIdentity) -> dict[str, bool]:
    """What the comparison says of the sensors: ``swapped``, ``drifted``, or one ``misplaced`` in another's air.

    Where it is `unclear`, only that; ``swapped`` and ``misplaced`` are left out where two airs were too much alike to rule
    them out.
    """
    signs = {UNCLEAR: True}
    if not found.unclear:
        signs = {
            "swapped": found.swapped,
            "drifted": not found.swapped and any(sensor.off for sensor in found.sensors),
            "misplaced": any(sensor.sits_in for sensor in found.sensors),
        }
    if found.off_unclear and not signs.get("drifted"):
        signs.pop("drifted", None)
    if found.also and not found.swapped and not signs.get("misplaced"):
        # Two airs were too much alike to say that their sensors are not swapped, or that none is in the other.
        signs = {"drifted": signs["drifted"]} if "drifted" in signs else signs
    return signs


def _elsewhere(label: str, claimed: Mapping[str, str], costs: Mapping[tuple[str, str], tuple[float, float, float]]) -> str:
    """The place whose air a sensor follows instead of its own: its error there is constant, at its own place it is not.

    The sensor of that place, and of every other that fits as well, follows its own air, and clearly not the first one's: else
    they may be swapped.
    """
    own = claimed[label]
    said, _, uneven = costs[label, own]
    others = sorted((each for each in claimed if each != label), key=lambda each: (costs[label, claimed[each]][0], each))
    fits = costs[label, claimed[others[0]]]
    alike = [each for each in others if costs[label, claimed[each]][0] <= fits[0] + ALIKE]
    stay = all(
        costs[each, own][0] - costs[each, claimed[each]][0] >= BETTER and costs[each, claimed[each]][2] < UNEVEN_FROM
        for each in alike
    )
    clear = said - fits[0] > 2 * log(len(claimed) / MORE_THAN_CHANCE) and uneven >= UNEVEN_FROM
    return claimed[others[0]] if clear and stay and fits[2] < UNEVEN_FROM and abs(fits[1]) < OFF_FROM_K else ""


def _check(conditions: tuple[Condition, ...], claimed: Mapping[str, str], labels: list[str]) -> None:
    if not conditions:
        raise Refused("Read all sensors in one condition first; two tell more.", "conditions")
    if not 2 <= len(labels) <= MOST_SENSORS:
        raise Refused(f"Compare 2 to {MOST_SENSORS} sensors.", "claimed")
    if len(set(claimed.values())) < len(labels):
        raise Refused("Two labels claim the same place.", "claimed")
    for index, condition in enumerate(conditions):
        for label in labels:
            if label not in condition.shown_c:
                raise Refused(f"“{label}” was not read in “{condition.name}”.", f"conditions.{index}.shown_c")
        for place in claimed.values():
            if place not in condition.known:
                raise Refused(f"No reference reading at “{place}” in “{condition.name}”.", f"conditions.{index}.known")


def _cost(label: str, place: str, conditions: tuple[Condition, ...]) -> tuple[float, float, float]:
    """Squared misfit of a sensor at a place, its constant error fitted and paid for; that error [K]; the misfit without it."""
    weights, residuals = [], []
    for condition in conditions:
        known = condition.known[place]
        sigma = sqrt(SENSOR_HALF_WIDTH_K**2 + known.plus_minus_k**2) / 1.96
        weights.append(1 / sigma**2)
        residuals.append(condition.shown_c[label] - known.value_c)
    prior = 1 / ORDINARY_ERROR_K**2
    error = sum(w * r for w, r in zip(weights, residuals, strict=True)) / (sum(weights) + prior)
    misfit = sum(w * (r - error) ** 2 for w, r in zip(weights, residuals, strict=True)) + error * error * prior
    plain = sum(w * r for w, r in zip(weights, residuals, strict=True)) / sum(weights)
    return misfit, plain, sum(w * (r - plain) ** 2 for w, r in zip(weights, residuals, strict=True))

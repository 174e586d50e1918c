"""What a probe alone says of compressor and blades, whatever the unit's own sensors show."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt
from typing import Literal

from fentro_core.economizer.sensor_identity import Condition

DAMPER_SHUT = "damper shut"
DAMPER_LITTLE_OPEN = "damper at 25 %"
DAMPER_PART_OPEN = "damper at 45 %"
DAMPER_WIDER = "damper at 70 %"
DAMPER_OPEN = "damper open"
COMPRESSOR_ON = "compressor on"
UNIT_OFF = "unit off"
"""Names of the conditions that an audit brings about. Compressor on sets supply and mixed air apart, and shows whether it cools.
Off, the unit tells which sensor is in which air, and nothing of its damper."""

OPENED = (DAMPER_OPEN, DAMPER_WIDER, DAMPER_PART_OPEN, DAMPER_LITTLE_OPEN)

LEAST_COOLED_K = 2.0
"""With the compressor on, supply air less below the mixed air than this is not cooled. Ours."""

STANDS_WITHIN, BACKWARDS_FROM = 0.08, 0.1
"""A share of outdoor air that changes by less than the first from shut to open stands; by more than the second the other way, the
blades turn backwards. Ours."""

STANDS_PART_OPEN, WIDEST_PART_OPEN = 0.015, 0.03
"""Of a damper part open, whose blades hardly move either where the linkage slipped: much less, and better known. Ours."""

WIDEST = 0.15
"""A change known to no better than this can't be called none: of sound blades part open a quarter is due at least. Ours."""

ONE_PROBE = 0.6
"""One probe carried from place to place is off alike everywhere: so much of its half-widths is left in a difference. Ours."""

SHUT_LETS_IN = 0.15
"""A share of outdoor air beyond this with the damper shut is no seal's leak: the blades are not shut. Ours."""

OPENS_SHORT = 0.72
"""A share under this with the damper open is short of what is due, as in the functional test. Ours."""

ALIKE_K, APART_K = 6.0, 10.0
"""Outdoor and return air no further apart than the first: much can't be told that day. From the second on all can be. Ours."""

AIRS_ALIKE = "alike"

AirMoves = Literal["", "moves", "stands", "backwards"]


def cooled(conditions: tuple[Condition, ...]) -> bool | None:
    """Whether a probe found the supply air colder than the mixed air with the compressor on; None where nobody compared."""
    for condition in conditions:
        if condition.name == COMPRESSOR_ON and {"supply", "mixed"} <= set(condition.known):
            return condition.known["mixed"].value_c - condition.known["supply"].value_c >= LEAST_COOLED_K
    return None


def air_moves(conditions: tuple[Condition, ...]) -> AirMoves:
    """What the share of outdoor air does between damper shut and damper open or part open, by the probe.

    Part open, blades on a linkage that slipped hardly move either: there, only blades that stand open, or very still, stand.

    Returns
    -------
    AirMoves
        ``moves``, ``stands``, ``backwards``; nothing where nobody compared, or outdoor and return air were too much alike.

    >>> from fentro_core.economizer.sensor_identity import Reference
    >>> def at(name, mixed):
    ...     known = {"outdoor": Reference(5.0), "return": Reference(22.0), "mixed": Reference(mixed)}
    ...     return Condition(name, {}, known)
    >>> air_moves((at("damper shut", 21.6), at("damper open", 6.0)))
    'moves'
    >>> air_moves((at("damper shut", 15.1), at("damper open", 15.3)))
    'stands'
    """
    named = {condition.name: condition for condition in conditions}
    shut = _share(named.get(DAMPER_SHUT))
    opened_as, opened = next(((name, found) for name in OPENED if (found := _share(named.get(name)))), ("", None))
    if not shut or not opened:
        return ""
    moved, width = opened[0] - shut[0], ONE_PROBE * sqrt(shut[1] ** 2 + opened[1] ** 2)
    if moved + width < -BACKWARDS_FROM:
        return "backwards"
    if moved - width > STANDS_WITHIN:
        return "moves"
    wholly = opened_as == DAMPER_OPEN or shut[0] > SHUT_LETS_IN
    within, widest = (STANDS_WITHIN, WIDEST) if wholly else (STANDS_PART_OPEN, WIDEST_PART_OPEN)
    return "stands" if abs(moved) < within and width <= widest else ""


def open_when_shut(conditions: tuple[Condition, ...]) -> bool | None:
    """Whether a probe found the blades open with the damper shut; None where nobody compared, or it can't be told."""
    return _beyond(conditions, DAMPER_SHUT, SHUT_LETS_IN)


def opens_short(conditions: tuple[Condition, ...]) -> bool | None:
    """Whether a probe found too little outdoor air with the damper open; None likewise."""
    wholly = _beyond(conditions, DAMPER_OPEN, OPENS_SHORT)
    return None if wholly is None else not wholly


def _beyond(conditions: tuple[Condition, ...], name: str, limit: float) -> bool | None:
    found = next((_share(condition) for condition in conditions if condition.name == name), None)
    if found is None or abs(found[0] - limit) < ONE_PROBE * found[1]:
        return None
    return found[0] > limit


def _share(condition: Condition | None) -> tuple[float, float] | None:
    """Share of outdoor air by three references, with its half-width; None where one lacks or two are alike."""
    if condition is None or not {"outdoor", "return", "mixed"} <= set(condition.known):
        return None
    outdoor, back, mixed = (condition.known[place] for place in ("outdoor", "return", "mixed"))
    contrast = outdoor.value_c - back.value_c
    if abs(contrast) < 1.0:
        return None
    share = (mixed.value_c - back.value_c) / contrast
    widths = (mixed.plus_minus_k, share * outdoor.plus_minus_k, (1 - share) * back.plus_minus_k)
    return share, sqrt(sum(each * each for each in widths)) / abs(contrast)


@dataclass(frozen=True)
class ByProbe:
    """What the probe alone says; None, or nothing, where nobody compared or it can't be told.

    `cooled`: the supply air, with the compressor on; `air_moves`: the share of outdoor air from damper shut to open;
    `open_when_shut`, `opens_short`: much outdoor air with the damper shut, too little with it open. `apart_k`: outdoor and return
    air, where they were furthest apart [K]; `alike`: too little for that day.
    """

    cooled: bool | None = None
    air_moves: AirMoves = ""
    open_when_shut: bool | None = None
    opens_short: bool | None = None
    apart_k: float | None = None
    alike: bool = False


def by_probe(conditions: tuple[Condition, ...]) -> ByProbe:
    """All of it."""
    apart = max(
        (
            abs(each.known["outdoor"].value_c - each.known["return"].value_c)
            for each in conditions
            if {"outdoor", "return"} <= set(each.known)
        ),
        default=None,
    )
    return ByProbe(
        cooled(conditions),
        air_moves(conditions),
        open_when_shut(conditions),
        opens_short(conditions),
        apart,
        apart is not None and apart < ALIKE_K,
    )


def signs_by_probe(found: ByProbe) -> dict[str, bool]:
    """``no_cooling``, ``air_stands``, ``air_backwards``, ``open_when_shut``, ``opens_short``; each where it could be told.

    And ``alike``, where the airs were.
    """
    signs: dict[str, bool | None] = {
        "no_cooling": None if found.cooled is None else not found.cooled,
        "air_stands": found.air_moves == "stands" if found.air_moves else None,
        "air_backwards": found.air_moves == "backwards" if found.air_moves else None,
        "open_when_shut": found.open_when_shut,
        "opens_short": found.opens_short,
        AIRS_ALIKE: found.alike or None,
    }
    return {key: value for key, value in signs.items() if value is not None}

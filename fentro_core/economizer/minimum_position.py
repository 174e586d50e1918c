"""The minimum position by the share that was measured: set, wait, read, next position; never by the damper's own scale."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot
from typing import Literal

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import within
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

NEAR_ENOUGH = 0.01
"""Within one part of a hundred of the wanted share the walk is over, or within its half-width."""

TOO_COARSE = 0.05
"""A share known no better than this settles no minimum position: the walk goes on when the air differs more. Ours."""

LARGEST_STEP = 0.25

SHUT = (0.05, 0.15)
OPEN = (0.92, 0.15)
"""Outdoor share, and how far from it a damper may be, shut and fully open: what is taken until something is read. Ours."""

LEAST_DOUBT = 0.01
APART = 0.08
"""A second reading this far along the stroke tells the damper's slope where two near ones can't. Ours."""

Advice = Literal["set", "done", "read_apart", "too_coarse", "leaks_shut", "opens_short"]


@dataclass(frozen=True)
class PositionRead:
    """A damper position, 0 to 1, and the outdoor-air share measured there with its 95 % half-width."""

    position: float
    outdoor_share: float
    plus_minus: float = 0.0


@dataclass(frozen=True)
class NextPosition:
    """Where to set the damper next. `done`: the last reading is near enough; `mixed_aim_c`: mixed air to aim for.

    `advice`: ``set`` it there and read; ``done``; ``read_apart``: the readings lie too close together to tell the slope, so this
    position is for a reading that does; ``too_coarse``: outdoor and return air are too much alike today; ``leaks_shut``: more
    than wanted with the damper shut; ``opens_short``: less than wanted with it fully open.
    """

    position: float
    wanted_share: float
    done: bool
    mixed_aim_c: float
    advice: Advice


@calculation("economizer.next_position", "Damper position to try next for a wanted outdoor-air share")
def next_position(
    reads: tuple[PositionRead, ...],
    required_m3s: float,
    supply_m3s: float,
    return_c: float,
    outdoor_c: float,
    work: Working = SILENT,
) -> NextPosition:
    """The position at which a damper that only opens gives the wanted share, by all readings with their half-widths.

    Readings are made to rise with the position: where noise turns two round, they count together by their half-widths. Between
    them, and to what a damper does shut and open, the line is straight; so an ordinary damper is taken for the first step.
    Positions stay within 0 and 1, and no step is larger than a quarter of the stroke: dampers are curved.

    Parameters
    ----------
    reads : tuple of PositionRead
        Position (0 to 1) and outdoor-air share measured there, oldest first; none at the beginning.
    required_m3s, supply_m3s : float
        Outdoor air that is required, and supply air [m³/s]; above zero, the first at most the second.
    return_c, outdoor_c : float
        Return and outdoor air now [°C], for the mixed air to aim for.

    Raises
    ------
    Refused
        A flow that cannot be, a position or share outside 0 to 1, a half-width below zero.

    References
    ----------
    Isotonic regression by pooling of neighbours (Barlow, Bartholomew, Bremner and Brunk, 1972), weighted by half-width; the
    step held to a quarter of the stroke (ours).

    >>> walked = (PositionRead(0.20, 0.31), PositionRead(0.12, 0.22))
    >>> round(next_position(walked, 0.4, 2.0, 24.0, 4.0).position, 3)
    0.106
    """
    if not 0 < required_m3s <= supply_m3s:
        raise Refused("The outdoor flow lies above zero and is at most the supply flow.", "required_m3s")
    for index, read in enumerate(reads):
        if not 0 <= read.position <= 1:
            raise Refused("A position lies between 0 and 100 %.", f"reads.{index}.position")
        if not 0 <= read.outdoor_share <= 1:
            raise Refused("A share of outdoor air lies between 0 and 100 %.", f"reads.{index}.outdoor_share")
        if not read.plus_minus >= 0:
            raise Refused("A half-width can't be below zero.", f"reads.{index}.plus_minus")
    for name, celsius in (("return_c", return_c), ("outdoor_c", outdoor_c)):
        within(celsius, (-60.0, 90.0), name, "temperature", "Air lies between {low} and {high}.")
    wanted = work.step(
        "wanted outdoor-air share",
        "x",
        "100 * V_o / V_s",
        required_m3s / supply_m3s,
        "share",
        V_o=(required_m3s, "airflow"),
        V_s=(supply_m3s, "airflow"),
    )
    aim = work.step(
        "mixed air to aim for",
        "T_m",
        "T_r + x / 100 * (T_o - T_r)",
        return_c + wanted * (outdoor_c - return_c),
        "temperature",
        source="mixing, by temperature",
        T_r=(return_c, "temperature"),
        T_o=(outdoor_c, "temperature"),
        x=(wanted, "share"),
    )
    position, advice = _advice(reads, wanted)
    work.step(
        "position by the readings so far",
        "p",
        "curve(x)",
        position,
        "share",
        source="straight between readings, made to rise with the position",
        remark=f"{len(reads)} readings." if reads else "Nothing read yet: an ordinary damper.",
        x=(wanted, "share"),
    )
    return NextPosition(position, wanted, advice == "done", aim, advice)


def _advice(reads: tuple[PositionRead, ...], wanted: float) -> tuple[float, Advice]:
    """Where to go, and why."""
    if not reads:
        return min(max(_position(_risen(()), wanted), 0.0), 1.0), "set"
    last = reads[-1]
    apart = last.outdoor_share - wanted
    if abs(apart) <= max(NEAR_ENOUGH, min(last.plus_minus, 0.03)):
        return last.position, "done" if last.plus_minus <= TOO_COARSE else "too_coarse"
    if last.position <= 0 and apart > last.plus_minus:
        return 0.0, "leaks_shut"
    if last.position >= 1 and apart < -last.plus_minus:
        return 1.0, "opens_short"
    position = _position(_risen(reads), wanted)
    position = min(max(position, last.position - LARGEST_STEP, 0.0), last.position + LARGEST_STEP, 1.0)
    if abs(position - last.position) < 0.01 or _undecided(reads):
        way = -1.0 if apart > 0 else 1.0
        farther = min(max(last.position + way * APART, 0.0), 1.0)
        if abs(position - last.position) < APART:
            position = farther
        return position, "read_apart"
    return position, "set"


def _undecided(reads: tuple[PositionRead, ...]) -> bool:
    """The last two places were read, and their shares do not rise by more than their half-widths."""
    if len(reads) < 2 or reads[-1].position == reads[-2].position:
        return False
    one, other = sorted(reads[-2:], key=lambda read: read.position)
    rise = other.outdoor_share - one.outdoor_share
    return rise <= hypot(one.plus_minus, other.plus_minus) and other.position - one.position < APART


Block = tuple[float, float]
"""Position and share."""


def _risen(reads: tuple[PositionRead, ...]) -> list[Block]:
    """Readings by position, each place's latest, pooled with their neighbours until shares rise with positions."""
    latest = {read.position: (read.outdoor_share, max(read.plus_minus, LEAST_DOUBT)) for read in reads}
    placed = {0.0: SHUT, 1.0: OPEN, **latest}
    pools: list[tuple[float, float, float]] = []
    for position, (share, doubt) in sorted(placed.items()):
        weight = 1 / doubt**2
        pools.append((weight, weight * position, weight * share))
        while len(pools) > 1 and pools[-2][2] / pools[-2][0] >= pools[-1][2] / pools[-1][0]:
            last, before = pools.pop(), pools.pop()
            pools.append((before[0] + last[0], before[1] + last[1], before[2] + last[2]))
    return [(positions / weight, shares / weight) for weight, positions, shares in pools]


def _position(blocks: list[Block], wanted: float) -> float:
    """Where the line through the blocks gives the wanted share; straight on beyond their ends."""
    if len(blocks) == 1:
        return blocks[0][0]
    at = next((index for index in range(1, len(blocks) - 1) if blocks[index][1] >= wanted), len(blocks) - 1)
    (low, less), (high, more) = blocks[at - 1], blocks[at]
    return low + (wanted - less) * (high - low) / (more - less)

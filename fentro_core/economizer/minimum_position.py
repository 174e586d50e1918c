"""The minimum position by the share that was measured: set, wait, read, next position; never by the damper's own scale."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

NEAR_ENOUGH = 0.01
"""Within one part of a hundred of the wanted share the walk is over, or within its half-width."""

LARGEST_STEP = 0.25


@dataclass(frozen=True)
class PositionRead:
    """A damper position, 0 to 1, and the outdoor-air share measured there with its 95 % half-width."""

    position: float
    outdoor_share: float
    plus_minus: float = 0.0


@dataclass(frozen=True)
class NextPosition:
    """Where to set the damper next. `done`: the last reading is near enough; `mixed_aim_c`: mixed air to aim for."""

    position: float
    wanted_share: float
    done: bool
    mixed_aim_c: float


@calculation("economizer.next_position", "Damper position to try next for a wanted outdoor-air share")
def next_position(
    reads: tuple[PositionRead, ...],
    required_m3s: float,
    supply_m3s: float,
    return_c: float,
    outdoor_c: float,
    work: Working = SILENT,
) -> NextPosition:
    """Secant through the two readings nearest the wanted share; the first step assumes a straight damper.

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
        A flow that cannot be, or a position outside 0 to 1.

    References
    ----------
    Secant method, with the step held to a quarter of the stroke (ours).

    >>> walked = (PositionRead(0.20, 0.31), PositionRead(0.12, 0.22))
    >>> round(next_position(walked, 0.4, 2.0, 24.0, 4.0).position, 3)
    0.102
    """
    if not 0 < required_m3s <= supply_m3s:
        raise Refused("The outdoor flow lies above zero and is at most the supply flow.", "required_m3s")
    for index, read in enumerate(reads):
        if not 0 <= read.position <= 1:
            raise Refused("A position lies between 0 and 100 %.", f"reads.{index}.position")
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
    last = reads[-1] if reads else None
    if last and abs(last.outdoor_share - wanted) <= max(NEAR_ENOUGH, min(last.plus_minus, 0.03)):
        return NextPosition(last.position, wanted, True, aim)
    position = _step(reads, wanted)
    if last:
        position = min(max(position, last.position - LARGEST_STEP), last.position + LARGEST_STEP)
    return NextPosition(min(max(position, 0.0), 1.0), wanted, False, aim)


def _step(reads: tuple[PositionRead, ...], wanted: float) -> float:
    apart = {read.position: read for read in reads}
    if not apart:
        return wanted
    nearest = sorted(apart.values(), key=lambda read: abs(read.outdoor_share - wanted))
    if len(nearest) == 1 or abs(nearest[0].outdoor_share - nearest[1].outdoor_share) < 0.005:
        only = nearest[0]
        return only.position * wanted / only.outdoor_share if only.outdoor_share > 0.01 else only.position + 0.1
    one, other = nearest[0], nearest[1]
    slope = (one.position - other.position) / (one.outdoor_share - other.outdoor_share)
    return one.position + slope * (wanted - one.outdoor_share)

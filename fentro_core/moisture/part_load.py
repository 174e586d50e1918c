"""The same coil at part load: short runs wet the coil and dry little, and a fan that blows on gives the water back."""

from __future__ import annotations

from dataclasses import dataclass
from math import exp

from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

MOST_CYCLES = 3.0
"""Starts an hour at half load, of an ordinary thermostat."""

HOLDS_KG_PER_KW = 0.08
"""Water that hangs on a coil and in its pan for each kilowatt of cooling, measured by several at 0.05 to 0.11."""

GIVES_BACK = 0.8
"""How fast a fan that blows on takes water up at first, against how fast the coil took it out."""


@dataclass(frozen=True)
class PartLoad:
    """One cycle on the average.

    `on_min`, `off_min`: its two halves; `lost_kg`: water that goes back into the air in the pause; `net_kg_per_s`: what leaves
    over the whole cycle; `kept_share`: of what the coil condenses; `least_run_min`: a shorter run dries nothing.
    """

    on_min: float
    off_min: float
    lost_kg: float
    net_kg_per_s: float
    kept_share: float
    least_run_min: float


@calculation("moisture.part_load", "Part load: how much of the water stays out, and the least run that dries at all")
def part_load(
    run_share: float,
    water_kg_per_s: float,
    holds_kg: float,
    fan_runs_on: bool,
    cycles_per_hour: float = MOST_CYCLES,
    work: Working = SILENT,
) -> PartLoad:
    """Starts an hour follow the load, ``N = 4 N_most X (1 - X)``; in the pause a fan that runs on takes water up again.

    Parameters
    ----------
    run_share : float
        Share of the time that the compressor runs, above 0, at most 1.
    water_kg_per_s : float
        Water that the coil takes out while it runs, once it is wet [kg/s], above zero.
    holds_kg : float
        Water that hangs on coil and pan when the compressor stops [kg], zero or more; about 0.08 kg for each kilowatt.
    fan_runs_on : bool
        The fan blows through the pauses.
    cycles_per_hour : float
        Starts an hour at half load, 1 to 10.

    Raises
    ------
    Refused
        A share outside 0 to 1, no water, figures out of range.

    References
    ----------
    Cycles by the usual thermostat model; the coil's water held and given back as in Henderson and Rengarajan, ASHRAE
    Transactions 102 (1996); the shape of the giving back is simplified.

    >>> round(part_load(0.4, 9.0 / 3600, 1.2, True).kept_share, 2), part_load(0.4, 9.0 / 3600, 1.2, False).kept_share
    (0.32, 1.0)
    """
    if not 0 < run_share <= 1:
        raise Refused("The share of the time must be above 0 and at most 100 %.", "run_share")
    if not 0 < water_kg_per_s <= 0.5:
        raise Refused("The coil must take out some water: else there is none to give back.", "water_kg_per_s")
    if not 0 <= holds_kg <= 100:
        raise Refused("A coil holds 0 to 100 kg of water.", "holds_kg")
    if not 1 <= cycles_per_hour <= 10:
        raise Refused("A thermostat starts a unit 1 to 10 times an hour at half load.", "cycles_per_hour")
    rate = (water_kg_per_s, "water_rate")
    if run_share == 1:
        work.step("water that stays out", "w", "q", water_kg_per_s, "water_rate", source="it never pauses", q=rate)
        return PartLoad(60.0, 0.0, 0.0, water_kg_per_s, 1.0, 0.0)
    on_min = 60 / (4 * cycles_per_hour * (1 - run_share))
    off_min = on_min * (1 - run_share) / run_share
    lost = 0.0
    condensed = water_kg_per_s * on_min * 60
    if fan_runs_on and holds_kg:
        held = min(holds_kg, condensed)
        lost = held * (1 - exp(-GIVES_BACK * water_kg_per_s * off_min * 60 / held))
    net = (condensed - lost) / ((on_min + off_min) * 60)
    work.step(
        "one run",
        "t",
        "60 / (4 * N * (1 - X))",
        on_min,
        "ratio",
        source="an ordinary thermostat's cycle",
        N=(cycles_per_hour, "ratio"),
        X=(run_share, "ratio"),
    )
    work.step(
        "pause",
        "f",
        "t * (1 - X) / X",
        off_min,
        "ratio",
        t=(on_min, "ratio"),
        X=(run_share, "ratio"),
    )
    work.step(
        "water that stays out",
        "w",
        "(q * t / 60 - L) / ((t + f) / 60)",
        net,
        "water_rate",
        source="what is condensed in a run, less what the pause gives back",
        q=rate,
        t=(on_min, "ratio"),
        f=(off_min, "ratio"),
        L=(lost, "water_mass"),
    )
    return PartLoad(on_min, off_min, lost, net, 1 - lost / condensed, lost / water_kg_per_s / 60)

"""Condensate caught and weighed: the water that left, told without any humidity probe."""

from __future__ import annotations

from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

MOST_KG = 200.0
LEAST_MIN, MOST_MIN = 1.0, 24 * 60.0


@calculation("moisture.bucket", "Water an hour, from condensate weighed in a bucket", result="water_kg_per_s")
def bucket(condensate_kg: float, minutes: float, work: Working = SILENT) -> float:
    """Weight over time. Right only when the pan was wet through before: the first water stays on coil and pan.

    Parameters
    ----------
    condensate_kg : float
        Water caught [kg], its bucket taken off; 0 to 200. A litre weighs a kilogram, a US gallon 3.79 kg.
    minutes : float
        For how long it was caught, 1 to 1440.

    Raises
    ------
    Refused
        Less than nothing, more than a bucket holds, no time.

    References
    ----------
    Balance of water.

    >>> round(bucket(1.5, 10.0) * 3600, 2)
    9.0
    """
    if not 0 <= condensate_kg <= MOST_KG:
        raise Refused("Condensate must be between 0 and 200 kg. Subtract the bucket's own weight.", "condensate_kg")
    if not LEAST_MIN <= minutes <= MOST_MIN:
        raise Refused("Catch it for at least a minute and at most a day.", "minutes")
    return work.step(
        "water an hour, weighed",
        "w",
        "60 * M / t",
        condensate_kg / (minutes * 60),
        "water_rate",
        source="weight over time",
        M=(condensate_kg, "water_mass"),
        t=(minutes, "ratio"),
    )

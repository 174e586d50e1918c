"""The share of outdoor air in mixed air, by temperature."""

from __future__ import annotations

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import AIR_C, within
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

LEAST_DIFFERENCE_K = 0.5

ASTRAY = 1.0
"""A share so far below nothing or above all is no doubt of the probes any more."""


@calculation("air.outdoor_share", "Share of outdoor air in the mixed air, by temperature", result="outdoor_share")
def outdoor_share(return_dry_bulb_c: float, outdoor_dry_bulb_c: float, mixed_dry_bulb_c: float, work: Working = SILENT) -> float:
    """Share of dry-air mass that is outdoor air: ``(T_mix - T_return) / (T_outdoor - T_return)``.

    With 10 K between outdoor and return air it is usable, with 3 K it is not: the half-width says so. A result below
    0 or above 1 means that the readings disagree.

    Parameters
    ----------
    return_dry_bulb_c, outdoor_dry_bulb_c, mixed_dry_bulb_c : float
        Return, outdoor and mixed air [°C], read at the same time; outdoor and return 0.5 K apart at least.

    Raises
    ------
    Refused
        Outdoor and return air are within 0.5 K, or mixed air lies far outside of both.

    References
    ----------
    Balance of mass and energy of two streams; the specific heat of both is taken as equal.

    >>> outdoor_share(24.0, 4.0, 19.0)
    0.25
    """
    for name, celsius in (
        ("return_dry_bulb_c", return_dry_bulb_c),
        ("outdoor_dry_bulb_c", outdoor_dry_bulb_c),
        ("mixed_dry_bulb_c", mixed_dry_bulb_c),
    ):
        within(celsius, AIR_C, name, "temperature")
    difference = outdoor_dry_bulb_c - return_dry_bulb_c
    if abs(difference) < LEAST_DIFFERENCE_K:
        raise Refused("Outdoor and return air are too close together to tell the outdoor-air share.", "outdoor_dry_bulb_c")
    if not -ASTRAY <= (mixed_dry_bulb_c - return_dry_bulb_c) / difference <= 1 + ASTRAY:
        raise Refused("Mixed air lies far from return and outdoor air: one of the three readings is wrong.", "mixed_dry_bulb_c")
    return work.step(
        "outdoor-air share",
        "x",
        "100 * (T_mix - T_return) / (T_outdoor - T_return)",
        (mixed_dry_bulb_c - return_dry_bulb_c) / difference,
        "share",
        source="adiabatic mixing; share of dry-air mass",
        T_mix=(mixed_dry_bulb_c, "temperature"),
        T_return=(return_dry_bulb_c, "temperature"),
        T_outdoor=(outdoor_dry_bulb_c, "temperature"),
    )

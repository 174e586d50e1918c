"""The refrigerant side, optional everywhere: what superheat a fixed restrictor should show. Gauges are for certified persons."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.calculation import calculation
from fentro_core.refusal import Refused
from fentro_core.working import SILENT, Working

LEAST_TARGET_K = 5 / 1.8
"""Under 5 °F no charge check by superheat is possible."""

SUPERHEAT_TOLERANCE_K = 5 / 1.8
SUBCOOLING_TOLERANCE_K = 3 / 1.8
SANE_SUPERHEAT_K = (5 / 1.8, 20 / 1.8)
"""With an expansion valve superheat is only looked at for sanity: 5 to 20 °F."""


@dataclass(frozen=True)
class TargetSuperheat:
    """The superheat to aim at; `usable` false when the conditions allow no charge check by superheat."""

    superheat_k: float
    usable: bool


@calculation("refrigerant.target_superheat", "Superheat that a fixed restrictor should show")
def target_superheat(return_wet_bulb_c: float, outdoor_dry_bulb_c: float, work: Working = SILENT) -> TargetSuperheat:
    """``(3 wb - 80 - db) / 2`` in °F.

    >>> found = target_superheat(62 / 1.8 - 32 / 1.8, 80 / 1.8 - 32 / 1.8)
    >>> round(found.superheat_k * 1.8, 6), found.usable
    (13.0, True)
    """
    if not -10 <= return_wet_bulb_c <= 35:
        raise Refused("Return wet bulb must lie between -10 and 35 °C.", "return_wet_bulb_c")
    if not -10 <= outdoor_dry_bulb_c <= 55:
        raise Refused("Outdoor temperature must lie between -10 and 55 °C.", "outdoor_dry_bulb_c")
    wet, dry = return_wet_bulb_c * 1.8 + 32, outdoor_dry_bulb_c * 1.8 + 32
    target = work.step(
        "target superheat", "SH", "(3 * (1.8 * T_wb + 32) - 80 - (1.8 * T_o + 32)) / 2 / 1.8", (3 * wet - 80 - dry) / 2 / 1.8,
        "temperature_difference", us="(3 * T_wb - 80 - T_o) / 2", source="trade rule for a fixed restrictor",
        T_wb=(return_wet_bulb_c, "temperature"), T_o=(outdoor_dry_bulb_c, "temperature"),
    )  # fmt: skip
    return TargetSuperheat(target, target >= LEAST_TARGET_K - 1e-9)

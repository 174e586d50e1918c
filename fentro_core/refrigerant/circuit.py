"""The refrigerant side, optional everywhere: superheat, subcooling, saturation. Gauges are for certified persons."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass
from math import exp, log

from fentro_core.air.pressure import SEA_LEVEL_PA
from fentro_core.base.calculation import calculation
from fentro_core.base.limits import LINE_C, within
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working
from fentro_core.refrigerant.saturation_tables import TABLES
from fentro_core.system.nameplate import Refrigerant

LEAST_TARGET_K = 5 / 1.8
"""Under 5 °F no charge check by superheat is possible."""

SUPERHEAT_TOLERANCE_K = 5 / 1.8
SUBCOOLING_TOLERANCE_K = 3 / 1.8
SANE_SUPERHEAT_K = (5 / 1.8, 20 / 1.8)
"""With an expansion valve superheat is only looked at for sanity: 5 to 20 °F."""

CERTIFIED_ONLY = "Only certified persons connect gauges or open a refrigerant circuit. Everything else here works without."

BUBBLE, DEW = 1, 2
_KELVIN = 273.15
_SLACK = 1e-9


@dataclass(frozen=True)
class TargetSuperheat:
    """The superheat to aim at; `usable` false when the conditions allow no charge check by superheat."""

    superheat_k: float
    usable: bool


@calculation("refrigerant.target_superheat", "Superheat that a fixed restrictor should show")
def target_superheat(return_wet_bulb_c: float, outdoor_dry_bulb_c: float, work: Working = SILENT) -> TargetSuperheat:
    """``(3 wb - 80 - db) / 2`` in °F.

    Parameters
    ----------
    return_wet_bulb_c : float
        Of the return air [°C], -10 to 35.
    outdoor_dry_bulb_c : float
        Of the air into the condenser [°C], -10 to 55.

    Raises
    ------
    Refused
        A temperature outside these.

    References
    ----------
    The trade's formula for a fixed restrictor.

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
        "target superheat",
        "SH",
        "(3 * (1.8 * T_wb + 32) - 80 - (1.8 * T_o + 32)) / 2 / 1.8",
        (3 * wet - 80 - dry) / 2 / 1.8,
        "temperature_difference",
        us="(3 * T_wb - 80 - T_o) / 2",
        source="trade rule for a fixed restrictor",
        T_wb=(return_wet_bulb_c, "temperature"),
        T_o=(outdoor_dry_bulb_c, "temperature"),
    )
    return TargetSuperheat(target, target >= LEAST_TARGET_K - 1e-9)


def saturation_temperature(refrigerant: Refrigerant, pressure_pa: float, side: int = DEW) -> float:
    """Temperature [°C] at which the refrigerant boils or condenses at this absolute pressure [Pa].

    Between the table's points ``ln p`` runs straight over ``1 / T``; within 0.01 K of the source.

    Parameters
    ----------
    side : int
        1 for the boiling liquid (bubble), 2 for the vapour (dew).

    Raises
    ------
    Refused
        A pressure that belongs to no temperature of the table (-40 to 64 °C).

    >>> round(saturation_temperature("R-410A", 990_000.0), 1)
    6.9
    """
    table = TABLES[refrigerant]
    pressures = [row[side] for row in table]
    if not pressures[0] * (1 - _SLACK) <= pressure_pa <= pressures[-1] * (1 + _SLACK):
        raise Refused(
            f"{refrigerant} has no saturation at this pressure between {{low}} and {{high}}. Check gauge and unit.",
            "",
            low=(table[0][0], "temperature"),
            high=(table[-1][0], "temperature"),
        )
    at = min(bisect_right(pressures, pressure_pa), len(table) - 1)
    (t0, t1), (p0, p1) = (table[at - 1][0], table[at][0]), (pressures[at - 1], pressures[at])
    share = log(pressure_pa / p0) / log(p1 / p0)
    return 1 / ((1 - share) / (t0 + _KELVIN) + share / (t1 + _KELVIN)) - _KELVIN


def saturation_pressure(refrigerant: Refrigerant, temperature_c: float, side: int = DEW) -> float:
    """Absolute pressure [Pa] at a saturation temperature: the other way round.

    >>> round(saturation_temperature("R-32", saturation_pressure("R-32", 11.0)), 6)
    11.0
    """
    table = TABLES[refrigerant]
    temperatures = [row[0] for row in table]
    if not temperatures[0] <= temperature_c <= temperatures[-1]:
        raise Refused("The saturation table goes from -40 to 64 °C.", "temperature_c")
    at = min(bisect_right(temperatures, temperature_c), len(table) - 1)
    low, high = table[at - 1], table[at]
    t0, t1, t = low[0] + _KELVIN, high[0] + _KELVIN, temperature_c + _KELVIN
    share = (1 / t0 - 1 / t) / (1 / t0 - 1 / t1)
    return exp((1 - share) * log(low[side]) + share * log(high[side]))


@calculation("refrigerant.superheat", "Superheat of the suction gas", result="superheat_k")
def superheat(
    refrigerant: Refrigerant,
    suction_gauge_pa: float,
    suction_line_c: float,
    pressure_pa: float = SEA_LEVEL_PA,
    work: Working = SILENT,
) -> float:
    """Suction line temperature less the dew point of the suction pressure [K].

    Parameters
    ----------
    refrigerant : str
        R-410A, R-32, R-454B, R-22 or R-134a.
    suction_gauge_pa : float
        As the gauge shows it, over the air around it [Pa]; the table goes from -40 to 64 °C.
    suction_line_c : float
        Of the suction line [°C].
    pressure_pa : float
        Air pressure of the site [Pa]: gauges show less at a height.

    Raises
    ------
    Refused
        A pressure outside the saturation table.

    References
    ----------
    Saturation tables made with CoolProp (Bell and others, Ind. Eng. Chem. Res. 53, 2014).

    >>> round(superheat("R-410A", 888_000.0, 13.0), 1)
    6.1
    """
    within(suction_line_c, LINE_C, "suction_line_c", "temperature")
    dew = _saturated(refrigerant, suction_gauge_pa, pressure_pa, DEW, "suction_gauge_pa", work)
    return work.step(
        "superheat",
        "SH",
        "T_line - T_dew",
        suction_line_c - dew,
        "temperature_difference",
        T_line=(suction_line_c, "temperature"),
        T_dew=(dew, "temperature"),
    )


@calculation("refrigerant.subcooling", "Subcooling of the liquid", result="subcooling_k")
def subcooling(
    refrigerant: Refrigerant,
    liquid_gauge_pa: float,
    liquid_line_c: float,
    pressure_pa: float = SEA_LEVEL_PA,
    work: Working = SILENT,
) -> float:
    """Bubble point of the liquid's pressure less the liquid line's temperature [K].

    Parameters
    ----------
    refrigerant : str
        R-410A, R-32, R-454B, R-22 or R-134a.
    liquid_gauge_pa : float
        As the gauge shows it, over the air around it [Pa]; the table goes from -40 to 64 °C.
    liquid_line_c : float
        Of the liquid line [°C].
    pressure_pa : float
        Air pressure of the site [Pa]: gauges show less at a height.

    Raises
    ------
    Refused
        A pressure outside the saturation table.

    References
    ----------
    Saturation tables made with CoolProp (Bell and others, Ind. Eng. Chem. Res. 53, 2014).

    >>> round(subcooling("R-410A", 2_520_000.0, 37.0), 1)
    6.2
    """
    within(liquid_line_c, LINE_C, "liquid_line_c", "temperature")
    bubble = _saturated(refrigerant, liquid_gauge_pa, pressure_pa, BUBBLE, "liquid_gauge_pa", work)
    return work.step(
        "subcooling",
        "SC",
        "T_bubble - T_line",
        bubble - liquid_line_c,
        "temperature_difference",
        T_bubble=(bubble, "temperature"),
        T_line=(liquid_line_c, "temperature"),
    )


def _saturated(refrigerant: Refrigerant, gauge_pa: float, pressure_pa: float, side: int, path: str, work: Working) -> float:
    try:
        found = saturation_temperature(refrigerant, gauge_pa + pressure_pa, side)
    except Refused as refusal:
        raise refusal.at(path) from refusal
    name, symbol = ("dew point", "T_dew") if side == DEW else ("bubble point", "T_bubble")
    return work.step(
        f"{name} of {refrigerant} at this pressure",
        symbol,
        "table(P_gauge + P_air)",
        found,
        "temperature",
        source="saturation table from the open library CoolProp",
        P_gauge=(gauge_pa, "refrigerant_pressure"),
        P_air=(pressure_pa, "barometric_pressure"),
    )

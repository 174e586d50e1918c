"""The fresh air that a dwelling needs, by both editions of the residential standard, and what its leaks give of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from fentro_core.base.calculation import calculation
from fentro_core.base.working import SILENT, Working
from fentro_core.system.fresh_air import Dwelling, Edition

EDITIONS: Mapping[Edition, str] = {"2010": "2010 edition and before", "2013": "2013 edition and after"}

CFM = 4.719474432e-4
"""One cubic foot a minute [m³/s]."""

SQ_FT = 0.09290304
"""One square foot [m²]."""

PER_AREA: Mapping[Edition, float] = {"2010": 0.01 * CFM / SQ_FT, "2013": 0.03 * CFM / SQ_FT}
"""Fresh air per floor area [m³/s per m²]: 0.01 and 0.03 cfm per square foot."""

PER_PERSON = 7.5 * CFM
"""Fresh air a person [m³/s]: 7.5 cfm."""

MOST_CREDIT = 2.0 / 3.0
"""Leaks count for at most this share of the whole."""

EXPONENT, DOOR_PA, LEAK_PA = 0.65, 50.0, 4.0
AIR_KG_M3 = 1.2
STOREY_REFERENCE_M, STOREY_EXPONENT = 2.5, 0.4
LEAK_DIVISOR = 1.44e3
"""``Q = NL wsf A / 1.44`` in L/s and m²."""


@dataclass(frozen=True)
class DwellingNeed:
    """What one edition asks: the whole [m³/s], what leaks give of it, what the ventilator must give, all without a break."""

    edition: Edition
    whole_m3s: float
    leaks_m3s: float
    required_m3s: float


@calculation("ventilation.dwelling", "Fresh air that a dwelling needs")
def dwelling_need(dwelling: Dwelling, edition: Edition = "2013", work: Working = SILENT) -> DwellingNeed:
    """``0.01 A + 7.5 P`` (2010 and before) or ``0.03 A + 7.5 P`` (2013 and after) in cfm, less what tested leaks give.

    Parameters
    ----------
    dwelling : Dwelling
        Floor area [m²], bedrooms; people are bedrooms + 1, or more where they are named. A blower door's flow counts in the
        later edition only: the earlier one has ordinary leaks in its figure.
    edition : str
        ``2010`` or ``2013``. Local code says which one holds.

    Raises
    ------
    Refused
        A floor outside 10 to 2,000 m², over 20 bedrooms; a leakage without height or weather factor.

    References
    ----------
    Residential ventilation standard, editions to 2010 and from 2013; infiltration by normalized leakage: leakage area at 4 Pa
    from the flow at 50 Pa (exponent 0.65), ``NL = 1000 ELA/A (H/2.5 m)^0.4``, ``Q = NL wsf A / 1.44`` [L/s], at most two thirds
    of the whole. Editions after 2013 count less of it for a ventilator that only blows in or out: see the edition in force.

    >>> found = dwelling_need(Dwelling(1740 * SQ_FT, 3), "2010")
    >>> round(found.required_m3s / CFM, 1)
    47.4
    """
    dwelling.check()
    people = max(dwelling.bedrooms + 1, dwelling.people or 0)
    per_area = PER_AREA[edition]
    whole = work.step(
        f"fresh air, {EDITIONS[edition]}",
        "Q",
        f"{per_area * 1000:.4f} * A + {PER_PERSON * 1000:.3f} * P",
        per_area * dwelling.floor_area_m2 + PER_PERSON * people,
        "airflow",
        us=f"{0.01 if edition == '2010' else 0.03} * A + 7.5 * P",
        source="residential ventilation standard",
        A=(dwelling.floor_area_m2, "area"),
        P=(float(people), "ratio"),
    )
    leaks = _leaks(dwelling, whole, work) if edition == "2013" else 0.0
    required = whole - leaks
    if leaks:
        work.step("left for the ventilator", "Q_v", "Q - Q_i", required, "airflow", Q=(whole, "airflow"), Q_i=(leaks, "airflow"))
    return DwellingNeed(edition, whole, leaks, required)


def _leaks(dwelling: Dwelling, whole: float, work: Working) -> float:
    """What leaks give over the year [m³/s], two thirds of the whole at most."""
    door, height, weather = dwelling.blower_door_m3s, dwelling.height_m, dwelling.weather_factor
    if door is None or height is None or weather is None:
        return 0.0
    area = dwelling.floor_area_m2
    opening = door * (LEAK_PA / DOOR_PA) ** EXPONENT * (AIR_KG_M3 / (2.0 * LEAK_PA)) ** 0.5
    normalized = work.step(
        "normalized leakage",
        "NL",
        "75.01 * Q_50 / A * (H / 2.5) ^ 0.4 / 1000",
        1000.0 * opening / area * (height / STOREY_REFERENCE_M) ** STOREY_EXPONENT,
        "ratio",
        us="381.0 * Q_50 / A * (H / 8.2) ^ 0.4 / 1000",
        source="leakage area at 4 Pa by an exponent of 0.65",
        Q_50=(door, "airflow"),
        A=(area, "area"),
        H=(height, "length"),
    )
    leaks = work.step(
        "what leaks give over a year",
        "Q_i",
        "NL * wsf * A / 1.44",
        normalized * weather * area / LEAK_DIVISOR,
        "airflow",
        us="NL * wsf * A / 7.3",
        source="residential ventilation standard, from 2013",
        NL=(normalized, "ratio"),
        wsf=(weather, "ratio"),
        A=(area, "area"),
    )
    most = MOST_CREDIT * whole
    if leaks <= most:
        return leaks
    return work.step(
        "counted at most", "Q_i", "2 / 3 * Q", most, "airflow", source="two thirds of the whole", Q=(whole, "airflow")
    )

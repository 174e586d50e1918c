"""The hours of a year: how long outdoor air may cool by each changeover, and the hours a sensor's error loses."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.air.pressure import SEA_LEVEL_PA
from fentro_core.air.state import AirState
from fentro_core.economizer.changeover import (
    CAP_F,
    FIXED_ENTHALPY_J_PER_KG,
    FIXED_LIMIT_F,
    NOT_DIFFERENTIAL_DRY_BULB,
    School,
)
from fentro_core.economizer.weather import WeatherYear
from fentro_core.refusal import Refused

CP, EVAPORATION, CP_VAPOUR = 1006.0, 2.501e6, 1860.0
SCHOOLS: tuple[School, ...] = ("fixed_dry_bulb", "differential_dry_bulb", "fixed_enthalpy", "differential_enthalpy")
SENSOR_K, SENSOR_RH = 0.6, 0.05
"""An ordinary duct sensor's half-widths: 1 °F, and 5 % of relative humidity. Ours; type the sensor's own."""


@dataclass(frozen=True)
class SchoolHours:
    """One school over a year [h]. `lost`: free cooling refused by a sensor that errs to the warm side; `mis_spent`:
    outdoor air let in that costs more than it saves, by one that errs to the cool side. `allowed`: in this zone."""

    school: School
    free: int
    lost: int
    mis_spent: int
    allowed: bool


@dataclass(frozen=True)
class YearHours:
    """All schools over one year of weather; `needed`: hours with a call for cooling."""

    weather: str
    made_up: bool
    needed: int
    schools: tuple[SchoolHours, ...]


def hours_of_year(
    year: WeatherYear,
    climate_zone: str,
    return_air: AirState | None = None,
    limit_c: float | None = None,
    cooling_from_c: float = 10.0,
    sensor_k: float = SENSOR_K,
    sensor_rh: float = SENSOR_RH,
    hours: tuple[int, int] = (6, 20),
) -> YearHours:
    """Count the year for all four schools; every hour's air from its dry bulb and humidity at the site's pressure.

    Parameters
    ----------
    limit_c : float, optional
        The controller's own dry-bulb limit; else the zone's.
    cooling_from_c : float
        Rooms need cooling from this outdoor temperature [°C].
    sensor_k, sensor_rh : float
        Half-widths of the sensors: temperature [K], relative humidity 0 to 1. In differential schools both sensors err apart.
    hours : (int, int)
        Of the day, occupied from and to.

    Raises
    ------
    Refused
        No climate zone; an error below zero.
    """
    if climate_zone not in FIXED_LIMIT_F:
        raise Refused("Set the site's climate zone first.", "climate_zone")
    if sensor_k < 0 or sensor_rh < 0:
        raise Refused("A sensor's error can't be below zero.", "sensor_k" if sensor_k < 0 else "sensor_rh")
    back = return_air or AirState.from_rh(24.0, 0.5, SEA_LEVEL_PA)
    zone_limit = (FIXED_LIMIT_F[climate_zone] - 32) / 1.8 if limit_c is None else limit_c
    cap = (CAP_F - 32) / 1.8
    air = _hours(year, back.pressure_pa, cooling_from_c, hours)
    found = []
    for school in SCHOOLS:
        dry = {"fixed_dry_bulb": zone_limit, "differential_dry_bulb": back.dry_bulb_c}.get(school, cap)
        wet = {"fixed_enthalpy": FIXED_ENTHALPY_J_PER_KG, "differential_enthalpy": back.enthalpy_j_per_kg}.get(school, 1e12)
        both = 2**0.5 if school.startswith("differential") else 1.0
        free = lost = mis_spent = 0
        for celsius, enthalpy, per_k, per_rh in air:
            error_k = sensor_k * (both if wet > 1e11 else 1.0)
            error_h = both * ((sensor_k * per_k) ** 2 + (sensor_rh * per_rh) ** 2) ** 0.5
            true = celsius <= dry and enthalpy <= wet
            free += true
            lost += true and (celsius + error_k > dry or enthalpy + error_h > wet)
            mis_spent += not true and celsius - error_k <= dry and enthalpy - error_h <= wet
        allowed = school != "differential_dry_bulb" or climate_zone not in NOT_DIFFERENTIAL_DRY_BULB
        found.append(SchoolHours(school, free, lost, mis_spent, allowed))
    return YearHours(year.name, year.made_up, len(air), tuple(found))


def _hours(
    year: WeatherYear, pressure_pa: float, cooling_from_c: float, hours: tuple[int, int]
) -> list[tuple[float, float, float, float]]:
    """Of every hour with a call for cooling: dry bulb, enthalpy, and how enthalpy moves per K and per unit of humidity."""
    found = []
    first, last = hours
    for index, (celsius, share) in enumerate(zip(year.dry_bulb_c, year.relative_humidity, strict=True)):
        if celsius < cooling_from_c or not first <= index % 24 < last:
            continue
        ratio = AirState.from_rh(celsius, share, pressure_pa).humidity_ratio
        evaporating = EVAPORATION + CP_VAPOUR * celsius
        per_k = CP + ratio * CP_VAPOUR + evaporating * ratio * 0.062
        found.append((celsius, CP * celsius + ratio * evaporating, per_k, evaporating * ratio / share))
    return found

"""The hours of a year: how long outdoor air may cool by each changeover, and the hours a sensor's error loses."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.air.constants import CP_DRY_AIR, heat_capacity, vapour_enthalpy
from fentro_core.air.pressure import SEA_LEVEL_PA
from fentro_core.air.state import AirState
from fentro_core.base.refusal import Refused
from fentro_core.economizer.changeover import CAP_F, FIXED_LIMIT_F, NOT_DIFFERENTIAL_DRY_BULB, enthalpy_limit
from fentro_core.economizer.proof.day import Day
from fentro_core.system.nameplate import ChangeoverMethod
from fentro_core.weather.year import WeatherYear, read_epw, synthetic_year

METHODS: tuple[ChangeoverMethod, ...] = ("fixed_dry_bulb", "differential_dry_bulb", "fixed_enthalpy", "differential_enthalpy")
SENSOR_K, SENSOR_RH = 0.6, 0.05
"""An ordinary duct sensor's half-widths: 1 °F, and 5 % of relative humidity. Ours; type the sensor's own."""


@dataclass(frozen=True)
class MethodHours:
    """One method over a year [h]. `lost`: free cooling refused by a sensor that errs to the warm side; `mis_spent`:
    outdoor air let in that costs more than it saves, by one that errs to the cool side. `allowed`: in this zone."""

    method: ChangeoverMethod
    free: int
    lost: int
    mis_spent: int
    allowed: bool


@dataclass(frozen=True)
class YearHours:
    """All methods over one year of weather; `needed`: hours with a call for cooling; `missing`: hours without weather, of all
    that would count, so that the counts may be too low by as many."""

    weather: str
    made_up: bool
    needed: int
    methods: tuple[MethodHours, ...]
    missing: int


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
    """Count the year for all four methods; every hour's air from its dry bulb and humidity at the site's pressure.

    Parameters
    ----------
    limit_c : float, optional
        The controller's own dry-bulb limit; else the zone's.
    cooling_from_c : float
        Rooms need cooling from this outdoor temperature [°C].
    sensor_k, sensor_rh : float
        Half-widths of the sensors: temperature [K], relative humidity 0 to 1. In differential methods both sensors err apart.
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
    cap, fixed = (CAP_F - 32) / 1.8, enthalpy_limit(back.pressure_pa)
    air = _hours(year, back.pressure_pa, cooling_from_c, hours)
    found = []
    for method in METHODS:
        dry = {"fixed_dry_bulb": zone_limit, "differential_dry_bulb": back.dry_bulb_c}.get(method, cap)
        wet = {"fixed_enthalpy": fixed, "differential_enthalpy": back.enthalpy_j_per_kg}.get(method, 1e12)
        both = 2**0.5 if method.startswith("differential") else 1.0
        free = lost = mis_spent = 0
        for celsius, enthalpy, per_k, per_rh in air:
            error_k = sensor_k * (both if wet > 1e11 else 1.0)
            error_h = both * ((sensor_k * per_k) ** 2 + (sensor_rh * per_rh) ** 2) ** 0.5
            true = celsius <= dry and enthalpy <= wet
            free += true
            lost += true and (celsius + error_k > dry or enthalpy + error_h > wet)
            mis_spent += not true and celsius - error_k <= dry and enthalpy - error_h <= wet
        allowed = method != "differential_dry_bulb" or climate_zone not in NOT_DIFFERENTIAL_DRY_BULB
        found.append(MethodHours(method, free, lost, mis_spent, allowed))
    first, last = hours
    missing = sum(first <= hour % 24 < last for hour in year.missing)
    return YearHours(year.name, year.made_up, len(air), tuple(found), missing)


def _hours(
    year: WeatherYear, pressure_pa: float, cooling_from_c: float, hours: tuple[int, int]
) -> list[tuple[float, float, float, float]]:
    """Of every hour with a call for cooling: dry bulb, enthalpy, and how enthalpy moves per K and per unit of humidity."""
    found = []
    first, last = hours
    missing = set(year.missing)
    for index, (celsius, share) in enumerate(zip(year.dry_bulb_c, year.relative_humidity, strict=True)):
        if celsius < cooling_from_c or not first <= index % 24 < last or index in missing:
            continue
        ratio = AirState.from_rh(celsius, share, pressure_pa).humidity_ratio
        evaporating = vapour_enthalpy(celsius)
        per_k = heat_capacity(ratio) + evaporating * ratio * 0.062
        found.append((celsius, CP_DRY_AIR * celsius + ratio * evaporating, per_k, evaporating * ratio / share))
    return found


def year_question(
    day: Day,
    climate_zone: str,
    weather: str = "",
    sensor_k: float = SENSOR_K,
    sensor_rh: float = SENSOR_RH,
    limit_c: float | None = None,
) -> YearHours:
    """The hours of a year as a visit asks for them: against its own return air, by a weather file or the zone's made-up year.

    Parameters
    ----------
    weather : str
        Text of an EPW file; empty: the made-up year of the zone.
    sensor_k, sensor_rh
        Half-widths of the sensors, 0 to 10 K and 0 to 0.5.
    limit_c
        The controller's own limit, -20 to 50 °C.

    Raises
    ------
    Refused
        A half-width or limit out of range, a file that can't be read, a site without climate zone.
    """
    if not 0 <= sensor_k <= 10:
        raise Refused("A sensor's error lies between 0 and {most}.", "sensor_k", most=(10.0, "temperature_difference"))
    if not 0 <= sensor_rh <= 0.5:
        raise Refused("A humidity sensor's error lies between 0 and 50 %.", "sensor_rh")
    if limit_c is not None and not -20 <= limit_c <= 50:
        raise Refused(
            "A high limit lies between {low} and {high}.", "limit_c", low=(-20.0, "temperature"), high=(50.0, "temperature")
        )
    year = read_epw(weather) if weather else synthetic_year(climate_zone)
    back = AirState.from_rh(day.return_c, day.return_rh, day.pressure_pa)
    return hours_of_year(year, climate_zone, back, limit_c, sensor_k=sensor_k, sensor_rh=sensor_rh)

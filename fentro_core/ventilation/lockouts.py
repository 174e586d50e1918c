"""What lockouts of a ventilator cost: a year by the hour, the air that is missed, the energy, and the best pair of limits."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import accumulate

from fentro_core.air.constants import CP_DRY_AIR, EVAPORATION_J_PER_KG, GAS_CONSTANT, KELVIN
from fentro_core.air.pressure import SEA_LEVEL_PA
from fentro_core.air.saturation import WATER_TO_AIR, saturated_ratio, saturation
from fentro_core.base.calculation import calculation
from fentro_core.base.limits import within
from fentro_core.base.refusal import Refused, inside
from fentro_core.base.working import SILENT, Working
from fentro_core.system.fresh_air import Lockouts
from fentro_core.ventilation.runtime import NEED_M3S
from fentro_core.weather.year import HOURS, WeatherYear, read_epw, synthetic_year

HEATED_C, COOLED_C = 20.0, 24.5
"""Rooms are heated to, and cooled to; in between outdoor air costs nothing."""

DRIED_RH = 0.55
"""Rooms that are cooled are dried to this."""

ROOM_GAIN = 0.0015
"""What people, cooking and washing add to the moisture of a dwelling's air [kg/kg]. Ours, ordinary."""

DAY_H = 24

LOWS = tuple(float(c) for c in range(-30, 17, 2))
HIGHS = tuple(float(c) for c in range(24, 47, 2))
"""Limits that are tried [°C]; one degree to both sides of the best afterwards."""


@dataclass(frozen=True)
class YearOfAir:
    """One year with some lockouts.

    Attributes
    ----------
    low_c, high_c
        The limits of outdoor temperature [°C]; None: none.
    locked_h
        Hours in which it stays off.
    missed_share
        Of the year's need, with a control that does not make up for it.
    short_days
        Days on which some is missed that way.
    failed_days
        Days on which even running all the hours left does not give what the day needs.
    missed_made_up_share
        Of the year's need, where each day makes up for itself as far as it can.
    heating_j, cooling_j, drying_j
        Heat that the air takes over the year [J], when each day makes up for itself.
    fan_j
        The ventilator's own [J], and the system's blower while it runs along.
    """

    low_c: float | None
    high_c: float | None
    locked_h: int
    missed_share: float
    short_days: int
    failed_days: int
    missed_made_up_share: float
    heating_j: float
    cooling_j: float
    drying_j: float
    fan_j: float

    @property
    def conditioning_j(self) -> float:
        """Heat and cold together."""
        return self.heating_j + self.cooling_j + self.drying_j


@dataclass(frozen=True)
class LockoutYear:
    """As asked, without any lockout, and with the pair that costs least and fails on no day.

    Attributes
    ----------
    weather, made_up
        The year's name; whether it is made up for a climate zone.
    as_set, none, best
        The three.
    cold_h, hot_h, moist_h, indoor_h
        Hours locked, each counted once, by the first limit that says so.
    days
        A letter an hour, a line a day: ``.`` runs, ``c`` cold, ``h`` hot, ``d`` moist outdoors, ``m`` moist indoors.
    missing
        Hours without weather in the file.
    spared_j
        Heat and cold that the lockouts as set spare over the year [J].
    """

    weather: str
    made_up: bool
    as_set: YearOfAir
    none: YearOfAir
    best: YearOfAir
    cold_h: int
    hot_h: int
    moist_h: int
    indoor_h: int
    days: tuple[str, ...]
    missing: int
    spared_j: float


@dataclass(frozen=True)
class Running:
    """What runs: needed without a break and measured [m³/s], minutes an hour as set, watts of fan and of a blower along with it,
    share of heat that is recovered.
    """

    required_m3s: float
    measured_m3s: float
    set_minutes: float = 60.0
    fan_power_w: float = 0.0
    interlock_w: float = 0.0
    recovered_share: float = 0.0

    def check(self) -> None:
        """Refuse what no ventilator does."""
        within(self.required_m3s, NEED_M3S, "required_m3s", "airflow")
        within(self.measured_m3s, NEED_M3S, "measured_m3s", "airflow")
        if not 0.0 <= self.set_minutes <= 60.0:
            raise Refused("An hour has 0 to 60 minutes.", "set_minutes")
        for name in ("fan_power_w", "interlock_w"):
            within(getattr(self, name), (0.0, 5000.0), name, "electric_power")
        if not 0.0 <= self.recovered_share <= 0.95:
            raise Refused("Between 0 and 95 % of the heat are recovered.", "recovered_share")


@dataclass(frozen=True)
class _Hour:
    """Outdoor temperature; heat, cold and drying that a cubic metre of its air takes [J]; the lock that moisture sets."""

    celsius: float
    heating: float
    cooling: float
    drying: float
    moist: str


@calculation("ventilation.year", "What lockouts of a ventilator cost over a year")
def lockout_year(
    running: Running,
    lockouts: Lockouts,
    climate_zone: str = "",
    weather: str = "",
    pressure_pa: float = SEA_LEVEL_PA,
    work: Working = SILENT,
) -> LockoutYear:
    """Every hour of a year: locked or not, what each day then misses or makes up for, the energy, and the best pair of limits.

    Each day makes up for its locked hours in the others, evenly, as far as the ventilator can. The best pair is found by trying
    pairs: the least energy among those that fail on no day.

    Parameters
    ----------
    running : Running
        The ventilator.
    lockouts : Lockouts
        As set at the control, or as planned.
    climate_zone : str
        For the made-up year, where no weather is given.
    weather : str
        Text of an EPW file; "" the made-up year of the zone.
    pressure_pa : float
        Of the site [Pa].

    Raises
    ------
    Refused
        A ventilator or limits that can't be, a file that can't be read, no climate zone.

    References
    ----------
    Heat of moist air; rooms heated to 20 °C, cooled to 24.5 °C and dried to 55 %; indoor moisture by the day's mean outdoors and
    an ordinary gain (ours). EPW columns 7 and 9.

    >>> found = lockout_year(Running(0.024, 0.068, 25.0), Lockouts(low_c=-10.0), "5A")
    >>> found.as_set.locked_h > 0, found.none.locked_h, found.best.failed_days
    (True, 0, 0)
    """
    for given, name in ((running, "running"), (lockouts, "lockouts")):
        with inside(name):
            given.check()
    within(pressure_pa, (50_000.0, 110_000.0), "pressure_pa", "barometric_pressure")
    year = read_epw(weather) if weather else synthetic_year(climate_zone)
    hours = _hours(year, lockouts, pressure_pa, running.recovered_share)
    days = [hours[start : start + DAY_H] for start in range(0, HOURS, DAY_H)]
    letters = tuple("".join(_letter(hour, lockouts) for hour in day) for day in days)
    flat = "".join(letters)
    dry = [_Day(day, running) for day in days]
    free = dry
    if lockouts.dew_point_c is not None or lockouts.indoor_rh is not None:
        free = [_Day([_open(hour) for hour in day], running) for day in days]
    as_set = _year(dry, running, lockouts.low_c, lockouts.high_c)
    none = _year(free, running, None, None)
    spared = work.step(
        "energy spared by the lockouts",
        "E",
        "E_0 - E_h - E_c - E_d",
        none.conditioning_j - as_set.conditioning_j,
        "energy",
        source="every hour of the year; each day makes up for its locked hours as far as it can",
        E_0=(none.conditioning_j, "energy"),
        E_h=(as_set.heating_j, "energy"),
        E_c=(as_set.cooling_j, "energy"),
        E_d=(as_set.drying_j, "energy"),
    )
    return LockoutYear(
        year.name,
        year.made_up,
        as_set,
        none,
        _best(dry, running),
        flat.count("c"),
        flat.count("h"),
        flat.count("d"),
        flat.count("m"),
        letters,
        len(year.missing),
        spared,
    )


def _open(hour: _Hour) -> _Hour:
    return _Hour(hour.celsius, hour.heating, hour.cooling, hour.drying, "")


def _letter(hour: _Hour, lockouts: Lockouts) -> str:
    if lockouts.low_c is not None and hour.celsius < lockouts.low_c:
        return "c"
    if lockouts.high_c is not None and hour.celsius > lockouts.high_c:
        return "h"
    return hour.moist or "."


def _hours(year: WeatherYear, lockouts: Lockouts, pressure_pa: float, recovered: float) -> list[_Hour]:
    """Every hour's air, and what a cubic metre of it takes to become the rooms' air."""
    ratios = _ratios(year, pressure_pa)
    moist_ratio = saturated_ratio(lockouts.dew_point_c, pressure_pa) if lockouts.dew_point_c is not None else None
    dried = _ratio_at(COOLED_C, DRIED_RH, pressure_pa)
    kept = (1.0 - recovered) * pressure_pa / (GAS_CONSTANT * (HEATED_C + KELVIN))
    indoors = _indoors(year.dry_bulb_c, ratios, dried) if lockouts.indoor_rh is not None else ()
    found = []
    for index, (celsius, ratio) in enumerate(zip(year.dry_bulb_c, ratios, strict=True)):
        moist = ""
        if moist_ratio is not None and ratio > moist_ratio:
            moist = "d"
        elif lockouts.indoor_rh is not None:
            room_c = min(max(celsius, HEATED_C), COOLED_C)
            if indoors[index] > _ratio_at(room_c, lockouts.indoor_rh, pressure_pa):
                moist = "m"
        heating = kept * CP_DRY_AIR * (HEATED_C - celsius) if celsius < HEATED_C else 0.0
        cooling = kept * CP_DRY_AIR * (celsius - COOLED_C) if celsius > COOLED_C else 0.0
        drying = kept * EVAPORATION_J_PER_KG * (ratio - dried) if celsius > HEATED_C and ratio > dried else 0.0
        found.append(_Hour(celsius, heating, cooling, drying, moist))
    return found


def _ratios(year: WeatherYear, pressure_pa: float) -> list[float]:
    """Humidity ratio of every hour; saturation is worked out once a temperature."""
    known: dict[float, float] = {}
    found = []
    for celsius, share in zip(year.dry_bulb_c, year.relative_humidity, strict=True):
        saturated = known.get(celsius)
        if saturated is None:
            saturated = known[celsius] = saturation(celsius)[0]
        vapour_pa = share * saturated
        found.append(WATER_TO_AIR * vapour_pa / (pressure_pa - vapour_pa))
    return found


def _ratio_at(celsius: float, share: float, pressure_pa: float) -> float:
    vapour_pa = share * saturation(celsius)[0]
    return WATER_TO_AIR * vapour_pa / (pressure_pa - vapour_pa)


def _indoors(dry_bulb_c: Sequence[float], ratios: Sequence[float], dried: float) -> list[float]:
    """The rooms' moisture: the mean outdoors of the day before, and what people add; where it is cooled, dried."""
    sums = (0.0, *accumulate((*ratios[-DAY_H:], *ratios)))
    means = [(later - earlier) / DAY_H for earlier, later in zip(sums, sums[DAY_H:], strict=False)]
    return [
        min(mean + ROOM_GAIN, dried) if celsius > COOLED_C else mean + ROOM_GAIN
        for mean, celsius in zip(means, dry_bulb_c, strict=False)
    ]


class _Day:
    """A day's hours that are not locked by moisture, from cold to hot, with sums of what their air takes."""

    def __init__(self, hours: Sequence[_Hour], running: Running) -> None:
        ordered = sorted((hour for hour in hours if not hour.moist), key=lambda hour: hour.celsius)
        self.celsius = [hour.celsius for hour in ordered]
        self.heating = (0.0, *accumulate(hour.heating for hour in ordered))
        self.cooling = (0.0, *accumulate(hour.cooling for hour in ordered))
        self.drying = (0.0, *accumulate(hour.drying for hour in ordered))
        self.all = [h + c + d for h, c, d in zip(self.heating, self.cooling, self.drying, strict=True)]
        self.need_h = DAY_H * running.required_m3s / running.measured_m3s

    def open(self, low_c: float | None, high_c: float | None) -> tuple[int, int]:
        """From which to which of the hours it may run."""
        start = 0 if low_c is None else bisect_left(self.celsius, low_c)
        end = len(self.celsius) if high_c is None else bisect_right(self.celsius, high_c)
        return start, max(start, end)


def _year(days: Sequence[_Day], running: Running, low_c: float | None, high_c: float | None) -> YearOfAir:
    locked = short = failed = 0
    missed = lost = heating = cooling = drying = on_h = 0.0
    plain_h = running.set_minutes / 60.0
    for day in days:
        start, end = day.open(low_c, high_c)
        hours = end - start
        locked += DAY_H - hours
        lacks = max(day.need_h - plain_h * hours, 0.0)
        missed += lacks
        short += lacks > 1e-9
        on = min(day.need_h, float(hours))
        failed += on < day.need_h - 1e-9
        lost += day.need_h - on
        on_h += on
        if hours:
            air = running.measured_m3s * on * 3600.0 / hours
            heating += air * (day.heating[end] - day.heating[start])
            cooling += air * (day.cooling[end] - day.cooling[start])
            drying += air * (day.drying[end] - day.drying[start])
    need = sum(day.need_h for day in days)
    return YearOfAir(
        low_c,
        high_c,
        locked,
        missed / need,
        short,
        failed,
        lost / need,
        heating,
        cooling,
        drying,
        on_h * 3600.0 * (running.fan_power_w + running.interlock_w),
    )


def _best(days: Sequence[_Day], running: Running) -> YearOfAir:
    """The pair with the least energy among those with the fewest days that fail; first coarsely, then by single degrees."""
    coarse = _least(days, (None, *LOWS), (None, *HIGHS))
    fine = _least(days, tuple(_around(coarse[0])), tuple(_around(coarse[1])))
    return _year(days, running, *fine)


def _around(limit: float | None) -> Iterator[float | None]:
    """A limit and its neighbours by a degree."""
    yield limit
    if limit is not None:
        yield from (limit - 1.0, limit + 1.0)


Limits = Sequence[float | None]


def _least(days: Sequence[_Day], lows: Limits, highs: Limits) -> tuple[float | None, float | None]:
    energy = [[0.0] * len(highs) for _ in lows]
    failed = [[0] * len(highs) for _ in lows]
    for day in days:
        starts = [day.open(low, None)[0] for low in lows]
        ends = [day.open(None, high)[1] for high in highs]
        sums, need = day.all, day.need_h
        for row, start in enumerate(starts):
            energies, fails = energy[row], failed[row]
            for column, end in enumerate(ends):
                hours = end - start
                if hours <= 0:
                    fails[column] += 1
                    continue
                on = need
                if hours < need - 1e-9:
                    fails[column] += 1
                    on = hours
                energies[column] += on * (sums[end] - sums[start]) / hours
    pairs = [(row, column) for row in range(len(lows)) for column in range(len(highs)) if _fit(lows[row], highs[column])]
    row, column = min(pairs, key=lambda at: (failed[at[0]][at[1]], round(energy[at[0]][at[1]], 6), *at))
    return lows[row], highs[column]


def _fit(low: float | None, high: float | None) -> bool:
    return low is None or high is None or low < high

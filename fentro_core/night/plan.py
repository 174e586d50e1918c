"""Night cooling: tonight's plan for a house, found by search over how far to cool and how hard to blow, hour by hour.

The house is two nodes (`house.py`). A cubic metre of night air is worth what it saves the compressor tomorrow; the blower's power
goes with the cube of its flow, so each hour has a best speed for what the air is worth. That worth and the floor down to which it
blows are searched, then every hour's speed is tried for itself. The two fixed rules stand beside it with their cost.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from math import cos, pi

from fentro_core.air.constants import CP_DRY_AIR
from fentro_core.base.calculation import calculation
from fentro_core.base.limits import WEATHER_C, within
from fentro_core.base.refusal import Refused, inside
from fentro_core.base.working import SILENT, Working
from fentro_core.night.house import AIR_KG_M3, STEP_S, STEPS_PER_HOUR, Weather, step_of
from fentro_core.system.night_setup import Cooling, Flush, Hold, House

SPEEDS = (0.0, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1.0)
"""Shares of the blower's full flow that are tried."""

WORTHS = (0.05, 0.1, 0.15, 0.2, 0.3, 0.4, 0.6)
"""What a joule taken out of the house tonight may be worth tomorrow, in joules of electricity. Searched."""

FLOOR_STEPS_K = (0.0, 0.5, 1.0, 1.5, 2.0, 3.0, 4.0)
"""Floors that are tried, above the comfort floor."""

RULE_K = 2.2
"""A usual fixed rule: full speed while outdoor air is this much colder than the rooms (4 °F)."""

CLOCK = (22, 6)
"""Another: full speed between these hours while outdoor air is colder at all."""

MOST_HOURS = 72
NEAR_K = 0.02


@dataclass(frozen=True)
class Tonight:
    """The forecast from an hour of the evening on, and how the house stands then: air and mass [°C]."""

    first_hour: int
    weather: Weather
    air_c: float
    mass_c: float

    def check(self) -> None:
        """Refuse a forecast too short to have a day after it, or that can't be."""
        if not 0 <= self.first_hour <= 23:
            raise Refused("An hour of the day lies between 0 and 23.", "first_hour")
        hours = len(self.weather.outdoor_c)
        if not 12 <= hours <= MOST_HOURS:
            raise Refused("A forecast has 12 to 72 hours: the night and the day after it.", "weather.outdoor_c")
        for name in ("gains_w", "solar_w", "dew_point_c"):
            given = getattr(self.weather, name)
            if given and len(given) != hours:
                raise Refused("Give one for each hour of the forecast.", f"weather.{name}")
        if not self.weather.gains_w:
            raise Refused("Give the gains of each hour.", "weather.gains_w")
        for index, celsius in enumerate(self.weather.outdoor_c):
            within(celsius, WEATHER_C, f"weather.outdoor_c.{index}", "temperature")
        for name in ("air_c", "mass_c"):
            within(getattr(self, name), (0.0, 45.0), name, "temperature")

    def hour_of_day(self, hour: int) -> int:
        """Of the day, of an hour of the forecast."""
        return (self.first_hour + hour) % 24


@dataclass(frozen=True)
class Course:
    """What a night and the day after it become.

    Attributes
    ----------
    speeds
        The blower's share of full flow, by the hour.
    air_c, mass_c
        At each full hour, the first one included.
    fan_j, compressor_j, compressor_s
        Electricity [J], and time at full capacity [s].
    coldest_c, wake_c
        Air at its coldest, and at wake-up.
    too_warm_kh
        Kelvin-hours over the setpoint that the compressor could not take.
    """

    speeds: tuple[float, ...]
    air_c: tuple[float, ...]
    mass_c: tuple[float, ...]
    fan_j: float
    compressor_j: float
    compressor_s: float
    coldest_c: float
    wake_c: float
    too_warm_kh: float

    @property
    def all_j(self) -> float:
        """Electricity of both."""
        return self.fan_j + self.compressor_j


@dataclass(frozen=True)
class NightPlan:
    """Tonight's plan beside the two fixed rules and nothing at all.

    Attributes
    ----------
    plan, by_difference, by_clock, without
        Each with its course and cost.
    target_c
        Air down to which it blows.
    start_hour, stop_hour
        Of the day; None where it does not blow.
    saved_j, saved_s
        Electricity [J] and compressor time [s] less than without.
    held
        Why nothing is blown at all: ``dew_point``, ``smoke``, ``security``, ``pollen``; "" where it is free.
    moist_h
        Hours of the night that are too moist.
    """

    plan: Course
    by_difference: Course
    by_clock: Course
    without: Course
    target_c: float
    start_hour: int | None
    stop_hour: int | None
    saved_j: float
    saved_s: float
    held: Hold
    moist_h: int


Control = Callable[[int, int, float, float], float]
"""Hour of the forecast, quarter of it, air and outdoors [°C]: the speed."""


@dataclass
class _Night:
    """Everything that a course is worked out from."""

    house: House
    cooling: Cooling
    flush: Flush
    tonight: Tonight
    allowed: list[bool] = field(init=False)

    def __post_init__(self) -> None:
        weather, flush = self.tonight.weather, self.flush
        self.hours = len(weather.outdoor_c)
        self.night = _first_night([flush.may(self.tonight.hour_of_day(hour)) for hour in range(self.hours)])
        limit = flush.dew_point_limit_c
        self.moist = [dew_point > limit for dew_point in weather.dew_point_c] or [False] * self.hours
        self.allowed = [night and not moist and not flush.hold for night, moist in zip(self.night, self.moist, strict=True)]
        self.by_quarter = [weather.at(step) for step in range(self.hours * STEPS_PER_HOUR)]
        self.steps = {speed: step_of(self.house, speed * flush.full_m3s) for speed in SPEEDS}

    def course(self, control: Control, floor_c: float, until: int | None = None) -> Course:
        """A course under a control that stops at the floor, and on again half a kelvin over it."""
        cooling, flush, house = self.cooling, self.flush, self.house
        air, mass = self.tonight.air_c, self.tonight.mass_c
        airs, masses, speeds = [air], [mass], []
        fan = compressor = on_s = warm = 0.0
        coldest, wake, satisfied = air, air, False
        for hour in range(self.hours):
            blown = 0.0
            for quarter in range(STEPS_PER_HOUR):
                outdoor, gains, solar = self.by_quarter[hour * STEPS_PER_HOUR + quarter]
                speed = 0.0
                if self.allowed[hour] and outdoor < air:
                    satisfied = air <= floor_c + 0.5 if satisfied else air <= floor_c
                    if not satisfied:
                        speed = control(hour, quarter, air, outdoor)
                step = self.steps[speed]
                to_mass = solar * house.solar_to_mass
                to_air = gains + solar - to_mass
                freely, mass_freely = step.after(air, mass, outdoor, to_air, to_mass)
                part = 1.0
                if speed and freely < floor_c:
                    shut, mass_shut = self.steps[0.0].after(air, mass, outdoor, to_air, to_mass)
                    part = min(max((shut - floor_c) / (shut - freely), 0.0), 1.0)
                    freely, mass_freely = shut + part * (freely - shut), mass_shut + part * (mass_freely - mass_shut)
                if freely > cooling.setpoint_c:
                    needed = min((freely - cooling.setpoint_c) / step.air_air, cooling.capacity_w)
                    freely, mass_freely = step.after(air, mass, outdoor, to_air - needed, to_mass)
                    share = needed / cooling.capacity_w
                    on_s += share * STEP_S
                    compressor += needed / cooling.cop(outdoor) * STEP_S
                air, mass = freely, mass_freely
                warm += max(air - cooling.setpoint_c - 0.05, 0.0) / STEPS_PER_HOUR
                fan += flush.power(speed) * STEP_S * part
                blown += speed * part
                coldest = min(coldest, air)
            speeds.append(blown / STEPS_PER_HOUR)
            airs.append(air)
            masses.append(mass)
            if self.tonight.hour_of_day(hour + 1) == flush.wake_hour and hour < 24:
                wake = air
        return Course(
            tuple(speeds),
            tuple(airs),
            tuple(masses),
            fan,
            compressor,
            on_s,
            coldest,
            wake,
            warm,
        )

    def worth(self, worth: float) -> Control:
        """Blow as hard as the air taken out is worth it: most of ``worth Q - P`` over the speeds."""
        full, power = self.flush.full_m3s, self.flush.full_w

        def control(hour: int, quarter: int, air: float, outdoor: float) -> float:
            gain = worth * full * AIR_KG_M3 * CP_DRY_AIR * (air - outdoor)
            return max(SPEEDS, key=lambda speed: gain * speed - power * speed**3)

        return control


def carried_out(
    house: House, cooling: Cooling, flush: Flush, tonight: Tonight, control: Callable[[int, float, float], float], floor_c: float
) -> Course:
    """What becomes of a house under any control: it gives the speed for an hour, the rooms and outdoors [°C].

    Speeds are those of `SPEEDS`; nothing is let in from air over the dew point limit, and blowing stops at the floor [°C].
    """

    def asked(hour: int, quarter: int, air: float, outdoor: float) -> float:
        return min(SPEEDS, key=_off(control(hour, air, outdoor)))

    return _Night(house, cooling, flush, tonight).course(asked, floor_c)


def _first_night(hours: list[bool]) -> list[bool]:
    """The first night of a forecast alone: the next one has a plan of its own."""
    began = ended = False
    found = []
    for at_night in hours:
        ended = ended or (began and not at_night)
        began = began or at_night
        found.append(at_night and not ended)
    return found


@calculation("ventilation.night", "Tonight's plan for cooling with night air")
def night_plan(
    house: House, cooling: Cooling, flush: Flush, tonight: Tonight, target_c: float | None = None, work: Working = SILENT
) -> NightPlan:
    """The target and the blower's speed hour by hour with the least electricity until the end of the forecast.

    A plan never lets the rooms fall under the comfort floor, and is no plan where it costs more than leaving the damper shut.

    Parameters
    ----------
    house : House
        Two nodes, fitted from samples or typical.
    cooling : Cooling
        The compressor that night air spares.
    flush : Flush
        Blower, damper, and what forbids.
    tonight : Tonight
        Forecast by the hour, 12 to 72 hours, and where the house stands at its beginning.
    target_c : float, optional
        Air down to which it blows [°C], between comfort floor and setpoint; None: searched.

    Raises
    ------
    Refused
        What can't be, with its field.

    References
    ----------
    Two-node model with conductances; fan power with the cube of flow (fan laws); searched, then each hour tried for itself. Fixed
    rules: full speed while outdoor air is 4 °F below the rooms; full speed from 22 to 6 h while it is colder at all.
    """
    for given, name in ((house, "house"), (cooling, "cooling"), (flush, "flush"), (tonight, "tonight")):
        with inside(name):
            given.check()
    if flush.floor_c >= cooling.setpoint_c:
        raise Refused("The comfort floor must lie below the cooling setpoint.", "flush.floor_c")
    if target_c is not None and not flush.floor_c <= target_c < cooling.setpoint_c:
        limits = {"low": (flush.floor_c, "temperature"), "high": (cooling.setpoint_c, "temperature")}
        raise Refused("A target lies between the comfort floor and the setpoint, {low} to {high}.", "target_c", **limits)
    night = _Night(house, cooling, flush, tonight)
    without = night.course(lambda hour, quarter, air, outdoor: 0.0, flush.floor_c)
    by_difference = night.course(lambda hour, quarter, air, outdoor: 1.0 if air - outdoor >= RULE_K else 0.0, flush.floor_c)
    by_clock = night.course(_clocked(tonight), flush.floor_c)
    coldest = min(flush.floor_c, without.coldest_c) - NEAR_K
    best, target = without, cooling.setpoint_c
    for course, floor in _tries(night, cooling, flush, target_c):
        if course.coldest_c >= coldest and _better(course, best):
            best, target = course, floor
    best = _each_hour(night, best, target, coldest) if best is not without else best
    blown = [hour for hour, speed in enumerate(best.speeds) if speed > 0]
    moist = sum(1 for at_night, moist in zip(night.night, night.moist, strict=True) if at_night and moist)
    held: Hold = flush.hold or ("dew_point" if moist and not any(night.allowed) else "")
    saved = work.step(
        "electricity saved",
        "E",
        "E_0 - E_c - E_f",
        without.all_j - best.all_j,
        "energy",
        source="two-node house, searched",
        E_0=(without.all_j, "energy"),
        E_c=(best.compressor_j, "energy"),
        E_f=(best.fan_j, "energy"),
    )
    return NightPlan(
        best,
        by_difference,
        by_clock,
        without,
        target,
        tonight.hour_of_day(blown[0]) if blown else None,
        tonight.hour_of_day(blown[-1] + 1) if blown else None,
        saved,
        without.compressor_s - best.compressor_s,
        held,
        moist,
    )


def _clocked(tonight: Tonight) -> Control:
    first, last = CLOCK

    def control(hour: int, quarter: int, air: float, outdoor: float) -> float:
        of_day = tonight.hour_of_day(hour)
        return 1.0 if of_day >= first or of_day < last else 0.0

    return control


def _tries(night: _Night, cooling: Cooling, flush: Flush, target_c: float | None) -> Iterator[tuple[Course, float]]:
    floors = [flush.floor_c + above for above in FLOOR_STEPS_K] if target_c is None else [target_c]
    for floor in floors:
        if floor < cooling.setpoint_c:
            for worth in WORTHS:
                yield night.course(night.worth(worth), floor), floor


def _better(one: Course, other: Course) -> bool:
    """Less electricity, by more than a rounding."""
    return one.all_j < other.all_j - 3600.0


def _each_hour(night: _Night, best: Course, floor: float, coldest: float) -> Course:
    """Every hour's speed tried one step slower and faster, twice over; what is colder than `coldest` is no plan."""
    chosen = [min(SPEEDS, key=_off(had)) for had in best.speeds]
    found = night.course(_given(chosen), floor)
    if found.coldest_c >= coldest and _better(found, best):
        best = found
    for _ in range(2):
        for hour in (hour for hour, allowed in enumerate(night.allowed) if allowed):
            for other in _beside(chosen[hour]):
                tried = [*chosen[:hour], other, *chosen[hour + 1 :]]
                found = night.course(_given(tried), floor)
                if found.coldest_c >= coldest and _better(found, best):
                    best, chosen = found, tried
    return best


def _off(had: float) -> Callable[[float], float]:
    return lambda speed: abs(speed - had)


def _given(speeds: Sequence[float]) -> Control:
    def control(hour: int, quarter: int, air: float, outdoor: float) -> float:
        return speeds[hour]

    return control


def _beside(speed: float) -> Iterator[float]:
    at = SPEEDS.index(speed)
    if at:
        yield SPEEDS[at - 1]
    if at + 1 < len(SPEEDS):
        yield SPEEDS[at + 1]


def day_from(high_c: float, low_c: float, first_hour: int, hours: int = 28) -> tuple[float, ...]:
    """Outdoor air by the hour from a day's high and the night's low [°C]: coldest at 5 h, warmest at 15 h.

    >>> day = day_from(34.0, 18.0, 20)
    >>> round(day[9], 1), round(day[19], 1)
    (18.0, 34.0)
    """
    if low_c > high_c:
        raise Refused("The night's low can't lie above the day's high.", "low_c")
    found = []
    for hour in range(hours):
        of_day = (first_hour + hour) % 24
        part = 0.5 - 0.5 * cos(pi * (of_day - 5) / 10) if 5 <= of_day <= 15 else 0.5 + 0.5 * cos(pi * ((of_day - 15) % 24) / 14)
        found.append(low_c + (high_c - low_c) * part)
    return tuple(found)

"""A season of night cooling on simulated houses that are not the typical one: ``python -m bench night``.

Each evening the app plans for a typical house of that floor area, from a forecast that is a little wrong; the plan, both fixed
rules and a shut damper are then carried out on the true house in the true weather. Rooms start each evening as the night before
left them.
"""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from random import Random

from bench.report import Row
from fentro_core.air.saturation import dew_point, saturation
from fentro_core.night.after import NightAfter, NightSamples, night_after
from fentro_core.night.house import Weather, free_run
from fentro_core.night.plan import CLOCK, RULE_K, Course, Tonight, carried_out
from fentro_core.night.tonight import EVENING, GAIN_DAY_W_M2, GAIN_NIGHT_W_M2, SUN_W_M2, Forecast, tonight_plan
from fentro_core.system.night_setup import Cooling, Flush, House, NightPlanned, NightSetup
from fentro_core.weather.year import synthetic_year

HOUSES = 8
FIRST_DAY, LAST_DAY = 121, 273
FORECAST_K = 1.2
ZONES = ("2B", "3B", "4B", "5B", "3A", "4A")
WAYS = ("plan", "by_difference", "by_clock", "without")


@dataclass
class Kept:
    """Electricity of a season [J], hours under the comfort floor at wake-up, kelvin-hours too warm."""

    fan_j: float = 0.0
    compressor_j: float = 0.0
    cold_mornings: int = 0
    warm_kh: float = 0.0


@dataclass
class Season:
    """One true house through one summer."""

    seed: int
    random: Random = field(init=False)

    def __post_init__(self) -> None:
        random = self.random = Random(f"night/{self.seed}")
        self.zone = random.choice(ZONES)
        self.area = random.uniform(90.0, 320.0)
        typical = House.typical(self.area)
        self.true = House(
            typical.air_j_per_k * random.lognormvariate(0.0, 0.3),
            typical.mass_j_per_k * random.lognormvariate(0.0, 0.4),
            typical.coupling_w_per_k * random.lognormvariate(0.0, 0.3),
            typical.outside_w_per_k * random.lognormvariate(0.0, 0.3),
            random.uniform(0.3, 0.9),
        )
        self.gains = random.uniform(0.6, 1.6)
        self.sun = random.uniform(0.5, 1.4)
        self.cooling = Cooling(random.uniform(23.5, 26.0), 60.0 * self.area, random.uniform(2.6, 3.8))
        full = random.uniform(1.5, 4.0) * self.area / 1000.0
        self.flush = Flush(full, full * random.uniform(350.0, 1100.0), dew_point_limit_c=15.0)
        self.year = synthetic_year(self.zone, self.seed)

    def weather(self, start: int) -> Weather:
        """The true weather of a day from an hour of the year on."""
        hours = [(start + at) % 8760 for at in range(25)]
        outdoor = tuple(self.year.dry_bulb_c[hour] for hour in hours)
        dew_point = tuple(_dew_point(self.year.dry_bulb_c[hour], self.year.relative_humidity[hour]) for hour in hours)
        gains = tuple(self.gains * self.area * (GAIN_DAY_W_M2 if 7 <= hour % 24 < 22 else GAIN_NIGHT_W_M2) for hour in hours)
        sun = tuple(self.sun * self.area * SUN_W_M2 * max(0.0, 1.0 - ((hour % 24 - 13) / 6.0) ** 2) for hour in hours)
        return Weather(outdoor, gains, sun, dew_point)

    def run(self) -> dict[str, Kept]:
        """Every night of the season, each way."""
        kept = {way: Kept() for way in WAYS}
        state = dict.fromkeys(WAYS, (self.cooling.setpoint_c, self.cooling.setpoint_c))
        for day in range(FIRST_DAY, LAST_DAY):
            weather = self.weather(day * 24 + EVENING)
            night, following = weather.outdoor_c[:13], weather.outdoor_c[12:]
            forecast = Forecast(
                max(following) + self.random.gauss(0.0, FORECAST_K),
                min(night) + self.random.gauss(0.0, FORECAST_K),
                state["plan"][0],
                min(weather.dew_point_c[:13]) + self.random.gauss(0.0, FORECAST_K),
            )
            forecast = replace(forecast, low_c=min(forecast.low_c, forecast.high_c))
            made = tonight_plan(NightSetup(self.flush, self.cooling, self.area), forecast).plan
            for way in WAYS:
                floor = made.target_c if way == "plan" else self.flush.floor_c
                control = self._control(way, made.plan.speeds)
                air, mass = state[way]
                done = carried_out(self.true, self.cooling, self.flush, Tonight(EVENING, weather, air, mass), control, floor)
                state[way] = done.air_c[24], done.mass_c[24]
                self._keep(kept[way], done)
        return kept

    def _control(self, way: str, speeds: tuple[float, ...]) -> Callable[[int, float, float], float]:
        first, last = CLOCK
        if way == "plan":
            return lambda hour, air, outdoor: speeds[hour] if hour < len(speeds) else 0.0
        if way == "by_difference":
            return lambda hour, air, outdoor: 1.0 if air - outdoor >= RULE_K else 0.0
        if way == "by_clock":
            return lambda hour, air, outdoor: 1.0 if (EVENING + hour) % 24 >= first or (EVENING + hour) % 24 < last else 0.0
        return lambda hour, air, outdoor: 0.0

    def _keep(self, kept: Kept, done: Course) -> None:
        kept.fan_j += done.fan_j
        kept.compressor_j += done.compressor_j
        kept.cold_mornings += done.wake_c < self.flush.floor_c - 0.3
        kept.warm_kh += done.too_warm_kh


def _dew_point(celsius: float, share: float) -> float:
    return dew_point(share * saturation(celsius)[0])


NIGHTS = 150


def _morning_after(seed: int) -> tuple[bool, str, float]:
    """One night of a house nobody knows: whether the air came in, the mark, and how well it was followed [K].

    The house is left to its plan for a few nights first and taught by them, or not at all. Loggers are a little off.
    """
    season = Season(seed)
    random = season.random
    setup = NightSetup(season.flush, season.cooling, season.area)
    sound = random.random() < 0.6
    off_k, taught = random.gauss(0.0, 0.2), random.choice((0, 0, 2, 4))
    said = None
    for night in range(taught + 1):
        share = random.uniform(0.85, 1.15) if sound or night < taught else random.uniform(0.0, 0.3)
        found = _followed(season, setup, share, off_k)
        if found is None:
            break
        said = found
        setup = replace(setup, house=found.house)
    if said is None:
        return sound, "none", 0.0
    cold = "colder than the comfort floor" in said.words.text
    return sound, "cold" if cold else said.mark, said.misfit_k


def _followed(season: Season, setup: NightSetup, share: float, off_k: float) -> NightAfter | None:
    """A night in which so much of the planned air came in, by loggers; None where nothing was to be blown."""
    random = season.random
    weather = season.weather(random.randint(FIRST_DAY, LAST_DAY) * 24 + EVENING)
    setpoint = season.cooling.setpoint_c
    low = min(weather.outdoor_c[:13])
    high = max(max(weather.outdoor_c[12:]) + random.gauss(0.0, FORECAST_K), low)
    made = tonight_plan(setup, Forecast(high, low, setpoint)).plan
    if made.start_hour is None or made.stop_hour is None:
        return None
    blown = [hour for hour, speed in enumerate(made.plan.speeds) if speed > 0]
    planned = NightPlanned(
        high,
        low,
        setpoint,
        made.target_c,
        made.start_hour,
        made.stop_hour,
        tuple(made.plan.speeds[blown[0] : blown[-1] + 1]),
        planned_c=made.plan.air_c,
    )
    first = blown[0]
    hours = 14 - first
    if hours < 8:
        return None
    part = Weather(
        weather.outdoor_c[first : first + hours], weather.gains_w[first : first + hours], weather.solar_w[first : first + hours]
    )
    flows = [season.flush.full_m3s * share * speed for speed in (*planned.speeds, *([0.0] * hours))][: hours - 1]
    course = free_run(season.true, part, flows, setpoint, setpoint + random.gauss(0.0, 0.4))
    samples = NightSamples(
        made.start_hour,
        tuple(each + random.gauss(0.0, 0.2) for each in part.outdoor_c),
        tuple(air + off_k + random.gauss(0.0, 0.1) for air, _ in course),
    )
    return night_after(setup, planned, samples)


def mornings(first_seed: int) -> Row:
    """Blind: of nights whose air came in, how many are said to lack it; of those whose did not, how many are found."""
    nights = [_morning_after(first_seed + number) for number in range(NIGHTS)]
    counts = Counter((sound, mark) for sound, mark, _ in nights if mark != "none")
    sound = sum(count for (came, _), count in counts.items() if came)
    short = sum(count for (came, _), count in counts.items() if not came)
    return Row(
        f"mornings from seed {first_seed}: sound nights called off",
        counts[True, "off"] / max(sound, 1),
        0.03,
        f"{counts[True, 'off']} of {sound}; of {short} whose air did not come in {counts[False, 'off']} called off, "
        f"{counts[False, 'watch']} watched, {counts[False, 'holds']} held; {counts[True, 'cold']} sound ones too cold at wake-up",
    )


def rows(first_seed: int = 5_000_000) -> Iterator[Row]:
    """Whole electricity of a season, plan against the rules and against nothing; comfort; the time of a plan."""
    began = time.perf_counter()
    seasons = [Season(first_seed + number).run() for number in range(HOUSES)]
    spent = time.perf_counter() - began
    whole = {way: sum(season[way].fan_j + season[way].compressor_j for season in seasons) for way in WAYS}
    fans = {way: sum(season[way].fan_j for season in seasons) for way in WAYS}
    for way in ("without", "by_difference", "by_clock"):
        dearer = sum(
            1
            for season in seasons
            if season["plan"].fan_j + season["plan"].compressor_j > season[way].fan_j + season[way].compressor_j
        )
        yield Row(
            f"a season by plan / {way.replace('_', ' ')}",
            whole["plan"] / whole[way],
            1.0,
            f"{whole['plan'] / 3.6e6:,.0f} kWh / {whole[way] / 3.6e6:,.0f} kWh, of it blower {fans[way] / 3.6e6:,.0f}; "
            f"dearer in {dearer} of {HOUSES} houses",
        )
    cold = {way: sum(season[way].cold_mornings for season in seasons) for way in WAYS}
    warm = {way: sum(season[way].warm_kh for season in seasons) for way in WAYS}
    yield Row(
        "cold mornings by plan / by nothing",
        (cold["plan"] + 1) / (cold["without"] + 1),
        1.0,
        f"{cold} of {HOUSES * (LAST_DAY - FIRST_DAY)} nights; too warm, K h: "
        + ", ".join(f"{way} {value:.0f}" for way, value in warm.items()),
    )
    yield mornings(first_seed)
    yield mornings(int(time.time()) % 1_000_000 + 9_000_000)
    nights = HOUSES * (LAST_DAY - FIRST_DAY)
    yield Row("a night planned and carried out four ways / 250 ms", spent / nights / 0.25, 1.0, f"{1000 * spent / nights:.0f} ms")

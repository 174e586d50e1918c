"""The blind proof: seeded units with one hidden fault each. The proof must convict the right one and acquit the healthy.

Two disjoint sets of 34 units. The table of causes and the tests were worked on with the first set and further seeds; the second
set's scores were seen meanwhile, so it is no untouched sample: draw fresh seeds for that. Besides: a simulated week, the hours of
a year and the mode map.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from random import Random
from typing import Any

from bench.report import Row
from fentro_core.economizer.configuration import Configuration
from fentro_core.economizer.mode_map import mode_map
from fentro_core.economizer.places import PLACES
from fentro_core.economizer.proof.day import Day
from fentro_core.economizer.proof.diagnosis import Diagnosis
from fentro_core.economizer.proof.plan import plan
from fentro_core.economizer.proof.session import whole_proof
from fentro_core.economizer.year import hours_of_year
from fentro_core.weather.year import synthetic_year
from fentro_standins.rooftop.build import Build, Faults, Weather
from fentro_standins.rooftop.unit import RooftopUnit

HIDDEN = (
    "stuck_damper",
    "reversed_actuator",
    "slipped_linkage",
    "loose_blades",
    "low_limit_tied",
    "swapped_sensors",
    "drifted_sensor",
    "misplaced_sensor",
    "wrong_changeover",
    "wrong_minimum",
    "relief_blocked",
    "compressor_not_locked",
    "no_cooling",
    "no_differential",
    "fail_safe",
    "",
)
PAIRS = (("outdoor", "return"), ("mixed", "supply"), ("outdoor", "mixed"), ("return", "mixed"))
MISPLACED = (("mixed", "supply"), ("supply", "mixed"), ("mixed", "return"), ("return", "mixed"))
"""A sensor, and the air that it hangs in instead of its own."""

UNITS = 34
WEATHERS = ((-4.0, 4.0, 0.002), (8.0, 4.0, 0.005), (13.0, 3.0, 0.006), (32.0, 3.0, 0.011), (36.0, 3.0, 0.009))
SCHOOLS = ("fixed_dry_bulb", "differential_dry_bulb", "fixed_enthalpy", "differential_enthalpy")


@dataclass(frozen=True)
class Blind:
    """A unit whose fault nobody is told, the configuration it was planned with, and the truth for the table."""

    unit: RooftopUnit
    planned: Configuration
    hidden: str


def unit_of(seed: int, hidden: str) -> Blind:
    """One unit of a set: build, weather, sequence, school and the size of its fault by seed; on a day that allows every test."""
    random = Random(seed)
    mean, swing, ratio = random.choice(WEATHERS)
    school = random.choice(SCHOOLS)
    limit = random.choice((18.3, 21.1, 23.9))
    planned = Configuration(
        sequence=random.choice(("integrated", "exclusive")),
        changeover=school,  # type: ignore[arg-type]
        high_limit_c=23.9 if "enthalpy" in school else limit,
        minimum_position=round(random.uniform(0.12, 0.32), 2),
        heating_damper=random.choice(("minimum", "closed")),
        on_sensor_failure=random.choice(("minimum", "closed")),
        relief_opens_pa=random.choice((10.0, 12.5, 15.0)),
        stages=random.choice((1, 2)),
    )
    build = Build(
        supply_m3s=random.uniform(1.4, 2.4),
        stroke_s=random.uniform(60, 140),
        curve=random.uniform(1.3, 2.0),
        closed_leak=random.uniform(0.02, 0.04),
        cooling_w=random.uniform(28_000, 42_000),
    )
    faults = _faults(hidden, planned, random)
    start_s = random.uniform(9.5, 11) * 3600
    while any(step.not_today for step in plan(planned, Day(outdoor_c=mean - 3, return_c=20.0))):
        mean += 5.0
    unit = RooftopUnit(seed, build, planned, faults, Weather(mean, swing, ratio), time_s=start_s)
    return Blind(unit, planned, hidden)


def _faults(hidden: str, planned: Configuration, random: Random) -> Faults:
    sign = random.choice((-1, 1))
    least = planned.minimum_position
    other: dict[str, float | str] = {"high_limit_c": planned.high_limit_c + sign * random.uniform(4, 7)}
    if planned.changeover != "fixed_dry_bulb":
        other = {"changeover": "fixed_dry_bulb", "high_limit_c": 16.0 if sign < 0 else 31.0}
    made: dict[str, dict[str, Any]] = {
        "": {},
        "stuck_damper": {"stuck_at": random.choice((0.0, 0.25, 0.45, 0.7, 1.0))},
        "reversed_actuator": {"reversed": True},
        "slipped_linkage": {"slip": random.uniform(0.25, 0.45)},
        "loose_blades": {"loose_at": random.uniform(0.0, 1.0)},
        "misplaced_sensor": {"misplaced": dict([random.choice(MISPLACED)])},
        "no_cooling": {"compressor_dead": True},
        "low_limit_tied": {"loops": {"low_limit": "outdoor"}},
        "swapped_sensors": {"swapped": random.choice(PAIRS)},
        "drifted_sensor": {"drift": {random.choice(tuple(PLACES)): sign * random.uniform(2.5, 6)}},
        "wrong_changeover": {"settings": other},
        "wrong_minimum": {"settings": {"minimum_position": min(least * 2 + 0.1, 0.9) if sign > 0 or least < 0.17 else 0.04}},
        "relief_blocked": {"relief_blocked": True},
        "compressor_not_locked": {"compressor_runs_free": True},
        "no_differential": {"settings": {"differential_k": 0.0}},
        "fail_safe": random.choice(({"spring": "stays"}, {"spring": "opens"}, {"settings": {"on_sensor_failure": "full"}})),
    }
    return Faults(**made[hidden])


def blind_set(first_seed: int) -> Iterator[Blind]:
    """34 units: every hidden fault at least once, the healthy four times."""
    order = [*HIDDEN, *HIDDEN[:-1]]
    order = [*order[: UNITS - 3], "", "", ""]
    for index, hidden in enumerate(order[:UNITS]):
        yield unit_of(first_seed + index, hidden)


def proved(blind: Blind) -> Diagnosis:
    """The automatic proof, knowing only the planned configuration, the controller and reference readings at its sensors."""
    unit = blind.unit
    unit.advance(600, 2)
    return whole_proof(unit, blind.planned, lambda seconds: unit.advance(seconds, 2.0), unit.reference, unit.hand)[0]


def table(first_seed: int) -> tuple[list[tuple[str, str, float]], int]:
    """Hidden, convicted and how sure, of every unit; and how many are right."""
    lines = []
    for blind in blind_set(first_seed):
        found = proved(blind)
        first = found.suspects[0].sure if found.suspects else found.sound
        lines.append((blind.hidden, found.found, first))
    return lines, sum(hidden == convicted for hidden, convicted, _ in lines)


TUNED, HELD = 1000, 7000


def best_s(call: Callable[[], object], times: int = 3) -> float:
    """The quickest of a few."""
    taken = []
    for _ in range(times):
        began = time.perf_counter()
        call()
        taken.append(time.perf_counter() - began)
    return min(taken)


def rows() -> Iterator[Row]:
    """Both tables, printed, and the budgets."""
    for name, seed in (("tuned", TUNED), ("held back", HELD)):
        lines, right = table(seed)
        print(f"  {'hidden, ' + name + ' set':28}{'convicted':26}sure")
        for hidden, convicted, sure in lines:
            mark = " " if hidden == convicted else "*"
            print(f"{mark} {hidden or 'healthy':28}{convicted or 'none':26}{sure:.2f}", flush=True)
        accused = sum(bool(convicted) for hidden, convicted, _ in lines if not hidden)
        said = f"{right} of {len(lines)} right, {accused} healthy accused"
        yield Row(f"blind proof, wrong share, {name} set", 1 - right / len(lines), 0.04, said)
    week = best_s(lambda: RooftopUnit(weather=Weather(20, 7)).advance(7 * 86_400, 60), 2)
    yield Row("a simulated week", week, 1.0, f"{week:.2f} s of 1 s")
    zone, setting = "3A", Configuration()
    year = synthetic_year(zone)
    both = best_s(lambda: (synthetic_year(zone), hours_of_year(year, zone), mode_map(setting)))
    yield Row("a year by the hour, four schools, and the mode map", both / 1.5, 1.0, f"{both * 1000:.0f} ms of 1,500 ms")
    one = mode_map(setting)
    drawn = best_s(lambda: mode_map(setting), 10)
    yield Row("mode map alone", drawn / 0.1, 1.0, f"{drawn * 1000:.1f} ms for {len(one.points)} temperatures")

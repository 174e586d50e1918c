"""The other unit. Air by damper flow ratios, a coil by a fixed drop a stage, a room of one node; a controller with timers and
bands of its own kind. Sensors are slow, quantised and off by a little, as real ones are.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from math import exp
from random import Random
from typing import Any

from fentro_core.base.device import DeviceRefused
from fentro_core.base.typed_json import Json
from fentro_core.economizer.configuration import Configuration, configuration_json

STEP_S = 2.0
PLACES = ("outdoor", "return", "mixed", "supply")
SATURATED_20C = 2339.0


def vapour_share(celsius: float, rh: float, pressure_pa: float) -> float:
    """Humidity ratio, by Tetens' formula (1930)."""
    vapour = rh * 610.78 * exp(17.2694 * celsius / (celsius + 237.29))
    return 0.622 * vapour / (pressure_pa - vapour)


def heat_content(celsius: float, ratio: float) -> float:
    """Enthalpy [J/kg], from dry air at 0 °C."""
    return 1005.0 * celsius + ratio * (2.5e6 + 1860.0 * celsius)


@dataclass(frozen=True)
class Make:
    """How this unit is built; all of it is drawn by the bench."""

    stroke_s: float = 120.0
    outdoor_power: float = 1.4
    return_power: float = 1.1
    closed_leak: float = 0.02
    return_leak: float = 0.03
    stages: int = 2
    stage_drop_k: float = 5.5
    heater_rise_k: float = 14.0
    fan_rise_k: float = 0.6
    sensor_s: Mapping[str, float] = field(
        default_factory=lambda: {"outdoor": 60.0, "return": 40.0, "mixed": 25.0, "supply": 30.0}
    )
    sensor_off_k: Mapping[str, float] = field(default_factory=dict)
    feedback_off: float = 0.01
    band_k: float = 0.5
    stage_delay_s: float = 120.0
    least_run_s: float = 120.0
    least_rest_s: float = 150.0
    travel_dead: float = 0.01
    tight_pa: float = 26.0
    room_s: float = 2400.0
    load_k: float = 9.0


@dataclass(frozen=True)
class Wrong:
    """What is wrong; left alone, nothing is."""

    stuck_at: float | None = None
    reversed: bool = False
    slip: float = 1.0
    loose_at: float | None = None
    misplaced: Mapping[str, str] = field(default_factory=dict)
    compressor_dead: bool = False
    swapped: tuple[str, str] | None = None
    drift: Mapping[str, float] = field(default_factory=dict)
    low_limit_at: str = "mixed"
    settings: Mapping[str, Any] = field(default_factory=dict)
    relief_shut: bool = False
    compressor_free: bool = False
    spring: str = "closes"
    shows_planned: bool = False
    """It runs other settings than it shows: set by a screw or a jumper at the module, say."""


class OtherUnit:
    """Answers what docs/controller.md asks of a unit. `weather`: outdoor [°C] and relative humidity, slowly warming."""

    def __init__(self, seed: int, make: Make, planned: Configuration, wrong: Wrong, weather: tuple[float, float]) -> None:
        self.make, self.wrong = make, wrong
        self.chance = Random(f"other unit|{seed}")
        self.runs = replace(planned, **wrong.settings) if wrong.settings else planned
        self.shows = planned if wrong.shows_planned else self.runs
        self.weather = weather
        self.pressure_pa = 99_000.0
        self.clock_s = float(self.chance.randint(0, 10**6))
        self.held: dict[str, float] = {}
        self.pulled = False
        self.unplugged = ""
        self.actuator = self.command = self.runs.minimum_position
        self.room_c, self.room_w = self.chance.uniform(23.2, 24.4), 0.0088
        self.on = [False] * make.stages
        self.changed_s = [-1e9] * make.stages
        self.heats = False
        self.wants_s = 0.0
        self.cools = False
        self.free = False
        self.pulls = 0.0
        self.frozen_s = 0.0
        self.tripped = False
        self.occupied_by_itself = 1.0
        self.blows_not = False
        air = {"outdoor": weather[0], "return": self.room_c, "mixed": self.room_c - 1, "supply": self.room_c - 1}
        self.air: dict[str, float] = air
        self.slow = dict(air)
        self.building_pa = 2.0

    # what docs/controller.md asks

    def points(self) -> Mapping[str, Any]:
        """All points."""
        seen = self._seen()
        shown = {key: round(value, 2) for key, value in seen.items()}
        return {
            **shown,
            "damper_command": round(self.command, 3),
            "damper_position": round(min(max(self.actuator + self.make.feedback_off, 0.0), 1.0), 3),
            "compressor": sum(self.on) / len(self.on) if self.on else 0.0,
            "heating": 1.0 if self.heats else 0.0,
            "fan": 1.0 if self._blows(seen) else 0.0,
            "relief": self.held.get("relief", 1.0 if self.building_pa > self.runs.relief_opens_pa else 0.0),
            "mode": self._mode(seen),
            "alarm": self._alarm(),
            "time_s": self.clock_s,
            "overridden": sorted(self.held),
        }

    def override(self, point: str, value: float) -> None:
        """Hold."""
        known = {*self._seen(), "damper_command", "compressor", "heating", "fan", "relief"}
        if point not in known:
            raise DeviceRefused(f"There is no {point} here.")
        self.held[point] = value

    def release(self, point: str) -> None:
        """Let go."""
        self.held.pop(point, None)

    def alarms(self) -> list[Mapping[str, Any]]:
        """Those that stand."""
        return [{"key": self._alarm(), "since_s": self.clock_s}] if self._alarm() else []

    def save(self) -> Json:
        """What runs, or what it shows of it."""
        return configuration_json(self.shows)

    def load(self, configuration: Json) -> None:
        """Not here."""
        raise DeviceRefused("This one is configured by its maker's tool.")

    def hand(self, action: str, value: str) -> None:
        """What a hand does at the unit."""
        if action == "actuator_power":
            self.pulled = value == "off"
        elif action == "unplug":
            self.unplugged = value
        elif action == "freeze_reset":
            self.tripped = False

    def reference(self, place: str) -> float:
        """A good probe's reading there."""
        return self.air[place] + self.chance.gauss(0, 0.1)

    def advance(self, seconds: float, step: float = STEP_S) -> None:
        """Let time pass."""
        for _ in range(max(1, round(seconds / STEP_S))):
            self._step(STEP_S)

    # what it sees

    def _wired(self, place: str) -> float:
        if place == self.unplugged:
            return -99.0
        at = place
        if self.wrong.swapped and place in self.wrong.swapped:
            at = next(each for each in self.wrong.swapped if each != place)
        if at == self.unplugged:
            return -99.0
        at = self.wrong.misplaced.get(at, at)
        shown = self.slow[at] + self.make.sensor_off_k.get(at, 0.0) + self.wrong.drift.get(at, 0.0)
        return round(shown * 10) / 10

    def _seen(self) -> dict[str, float]:
        outdoor_w = vapour_share(self.weather[0], self.weather[1], self.pressure_pa)
        room_full = vapour_share(self.room_c, 1.0, self.pressure_pa)
        seen = {f"{place}_temperature": self._wired(place) for place in PLACES}
        seen |= {
            "outdoor_humidity": min(outdoor_w / vapour_share(self.air["outdoor"], 1.0, self.pressure_pa), 1.0),
            "return_humidity": min(self.room_w / room_full, 1.0),
            "room_temperature": round(self.room_c * 10) / 10,
            "building_pressure": round(self.building_pa + self.chance.gauss(0, 0.4), 1),
            "cooling_setpoint": self.runs.cooling_setpoint_c,
            "heating_setpoint": self.runs.heating_setpoint_c,
            "occupied": self.occupied_by_itself,
        }
        return {**seen, **{point: value for point, value in self.held.items() if point in seen}}

    def _alarm(self) -> str:
        if self.tripped:
            return "freeze_trip"
        return "outdoor_sensor" if self._seen()["outdoor_temperature"] < -60 else ""

    def _blows(self, seen: Mapping[str, float]) -> bool:
        return self.held.get("fan", seen["occupied"]) >= 0.5 and not self.tripped and not self.blows_not

    def _mode(self, seen: Mapping[str, float]) -> str:
        if self.tripped:
            return "freeze_trip"
        if not self._blows(seen):
            return "off"
        if self.heats:
            return "heating"
        if self.free and self.cools:
            return "free_and_compressor" if any(self.on) else "free"
        return "compressor" if any(self.on) else "minimum"

    # what it does

    def _may_be_free(self, seen: Mapping[str, float]) -> bool:
        """Enabled under the limit less the differential, disabled at the limit."""
        runs, outdoor = self.runs, seen["outdoor_temperature"]
        less = 0.0 if self.free else runs.differential_k
        if outdoor < -60:
            return False
        if runs.changeover == "fixed_dry_bulb":
            return outdoor < runs.high_limit_c - less
        if runs.changeover == "differential_dry_bulb":
            return outdoor < min(seen["return_temperature"] - less, 60.0)
        if outdoor > runs.high_limit_c:
            return False
        mine = heat_content(outdoor, vapour_share(outdoor, seen["outdoor_humidity"], self.pressure_pa))
        limit = runs.high_limit_j_per_kg
        if runs.changeover == "differential_enthalpy":
            back = seen["return_temperature"]
            limit = heat_content(back, vapour_share(back, seen["return_humidity"], self.pressure_pa))
        return mine < limit - less * 2000.0

    def _decide(self, seen: Mapping[str, float], dt: float) -> float:
        """The thermostat, the changeover, the stages; answers where the damper should be."""
        runs, make = self.runs, self.make
        room, blows = seen["room_temperature"], self._blows(seen)
        # A thermostat with a band: a call begins above the setpoint and ends below it.
        above = room - seen["cooling_setpoint"]
        self.cools = blows and (above > 0.15 if not self.cools else above > 0.15 - make.band_k)
        under = seen["heating_setpoint"] - room
        self.heats = bool(
            self.held.get("heating", blows and (under > 0.3 if not self.heats else under > 0.3 - make.band_k)) >= 0.5
        )
        self.free = self._may_be_free(seen)
        self._stages(seen, above, dt)
        aim = runs.minimum_position if blows else 0.0
        failed = seen["outdoor_temperature"] < -60
        if failed and blows:
            aim = {"closed": 0.0, "minimum": runs.minimum_position, "full": 1.0}[runs.on_sensor_failure]
        elif self.heats:
            aim = 0.0 if runs.heating_damper == "closed" else aim
        elif self.cools and self.free:
            if runs.sequence == "integrated" and any(self.on) and not self.wrong.compressor_free:
                aim = 1.0
            elif runs.sequence == "exclusive" and any(self.on) and not self.wrong.compressor_free:
                aim = runs.minimum_position
            else:
                off_k = seen["supply_temperature"] - runs.supply_setpoint_c
                self.pulls = min(max(self.pulls + runs.loop_gain_per_k_s * off_k * dt, 0.0), 1.0)
                aim = max(runs.minimum_position, self.pulls)
        else:
            self.pulls = self.actuator
        return self._kept_warm(seen, aim, dt) if blows else aim

    def _kept_warm(self, seen: Mapping[str, float], aim: float, dt: float) -> float:
        """Low limit: the damper closes in proportion. Freeze protection: it trips after its delay."""
        runs = self.runs
        believed = seen[f"{self.wrong.low_limit_at}_temperature"]
        short_k = runs.mixed_low_limit_c - believed
        if short_k > 0:
            self.pulls = max(self.pulls - 0.01 * short_k * dt, 0.0)
            aim = min(aim, max(aim - 0.45 * short_k, 0.0))
        self.frozen_s = self.frozen_s + dt if seen["mixed_temperature"] < runs.freeze_c else 0.0
        if self.frozen_s > runs.freeze_delay_s:
            self.tripped = True
        return aim

    def _stages(self, seen: Mapping[str, float], above: float, dt: float) -> None:
        make, runs = self.make, self.runs
        wanted = 0
        if self.cools and make.stages:
            if not self.free or self.wrong.compressor_free:
                wanted = 1 if above < 1.5 else make.stages
            elif above > 1.0 and (runs.sequence == "exclusive" or self.actuator > 0.85):
                self.wants_s += dt
                wanted = 1 if self.wants_s > make.stage_delay_s else 0
        if not (self.cools and self.free):
            self.wants_s = 0.0
        if "compressor" in self.held:
            wanted = round(self.held["compressor"] * make.stages)
        if self.tripped or not self._blows(seen):
            wanted = 0
        for stage in range(make.stages):
            should, since = stage < wanted, self.clock_s - self.changed_s[stage]
            if should != self.on[stage] and since > (make.least_run_s if self.on[stage] else make.least_rest_s):
                self.on[stage], self.changed_s[stage] = should, self.clock_s

    def _step(self, dt: float) -> None:
        self.clock_s += dt
        seen = self._seen()
        self.command = min(max(self.held.get("damper_command", self._decide(seen, dt)), 0.0), 1.0)
        self._move(dt)
        self._flow(seen, dt)

    def _move(self, dt: float) -> None:
        if self.wrong.stuck_at is not None:
            self.actuator = self.wrong.stuck_at
            return
        aim = 1.0 - self.command if self.wrong.reversed else self.command
        if self.pulled:
            aim = {"closes": 0.0, "stays": self.actuator, "opens": 1.0}[self.wrong.spring]
        way = aim - self.actuator
        if abs(way) > self.make.travel_dead or aim in (0.0, 1.0):
            most = dt / self.make.stroke_s
            self.actuator = min(max(self.actuator + min(max(way, -most), most), 0.0), 1.0)

    def _flow(self, seen: Mapping[str, float], dt: float) -> None:
        make = self.make
        blades = self.actuator * self.wrong.slip if self.wrong.loose_at is None else self.wrong.loose_at
        outdoor = make.closed_leak + blades**make.outdoor_power
        back = make.return_leak + (1.0 - blades) ** make.return_power
        share = outdoor / (outdoor + back)
        blows = self._blows(seen)
        self.air["outdoor"] = self.weather[0]
        self.air["return"] = self.room_c + 0.3
        mixed = share * self.air["outdoor"] + (1 - share) * self.air["return"]
        drop = 0.0 if self.wrong.compressor_dead else sum(self.on) * make.stage_drop_k
        supply = mixed + make.fan_rise_k - drop + (make.heater_rise_k if self.heats else 0.0)
        if not blows:
            mixed = supply = self.room_c
            share = 0.0
        self.air["mixed"] += (mixed - self.air["mixed"]) * min(dt / 15.0, 1.0)
        self.air["supply"] += (supply - self.air["supply"]) * min(dt / 40.0, 1.0)
        for place in PLACES:
            self.slow[place] += (self.air[place] - self.slow[place]) * min(dt / make.sensor_s[place], 1.0)
        still = self.room_c + make.load_k
        self.room_c += (
            ((self.air["supply"] if blows else self.room_c + 0.5) + make.load_k - self.room_c) * dt / make.room_s
            if still
            else 0.0
        )
        self.room_c = min(max(self.room_c, 15.0), 32.0)
        raw = 1.5 + make.tight_pa * share * share if blows else 0.0
        opens = self.runs.relief_opens_pa
        if raw > opens and not self.wrong.relief_shut:
            raw = opens + 0.12 * (raw - opens)
        self.building_pa += (raw - self.building_pa) * min(dt / 10.0, 1.0)

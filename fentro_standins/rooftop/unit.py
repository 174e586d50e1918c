"""The unit: mixing, coil, room, building pressure, actuator and sensors, stepped in simulated time under its controller."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import exp
from random import Random
from typing import Any

from fentro_core.air.constants import CP_DRY_AIR as CP
from fentro_core.air.constants import dry_bulb_of
from fentro_core.base.device import DeviceGone, DeviceRefused
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import Json
from fentro_core.economizer.configuration import (
    Configuration,
    check_model,
    configuration_json,
    read_configuration,
    with_setting,
)
from fentro_core.economizer.places import PLACES, POINTS, TEMPERATURES
from fentro_standins.rooftop.build import Build, Faults, Weather, phases_of
from fentro_standins.rooftop.controller import Sequence, enthalpy

LAG_S = {"outdoor": 30.0, "return": 20.0, "mixed": 15.0, "after_coil": 15.0, "supply": 15.0}
DRY_ABOVE = 0.60
"""The humidity setpoint of a unit that dries, as shipped."""
OPEN_C, SHORT_C = -60.0, 120.0
"""What an open and a short thermistor look like to an input."""

HAND_ACTIONS = ("actuator_power", "unplug", "freeze_reset")


def saturation_ratio(celsius: float, pressure_pa: float) -> float:
    """Humidity ratio of saturated air, by the Magnus form (over water above 0 °C, over ice below)."""
    a, b = (17.62, 243.12) if celsius >= 0 else (22.46, 272.62)
    vapour = 611.2 * exp(a * celsius / (b + celsius))
    return 0.62198 * vapour / (pressure_pa - vapour)


@dataclass
class Air:
    """Dry bulb [°C] and humidity ratio."""

    c: float
    w: float


@dataclass
class RooftopUnit:
    """One unit and its controller; answers the `Controller` protocol. Same seed, same calls, same answers."""

    seed: int = 1
    build: Build = field(default_factory=Build)
    configuration: Configuration = field(default_factory=Configuration)
    faults: Faults = field(default_factory=Faults)
    weather: Weather = field(default_factory=Weather)
    time_s: float = 12 * 3600.0
    room_c: float = 24.0

    def __post_init__(self) -> None:
        random = Random(self.seed)
        self._phases = phases_of(random)
        self._error = {place: random.gauss(0, 0.12) for place in PLACES}
        self._humidity_error = {place: random.gauss(0, 0.01) for place in ("outdoor", "return")}
        self._noise = random
        running = self.configuration
        for key, value in {
            **{f"loops.{loop}": place for loop, place in self.faults.loops.items()},
            **self.faults.settings,
        }.items():
            running = with_setting(running, key, value)
        if not running.model:
            running = with_model(running, self.build.model)
        self._error["after_coil"] = Random(self.seed + 7919).gauss(0, 0.12)
        hears = self.build.dries and not self.faults.dry_call_dead
        self.sequence = Sequence(running, self.faults.compressor_runs_free, hears)
        self.sequence.started_s = self.time_s
        self.sequence.damper = running.minimum_position
        self.held: dict[str, float] = {}
        self.refuses: set[str] = set()
        self.gone = False
        self.actuator_power = True
        self.unplugged: set[str] = set()
        self.actuator = running.minimum_position
        self.room = Air(self.room_c, 0.0085)
        self.pressure_pa = 2.0
        self.outputs: dict[str, float] = {}
        self.true: dict[str, Air] = {}
        self._lagged: dict[str, float] = {}
        self._mix()
        for place, air in self.true.items():
            self._lagged[place] = air.c
        self.inputs = self._inputs()

    # physics

    @property
    def blades(self) -> float:
        """Where the blades stand, 0 shut to 1 open."""
        faults = self.faults
        if faults.stuck_at is not None:
            return faults.stuck_at
        if faults.loose_at is not None:
            return faults.loose_at
        return (1 - self.actuator if faults.reversed else self.actuator) * faults.slip

    @property
    def outdoor_share(self) -> float:
        """The share of outdoor air in the mixture."""
        build = self.build
        leak = build.closed_leak if self.faults.closed_leak is None else self.faults.closed_leak
        rises: float = 1 - (1 - self.blades) ** build.curve
        return leak + (build.open_share - leak) * rises

    @property
    def around(self) -> float:
        """The share of the supply that passes around the coil."""
        build, faults = self.build, self.faults
        if build.around_open <= 0:
            return 0.0
        opens = self.outputs.get("return_bypass", 0.0) if faults.bypass_stands is None else faults.bypass_stands
        most = build.around_open if faults.bypass_around is None else faults.bypass_around
        return build.around_shut + (most - build.around_shut) * opens

    @property
    def reheats_w(self) -> float:
        """What the hot-gas coil gives: nothing without a compressor that runs."""
        if self.faults.reheat_dead or not self.outputs.get("compressor"):
            return 0.0
        return self.build.reheat_w * max(self.outputs.get("reheat", 0.0), self.faults.reheat_stays)

    def advance(self, seconds: float, step_s: float = 1.0) -> None:
        """Let time pass in steps of at most `step_s`."""
        left = seconds
        while left > 1e-9:
            dt = min(step_s, left)
            self._step(dt)
            left -= dt

    def _step(self, dt: float) -> None:
        self.time_s += dt
        self._mix()
        for place, air in self.true.items():
            self._lagged[place] += (air.c - self._lagged[place]) * (1 - exp(-dt / LAG_S[place]))
        self.inputs = self._inputs()
        told = self.sequence.step(self.time_s, dt, self._seen(), self.held)
        self.outputs = {key: self.held.get(key, value) for key, value in told.items()}
        self._move(dt)
        self._room(dt)

    def _move(self, dt: float) -> None:
        if self.faults.stuck_at is not None:
            self.actuator = self.faults.stuck_at
            return
        aim, stroke = self.outputs["damper_command"], self.build.stroke_s
        if not self.actuator_power:
            if self.faults.spring == "stays":
                return
            aim, stroke = (1.0 if self.faults.spring == "opens" else 0.0), 25.0
        way = dt / stroke
        self.actuator += max(min(aim - self.actuator, way), -way)

    def _mix(self) -> None:
        build = self.build
        outdoor = Air(*self.weather.at(self.time_s, self._phases))
        outdoor.w = min(outdoor.w, saturation_ratio(outdoor.c, build.pressure_pa))
        back = Air(self.room.c + 0.2, self.room.w)
        fan = self.outputs.get("fan", 1.0)
        share = self.outdoor_share if fan else 0.0
        around = self.around if fan else 0.0
        through = min(share / (1 - around), 1.0)
        mixed = Air(back.c + through * (outdoor.c - back.c), back.w + through * (outdoor.w - back.w))
        leaving = self._coil(mixed, outdoor.c, 1 - around) if fan else Air(mixed.c, mixed.w)
        supply = Air(leaving.c + around * (back.c - leaving.c), leaving.w + around * (back.w - leaving.w))
        if fan:
            warms = self.reheats_w + (build.heating_w if self.outputs.get("heating") else 0.0)
            supply.c += build.fan_heat_k + warms / (build.supply_m3s * 1.2 * CP)
        self.true = {"outdoor": outdoor, "return": back, "mixed": mixed, "after_coil": leaving, "supply": supply}
        entering = share * build.supply_m3s if fan else 0.0
        relief = 0.0 if self.faults.relief_blocked else build.relief_m3s_per_pa
        spare = entering - build.exhaust_m3s
        pressure = spare / build.building_m3s_per_pa
        opens = self.sequence.configuration.relief_opens_pa
        if pressure > opens:
            pressure = (spare + relief * opens) / (build.building_m3s_per_pa + relief)
        self.pressure_pa += (pressure - self.pressure_pa) * 0.3

    def _coil(self, mixed: Air, outdoor_c: float, share: float) -> Air:
        stage = self.outputs.get("compressor", 0.0)
        if not stage or self.faults.compressor_dead:
            return Air(mixed.c, mixed.w)
        build = self.build
        mass = share * build.supply_m3s * build.pressure_pa / 101_325 * 1.19
        h = enthalpy(mixed.c, mixed.w)
        power = build.cooling_w * stage * (1 + 0.009 * (mixed.c - 26)) * (1 - 0.006 * (outdoor_c - 35))
        h_surface = h - power / mass / (1 - build.bypass)
        surface = mixed.c - 12
        for _ in range(4):
            saturated = saturation_ratio(surface, build.pressure_pa)
            surface -= (enthalpy(surface, saturated) - h_surface) / (CP + saturated * 0.065 * 2.5e6)
        surface = max(surface, -5.0)
        w = mixed.w - (1 - build.bypass) * max(mixed.w - saturation_ratio(surface, build.pressure_pa), 0.0)
        wet = max(h - power / mass, enthalpy(surface, w))
        return Air(dry_bulb_of(wet, w), w)

    def _room(self, dt: float) -> None:
        build, supply, outdoor = self.build, self.true["supply"], self.true["outdoor"]
        fan = self.outputs.get("fan", 1.0)
        flow = build.supply_m3s * 1.2 * fan
        busy = 1.0 if self._occupied_now() else 0.25
        to_outdoor = build.room_w_per_k / build.room_j_per_k
        to_supply = flow * CP / build.room_j_per_k
        rate = to_outdoor + to_supply
        aim = (to_outdoor * outdoor.c + to_supply * supply.c + build.gains_w * busy / build.room_j_per_k) / rate
        self.room.c = aim + (self.room.c - aim) * exp(-rate * dt)
        air_kg = build.room_j_per_k / CP * 0.25
        into = flow * (supply.w - self.room.w) + build.infiltration_kg_s * (outdoor.w - self.room.w)
        wet = self.room.w + (into + build.wet_gains_kg_s * busy) / air_kg * dt
        self.room.w = min(max(wet, 0.0), saturation_ratio(self.room.c, build.pressure_pa))

    def _drying_outputs(self) -> dict[str, bool]:
        """Whether it has them."""
        return {"reheat": self.build.reheat_w > 0, "return_bypass": self.build.around_open > 0}

    def _occupied_now(self) -> bool:
        first, last = self.build.occupied_h
        return first <= self.time_s / 3600 % 24 < last

    # what the controller sees

    def _inputs(self) -> dict[str, float]:
        """Values by place as wired: each input shows the sensor that hangs on its wire."""
        running, swapped = self.sequence.configuration, self.faults.swapped
        found: dict[str, float] = {}
        for terminal, place in running.terminals.items():
            wired = _USUAL.get(terminal, place)
            if swapped and wired in swapped:
                wired = swapped[1] if wired == swapped[0] else swapped[0]
            found[TEMPERATURES[place]] = self._sensor(self.faults.misplaced.get(wired, wired))
        for place in ("outdoor", "return"):
            air = self.true[place]
            found[f"{place}_humidity"] = min(
                max(air.w / saturation_ratio(air.c, self.build.pressure_pa) + self._humidity_error[place], 0.02), 1.0
            )
        if self.build.dries:
            found["after_coil_temperature"] = self._sensor("after_coil")
        found["room_temperature"] = self.room.c + self._noise.gauss(0, 0.02)
        found["building_pressure"] = self.pressure_pa + self._noise.gauss(0, 0.3)
        found["damper_position"] = self.actuator
        return found

    def _sensor(self, place: str) -> float:
        failed = "open" if place in self.unplugged else self.faults.failed.get(place)
        if failed in ("open", "short"):
            return OPEN_C if failed == "open" else SHORT_C
        if failed == "stuck":
            return 18.0
        return self._lagged[place] + self._error[place] + self.faults.drift.get(place, 0.0) + self._noise.gauss(0, 0.03)

    def _seen(self) -> dict[str, float]:
        setting = self.sequence.configuration
        usual = {
            "cooling_setpoint": setting.cooling_setpoint_c,
            "heating_setpoint": setting.heating_setpoint_c,
            "occupied": 1.0 if self._occupied_now() else 0.0,
        }
        if self.build.dries:
            usual["humidity_setpoint"] = DRY_ABOVE
        seen = {**self.inputs, **usual, **self.held}
        for place in ("outdoor", "return"):
            celsius = seen.get(TEMPERATURES[place], 20.0)
            ratio = seen[f"{place}_humidity"] * saturation_ratio(min(max(celsius, -40), 60), self.build.pressure_pa)
            seen[f"{place}_enthalpy"] = enthalpy(celsius, ratio)
        return seen

    # the Controller protocol

    def points(self) -> dict[str, Any]:
        """Every point as the controller shows it."""
        self._answering()
        seen = self._seen()
        shown: dict[str, Any] = {key: seen[key] for key in POINTS if key in seen}
        shown |= {key: self.outputs.get(key, 0.0) for key in ("damper_command", "compressor", "fan", "heating", "relief")}
        shown |= {key: self.outputs.get(key, 0.0) for key, there in self._drying_outputs().items() if there}
        standing = sorted(self.sequence.alarms)
        return {
            **shown,
            "mode": self.sequence.mode,
            "alarm": standing[0] if standing else "",
            "time_s": self.time_s,
            "overridden": sorted(self.held),
        }

    def override(self, point: str, value: float) -> None:
        """Hold a point, until it is released."""
        self._answering()
        known = POINTS.get(point)
        inputs = {"after_coil_temperature": self.build.dries, "humidity_setpoint": self.build.dries}
        if known is None or not {**inputs, **self._drying_outputs()}.get(point, True):
            raise DeviceRefused("The controller has no such point.")
        if not known.overridable or point in self.refuses:
            raise DeviceRefused(f"The controller refuses to override “{known.name}”.")
        if not known.low <= value <= known.high:
            raise DeviceRefused(f"The controller refuses this value for “{known.name}”.")
        self.held[point] = value

    def release(self, point: str) -> None:
        """Let a point go."""
        self._answering()
        self.held.pop(point, None)

    def alarms(self) -> list[Mapping[str, Any]]:
        """Standing alarms, oldest first."""
        self._answering()
        return [{"key": key, "since_s": since} for key, since in sorted(self.sequence.alarms.items(), key=lambda each: each[1])]

    def save(self) -> Json:
        """The configuration that runs."""
        self._answering()
        return configuration_json(self.sequence.configuration)

    def load(self, configuration: Json) -> None:
        """Run another configuration; the controller starts up again."""
        self._answering()
        try:
            found = read_configuration(configuration)
            check_model(found, self.build.model)
        except Refused as refusal:
            raise DeviceRefused(refusal.sentence.say()) from refusal
        self.sequence.configuration = found
        self.sequence.restart(self.time_s)

    def _answering(self) -> None:
        if self.gone:
            raise DeviceGone

    # what a hand does, and a reference probe sees: not the controller's to give

    def hand(self, action: str, value: str) -> None:
        """Do by hand: ``actuator_power`` off or on; ``unplug`` a place's sensor, "" plugs all in; ``freeze_reset``."""
        if action == "actuator_power":
            self.actuator_power = value != "off"
        elif action == "unplug":
            self.unplugged = {value} if value in PLACES else set()
        elif action == "freeze_reset":
            self.sequence.tripped = False
            self.sequence.alarms.pop("freeze_trip", None)
            self.sequence.restart(self.time_s)
        else:
            raise DeviceRefused(f"By hand one can: {', '.join(HAND_ACTIONS)}.")

    def reference(self, place: str) -> float:
        """What a good probe shows at a place now [°C]."""
        return self.true[place].c + self._noise.gauss(0, 0.08)


_USUAL = dict(Configuration().terminals)


def with_model(configuration: Configuration, model: str) -> Configuration:
    """The configuration as saved from this model."""
    return read_configuration({**configuration_json(configuration), "model": model})

"""A plain physical model of an air system, good enough to practise on: it warms up, cycles, drifts and is layered.

Balances of heat and water over the coil with first-order lags; no claim to be any unit. Everything is SI.
"""

from __future__ import annotations

import hashlib
import random
from dataclasses import dataclass, replace
from math import exp, sin

from fentro_core.air.constants import heat_capacity
from fentro_core.air.state import AirState
from fentro_core.refrigerant.circuit import saturation_pressure

EVAPORATION_J_PER_KG = 2.5e6

COIL_LAG_S = 150.0
FAN_LAG_S = 8.0
ROOM_LAG_S = 4 * 3600.0


@dataclass(frozen=True)
class Build:
    """What a kind of system is like: flow, cooling, areas, taps at full flow, and the air around it."""

    airflow_m3s: float
    sensible_w: float
    latent_w: float
    heat_w: float
    duct_area_m2: float
    outdoor_share: float
    statics_pa: dict[str, float]
    room_c: float = 24.5
    room_rh: float = 0.54
    outdoor_c: float = 31.0
    outdoor_rh: float = 0.52
    around_c: float = 38.0
    pressure_pa: float = 101325.0


BUILDS: dict[str, Build] = {
    "packaged_rooftop": Build(
        1.80,
        24_500.0,
        8_700.0,
        0.0,
        0.42,
        0.18,
        {"return_static": -72.0, "filter_static": -121.0, "coil_out_static": -178.0, "supply_static": 96.0},
    ),
    "furnace_with_coil": Build(
        0.55,
        8_300.0,
        1_100.0,
        21_000.0,
        0.16,
        0.0,
        {"return_static": -34.0, "filter_static": -62.0, "supply_static": 71.0, "coil_out_static": 24.0},
        room_rh=0.36,
        outdoor_rh=0.22,
        around_c=44.0,
    ),
    "split_heat_pump": Build(
        0.42,
        6_200.0,
        2_000.0,
        7_200.0,
        0.12,
        0.06,
        {"return_static": -30.0, "filter_static": -52.0, "coil_out_static": -84.0, "supply_static": 41.0},
    ),
    "dwelling_ventilator": Build(
        0.053,
        0.0,
        0.0,
        0.0,
        0.0123,
        1.0,
        {"outdoor_static": -38.0, "supply_static": 44.0, "extract_static": -41.0, "exhaust_static": 36.0},
    ),
}
"""By kind of system."""


@dataclass(frozen=True)
class Scenario:
    """What happens while one measures."""

    key: str
    name: str
    heating: bool = False
    cycle_s: tuple[float, float] | None = None
    ramp_k_per_s: float = 0.0
    leak_share: float = 0.0
    filter_factor: float = 1.0
    lost: tuple[str, float, float] | None = None
    low_battery: str = ""


SCENARIOS: dict[str, Scenario] = {
    scenario.key: scenario
    for scenario in (
        Scenario("ordinary", "Ordinary: warms up, then stands still"),
        Scenario("heating", "Heating instead of cooling", heating=True),
        Scenario("cycling", "The thermostat stops and starts it", cycle_s=(360.0, 240.0)),
        Scenario("drifting", "Room and outdoor air drift, nothing settles", ramp_k_per_s=1.5 / 600),
        Scenario("leaky_return", "The return draws in air from around the duct", leak_share=0.12),
        Scenario("clogged_filter", "A clogged filter: little flow", filter_factor=0.62),
        Scenario("weak_signal", "One probe drops out, one battery is low", lost=("TH-2042", 150.0, 45.0), low_battery="TH-1807"),
    )
}


def chance_of(*words: object) -> random.Random:
    """A generator that depends on these words alone, on every machine the same."""
    digest = hashlib.sha256("/".join(map(str, words)).encode()).digest()
    return random.Random(int.from_bytes(digest[:8], "big"))


class AirSystem:
    """One system in simulated time."""

    def __init__(self, kind: str, scenario: Scenario, seed: int, **given: float) -> None:
        """`given` replaces figures of the build (airflow_m3s, pressure_pa ...)."""
        self.kind = kind
        self.scenario = scenario
        self.seed = seed
        self.build = replace(BUILDS[kind], **given)  # type: ignore[arg-type]
        self.seconds = 0.0
        self.running_s: float | None = None
        self.fan = 0.0
        self.output = 0.0
        self.room_c = self.build.room_c
        self.room_w = AirState.from_rh(self.build.room_c, self.build.room_rh, self.build.pressure_pa).humidity_ratio
        self.outdoor_w = AirState.from_rh(self.build.outdoor_c, self.build.outdoor_rh, self.build.pressure_pa).humidity_ratio

    def run(self, running: bool) -> None:
        """Called for, or not."""
        if running and self.running_s is None:
            self.running_s = 0.0
        elif not running:
            self.running_s = None

    def step(self, seconds: float) -> None:
        """Let time pass."""
        self.seconds += seconds
        fan_on = self.running_s is not None
        compressor = fan_on
        if self.running_s is not None:
            self.running_s += seconds
            if self.scenario.cycle_s:
                on, off = self.scenario.cycle_s
                compressor = self.running_s % (on + off) < on
        self.fan += (float(fan_on) - self.fan) * (1 - exp(-seconds / FAN_LAG_S))
        self.output += (float(compressor) - self.output) * (1 - exp(-seconds / COIL_LAG_S))
        target = self.build.room_c + (1.2 if self.scenario.heating else -1.2) * self.output
        self.room_c += (target - self.room_c) * (1 - exp(-seconds / ROOM_LAG_S)) + self.scenario.ramp_k_per_s * seconds

    @property
    def flow_m3s(self) -> float:
        """Flow now."""
        return self.build.airflow_m3s * self.fan * self.scenario.filter_factor

    def truth(self, quantity: str, station: str, point: int) -> float | None:
        """The true value of a quantity there, now; None where it can't be read."""
        match quantity:
            case "dry_bulb":
                return self._air(station, point)[0]
            case "relative_humidity":
                dry_bulb, ratio = self._air(station, point)
                return min(AirState(dry_bulb, ratio, self.build.pressure_pa).relative_humidity, 0.98)
            case "static_pressure":
                full = self.build.statics_pa.get(station)
                blocked = 1.6 if self.scenario.filter_factor < 1 and station == "filter_static" else 1.0
                return None if full is None else full * blocked * (self.fan * self.scenario.filter_factor) ** 2
            case "velocity":
                mean = self.flow_m3s / self.build.duct_area_m2
                return mean * (1 + 0.11 * sin(2.4 * point + self.seed))
            case "airflow":
                return self.flow_m3s * (0.09 if station.startswith("register") else 1.0)
            case "pipe_temperature" | "gauge_pressure":
                return self._circuit(quantity, station)
            case "air_pressure":
                return self.build.pressure_pa
            case "electric_power" if station == "blower_feed":
                return 620.0 * self.build.airflow_m3s * self.fan**3
            case "electric_power":
                return self.build.heat_w * self.output if self.scenario.heating else 0.12 * self.build.sensible_w * self.output
            case "voltage":
                return 240.0
            case "current":
                return (self.truth("electric_power", station, point) or 0.0) / 240.0
        return None

    def _circuit(self, quantity: str, station: str) -> float:
        """Pipes and gauges of the refrigerant circuit: both sides at outdoor air while it stands still."""
        outdoor = self._outdoor_c()
        boiling, condensing = outdoor + (5.0 - outdoor) * self.output, outdoor + 12.0 * self.output
        suction = station == "suction_line"
        if quantity == "pipe_temperature":
            return boiling + 6.0 * self.output if suction else condensing - 6.0 * self.output
        pressure = saturation_pressure("R-410A", boiling) if suction else saturation_pressure("R-410A", condensing, 1)
        return pressure - self.build.pressure_pa

    def _outdoor_c(self) -> float:
        base = 2.0 if self.scenario.heating else self.build.outdoor_c
        return base + 0.15 * sin(self.seconds / 900.0) + self.scenario.ramp_k_per_s * self.seconds

    def _outdoor(self) -> tuple[float, float]:
        cold = 0.003 if self.scenario.heating else self.outdoor_w
        return self._outdoor_c(), cold

    def _layer(self, station: str, point: int, most: float) -> float:
        """How far this point lies from the mean; the same point is always the same."""
        return chance_of(self.seed, self.kind, station, point).uniform(-most, most) * self.fan

    def _return(self) -> tuple[float, float]:
        leak = self.scenario.leak_share * self.fan
        around_w = self.outdoor_w
        return (
            (1 - leak) * self.room_c + leak * self.build.around_c,
            (1 - leak) * self.room_w + leak * around_w,
        )

    def _mixed(self) -> tuple[float, float]:
        share = self.build.outdoor_share * self.fan
        (return_c, return_w), (outdoor_c, outdoor_w) = self._return(), self._outdoor()
        return (1 - share) * return_c + share * outdoor_c, (1 - share) * return_w + share * outdoor_w

    def _after_coil(self) -> tuple[float, float]:
        mixed_c, mixed_w = self._mixed()
        flow = max(self.flow_m3s, 0.02)
        mass = flow / AirState(mixed_c, mixed_w, self.build.pressure_pa).specific_volume_m3_per_kg
        per_kelvin = mass * heat_capacity(mixed_w)
        less_flow = 1 - 0.35 * (1 - self.scenario.filter_factor)
        if self.scenario.heating:
            return mixed_c + self.build.heat_w * self.output * self.fan / per_kelvin, mixed_w
        colder = mixed_c - self.build.sensible_w * less_flow * self.output * self.fan / per_kelvin
        drier = mixed_w - self.build.latent_w * less_flow * self.output * self.fan / (mass * EVAPORATION_J_PER_KG)
        colder = max(colder, 4.0)
        most = AirState.from_rh(colder, 0.97, self.build.pressure_pa).humidity_ratio
        return colder, min(max(drier, 0.0005), most)

    def _air(self, station: str, point: int) -> tuple[float, float]:
        """Dry bulb and humidity ratio at a point of a station."""
        leaky = self.scenario.leak_share > 0
        match station.split("-")[0]:
            case "return" | "extract":
                base, layer = self._return(), 2.6 if leaky else 0.4
            case "mixed":
                base, layer = self._mixed(), 1.4
            case "after_coil":
                base, layer = self._after_coil(), 1.1
            case "supply" | "register":
                (cold, ratio), layer = self._after_coil(), 0.3
                base = (cold + 0.4 * self.fan + (0.6 if station.startswith("register") else 0.0), ratio)
                if self.kind == "dwelling_ventilator":
                    (outdoor_c, outdoor_w), (room_c, _) = self._outdoor(), self._return()
                    base = (outdoor_c + 0.72 * self.fan * (room_c - outdoor_c), outdoor_w)
            case "exhaust":
                (outdoor_c, _), (room_c, room_w) = self._outdoor(), self._return()
                base, layer = (room_c + 0.72 * self.fan * (outdoor_c - room_c), room_w), 0.3
            case "outdoor" | "condenser_in":
                base, layer = self._outdoor(), 0.2
            case "condenser_out":
                outdoor_c, outdoor_w = self._outdoor()
                base, layer = (outdoor_c + (-5.0 if self.scenario.heating else 9.0) * self.output, outdoor_w), 0.8
            case "surroundings":
                base, layer = (self.build.around_c, self.outdoor_w), 0.5
            case _:
                base, layer = (self.room_c, self.room_w), 0.0
        return base[0] + self._layer(station, point, layer), base[1]

"""The controller's sequence: the mode, the damper, when the compressor may run. It sees sensors only, never the truth."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from fentro_core.air.constants import CP_DRY_AIR, vapour_enthalpy
from fentro_core.economizer.configuration import Configuration

START_UP_S = 60.0
MINIMUM_RUN_S = 180.0
MINIMUM_REST_S = 120.0
OPEN_BEFORE_COMPRESSOR_S = 240.0
RETREAT_PER_K_S = 0.01
FAILED_OUTSIDE_C = (-45.0, 85.0)
ALARM_AFTER_S = 20.0
ENTHALPY_PER_K = 2000.0
"""A switching differential of 1 K stands for this much enthalpy [J/kg]."""


def enthalpy(celsius: float, ratio: float) -> float:
    """Enthalpy of moist air [J/kg], from 0 °C."""
    return CP_DRY_AIR * celsius + ratio * vapour_enthalpy(celsius)


@dataclass
class Sequence:
    """The state that a controller keeps between steps. Positions and stages 0 to 1, times in its own seconds."""

    configuration: Configuration
    compressor_ignores: bool = False
    dries: bool = False
    started_s: float = 0.0
    damper: float = 0.0
    room_for_damper: float = 1.0
    compressor: float = 0.0
    changed_s: float = -1e9
    full_since_s: float | None = None
    freezing_since_s: float | None = None
    tripped: bool = False
    free: bool = False
    gave_up: bool = False
    stage_one: bool = False
    stage_two: bool = False
    heat: bool = False
    damp: bool = False
    mode: str = "start_up"
    failing: dict[str, float] = field(default_factory=dict)
    alarms: dict[str, float] = field(default_factory=dict)

    def restart(self, time_s: float) -> None:
        """Begin again: start-up, nothing remembered but a freeze trip."""
        self.started_s, self.compressor, self.free = time_s, 0.0, False
        self.stage_one = self.stage_two = self.heat = self.damp = False
        self.full_since_s = None
        self.gave_up = False
        self.room_for_damper = 1.0
        self.mode = "start_up"

    def step(self, time_s: float, dt: float, seen: Mapping[str, float], held: Mapping[str, float]) -> dict[str, float]:
        """One step: what the outputs are told. `seen`: inputs and setpoints as the controller takes them."""
        setting = self.configuration
        failed = self._failures(time_s, seen)
        fan = 1.0 if seen["occupied"] >= 0.5 else 0.0
        self._freeze(time_s, seen)
        if self.tripped:
            fan = 0.0
        self._calls(seen)
        self.free = self._may(seen, self.free) and not failed
        self.gave_up = self.gave_up and self.free
        mode = self._mode(time_s, fan)
        self._damper(dt, mode, seen, failed, held)
        self._compressor(time_s, mode, failed)
        if mode == "free" and self.compressor > 0:
            mode = "free_and_compressor"
        self.mode = mode
        pressure = seen["building_pressure"]
        relief = (
            min(max((pressure - setting.relief_opens_pa) / 5.0 + 0.2, 0.0), 1.0)
            if pressure > setting.relief_opens_pa - 1
            else 0.0
        )
        return {
            "damper_command": self.damper,
            "compressor": self.compressor,
            "fan": fan,
            "heating": 1.0 if mode == "heating" else 0.0,
            "relief": relief if fan else 0.0,
            "reheat": 1.0 if mode == "drying" else 0.0,
            "return_bypass": 1.0 if self.damp and mode in ("drying", "compressor") else 0.0,
        }

    def _failures(self, time_s: float, seen: Mapping[str, float]) -> set[str]:
        """Places whose sensor the sequence needs and that show no temperature."""
        failed = set()
        for place in {*self.configuration.loops.values(), "outdoor"}:
            value = seen[f"{place}_temperature"]
            key = f"sensor_{place}"
            if FAILED_OUTSIDE_C[0] < value < FAILED_OUTSIDE_C[1]:
                self.failing.pop(place, None)
                self.alarms.pop(key, None)
                continue
            failed.add(place)
            since = self.failing.setdefault(place, time_s)
            if time_s - since >= ALARM_AFTER_S:
                self.alarms.setdefault(key, time_s)
        return failed

    def _freeze(self, time_s: float, seen: Mapping[str, float]) -> None:
        value = seen[f"{self.configuration.loops.get('freeze', 'mixed')}_temperature"]
        if not FAILED_OUTSIDE_C[0] < value < self.configuration.freeze_c:
            self.freezing_since_s = None
            return
        if self.freezing_since_s is None:
            self.freezing_since_s = time_s
        if time_s - self.freezing_since_s >= self.configuration.freeze_delay_s and not self.tripped:
            self.tripped = True
            self.alarms["freeze_trip"] = time_s

    def _calls(self, seen: Mapping[str, float]) -> None:
        room, cool, heat = seen["room_temperature"], seen["cooling_setpoint"], seen["heating_setpoint"]
        self.stage_one = room > cool + (-0.3 if self.stage_one else 0.2)
        self.stage_two = room > cool + (0.4 if self.stage_two else 1.2)
        self.heat = room < heat + (0.3 if self.heat else -0.2) and not self.stage_one
        wet = seen["return_humidity"] - seen.get("humidity_setpoint", 1.0)
        self.damp = self.dries and wet > (-0.03 if self.damp else 0.0)

    def _may(self, seen: Mapping[str, float], now: bool) -> bool:
        """Whether outdoor air may cool, with the switching differential."""
        setting = self.configuration
        outdoor = seen[f"{setting.loops.get('changeover', 'outdoor')}_temperature"]
        back = 0.0 if now else setting.differential_k
        if setting.changeover == "fixed_dry_bulb":
            return outdoor <= setting.high_limit_c - back
        if setting.changeover == "differential_dry_bulb":
            return outdoor <= seen["return_temperature"] - back
        if outdoor > setting.high_limit_c - back:
            return False
        limit = setting.high_limit_j_per_kg if setting.changeover == "fixed_enthalpy" else seen["return_enthalpy"]
        return seen["outdoor_enthalpy"] <= limit - back * ENTHALPY_PER_K

    def _mode(self, time_s: float, fan: float) -> str:
        if self.tripped:
            return "freeze_trip"
        if not fan:
            return "off"
        if time_s - self.started_s < START_UP_S:
            return "start_up"
        if self.heat:
            return "heating"
        if self.stage_one:
            return "free" if self.free and not self.gave_up else "compressor"
        self.gave_up = False
        return "drying" if self.damp else "minimum"

    def _damper(self, dt: float, mode: str, seen: Mapping[str, float], failed: set[str], held: Mapping[str, float]) -> None:
        setting = self.configuration
        least = setting.minimum_position
        if mode in ("off", "freeze_trip"):
            self.damper = 0.0
        elif failed:
            self.damper = {"closed": 0.0, "minimum": least, "full": 1.0}[setting.on_sensor_failure]
        elif mode == "free":
            wanted = seen[f"{setting.loops.get('supply_loop', 'supply')}_temperature"] - setting.supply_setpoint_c
            self.damper = min(max(self.damper + setting.loop_gain_per_k_s * wanted * dt, least), 1.0)
        else:
            self.damper = 0.0 if mode == "heating" and setting.heating_damper == "closed" else least
        self._low_limit(dt, seen, held)
        if mode not in ("off", "freeze_trip"):
            self.damper = min(self.damper, self.room_for_damper)

    def _low_limit(self, dt: float, seen: Mapping[str, float], held: Mapping[str, float]) -> None:
        """Cold mixed air pulls the outdoor damper down, below its minimum if need be."""
        value = seen[f"{self.configuration.loops.get('low_limit', 'mixed')}_temperature"]
        if FAILED_OUTSIDE_C[0] >= value or "damper_command" in held:
            return
        under = self.configuration.mixed_low_limit_c - value
        start = self.room_for_damper if self.room_for_damper < 1 or under <= 0 else self.damper
        move = -RETREAT_PER_K_S * under * dt * (1.0 if under > 0 else 0.15)
        self.room_for_damper = min(max(start + max(min(move, 0.2), -0.2), 0.0), 1.0)

    def _compressor(self, time_s: float, mode: str, failed: set[str]) -> None:
        setting = self.configuration
        wanted = 0.0
        one = 1.0 / setting.stages if setting.stages else 0.0
        if mode == "compressor":
            rested = time_s - self.changed_s >= MINIMUM_RUN_S
            self.gave_up = self.gave_up and (self.stage_two or not rested)
            wanted = min(one * (2 if self.stage_two else 1), 1.0)
        elif mode == "drying":
            wanted = 1.0 if setting.stages else 0.0
        elif mode == "free":
            if self.damper >= 0.95:
                self.full_since_s = time_s if self.full_since_s is None else self.full_since_s
            else:
                self.full_since_s = None
            waited = self.full_since_s is not None and time_s - self.full_since_s >= OPEN_BEFORE_COMPRESSOR_S
            if self.compressor_ignores or (setting.sequence == "integrated" and self.stage_two and waited):
                wanted = one
            self.gave_up = setting.sequence == "exclusive" and self.stage_two and waited
        if mode != "free":
            self.full_since_s = None
        if failed and setting.locks_out:
            wanted = 0.0
        if wanted == self.compressor:
            return
        rested = time_s - self.changed_s >= (MINIMUM_RUN_S if wanted < self.compressor else MINIMUM_REST_S)
        if rested or mode in ("off", "freeze_trip"):
            self.compressor, self.changed_s = wanted, time_s

"""A simulated ventilator: fans that come and go, filters, a damper that takes its time, a control with timer, boost and lockouts,
sensors of its own. Answers the core's `VentilatorGateway`. Same seed, same calls, same answers.

What is behind it is drawn by other rules than those the core weighs: wind at its hoods, a damper that leaks, a sensor that is a
little off in a sound one too, ports that read a few percent wrong.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from random import Random
from typing import Any

from fentro_core.base.device import DeviceGone, DeviceRefused
from fentro_core.base.interpolation import Monotone
from fentro_core.system.fresh_air import ChartPoint, Stream, Ventilator, VentilatorControl
from fentro_core.ventilation.control import HELD

STEP_S = 2.0
HOUR_S = 3600.0
SWITCHING_K, SWITCHING_RH = 1.0, 0.03
FAULTS: Mapping[str, str] = {
    "": "Nothing wrong",
    "fan_dead": "Fan does not run",
    "damper_shut": "Damper stuck shut",
    "damper_open": "Damper stuck open",
    "reversed": "Ducts changed over",
    "filter": "A dirty filter",
    "screen": "Outdoor screen clogged",
    "no_screen": "Outdoor screen missing",
    "settings": "Set otherwise than the card says",
    "timer": "Timer does not keep its minutes",
    "sensor": "Outdoor sensor off",
    "lockout": "Lockouts do nothing",
    "interlock": "Blower does not run along",
    "boost": "Boost does not come back",
}


@dataclass(frozen=True)
class Weather:
    """Around the house: outdoor air [°C], its dew point [°C], humidity of the rooms (0 to 1)."""

    outdoor_c: float = 18.0
    dew_point_c: float = 9.0
    indoor_rh: float = 0.45


@dataclass
class SimulatedVentilator:
    """The ventilator with all that is behind it.

    Attributes
    ----------
    ventilator
        As its nameplate says, with the chart of its ports.
    control
        What it is set to; a fault may have changed it.
    seed
        Of everything that is not as drawn.
    faults
        What is wrong: keys of `FAULTS`.
    """

    ventilator: Ventilator
    control: VentilatorControl
    seed: int = 0
    faults: tuple[str, ...] = ()
    weather: Weather = Weather()
    time_s: float = 0.0
    run_s: float = 0.0
    gone: bool = False
    held: dict[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        random = self._random = Random(self.seed)
        self._full = {stream: self._usual(stream) * random.uniform(0.8, 1.1) for stream in self.ventilator.streams}
        self._dirty = random.choice(self.ventilator.streams)
        self._clog = {"filter": random.uniform(0.35, 0.75), "screen": random.uniform(0.2, 0.7)}
        self._travel_s = random.uniform(20.0, 90.0)
        self._leak = random.choice((0.0, 0.01, 0.02, 0.06))
        self._stays_open = random.choice((1.0, 1.0, 0.4))
        self._wind = random.choice((0.0, 0.0, 0.03, 0.05))
        self._sensor_k = random.gauss(0.0, 0.5)
        if "sensor" in self.faults:
            self._sensor_k = random.choice((-1.0, 1.0)) * random.uniform(3.0, 9.0)
        self._port_share = random.gauss(1.0, 0.02)
        self._timer = 1.0
        if "timer" in self.faults:
            self._timer = random.choice((0.0, 0.4, 0.6, 1.6, 2.5, 60.0))
        self._filters = self._look_of_filters(random)
        self._screen = self._look_of_screen(random)
        if "settings" in self.faults:
            self.control = _changed(self.control, random)
        self._boost_until = -1.0
        self._cycle_from = 0.0
        self._locked = ""
        self.position = 1.0 if "damper_open" in self.faults else 0.0

    def _usual(self, stream: Stream) -> float:
        chart = self.ventilator.chart_of(stream)
        if len(chart) > 1:
            middle = sorted(chart, key=lambda point: point.port_pa)[len(chart) // 2]
            return middle.airflow_m3s
        return 0.07

    def _look_of_filters(self, random: Random) -> str:
        if "filter" not in self.faults:
            return "clean"
        return "blocked" if self._clog["filter"] < 0.5 else "dirty"

    def _look_of_screen(self, random: Random) -> str:
        return "missing" if "no_screen" in self.faults else "clogged" if "screen" in self.faults else "clear"

    # The protocol.

    def points(self) -> Mapping[str, Any]:
        """What the control shows now."""
        self._answers()
        blade: str | None = None
        if self.ventilator.damper:
            blade = "open" if self._said() > 0.95 else "shut" if self._said() < 0.05 else "moving"
        return {
            "time_s": round(self.time_s, 1),
            "fan": self._called(),
            "blower": self._called() if self.control.interlock else None,
            "damper": blade,
            "outdoor_c": round(self._outdoor(), 1),
            "locked": self._locked,
            "boost_left_s": max(self._boost_until - self.time_s, 0.0),
            "run_s": round(self.run_s, 1),
            "held": dict(self.held),
        }

    def settings(self) -> VentilatorControl:
        """What it is set to."""
        self._answers()
        return self.control

    def enter(self, control: VentilatorControl) -> None:
        """Set it to something else."""
        self._answers()
        control.check()
        self.control = control
        self._cycle_from = self.time_s

    def hold(self, point: str, value: float) -> None:
        """Hold a point."""
        self._answers()
        if point not in HELD:
            raise DeviceRefused(f"This control can hold: {', '.join(HELD)}.")
        low, high, _ = HELD[point]
        if not low <= value <= high:
            raise DeviceRefused(f"It lies between {low:g} and {high:g}.")
        self.held[point] = value

    def release(self, point: str) -> None:
        """Let it go."""
        self._answers()
        self.held.pop(point, None)

    def boost(self) -> None:
        """Start a boost."""
        self._answers()
        if self.control.boost_min is None:
            raise DeviceRefused("This control has no boost.")
        self._boost_until = self.time_s + self.control.boost_min * 60.0
        if "boost" in self.faults:
            self._boost_until = float("inf")

    def _answers(self) -> None:
        if self.gone:
            raise DeviceGone

    # What happens behind it.

    def advance(self, seconds: float) -> None:
        """Let time pass."""
        left = seconds
        while left > 1e-9:
            step = min(left, STEP_S)
            self._lock()
            wanted = 1.0 if self._called() else 0.0
            most = step / self._travel_s
            self.position += max(min(wanted - self.position, most), -most)
            if "damper_open" in self.faults:
                self.position = max(self.position, self._stays_open)
            if "damper_shut" in self.faults:
                self.position = 0.0
            self.time_s += step
            self.run_s += step if self.runs else 0.0
            left -= step

    @property
    def runs(self) -> bool:
        """The fan turns."""
        return self._called() and "fan_dead" not in self.faults

    @property
    def blower_runs(self) -> bool:
        """The system's blower runs with it."""
        return self.control.interlock and self._called() and "interlock" not in self.faults

    def _said(self) -> float:
        """Where the control believes its damper is: it drives it, and does not see it."""
        return 1.0 if self._called() else 0.0

    def _outdoor(self) -> float:
        return self.held.get("outdoor_c", self.weather.outdoor_c + self._sensor_k)

    def _lock(self) -> None:
        """Lockouts switch off at their limit, and on again a little way back."""
        control = self.control
        humid, dew = self.held.get("indoor_rh", self.weather.indoor_rh), self.held.get("dew_point_c", self.weather.dew_point_c)
        past = {
            "low": control.low_c is not None and self._outdoor() < control.low_c + self._back("low", SWITCHING_K),
            "high": control.high_c is not None and self._outdoor() > control.high_c - self._back("high", SWITCHING_K),
            "dew": control.dew_point_c is not None and dew > control.dew_point_c - self._back("dew", SWITCHING_K),
            "humid": control.indoor_rh is not None and humid > control.indoor_rh - self._back("humid", SWITCHING_RH),
        }
        self._locked = "" if "lockout" in self.faults else next((key for key, locked in past.items() if locked), "")

    def _back(self, key: str, difference: float) -> float:
        return difference if self._locked == key else 0.0

    def _called(self) -> bool:
        if self._locked:
            return False
        if "run" in self.held:
            return self.held["run"] >= 0.5
        if self.time_s < self._boost_until:
            return True
        minutes = (self.control.minutes_per_hour or 0.0) * self._timer
        cycle = self.ventilator.cycle_h * HOUR_S
        return (self.time_s - self._cycle_from) % cycle < minutes / 60.0 * cycle

    # What a technician finds behind it.

    def flows(self) -> dict[Stream, float]:
        """Air of every stream [m³/s] now; below zero it goes the wrong way."""
        through = max(self.position, self._leak) if self.ventilator.damper else 1.0
        found: dict[Stream, float] = {}
        for stream, full in self._full.items():
            moved = full if self.runs else self._wind * full * self._random.choice((-1.0, 1.0))
            if "filter" in self.faults and stream == self._dirty:
                moved *= self._clog["filter"]
            if "screen" in self.faults and stream == self.ventilator.streams[0]:
                moved *= self._clog["screen"]
            found[stream] = moved * through * (-1.0 if "reversed" in self.faults and self.runs else 1.0)
        return found

    def air(self) -> dict[Stream, str]:
        """What a strip of tissue at the grilles shows."""
        shown: dict[Stream, str] = {}
        for stream, flow in self.flows().items():
            share = flow / self._full[stream] * self._random.lognormvariate(0.0, 0.15)
            if abs(share) < 0.08:
                shown[stream] = "none"
            elif abs(share) < 0.3:
                shown[stream] = "little"
            else:
                shown[stream] = "right" if share > 0 else "wrong"
        return shown

    def port_pa(self, stream: Stream) -> float | None:
        """What a gauge shows across the ports of a stream [Pa]; None where nothing moves or nobody knows the chart."""
        chart: tuple[ChartPoint, ...] = self.ventilator.chart_of(stream)
        flow = abs(self.flows().get(stream, 0.0))
        if len(chart) < 2 or not self.runs or flow <= 0.0:
            return None
        curve = Monotone([(point.port_pa, point.airflow_m3s) for point in chart])
        low, high = min(point.port_pa for point in chart), max(point.port_pa for point in chart)
        for _ in range(40):
            middle = (low + high) / 2
            low, high = (middle, high) if curve(middle) < flow else (low, middle)
        return round((low + high) / 2 * self._port_share, 1)

    def look(self) -> dict[str, Any]:
        """A walk to grilles, damper, blower, filters and hood, with a probe beside the sensor."""
        return {
            "fan": "runs" if self.runs else "stands",
            "blower": "runs" if self.blower_runs else "stands",
            "damper": "shut" if self.position < 0.15 else "open",
            "air": self.air(),
            "filters": self._filters,
            "screen": self._screen,
            "probe_c": round(self.weather.outdoor_c + self._random.gauss(0.0, 0.2), 1),
            "port_pa": {stream: self.port_pa(stream) for stream in self.ventilator.streams},
        }


def _changed(control: VentilatorControl, random: Random) -> VentilatorControl:
    """Somebody set it otherwise: one value, minutes most often."""
    changes: list[dict[str, Any]] = [{"minutes_per_hour": minutes} for minutes in (10.0, 20.0, 45.0, 60.0)]
    if control.low_c is not None:
        changes.append({"low_c": control.low_c - random.choice((8.0, 12.0))})
    if control.high_c is not None:
        changes.append({"high_c": control.high_c + random.choice((8.0, 12.0))})
    wrong = [each for each in changes if all(getattr(control, name) != value for name, value in each.items())]
    return replace(control, **random.choice(wrong))

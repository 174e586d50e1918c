"""The probes themselves: each lags, is a little off, flickers, loses battery and sometimes its signal."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from math import exp, sin
from typing import Any

from fentro_standins.probes.physics import SCENARIOS, AirSystem, Scenario, chance_of

KEPT_FRAMES = 14_400
LONGEST_CATCH_UP_S = 3600.0
FASTEST = 240.0


@dataclass(frozen=True)
class Channel:
    """How a probe reads one quantity: the size of its offset and flicker, last digit, lag [s]. SI."""

    offset: float
    flicker: float
    digit: float
    lag_s: float


AIR = {
    "dry_bulb": Channel(0.18, 0.03, 0.01, 18.0),
    "relative_humidity": Channel(0.012, 0.0016, 0.001, 25.0),
}
KINDS: dict[str, dict[str, Channel]] = {
    "air": AIR,
    "clamp": {"pipe_temperature": Channel(0.3, 0.06, 0.1, 12.0)},
    "manometer": {"static_pressure": Channel(0.6, 0.5, 0.1, 1.0)},
    "vane": {"velocity": Channel(0.05, 0.08, 0.01, 2.0), "airflow": Channel(0.0, 0.004, 0.001, 2.0)},
    "power": {
        "electric_power": Channel(20.0, 15.0, 1.0, 1.0),
        "voltage": Channel(0.5, 0.3, 0.1, 1.0),
        "current": Channel(0.1, 0.05, 0.1, 1.0),
    },
}

PROBES: tuple[tuple[str, str, str], ...] = (
    ("TH-2041", "Air probe 2041", "air"),
    ("TH-2042", "Air probe 2042", "air"),
    ("TH-1807", "Air probe 1807", "air"),
    ("TH-2060", "Air probe 2060", "air"),
    ("PC-118", "Pipe clamp 118", "clamp"),
    ("MN-507", "Manometer 507", "manometer"),
    ("MN-508", "Manometer 508", "manometer"),
    ("VA-220", "Vane 220", "vane"),
    ("PM-034", "Power meter 034", "power"),
)
"""Serial number, name, kind."""


@dataclass
class Probe:
    """One wireless probe: what it shows lags behind the truth."""

    serial: str
    name: str
    kind: str
    seed: int
    battery: float = 0.8
    system: str = ""
    station: str = ""
    point: int = 1
    reachable: bool = True
    level: dict[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        chance = chance_of(self.seed, self.serial)
        self.offsets = {key: chance.uniform(-1, 1) * channel.offset for key, channel in KINDS[self.kind].items()}
        self.battery = chance.uniform(0.45, 0.95)
        self.chance = chance_of(self.seed, self.serial, "flicker")

    def hang(self, system: str, station: str, point: int) -> None:
        """Put it somewhere; "" is the technician's hand."""
        self.system, self.station, self.point = system, station, point

    def read(self, truths: dict[str, float], seconds: float) -> dict[str, float]:
        """What it shows now."""
        shown = {}
        for key, truth in truths.items():
            channel = KINDS[self.kind][key]
            before = self.level.get(key, truth)
            self.level[key] = truth + (before - truth) * exp(-seconds / channel.lag_s)
            raw = self.level[key] + self.offsets[key] + self.chance.gauss(0, channel.flicker)
            value = round(raw / channel.digit) * channel.digit
            if key == "relative_humidity":
                value = min(max(value, 0.0), 1.0)
            shown[key] = round(value, 6)
        return shown


class Rack:
    """All probes and the systems they hang in, in simulated time."""

    def __init__(self, now: datetime, scenario: str = "ordinary", seed: int = 1, speed: float = 1.0) -> None:
        self.probes: dict[str, Probe] = {}
        self.frames: deque[dict[str, Any]] = deque(maxlen=KEPT_FRAMES)
        self.forced_out: set[str] = set()
        self.set_scene(now, scenario, seed, speed)

    def set_scene(self, now: datetime, scenario: str, seed: int, speed: float) -> None:
        """Begin again: probes back in the hand, systems as found, time from `now`."""
        self.scenario: Scenario = SCENARIOS[scenario]
        self.seed = seed
        self.speed = min(max(speed, 0.1), FASTEST)
        places = {serial: (probe.system, probe.station, probe.point) for serial, probe in self.probes.items()}
        self.probes = {serial: Probe(serial, name, kind, seed) for serial, name, kind in PROBES}
        for serial, place in places.items():
            self.probes[serial].hang(*place)
        self.systems: dict[str, AirSystem] = {}
        self.running_since: dict[str, datetime | None] = {}
        self.began = self.now = self.sampled = now
        self.frames.clear()

    @property
    def interval_s(self) -> float:
        """Simulated seconds between samples: one, or more when time runs fast (at most thirty samples in a real second)."""
        return max(1.0, round(self.speed / 30))

    def place(self, system: str, kind: str, running_since: datetime | None, places: dict[str, Any], **given: float) -> None:
        """Say which probes hang where in a system, and since when it runs; those not named go back to the hand."""
        known = self.systems.get(system)
        if known is None or self.running_since.get(system) != running_since:
            fresh = known or AirSystem(kind, self.scenario, self.seed, **given)
            self.systems[system] = fresh
            self.running_since[system] = running_since
            fresh.run(False)
            fresh.run(running_since is not None)
            if running_since is not None and known is None:
                behind = min(max((self.now - running_since).total_seconds(), 0.0), LONGEST_CATCH_UP_S)
                for _ in range(int(behind // 5)):
                    fresh.step(5.0)
        for serial, probe in self.probes.items():
            if serial in places:
                probe.hang(system, places[serial]["station"], int(places[serial].get("point", 1)))
            elif probe.system == system:
                probe.hang("", "", 1)

    def advance(self, real_seconds: float) -> list[dict[str, Any]]:
        """Let real time pass; the samples that fell due."""
        until = self.now + timedelta(seconds=real_seconds * self.speed)
        made = []
        while self.sampled + timedelta(seconds=self.interval_s) <= until:
            self.sampled += timedelta(seconds=self.interval_s)
            step = self.interval_s
            while step > 0:
                for system in self.systems.values():
                    system.step(min(step, 2.0))
                step -= 2.0
            made.append(self._frame())
        self.now = until
        self.frames.extend(made)
        return made

    def _frame(self) -> dict[str, Any]:
        values: dict[str, dict[str, float]] = {}
        lost = []
        elapsed = (self.sampled - self.began).total_seconds()
        for serial, probe in self.probes.items():
            probe.reachable = not self._out(serial, elapsed)
            shown = probe.read(self._truths(probe, elapsed), self.interval_s)
            if not probe.reachable:
                lost.append(serial)
            elif shown:
                values[serial] = shown
            drain = 1e-5 if serial != self.scenario.low_battery else 0.0
            probe.battery = max(probe.battery - drain * self.interval_s / 60, 0.0)
            if serial == self.scenario.low_battery:
                probe.battery = 0.07
        return {
            "at": self.sampled.isoformat(),
            "values": values,
            "lost": lost,
            "battery": {serial: round(probe.battery, 2) for serial, probe in self.probes.items()},
        }

    def _out(self, serial: str, elapsed: float) -> bool:
        if serial in self.forced_out:
            return True
        if not self.scenario.lost or self.scenario.lost[0] != serial:
            return False
        _, every, gone = self.scenario.lost
        return elapsed % every > every - gone

    def _truths(self, probe: Probe, elapsed: float) -> dict[str, float]:
        system = self.systems.get(probe.system)
        truths: dict[str, float] = {}
        for key in KINDS[probe.kind]:
            value = system.truth(key, probe.station, probe.point) if system else self._in_the_hand(key, elapsed)
            if value is not None:
                truths[key] = value
        return truths

    def _in_the_hand(self, quantity: str, elapsed: float) -> float | None:
        """Room air, the same for every probe: where probes are matched."""
        air = {"dry_bulb": 24.0 + 0.1 * sin(elapsed / 70), "relative_humidity": 0.50 + 0.004 * sin(elapsed / 90)}
        other = {"pipe_temperature": 24.0, "static_pressure": 0.0, "velocity": 0.0, "voltage": 0.0}
        return {**air, **other}.get(quantity)

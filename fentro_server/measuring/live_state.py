"""What is known of live probes on one visit: last values, who is lost, steadiness by the core, samples to keep."""

from __future__ import annotations

from collections import deque
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from fentro_core.base.typed_json import write
from fentro_core.instruments.instrument import Instrument
from fentro_core.instruments.quantities import READABLE, named_at
from fentro_core.instruments.steadiness import FIT_WINDOWS, WINDOW_S, Steadiness, steadiness, whole_state
from fentro_server.measuring.probe_source import Frame
from fentro_server.measuring.samples import Channel

KEPT_S = FIT_WINDOWS * WINDOW_S + 60.0
UNSENT = 600
"""Samples of a channel kept for a slow reader; older ones are dropped from its trend, never from the visit."""

LOW_BATTERY = 0.15

STEADY_QUANTITIES = ("dry_bulb", "relative_humidity", "static_pressure", "pipe_temperature")
"""What the whole visit's state looks at; flow and power flicker by nature."""

FOLLOWS_THE_DAY = ("outdoor", "surroundings", "condenser_in", "condenser_out")
"""Air that never settles with the unit: judged by itself, but the visit does not wait for it."""


@dataclass(frozen=True)
class Place:
    """Where a probe hangs; station "" is the hand. What it showed before `since` belongs to another place."""

    station: str
    point: int = 1
    since: datetime | None = field(default=None, compare=False)


@dataclass(frozen=True)
class Situation:
    """What the visit says of the probes now: instruments by serial, places by instrument, since when the unit runs."""

    instruments: Mapping[str, Instrument]
    places: Mapping[str, Place]
    station_names: Mapping[str, str]
    running_since: datetime | None
    closed: bool = False


@dataclass
class Stream:
    """One quantity of one probe at its place."""

    instrument: Instrument
    quantity: str
    place: Place
    times: list[float] = field(default_factory=list)
    values: list[float] = field(default_factory=list)
    unsent: deque[tuple[float, float]] = field(default_factory=lambda: deque(maxlen=UNSENT))
    last_at: datetime | None = None
    _judged: Steadiness | None = None

    def take(self, at: datetime, value: float) -> None:
        """A sample later than the last."""
        moment = at.timestamp()
        if self.times and moment <= self.times[-1]:
            return
        self.times.append(moment)
        self.values.append(value)
        self.unsent.append((moment, value))
        self._judged = None
        self.last_at = at
        if moment - self.times[0] > 2 * KEPT_S:
            start = next(n for n, each in enumerate(self.times) if each > moment - KEPT_S)
            del self.times[:start], self.values[:start]

    @property
    def key(self) -> str:
        """By which the interface knows it."""
        return f"{self.instrument.id}/{self.quantity}/{self.place.station}/{self.place.point}"

    def judged(self) -> Steadiness | None:
        """Steadiness of what came in at this place, judged once for each sample."""
        if self._judged is None and self.values:
            accuracy = self.instrument.accuracy.get(self.quantity)
            self._judged = steadiness(self.times, self.values, self.quantity, accuracy.repeatability if accuracy else None)
        return self._judged


class LiveState:
    """Takes frames, gives what to send and what to keep."""

    def __init__(self, situation: Situation) -> None:
        self.situation = situation
        self.streams: dict[tuple[str, str], Stream] = {}
        self.lost: frozenset[str] = frozenset()
        self.battery: Mapping[str, float] = {}
        self.heard_at: datetime | None = None
        self.connected = False
        self.to_keep: list[tuple[Channel, datetime, float]] = []

    def move(self, situation: Situation) -> None:
        """Take in what changed: a probe that was hung elsewhere begins a new stream."""
        self.situation = situation
        for key, stream in list(self.streams.items()):
            if self._place(stream.instrument.id) != stream.place:
                del self.streams[key]

    def _place(self, instrument: str) -> Place:
        return self.situation.places.get(instrument, Place(""))

    def take(self, frames: Iterable[Frame]) -> None:
        """Samples of known probes; those that hang at a station are kept with the visit."""
        for frame in frames:
            self.lost, self.battery, self.heard_at = frame.lost, frame.battery, frame.at
            for serial, values in frame.values.items():
                instrument = self.situation.instruments.get(serial)
                if instrument is None or serial in frame.lost:
                    continue
                for quantity, value in values.items():
                    self._sample(frame.at, instrument, quantity, value)

    def _sample(self, at: datetime, instrument: Instrument, quantity: str, value: float) -> None:
        if quantity not in READABLE:
            return
        low, high = READABLE[quantity].possible
        if not low <= value <= high:
            return
        place = self._place(instrument.id)
        if place.since is not None and at < place.since:
            return
        stream = self.streams.setdefault((instrument.id, quantity), Stream(instrument, quantity, place))
        stream.take(at, value)
        if place.station and not self.situation.closed:
            self.to_keep.append((Channel(place.station, place.point, quantity, instrument.id, "live"), at, value))

    def keep(self) -> list[tuple[Channel, datetime, float]]:
        """The samples to store, once."""
        kept, self.to_keep = self.to_keep, []
        return kept

    @property
    def running_s(self) -> float | None:
        """How long the unit runs by the probes' clock."""
        since = self.situation.running_since
        return None if since is None or self.heard_at is None else max((self.heard_at - since).total_seconds(), 0.0)

    def picture(self) -> dict[str, Any]:
        """Everything a reader needs now. A lost probe has no value: its last one must not pass for live."""
        judged: dict[str, tuple[str, Steadiness]] = {}
        channels = []
        for stream in self.streams.values():
            serial = stream.instrument.serial
            lost = serial in self.lost or not self.connected
            found = stream.judged()
            if found is None:
                continue
            name = self.situation.station_names.get(stream.place.station, "")
            waited_for = stream.place.station and stream.place.station not in FOLLOWS_THE_DAY
            if waited_for and not lost and stream.quantity in STEADY_QUANTITIES:
                judged[named_at(name, stream.quantity)] = (stream.quantity, found)
            samples = [*stream.unsent]
            stream.unsent.clear()
            channels.append(
                {
                    "key": stream.key,
                    "instrument": stream.instrument.id,
                    "name": stream.instrument.name,
                    "serial": serial,
                    "quantity": stream.quantity,
                    "kind": READABLE[stream.quantity].kind,
                    "station": stream.place.station,
                    "point": stream.place.point,
                    "lost": lost,
                    "value": None if lost else stream.values[-1],
                    "mean": None if lost else found.mean,
                    "state": found.state,
                    "settles_in_s": found.settles_in_s,
                    "held": write(found.evidence),
                    "at": stream.last_at.isoformat() if stream.last_at else None,
                    "battery": self.battery.get(serial),
                    "low_battery": self.battery.get(serial, 1.0) < LOW_BATTERY,
                    "samples": samples,
                }
            )
        state, words = whole_state(judged, self.running_s)
        return {
            "connected": self.connected,
            "at": self.heard_at.isoformat() if self.heard_at else None,
            "running_s": self.running_s,
            "state": state,
            "words": write(words),
            "channels": channels,
        }

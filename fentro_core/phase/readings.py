"""The readings of one phase, station by station: each with its doubt, and as differences may use it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from fentro_core.base.fields import kind_of
from fentro_core.base.measured import Measured, mean
from fentro_core.base.quantity import Quantity, quantity
from fentro_core.base.quick import quick
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.instruments.averaging import scatter_half_width
from fentro_core.instruments.instrument import Instrument, measured_reading
from fentro_core.instruments.matching import corrected
from fentro_core.instruments.quantities import READABLE, named_at
from fentro_core.instruments.station_air import SPREAD_ASKS_FOR_MORE_K, ProbePoint, StationAir, station_air
from fentro_core.logbook.entries import Reading
from fentro_core.logbook.entry import Entry
from fentro_core.phase.matches import Matches
from fentro_core.phase.results import PointReading, StationResult
from fentro_core.phase.run_times import NOBODY_NOTED, RunTimes
from fentro_core.system.stations import Station

LAYERS_PA = 5.0
"""How far (95 %) a static pressure at one tap ordinarily lies from the duct's, in air that eddies. Ours."""

AIR_QUANTITIES = ("dry_bulb", "relative_humidity", "wet_bulb", "dew_point", "velocity")
"""What makes the state of the air at a point; the rest is averaged by itself."""


@quick
@dataclass(frozen=True)
class Read:
    """One standing reading: as shown, as a difference may use it (matched), and why it came early."""

    entry: Entry
    reading: Reading
    instrument: Instrument | None
    value: Measured
    matched: Measured
    early: Sentence | None


class Readings:
    """All standing readings of a phase, with names for every source of doubt."""

    def __init__(
        self,
        phase: str,
        entries: Iterable[Entry],
        instruments: Iterable[Instrument],
        stations: Iterable[Station],
        runs: RunTimes,
        matches: Matches,
        pressure_pa: float,
    ) -> None:
        self.phase = phase
        self.pressure_pa = pressure_pa
        self.instruments = {instrument.id: instrument for instrument in instruments}
        self.names = {station.id: station.name for station in stations}
        self.labels: dict[str, str] = dict(matches.labels)
        latest = _latest_of_each_point(entries)
        together = _matched_together([reading for _, reading in latest], matches)
        self.reads = [self._read(entry, reading, runs, matches, together) for entry, reading in latest]
        self._here: dict[str, list[Read]] = {}
        self._at: dict[tuple[str, str], list[Read]] = {}
        self._averages: dict[tuple[str, str], Measured | None] = {}
        for read in self.reads:
            self._here.setdefault(read.reading.station, []).append(read)
            self._at.setdefault((read.reading.station, read.reading.quantity), []).append(read)
        for reads in self._at.values():
            reads.sort(key=lambda read: read.reading.point)
        self.airs: dict[str, StationAir] = {}
        self.matched_airs: dict[str, StationAir] = {}

    def _read(self, entry: Entry, reading: Reading, runs: RunTimes, matches: Matches, together: set[tuple[str, str]]) -> Read:
        instrument = self.instruments.get(reading.instrument or "")
        own = f"reading:{entry.id}"
        name = READABLE[reading.quantity].name.lower()
        at = self.names.get(reading.station, reading.station)
        self.labels[own] = f"{named_at(at, reading.quantity)}, this reading"
        if instrument:
            self.labels[f"instrument:{instrument.id}:{reading.quantity}"] = f"{instrument.name}, {name} accuracy"
        value = measured_reading(reading.quantity, reading.value, reading.unit, own, instrument, entry.at, reading.plus_minus)
        found = matches.of(reading.quantity, instrument.id) if instrument else None
        matched = value
        if found and instrument and (found.match, reading.quantity) in together:
            common = f"instrument:{instrument.id}:{reading.quantity}"
            matched = corrected(value, common, found.offset, found.match, found.shared)
        return Read(entry, reading, instrument, value, matched, runs.early(entry, reading, instrument))

    def at(self, station: str, quantity_key: str) -> list[Read]:
        """Readings of one quantity at one station, by point."""
        return self._at.get((station, quantity_key), [])

    def average(self, station: str, quantity_key: str) -> Measured | None:
        """Plain average of a station's readings of one quantity, their scatter in its half-width; None without any."""
        if (station, quantity_key) not in self._averages:
            self._averages[station, quantity_key] = self._average(station, quantity_key)
        return self._averages[station, quantity_key]

    def _average(self, station: str, quantity_key: str) -> Measured | None:
        reads = self.at(station, quantity_key)
        if not reads:
            return None
        values = [read.value for read in reads]
        usual = _usual_spread(reads, quantity_key)
        width = scatter_half_width([value.value for value in values], [1 / len(values)] * len(values), usual)
        average = mean(values)
        if not width:
            return average
        source = f"{self.phase}/{station}:spread of {quantity_key}"
        self.labels[source] = f"{self.names[station]}, spread of {READABLE[quantity_key].name.lower()}"
        return Measured(average.value, {**average.parts, source: width})

    def early(self, stations: Iterable[str]) -> Sentence | None:
        """Why readings at these stations came too early, the gravest first; or None."""
        wanted = set(stations)
        reasons = [read.early for read in self.reads if read.reading.station in wanted and read.early]
        return next((reason for reason in reasons if reason is not NOBODY_NOTED), reasons[0] if reasons else None)

    def station(self, station: Station) -> StationResult:
        """What was read at a station and what follows; keeps its air for the results."""
        reads = self._here.get(station.id)
        if not reads:
            return StationResult(station.id, ())
        shown = tuple(_shown(read) for read in reads)
        early = any(read.early for read in reads)
        values = {
            key: quantity(average, READABLE[key].kind)
            for key in dict.fromkeys(read.reading.quantity for read in reads)
            if key not in AIR_QUANTITIES or (key == "velocity" and station.kind == "traverse")
            if (average := self.average(station.id, key)) is not None
        }
        if not self.at(station.id, "dry_bulb"):
            return StationResult(station.id, shown, values=values, early=early)
        for what in ("dry bulb", "humidity"):
            self.labels[f"{self.phase}/{station.id}:spread of {what}"] = f"{station.name}, spread of {what}"
            self.labels[f"{station.id}:layers of {what}"] = f"{station.name}, one point of its layers of {what}"
        try:
            air = self._air(station.id, matched=False)
            matched = self._air(station.id, matched=True) if any(read.matched is not read.value for read in reads) else air
        except Refused as refusal:
            return StationResult(station.id, shown, trouble=refusal.sentence, values=values, early=early)
        if air is None or matched is None:
            return StationResult(station.id, shown, values=values, early=early)
        self.airs[station.id] = air
        self.matched_airs[station.id] = matched
        remark = None
        if air.spread_k > SPREAD_ASKS_FOR_MORE_K:
            remark = Sentence.of(
                "Points differ by {spread}: read more points across the duct.",
                spread=(air.spread_k, "temperature_difference"),
            )
        return StationResult(
            station.id,
            shown,
            dry_bulb=quantity(air.dry_bulb, "temperature"),
            properties={name: quantity(value, kind_of(name)) for name, value in air.properties.items()},
            spread=Quantity(air.spread_k, 0.0, "temperature_difference") if air.points > 1 else None,
            points=air.points,
            remark=remark,
            values=values,
            correlation=air.correlation,
            early=early,
        )

    def _air(self, station_id: str, *, matched: bool) -> StationAir | None:
        points: dict[int, dict[str, Measured]] = {}
        for read in self._here.get(station_id, ()):
            if read.reading.quantity in AIR_QUANTITIES:
                given = read.matched if matched else read.value
                points.setdefault(read.reading.point, {})[read.reading.quantity] = given
        told = [ProbePoint(n, given) for n, given in sorted(points.items())]
        return station_air(f"{self.phase}/{station_id}", told, self.pressure_pa, station_id)


def _usual_spread(reads: list[Read], quantity_key: str) -> float:
    """How far one of these ordinarily lies from what they should show; what is assumed without an instrument has it in it."""
    if quantity_key == "static_pressure":
        own = reads[0].instrument
        return LAYERS_PA if len(reads) > 1 or (own and quantity_key in own.accuracy) else 0.0
    return READABLE[quantity_key].repeatability if len(reads) > 1 else 0.0


def _latest_of_each_point(entries: Iterable[Entry]) -> list[tuple[Entry, Reading]]:
    latest: dict[tuple[str, str, int], tuple[Entry, Reading]] = {}
    for entry in entries:
        if isinstance(entry.body, Reading):
            body = entry.body
            latest[body.station, body.quantity, body.point] = (entry, body)
    return list(latest.values())


COMPARED_AT = ("return", "supply", "mixed", "outdoor", "extract", "exhaust")
"""Stations between which differences are taken."""


def _matched_together(readings: Iterable[Reading], matches: Matches) -> set[tuple[str, str]]:
    """Matches (with quantity) of which two probes or more were used: only then is there a difference to correct."""
    used: dict[tuple[str, str], set[str]] = {}
    for reading in readings:
        known = matches.of(reading.quantity, reading.instrument or "")
        if known and reading.station in COMPARED_AT:
            used.setdefault((known.match, reading.quantity), set()).add(reading.instrument or "")
    return {key for key, probes in used.items() if len(probes) > 1}


def _shown(read: Read) -> PointReading:
    reading, instrument = read.reading, read.instrument
    kind = READABLE[reading.quantity].kind
    return PointReading(
        entry=read.entry.id,
        quantity=reading.quantity,
        point=reading.point,
        typed_value=reading.value,
        typed_unit=reading.unit,
        value=Quantity(read.value.value, read.value.plus_minus, kind),
        instrument=instrument.name if instrument else "",
        overdue=bool(instrument and instrument.overdue_at(read.entry.at)),
        at=read.entry.at,
        early=read.early if read.early is not NOBODY_NOTED else None,
        held=reading.held is not None,
    )

"""One phase of a visit worked out: stations, airflow, split, capacity, and what they say."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from fentro_core.air.outdoor_share import outdoor_share
from fentro_core.air.state import AirState
from fentro_core.measured import Measured, propagate
from fentro_core.measuring.instruments import Instrument, measured_reading
from fentro_core.measuring.quantities import READABLE, to_si
from fentro_core.measuring.stations import SPREAD_ASKS_FOR_MORE_K, Point, StationAir, station_air
from fentro_core.performance.airflow import NOMINAL_HALF_WIDTH_SHARE, nominal_airflow
from fentro_core.performance.cooling import Capacity, capacity, split, withhold_negative_latent
from fentro_core.performance.judging import FIXED_BAND_REASON
from fentro_core.refusal import Refused
from fentro_core.sentence import Sentence
from fentro_core.units import kind_of
from fentro_core.visit.entries import Entry, Reading
from fentro_core.visit.nameplate import CoolingPlate
from fentro_core.visit.rail import rail
from fentro_core.visit.results import Contribution, PhaseResult, PointReading, Quantity, RailLine, Result, StationResult
from fentro_core.visit.ribbon import ribbon
from fentro_core.visit.snapshot import Snapshot
from fentro_core.working import Working

NOMINAL_SOURCE = "nominal airflow"
SETTLING_MINUTES = 10
"""Readings in the first ten minutes of running are early: most wrong conclusions come from reading too soon."""

RESULT_NAMES = {
    "split": "Split",
    "airflow": "Airflow",
    "total": "Total cooling",
    "sensible": "Sensible cooling",
    "latent": "Latent cooling",
    "shr": "Sensible heat ratio",
    "water": "Water removed",
    "water_per_day": "Water removed in a day",
    "rated_share": "Share of the plate's rated cooling",
    "outdoor_share": "Outdoor-air share",
}
"""The results in the order they are shown."""

_CAPACITY_FIELDS = {
    "total": ("total_w", "power"),
    "sensible": ("sensible_w", "power"),
    "latent": ("latent_w", "power"),
    "shr": ("sensible_heat_ratio", "ratio"),
    "water": ("water_kg_per_s", "water_rate"),
}


def quantity(measured: Measured, kind: str) -> Quantity:
    """A measured value as it goes out."""
    return Quantity(measured.value, measured.plus_minus, kind)


@dataclass(frozen=True)
class Airflow:
    """The flow in use and where it was measured."""

    flow: Measured
    at: str


class PhaseWork:
    """Works out one phase step by step; `measured` keeps every result with its sources, for comparing phases."""

    def __init__(self, snapshot: Snapshot, phase: str, readings: list[Entry], running_since: str | None) -> None:
        self.snapshot = snapshot
        self.phase = phase
        self.pressure_pa = snapshot.site.pressure_pa()
        self.path = snapshot.system.air_path()
        self.instruments = {instrument.id: instrument for instrument in snapshot.instruments}
        self.readings = _latest_of_each_point(readings)
        self.running_since = running_since
        self.labels: dict[str, str] = {NOMINAL_SOURCE: "Nominal airflow, a guess"}
        self.airs: dict[str, StationAir] = {}
        self.measured: dict[str, Measured] = {}

    def result(self) -> PhaseResult:
        """Stations, results and rail of this phase."""
        stations = tuple(self._station(station.id, station.name) for station in self.path.stations)
        results: list[Result] = []
        if isinstance(self.snapshot.system.nameplate, CoolingPlate):
            results += self._cooling(self.snapshot.system.nameplate)
        if self.path.station("mixed"):
            results.append(self._outdoor_share())
        lines: tuple[RailLine, ...] = ()
        if any(station.readings for station in stations):
            lines = rail(stations, {result.key: result for result in results}, self.measured, self.airs, self._early())
        return PhaseResult(self.phase, stations, tuple(results), lines, ribbon(self.path, self.airs, self.measured))

    # stations

    def _station(self, station_id: str, station_name: str) -> StationResult:
        shown: list[PointReading] = []
        points: dict[int, dict[str, Measured]] = {}
        for entry, reading in self.readings:
            if reading.station != station_id:
                continue
            instrument = self.instruments.get(reading.instrument or "")
            value = self._measured(entry, reading, instrument, station_name)
            if reading.quantity in READABLE and reading.quantity != "airflow":
                points.setdefault(reading.point, {})[reading.quantity] = value
            shown.append(_shown(entry, reading, instrument, value))
        for what in ("dry bulb", "humidity"):
            self.labels[f"{self.phase}/{station_id}:spread of {what}"] = f"{station_name}, spread of {what}"
        try:
            air = station_air(
                f"{self.phase}/{station_id}", [Point(n, given) for n, given in sorted(points.items())], self.pressure_pa
            )
        except Refused as refusal:
            return StationResult(station_id, tuple(shown), trouble=refusal.sentence)
        if air is None:
            return StationResult(station_id, tuple(shown))
        self.airs[station_id] = air
        remark = None
        if air.spread_k > SPREAD_ASKS_FOR_MORE_K:
            remark = Sentence.of(
                "Points differ by {spread}: read more points across the duct.",
                spread=(air.spread_k, "temperature_difference"),
            )
        return StationResult(
            station_id,
            tuple(shown),
            dry_bulb=quantity(air.dry_bulb, "temperature"),
            properties={name: quantity(value, kind_of(name)) for name, value in air.properties.items()},
            spread=Quantity(air.spread_k, 0.0, "temperature_difference") if air.points > 1 else None,
            points=air.points,
            remark=remark,
        )

    def _measured(self, entry: Entry, reading: Reading, instrument: Instrument | None, station_name: str) -> Measured:
        own = f"reading:{entry.id}"
        name = READABLE[reading.quantity].name.lower()
        self.labels[own] = f"{station_name} {name}, this reading"
        if instrument:
            self.labels[f"instrument:{instrument.id}:{reading.quantity}"] = f"{instrument.name}, {name} accuracy"
        return measured_reading(reading.quantity, reading.value, reading.unit, own, instrument, entry.at, reading.plus_minus)

    # cooling

    def _cooling(self, plate: CoolingPlate) -> list[Result]:
        return_, supply = self.airs.get("return"), self.airs.get("supply")
        flow_result, flow = self._airflow(plate)
        return [self._split(return_, supply), flow_result, *self._capacity(plate, return_, supply, flow)]

    def _split(self, return_: StationAir | None, supply: StationAir | None) -> Result:
        if return_ is None or supply is None:
            return _missing("split", [f"{n} dry bulb" for n, a in (("Return", return_), ("Supply", supply)) if not a])
        work = Working()
        split(return_.dry_bulb.value, supply.dry_bulb.value, work)
        return self._keep("split", return_.dry_bulb - supply.dry_bulb, "temperature_difference", work, FIXED_BAND_REASON)

    def _airflow(self, plate: CoolingPlate) -> tuple[Result, Airflow | None]:
        measured = [
            Airflow(
                self._measured(entry, reading, self.instruments.get(reading.instrument or ""), reading.station.title()),
                reading.station,
            )
            for entry, reading in self.readings
            if reading.quantity == "airflow" and reading.station in ("return", "supply")
        ]
        if measured:
            best = min(measured, key=lambda each: each.flow.plus_minus)
            remark = Sentence.of(f"Measured at the {best.at}.")
            return self._keep("airflow", best.flow, "airflow", Working(), remark), best
        work = Working()
        if plate.rated_airflow_m3s is not None:
            value = plate.rated_airflow_m3s
            remark = Sentence.of("Nominal, from the plate, ±15 %. Not measured.")
        elif plate.rated_total_w is not None:
            value = nominal_airflow(plate.rated_total_w, work)
            remark = Sentence.of("Nominal, from rated cooling, ±15 %. Not measured.")
        else:
            return _missing("airflow", ["Airflow, or the plate's rated cooling"]), None
        flow = Measured(value, {NOMINAL_SOURCE: NOMINAL_HALF_WIDTH_SHARE * value})
        return self._keep("airflow", flow, "airflow", work, remark, nominal=True), Airflow(flow, "return")

    def _capacity(
        self, plate: CoolingPlate, return_: StationAir | None, supply: StationAir | None, flow: Airflow | None
    ) -> list[Result]:
        missing = [
            f"{name} {what}"
            for name, air in (("Return", return_), ("Supply", supply))
            for what, there in (("dry bulb", air), ("humidity", air and air.humidity_ratio))
            if not there
        ]
        if flow is None:
            missing.append("Airflow")
        keys = [*_CAPACITY_FIELDS, "water_per_day", *(["rated_share"] if plate.rated_total_w else [])]
        if missing or not (return_ and supply and flow and return_.humidity_ratio and supply.humidity_ratio):
            return [_missing(key, missing) for key in keys]
        at: Literal["return", "supply"] = "supply" if flow.at == "supply" else "return"
        inputs = {
            "t_r": return_.dry_bulb,
            "w_r": return_.humidity_ratio,
            "t_s": supply.dry_bulb,
            "w_s": supply.humidity_ratio,
            "flow": flow.flow,
        }

        def worked(t_r: float, w_r: float, t_s: float, w_s: float, flow: float, work: Working | None = None) -> Capacity:
            entering = AirState(t_r, max(w_r, 0.0), self.pressure_pa)
            leaving = AirState(t_s, max(w_s, 0.0), self.pressure_pa)
            return capacity(entering, leaving, flow, at, work or Working(silent=True))

        fields = propagate(lambda **given: vars(worked(**given)), inputs)
        work = Working()
        worked(**{name: given.value for name, given in inputs.items()}, work=work)
        shown = withhold_negative_latent({name: {"value": m.value, "plus_minus": m.plus_minus} for name, m in fields.items()})
        results = []
        for key, (name, kind) in _CAPACITY_FIELDS.items():
            if shown[name] is None or (key == "shr" and fields["total_w"].value <= 0):
                results.append(Result(key, RESULT_NAMES[key], None, remark=_MOISTURE[shown["moisture"]]))
                if key == "latent":
                    self.measured["latent_withheld"] = fields[name]
            else:
                results.append(self._keep(key, fields[name], kind, work))
        results += self._derived(plate, fields, shown["water_kg_per_s"] is not None)
        return results

    def _derived(self, plate: CoolingPlate, fields: Mapping[str, Measured], dries: bool) -> list[Result]:
        results = []
        if dries:
            results.append(self._keep("water_per_day", fields["water_kg_per_s"], "water_per_day", Working()))
        if plate.rated_total_w:
            rated = plate.rated_total_w
            work = Working()
            total = fields["total_w"]
            work.step(
                "share of rated", "R", "100 * Q / Q_rated", total.value / rated, "share",
                source="the plate, at 80/67 °F entering and 95 °F outdoor: another day gives another share",
                Q=(total.value, "power"), Q_rated=(rated, "power"),
            )  # fmt: skip
            share = propagate(lambda total: {"share": total / rated}, {"total": total})["share"]
            results.append(self._keep("rated_share", share, "share", work))
        return results

    def _outdoor_share(self) -> Result:
        needed = ("return", "outdoor", "mixed")
        missing = [f"{name.title()} dry bulb" for name in needed if name not in self.airs]
        if missing:
            return _missing("outdoor_share", missing)
        inputs = {f"{name}_dry_bulb_c": self.airs[name].dry_bulb for name in needed}
        work = Working()
        try:
            outdoor_share(**{name: given.value for name, given in inputs.items()}, work=work)
            share = propagate(lambda **given: {"x": outdoor_share(**given)}, inputs)["x"]
        except Refused as refusal:
            return Result("outdoor_share", RESULT_NAMES["outdoor_share"], None, remark=refusal.sentence)
        return self._keep("outdoor_share", share, "share", work)

    # shared

    def _keep(
        self, key: str, measured: Measured, kind: str, work: Working, remark: Sentence | None = None, nominal: bool = False
    ) -> Result:
        self.measured[key] = measured
        contributions = tuple(
            Contribution(self.labels.get(source, source), share) for source, share in measured.shares().items() if share >= 0.005
        )
        return Result(key, RESULT_NAMES[key], quantity(measured, kind), tuple(work.lines), contributions, remark, nominal=nominal)

    def _early(self) -> Sentence | None:
        """Why the readings may be too early, or None."""
        moments = [
            datetime.fromisoformat(entry.at)
            for entry, reading in self.readings
            if reading.station in ("return", "supply", "mixed")
        ]
        if not moments:
            return None
        if self.running_since is None:
            return Sentence.of("Nobody noted when the unit started: if under ten minutes ago, read again.")
        minutes = (min(moments) - datetime.fromisoformat(self.running_since)).total_seconds() / 60
        if minutes < SETTLING_MINUTES:
            return Sentence.of("Read before the unit had run ten minutes. Read again once it has settled.")
        return None


_MOISTURE = {
    "none_seen": Sentence.of("No moisture removal that these instruments can see."),
    "supply_wetter_than_return": Sentence.of("Not shown: supply air is wetter than return air."),
}


def _missing(key: str, what: Iterable[str]) -> Result:
    return Result(key, RESULT_NAMES[key], None, missing=tuple(what))


def _latest_of_each_point(entries: list[Entry]) -> list[tuple[Entry, Reading]]:
    latest: dict[tuple[str, str, int], tuple[Entry, Reading]] = {}
    for entry in entries:
        if isinstance(entry.body, Reading):
            body = entry.body
            latest[body.station, body.quantity, body.point] = (entry, body)
    return list(latest.values())


def _shown(entry: Entry, reading: Reading, instrument: Instrument | None, value: Measured) -> PointReading:
    kind = READABLE[reading.quantity].kind
    return PointReading(
        entry=entry.id,
        quantity=reading.quantity,
        point=reading.point,
        typed_value=reading.value,
        typed_unit=reading.unit,
        value=Quantity(to_si(reading.quantity, reading.value, reading.unit), value.plus_minus, kind),
        instrument=instrument.name if instrument else "",
        overdue=bool(instrument and instrument.overdue_at(entry.at)),
        at=entry.at,
    )

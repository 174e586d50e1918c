"""A technician who visits a simulated unit: ordinary instruments with their errors, some readings left out, in order.

The snapshot that comes out is like any other: the core can't tell. What is truly wrong stands beside it, for the bench.
"""

from __future__ import annotations

import uuid
from dataclasses import dataclass, field
from typing import Any

from fentro_core.air.state import AirState
from fentro_core.base.typed_json import Json, write
from fentro_core.instruments.instrument import ACCURACY_CLASSES
from fentro_standins.plant.unit import Conditions, Design, Faults, Running, run
from fentro_standins.probes.physics import chance_of

LIMIT_PA = {"furnace_with_coil": 150.0, "split_heat_pump": 130.0, "packaged_rooftop": 260.0}
RISE_K = (19.4, 36.1)

BIAS_SHARE = 0.5
"""An instrument's own error is drawn with a standard deviation of half its printed 95 % figure: that is what 95 % means."""


@dataclass(frozen=True)
class Mistake:
    """What the technician does wrong: one probe off, supply probe in sight of hot metal, height left out, read too early."""

    probe_off_k: float = 0.0
    probe_off: str = ""
    sees_metal_k: float = 0.0
    touches_k: float = 0.0
    height_left_out: bool = False
    too_early: float = 1.0


@dataclass(frozen=True)
class Case:
    """A visit to be made: `truth` holds the causes that are right, none for a sound system."""

    key: str
    truth: tuple[str, ...]
    design: Design
    day: Conditions
    faults: Faults = field(default_factory=Faults)
    mistake: Mistake = field(default_factory=Mistake)
    elevation_m: float = 0.0
    takes: dict[str, float] = field(default_factory=dict)


_OFTEN = {
    "grille": 0.95,
    "statics": 0.95,
    "surroundings": 0.85,
    "gauges": 0.75,
    "condenser": 0.9,
    "suction": 0.9,
    "amps": 0.75,
    "registers": 0.7,
    "two_supply_points": 0.9,
    "barometer": 0.6,
    "match": 0.7,
}
"""How often a technician who follows the list takes a reading; `Case.takes` changes it."""

_CLASSES = {
    "air_1": "air_field",
    "air_2": "air_field",
    "clamp": "clamp",
    "manometer": "manometer",
    "hood": "hood",
    "power": "power",
    "gauges": "gauges",
}


class Technician:
    """One visit of one seed."""

    def __init__(self, case: Case, seed: int) -> None:
        self.case = case
        self.chance = chance_of(case.key, seed)
        self.minute = 12
        self.entries: list[Json] = []
        self.biases: dict[tuple[str, str], float] = {}

    def snapshot(self) -> Json:
        """The visit as the core reads it."""
        case = self.case
        unit = run(case.design, case.day, case.faults)
        took = {name: self.chance.random() < case.takes.get(name, often) for name, often in _OFTEN.items()}
        self._add("run", {"event": "started"}, at=0)
        self._add("observation", {"item": "filter_arrow", "value": "agrees"}, at=1)
        if took["match"]:
            self._match()
        self._read_air(unit, took)
        self._read_air_side(unit, took)
        if not case.day.heating:
            self._read_outdoor_unit(unit, took)
        return {
            "site": {"name": "Simulated", "elevation_m": 0.0 if case.mistake.height_left_out else case.elevation_m},
            "system": {"name": case.key, "kind": case.design.kind, "nameplate": self._plate()},
            "instruments": [self._instrument(name) for name in _CLASSES],
            "entries": self.entries,
        }

    # readings

    def _read_air(self, unit: Running, took: dict[str, bool]) -> None:
        mistake, day = self.case.mistake, self.case.day
        settled = mistake.too_early
        if settled < 1:
            self.minute = 3
        layer = unit.layer_k
        jitter = self.chance.uniform(-0.15, 0.15)
        for point, sign in ((1, 1.0), (2, -1.0)):
            shown = AirState(unit.return_.dry_bulb_c + sign * (layer + jitter), unit.return_.humidity_ratio, day.pressure_pa)
            self._air("return", shown, "air_1", point)
        supply_c = unit.return_.dry_bulb_c + settled * (unit.supply.dry_bulb_c - unit.return_.dry_bulb_c)
        supply_w = unit.return_.humidity_ratio + settled**1.6 * (unit.supply.humidity_ratio - unit.return_.humidity_ratio)
        first = supply_c + mistake.sees_metal_k + mistake.touches_k
        self._air("supply", self._wettest(first, supply_w), "air_2", 1)
        if took["two_supply_points"]:
            near = supply_c + 0.3 * mistake.sees_metal_k + 0.15 * mistake.touches_k + self.chance.uniform(-0.25, 0.25)
            self._air("supply", self._wettest(near, supply_w), "air_2", 2)
        outdoor = AirState.from_rh(day.outdoor_c, day.outdoor_rh, day.pressure_pa)
        self._air("outdoor", outdoor, "air_1")
        if settled < 1:
            self.minute = 8
        if took["grille"]:
            self._air("return_grille", unit.grille, "air_1")
        if took["surroundings"] and took["grille"]:
            self._air("surroundings", AirState(day.around_c, day.around_ratio, day.pressure_pa), "air_1")
            design = self.case.design
            self._add(
                "return_duct",
                {
                    "length_m": design.return_length_m,
                    "perimeter_m": design.return_perimeter_m,
                    "resistance_m2k_per_w": design.return_resistance,
                },
            )
        if took["barometer"]:
            self._number("outdoor", "air_pressure", day.pressure_pa, "hPa", 100.0, "", width=300.0)

    def _wettest(self, dry_bulb_c: float, ratio: float) -> AirState:
        most = AirState.from_rh(dry_bulb_c, 0.99, self.case.day.pressure_pa).humidity_ratio
        return AirState(dry_bulb_c, min(ratio, most), self.case.day.pressure_pa)

    def _air(self, station: str, air: AirState, probe: str, point: int = 1) -> None:
        mistake = self.case.mistake
        off = mistake.probe_off_k if mistake.probe_off == probe else 0.0
        dry_bulb = air.dry_bulb_c + off + self._error(probe, "dry_bulb", 0.3, 0.1)
        rh = min(max(air.relative_humidity + self._error(probe, "relative_humidity", 0.02, 0.005), 0.03), 0.995)
        self._put(station, "dry_bulb", round(dry_bulb, 1), "degC", probe, point)
        self._put(station, "relative_humidity", round(100 * rh, 1), "percent", probe, point)

    def _read_air_side(self, unit: Running, took: dict[str, bool]) -> None:
        self._flow("return", unit.airflow_m3s)
        if took["statics"]:
            for station, pascal in unit.statics_pa.items():
                error = self._error("manometer", "static_pressure", 1.0 + 0.01 * abs(pascal), 2.0)
                self._put(station, "static_pressure", round(pascal + error, 1), "Pa", "manometer")
        if took["registers"]:
            shares = (0.3, 0.25, 0.25, 0.2)
            for room, share in zip(("a", "b", "c", "d"), shares, strict=True):
                self._flow(f"register-{room}", unit.registers_m3s * share, small=True)

    def _flow(self, station: str, m3s: float, small: bool = False) -> None:
        common = self._error("hood", "airflow", 0.03 * m3s, 0.0) if not small else self._share("hood") * m3s
        width = max(0.03 * m3s, 0.002)
        own = self.chance.gauss(0.0, 0.2 * width)
        value = max(m3s + common + own, 0.002)
        body = {
            "station": station,
            "quantity": "airflow",
            "value": round(value, 4),
            "unit": "m3/s",
            "plus_minus": round(width, 4),
        }
        self._add("reading", body)

    def _share(self, instrument: str) -> float:
        key = (instrument, "share")
        if key not in self.biases:
            self.biases[key] = self.chance.gauss(0.0, 0.03 * BIAS_SHARE)
        return self.biases[key]

    def _read_outdoor_unit(self, unit: Running, took: dict[str, bool]) -> None:
        day = self.case.day
        if took["condenser"]:
            entering = AirState.from_rh(day.outdoor_c + 0.3, day.outdoor_rh, day.pressure_pa)
            self._air("condenser_in", entering, "air_1")
            shown = unit.condenser_out_c + self._error("air_1", "dry_bulb", 0.3, 0.1)
            self._put("condenser_out", "dry_bulb", round(shown, 1), "degC", "air_1")
        if took["suction"] or took["gauges"]:
            self._pipe("suction_line", unit.suction_line_c)
        if took["gauges"]:
            self._pipe("liquid_line", unit.liquid_line_c)
            self._gauge("suction_line", unit.suction_gauge_pa)
            self._gauge("liquid_line", unit.liquid_gauge_pa)
        if took["amps"]:
            amps = unit.current_a + self._error("power", "current", 0.1 + 0.02 * unit.current_a, 0.1)
            self._put("outdoor_unit", "current", round(amps, 1), "A", "power")

    def _pipe(self, station: str, celsius: float) -> None:
        shown = celsius + self._error("clamp", "pipe_temperature", 0.5, 0.2)
        self._put(station, "pipe_temperature", round(shown, 1), "degC", "clamp")

    def _gauge(self, station: str, pascal: float) -> None:
        shown = pascal + self._error("gauges", "gauge_pressure", 7e3 + 0.01 * abs(pascal), 3e3)
        self._put(station, "gauge_pressure", round(shown / 1000), "kPa", "gauges")

    def _match(self) -> None:
        """Two probes side by side for two minutes, in the room's air."""
        mistake = self.case.mistake
        probes = []
        for probe in ("air_1", "air_2"):
            off = mistake.probe_off_k if mistake.probe_off == probe else 0.0
            mean = self.case.day.room_c + off + self._error(probe, "dry_bulb", 0.3, 0.02)
            probes.append({"instrument": probe, "mean": round(mean, 2), "scatter": 0.05, "samples": 60})
        self._add("match", {"quantity": "dry_bulb", "seconds": 120.0, "probes": probes})

    def _error(self, instrument: str, quantity: str, width: float, own: float) -> float:
        """The instrument's error on this visit, and this reading's own."""
        key = (instrument, quantity)
        if key not in self.biases:
            self.biases[key] = self.chance.gauss(0.0, BIAS_SHARE)
        return self.biases[key] * width + self.chance.gauss(0.0, BIAS_SHARE) * own

    def _number(self, station: str, quantity: str, si: float, unit: str, factor: float, instrument: str, width: float) -> None:
        body: dict[str, Any] = {"station": station, "quantity": quantity, "value": round(si / factor, 1), "unit": unit}
        self._add("reading", {**body, "plus_minus": width / factor})

    def _put(self, station: str, quantity: str, value: float, unit: str, instrument: str, point: int = 1) -> None:
        body = {"station": station, "quantity": quantity, "value": value, "unit": unit, "point": point}
        self._add("reading", {**body, "instrument": instrument})

    def _add(self, kind: str, body: Json, at: int | None = None) -> None:
        minute = self.minute if at is None else at
        entry_id = str(uuid.UUID(int=self.chance.getrandbits(128), version=4))
        moment = f"2026-07-01T{10 + minute // 60:02d}:{minute % 60:02d}:00+00:00"
        self.entries.append({"id": entry_id, "kind": kind, "at": moment, "body": body})

    # plate and bag

    def _plate(self) -> Json:
        design, kind = self.case.design, self.case.design.kind
        plate: Json = {
            "rated_total_w": design.total_w,
            "rated_airflow_m3s": design.airflow_m3s,
            "rated_sensible_heat_ratio": 0.76,
            "max_external_static_pa": LIMIT_PA[kind],
            "refrigerant": design.refrigerant,
            "metering": design.metering,
            "compressor_current_a": design.current_a,
            "branches": [{"room": room} for room in ("A", "B", "C", "D")],
        }
        if design.metering == "valve":
            plate["subcooling_k"] = design.subcooling_k
        if kind == "furnace_with_coil":
            plate |= {
                "heating_input_w": design.heating_w or 1.0,
                "heating_efficiency": design.efficiency,
                "rise_low_k": RISE_K[0],
                "rise_high_k": RISE_K[1],
                "max_outlet_c": 79.0,
            }
        return plate

    def _instrument(self, name: str) -> Json:
        _, kind, accuracy = ACCURACY_CLASSES[_CLASSES[name]]
        return {"id": name, "name": name, "kind": kind, "accuracy": {key: write(figure) for key, figure in accuracy.items()}}


def visit(case: Case, seed: int) -> Json:
    """The snapshot of one visit to a case; same seed, same visit."""
    return Technician(case, seed).snapshot()

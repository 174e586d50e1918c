"""A technician with the tools he has, who reads what he reads, slips now and then, and answers the next look where he can."""

from __future__ import annotations

import uuid
from random import Random
from typing import Any

from bench.stranger.faults import BESIDES, EYE, Case
from bench.stranger.machine import State, run
from fentro_core.air.state import AirState
from fentro_core.base.typed_json import Json, write
from fentro_core.diagnosis.results import NextCheck
from fentro_core.diagnosis.symptom import SYMPTOMS
from fentro_core.instruments.instrument import ACCURACY_CLASSES

TOOLS = {"manometer": 0.9, "hood": 0.8, "gauges": 0.7, "power": 0.65, "clamp": 0.9}
HABITS = {
    "match": 0.5,
    "two_points": 0.6,
    "grille": 0.8,
    "surroundings": 0.6,
    "condenser": 0.75,
    "registers": 0.45,
    "barometer": 0.3,
}
OFF_BY = {"air": (0.25, 0.018), "clamp": 0.6, "manometer": 1.5, "gauges": 9e3, "power": 0.02, "hood": 0.035}
"""One standard deviation of what each tool is off by on a visit (air: °C, and share of humidity)."""

ACROSS_K = {"cooling": 0.5, "heating": 1.6}
"""How much the air differs from point to point across a supply duct, one standard deviation."""

PROBE_ENDS_C = 90.0
"""Hotter air is not read: the product refuses it too."""

STAGE_SEEN = 0.7
"""How often he sees which stage it runs on."""

PASSED_OVER = 0.1
"""How often he leaves a further question of a place unanswered."""

BY_EYE_WITH = {"standing_high": "gauges", "pressures_close": "gauges"}
"""A question that takes a tool all the same."""

CLASSES = {
    "air_1": "air_field",
    "air_2": "air_field",
    "clamp": "clamp",
    "manometer": "manometer",
    "gauges": "gauges",
    "power": "power",
}
LIMIT_PA = {"furnace_with_coil": 125.0, "split_heat_pump": 125.0, "packaged_rooftop": 250.0}


class Technician:
    """One visit, as it is read; afterwards each look that is asked for."""

    def __init__(self, case: Case) -> None:
        self.case = case
        self.state: State = run(case.machine, case.day, case.wrong)
        self.chance = Random(f"technician|{case.kind}|{case.seed}")
        self.minute = 14
        self.entries: list[Json] = []
        self.has = {name: self.chance.random() < often for name, often in TOOLS.items()}
        self.does = {name: self.chance.random() < often for name, often in HABITS.items()}
        self.off = {name: self.chance.gauss(0.0, 1.0) for name in (*CLASSES, "hood", "air_1_rh", "air_2_rh")}
        self.read: set[str] = set()
        self.typed_wrong: set[str] = set()
        self._begin()

    def snapshot(self) -> Json:
        """The visit so far, as the core reads it."""
        case = self.case
        return {
            "site": {"name": "Simulated", "elevation_m": 0.0 if case.slip.height_unset else round(case.elevation_m)},
            "system": {"name": case.kind, "kind": case.machine.kind, "nameplate": self._plate()},
            "instruments": [self._instrument(name) for name in CLASSES],
            "entries": self.entries,
        }

    def look(self, check: NextCheck) -> bool:
        """Goes where he is asked to look, and answers every question of that place; whether he could."""
        found = self.answer(check.key, check.stations)
        for each in check.choices[1:]:
            if self.chance.random() >= PASSED_OVER:
                self.answer(each.key, check.stations)
        return found

    def answer(self, key: str, stations: tuple[str, ...]) -> bool:
        """Answers a look where he can; whether he could."""
        look = SYMPTOMS[key]
        if not self.has.get(BY_EYE_WITH.get(key, ""), True):
            self._add("observation", {"item": key, "value": "cant"})
            return False
        if look.by_eye:
            if key == "heater_called":
                called = self.case.day.auxiliary != (self.chance.random() < BESIDES.get(key, 0.03))
                self._add("observation", {"item": key, "value": "yes" if called else "no"})
                return True
            often = max((EYE.get(truth, {}).get(key, 0.0) for truth in self.case.truths), default=0.0)
            yes = self.chance.random() < (often or BESIDES.get(key, 0.03))
            self._add("observation", {"item": key, "value": "yes" if yes else "no"})
            return True
        if key == "match":
            self._match()
            return True
        if any([self._read(station, flow=key == "airflow") for station in self._places(key, stations)]):
            return True
        self._add("observation", {"item": key, "value": "cant"})
        return False

    def _places(self, key: str, stations: tuple[str, ...]) -> tuple[str, ...]:
        """Where a look is read: what it names, and what belongs to it."""
        return {"registers": tuple(f"register-{room}" for room in "abcd"), "pickup": ("return_grille", "surroundings")}.get(
            key, stations
        )

    @property
    def _pump_heats(self) -> bool:
        return self.case.day.mode == "heating" and self.case.machine.input_w == 0

    # the visit

    def _begin(self) -> None:
        slip = self.case.slip
        self._add("run", {"event": "started"}, at=0)
        if self.chance.random() < 0.7:
            self._add("observation", {"item": "filter_arrow", "value": "agrees"}, at=1)
        if self.chance.random() < STAGE_SEEN:
            stage = "first" if self.case.day.stage < 1 else "full"
            self._add("observation", {"item": "stage", "value": stage}, at=1)
        if self._pump_heats and self.chance.random() < STAGE_SEEN:
            self._add("observation", {"item": "auxiliary", "value": "on" if self.case.day.auxiliary else "off"}, at=1)
        if self.does["match"]:
            self._match()
        if slip.early < 1:
            self.minute = 3
        for station in ("return", "supply", "outdoor"):
            self._read(station)
        if self.case.machine.kind == "packaged_rooftop" and self.chance.random() < 0.6:
            self._read("mixed")
        if slip.early < 1:
            self.minute = 9
        if self.does["grille"]:
            self._read("return_grille")
        if self.does["surroundings"]:
            self._read("surroundings")
        if self.has["hood"]:
            self._read("return", flow=True)
        if self.has["manometer"]:
            for station in self.state.statics:
                self._read(station)
        if self.does["registers"] and self.has["hood"]:
            for room in "abcd":
                self._read(f"register-{room}")
        if self.does["barometer"]:
            body = {
                "station": "outdoor",
                "quantity": "air_pressure",
                "value": round(self.case.day.pressure_pa / 100),
                "unit": "hPa",
            }
            self._add("reading", {**body, "plus_minus": 2.0})
        if self.case.day.mode == "cooling":
            if self.does["condenser"]:
                self._read("condenser_in")
                self._read("condenser_out")
            for station in ("suction_line", "liquid_line", "outdoor_unit"):
                self._read(station)

    def _read(self, station: str, flow: bool = False) -> bool:
        """Reads a place once; whether he had the tool."""
        state, slip, done = self.state, self.case.slip, f"{station} {flow}"
        if done in self.read:
            return False
        airs = {"return_grille": state.grille, "outdoor": state.outdoor, "return": state.return_, "mixed": state.mixed}
        read = True
        if flow:
            read = self.has["hood"]
            if read:
                self._flow(station, state.flow_m3s * slip.flow_share)
        elif station == "supply":
            self._supply()
        elif station in airs:
            warmer = slip.sunlit_k if station == "outdoor" else 0.0
            spread = 1.0 if station == "mixed" and self.case.day.outdoor_share > 0 else 0.15
            air = airs[station]
            self._air(station, air.dry_bulb_c + warmer + self.chance.gauss(0.0, spread), air.humidity_ratio, "air_1")
        elif station == "surroundings":
            self._air(station, self.case.day.around_c, self.case.day.around_ratio, "air_1")
        elif station in state.statics:
            read = self.has["manometer"]
            pascal = state.statics[station]
            if read:
                shown = pascal + self.off["manometer"] * OFF_BY["manometer"] + self.chance.gauss(0.0, 4.0 + 0.05 * abs(pascal))
                self._put(station, "static_pressure", round(shown, 1), "Pa", "manometer")
        elif station.startswith("register-"):
            read = self.has["hood"]
            if read:
                share = dict(zip("abcd", (0.3, 0.25, 0.25, 0.2), strict=True))[station[-1]]
                self._flow(station, state.registers_m3s * share)
        elif self._pump_heats and station in ("outdoor_unit", "heater"):
            read = self._drawn(station)
        elif self.case.day.mode != "cooling":
            read = False
        else:
            read = self._outside(station)
        if read:
            self.read.add(done)
        return read

    def _drawn(self, station: str) -> bool:
        """Current of the outdoor unit or watts of the heater, where he has the meter."""
        if self.has["power"]:
            right = 1 + OFF_BY["power"] * self.off["power"]
            if station == "heater":
                self._put(station, "electric_power", round(self.state.heater_w * right), "W", "power")
            else:
                self._put(station, "current", round(self.state.amps * right, 1), "A", "power")
        return self.has["power"]

    def _outside(self, station: str) -> bool:
        state = self.state
        if station in ("condenser_in", "condenser_out"):
            celsius = state.condenser_in_c if station == "condenser_in" else state.condenser_out_c
            self._air(station, celsius + self.chance.gauss(0.0, 0.4), self.case.day.outdoor_ratio, "air_1")
            return True
        if station in ("suction_line", "liquid_line"):
            suction = station == "suction_line"
            if self.has["clamp"]:
                shown = (state.suction_c if suction else state.liquid_c) + self.off["clamp"] * OFF_BY["clamp"]
                self._put(station, "pipe_temperature", round(shown + self.chance.gauss(0.0, 0.3), 1), "degC", "clamp")
            if self.has["gauges"]:
                pascal = state.suction_gauge_pa if suction else state.liquid_gauge_pa
                shown = (pascal * (1 + 0.004 * self.off["gauges"]) + self.off["gauges"] * OFF_BY["gauges"] * 0.4) / 1000
                self._put(station, "gauge_pressure", round(shown), "kPa", "gauges")
            return self.has["clamp"] or self.has["gauges"]
        if station == "outdoor_unit" and self.has["power"]:
            shown = state.amps * (1 + OFF_BY["power"] * self.off["power"])
            self._put(station, "current", round(shown, 1), "A", "power")
            return True
        return False

    def _supply(self) -> None:
        state, slip = self.state, self.case.slip
        entering, leaving = state.mixed, state.supply
        settled = slip.early
        celsius = entering.dry_bulb_c + settled * (leaving.dry_bulb_c - entering.dry_bulb_c)
        ratio = entering.humidity_ratio + settled**1.5 * (leaving.humidity_ratio - entering.humidity_ratio)
        across = ACROSS_K[self.case.day.mode]
        for point in (1, 2) if self.does["two_points"] else (1,):
            near = (1.0 if point == 1 else 0.35) * slip.sees_k + (1.0 if point == 1 else 0.2) * slip.touches_k
            shown = celsius + near + self.chance.gauss(0.0, across)
            most = AirState.from_rh(min(shown, 60.0), 0.985, self.case.day.pressure_pa).humidity_ratio
            self._air("supply", shown, min(ratio, most), "air_2", point)

    def _air(self, station: str, celsius: float, ratio: float, probe: str, point: int = 1) -> None:
        sd_c, sd_rh = OFF_BY["air"]
        wrong = self.case.slip.off_k if self.case.slip.probe == probe else 0.0
        shown = celsius + wrong + self.off[probe] * sd_c + self.chance.gauss(0.0, 0.08)
        rh = AirState(celsius, ratio, self.case.day.pressure_pa).relative_humidity
        lag = self.chance.choice((0.0, 0.0, 0.0, 0.015))
        rh = min(max(rh + self.off[f"{probe}_rh"] * sd_rh - lag + self.chance.gauss(0.0, 0.006), 0.03), 0.995)
        if self.chance.random() < 0.004:
            shown = -shown if abs(shown) < 9 else shown + self.chance.choice((-9.0, 9.0))  # a digit typed wrong
            self.typed_wrong.add(station)
        if shown > PROBE_ENDS_C:
            return
        self._put(station, "dry_bulb", round(shown, 1), "degC", probe, point)
        self._put(station, "relative_humidity", round(100 * rh, 1), "percent", probe, point)

    def _flow(self, station: str, m3s: float) -> None:
        shown = m3s * (1 + OFF_BY["hood"] * self.off["hood"] + self.chance.gauss(0.0, 0.015))
        body = {"station": station, "quantity": "airflow", "value": round(shown, 4), "unit": "m3/s"}
        self._add("reading", {**body, "plus_minus": round(max(0.05 * shown, 0.002), 4)})

    def _match(self) -> None:
        if "match" in self.read:
            return
        self.read.add("match")
        probes = []
        for probe in ("air_1", "air_2"):
            wrong = self.case.slip.off_k if self.case.slip.probe == probe else 0.0
            mean = self.case.day.room_c + wrong + self.off[probe] * OFF_BY["air"][0] + self.chance.gauss(0.0, 0.04)
            probes.append({"instrument": probe, "mean": round(mean, 2), "scatter": 0.06, "samples": 60})
        self._add("match", {"quantity": "dry_bulb", "seconds": 120.0, "probes": probes})

    def _put(self, station: str, quantity: str, value: float, unit: str, instrument: str, point: int = 1) -> None:
        body = {"station": station, "quantity": quantity, "value": value, "unit": unit, "point": point}
        self._add("reading", {**body, "instrument": instrument})

    def _add(self, kind: str, body: Any, at: int | None = None) -> None:
        minute = self.minute if at is None else at
        moment = f"2026-07-01T{10 + minute // 60:02d}:{minute % 60:02d}:00+00:00"
        name = str(uuid.UUID(int=self.chance.getrandbits(128), version=4))
        self.entries.append({"id": name, "kind": kind, "at": moment, "phase": "as_found", "body": body})

    def _plate(self) -> Json:
        machine, share = self.case.machine, self.case.slip.plate_share
        plate: Json = {
            "rated_total_w": round(machine.total_w * share),
            "rated_airflow_m3s": round(machine.rated_m3s * share, 3),
            "rated_sensible_heat_ratio": round(machine.sensible_share, 2),
            "max_external_static_pa": LIMIT_PA[machine.kind],
            "refrigerant": machine.refrigerant,
            "metering": machine.metering,
            "compressor_current_a": round(machine.amps, 1),
            "branches": [{"room": room} for room in "ABCD"],
        }
        if machine.metering == "valve":
            plate["subcooling_k"] = round(machine.subcooling_k)
        if machine.kind == "packaged_rooftop":
            plate["economizer"] = True
        if machine.pump_heat_w:
            plate["rated_heating_w"] = round(machine.pump_heat_w)
            if self.case.seed % 4:
                plate["heater_w"] = round(machine.element_w)
        if machine.input_w:
            rise = machine.input_w * machine.efficiency / (1.2 * 1006.0 * machine.rated_m3s)
            plate |= {
                "heating_input_w": round(machine.input_w * share),
                "heating_efficiency": machine.efficiency,
                "rise_low_k": round(rise - 9.0, 1),
                "rise_high_k": round(rise + 9.0, 1),
                "max_outlet_c": 80.0,
            }
            if self.case.day.derate < 1:
                plate["input_derated"] = self.chance.choice(("", "yes"))
        return plate

    def _instrument(self, name: str) -> Json:
        _, kind, accuracy = ACCURACY_CLASSES[CLASSES[name]]
        return {"id": name, "name": name, "kind": kind, "accuracy": {key: write(figure) for key, figure in accuracy.items()}}

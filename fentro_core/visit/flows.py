"""The airflow by every way the readings allow: each with half-width, the tightest taken, disagreements said."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import combinations
from typing import Literal

from fentro_core.measured import Measured, propagate, weighted_sum
from fentro_core.measuring.traverse import Duct, plan, profile_flags, traverse, traverse_flow
from fentro_core.performance.airflow import (
    DROP_CURVE_SHARE,
    FAN_TABLE_SHARE,
    GAS_HEAT_SHARE,
    NOMINAL_HALF_WIDTH_SHARE,
    USUAL_GAS_EFFICIENCY,
    Climate,
    airflow_from_drop,
    airflow_from_fan_table,
    airflow_from_registers,
    airflow_from_rise,
    external_static,
    nominal_airflow,
)
from fentro_core.refusal import Refused
from fentro_core.sentence import Sentence
from fentro_core.visit.air_path import AirPath
from fentro_core.visit.nameplate import CoolingPlate, FurnacePlate, HeatPumpPlate
from fentro_core.visit.readings import Readings
from fentro_core.working import Working

NOMINAL_SOURCE = "nominal airflow"

Side = Literal["return", "supply"]


@dataclass(frozen=True)
class Method:
    """One way to the airflow. `at`: whose volume it is. Without a value it says what is missing."""

    key: str
    name: str
    flow: Measured | None = None
    at: Side = "return"
    work: Working | None = None
    remark: Sentence | None = None
    missing: tuple[str, ...] = ()
    nominal: bool = False


class Flows:
    """The methods of one phase."""

    def __init__(
        self,
        plate: CoolingPlate,
        path: AirPath,
        readings: Readings,
        planes: dict[str, Duct],
        fan_tap: str,
        climate: Climate,
        rise_early: Sentence | None,
    ) -> None:
        self.plate = plate
        self.path = path
        self.readings = readings
        self.planes = planes
        self.fan_tap = fan_tap
        self.climate = climate
        self.rise_early = rise_early
        readings.labels |= {
            NOMINAL_SOURCE: "Nominal airflow, a guess",
            "gas heat": "Gas input and efficiency, not clocked",
            "fan table": "The maker's fan table",
            "coil curve": "The coil's curve",
        }

    def methods(self) -> list[Method]:
        """All, tightest kinds first, the nominal one last; those that can't be had here are left out."""
        found: list[Method | None] = [*self.direct("return"), *self.direct("supply")]
        found += [self.by_traverse("return"), self.by_traverse("supply")]
        found += [self._rise(), self._fan_table(), self._registers(), self._drop(), self._nominal()]
        return [method for method in found if method is not None]

    def direct(self, station: Side) -> list[Method]:
        """A hood or a flow probe that shows the flow itself."""
        reads = self.readings.at(station, "airflow")
        if not reads:
            return []
        name = self.readings.names[station].lower()
        return [
            Method(
                f"airflow_direct_{station}",
                f"Read directly, {name}",
                self.readings.average(station, "airflow"),
                station,
                Working(),
                Sentence.of(f"Measured at the {name}."),
            )
        ]

    def by_traverse(self, side: str) -> Method | None:
        """Velocities across a duct times its free area."""
        station = f"{side}_traverse"
        name = f"Traverse, {side}"
        key = f"airflow_traverse_{side}"
        duct = self.planes.get(station)
        reads = self.readings.at(station, "velocity")
        if duct is None or not reads:
            return Method(key, name, missing=("A duct measured and its points read",)) if duct or reads else None
        velocities = [read.value for read in reads]
        planned = len(plan(duct).points)
        if len(reads) < planned:
            return Method(key, name, missing=(f"{planned - len(reads)} of {planned} points",))
        given = tuple(velocity.value for velocity in velocities)
        source = f"{self.readings.phase}/{station}"
        self.readings.labels[f"{source}:traverse"] = f"{name}: the method and its plane"
        work = Working()
        traverse(duct, given, work)
        flags = profile_flags(duct, given)
        remark = flags[0] if flags else Sentence.of(f"{len(given)} points across the duct.")
        at: Side = "supply" if side == "supply" else "return"
        return Method(key, name, traverse_flow(duct, velocities, source), at, work, remark)

    def heat(self) -> tuple[Measured, Sentence] | str:
        """Heat given to the air, or what is missing."""
        if isinstance(self.plate, FurnacePlate):
            if self.plate.heating_input_w is None:
                return "The plate's gas input"
            share = self.plate.heating_efficiency or USUAL_GAS_EFFICIENCY
            heat = self.plate.heating_input_w * share
            words = "Gas input of the plate times its efficiency" if self.plate.heating_efficiency else (
                "Gas input of the plate times an ordinary efficiency, 80 %"
            )  # fmt: skip
            return Measured(heat, {"gas heat": GAS_HEAT_SHARE * heat}), Sentence.of(f"{words}; clock the meter to know better.")
        power = self.readings.average("heater", "electric_power")
        if power is not None:
            return power, Sentence.of("Electric heat by the power meter.")
        volts, amps = self.readings.average("heater", "voltage"), self.readings.average("heater", "current")
        if volts is None or amps is None:
            return "The electric heater's power, or volts and amps"
        heat_w = propagate(lambda volts, amps: {"heat": volts * amps}, {"volts": volts, "amps": amps})["heat"]
        return heat_w, Sentence.of("Electric heat: volts times amps.")

    def _rise(self) -> Method | None:
        if not isinstance(self.plate, FurnacePlate | HeatPumpPlate):
            return None
        key, name = "airflow_rise", "Heat and rise"
        return_, supply = self.readings.matched_airs.get("return"), self.readings.matched_airs.get("supply")
        if return_ is None or supply is None or supply.dry_bulb.value <= return_.dry_bulb.value:
            return Method(key, name, missing=("Return and supply dry bulb while heating",))
        heat = self.heat()
        if isinstance(heat, str):
            return Method(key, name, missing=(heat,))
        if self.rise_early is not None:
            return Method(key, name, missing=("Steady readings",), remark=self.rise_early)
        inputs = {"heat_w": heat[0], "return_dry_bulb_c": return_.dry_bulb, "supply_dry_bulb_c": supply.dry_bulb}
        if return_.humidity_ratio is not None:
            inputs["humidity_ratio"] = return_.humidity_ratio
        pressure = self.readings.pressure_pa
        return self._worked(
            key,
            name,
            "return",
            heat[1],
            inputs,
            lambda work, **given: airflow_from_rise(
                **given | {"humidity_ratio": max(given.get("humidity_ratio", 0.0), 0.0)}, pressure_pa=pressure, work=work
            ),
        )

    def external_static(self) -> tuple[Measured, Working] | tuple[str, ...]:
        """Total external static with its working, or what is missing."""
        return_tap, supply_tap = self.path.external_taps
        return_, supply = (self.readings.average(tap, "static_pressure") for tap in (return_tap, supply_tap))
        if return_ is None or supply is None:
            return tuple(
                self.readings.names[tap] for tap, found in ((return_tap, return_), (supply_tap, supply)) if found is None
            )
        work = Working()
        external_static(supply.value, return_.value, work)
        return supply - return_, work

    def _fan_table(self) -> Method | None:
        table = self.plate.fan_table
        if not table:
            return None
        key, name = "airflow_fan_table", "Fan table"
        static = self.external_static()
        if not isinstance(static[0], Measured):
            return Method(key, name, missing=tuple(str(each) for each in static))
        taps = list(dict.fromkeys(row.tap for row in table))
        tap = self.fan_tap or (taps[0] if len(taps) == 1 else "")
        if not tap:
            return Method(key, name, missing=("The blower's speed tap",))
        found = self._worked(
            key,
            name,
            "return",
            Sentence.of(f"Speed tap {tap}. The table is the maker's, with clean parts."),
            {"external_static_pa": static[0]},
            lambda work, external_static_pa: airflow_from_fan_table(table, tap, external_static_pa, work),
        )
        return _widened(found, "fan table", FAN_TABLE_SHARE)

    def _registers(self) -> Method | None:
        stations = [station for station in self.path.stations if station.kind == "register"]
        if not stations:
            return None
        key, name = "airflow_registers", "Sum of registers"
        flows = {station.name: self.readings.average(station.id, "airflow") for station in stations}
        missing = [room for room, flow in flows.items() if flow is None]
        if missing:
            unread = f"{len(missing)} of {len(stations)} registers"
            return Method(key, name, missing=(unread,))
        values = [flow for flow in flows.values() if flow is not None]
        work = Working()
        airflow_from_registers(tuple(flow.value for flow in values), work)
        remark = Sentence.of("Every register by itself; what leaks from the duct before them is missing.")
        return Method(key, name, weighted_sum([(1.0, flow) for flow in values]), "supply", work, remark)

    def _drop(self) -> Method | None:
        curve = self.plate.coil_curve
        if not curve or not self.path.coil_taps:
            return None
        key, name = "airflow_drop", "Pressure drop over the coil"
        before, after = (self.readings.average(tap, "static_pressure") for tap in self.path.coil_taps)
        if before is None or after is None:
            pairs = zip(self.path.coil_taps, (before, after), strict=True)
            return Method(key, name, missing=tuple(self.readings.names[tap] for tap, found in pairs if found is None))
        found = self._worked(
            key,
            name,
            "return",
            Sentence.of("By the coil's curve, clean and dry: a wet or dirty coil makes the flow look larger."),
            {"drop_pa": before - after},
            lambda work, drop_pa: airflow_from_drop(curve, drop_pa, work),
        )
        return _widened(found, "coil curve", DROP_CURVE_SHARE)

    def _nominal(self) -> Method | None:
        key, name = "airflow_nominal", "Nominal, not measured"
        work = Working()
        if self.plate.rated_airflow_m3s is not None:
            value = self.plate.rated_airflow_m3s
            remark = Sentence.of("Nominal, from the plate, ±15 %. Not measured.")
        elif self.plate.rated_total_w is not None:
            value = nominal_airflow(self.plate.rated_total_w, self.climate, work)
            remark = Sentence.of("Nominal, from rated cooling, ±15 %. Not measured.")
        else:
            return Method(key, name, missing=("Airflow, or the plate's rated cooling",))
        flow = Measured(value, {NOMINAL_SOURCE: NOMINAL_HALF_WIDTH_SHARE * value})
        return Method(key, name, flow, "return", work, remark, nominal=True)

    def _worked(
        self,
        key: str,
        name: str,
        at: Side,
        remark: Sentence,
        inputs: dict[str, Measured],
        formula: Callable[..., float],
    ) -> Method:
        """A method by a formula: its working, and half-widths passed through; what it refuses is said."""
        work = Working()
        try:
            formula(work, **{name: given.value for name, given in inputs.items()})
            silent = Working(silent=True)
            flow = propagate(lambda **given: {"flow": formula(silent, **given)}, inputs)["flow"]
        except Refused as refusal:
            return Method(key, name, remark=refusal.sentence)
        return Method(key, name, flow, at, work, remark)


def _widened(method: Method, source: str, share: float) -> Method:
    """The table's or curve's own doubt added."""
    if method.flow is None:
        return method
    doubt = Measured(0.0, {source: share * method.flow.value})
    return Method(
        method.key, method.name, weighted_sum([(1.0, method.flow), (1.0, doubt)]), method.at, method.work, method.remark
    )


def tightest(methods: list[Method]) -> Method | None:
    """The measured one with the smallest half-width; the nominal one only when there is no other.

    The registers' sum stands back behind a flow measured at the unit: what leaks before them is missing in it.
    """
    known = [method for method in methods if method.flow is not None]
    measured = [method for method in known if not method.nominal]
    at_unit = [method for method in measured if method.key != "airflow_registers"]
    return min(at_unit or measured or known, key=lambda method: method.flow.plus_minus if method.flow else 0.0, default=None)


def disagreements(methods: list[Method]) -> list[tuple[Method, Method]]:
    """Pairs of measured flows that differ by more than their joint half-width."""
    measured = [method for method in methods if method.flow is not None and not method.nominal]
    return [
        (first, second)
        for first, second in combinations(measured, 2)
        if first.flow and second.flow and abs((first.flow - second.flow).value) > (first.flow - second.flow).plus_minus
    ]

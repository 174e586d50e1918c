"""The airflow by every way the readings allow: each with half-width, the tightest taken, disagreements said."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from itertools import combinations
from typing import Literal

from fentro_core.airflow.airflow import (
    DROP_CURVE_SHARE,
    FAN_TABLE_SHARE,
    NOMINAL_HALF_WIDTH_SHARE,
    airflow_from_drop,
    airflow_from_fan_table,
    airflow_from_registers,
    airflow_from_rise,
    climate_of,
    nominal_airflow,
)
from fentro_core.airflow.external_static import external_static_read
from fentro_core.airflow.heat_input import DERATE_SOURCE, GAS_SOURCE, heat_input
from fentro_core.airflow.traverse import Duct, plan, profile_flags, traverse, traverse_flow
from fentro_core.base.kept import kept
from fentro_core.base.measured import GUESS, Measured, propagate, weighted_sum
from fentro_core.base.quick import quick
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.working import Working
from fentro_core.phase.context import PartContext
from fentro_core.phase.known import Missing
from fentro_core.phase.readings import Readings
from fentro_core.system.nameplate import CoolingNameplate

NOMINAL_SOURCE = f"{GUESS}nominal airflow"
FAN_TABLE_SOURCE = "fan table"
COIL_CURVE_SOURCE = "coil curve"

LABELS = {
    NOMINAL_SOURCE: "Nominal airflow, a guess",
    GAS_SOURCE: "Gas input and efficiency, not clocked",
    DERATE_SOURCE: "Gas input lowered for the altitude, or not",
    FAN_TABLE_SOURCE: "The maker's fan table",
    COIL_CURVE_SOURCE: "The coil's curve",
}
"""Sources of doubt in words."""

Side = Literal["return", "supply"]
REGISTERS = "airflow_registers"
RISE = "airflow_rise"
FAN_TABLE = "airflow_fan_table"


@quick
@dataclass(frozen=True)
class Way:
    """One way to the airflow. `at`: whose volume it is. Without a value it says what is missing."""

    key: str
    name: str
    flow: Measured | None = None
    at: Side = "return"
    work: Working | None = None
    remark: Sentence | None = None
    missing: tuple[str, ...] = ()
    nominal: bool = False


@dataclass(frozen=True)
class KnownWay:
    """A way that gives a flow."""

    key: str
    name: str
    flow: Measured
    at: Side
    work: Working
    remark: Sentence | None
    nominal: bool


@dataclass(frozen=True)
class Airflow:
    """What the other parts may use of the airflow. `rated_m3s`: the nameplate's, or the nominal one of its cooling."""

    ways: tuple[Way, ...] = ()
    rated_m3s: float | None = None
    known: tuple[KnownWay, ...] = field(default=(), compare=False)

    @kept
    def in_use(self) -> KnownWay | None:
        """The tightest."""
        return tightest(self.known)

    @property
    def measured(self) -> KnownWay | None:
        """The one in use, unless it is only nominal."""
        found = self.in_use
        return found if found and not found.nominal else None

    @kept
    def apart_from_heat(self) -> KnownWay | None:
        """The tightest measured one that was not itself worked out from the heat it would judge."""
        return tightest([way for way in self.known if way.key != RISE and not way.nominal])

    @kept
    def apart_from_ducts(self) -> KnownWay | None:
        """The tightest measured one besides the registers, the statics and the heat: ducts are judged by those themselves."""
        left_out = (RISE, REGISTERS, FAN_TABLE)
        return tightest([way for way in self.known if way.key not in left_out and not way.nominal])

    @property
    def at_registers(self) -> KnownWay | None:
        """The sum of the registers."""
        return next((way for way in self.known if way.key == REGISTERS), None)

    @property
    def disagreements(self) -> tuple[tuple[KnownWay, KnownWay], ...]:
        """Pairs of measured flows that differ by more than their joint half-width."""
        measured = [way for way in self.known if not way.nominal]
        return tuple(
            (first, second)
            for first, second in combinations(measured, 2)
            if abs((first.flow - second.flow).value) > (first.flow - second.flow).plus_minus
        )


def airflow_of(context: PartContext[CoolingNameplate], planes: Mapping[str, Duct], speed_tap: str) -> Airflow:
    """All ways of one phase, tightest kinds first, the nominal one last; those that can't be had here are left out.

    Parameters
    ----------
    planes : mapping
        Measured ducts by traverse station.
    speed_tap : str
        The blower's speed tap as seen, or "".
    """
    context.readings.labels.update(LABELS)
    ways = _Ways(context, planes, speed_tap).all()
    return Airflow(ways, _rated(context), known(ways))


def known(ways: tuple[Way, ...]) -> tuple[KnownWay, ...]:
    """The ways that give a flow."""
    return tuple(
        KnownWay(way.key, way.name, way.flow, way.at, way.work or Working(), way.remark, way.nominal)
        for way in ways
        if way.flow is not None
    )


def _rated(context: PartContext[CoolingNameplate]) -> float | None:
    nameplate = context.nameplate
    if nameplate.rated_airflow_m3s:
        return nameplate.rated_airflow_m3s
    if nameplate.rated_total_w:
        return nominal_airflow(nameplate.rated_total_w, climate_of(context.visit.snapshot.site.climate_zone))
    return None


def tightest(ways: tuple[KnownWay, ...] | list[KnownWay]) -> KnownWay | None:
    """The measured one with the smallest half-width; the nominal one only when there is no other.

    The registers' sum stands back behind a flow measured at the unit: what leaks before them is missing in it.
    """
    measured = [way for way in ways if not way.nominal]
    at_unit = [way for way in measured if way.key != REGISTERS]
    return min(at_unit or measured or ways, key=lambda way: way.flow.plus_minus, default=None)


def directly(readings: Readings, station: Side) -> list[Way]:
    """A hood or a flow probe that shows the flow itself."""
    average = readings.average(station, "airflow")
    if average is None:
        return []
    name = readings.names[station].lower()
    remark = Sentence.of(f"Measured at the {name}.")
    return [Way(f"airflow_direct_{station}", f"Read directly, {name}", average, station, Working(), remark)]


def by_traverse(readings: Readings, planes: Mapping[str, Duct], side: str) -> Way | None:
    """Velocities across a duct times its free area; None where no duct and nothing was read."""
    station = f"{side}_traverse"
    key, name = f"airflow_traverse_{side}", f"Traverse, {side}"
    duct = planes.get(station)
    reads = readings.at(station, "velocity")
    if duct is None or not reads:
        return Way(key, name, missing=("A duct measured and its points read",)) if duct or reads else None
    velocities = [read.value for read in reads]
    planned = len(plan(duct).points)
    if len(reads) < planned:
        return Way(key, name, missing=(f"{planned - len(reads)} of {planned} points",))
    given = tuple(velocity.value for velocity in velocities)
    source = f"{readings.phase}/{station}"
    readings.labels[f"{source}:traverse"] = f"{name}: the method and its plane"
    work = Working()
    traverse(duct, given, work)
    flags = profile_flags(duct, given)
    remark = flags[0] if flags else Sentence.of(f"{len(given)} points across the duct.")
    at: Side = "supply" if side == "supply" else "return"
    return Way(key, name, traverse_flow(duct, velocities, source), at, work, remark)


class _Ways:
    def __init__(self, context: PartContext[CoolingNameplate], planes: Mapping[str, Duct], speed_tap: str) -> None:
        self.context = context
        self.nameplate = context.nameplate
        self.readings = context.readings
        self.path = context.path
        self.planes = planes
        self.speed_tap = speed_tap

    def all(self) -> tuple[Way, ...]:
        readings = self.readings
        found: list[Way | None] = [*directly(readings, "return"), *directly(readings, "supply")]
        found += [by_traverse(readings, self.planes, "return"), by_traverse(readings, self.planes, "supply")]
        found += [self._rise(), self._fan_table(), self._registers(), self._drop(), self._nominal()]
        return tuple(way for way in found if way is not None)

    def _rise(self) -> Way | None:
        if not (self.nameplate.burns_gas or self.nameplate.is_heat_pump):
            return None
        way = Way(RISE, "Heat and rise")
        return_, supply = self.readings.matched_airs.get("return"), self.readings.matched_airs.get("supply")
        if return_ is None or supply is None or supply.dry_bulb.value <= return_.dry_bulb.value:
            return replace(way, missing=("Return and supply dry bulb while heating",))
        heat = heat_input(self.context)
        if isinstance(heat, Missing):
            return replace(way, missing=heat.what)
        early = self.readings.early(("return", "supply"))
        if early is not None:
            return replace(way, missing=("Steady readings",), remark=early)
        inputs = {"heat_w": heat.value, "return_dry_bulb_c": return_.dry_bulb, "supply_dry_bulb_c": supply.dry_bulb}
        if return_.humidity_ratio is not None:
            inputs["humidity_ratio"] = return_.humidity_ratio
        pressure = self.context.pressure_pa
        return _worked(
            replace(way, remark=heat.remark),
            inputs,
            lambda work, **given: airflow_from_rise(
                **given | {"humidity_ratio": max(given.get("humidity_ratio", 0.0), 0.0)}, pressure_pa=pressure, work=work
            ),
        )

    def _fan_table(self) -> Way | None:
        table = self.nameplate.fan_table
        if not table:
            return None
        way = Way("airflow_fan_table", "Fan table")
        static = external_static_read(self.readings, self.path)
        if isinstance(static, Missing):
            return replace(way, missing=static.what)
        taps = self.nameplate.speed_taps
        tap = self.speed_tap or (taps[0] if len(taps) == 1 else "")
        if not tap:
            return replace(way, missing=("The blower's speed tap",))
        found = _worked(
            replace(way, remark=Sentence.of(f"Speed tap {tap}. The table is the maker's, with clean parts.")),
            {"external_static_pa": static.value},
            lambda work, external_static_pa: airflow_from_fan_table(table, tap, external_static_pa, work),
        )
        return _widened(found, FAN_TABLE_SOURCE, FAN_TABLE_SHARE)

    def _registers(self) -> Way | None:
        stations = [station for station in self.path.stations if station.kind == "register"]
        if not stations:
            return None
        way = Way(REGISTERS, "Sum of registers")
        flows = [self.readings.average(station.id, "airflow") for station in stations]
        values = [flow for flow in flows if flow is not None]
        if len(values) < len(flows):
            return replace(way, missing=(f"{len(flows) - len(values)} of {len(flows)} registers",))
        work = Working()
        airflow_from_registers(tuple(flow.value for flow in values), work)
        remark = Sentence.of("Every register by itself; what leaks from the duct before them is missing.")
        return replace(way, flow=weighted_sum([(1.0, flow) for flow in values]), at="supply", work=work, remark=remark)

    def _drop(self) -> Way | None:
        curve = self.nameplate.coil_curve
        if not curve or not self.path.coil_taps:
            return None
        way = Way("airflow_drop", "Pressure drop over the coil")
        before, after = (self.readings.average(tap, "static_pressure") for tap in self.path.coil_taps)
        if before is None or after is None:
            pairs = zip(self.path.coil_taps, (before, after), strict=True)
            return replace(way, missing=tuple(self.readings.names[tap] for tap, found in pairs if found is None))
        words = "By the coil's curve, clean and dry: a wet or dirty coil makes the flow look larger."
        found = _worked(
            replace(way, remark=Sentence.of(words)),
            {"drop_pa": before - after},
            lambda work, drop_pa: airflow_from_drop(curve, drop_pa, work),
        )
        return _widened(found, COIL_CURVE_SOURCE, DROP_CURVE_SHARE)

    def _nominal(self) -> Way:
        way = Way("airflow_nominal", "Nominal, not measured")
        work = Working()
        if self.nameplate.rated_airflow_m3s is not None:
            value = self.nameplate.rated_airflow_m3s
            remark = Sentence.of("Nominal, from the nameplate, ±25 %. Not measured.")
        elif self.nameplate.rated_total_w is not None:
            value = nominal_airflow(self.nameplate.rated_total_w, climate_of(self.context.visit.snapshot.site.climate_zone), work)
            remark = Sentence.of("Nominal, from rated cooling, ±25 %. Not measured.")
        else:
            return replace(way, missing=("Airflow, or the nameplate's rated cooling",))
        flow = Measured(value, {NOMINAL_SOURCE: NOMINAL_HALF_WIDTH_SHARE * value})
        return replace(way, flow=flow, work=work, remark=remark, nominal=True)


def _worked(way: Way, inputs: dict[str, Measured], formula: Callable[..., float]) -> Way:
    """A way by a formula: its working, and half-widths passed through; what it refuses is said."""
    work = Working()
    try:
        formula(work, **{name: given.value for name, given in inputs.items()})
        silent = Working(silent=True)
        flow = propagate(lambda **given: {"flow": formula(silent, **given)}, inputs)["flow"]
    except Refused as refusal:
        return replace(way, remark=refusal.sentence)
    return replace(way, flow=flow, work=work)


def _widened(way: Way, source: str, share: float) -> Way:
    """The table's or curve's own doubt added."""
    if way.flow is None:
        return way
    doubt = Measured(0.0, {source: share * way.flow.value})
    return replace(way, flow=weighted_sum([(1.0, way.flow), (1.0, doubt)]))

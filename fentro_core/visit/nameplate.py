"""Kinds of air system and what each nameplate says. Numbers are SI."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from typing import Any, Literal, get_args

from fentro_core import typed_json, units
from fentro_core.performance.airflow import DropPoint, FanPoint
from fentro_core.performance.refrigerant import Metering, Refrigerant
from fentro_core.refusal import Refused
from fentro_core.sentence import Number

SystemKind = Literal["packaged_rooftop", "furnace_with_coil", "split_heat_pump", "dwelling_ventilator"]
Changeover = Literal["fixed_dry_bulb", "differential_dry_bulb", "fixed_enthalpy", "differential_enthalpy"]

KIND_NAMES: dict[str, str] = {
    "packaged_rooftop": "Packaged rooftop unit",
    "furnace_with_coil": "Gas furnace",
    "split_heat_pump": "Split heat pump",
    "dwelling_ventilator": "Dwelling ventilator",
}


@dataclass(frozen=True)
class Branch:
    """A duct to one room: its floor, diameter and length."""

    room: str
    floor: str = ""
    diameter_m: float | None = None
    run_m: float | None = None


@dataclass(frozen=True)
class Plate:
    """What every plate says."""

    maker: str = ""
    model: str = ""
    serial: str = ""


@dataclass(frozen=True)
class CoolingPlate(Plate):
    """A unit that cools: rated at 80/67 °F entering, 95 °F outdoor, sea level.

    `fan_table`: the blower's flow by speed tap and external static; `coil_curve`: the coil's drop when clean and dry.
    `subcooling_k`: what an expansion valve's unit should show; `filter_change_pa`: the filter's drop at which it is changed.
    """

    rated_total_w: float | None = None
    rated_airflow_m3s: float | None = None
    rated_sensible_heat_ratio: float | None = None
    max_external_static_pa: float | None = None
    branches: tuple[Branch, ...] = ()
    fan_table: tuple[FanPoint, ...] = ()
    coil_curve: tuple[DropPoint, ...] = ()
    refrigerant: Refrigerant | None = None
    metering: Metering | None = None
    subcooling_k: float | None = None
    compressor_current_a: float | None = None
    filter_change_pa: float | None = None


@dataclass(frozen=True)
class RooftopPlate(CoolingPlate):
    """Packaged rooftop unit, with or without an economizer; `controller`: the name its controller answers to at the gateway."""

    economizer: bool = False
    changeover: Changeover | None = None
    controller: str = ""


@dataclass(frozen=True)
class FurnacePlate(CoolingPlate):
    """Gas furnace, with a cooling coil after it or without (`cooling_coil`)."""

    cooling_coil: bool = True

    heating_input_w: float | None = None
    heating_efficiency: float | None = None
    rise_low_k: float | None = None
    rise_high_k: float | None = None
    max_outlet_c: float | None = None


@dataclass(frozen=True)
class HeatPumpPlate(CoolingPlate):
    """Split heat pump; `night_cooling` when a damper can bring in outdoor air; rated heating at 47 °F outdoor."""

    rated_heating_w: float | None = None
    night_cooling: bool = False


@dataclass(frozen=True)
class VentilatorPlate(Plate):
    """Dwelling ventilator: one fan in, one fan out."""

    rated_airflow_m3s: float | None = None
    heat_recovery: bool = False


PLATES: dict[str, type[Plate]] = {
    "packaged_rooftop": RooftopPlate,
    "furnace_with_coil": FurnacePlate,
    "split_heat_pump": HeatPumpPlate,
    "dwelling_ventilator": VentilatorPlate,
}

_ABOVE_ZERO = {
    "rated_total_w": 2_000_000.0,
    "rated_heating_w": 2_000_000.0,
    "heating_input_w": 2_000_000.0,
    "heating_efficiency": 1.0,
    "rated_airflow_m3s": 60.0,
    "rated_sensible_heat_ratio": 1.0,
    "max_external_static_pa": 2500.0,
    "rise_low_k": 100.0,
    "rise_high_k": 100.0,
    "max_outlet_c": 120.0,
    "subcooling_k": 25.0,
    "compressor_current_a": 1000.0,
    "filter_change_pa": 1000.0,
}


def read_plate(kind: str, given: object) -> Plate:
    """A nameplate from JSON, by kind of system.

    Raises
    ------
    Refused
        Unknown kind (path ``kind``) or a field that can't be right (path ``nameplate.<field>``).
    """
    if kind not in PLATES:
        raise Refused(f"Choose a kind of system: {', '.join(get_args(SystemKind))}.", "kind")
    try:
        plate = typed_json.read(given, PLATES[kind])
        for name, high in _ABOVE_ZERO.items():
            value = getattr(plate, name, None)
            if value is not None and not 0 < value <= high:
                number_kind = units.kind_of(name)
                raise Refused("This must be above zero and at most {high}.", name, high=(high, number_kind))
        _check_tables(plate)
    except Refused as refusal:
        raise refusal.under("nameplate") from refusal
    return plate


def _check_tables(plate: Plate) -> None:
    """Refuse tables that no blower or coil has: figures below zero, the same point twice."""
    if not isinstance(plate, CoolingPlate):
        return
    for index, row in enumerate(plate.fan_table):
        if row.airflow_m3s <= 0 or not -2500 <= row.external_static_pa <= 2500:
            raise Refused("A fan table's line needs a flow above zero and a static pressure.", f"fan_table.{index}")
    if len({(row.tap, row.external_static_pa) for row in plate.fan_table}) < len(plate.fan_table):
        raise Refused("The fan table has the same line twice.", "fan_table")
    for index, point in enumerate(plate.coil_curve):
        if point.airflow_m3s <= 0 or not 0 < point.drop_pa <= 2500:
            raise Refused("A coil's curve needs flows and drops above zero.", f"coil_curve.{index}")
    if len({point.drop_pa for point in plate.coil_curve}) < len(plate.coil_curve):
        raise Refused("The coil's curve has the same drop twice.", "coil_curve")


@dataclass(frozen=True)
class PlateLine:
    """One line of a nameplate in words: a label with a text or a number."""

    label: str
    text: str = ""
    number: Number | None = None


PLATE_LABELS = {
    "maker": "Maker",
    "model": "Model",
    "serial": "Serial number",
    "rated_total_w": "Rated cooling, total",
    "rated_airflow_m3s": "Rated airflow",
    "rated_sensible_heat_ratio": "Rated sensible heat ratio",
    "max_external_static_pa": "External static, most",
    "heating_input_w": "Gas input",
    "heating_efficiency": "Heating efficiency",
    "rise_low_k": "Temperature rise, least",
    "rise_high_k": "Temperature rise, most",
    "max_outlet_c": "Outlet air, most",
    "rated_heating_w": "Rated heating",
    "cooling_coil": "Cooling coil",
    "refrigerant": "Refrigerant",
    "metering": "Metering device",
    "subcooling_k": "Subcooling",
    "compressor_current_a": "Compressor current",
    "filter_change_pa": "Change the filter at",
    "branches": "Branches",
    "fan_table": "Fan table",
    "coil_curve": "Coil's pressure drop",
    "economizer": "Economizer",
    "changeover": "Changeover",
    "controller": "Controller",
    "night_cooling": "Night cooling damper",
    "heat_recovery": "Heat recovery",
}

_WORDS = {"restrictor": "fixed restrictor", "valve": "expansion valve"}

_OWN_KIND = {"rated_total_w": "tonnage", "heating_efficiency": "share"}


def plate_words(plate: Plate) -> tuple[PlateLine, ...]:
    """The plate as labelled lines, only what it says.

    >>> [line.label for line in plate_words(RooftopPlate(maker="Harrow", rated_total_w=35000.0))]
    ['Maker', 'Rated cooling, total', 'Economizer']
    """
    lines = []
    for each in dataclasses.fields(plate):
        value: Any = getattr(plate, each.name)
        label = PLATE_LABELS.get(each.name)
        if label is None or value is None or value == "" or isinstance(value, tuple):
            continue
        if isinstance(value, bool):
            lines.append(PlateLine(label, "yes" if value else "no"))
        elif isinstance(value, str):
            lines.append(PlateLine(label, _WORDS.get(value, value.replace("_", " ") if each.name == "changeover" else value)))
        else:
            kind = _OWN_KIND.get(each.name, units.kind_of(each.name))
            lines.append(PlateLine(label, number=Number(value, kind)))
    if isinstance(plate, CoolingPlate) and plate.fan_table:
        taps = ", ".join(dict.fromkeys(row.tap for row in plate.fan_table))
        lines.append(PlateLine("Fan table", f"taps {taps}"))
    if isinstance(plate, CoolingPlate) and plate.coil_curve:
        lines.append(PlateLine("Coil's pressure drop", f"{len(plate.coil_curve)} points"))
    branches = getattr(plate, "branches", ())
    if branches:
        floors = sorted({branch.floor for branch in branches if branch.floor})
        lines.append(PlateLine("Branches", f"{len(branches)}" + (f" on {len(floors)} floors" if len(floors) > 1 else "")))
    return tuple(lines)

"""The way of the air through each kind of system: bands, what joins and leaves, and the stations where to read."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

from fentro_core.visit.nameplate import Branch, FurnacePlate, HeatPumpPlate, Plate, RooftopPlate, VentilatorPlate
from fentro_core.visit.stations import (
    AFTER_COIL,
    BLOWER_FEED,
    COIL_OUT_STATIC,
    CONDENSER_IN,
    CONDENSER_OUT,
    FILTER_STATIC,
    HEATER,
    LIQUID_LINE,
    MIXED,
    OUTDOOR,
    OUTDOOR_UNIT,
    RETURN,
    RETURN_GRILLE,
    RETURN_STATIC,
    RETURN_TRAVERSE,
    SUCTION_LINE,
    SUPPLY,
    SUPPLY_STATIC,
    SUPPLY_TRAVERSE,
    SURROUNDINGS,
    Station,
    register_station,
    static_tap,
    traverse_plane,
)

ElementKind = Literal["grille", "mixing", "filter", "coil", "heat_exchanger", "blower", "core", "register", "outside"]


@dataclass(frozen=True)
class Element:
    """Something the air passes. `station`: read in the air just after it."""

    id: str
    name: str
    kind: ElementKind
    station: str = ""


@dataclass(frozen=True)
class Joint:
    """Air that joins or leaves a band at an element."""

    id: str
    name: str
    direction: Literal["joins", "leaves"]
    at: str
    station: str = ""


@dataclass(frozen=True)
class Band:
    """One stream from where it enters to where it leaves, in order."""

    id: str
    name: str
    elements: tuple[Element, ...]
    joints: tuple[Joint, ...] = ()


@dataclass(frozen=True)
class AirPath:
    """All streams of a system, stations in order of the air, and branches to rooms.

    `apart` names stations that belong to the system but not to its air stream (outdoor air at the condenser).
    `external_taps`: return and supply tap of the total external static; `coil_taps`: before and after the coil.
    """

    bands: tuple[Band, ...]
    stations: tuple[Station, ...]
    branches: tuple[Branch, ...]
    apart: tuple[str, ...]
    external_taps: tuple[str, ...] = ()
    coil_taps: tuple[str, ...] = ()

    def station(self, station_id: str) -> Station | None:
        """The station of that id."""
        return next((station for station in self.stations if station.id == station_id), None)


@lru_cache(maxsize=256)
def air_path(kind: str, plate: Plate, noted: tuple[Branch, ...] = ()) -> AirPath:
    """The air path of a system of this kind with this plate; `noted`: branches found on the visit.

    A branch found goes before one of the plate with the same room and floor.

    >>> [element.kind for element in air_path("furnace_with_coil", Plate()).bands[0].elements]
    ['grille', 'filter', 'blower', 'heat_exchanger', 'coil', 'register']
    """
    if isinstance(plate, VentilatorPlate):
        return _ventilator(plate)
    takes_outdoor = (isinstance(plate, RooftopPlate) and plate.economizer) or (
        isinstance(plate, HeatPumpPlate) and plate.night_cooling
    )
    coil = not isinstance(plate, FurnacePlate) or plate.cooling_coil
    elements = (
        Element("grille", "Return grille", "grille", "return"),
        *((Element("mixing", "Mixing", "mixing", "mixed"),) if takes_outdoor else ()),
        Element("filter", "Filter", "filter"),
        *(element for element in _BUILD_UP[kind] if coil or element.kind != "coil"),
        Element("registers", "Supply", "register", "supply"),
    )
    joints = (
        (
            Joint("relief", "Relief", "leaves", "grille"),
            Joint("outdoor", "Outdoor air", "joins", "mixing", "outdoor"),
        )
        if takes_outdoor
        else ()
    )
    band = Band("main", "Air through the unit", elements, joints)
    found = {(branch.room, branch.floor): branch for branch in (*getattr(plate, "branches", ()), *noted)}
    branches = tuple(found.values())
    stations = _stations(kind, takes_outdoor, coil, branches)
    apart = () if takes_outdoor else ("outdoor",)
    return AirPath((band,), stations, branches, apart, _EXTERNAL_TAPS[kind], _COIL_TAPS[kind] if coil else ())


def _stations(kind: str, takes_outdoor: bool, coil: bool, branches: tuple[Branch, ...]) -> tuple[Station, ...]:
    """Those of the air path first, then the rest in the order of the air."""
    furnace = kind == "furnace_with_coil"
    registers = {station.id: station for station in map(register_station, branches)}
    return (
        RETURN,
        *((OUTDOOR, MIXED) if takes_outdoor else ()),
        SUPPLY,
        *(() if takes_outdoor else (OUTDOOR,)),
        RETURN_GRILLE,
        SURROUNDINGS,
        RETURN_TRAVERSE,
        RETURN_STATIC,
        FILTER_STATIC,
        *(_furnace_taps(coil) if furnace else (COIL_OUT_STATIC, AFTER_COIL, SUPPLY_STATIC)),
        SUPPLY_TRAVERSE,
        *registers.values(),
        *((CONDENSER_IN, CONDENSER_OUT, SUCTION_LINE, LIQUID_LINE, OUTDOOR_UNIT) if coil else ()),
        BLOWER_FEED,
        *((HEATER,) if kind == "split_heat_pump" else ()),
    )


def _furnace_taps(coil: bool) -> tuple[Station, ...]:
    """A furnace blows into its coil; without one the supply tap sits after the furnace."""
    if not coil:
        return (replace(SUPPLY_STATIC, element="heat_exchanger"),)
    return _BEFORE_COIL_STATIC, AFTER_COIL, _AFTER_COIL_STATIC


_BEFORE_COIL_STATIC = static_tap("supply_static", "Supply static", "Between the furnace and the coil.", "heat_exchanger")
_AFTER_COIL_STATIC = static_tap("coil_out_static", "Static after the coil", "In the supply duct, after the coil.", "coil")

_EXTERNAL_TAPS = {
    "packaged_rooftop": ("return_static", "supply_static"),
    "furnace_with_coil": ("filter_static", "supply_static"),
    "split_heat_pump": ("return_static", "supply_static"),
}
"""Return and supply tap. A furnace's rating ends before the coil, and begins after the filter."""

_COIL_TAPS = {
    "packaged_rooftop": ("filter_static", "coil_out_static"),
    "furnace_with_coil": ("supply_static", "coil_out_static"),
    "split_heat_pump": ("filter_static", "coil_out_static"),
}
"""Before and after the coil."""


_BUILD_UP: dict[str, tuple[Element, ...]] = {
    "packaged_rooftop": (Element("coil", "Coil", "coil"), Element("blower", "Blower", "blower")),
    "furnace_with_coil": (
        Element("blower", "Blower", "blower"),
        Element("heat_exchanger", "Heat exchanger", "heat_exchanger"),
        Element("coil", "Coil", "coil"),
    ),
    "split_heat_pump": (Element("coil", "Coil", "coil"), Element("blower", "Blower", "blower")),
}


def _ventilator(plate: VentilatorPlate) -> AirPath:
    core = (Element("core", "Heat recovery", "core"),) if plate.heat_recovery else ()
    outdoor = _own("outdoor", "Outdoor", "In the intake duct, before the filter.", "Rain and sun.", "intake")
    fresh = _own("supply", "Fresh air", "In the duct to the rooms, after the fan.", "The fan's own motor heat.", "rooms")
    extract = _own("extract", "Extract", "In the duct from the rooms, before the filter.", "Kitchen grease.", "extract_grille")
    exhaust = _own("exhaust", "Exhaust", "In the duct to outside, after the fan.", "The outside hood.", "hood", needed=False)
    more = (
        traverse_plane("supply_traverse", "Fresh-air traverse", "duct to the rooms", "rooms"),
        traverse_plane("extract_traverse", "Extract traverse", "duct from the rooms", "extract_grille"),
        static_tap("outdoor_static", "Intake static", "In the intake duct, before the filter.", "intake"),
        static_tap("supply_static", "Fresh-air static", "In the duct to the rooms, after the fan.", "rooms"),
        static_tap("extract_static", "Extract static", "In the duct from the rooms, before the filter.", "extract_grille"),
        static_tap("exhaust_static", "Exhaust static", "In the duct to outside, after the fan.", "hood"),
    )
    inward = (
        Element("intake", "Intake", "outside", "outdoor"),
        Element("filter_in", "Filter", "filter"),
        *core,
        Element("fan_in", "Fan", "blower"),
        Element("rooms", "To the rooms", "register", "supply"),
    )
    outward = (
        Element("extract_grille", "From the rooms", "grille", "extract"),
        Element("filter_out", "Filter", "filter"),
        *core,
        Element("fan_out", "Fan", "blower"),
        Element("hood", "Outside hood", "outside", "exhaust"),
    )
    bands = (Band("fresh", "Fresh air in", inward), Band("stale", "Stale air out", outward))
    return AirPath(bands, (outdoor, fresh, extract, exhaust, *more), (), ())


def _own(station_id: str, name: str, where: str, avoid: str, element: str, needed: bool = True) -> Station:
    return Station(station_id, name, where, avoid, RETURN.quantities, needed=needed, core=True, element=element)

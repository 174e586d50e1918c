"""The way of the air through each kind of system: bands, what joins and leaves, and the stations where to read."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from fentro_core.visit.nameplate import Branch, HeatPumpPlate, Plate, RooftopPlate, VentilatorPlate

ElementKind = Literal["grille", "mixing", "filter", "coil", "heat_exchanger", "blower", "core", "register", "outside"]


@dataclass(frozen=True)
class Station:
    """A place to read: where exactly the probe goes, and what to keep away from."""

    id: str
    name: str
    where: str
    avoid: str
    quantities: tuple[str, ...]
    needed: bool


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
    """

    bands: tuple[Band, ...]
    stations: tuple[Station, ...]
    branches: tuple[Branch, ...]
    apart: tuple[str, ...]

    def station(self, station_id: str) -> Station | None:
        """The station of that id."""
        return next((station for station in self.stations if station.id == station_id), None)


_AIR = ("dry_bulb", "relative_humidity", "wet_bulb", "dew_point")
_DUCT = (*_AIR, "airflow")

RETURN = Station(
    "return",
    "Return",
    "In the return duct just before the filter, away from the wall; the filter's arrow points away from you.",
    "Where outdoor air or a duct leak has already joined.",
    _DUCT,
    True,
)
OUTDOOR = Station(
    "outdoor",
    "Outdoor",
    "In the shade, at the air entering the condenser or the intake.",
    "Sun, exhaust air and the condenser's own discharge.",
    _AIR,
    False,
)
MIXED = Station(
    "mixed",
    "Mixed",
    "After outdoor and return air have met, before the filter or coil; several points across.",
    "A single corner: mixed air is layered.",
    _AIR,
    False,
)
SUPPLY = Station(
    "supply",
    "Supply",
    "In the supply duct, well after the last coil or heat exchanger and after a bend.",
    "Sight of the heat exchanger, wet coil spray, and the coil itself: never push a probe into it.",
    _DUCT,
    True,
)


def air_path(kind: str, plate: Plate) -> AirPath:
    """The air path of a system of this kind with this plate.

    >>> [element.kind for element in air_path("furnace_with_coil", Plate()).bands[0].elements]
    ['grille', 'filter', 'blower', 'heat_exchanger', 'coil', 'register']
    """
    if isinstance(plate, VentilatorPlate):
        return _ventilator(plate)
    takes_outdoor = (isinstance(plate, RooftopPlate) and plate.economizer) or (
        isinstance(plate, HeatPumpPlate) and plate.night_cooling
    )
    elements = (
        Element("grille", "Return grille", "grille", "return"),
        *((Element("mixing", "Mixing", "mixing", "mixed"),) if takes_outdoor else ()),
        Element("filter", "Filter", "filter"),
        *_BUILD_UP[kind],
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
    stations = (RETURN, *((OUTDOOR, MIXED) if takes_outdoor else ()), SUPPLY, *(() if takes_outdoor else (OUTDOOR,)))
    band = Band("main", "Air through the unit", elements, joints)
    return AirPath((band,), stations, getattr(plate, "branches", ()), () if takes_outdoor else ("outdoor",))


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
    outdoor = Station("outdoor", "Outdoor", "In the intake duct, before the filter.", "Rain and sun.", _DUCT, True)
    fresh = Station("supply", "Fresh air", "In the duct to the rooms, after the fan.", "The fan's own motor heat.", _DUCT, True)
    extract = Station("extract", "Extract", "In the duct from the rooms, before the filter.", "Kitchen grease.", _DUCT, True)
    exhaust = Station("exhaust", "Exhaust", "In the duct to outside, after the fan.", "The outside hood.", _DUCT, False)
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
    return AirPath(bands, (outdoor, fresh, extract, exhaust), (), ())

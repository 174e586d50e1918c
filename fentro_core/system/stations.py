"""Every place to read, for each kind of system: where exactly the probe goes, and what to keep away from."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from fentro_core.system.branch import Branch
from fentro_core.system.nameplate import Nameplate

StationKind = Literal["air", "register", "static", "traverse", "pipe", "electric"]

AIR_QUANTITIES = ("dry_bulb", "relative_humidity", "wet_bulb", "dew_point")
DUCT_QUANTITIES = (*AIR_QUANTITIES, "velocity", "airflow")


@dataclass(frozen=True)
class Station:
    """A place to read.

    `core`: always shown under the air path; the others when they are used, or asked for. `element`: where it belongs.
    `along`: place among those that are not core, in the order of the air: 10 return, 20 filter, 30 coil, 40 supply, 50 outdoor
    unit, 60 feeds.
    """

    id: str
    name: str
    where: str
    avoid: str
    quantities: tuple[str, ...]
    needed: bool = False
    kind: StationKind = "air"
    core: bool = False
    element: str = ""
    along: int = 0


PartStations = Callable[[Nameplate], tuple[Station, ...]]

PART_STATIONS: dict[str, PartStations] = {}
"""Stations that a part of the job adds to a system, by the part's key; filled from the parts (`fentro_core.parts`)."""


RETURN = Station(
    "return",
    "Return",
    "In the return duct just before the filter, away from the wall; the filter's arrow points away from you.",
    "Where outdoor air or a duct leak has already joined.",
    DUCT_QUANTITIES,
    needed=True,
    core=True,
    element="grille",
)
MIXED = Station(
    "mixed",
    "Mixed",
    "After outdoor and return air have met, before the filter or coil; several points across.",
    "A single corner: mixed air is layered.",
    (*AIR_QUANTITIES, "velocity"),
    core=True,
    element="mixing",
)
OUTDOOR = Station(
    "outdoor",
    "Outdoor",
    "In the shade, at the air entering the condenser or the intake.",
    "Sun, exhaust air and the condenser's own discharge.",
    (*AIR_QUANTITIES, "air_pressure"),
    core=True,
    element="outdoor",
)
SUPPLY = Station(
    "supply",
    "Supply",
    "In the supply duct, well after the last coil or heat exchanger and after a bend.",
    "Sight of the heat exchanger, wet coil spray, and the coil itself: never push a probe into it.",
    DUCT_QUANTITIES,
    needed=True,
    core=True,
    element="registers",
)


def static_tap(station_id: str, name: str, where: str, element: str, along: int = 0) -> Station:
    """A place for a static pressure tip."""
    return Station(
        station_id,
        name,
        f"{where} Tip facing the air, a third of the way into the duct.",
        "Bends, the blower's whirl, and anything behind the sheet: never drill towards a coil, heat exchanger or wire.",
        ("static_pressure",),
        kind="static",
        element=element,
        along=along,
    )


def traverse_plane(station_id: str, name: str, duct: str, element: str, along: int = 0) -> Station:
    """A plane across a duct where velocity is read point by point."""
    return Station(
        station_id,
        name,
        f"Across a straight stretch of the {duct}: 7½ diameters after a bend, 1½ before the next. Follow the plan.",
        "Bends, branches and dampers close by. Plug every hole afterwards.",
        ("velocity",),
        kind="traverse",
        element=element,
        along=along,
    )


def register_station(branch: Branch) -> Station:
    """The register of one room.

    >>> register_station(Branch("Press room, north", "Ground")).id
    'register-press-room-north-ground'
    """
    slug = re.sub(r"[^a-z0-9]+", "-", f"{branch.room} {branch.floor}".lower()).strip("-")
    return Station(
        f"register-{slug}",
        branch.room,
        "At the register: hood over all of it, or the probe in the middle of the air that comes out.",
        "Gaps at the hood's edge, and room air leaking in beside the stream.",
        (*AIR_QUANTITIES, "velocity", "airflow"),
        kind="register",
        element="registers",
        along=41,
    )


RETURN_STATIC = static_tap("return_static", "Return static", "In the return duct, before the filter.", "grille", 13)
FILTER_STATIC = static_tap("filter_static", "Static after the filter", "Between filter and blower.", "filter", 20)
COIL_OUT_STATIC = static_tap("coil_out_static", "Static after the coil", "After the coil.", "coil", 30)
SUPPLY_STATIC = static_tap("supply_static", "Supply static", "In the supply duct, just after the unit.", "registers", 32)
RETURN_TRAVERSE = traverse_plane("return_traverse", "Return traverse", "return duct", "grille", 12)
SUPPLY_TRAVERSE = traverse_plane("supply_traverse", "Supply traverse", "supply duct", "registers", 40)

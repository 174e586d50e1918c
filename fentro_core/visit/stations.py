"""Every place to read, for each kind of system: where exactly the probe goes, and what to keep away from."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

from fentro_core.visit.nameplate import Branch

StationKind = Literal["air", "register", "static", "traverse", "pipe", "electric"]

_AIR = ("dry_bulb", "relative_humidity", "wet_bulb", "dew_point")
_DUCT = (*_AIR, "velocity", "airflow")


@dataclass(frozen=True)
class Station:
    """A place to read.

    `core`: always shown under the air path; the others when they are used, or asked for. `element`: where it belongs.
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


RETURN = Station(
    "return",
    "Return",
    "In the return duct just before the filter, away from the wall; the filter's arrow points away from you.",
    "Where outdoor air or a duct leak has already joined.",
    _DUCT,
    needed=True,
    core=True,
    element="grille",
)
RETURN_GRILLE = Station(
    "return_grille",
    "Return grille",
    "In the middle of the return grille, in the room's air that is being drawn in.",
    "A register that blows at the grille, sun, and the warm side of an attic hatch.",
    (*_AIR, "velocity"),
    element="grille",
)
MIXED = Station(
    "mixed",
    "Mixed",
    "After outdoor and return air have met, before the filter or coil; several points across.",
    "A single corner: mixed air is layered.",
    (*_AIR, "velocity"),
    core=True,
    element="mixing",
)
OUTDOOR = Station(
    "outdoor",
    "Outdoor",
    "In the shade, at the air entering the condenser or the intake.",
    "Sun, exhaust air and the condenser's own discharge.",
    (*_AIR, "air_pressure"),
    core=True,
    element="outdoor",
)
AFTER_COIL = Station(
    "after_coil",
    "After the coil",
    "Half a metre after the coil, several points across: high, middle, low.",
    "The coil itself: never push a probe into it. Spray from a wet coil, and in heating the sight of hot metal.",
    (*_AIR, "velocity"),
    element="coil",
)
SUPPLY = Station(
    "supply",
    "Supply",
    "In the supply duct, well after the last coil or heat exchanger and after a bend.",
    "Sight of the heat exchanger, wet coil spray, and the coil itself: never push a probe into it.",
    _DUCT,
    needed=True,
    core=True,
    element="registers",
)
SURROUNDINGS = Station(
    "surroundings",
    "Around the duct",
    "In the air beside the return duct, an arm's length away: attic, basement or roof space.",
    "The duct's own skin, lamps, sun, and the unit's cabinet.",
    _AIR,
    element="grille",
)
CONDENSER_IN = Station(
    "condenser_in",
    "Condenser in",
    "In the shade, a hand's width before the condenser's coil, on the side the wind comes from.",
    "Warm air that the condenser blew out and draws in again.",
    _AIR,
    element="coil",
)
CONDENSER_OUT = Station(
    "condenser_out",
    "Condenser out",
    "In the air the condenser's fan blows out, a hand's width over the guard.",
    "The fan. Keep hands, hair and leads out of the guard.",
    ("dry_bulb",),
    element="coil",
)
SUCTION_LINE = Station(
    "suction_line",
    "Suction line",
    "Clamp on the larger, cold pipe near the condenser, on clean metal, wrapped against the sun.",
    "Joints, valves and the insulation. Only certified persons connect gauges; a clamp opens nothing.",
    ("pipe_temperature", "gauge_pressure"),
    kind="pipe",
    element="coil",
)
LIQUID_LINE = Station(
    "liquid_line",
    "Liquid line",
    "Clamp on the smaller, warm pipe near the condenser's valve, on clean metal, wrapped.",
    "Sun on the clamp, and a spot after the drier. Only certified persons connect gauges; a clamp opens nothing.",
    ("pipe_temperature", "gauge_pressure"),
    kind="pipe",
    element="coil",
)
OUTDOOR_UNIT = Station(
    "outdoor_unit",
    "Outdoor unit's feed",
    "At the disconnect of the outdoor unit or compressor: a clamp round one wire.",
    "Live parts. A person qualified for live work measures here.",
    ("current", "voltage", "electric_power"),
    kind="electric",
    element="coil",
)
BLOWER_FEED = Station(
    "blower_feed",
    "Blower's feed",
    "At the blower's feed: a power meter, or volts and a clamp round one wire.",
    "Live parts, and a wheel that may start. A person qualified for live work measures here.",
    ("electric_power", "voltage", "current"),
    kind="electric",
    element="blower",
)
HEATER = Station(
    "heater",
    "Electric heater",
    "At the heater's feed: volts between the wires, amps by a clamp round one of them; or a power meter.",
    "Live parts. A qualified person measures here, with the cover's lock-out rules kept.",
    ("electric_power", "voltage", "current"),
    kind="electric",
    element="coil",
)


def static_tap(station_id: str, name: str, where: str, element: str) -> Station:
    """A place for a static pressure tip."""
    return Station(
        station_id,
        name,
        f"{where} Tip facing the air, a third of the way into the duct.",
        "Bends, the blower's whirl, and anything behind the sheet: never drill towards a coil, heat exchanger or wire.",
        ("static_pressure",),
        kind="static",
        element=element,
    )


def traverse_plane(station_id: str, name: str, duct: str, element: str) -> Station:
    """A plane across a duct where velocity is read point by point."""
    return Station(
        station_id,
        name,
        f"Across a straight stretch of the {duct}: 7½ diameters after a bend, 1½ before the next. Follow the plan.",
        "Bends, branches and dampers close by. Plug every hole afterwards.",
        ("velocity",),
        kind="traverse",
        element=element,
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
        "Gaps at the hood's edge, and room air drawn in beside the stream.",
        (*_AIR, "velocity", "airflow"),
        kind="register",
        element="registers",
    )


RETURN_STATIC = static_tap("return_static", "Return static", "In the return duct, before the filter.", "grille")
FILTER_STATIC = static_tap("filter_static", "Static after the filter", "Between filter and blower.", "filter")
COIL_OUT_STATIC = static_tap("coil_out_static", "Static after the coil", "After the coil.", "coil")
SUPPLY_STATIC = static_tap("supply_static", "Supply static", "In the supply duct, just after the unit.", "registers")
RETURN_TRAVERSE = traverse_plane("return_traverse", "Return traverse", "return duct", "grille")
SUPPLY_TRAVERSE = traverse_plane("supply_traverse", "Supply traverse", "supply duct", "registers")

"""The way of the air through a system: bands, what joins and leaves, and the stations where to read."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from fentro_core.system.branch import Branch
from fentro_core.system.stations import Station

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
    """Air that joins or leaves a band at an element; or leaves it before `at` and comes back before `to` (``around``)."""

    id: str
    name: str
    direction: Literal["joins", "leaves", "around"]
    at: str
    station: str = ""
    to: str = ""


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

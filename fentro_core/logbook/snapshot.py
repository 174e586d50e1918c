"""A visit as one JSON document: site, system, instruments, entries. `work_up` needs nothing else."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal

from fentro_core.air.pressure import check_pressure, standard_pressure
from fentro_core.base import typed_json
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import Json
from fentro_core.instruments.instrument import Instrument, check_accuracy
from fentro_core.logbook.entry import Entry
from fentro_core.system.air_path import AirPath
from fentro_core.system.kinds import KINDS, air_path, read_nameplate
from fentro_core.system.nameplate import Nameplate

FORMAT = "fentro.visit"
VERSION = 1
CLIMATE_ZONES = (
    *("0A", "0B", "1A", "1B", "2A", "2B", "3A", "3B", "3C"),
    *("4A", "4B", "4C", "5A", "5B", "5C", "6A", "6B", "7", "8"),
)
"""Climate zones of the usual energy standard: number for heat and cold, letter for moist, dry, marine."""


@dataclass(frozen=True)
class Site:
    """Where the system stands. A barometer reading, when given, goes before the elevation."""

    name: str
    elevation_m: float = 0.0
    barometer_pa: float | None = None
    climate_zone: str = ""

    def pressure_pa(self) -> float:
        """Air pressure [Pa] of the site."""
        if self.barometer_pa is not None:
            check_pressure(self.barometer_pa, "barometer_pa")
            return self.barometer_pa
        return standard_pressure(self.elevation_m)


@dataclass(frozen=True)
class System:
    """An air system with its nameplate by kind; `location`: where it stands, in somebody's words."""

    name: str
    kind: str
    nameplate: Nameplate
    location: str = ""

    def air_path(self) -> AirPath:
        """The way of the air through this system."""
        return air_path(self.kind, self.nameplate)


def _read_system(given: Any) -> System:
    if not isinstance(given, dict):
        raise Refused("Give the system as an object.")
    kind = given.get("kind", "")
    plate = read_nameplate(kind, given.get("nameplate", {}))
    return System(str(given.get("name", "")), kind, plate, str(given.get("location", "")))


typed_json.register(
    System,
    _read_system,
    {
        "type": "object",
        "title": "System",
        "properties": {
            "name": {"type": "string"},
            "kind": {"enum": list(KINDS)},
            "nameplate": {"type": "object"},
            "location": {"type": "string"},
        },
        "required": ["kind", "nameplate"],
    },
    lambda system: {
        "name": system.name,
        "kind": system.kind,
        "nameplate": typed_json.write(system.nameplate),
        "location": system.location,
    },
)


@dataclass(frozen=True)
class VisitHead:
    """What a visit was for."""

    purpose: str = ""
    id: str = ""
    opened_at: str = ""
    technician: str = ""


@dataclass(frozen=True)
class Snapshot:
    """Everything `work_up` needs, and nothing derived."""

    site: Site
    system: System
    visit: VisitHead = VisitHead()
    instruments: tuple[Instrument, ...] = ()
    entries: tuple[Entry, ...] = ()
    format: Literal["fentro.visit"] = "fentro.visit"
    version: Literal[1] = 1


def read_snapshot(given: object) -> Snapshot:
    """A snapshot from JSON.

    Raises
    ------
    Refused
        With the path of the first thing that can't be used.
    """
    snapshot = typed_json.read(given, Snapshot)
    for index, instrument in enumerate(snapshot.instruments):
        try:
            check_accuracy(instrument.accuracy)
            instrument.check_dates()
        except Refused as refusal:
            raise refusal.under(f"instruments.{index}") from refusal
    check_site(snapshot.site)
    return snapshot


def read_head(given: Json, nameplate: str = "") -> Snapshot:
    """A snapshot without its entries, read once while it stays the same: as a visit goes on, only its entries become more.

    `nameplate`: the system's as JSON, where whoever asks has it written already and gives none in `given`.

    Raises
    ------
    Refused
        As `read_snapshot`.
    """
    return _head(json.dumps(given), nameplate)


def forget_heads() -> None:
    """Keep no head that was read before."""
    _head.cache_clear()


@lru_cache(maxsize=256)
def _head(text: str, nameplate: str) -> Snapshot:
    document = json.loads(text)
    if nameplate:
        document["system"]["nameplate"] = json.loads(nameplate)
    return read_snapshot(document)


def check_site(site: Site) -> None:
    """Refuse an elevation, barometer or climate zone that no site has."""
    try:
        site.pressure_pa()
        standard_pressure(site.elevation_m)
        if site.climate_zone and site.climate_zone not in CLIMATE_ZONES:
            raise Refused(f"Choose a climate zone: {', '.join(CLIMATE_ZONES)}.", "climate_zone")
    except Refused as refusal:
        raise refusal.under("site") from refusal


def snapshot_schema() -> Json:
    """JSON Schema of the snapshot."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **typed_json.schema_of(Snapshot)}

"""All kinds of system, and what follows from a kind and a nameplate. A new kind is a file and a line here."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

from fentro_core.base import typed_json
from fentro_core.base.refusal import Refused
from fentro_core.system import dwelling_ventilator, gas_furnace, heat_pump, packaged_rooftop
from fentro_core.system.air_path import AirPath
from fentro_core.system.branch import Branch
from fentro_core.system.kind import SystemKind
from fentro_core.system.nameplate import Nameplate
from fentro_core.system.stations import PART_STATIONS, register_station

KINDS: dict[str, SystemKind] = {
    kind.key: kind for kind in (packaged_rooftop.KIND, gas_furnace.KIND, heat_pump.KIND, dwelling_ventilator.KIND)
}

KIND_NAMES: dict[str, str] = {kind.key: kind.name for kind in KINDS.values()}


def read_nameplate(kind: str, given: object) -> Nameplate:
    """A nameplate from JSON, by kind of system.

    Raises
    ------
    Refused
        Unknown kind (path ``kind``) or a field that can't be right (path ``nameplate.<field>``).
    """
    if kind not in KINDS:
        raise Refused(f"Choose a kind of system: {', '.join(KINDS)}.", "kind")
    try:
        nameplate = typed_json.read(given, KINDS[kind].nameplate)
        nameplate.check()
    except Refused as refusal:
        raise refusal.under("nameplate") from refusal
    return nameplate


@lru_cache(maxsize=256)
def air_path(kind: str, nameplate: Nameplate, noted: tuple[Branch, ...] = ()) -> AirPath:
    """The way of the air through a system of this kind; `noted`: branches found on the visit.

    A branch found goes before one of the nameplate with the same room and floor. Stations: the core ones first, then the rest in
    the order of the air.

    >>> from fentro_core.system.gas_furnace import FurnaceNameplate
    >>> [element.kind for element in air_path("furnace_with_coil", FurnaceNameplate()).bands[0].elements]
    ['grille', 'filter', 'blower', 'heat_exchanger', 'coil', 'register']
    """
    plain = KINDS[kind].path(nameplate)
    found = {(branch.room, branch.floor): branch for branch in (*nameplate.all_branches, *noted)} if plain.external_taps else {}
    branches = tuple(found.values())
    registers = {station.id: station for station in map(register_station, branches)}
    added = (station for part in KINDS[kind].parts if part in PART_STATIONS for station in PART_STATIONS[part](nameplate))
    stations = sorted((*plain.stations, *registers.values(), *added), key=lambda station: (not station.core, station.along))
    return replace(plain, stations=tuple(stations), branches=branches)

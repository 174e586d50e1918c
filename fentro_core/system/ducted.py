"""The way of the air through a ducted unit: return, perhaps outdoor air, filter, what the kind has inside, supply."""

from __future__ import annotations

from itertools import pairwise

from fentro_core.system.air_path import AirPath, Band, Element, Joint
from fentro_core.system.nameplate import Nameplate
from fentro_core.system.stations import (
    COIL_OUT_STATIC,
    FILTER_STATIC,
    MIXED,
    OUTDOOR,
    RETURN,
    RETURN_STATIC,
    RETURN_TRAVERSE,
    SUPPLY,
    SUPPLY_STATIC,
    SUPPLY_TRAVERSE,
    Station,
)

COIL, BLOWER = Element("coil", "Coil", "coil"), Element("blower", "Blower", "blower")
REHEAT = Element("reheat", "Reheat coil", "heat_exchanger")

UNIT_TAPS = (COIL_OUT_STATIC, SUPPLY_STATIC)
UNIT_EXTERNAL_TAPS = ("return_static", "supply_static")
UNIT_COIL_TAPS = ("filter_static", "coil_out_static")
"""Taps of a unit that draws its air through the coil."""


def ducted_path(
    nameplate: Nameplate,
    inside: tuple[Element, ...],
    *,
    taps: tuple[Station, ...] = UNIT_TAPS,
    external_taps: tuple[str, ...] = UNIT_EXTERNAL_TAPS,
    coil_taps: tuple[str, ...] = UNIT_COIL_TAPS,
) -> AirPath:
    """The path without branches and without the stations that parts of the job add.

    Parameters
    ----------
    inside : tuple of Element
        Between filter and supply, in the order of the air.
    taps : tuple of Station
        Static taps after the filter's.
    """
    outdoor = nameplate.takes_outdoor
    elements = (
        Element("grille", "Return grille", "grille", "return"),
        *((Element("mixing", "Mixing", "mixing", "mixed"),) if outdoor else ()),
        Element("filter", "Filter", "filter"),
        *(each for element in inside for each in ((element, REHEAT) if element is COIL and nameplate.reheats else (element,))),
        Element("registers", "Supply", "register", "supply"),
    )
    after_coil = next((after.id for before, after in pairwise(elements) if before is COIL), "")
    around = (Joint("bypass", "Bypass", "around", "coil", to=after_coil),) if nameplate.bypasses and after_coil else ()
    joints = (
        (
            Joint("relief", "Relief", "leaves", "grille"),
            Joint("outdoor", "Outdoor air", "joins", "mixing", "outdoor"),
        )
        if outdoor
        else ()
    )
    core = (RETURN, OUTDOOR, MIXED, SUPPLY) if outdoor else (RETURN, SUPPLY, OUTDOOR)
    stations = (*core, RETURN_TRAVERSE, RETURN_STATIC, FILTER_STATIC, *taps, SUPPLY_TRAVERSE)
    band = Band("main", "Air through the unit", elements, (*joints, *around))
    return AirPath((band,), stations, (), () if outdoor else ("outdoor",), external_taps, coil_taps)

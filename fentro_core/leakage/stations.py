"""Where air leaking into the return is read: the grille, and the air around the duct."""

from __future__ import annotations

from fentro_core.system.nameplate import Nameplate
from fentro_core.system.stations import AIR_QUANTITIES, Station

RETURN_GRILLE = Station(
    "return_grille",
    "Return grille",
    "In the middle of the return grille, in the room's air as it goes in.",
    "A register that blows at the grille, sun, and the warm side of an attic hatch.",
    (*AIR_QUANTITIES, "velocity"),
    element="grille",
    along=10,
)
SURROUNDINGS = Station(
    "surroundings",
    "Around the duct",
    "In the air beside the return duct, an arm's length away: attic, basement or roof space.",
    "The duct's own skin, lamps, sun, and the unit's cabinet.",
    AIR_QUANTITIES,
    element="grille",
    along=11,
)


def stations(nameplate: Nameplate) -> tuple[Station, ...]:
    """On every system with ducts."""
    return RETURN_GRILLE, SURROUNDINGS

"""Where electric heat is read."""

from __future__ import annotations

from fentro_core.system.nameplate import Nameplate
from fentro_core.system.stations import Station

HEATER = Station(
    "heater",
    "Electric heater",
    "At the heater's feed: volts between the wires, amps by a clamp round one of them; or a power meter.",
    "Live parts. A qualified person measures here, with the cover's lock-out rules kept.",
    ("electric_power", "voltage", "current"),
    kind="electric",
    element="coil",
    along=61,
)


def stations(nameplate: Nameplate) -> tuple[Station, ...]:
    """The electric heater of a heat pump."""
    return (HEATER,) if nameplate.has_electric_heater else ()

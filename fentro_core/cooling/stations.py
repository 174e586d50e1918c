"""Where cooling is read besides return and supply: just after the coil, and the blower's feed."""

from __future__ import annotations

from fentro_core.system.nameplate import Nameplate
from fentro_core.system.stations import AIR_QUANTITIES, Station

AFTER_COIL = Station(
    "after_coil",
    "After the coil",
    "Half a metre after the coil, several points across: high, middle, low.",
    "The coil itself: never push a probe into it. Spray from a wet coil, and in heating the sight of hot metal.",
    (*AIR_QUANTITIES, "velocity"),
    element="coil",
    along=31,
)
BLOWER_FEED = Station(
    "blower_feed",
    "Blower's feed",
    "At the blower's feed: a power meter, or volts and a clamp round one wire.",
    "Live parts, and a wheel that may start. A person qualified for live work measures here.",
    ("electric_power", "voltage", "current"),
    kind="electric",
    element="blower",
    along=60,
)


def stations(nameplate: Nameplate) -> tuple[Station, ...]:
    """After the coil where there is one; the blower's feed."""
    return (AFTER_COIL, BLOWER_FEED) if nameplate.has_coil else (BLOWER_FEED,)

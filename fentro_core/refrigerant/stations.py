"""Where the refrigerant's side is read: the condenser's air, both pipes, the outdoor unit's feed."""

from __future__ import annotations

from fentro_core.system.nameplate import Nameplate
from fentro_core.system.stations import AIR_QUANTITIES, Station

CONDENSER_IN = Station(
    "condenser_in",
    "Condenser in",
    "In the shade, a hand's width before the condenser's coil, on the side the wind comes from.",
    "Warm air that the condenser blew out and draws in again.",
    AIR_QUANTITIES,
    element="coil",
    along=50,
)
CONDENSER_OUT = Station(
    "condenser_out",
    "Condenser out",
    "In the air the condenser's fan blows out, a hand's width over the guard.",
    "The fan. Keep hands, hair and leads out of the guard.",
    ("dry_bulb",),
    element="coil",
    along=51,
)
SUCTION_LINE = Station(
    "suction_line",
    "Suction line",
    "Clamp on the larger, cold pipe near the condenser, on clean metal, wrapped against the sun.",
    "Joints, valves and the insulation. Only certified persons connect gauges; a clamp opens nothing.",
    ("pipe_temperature", "gauge_pressure"),
    kind="pipe",
    element="coil",
    along=52,
)
LIQUID_LINE = Station(
    "liquid_line",
    "Liquid line",
    "Clamp on the smaller, warm pipe near the condenser's valve, on clean metal, wrapped.",
    "Sun on the clamp, and a spot after the drier. Only certified persons connect gauges; a clamp opens nothing.",
    ("pipe_temperature", "gauge_pressure"),
    kind="pipe",
    element="coil",
    along=53,
)
OUTDOOR_UNIT = Station(
    "outdoor_unit",
    "Outdoor unit's feed",
    "At the disconnect of the outdoor unit or compressor: a clamp round one wire.",
    "Live parts. A person qualified for live work measures here.",
    ("current", "voltage", "electric_power"),
    kind="electric",
    element="coil",
    along=54,
)


def stations(nameplate: Nameplate) -> tuple[Station, ...]:
    """All of them where there is a coil."""
    return (CONDENSER_IN, CONDENSER_OUT, SUCTION_LINE, LIQUID_LINE, OUTDOOR_UNIT) if nameplate.has_coil else ()

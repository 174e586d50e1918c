"""The heat of the unit's own blower, where it stands after the coil."""

from __future__ import annotations

from fentro_core.base.measured import Measured, propagate
from fentro_core.phase.context import PartContext
from fentro_core.system.nameplate import CoolingNameplate

Context = PartContext[CoolingNameplate]


def fan_heat(context: Context) -> Measured | None:
    """Heat of a blower after the coil [W], when its power was read; a blower before the coil only warms what the coil sees."""
    if not context.nameplate.blower_after_coil:
        return None
    power = context.readings.average("blower_feed", "electric_power")
    if power is not None:
        return power
    volts, amps = (context.readings.average("blower_feed", each) for each in ("voltage", "current"))
    if volts is None or amps is None:
        return None
    return propagate(lambda volts, amps: {"power": volts * amps}, {"volts": volts, "amps": amps})["power"]

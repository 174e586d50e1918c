"""Heat that is known to be given to the air: by the nameplate's gas input, or by what an electric heater draws."""

from __future__ import annotations

from fentro_core.airflow.airflow import GAS_HEAT_SHARE, USUAL_GAS_EFFICIENCY
from fentro_core.base.measured import Measured, propagate
from fentro_core.base.sentence import Sentence
from fentro_core.base.working import Working
from fentro_core.phase.known import Known, Missing
from fentro_core.phase.readings import Readings
from fentro_core.system.nameplate import CoolingNameplate

GAS_SOURCE = "gas heat"


def heat_input(nameplate: CoolingNameplate, readings: Readings) -> Known | Missing:
    """Heat given to the air [W], or what is missing to know it."""
    if nameplate.burns_gas:
        return _gas(nameplate)
    power = readings.average("heater", "electric_power")
    if power is not None:
        return Known(power, Working(), Sentence.of("Electric heat by the power meter."))
    volts, amps = readings.average("heater", "voltage"), readings.average("heater", "current")
    if volts is None or amps is None:
        return Missing(("The electric heater's power, or volts and amps",))
    heat = propagate(lambda volts, amps: {"heat": volts * amps}, {"volts": volts, "amps": amps})["heat"]
    return Known(heat, Working(), Sentence.of("Electric heat: volts times amps."))


def _gas(nameplate: CoolingNameplate) -> Known | Missing:
    if nameplate.gas_input_w is None:
        return Missing(("The plate's gas input",))
    heat = nameplate.gas_input_w * (nameplate.gas_efficiency or USUAL_GAS_EFFICIENCY)
    words = "its efficiency" if nameplate.gas_efficiency else "an ordinary efficiency, 80 %"
    remark = Sentence.of(f"Gas input of the plate times {words}; clock the meter to know better.")
    return Known(Measured(heat, {GAS_SOURCE: GAS_HEAT_SHARE * heat}), Working(), remark)

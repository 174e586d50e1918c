"""Heat that is known to be given to the air: by the nameplate's gas input, or by what an electric heater draws."""

from __future__ import annotations

from fentro_core.air.pressure import ELEVATION_RANGE_M, check_elevation, elevation_of
from fentro_core.airflow.airflow import GAS_HEAT_SHARE, USUAL_GAS_EFFICIENCY
from fentro_core.base.calculation import calculation
from fentro_core.base.limits import POWER_W, within
from fentro_core.base.measured import Measured, propagate
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.units import FOOT_M
from fentro_core.base.working import SILENT, Working
from fentro_core.phase.context import PartContext
from fentro_core.phase.known import Known, Missing
from fentro_core.phase.readings import Readings
from fentro_core.system.nameplate import CoolingNameplate

GAS_SOURCE = "gas heat"
DERATE_SOURCE = "gas input at altitude"

USUAL_DERATE_SHARE = 0.04
DERATE_STEP_M = 1000 * FOOT_M
DERATED_FROM_M = 2000 * FOOT_M
MOST_DERATE_SHARE = 0.1
"""4 % for each 1,000 ft, from 2,000 ft on, where the plate has no rule of its own."""


def heat_input(context: PartContext[CoolingNameplate]) -> Known | Missing:
    """All the heat given to the air [W], or what is missing to know it.

    What a burner gives on a lower stage is not on its plate; what a compressor gives beside the electric heater nobody reads.
    """
    if context.nameplate.burns_gas and context.lower_stage:
        return Missing(("The burner on its full stage",))
    if context.nameplate.burns_gas:
        return _gas(context.nameplate, context.readings.pressure_pa)
    if context.heater_beside:
        return Missing(("The electric heater alone, with the compressor off",))
    return heater_power(context.readings)


def heater_power(readings: Readings) -> Known | Missing:
    """What the electric heater draws [W]: by the power meter, else volts times amps."""
    power = readings.average("heater", "electric_power")
    if power is not None:
        return Known(power, Working(), Sentence.of("Electric heat by the power meter."))
    volts, amps = readings.average("heater", "voltage"), readings.average("heater", "current")
    if volts is None or amps is None:
        return Missing(("The electric heater's power, or volts and amps",))
    heat = propagate(lambda volts, amps: {"heat": volts * amps}, {"volts": volts, "amps": amps})["heat"]
    return Known(heat, Working(), Sentence.of("Electric heat: volts times amps."))


@calculation("airflow.gas_input", "Gas input of a furnace at the altitude of its site", result="gas_input_w")
def gas_input(
    plate_input_w: float,
    elevation_m: float,
    derated: bool = True,
    derate_share: float = USUAL_DERATE_SHARE,
    work: Working = SILENT,
) -> float:
    """Gas input [W] of a furnace whose orifices were changed for its altitude, or were not.

    For judging rise and flow only: local code and licensed practice decide what is done to a burner.

    Parameters
    ----------
    plate_input_w : float
        As the plate says, at sea level [W]; above zero.
    elevation_m : float
        Of the site [m], -430 to 5,000.
    derated : bool
        Whether its input was lowered for the altitude.
    derate_share : float
        What the plate takes off for each 305 m (1,000 ft) above sea level, 0 to 0.1; 0.04 where it says nothing.

    Raises
    ------
    Refused
        An input of zero or below, an elevation no site has, a rule that takes everything.

    References
    ----------
    The usual rule of fuel gas codes: 4 % for each 1,000 ft above sea level, for sites from 2,000 ft on.

    >>> round(gas_input(26_376.0, 1_655.0)), round(gas_input(26_376.0, 420.0)), round(gas_input(26_376.0, 1_655.0, derated=False))
    (20647, 26376, 26376)
    """
    if not plate_input_w > 0:
        raise Refused("The gas input must be above zero.", "plate_input_w")
    within(plate_input_w, POWER_W, "plate_input_w", "power")
    check_elevation(elevation_m)
    if not 0 <= derate_share <= MOST_DERATE_SHARE:
        raise Refused(
            "A nameplate takes off between 0 and {most} for each 305 m.", "derate_share", most=(MOST_DERATE_SHARE, "share")
        )
    if not derated or elevation_m < DERATED_FROM_M:
        remark = "Not derated: as on the nameplate." if elevation_m >= DERATED_FROM_M else "Below 610 m nothing is taken off."
        return work.step(
            "gas input here", "Q_in", "Q_plate", plate_input_w, "power", remark=remark, Q_plate=(plate_input_w, "power")
        )
    here = max(plate_input_w * (1 - derate_share * elevation_m / DERATE_STEP_M), 0.0)
    return work.step(
        "gas input here",
        "Q_in",
        "Q_plate * (1 - d / 100 * z / 305)",
        here,
        "power",
        us="Q_plate * (1 - d / 100 * z / 1000)",
        source="usual rule of fuel gas codes, or the nameplate's",
        Q_plate=(plate_input_w, "power"),
        d=(derate_share, "share"),
        z=(elevation_m, "length"),
    )


def _gas(nameplate: CoolingNameplate, pressure_pa: float) -> Known | Missing:
    plate = nameplate.gas_input_w
    if plate is None:
        return Missing(("The nameplate's gas input",))
    elevation = min(max(elevation_of(pressure_pa), ELEVATION_RANGE_M[0]), ELEVATION_RANGE_M[1])
    share = nameplate.gas_derate_share if nameplate.gas_derate_share is not None else USUAL_DERATE_SHARE
    efficiency = nameplate.gas_efficiency or USUAL_GAS_EFFICIENCY
    work = Working()
    derated = nameplate.gas_derated
    entered = gas_input(plate, elevation, derated is not False, share, work)
    doubts = {GAS_SOURCE: GAS_HEAT_SHARE * entered * efficiency}
    words = "its efficiency" if nameplate.gas_efficiency else "an ordinary efficiency, 80 %"
    says = f"Gas input of the nameplate times {words}; clock the meter to know better."
    if derated is None and entered < plate:
        apart = (plate - entered) / 2
        entered += apart
        reach, own = apart * efficiency, doubts[GAS_SOURCE]
        doubts[DERATE_SOURCE] = (reach * (reach + 2 * own)) ** 0.5  # it is one end or the other: both with their own half-width
        says = (
            f"Halfway between the nameplate's gas input and the input lowered for this altitude, times {words}: ask which it is."
        )
        work.step(
            "halfway to the nameplate's input",
            "Q_in",
            "(Q_here + Q_plate) / 2",
            entered,
            "power",
            remark="Whether the orifices were changed for this altitude is not on the nameplate here.",
            Q_here=(entered - apart, "power"),
            Q_plate=(plate, "power"),
        )
    elif entered < plate:
        says = f"Gas input lowered for this altitude, times {words}; clock the meter to know better."
    heat = work.step(
        "heat to the air",
        "Q",
        "Q_in * e / 100",
        entered * efficiency,
        "power",
        Q_in=(entered, "power"),
        e=(efficiency, "share"),
    )
    return Known(Measured(heat, doubts), work, Sentence.of(says))

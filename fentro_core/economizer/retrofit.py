"""A changeover added to a unit that has none: a two-stage thermostat, a relay, two 24 V dampers."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import WEATHER_C, within
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

Call = Literal["none", "first", "second", "heating"]


@dataclass(frozen=True)
class Wire:
    """One wire of the terminal list."""

    start: str
    end: str
    wire: str
    purpose: str


WIRES: tuple[Wire, ...] = (
    Wire("Transformer, 24 V hot", "Thermostat R", "18 gauge", "Power for every call"),
    Wire("Transformer, common", "Relays, dampers and contactor, common side", "18 gauge", "Return of every coil"),
    Wire(
        "Thermostat Y1", "Heating interlock relay, normally closed contact, in", "18 gauge", "First stage of cooling: outdoor air"
    ),
    Wire(
        "Heating interlock relay, normally closed contact, out",
        "Outdoor thermostat, common",
        "18 gauge",
        "No outdoor air while heating",
    ),
    Wire(
        "Outdoor thermostat, closes below its limit",
        "Changeover relay, coil",
        "18 gauge",
        "Outdoor air only when it is cool enough",
    ),
    Wire(
        "Outdoor thermostat, closes above its limit",
        "Compressor contactor, coil",
        "18 gauge",
        "Too warm outside: first stage runs the compressor",
    ),
    Wire("Changeover relay, normally open contact", "Outdoor damper actuator, 24 V", "18 gauge", "Opens against its spring"),
    Wire("Changeover relay, normally open contact", "Return damper actuator, 24 V", "18 gauge", "Closes against its spring"),
    Wire("Thermostat Y2", "Compressor contactor, coil", "18 gauge", "Second stage of cooling: compressor"),
    Wire("Thermostat G", "Fan relay", "18 gauge", "Fan with every call"),
    Wire(
        "Thermostat W",
        "Heating control, and heating interlock relay, coil",
        "18 gauge",
        "Heating; forces the outdoor damper closed",
    ),
)


@dataclass(frozen=True)
class Turned:
    """How a part is mounted."""

    part: str
    how: str


ORIENTATION: tuple[Turned, ...] = (
    Turned("Outdoor damper", "Normally closed: the spring shuts it, power opens it."),
    Turned("Return damper", "Normally open: the spring opens it, power shuts it."),
    Turned("Why", "Loss of power gives ordinary recirculation."),
)


@dataclass(frozen=True)
class RetrofitState:
    """What the wiring does: dampers and compressor; margins [K] under the limit and under the setpoint."""

    outdoor_open: bool
    compressor: bool
    margin_limit_k: float
    margin_setpoint_k: float
    reason: str


@calculation("economizer.retrofit", "What a two-stage changeover does at a call")
def retrofit(
    call: Call, outdoor_c: float, setpoint_c: float, limit_c: float = 18.0, margin_k: float = 4.0, work: Working = SILENT
) -> RetrofitState:
    """Stage one opens the outdoor damper when the outdoor air is below a limit *and* below the setpoint by a margin.

    Parameters
    ----------
    call : str
        What the thermostat asks for: nothing, first or second stage, heat.
    outdoor_c, setpoint_c : float
        Outdoor air and cooling setpoint [°C].
    limit_c : float
        Outdoor air opens the damper below this [°C].
    margin_k : float
        And only this far below the setpoint [K], zero or more.

    Raises
    ------
    Refused
        A margin below zero.

    References
    ----------
    The sequence is ours; the maker's instructions of the actual control rule.

    >>> retrofit("first", 14.0, 24.0).outdoor_open, retrofit("first", 21.0, 24.0).compressor
    (True, True)
    """
    if not margin_k >= 0:
        raise Refused("The margin can't be below zero.", "margin_k")
    for name, celsius in (("outdoor_c", outdoor_c), ("setpoint_c", setpoint_c), ("limit_c", limit_c)):
        within(celsius, WEATHER_C, name, "temperature")
    under_limit = work.step(
        "outdoor under its limit",
        "dT_1",
        "T_limit - T_o",
        limit_c - outdoor_c,
        "temperature_difference",
        T_limit=(limit_c, "temperature"),
        T_o=(outdoor_c, "temperature"),
    )
    under_setpoint = work.step(
        "outdoor under setpoint less margin",
        "dT_2",
        "T_set - dT_margin - T_o",
        setpoint_c - margin_k - outdoor_c,
        "temperature_difference",
        T_set=(setpoint_c, "temperature"),
        dT_margin=(margin_k, "temperature_difference"),
        T_o=(outdoor_c, "temperature"),
    )
    cool = under_limit >= 0 and under_setpoint >= 0
    if call in ("none", "heating"):
        reason = "Heating forces the outdoor damper closed." if call == "heating" else "No call: recirculation."
        return RetrofitState(False, False, under_limit, under_setpoint, reason)
    if cool:
        second = call == "second"
        reason = "Outdoor air first, and the compressor on stage two." if second else "Outdoor air alone."
        return RetrofitState(True, second, under_limit, under_setpoint, reason)
    return RetrofitState(False, True, under_limit, under_setpoint, "Too warm outside: the compressor, with dampers shut.")

"""A changeover added to a unit that has none: a two-stage thermostat, a relay, two 24 V dampers; and where the intake may be."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import WEATHER_C, within
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

LEAST_DISTANCE_M = 10 * 0.3048
"""10 ft from exhausts, flues and plumbing vents; more from cooking exhaust: local code rules."""

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

PLACING: tuple[str, ...] = (
    "Sensor in the shade, under an eave, out of any exhaust and off warm walls.",
    "Intake screened, above snow and leaves, out of standing water.",
    "Kitchen: make-up air for a hood is a separate calculation, and never assumed covered by this.",
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


@dataclass(frozen=True)
class IntakeDistances:
    """How far the intake is from what it must not draw in [m]; nothing: there is none."""

    exhaust_m: float | None = None
    flue_m: float | None = None
    plumbing_vent_m: float | None = None
    cooking_m: float | None = None


@dataclass(frozen=True)
class IntakeFlag:
    """Something too near, or to be looked up."""

    key: str
    text: str
    off: bool


_NEAR = {"exhaust_m": "An exhaust", "flue_m": "A flue", "plumbing_vent_m": "A plumbing vent", "cooking_m": "A cooking exhaust"}


@dataclass(frozen=True)
class Intake:
    """Flags of an intake's placing; `least_m`: what each must keep at least [m]."""

    flags: tuple[IntakeFlag, ...]
    least_m: float


@calculation("economizer.intake", "Whether an outdoor-air intake keeps its distance")
def intake(distances: IntakeDistances, work: Working = SILENT) -> Intake:
    """At least 10 ft from exhausts, flues and plumbing vents; cooking exhaust needs more: local code says how much.

    Parameters
    ----------
    distances : IntakeDistances
        From the intake to each kind of outlet [m], zero or more; none where it was not measured.

    Raises
    ------
    Refused
        A distance below zero.

    References
    ----------
    10 ft (3.05 m), as usual in mechanical codes. Local code rules.

    >>> [flag.key for flag in intake(IntakeDistances(flue_m=2.0)).flags]
    ['flue_m']
    """
    flags = []
    for key, name in _NEAR.items():
        value = getattr(distances, key)
        if value is None:
            continue
        if not value >= 0:
            raise Refused("A distance can't be below zero.", f"distances.{key}")
        if value < LEAST_DISTANCE_M:
            flags.append(IntakeFlag(key, f"{name} stands too near: move the intake, or the other.", True))
        elif key == "cooking_m":
            flags.append(IntakeFlag(key, "Cooking exhaust needs more distance than others: look up the local code.", False))
    least = work.step(
        "distance to keep",
        "L",
        "10 * f",
        LEAST_DISTANCE_M,
        "door",
        us="L_10",
        source="usual mechanical codes; local code rules",
        f=(0.3048, "door"),
        L_10=(LEAST_DISTANCE_M, "door"),
    )
    return Intake(tuple(flags), least)

"""Temperature sensors by resistance: curves both ways, and whether one is open, short, drifting or good."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from math import log, sqrt
from typing import Literal

from fentro_core.base.calculation import calculation
from fentro_core.base.limits import within
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

Curve = Literal["10k type II", "10k type III", "1k platinum"]

CURVE_NAMES: dict[Curve, str] = {
    "10k type II": "10 kΩ type II",
    "10k type III": "10 kΩ type III",
    "1k platinum": "1 kΩ platinum",
}
State = Literal["open", "short", "not_this_curve", "drift", "good"]

POINTS_OHM: dict[str, tuple[float, float, float]] = {
    "10k type II": (32650.0, 10000.0, 3602.0),
    "10k type III": (29490.0, 10000.0, 3893.0),
}
"""Resistance at 0, 25 and 50 °C of the two common thermistors."""

PLATINUM = (1000.0, 3.9083e-3, -5.775e-7, -4.183e-12)
"""R0 and the coefficients of IEC 60751."""

RANGE_C = (-40.0, 90.0)
OPEN_OHM, SHORT_OHM = 1e6, 100.0
"""No sensor of these curves shows as much or as little between -50 and 120 °C: its wire is off, or two wires touch."""

BEYOND_K = 30.0
"""So far off the curve's ends, or off the reference, it is another sensor than the curve says, not a drifting one. Ours."""

GOOD_WITHIN_K = 1.0
"""Against a reference probe, within this and the probe's own half-width a sensor is good. Ours."""


@cache
def _steinhart(curve: str) -> tuple[float, float, float]:
    """A, B, C of ``1/T = A + B ln R + C (ln R)^3`` through the three points."""
    logs = [log(ohm) for ohm in POINTS_OHM[curve]]
    inverse = [1 / (celsius + 273.15) for celsius in (0.0, 25.0, 50.0)]
    g2 = (inverse[1] - inverse[0]) / (logs[1] - logs[0])
    g3 = (inverse[2] - inverse[0]) / (logs[2] - logs[0])
    c = (g3 - g2) / (logs[2] - logs[1]) / sum(logs)
    b = g2 - c * (logs[0] ** 2 + logs[0] * logs[1] + logs[1] ** 2)
    return inverse[0] - (b + logs[0] ** 2 * c) * logs[0], b, c


def resistance_of(curve: Curve, celsius: float) -> float:
    """Resistance [ohm] at a temperature, by the curve.

    >>> round(resistance_of("10k type II", 12.0), 1), round(resistance_of("1k platinum", 30.0), 2)
    (18091.3, 1116.73)
    """
    low, high = RANGE_C
    if not low <= celsius <= high:
        raise Refused(
            "The curve goes from {low} to {high}.", "temperature_c", low=(low, "temperature"), high=(high, "temperature")
        )
    if curve == "1k platinum":
        return _platinum(celsius)
    lower, upper = 1.0, 2e6
    for _ in range(70):
        middle = sqrt(lower * upper)
        lower, upper = (middle, upper) if _by_steinhart(curve, middle) > celsius else (lower, middle)
    return sqrt(lower * upper)


@calculation("economizer.sensor_resistance", "What resistance a sensor should have at a temperature", result="resistance_ohm")
def sensor_resistance(curve: Curve, temperature_c: float, work: Working = SILENT) -> float:
    """Resistance [ohm] of a good sensor at a temperature [°C], by its curve.

    Parameters
    ----------
    curve : str
        10k type II, 10k type III or 1k platinum.
    temperature_c : float
        At the sensor [°C], -40 to 90.

    Raises
    ------
    Refused
        A temperature at which no such sensor is used.

    References
    ----------
    As `economizer.sensor_curve`.

    >>> round(sensor_resistance("10k type II", 25.0), 1)
    10000.0
    """
    return work.step(
        f"resistance of a {curve} sensor",
        "R",
        "curve(T)",
        resistance_of(curve, temperature_c),
        "resistance",
        source="IEC 60751" if curve == "1k platinum" else "Steinhart and Hart through the maker's three points",
        T=(temperature_c, "temperature"),
    )


def _platinum(celsius: float) -> float:
    r0, a, b, c = PLATINUM
    below = c * (celsius - 100) * celsius**3 if celsius < 0 else 0.0
    return r0 * (1 + a * celsius + b * celsius * celsius + below)


def _by_steinhart(curve: str, ohm: float) -> float:
    a, b, c = _steinhart(curve)
    logged = log(ohm)
    return 1 / (a + b * logged + c * logged**3) - 273.15


@dataclass(frozen=True)
class SensorReading:
    """What a resistance says: its temperature and error against a reference, and the state.

    No temperature where the state is open, short or not this curve: the curve says nothing then. `other_curve`: one that would
    make this a good sensor, where this curve does not.
    """

    state: State
    temperature_c: float | None = None
    error_k: float | None = None
    other_curve: Curve | None = None


@calculation("economizer.sensor_curve", "What a sensor's resistance says against a reference probe")
def sensor_state(
    curve: Curve, resistance_ohm: float, reference_c: float, reference_plus_minus_k: float = 0.3, work: Working = SILENT
) -> SensorReading:
    """Temperature by the curve, its error against a reference probe at the same place; open, short, another curve, drift, good.

    Parameters
    ----------
    curve : str
        10k type II, 10k type III or 1k platinum.
    resistance_ohm : float
        As read at the connector, unplugged [ohm], zero or more.
    reference_c : float
        A probe beside the sensor [°C], -40 to 90.
    reference_plus_minus_k : float
        That probe's 95 % half-width [K].

    Raises
    ------
    Refused
        A resistance below zero, a reference that no such sensor meets.

    References
    ----------
    Steinhart and Hart, Deep-Sea Research 15 (1968), through the resistances at 0, 25 and 50 °C; IEC 60751 for platinum.

    >>> sensor_state("10k type III", 6753.7, 35.0).state, sensor_state("10k type II", 5e6, 20.0).state
    ('good', 'open')
    """
    if not resistance_ohm >= 0:
        raise Refused("A resistance can't be below zero.", "resistance_ohm")
    low, high = RANGE_C
    if not low <= reference_c <= high:
        raise Refused("The curve goes from {low} to {high}.", "reference_c", low=(low, "temperature"), high=(high, "temperature"))
    text = "A probe's half-width lies between zero and {high}."
    within(reference_plus_minus_k, (0.0, 10.0), "reference_plus_minus_k", "temperature_difference", text)
    if resistance_ohm >= OPEN_OHM or resistance_ohm <= SHORT_OHM:
        return _no_temperature(work, curve, resistance_ohm, "open" if resistance_ohm >= OPEN_OHM else "short")
    near = GOOD_WITHIN_K + reference_plus_minus_k
    celsius = _temperature_of(curve, resistance_ohm)
    errors = {each: abs(_temperature_of(each, resistance_ohm) - reference_c) for each in CURVE_NAMES if each != curve}
    nearest = min(errors, key=lambda each: errors[each])
    good = abs(celsius - reference_c) <= near
    other = None if good or errors[nearest] > near else nearest
    if not low - BEYOND_K <= celsius <= high + BEYOND_K or (other and abs(celsius - reference_c) > BEYOND_K):
        return _no_temperature(work, curve, resistance_ohm, "not_this_curve", other)
    return _said(work, curve, resistance_ohm, reference_c, celsius, "good" if good else "drift", other)


def _temperature_of(curve: Curve, ohm: float) -> float:
    return _platinum_temperature(ohm) if curve == "1k platinum" else _by_steinhart(curve, ohm)


def _no_temperature(work: Working, curve: Curve, ohm: float, state: State, other: Curve | None = None) -> SensorReading:
    limit = SHORT_OHM if state == "short" else OPEN_OHM
    work.step(
        f"resistance of a {curve} sensor, no temperature of its curve",
        "R",
        "R",
        ohm,
        "resistance",
        source="an open circuit shows a megohm or more, a short one less than a hundred ohm",
        R=(ohm, "resistance"),
        R_limit=(limit, "resistance"),
    )
    return SensorReading(state, other_curve=other)


def _platinum_temperature(ohm: float) -> float:
    low, high = -230.0, 850.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if _platinum(middle) < ohm else (low, middle)
    return (low + high) / 2


def _said(
    work: Working, curve: Curve, ohm: float, reference_c: float, celsius: float, state: State, other: Curve | None
) -> SensorReading:
    work.step(
        f"temperature of a {curve} sensor",
        "T",
        "curve(R)",
        celsius,
        "temperature",
        source="IEC 60751" if curve == "1k platinum" else "Steinhart and Hart through the maker's three points",
        R=(ohm, "resistance"),
    )
    error = work.step(
        "error against the reference",
        "dT",
        "T - T_ref",
        celsius - reference_c,
        "temperature_difference",
        T=(celsius, "temperature"),
        T_ref=(reference_c, "temperature"),
    )
    return SensorReading(state, celsius, error, other)


def error_of_resistance(curve: Curve, celsius: float, extra_ohm: float) -> float:
    """The temperature error [K] that a bad connection of so many ohms in series brings.

    >>> round(error_of_resistance("1k platinum", 20.0, 4.0), 2)
    1.03
    """
    return _temperature_of(curve, resistance_of(curve, celsius) + extra_ohm) - celsius

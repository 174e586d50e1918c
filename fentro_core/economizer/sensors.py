"""Temperature sensors by resistance: curves both ways, and whether one is open, short, drifting or good."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from math import log, sqrt
from typing import Literal

from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

Curve = Literal["10k type II", "10k type III", "1k platinum"]

CURVE_NAMES: dict[Curve, str] = {
    "10k type II": "10 kΩ type II",
    "10k type III": "10 kΩ type III",
    "1k platinum": "1 kΩ platinum",
}
State = Literal["open", "short", "drift", "good"]

POINTS_OHM: dict[str, tuple[float, float, float]] = {
    "10k type II": (32650.0, 10000.0, 3602.0),
    "10k type III": (29490.0, 10000.0, 3893.0),
}
"""Resistance at 0, 25 and 50 °C of the two common thermistors."""

PLATINUM = (1000.0, 3.9083e-3, -5.775e-7, -4.183e-12)
"""R0 and the coefficients of IEC 60751."""

RANGE_C = (-40.0, 90.0)
OPEN_FACTOR, SHORT_FACTOR = 3.0, 3.0
"""A resistance this many times beyond the curve's ends is no temperature: open, or short."""

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
    """What a resistance says: its temperature, the error against a reference, and the state."""

    temperature_c: float
    error_k: float
    state: State


@calculation("economizer.sensor_curve", "What a sensor's resistance says against a reference probe")
def sensor_state(
    curve: Curve, resistance_ohm: float, reference_c: float, reference_plus_minus_k: float = 0.3, work: Working = SILENT
) -> SensorReading:
    """Temperature by the curve, its error against a reference probe at the same place, and open, short, drift or good.

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
        A resistance below zero.

    References
    ----------
    Steinhart and Hart, Deep-Sea Research 15 (1968), through the resistances at 0, 25 and 50 °C; IEC 60751 for platinum.

    >>> sensor_state("10k type III", 6753.7, 35.0).state, sensor_state("10k type II", 5e6, 20.0).state
    ('good', 'open')
    """
    if not resistance_ohm >= 0:
        raise Refused("A resistance can't be below zero.", "resistance_ohm")
    ends = [resistance_of(curve, end) for end in RANGE_C]
    if resistance_ohm > max(ends) * OPEN_FACTOR:
        return _said(work, curve, resistance_ohm, reference_c, RANGE_C[0], "open")
    if resistance_ohm < min(ends) / SHORT_FACTOR:
        return _said(work, curve, resistance_ohm, reference_c, RANGE_C[1], "short")
    celsius = _platinum_temperature(resistance_ohm) if curve == "1k platinum" else _by_steinhart(curve, resistance_ohm)
    state: State = "good" if abs(celsius - reference_c) <= GOOD_WITHIN_K + reference_plus_minus_k else "drift"
    return _said(work, curve, resistance_ohm, reference_c, celsius, state)


def _platinum_temperature(ohm: float) -> float:
    low, high = -200.0, 400.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if _platinum(middle) < ohm else (low, middle)
    return (low + high) / 2


def _said(work: Working, curve: str, ohm: float, reference_c: float, celsius: float, state: State) -> SensorReading:
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
    return SensorReading(celsius, error, state)


def error_of_resistance(curve: Curve, celsius: float, extra_ohm: float) -> float:
    """The temperature error [K] that a bad connection of so many ohms in series brings.

    >>> round(error_of_resistance("1k platinum", 20.0, 4.0), 2)
    1.03
    """
    ohm = resistance_of(curve, celsius) + extra_ohm
    return (_platinum_temperature(ohm) if curve == "1k platinum" else _by_steinhart(curve, ohm)) - celsius

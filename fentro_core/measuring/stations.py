"""Several points of one station become one state, with the spread in its half-width."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import sqrt
from statistics import stdev

from fentro_core.air.state import AirState
from fentro_core.measured import Measured, mean, propagate, weighted_sum
from fentro_core.refusal import Refused

SPREAD_ASKS_FOR_MORE_K = 1.5
"""A spread of dry bulbs over this asks for more points: air in a duct does not mix by itself."""

_MEASURE = {"relative_humidity": "relative_humidity", "wet_bulb": "wet_bulb_c", "dew_point": "dew_point_c"}


@dataclass(frozen=True)
class Point:
    """Readings at one place of the probe: dry bulb and at most one humidity, by quantity."""

    number: int
    readings: Mapping[str, Measured]


@dataclass(frozen=True)
class StationAir:
    """The air at a station: measured dry bulb; with humidity known also the state.

    `properties` holds relative_humidity, wet_bulb_c, dew_point_c, humidity_ratio, enthalpy_j_per_kg,
    specific_volume_m3_per_kg, each with half-width; empty without humidity.
    """

    dry_bulb: Measured
    humidity_ratio: Measured | None
    spread_k: float
    points: int
    properties: Mapping[str, Measured]


def station_air(name: str, points: list[Point], pressure_pa: float) -> StationAir | None:
    """Average the points of a station: dry bulb and humidity ratio, each point counting equally.

    The scatter of the points enters the average's half-width as ``2 s / sqrt(n)``. A point without humidity counts
    for dry bulb only. None when there is no dry bulb at all.

    Raises
    ------
    Refused
        A point's pair of readings is impossible; the path names its humidity quantity.
    """
    dry_bulbs = [point.readings["dry_bulb"] for point in points if "dry_bulb" in point.readings]
    if not dry_bulbs:
        return None
    dry_bulb = _with_scatter(mean(dry_bulbs), [given.value for given in dry_bulbs], f"{name}:spread of dry bulb")
    ratios = [ratio for ratio in (_humidity_ratio(point, pressure_pa) for point in points) if ratio]
    spread = max(given.value for given in dry_bulbs) - min(given.value for given in dry_bulbs)
    if not ratios:
        return StationAir(dry_bulb, None, spread, len(dry_bulbs), {})
    ratio = _with_scatter(mean(ratios), [given.value for given in ratios], f"{name}:spread of humidity")
    properties = propagate(
        lambda dry_bulb_c, humidity_ratio: _properties(dry_bulb_c, humidity_ratio, pressure_pa),
        {"dry_bulb_c": dry_bulb, "humidity_ratio": ratio},
    )
    return StationAir(dry_bulb, ratio, spread, len(dry_bulbs), properties)


def _humidity_ratio(point: Point, pressure_pa: float) -> Measured | None:
    if "dry_bulb" not in point.readings:
        return None
    for quantity, measure in _MEASURE.items():
        if quantity in point.readings:
            try:
                return propagate(
                    lambda dry, wet, measure=measure: {
                        "w": AirState.from_measures(dry, pressure_pa, **{measure: wet}).humidity_ratio
                    },
                    {"dry": point.readings["dry_bulb"], "wet": point.readings[quantity]},
                )["w"]
            except Refused as refusal:
                raise Refused(refusal.sentence.text, quantity) from refusal
    return None


def _with_scatter(average: Measured, values: list[float], source: str) -> Measured:
    if len(values) < 2:
        return average
    width = 2 * stdev(values) / sqrt(len(values))
    return weighted_sum([(1.0, average), (1.0, Measured(0.0, {source: width}))])


def _properties(dry_bulb_c: float, humidity_ratio: float, pressure_pa: float) -> dict[str, float]:
    air = AirState(dry_bulb_c, max(humidity_ratio, 0.0), pressure_pa)
    if air.relative_humidity > 1:
        air = AirState.from_rh(dry_bulb_c, 1.0, pressure_pa)
    return {
        "relative_humidity": air.relative_humidity,
        "wet_bulb_c": air.wet_bulb_c,
        "dew_point_c": air.dew_point_c,
        "humidity_ratio": air.humidity_ratio,
        "enthalpy_j_per_kg": air.enthalpy_j_per_kg,
        "specific_volume_m3_per_kg": air.specific_volume_m3_per_kg,
    }

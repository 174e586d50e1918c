"""Several points of one station become one state, with the spread in its half-width."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from fentro_core.air.saturation import saturated_ratio
from fentro_core.air.state import AirState
from fentro_core.base.kept import kept
from fentro_core.base.measured import Measured, weighted_sum
from fentro_core.base.quick import quick
from fentro_core.base.refusal import Refused
from fentro_core.instruments.averaging import scatter_half_width, weights_of

LAYERS_K = {"return": 0.8, "supply": 1.0, "mixed": 1.0}
"""How far (95 %) one point of a duct ordinarily lies from the mean of all its layers [K], by station. Ours."""

HEATED_LAYERS_K, HEATED_FROM_C = 3.0, 30.0
"""After a heat exchanger or an electric heater, which supply air this warm comes from."""

LAYERS_RH = 0.03
USUAL_K = 0.5
"""Of a place that is no duct (outdoor air, a room, an attic): pooled with what several points show; one point needs nothing."""

SPREAD_ASKS_FOR_MORE_K = 1.5
"""A spread of dry bulbs over this asks for more points: air in a duct does not mix by itself."""

_MEASURE = {"relative_humidity": "relative_humidity", "wet_bulb": "wet_bulb_c", "dew_point": "dew_point_c"}


@quick
@dataclass(frozen=True)
class ProbePoint:
    """Readings at one place of the probe: dry bulb and at most one humidity, by quantity."""

    number: int
    readings: Mapping[str, Measured]


@quick
@dataclass(frozen=True)
class StationAir:
    """The air at a station: measured dry bulb; with humidity known also the state.

    `properties`, worked out when first asked for, holds relative_humidity, wet_bulb_c, dew_point_c, humidity_ratio,
    enthalpy_j_per_kg, specific_volume_m3_per_kg, each with half-width; empty without humidity.
    """

    dry_bulb: Measured
    humidity_ratio: Measured | None
    spread_k: float
    points: int
    pressure_pa: float

    @kept
    def properties(self) -> Mapping[str, Measured]:
        """Every property with its half-width."""
        return _properties(self.dry_bulb, self.humidity_ratio, self.pressure_pa) if self.humidity_ratio else {}

    @property
    def correlation(self) -> float:
        """Between the errors of dry bulb and humidity ratio, -1 to 1; for the ellipse on a chart."""
        if self.humidity_ratio is None:
            return 0.0
        size = self.dry_bulb.plus_minus * self.humidity_ratio.plus_minus
        shared = sum(part * self.humidity_ratio.parts.get(source, 0.0) for source, part in self.dry_bulb.parts.items())
        return shared / size if size else 0.0


def station_air(name: str, points: list[ProbePoint], pressure_pa: float, station: str = "") -> StationAir | None:
    """Average the points of a station: dry bulb and humidity ratio.

    Points count by their local velocity where each has one, else equally. The scatter of the points enters the
    average's half-width, pooled with the usual layers of such a place; one point of a duct has all of those. A point
    without humidity counts for dry bulb only. None when there is no dry bulb at all.

    Raises
    ------
    Refused
        A point's pair of readings is impossible; the path names its humidity quantity.
    """
    dry = [(point.readings["dry_bulb"], _velocity(point)) for point in points if "dry_bulb" in point.readings]
    if not dry:
        return None
    values = [given.value for given, _ in dry]
    mean = sum(values) / len(values)
    layers = HEATED_LAYERS_K if station == "supply" and mean > HEATED_FROM_C else LAYERS_K.get(station, 0.0)
    several = len(dry) > 1
    dry_bulb = _averaged(dry, _source(name, station, "dry bulb", several), layers or (USUAL_K if several else 0.0))
    spread = max(values) - min(values)
    wet = [(ratio, _velocity(point)) for point in points if (ratio := _humidity_ratio(point, pressure_pa)) is not None]
    if not wet:
        return StationAir(dry_bulb, None, spread, len(dry), pressure_pa)
    usual = LAYERS_RH * saturated_ratio(mean, pressure_pa) if layers or several else 0.0
    ratio = _averaged(wet, _source(name, station, "humidity", several), usual)
    return StationAir(dry_bulb, ratio, spread, len(dry), pressure_pa)


def _source(name: str, station: str, what: str, several: bool) -> str:
    """Several points scatter anew each time; where one point lies in the layers stays, as found and as left."""
    return f"{name}:spread of {what}" if several else f"{station}:layers of {what}"


def _humidity_ratio(point: ProbePoint, pressure_pa: float) -> Measured | None:
    if "dry_bulb" not in point.readings:
        return None
    for quantity, measure in _MEASURE.items():
        if quantity in point.readings:
            dry, wet = point.readings["dry_bulb"], point.readings[quantity]
            try:
                ratio, by_dry, by_wet = _ratio_of(dry.value, wet.value, measure, pressure_pa)
            except Refused as refusal:
                raise refusal.at(quantity) from refusal
            return Measured(ratio, _joined(dry.parts, by_dry, wet.parts, by_wet))
    return None


def _velocity(point: ProbePoint) -> float | None:
    return point.readings["velocity"].value if "velocity" in point.readings else None


def _averaged(given: list[tuple[Measured, float | None]], source: str, usual: float) -> Measured:
    weights = weights_of([velocity for _, velocity in given])
    width = scatter_half_width([value.value for value, _ in given], weights, usual)
    average = weighted_sum([(weight, value) for weight, (value, _) in zip(weights, given, strict=True)])
    return Measured(average.value, {**average.parts, source: width}) if width else average


def _joined(first: Mapping[str, float], by_first: float, second: Mapping[str, float], by_second: float) -> dict[str, float]:
    """Doubts of two values passed on, each by its slope; a common source adds with its sign."""
    parts = {source: by_first * part for source, part in first.items()}
    for source, part in second.items():
        parts[source] = parts.get(source, 0.0) + by_second * part
    return parts


def _properties(dry_bulb: Measured, ratio: Measured, pressure_pa: float) -> dict[str, Measured]:
    """Every property with its half-width, to first order; an average just beyond saturation counts as saturated."""
    known = max(ratio.value, 0.0)
    found = {
        name: Measured(value, _joined(dry_bulb.parts, by_dry, ratio.parts, by_ratio))
        for name, value, by_dry, by_ratio in _linear(dry_bulb.value, known, pressure_pa)
    }
    if ratio.plus_minus > STEEP_SHARE * known:
        found["dew_point_c"] = _dew_point_of_dry_air(dry_bulb.value, known, ratio, pressure_pa)
    return found


STEEP_SHARE = 0.3
"""Where humidity is known no better than this, the dew point's slope there says nothing: it runs away towards dry air."""


def _dew_point_of_dry_air(dry_bulb_c: float, known: float, ratio: Measured, pressure_pa: float) -> Measured:
    """By the dew points at both ends of the humidity's interval instead of the slope at its middle."""
    most = min(saturated_ratio(dry_bulb_c, pressure_pa), 1.0)
    reached = [min(max(known + way * ratio.plus_minus, 0.0), most) for way in (-1.0, 1.0)]
    ends = [AirState(dry_bulb_c, ratio_there, pressure_pa).dew_point_c for ratio_there in reached]
    by_ratio = (ends[1] - ends[0]) / (2 * ratio.plus_minus)
    middle = AirState(dry_bulb_c, known, pressure_pa).dew_point_c
    return Measured(middle, {source: by_ratio * part for source, part in ratio.parts.items()})


KEPT = 4096
"""Air states kept ready: every new entry works the same readings out again."""


@lru_cache(maxsize=KEPT)
def _ratio_of(dry_bulb_c: float, humidity: float, measure: str, pressure_pa: float) -> tuple[float, float, float]:
    """Humidity ratio, and its slopes by dry bulb and by the humidity that was read."""
    air = AirState.from_measures(dry_bulb_c, pressure_pa, **{measure: humidity})
    by_dry, by_ratio = air.slopes()[measure]
    return air.humidity_ratio, -by_dry / by_ratio, 1 / by_ratio


@lru_cache(maxsize=KEPT)
def _linear(dry_bulb_c: float, ratio: float, pressure_pa: float) -> tuple[tuple[str, float, float, float], ...]:
    """Name, value, and slopes by dry bulb and by humidity ratio of every property of this air."""
    air = AirState(dry_bulb_c, ratio, pressure_pa)
    if air.relative_humidity > 1:
        air = AirState.from_rh(dry_bulb_c, 1.0, pressure_pa)
    return tuple((name, getattr(air, name), by_dry, by_ratio) for name, (by_dry, by_ratio) in air.slopes().items())

"""The state of moist air, from dry bulb and any one humidity measure.

`psychrolib` does the arithmetic; it is set to SI once, here, and never switched (its unit setting is global).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import psychrolib

from fentro_core.air.pressure import SEA_LEVEL_PA, check_pressure
from fentro_core.base import typed_json
from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

psychrolib.SetUnitSystem(psychrolib.SI)

DRY_BULB_RANGE_C = (-60.0, 90.0)
_DRIEST = 1e-7


@dataclass(frozen=True)
class AirState:
    """Moist air: dry bulb [°C], humidity ratio [kg water per kg dry air], pressure [Pa].

    Everything else is worked out when asked for. Wet bulb is the slow one (iteration).

    >>> air = AirState.from_wet_bulb(26.6667, 19.4444)
    >>> round(air.relative_humidity, 3), round(air.enthalpy_j_per_kg / 1000, 1)
    (0.511, 55.3)
    """

    dry_bulb_c: float
    humidity_ratio: float
    pressure_pa: float = SEA_LEVEL_PA

    @classmethod
    def from_rh(cls, dry_bulb_c: float, relative_humidity: float, pressure_pa: float = SEA_LEVEL_PA) -> AirState:
        """From relative humidity, 0 to 1."""
        _check(dry_bulb_c, pressure_pa)
        if not 0 <= relative_humidity <= 1:
            raise Refused("Relative humidity must be between 0 and 100 %.", "relative_humidity")
        ratio = psychrolib.GetHumRatioFromRelHum(dry_bulb_c, relative_humidity, pressure_pa)
        return cls(dry_bulb_c, ratio, pressure_pa)

    @classmethod
    def from_wet_bulb(cls, dry_bulb_c: float, wet_bulb_c: float, pressure_pa: float = SEA_LEVEL_PA) -> AirState:
        """From wet bulb [°C]; below 0 °C it is over ice."""
        _check(dry_bulb_c, pressure_pa)
        if wet_bulb_c > dry_bulb_c:
            raise Refused("Wet bulb can't be above dry bulb. Check both readings: is the wick wet and clean?", "wet_bulb_c")
        if wet_bulb_c < -100:
            raise Refused(_TOO_DRY, "wet_bulb_c")
        ratio = psychrolib.GetHumRatioFromTWetBulb(dry_bulb_c, wet_bulb_c, pressure_pa)
        if ratio <= _DRIEST:
            raise Refused(_TOO_DRY, "wet_bulb_c")
        return cls._at_most_saturated(dry_bulb_c, ratio, pressure_pa)

    @classmethod
    def from_dew_point(cls, dry_bulb_c: float, dew_point_c: float, pressure_pa: float = SEA_LEVEL_PA) -> AirState:
        """From dew point [°C]; below 0 °C it is the frost point."""
        _check(dry_bulb_c, pressure_pa)
        if dew_point_c > dry_bulb_c:
            raise Refused("Dew point can't be above dry bulb. Check both readings.", "dew_point_c")
        if dew_point_c < -90:
            raise Refused("No air is that dry. Check the dew point.", "dew_point_c")
        ratio = psychrolib.GetHumRatioFromTDewPoint(dew_point_c, pressure_pa)
        return cls(dry_bulb_c, ratio, pressure_pa)

    @classmethod
    def from_humidity_ratio(cls, dry_bulb_c: float, humidity_ratio: float, pressure_pa: float = SEA_LEVEL_PA) -> AirState:
        """From humidity ratio [kg/kg dry air], refused above saturation."""
        _check(dry_bulb_c, pressure_pa)
        if humidity_ratio < 0:
            raise Refused("Humidity ratio can't be below zero.", "humidity_ratio")
        return cls._at_most_saturated(dry_bulb_c, humidity_ratio, pressure_pa)

    @classmethod
    def _at_most_saturated(cls, dry_bulb_c: float, humidity_ratio: float, pressure_pa: float) -> AirState:
        most = psychrolib.GetSatHumRatio(dry_bulb_c, pressure_pa)
        if humidity_ratio > most * 1.0005:
            raise Refused(
                "Air at this temperature can't hold that much water: it would be fog. Check both readings.",
                "humidity_ratio",
            )
        return cls(dry_bulb_c, min(humidity_ratio, most), pressure_pa)

    @classmethod
    def from_measures(cls, dry_bulb_c: float, pressure_pa: float = SEA_LEVEL_PA, **measure: float | None) -> AirState:
        """From dry bulb and exactly one of `HUMIDITY_MEASURES`, by name."""
        given = {name: value for name, value in measure.items() if value is not None}
        if len(given) != 1:
            raise Refused(
                "Give one humidity measure: relative humidity, wet bulb, dew point or humidity ratio.",
                "relative_humidity",
            )
        ((name, value),) = given.items()
        make: Callable[[float, float, float], AirState] | None = HUMIDITY_MEASURES.get(name)
        if make is None:
            raise Refused("This is not a humidity measure.", name)
        return make(dry_bulb_c, value, pressure_pa)

    @cached_property
    def relative_humidity(self) -> float:
        """Share of the vapour pressure at saturation, 0 to 1."""
        return float(psychrolib.GetRelHumFromHumRatio(self.dry_bulb_c, self._ratio, self.pressure_pa))

    @cached_property
    def wet_bulb_c(self) -> float:
        """Thermodynamic wet bulb [°C], over ice below 0 °C."""
        return float(psychrolib.GetTWetBulbFromHumRatio(self.dry_bulb_c, self._ratio, self.pressure_pa))

    @cached_property
    def dew_point_c(self) -> float:
        """Dew point [°C]; frost point below 0 °C."""
        return float(psychrolib.GetTDewPointFromHumRatio(self.dry_bulb_c, self._ratio, self.pressure_pa))

    @cached_property
    def enthalpy_j_per_kg(self) -> float:
        """Enthalpy [J/kg dry air], zero for dry air at 0 °C."""
        return float(psychrolib.GetMoistAirEnthalpy(self.dry_bulb_c, self.humidity_ratio))

    @cached_property
    def specific_volume_m3_per_kg(self) -> float:
        """Volume [m³] of moist air per kg of dry air."""
        return float(psychrolib.GetMoistAirVolume(self.dry_bulb_c, self.humidity_ratio, self.pressure_pa))

    @cached_property
    def density_kg_per_m3(self) -> float:
        """Mass [kg] of moist air per m³."""
        return (1 + self.humidity_ratio) / self.specific_volume_m3_per_kg

    @property
    def wet_bulb_over_ice(self) -> bool:
        """True when the wick is frozen at this state."""
        return self.wet_bulb_c < 0

    def slopes(self) -> dict[str, tuple[float, float]]:
        """How each property changes, per K of dry bulb and per kg/kg of humidity ratio.

        Wet bulb and dew point are found by iteration, so their slopes come from the formulas that lead the other way:
        with ``W = f(T, T_wet)``, ``dT_wet = (dW - f_T dT) / f_wet``. That is exact, and ten times quicker.
        """
        dry, ratio, pressure = self.dry_bulb_c, self._ratio, self.pressure_pa
        wet, dew = self.wet_bulb_c, self.dew_point_c
        warmer, drier = AirState(dry + _STEP_K, ratio, pressure), AirState(dry, ratio * (1 - _STEP_SHARE), pressure)
        less = ratio * _STEP_SHARE
        slopes = {
            name: (
                (getattr(warmer, name) - getattr(self, name)) / _STEP_K,
                (getattr(self, name) - getattr(drier, name)) / less,
            )
            for name in ("relative_humidity", "enthalpy_j_per_kg", "specific_volume_m3_per_kg")
        }
        here = psychrolib.GetHumRatioFromTWetBulb(dry, wet, pressure)
        by_dry = (psychrolib.GetHumRatioFromTWetBulb(dry + _STEP_K, wet, pressure) - here) / _STEP_K
        by_wet = (here - psychrolib.GetHumRatioFromTWetBulb(dry, wet - _STEP_K, pressure)) / _STEP_K
        by_dew = (psychrolib.GetSatHumRatio(dew, pressure) - psychrolib.GetSatHumRatio(dew - _STEP_K, pressure)) / _STEP_K
        slopes["wet_bulb_c"] = (-by_dry / by_wet, 1 / by_wet)
        slopes["dew_point_c"] = (0.0, 1 / by_dew)
        slopes["humidity_ratio"] = (0.0, 1.0)
        return slopes

    @property
    def _ratio(self) -> float:
        return max(self.humidity_ratio, _DRIEST)


_TOO_DRY = "Even perfectly dry air gives a higher wet bulb than this at that dry bulb. Check both readings."

_STEP_K = 0.005
_STEP_SHARE = 0.001
"""Steps by which slopes are taken: to one side only, so that saturated air is not left."""

HUMIDITY_MEASURES: dict[str, Any] = {
    "relative_humidity": AirState.from_rh,
    "wet_bulb_c": AirState.from_wet_bulb,
    "dew_point_c": AirState.from_dew_point,
    "humidity_ratio": AirState.from_humidity_ratio,
}
"""The four humidity measures and how each, with dry bulb, makes a state."""


def _check(dry_bulb_c: float, pressure_pa: float) -> None:
    low, high = DRY_BULB_RANGE_C
    if not low <= dry_bulb_c <= high:
        raise Refused(
            "Dry bulb must be between {low} and {high}.",
            "dry_bulb_c",
            low=(low, "temperature"),
            high=(high, "temperature"),
        )
    check_pressure(pressure_pa)


@dataclass(frozen=True)
class StateReport:
    """Every property of a state, as `air.state` gives them."""

    dry_bulb_c: float
    relative_humidity: float
    wet_bulb_c: float
    dew_point_c: float
    humidity_ratio: float
    enthalpy_j_per_kg: float
    specific_volume_m3_per_kg: float
    density_kg_per_m3: float


@calculation("air.state", "All properties of moist air")
def state_report(air: AirState, work: Working = SILENT) -> StateReport:
    """All properties of a state given by dry bulb, one humidity measure and pressure.

    Parameters
    ----------
    air : AirState
        Dry bulb [°C], -60 to 90; one of relative humidity (0 to 1), wet bulb, dew point [°C] or humidity ratio
        [kg/kg]; pressure [Pa], 50,000 to 110,000.

    Raises
    ------
    Refused
        A state that no air has: wet bulb over dry bulb, drier than dry, over saturation.

    References
    ----------
    ASHRAE Handbook, Fundamentals, psychrometrics chapter, as implemented by psychrolib.
    """
    work.step(
        "enthalpy",
        "h",
        "1.006 * T + W * (2.501 + 0.00186 * T)",
        air.enthalpy_j_per_kg,
        "enthalpy",
        us="0.240 * T + W / 7000 * (1061 + 0.444 * T)",
        source="ASHRAE Fundamentals, psychrometrics",
        T=(air.dry_bulb_c, "temperature"),
        W=(air.humidity_ratio, "humidity_ratio"),
    )
    return StateReport(
        dry_bulb_c=air.dry_bulb_c,
        relative_humidity=air.relative_humidity,
        wet_bulb_c=air.wet_bulb_c,
        dew_point_c=air.dew_point_c,
        humidity_ratio=air.humidity_ratio,
        enthalpy_j_per_kg=air.enthalpy_j_per_kg,
        specific_volume_m3_per_kg=air.specific_volume_m3_per_kg,
        density_kg_per_m3=air.density_kg_per_m3,
    )


def _read_state(given: Any) -> AirState:
    if not isinstance(given, dict):
        raise Refused("Give dry bulb, one humidity measure and the pressure.")
    allowed = {"dry_bulb_c", "pressure_pa", *HUMIDITY_MEASURES}
    unknown = sorted(set(given) - allowed)
    if unknown:
        raise Refused("This field is not known here.", unknown[0])
    numbers: dict[str, float] = {}
    for name, value in given.items():
        try:
            numbers[name] = typed_json.read(value, float)
        except Refused as refusal:
            raise refusal.under(name) from refusal
    if "dry_bulb_c" not in numbers:
        raise Refused(typed_json.MISSING, "dry_bulb_c")
    return AirState.from_measures(**numbers)


typed_json.register(
    AirState,
    _read_state,
    {
        "type": "object",
        "title": "AirState",
        "description": "Dry bulb, exactly one humidity measure, and pressure (sea level when left out).",
        "properties": {name: typed_json.field_schema(name, float) for name in ("dry_bulb_c", *HUMIDITY_MEASURES, "pressure_pa")},
        "required": ["dry_bulb_c"],
        "oneOf": [{"required": [name]} for name in HUMIDITY_MEASURES],
        "additionalProperties": False,
    },
)

"""The state of moist air, from dry bulb and any one humidity measure; its curves stand in `saturation`."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from math import inf
from typing import Any, Literal

from fentro_core.air.constants import CP_DRY_AIR, CP_VAPOUR, EVAPORATION_J_PER_KG, KELVIN
from fentro_core.air.pressure import SEA_LEVEL_PA, check_pressure
from fentro_core.air.saturation import (
    WATER_TO_AIR,
    dew_point,
    ratio_by_wet_bulb,
    saturated_ratio,
    saturation,
    wet_bulb,
)
from fentro_core.base import typed_json
from fentro_core.base.calculation import calculation
from fentro_core.base.kept import kept
from fentro_core.base.refusal import Refused
from fentro_core.base.working import SILENT, Working

Wick = Literal["wet", "frozen"]

DRY_BULB_RANGE_C = (-60.0, 90.0)
"""Of what is read; what is worked out on the way may lie a little outside."""

WORKED_OUT_RANGE_C = (-100.0, 150.0)
MOST_RATIO = 1.0
"""A kilogram of water to one of air is steam, and a number in grams is not kilograms."""

VOLUME_CONSTANT = 287.042
"""Gas constant of dry air as the ASHRAE Handbook rounds it for volumes [J/(kg K)]."""

_DRIEST = 1e-7
_ROUNDING = 1.0005


@dataclass(frozen=True, init=False)
class AirState:
    """Moist air: dry bulb [°C], humidity ratio [kg water per kg dry air], pressure [Pa].

    `wick`: whether the wick was wet or frozen, where the state came from a wet bulb near 0 °C. Without it the wick is wet as
    long as that gives 0 °C or more. Everything else is worked out when asked for.

    Raises
    ------
    Refused
        A number that no site and no air has: kilopascals for pascals, grams for kilograms, below zero, not finite.

    >>> air = AirState.from_wet_bulb(26.6667, 19.4444)
    >>> round(air.relative_humidity, 3), round(air.enthalpy_j_per_kg / 1000, 1)
    (0.511, 55.3)
    """

    dry_bulb_c: float
    humidity_ratio: float
    pressure_pa: float = SEA_LEVEL_PA
    wick: Wick | None = field(default=None, compare=False)

    def __init__(
        self, dry_bulb_c: float, humidity_ratio: float, pressure_pa: float = SEA_LEVEL_PA, wick: Wick | None = None
    ) -> None:
        if not (-100.0 <= dry_bulb_c <= 150.0 and 0.0 <= humidity_ratio <= 1.0 and 50_000.0 <= pressure_pa <= 110_000.0):
            self._refuse(humidity_ratio, pressure_pa)
        own = self.__dict__  # a frozen dataclass's own way costs three times as much, and states are made by the thousand
        own["dry_bulb_c"], own["humidity_ratio"], own["pressure_pa"], own["wick"] = dry_bulb_c, humidity_ratio, pressure_pa, wick

    @staticmethod
    def _refuse(humidity_ratio: float, pressure_pa: float) -> None:
        check_pressure(pressure_pa)
        if not 0.0 <= humidity_ratio <= MOST_RATIO:
            raise Refused("A humidity ratio lies between 0 and 1 kg of water to a kg of dry air.", "humidity_ratio")
        raise _outside(*WORKED_OUT_RANGE_C)

    @classmethod
    def from_rh(cls, dry_bulb_c: float, relative_humidity: float, pressure_pa: float = SEA_LEVEL_PA) -> AirState:
        """From relative humidity, 0 to 1."""
        _check(dry_bulb_c, pressure_pa)
        if not 0 <= relative_humidity <= 1:
            raise Refused("Relative humidity must be between 0 and 100 %.", "relative_humidity")
        saturated = saturation(dry_bulb_c)
        vapour = relative_humidity * saturated[0]
        if WATER_TO_AIR * vapour > MOST_RATIO * (pressure_pa - vapour):
            raise Refused("Air this hot and humid would be mostly steam. Check both readings.", "relative_humidity")
        air = cls(dry_bulb_c, WATER_TO_AIR * vapour / (pressure_pa - vapour), pressure_pa)
        air.__dict__["_saturated"] = saturated  # known already, and asked for next
        return air

    @classmethod
    def from_wet_bulb(
        cls, dry_bulb_c: float, wet_bulb_c: float, pressure_pa: float = SEA_LEVEL_PA, wick: Wick | None = None
    ) -> AirState:
        """From wet bulb [°C]; below 0 °C it is over ice, unless the wick is said to be wet still."""
        _check(dry_bulb_c, pressure_pa)
        if not wet_bulb_c <= dry_bulb_c:
            raise Refused("Wet bulb can't be above dry bulb. Check both readings: is the wick wet and clean?", "wet_bulb_c")
        if wick == "frozen" and wet_bulb_c > 0:
            raise Refused("A frozen wick can't be above freezing. Wet it again and wait.", "wet_bulb_c")
        if wet_bulb_c < -100:
            raise Refused(_TOO_DRY, "wet_bulb_c")
        if wick == "wet" and wet_bulb_c < SUPERCOOLED_C:
            raise Refused("So far below freezing the wick is ice, not water.", "wet_bulb_c")
        frozen = wet_bulb_c < 0 if wick is None else wick == "frozen"
        ratio = ratio_by_wet_bulb(dry_bulb_c, wet_bulb_c, pressure_pa, frozen)
        if ratio < -TOO_DRY_BY:
            raise Refused(_TOO_DRY, "wet_bulb_c")
        return cls._at_most_saturated(dry_bulb_c, max(ratio, 0.0), pressure_pa, "frozen" if frozen else "wet")

    @classmethod
    def from_dew_point(cls, dry_bulb_c: float, dew_point_c: float, pressure_pa: float = SEA_LEVEL_PA) -> AirState:
        """From dew point [°C]; below 0 °C it is the frost point."""
        _check(dry_bulb_c, pressure_pa)
        if not dew_point_c <= dry_bulb_c:
            raise Refused("Dew point can't be above dry bulb. Check both readings.", "dew_point_c")
        if dew_point_c < -90:
            raise Refused("No air is that dry. Check the dew point.", "dew_point_c")
        return cls._at_most_saturated(dry_bulb_c, saturated_ratio(dew_point_c, pressure_pa), pressure_pa)

    @classmethod
    def from_humidity_ratio(cls, dry_bulb_c: float, humidity_ratio: float, pressure_pa: float = SEA_LEVEL_PA) -> AirState:
        """From humidity ratio [kg/kg dry air], refused above saturation."""
        _check(dry_bulb_c, pressure_pa)
        if not humidity_ratio >= 0:
            raise Refused("Humidity ratio can't be below zero.", "humidity_ratio")
        return cls._at_most_saturated(dry_bulb_c, humidity_ratio, pressure_pa)

    @classmethod
    def _at_most_saturated(
        cls, dry_bulb_c: float, humidity_ratio: float, pressure_pa: float, wick: Wick | None = None
    ) -> AirState:
        most = saturated_ratio(dry_bulb_c, pressure_pa)
        if humidity_ratio > most * _ROUNDING:
            raise Refused(
                "Air at this temperature can't hold that much water: it would be fog. Check both readings.",
                "humidity_ratio",
            )
        if humidity_ratio == inf:
            raise Refused("At this temperature and pressure water boils: this is steam, not air.", "dry_bulb_c")
        return cls(dry_bulb_c, min(humidity_ratio, most), pressure_pa, wick)

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

    def settles(self) -> dict[str, Any]:
        """What must not change while a reading is moved within its half-width: the wick of a wet bulb near freezing."""
        return {"wick": self.wick} if self.wick else {}

    @property
    def vapour_pa(self) -> float:
        """Partial pressure of the vapour [Pa]."""
        return self.pressure_pa * self.humidity_ratio / (WATER_TO_AIR + self.humidity_ratio)

    @kept
    def _saturated(self) -> tuple[float, float]:
        return saturation(self.dry_bulb_c)

    @property
    def relative_humidity(self) -> float:
        """Share of the vapour pressure at saturation, 0 to 1; above 1 it is fog."""
        return self.vapour_pa / self._saturated[0]

    @kept
    def _wet_bulb(self) -> tuple[float, float, float]:
        """Wet bulb and its slopes; one solution: by the wick where it is known, else wet as long as that is not freezing."""
        if self.wick == "frozen":
            return wet_bulb(self.dry_bulb_c, self.humidity_ratio, self.pressure_pa, True, self.relative_humidity)
        found = wet_bulb(self.dry_bulb_c, self.humidity_ratio, self.pressure_pa, False, self.relative_humidity)
        if self.wick is None and found[0] < 0:
            return wet_bulb(self.dry_bulb_c, self.humidity_ratio, self.pressure_pa, True, self.relative_humidity)
        return found

    @property
    def wet_bulb_c(self) -> float:
        """Thermodynamic wet bulb [°C], over ice below 0 °C."""
        return self._wet_bulb[0]

    @kept
    def dew_point_c(self) -> float:
        """Dew point [°C]; frost point below 0 °C. Of perfectly dry air there is none: that of the driest that is told apart."""
        ratio = self._ratio
        return min(dew_point(self.pressure_pa * ratio / (WATER_TO_AIR + ratio)), self.dry_bulb_c)

    @property
    def enthalpy_j_per_kg(self) -> float:
        """Enthalpy [J/kg dry air], zero for dry air at 0 °C."""
        return CP_DRY_AIR * self.dry_bulb_c + self.humidity_ratio * (EVAPORATION_J_PER_KG + CP_VAPOUR * self.dry_bulb_c)

    @property
    def specific_volume_m3_per_kg(self) -> float:
        """Volume [m³] of moist air per kg of dry air."""
        return VOLUME_CONSTANT * (self.dry_bulb_c + KELVIN) * (1 + self.humidity_ratio / WATER_TO_AIR_VOLUME) / self.pressure_pa

    @property
    def density_kg_per_m3(self) -> float:
        """Mass [kg] of moist air per m³."""
        return (1 + self.humidity_ratio) / self.specific_volume_m3_per_kg

    @property
    def wet_bulb_over_ice(self) -> bool:
        """True when the wick is frozen at this state."""
        return self.wet_bulb_c < 0 and self.wick != "wet"

    def slopes(self) -> dict[str, tuple[float, float]]:
        """How each property changes, per K of dry bulb and per kg/kg of humidity ratio; by differentiation, not by trial."""
        dry, ratio, pressure = self.dry_bulb_c, self.humidity_ratio, self.pressure_pa
        vapour, steep = self._saturated
        wetter = pressure * WATER_TO_AIR / (WATER_TO_AIR + ratio) ** 2
        volume = self.specific_volume_m3_per_kg
        _, wet_by_dry, wet_by_ratio = self._wet_bulb
        return {
            "relative_humidity": (-self.vapour_pa * steep / vapour**2, wetter / vapour),
            "enthalpy_j_per_kg": (CP_DRY_AIR + CP_VAPOUR * ratio, EVAPORATION_J_PER_KG + CP_VAPOUR * dry),
            "specific_volume_m3_per_kg": (
                volume / (dry + KELVIN),
                VOLUME_CONSTANT * (dry + KELVIN) / WATER_TO_AIR_VOLUME / pressure,
            ),
            "wet_bulb_c": (wet_by_dry, wet_by_ratio),
            "dew_point_c": (0.0, wetter / saturation(self.dew_point_c)[1]),
            "humidity_ratio": (0.0, 1.0),
        }

    @property
    def _ratio(self) -> float:
        return max(self.humidity_ratio, _DRIEST)


SUPERCOOLED_C = -10.0
"""A wick may stay wet a little below freezing; not further than this."""

WATER_TO_AIR_VOLUME = 1 / 1.607858
"""Mass ratio as the ASHRAE Handbook rounds it for volumes."""

TOO_DRY_BY = 1e-6
"""Humidity ratio below zero that is still rounding of a wet bulb in perfectly dry air [kg/kg]."""

_TOO_DRY = "Even perfectly dry air gives a higher wet bulb than this at that dry bulb. Check both readings."

HUMIDITY_MEASURES: dict[str, Any] = {
    "relative_humidity": AirState.from_rh,
    "wet_bulb_c": AirState.from_wet_bulb,
    "dew_point_c": AirState.from_dew_point,
    "humidity_ratio": AirState.from_humidity_ratio,
}
"""The four humidity measures and how each, with dry bulb, makes a state."""


def same_pressure(**states: AirState) -> None:
    """Refuse states of two pressures: one site has one. Named as the inputs are; a dot for each `__`.

    >>> same_pressure(entering=AirState.from_rh(24.0, 0.5), leaving=AirState.from_rh(13.0, 0.9, 83_000.0))
    Traceback (most recent call last):
    fentro_core.base.refusal.Refused: leaving.pressure_pa: All air of a site is at one air pressure: this differs from the first.
    """
    first: float | None = None
    for name, state in states.items():
        if first is None:
            first = state.pressure_pa
        elif abs(state.pressure_pa - first) > SAME_PRESSURE_PA:
            path = f"{name.replace('__', '.')}.pressure_pa"
            raise Refused("All air of a site is at one air pressure: this differs from the first.", path)


SAME_PRESSURE_PA = 1.0
"""Less is rounding of what was typed."""


def _check(dry_bulb_c: float, pressure_pa: float) -> None:
    if not DRY_BULB_RANGE_C[0] <= dry_bulb_c <= DRY_BULB_RANGE_C[1]:
        raise _outside(*DRY_BULB_RANGE_C)
    check_pressure(pressure_pa)


def _outside(low: float, high: float) -> Refused:
    return Refused(
        "Dry bulb must be between {low} and {high}.",
        "dry_bulb_c",
        low=(low, "temperature"),
        high=(high, "temperature"),
    )


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
    ASHRAE Handbook, Fundamentals, psychrometrics chapter; the tests hold it against psychrolib and a real-gas model.
    """
    work.step(
        "enthalpy",
        "h",
        "1.006 * T + W * (2.501 + 0.00186 * T)",
        air.enthalpy_j_per_kg,
        "enthalpy",
        us="0.24028 * T - 0.009 + W / 7000 * (1061.02 + 0.44425 * T)",
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
    wick: Wick | None = None
    numbers: dict[str, float] = {}
    for name, value in given.items():
        if name in _FIELDS:
            numbers[name] = typed_json.number(value, name)
        elif name == "wick":
            if value not in (None, "wet", "frozen"):
                raise Refused("The wick is wet or frozen.", "wick")
            wick = value
        else:
            raise Refused("This field is not known here.", str(name))
    if "dry_bulb_c" not in numbers:
        raise Refused(typed_json.MISSING, "dry_bulb_c")
    if wick and "wet_bulb_c" in numbers and len(numbers) == 2 + ("pressure_pa" in numbers):
        return AirState.from_wet_bulb(**numbers, wick=wick)
    return AirState.from_measures(**numbers)


_FIELDS = {"dry_bulb_c", "pressure_pa", *HUMIDITY_MEASURES}


typed_json.register(
    AirState,
    _read_state,
    {
        "type": "object",
        "title": "AirState",
        "description": "Dry bulb, exactly one humidity measure, and pressure (sea level when left out).",
        "properties": {
            **{name: typed_json.field_schema(name, float) for name in ("dry_bulb_c", *HUMIDITY_MEASURES, "pressure_pa")},
            "wick": {"enum": ["wet", "frozen", None], "description": "Of a wet bulb near freezing."},
        },
        "required": ["dry_bulb_c"],
        "oneOf": [{"required": [name]} for name in HUMIDITY_MEASURES],
        "additionalProperties": False,
    },
)

"""What the unit does at every outdoor temperature: mode, damper, outdoor share, mixed and supply air, compressor stages."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from math import ceil

from fentro_core.air.pressure import SEA_LEVEL_PA
from fentro_core.air.state import AirState
from fentro_core.base.calculation import calculation
from fentro_core.base.refusal import Refused, inside
from fentro_core.base.working import SILENT, Working
from fentro_core.economizer.configuration import Configuration, check_configuration
from fentro_core.economizer.minimum_position import PositionRead

LOW_C, HIGH_C, STEP_C = -20.0, 45.0, 0.5
CLOSED_SHARE, OPEN_SHARE = 0.03, 0.95
CURVE = 1.6
"""An ordinary damper lets in more at first than its position says. Ours, until the share is measured."""

FAN_HEAT_K = 1.0
FULL_DROP_K = 11.0
HEATING_RISE_K = 18.0
DESIGN_OUTDOOR_C = 35.0
HEATING_BELOW_C, COOLING_FROM_C = 8.0, 10.0
"""Outdoor temperatures at which rooms ordinarily begin to need heat and cooling. Ours."""

MOST_READS = 50

MAP_MODES = {
    "heating": "Heating",
    "minimum": "Minimum air",
    "free": "Outdoor air cools",
    "free_and_compressor": "Outdoor air and compressor",
    "compressor": "Compressor",
}
"""Modes of the map in words, from cold to warm."""


@dataclass(frozen=True)
class MapPoint:
    """The unit at one outdoor temperature. Position, share, stages 0 to 1."""

    outdoor_c: float
    mode: str
    position: float
    outdoor_share: float
    mixed_c: float
    supply_c: float
    stages: float


@dataclass(frozen=True)
class ModeMap:
    """The map from -20 to 45 °C; the temperature up to which outdoor air cools; and today, if given."""

    points: tuple[MapPoint, ...]
    free_up_to_c: float
    free_from_c: float
    today: MapPoint | None = None


def share_of(position: float, reads: tuple[PositionRead, ...] = ()) -> float:
    """Outdoor share at a damper position: straight between measured ones, else by an ordinary damper's curve.

    >>> round(share_of(0.2), 2), round(share_of(0.15, (PositionRead(0.1, 0.12), PositionRead(0.2, 0.22))), 2)
    (0.31, 0.17)
    """
    if not reads:
        return float(CLOSED_SHARE + (OPEN_SHARE - CLOSED_SHARE) * (1 - (1 - position) ** CURVE))
    known = {0.0: CLOSED_SHARE, 1.0: OPEN_SHARE} | {read.position: read.outdoor_share for read in reads}
    at = sorted(known)
    for low, high in pairwise(at):
        if position <= high:
            return known[low] + (known[high] - known[low]) * (position - low) / (high - low)
    return known[at[-1]]


def position_of(share: float, reads: tuple[PositionRead, ...] = ()) -> float:
    """Damper position for an outdoor share, by halving."""
    low, high = 0.0, 1.0
    for _ in range(24):
        middle = (low + high) / 2
        low, high = (middle, high) if share_of(middle, reads) < share else (low, middle)
    return (low + high) / 2


@calculation("economizer.mode_map", "What the unit does at every outdoor temperature")
def mode_map(
    configuration: Configuration,
    return_c: float = 24.0,
    return_rh: float = 0.5,
    outdoor_rh: float = 0.5,
    heating_below_c: float = HEATING_BELOW_C,
    cooling_from_c: float = COOLING_FROM_C,
    today_c: float | None = None,
    reads: tuple[PositionRead, ...] = (),
    pressure_pa: float = SEA_LEVEL_PA,
    work: Working = SILENT,
) -> ModeMap:
    """Steady operation of the configured sequence.

    Parameters
    ----------
    configuration : Configuration
        The settings of the unit.
    return_c, return_rh, outdoor_rh : float
        Return air [°C, 0 to 1] and the humidity of the outdoor air (0 to 1).
    heating_below_c, cooling_from_c : float
        Outdoor temperatures at which the rooms begin to need heat and cooling [°C]; the first the lower.
    today_c : float, optional
        Outdoor air now [°C].
    reads : tuple of PositionRead
        Measured shares by position; without them an ordinary damper's curve.
    pressure_pa : float
        Air pressure of the site [Pa], 50,000 to 110,000.

    Raises
    ------
    Refused
        A configuration that fights itself; heating that begins above cooling.

    References
    ----------
    Steady balance of the mixed air; load and damper curve are ours, see docs/method.md.

    >>> found = mode_map(Configuration())
    >>> [point.mode for point in found.points if point.outdoor_c in (-10.0, 15.0, 40.0)]
    ['heating', 'free', 'compressor']
    """
    with inside("configuration"):
        check_configuration(configuration)
    if len(reads) > MOST_READS:
        raise Refused(f"A damper is read at {MOST_READS} positions at most.", "reads")
    for index, read in enumerate(reads):
        if not (0 <= read.position <= 1 and 0 <= read.outdoor_share <= 1):
            raise Refused("Positions and shares lie between 0 and 100 %.", f"reads.{index}.position")
    if not 0 <= outdoor_rh <= 1:
        raise Refused("Relative humidity must be between 0 and 100 %.", "outdoor_rh")
    for name, celsius in (("heating_below_c", heating_below_c), ("cooling_from_c", cooling_from_c), ("today_c", today_c)):
        if celsius is not None and not -60 <= celsius <= 60:
            raise Refused("No weather is that cold or warm.", name)
    if heating_below_c >= cooling_from_c:
        raise Refused("The rooms need heat below a lower temperature than they need cooling from.", "heating_below_c")
    with inside(dry_bulb_c="return_c", relative_humidity="return_rh"):
        return_air = AirState.from_rh(return_c, return_rh, pressure_pa)
    around = _Around(configuration, return_air, outdoor_rh, heating_below_c, cooling_from_c, reads)
    steps = round((HIGH_C - LOW_C) / STEP_C)
    points = tuple(around.at(LOW_C + STEP_C * index) for index in range(steps + 1))
    free = [point.outdoor_c for point in points if point.mode.startswith("free")]
    aim = configuration.supply_setpoint_c - FAN_HEAT_K
    work.step(
        "mixed air that the dampers hold",
        "T_m",
        "T_s - dT_fan",
        aim,
        "temperature",
        T_s=(configuration.supply_setpoint_c, "temperature"),
        dT_fan=(FAN_HEAT_K, "temperature_difference"),
    )
    return ModeMap(
        points, max(free, default=LOW_C), min(free, default=HIGH_C), around.at(today_c) if today_c is not None else None
    )


@dataclass(frozen=True)
class _Around:
    setting: Configuration
    return_air: AirState
    outdoor_rh: float
    heating_below_c: float
    cooling_from_c: float
    reads: tuple[PositionRead, ...]

    def free(self, outdoor_c: float) -> bool:
        """Whether outdoor air may cool at all."""
        setting = self.setting
        if setting.changeover == "fixed_dry_bulb":
            return outdoor_c <= setting.high_limit_c
        if setting.changeover == "differential_dry_bulb":
            return outdoor_c <= self.return_air.dry_bulb_c
        if outdoor_c > setting.high_limit_c:
            return False
        outdoor = AirState.from_rh(outdoor_c, self.outdoor_rh, self.return_air.pressure_pa).enthalpy_j_per_kg
        fixed = setting.changeover == "fixed_enthalpy"
        return outdoor <= (setting.high_limit_j_per_kg if fixed else self.return_air.enthalpy_j_per_kg)

    def at(self, outdoor_c: float) -> MapPoint:
        """The unit at one outdoor temperature."""
        setting = self.setting
        if outdoor_c < self.heating_below_c:
            position = 0.0 if setting.heating_damper == "closed" else setting.minimum_position
            return self._point(outdoor_c, "heating", position, 0.0, HEATING_RISE_K)
        if outdoor_c < self.cooling_from_c:
            return self._point(outdoor_c, "minimum", setting.minimum_position, 0.0)
        load = min(max((outdoor_c - self.cooling_from_c) / (DESIGN_OUTDOOR_C - self.cooling_from_c), 0.2), 1.0)
        needed_c = self.return_air.dry_bulb_c - load * (self.return_air.dry_bulb_c - setting.supply_setpoint_c)
        stages = ceil(load * setting.stages - 1e-9) / setting.stages if setting.stages else 0.0
        if not self.free(outdoor_c):
            return self._point(outdoor_c, "compressor", setting.minimum_position, stages)
        open_c = self._mixed(outdoor_c, share_of(1.0, self.reads)) + FAN_HEAT_K
        if open_c <= needed_c or not setting.stages:
            return self._point(outdoor_c, "free", self._modulated(outdoor_c), 0.0)
        if setting.sequence == "exclusive":
            return self._point(outdoor_c, "compressor", setting.minimum_position, stages)
        return self._point(outdoor_c, "free_and_compressor", 1.0, 1 / setting.stages)

    def _mixed(self, outdoor_c: float, share: float) -> float:
        return self.return_air.dry_bulb_c + share * (outdoor_c - self.return_air.dry_bulb_c)

    def _modulated(self, outdoor_c: float) -> float:
        """The position that holds supply air at its setpoint, between minimum and full."""
        back, aim = self.return_air.dry_bulb_c, self.setting.supply_setpoint_c - FAN_HEAT_K
        if outdoor_c >= aim:
            return 1.0
        share = (back - aim) / (back - outdoor_c)
        return min(max(position_of(share, self.reads), self.setting.minimum_position), 1.0)

    def _point(self, outdoor_c: float, mode: str, position: float, stages: float, rise_k: float = 0.0) -> MapPoint:
        position = self._limited(outdoor_c, position)
        share = share_of(position, self.reads)
        mixed = self._mixed(outdoor_c, share)
        return MapPoint(outdoor_c, mode, position, share, mixed, mixed + FAN_HEAT_K + rise_k - FULL_DROP_K * stages, stages)

    def _limited(self, outdoor_c: float, position: float) -> float:
        """The mixed-air low limit pulls the damper down, below minimum if need be."""
        limit = self.setting.mixed_low_limit_c
        if self._mixed(outdoor_c, share_of(position, self.reads)) >= limit or outdoor_c >= limit:
            return position
        share = (self.return_air.dry_bulb_c - limit) / (self.return_air.dry_bulb_c - outdoor_c)
        return min(position_of(share, self.reads), position)

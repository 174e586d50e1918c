"""The day of a proof: what the air is like, and what outdoor air must be played to the controller instead."""

from __future__ import annotations

from dataclasses import dataclass, replace

from fentro_core.air.constants import humidity_ratio_of
from fentro_core.air.pressure import SEA_LEVEL_PA
from fentro_core.air.state import AirState
from fentro_core.base.refusal import Refused
from fentro_core.economizer.configuration import Configuration
from fentro_core.economizer.proof.step import Stimulus

SAFE_COOL_K = 6.0
RETURN_HELD_C = 22.0
"""Return air played where it decides: away from the limits that a fixed changeover ordinarily has, so that one is not taken
for the other. Ours."""


ENTHALPY_PER_K = 2000.0
"""A switching differential of 1 K stands for 2 kJ/kg where enthalpy decides."""


@dataclass(frozen=True)
class Day:
    """What the air is like now [°C], relative humidity 0 to 1; what the plan needs to choose its stimuli."""

    outdoor_c: float = 14.0
    return_c: float = 24.0
    outdoor_rh: float = 0.6
    return_rh: float = 0.5
    pressure_pa: float = SEA_LEVEL_PA


def outdoor_at(setting: Configuration, day: Day, under_k: float) -> tuple[Stimulus, ...]:
    """Overrides that put the outdoor air so far below the changeover point (above: negative) [K].

    Where enthalpy decides, the dry bulb is held 3 K below its cap and the humidity moves.
    """
    if setting.changeover == "fixed_dry_bulb":
        return (Stimulus("outdoor_temperature", setting.high_limit_c - under_k),)
    back: tuple[Stimulus, ...] = (Stimulus("return_temperature", day.return_c), Stimulus("return_humidity", day.return_rh))
    if setting.changeover == "differential_dry_bulb":
        return (Stimulus("return_temperature", RETURN_HELD_C), Stimulus("outdoor_temperature", RETURN_HELD_C - under_k))
    if setting.changeover == "fixed_enthalpy":
        most = setting.high_limit_j_per_kg
        back = ()
    else:
        most = AirState.from_rh(day.return_c, day.return_rh, day.pressure_pa).enthalpy_j_per_kg
    wanted = most - under_k * ENTHALPY_PER_K
    dry_bulb = setting.high_limit_c - 3.0
    humidity = _humidity(dry_bulb, wanted, day.pressure_pa)
    if humidity > 0.97:
        raise Refused("The enthalpy limit lies so high that no air below the dry-bulb cap reaches it.", "high_limit_j_per_kg")
    return (*back, Stimulus("outdoor_temperature", dry_bulb), Stimulus("outdoor_humidity", humidity))


def _humidity(dry_bulb_c: float, enthalpy: float, pressure_pa: float) -> float:
    ratio = humidity_ratio_of(enthalpy, dry_bulb_c)
    saturated = AirState.from_rh(dry_bulb_c, 1.0, pressure_pa)
    vapour = ratio * pressure_pa / (0.621945 + ratio)
    full = saturated.humidity_ratio * pressure_pa / (0.621945 + saturated.humidity_ratio)
    return min(max(vapour / full, 0.01), 1.0)


def cool_enough(setting: Configuration, day: Day) -> bool:
    """Today's outdoor air lies clearly inside the changeover: no need to play a cooler one to the controller."""
    if day.outdoor_c > setting.high_limit_c - 2.0 or day.outdoor_c > day.return_c - 2.0:
        return False
    if "enthalpy" not in setting.changeover:
        return True
    outdoor = AirState.from_rh(day.outdoor_c, day.outdoor_rh, day.pressure_pa).enthalpy_j_per_kg
    most = (
        setting.high_limit_j_per_kg
        if setting.changeover == "fixed_enthalpy"
        else AirState.from_rh(day.return_c, day.return_rh, day.pressure_pa).enthalpy_j_per_kg
    )
    return outdoor < most - 3000.0


def day_now(points: dict[str, float], day: Day) -> Day:
    """The day as the controller's own sensors see it, before anything is overridden."""
    return replace(
        day,
        outdoor_c=points.get("outdoor_temperature", day.outdoor_c),
        return_c=points.get("return_temperature", day.return_c),
        outdoor_rh=min(max(points.get("outdoor_humidity", day.outdoor_rh), 0.02), 1.0),
        return_rh=min(max(points.get("return_humidity", day.return_rh), 0.02), 1.0),
    )

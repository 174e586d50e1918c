"""What is noted about water: condensate weighed, the air that is wanted and by which means, where water may come from."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.fields import kind_of
from fentro_core.base.limits import within
from fentro_core.base.refusal import Refused
from fentro_core.logbook.kinds import EntryKind, register
from fentro_core.moisture.bucket import bucket
from fentro_core.moisture.bypass import LEAST_COIL_FLOW
from fentro_core.moisture.choose import USUAL_COP, USUAL_MOST_BYPASS, Source


@dataclass(frozen=True)
class Condensate:
    """Condensate caught for so many minutes [kg, min]; `plus_minus_kg`: of scale and timing; `settled`: it ran wet before."""

    condensate_kg: float
    minutes: float
    plus_minus_kg: float = 0.05
    settled: bool = True


@dataclass(frozen=True)
class MoistureAim:
    """The air that is wanted, and what may be used for it.

    Loads are the room's [W, kg/s], where they are known better than by what the unit takes out now. `reheat_source`: None where
    none can be had; `most_bypass`: 0 where none can be had; `least_air`: of today's air, what the blower may be turned down to, 1
    where it cannot. `room_m3`, `drift_ratio`: the room, and what its humidity ratio gains in an hour (below zero: loses): while
    it changes, the load is not what the unit takes out.
    """

    wanted_c: float
    wanted_rh: float
    room_sensible_w: float | None = None
    room_water_kg_per_s: float | None = None
    reheat_source: Source | None = None
    most_bypass: float = USUAL_MOST_BYPASS
    cop: float = USUAL_COP
    room_m3: float | None = None
    drift_ratio: float | None = None
    least_air: float = LEAST_COIL_FLOW


@dataclass(frozen=True)
class WaterSources:
    """Where water may come from: airflows [m³/s], people, open water [m², °C], a process [kg/s].

    `outdoor_m3s`: through the unit, None where it follows from the measured share. `blower_door_m3s`, `building_pa`: the
    building's leaks at 50 Pa and its pressure against outdoors; together they say what comes in where nobody noted it.
    """

    outdoor_m3s: float | None = None
    infiltration_m3s: float = 0.0
    occupants: float = 0.0
    wet_area_m2: float = 0.0
    water_c: float = 20.0
    process_kg_per_s: float = 0.0
    blower_door_m3s: float | None = None
    building_pa: float | None = None


MOST = {
    "outdoor_m3s": 50.0,
    "infiltration_m3s": 50.0,
    "occupants": 5000.0,
    "wet_area_m2": 5000.0,
    "water_c": 60.0,
    "process_kg_per_s": 0.5,
    "blower_door_m3s": 50.0,
}
STRONGEST_PA = 200.0
"""No building stands under more pressure than this against outdoors, or less."""


def _check_condensate(body: Condensate) -> None:
    bucket(body.condensate_kg, body.minutes)
    if not 0 < body.plus_minus_kg <= 10:
        raise Refused("A scale's error is above zero and at most 10 kg.", "plus_minus_kg")


def _check_aim(body: MoistureAim) -> None:
    within(body.wanted_c, (10.0, 40.0), "wanted_c", "temperature")
    if not 0.2 <= body.wanted_rh <= 0.9:
        raise Refused("Wanted humidity lies between 20 and 90 %.", "wanted_rh")
    if body.room_sensible_w is not None and not 0 <= body.room_sensible_w <= 2e6:
        raise Refused("The room's heat must be between 0 and 2,000 kW.", "room_sensible_w")
    if body.room_water_kg_per_s is not None and not 0 <= body.room_water_kg_per_s <= 0.5:
        raise Refused("The room's water must be between 0 and 1,800 kg/h.", "room_water_kg_per_s")
    if not 0 <= body.most_bypass <= 0.6:
        raise Refused("A bypass carries 0 to 60 % of the air.", "most_bypass")
    if not 1 <= body.cop <= 10:
        raise Refused("Cooling for each unit of electricity lies between 1 and 10.", "cop")
    if not 0.4 <= body.least_air <= 1:
        raise Refused("No coil is made for less than 40 % of its air. Give 40 to 100 %.", "least_air")
    if body.room_m3 is not None and not 5 <= body.room_m3 <= 500_000:
        raise Refused("A room has {low} to {high}.", "room_m3", low=(5.0, "volume"), high=(500_000.0, "volume"))
    if body.drift_ratio is not None and not -0.02 <= body.drift_ratio <= 0.02:
        raise Refused("No room's air gains or loses that much water in an hour.", "drift_ratio")


def _check_sources(body: WaterSources) -> None:
    for name, most in MOST.items():
        value = getattr(body, name)
        if value is not None and not 0 <= value <= most:
            raise Refused("This must be between 0 and {high}.", name, high=(most, kind_of(name)))
    if body.building_pa is not None and not -STRONGEST_PA <= body.building_pa <= STRONGEST_PA:
        raise Refused("A building's pressure lies within {most} of outdoors.", "building_pa", most=(STRONGEST_PA, "pressure"))


register(EntryKind(key="condensate", body=Condensate, name="Condensate weighed", check=_check_condensate))
register(EntryKind(key="moisture_aim", body=MoistureAim, name="Air wanted", check=_check_aim))
register(EntryKind(key="water_sources", body=WaterSources, name="Where water may come from", check=_check_sources))

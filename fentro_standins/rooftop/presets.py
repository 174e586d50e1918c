"""Units that the service simulates, and faults to choose from when trying things out."""

from __future__ import annotations

from dataclasses import dataclass, replace

from fentro_core.economizer.configuration import Configuration
from fentro_standins.rooftop.build import Build, Faults, Weather
from fentro_standins.rooftop.unit import RooftopUnit

_PLANNED = Configuration(
    changeover="differential_enthalpy", high_limit_c=23.9, minimum_position=0.18, on_sensor_failure="minimum", stages=2
)

PRESETS: dict[str, tuple[str, Faults]] = {
    "sound": ("Nothing wrong", Faults()),
    "low_limit_tied": ("Low limit tied to the outdoor sensor", Faults(loops={"low_limit": "outdoor"})),
    "stuck_damper": ("Damper stuck", Faults(stuck_at=0.35)),
    "reversed_actuator": ("Actuator turns the wrong way", Faults(reversed=True)),
    "slipped_linkage": ("Linkage slips", Faults(slip=0.4)),
    "loose_blades": ("Blades loose on their shaft", Faults(loose_at=0.3)),
    "misplaced_sensor": ("Mixed-air sensor in the supply air", Faults(misplaced={"mixed": "supply"})),
    "no_cooling": ("Compressor called, but does not run", Faults(compressor_dead=True)),
    "swapped_sensors": ("Return and mixed sensor swapped", Faults(swapped=("return", "mixed"))),
    "drifted_sensor": ("Mixed-air sensor drifted", Faults(drift={"mixed": 4.0})),
    "wrong_changeover": ("Changeover set wrong", Faults(settings={"changeover": "fixed_dry_bulb", "high_limit_c": 30.0})),
    "wrong_minimum": ("Minimum position far too large", Faults(settings={"minimum_position": 0.55})),
    "relief_blocked": ("Relief blocked", Faults(relief_blocked=True)),
    "compressor_not_locked": ("Compressor not locked out", Faults(compressor_runs_free=True)),
    "no_differential": ("No switching differential", Faults(settings={"differential_k": 0.0})),
    "fail_safe": ("Spring return broken", Faults(spring="stays")),
    "failed_sensor": ("Outdoor sensor open", Faults(failed={"outdoor": "open"})),
}

DRYING: dict[str, tuple[str, Faults]] = {
    "reheat_stuck_on": ("Reheat valve stuck open: reheat in cooling, too", Faults(reheat_stays=0.8)),
    "reheat_dead": ("Reheat valve stuck shut", Faults(reheat_dead=True)),
    "bypass_stuck_open": ("Return bypass stands open", Faults(bypass_stands=1.0)),
    "bypass_blocked": ("Return bypass blocked", Faults(bypass_stands=0.0)),
    "bypass_too_far": ("Return bypass opens too far", Faults(bypass_around=0.75)),
    "dry_call_dead": ("The call to dry does nothing", Faults(dry_call_dead=True)),
}
"""Faults besides, of a unit with reheat and bypass."""


@dataclass(frozen=True)
class Model:
    """A simulated unit's standing data."""

    unit: str
    seed: int
    preset: str
    weather: Weather
    reheat_w: float = 0.0
    around_open: float = 0.0

    @property
    def presets(self) -> dict[str, tuple[str, Faults]]:
        """The faults that it can have."""
        return PRESETS | (DRYING if self.reheat_w else {})


MODELS: dict[str, Model] = {
    model.unit: model
    for model in (
        Model("RTU-1", 11, "low_limit_tied", Weather(13.5, 0.8, 0.0068, 0.25)),
        Model("RTU-2", 12, "low_limit_tied", Weather(13.5, 0.8, 0.0068, 0.25), reheat_w=16_000.0, around_open=0.25),
    )
}

MODEL_NAME = "Larkmoor ED-20"
START_S = 10 * 3600.0


def made(model: Model, preset: str = "", seed: int | None = None) -> RooftopUnit:
    """The unit as it stands when the service begins, or with another fault put in."""
    faults = model.presets[preset or model.preset][1]
    build = Build(model=MODEL_NAME, occupied_h=(0.0, 24.0), reheat_w=model.reheat_w, around_open=model.around_open)
    unit = RooftopUnit(
        model.seed if seed is None else seed, build, replace(_PLANNED, model=MODEL_NAME), faults, model.weather, START_S
    )
    unit.advance(900, 2.0)
    return unit

"""How a simulated rooftop unit is built, what may be wrong with it, and the weather it stands in."""

from __future__ import annotations

from dataclasses import dataclass, field
from math import pi, sin
from random import Random

from fentro_core.air.pressure import SEA_LEVEL_PA


@dataclass(frozen=True)
class Build:
    """A unit and the room it serves. Flows [m³/s], powers [W], capacity of the room [J/K], conductance [W/K].

    `curve`: how fast the outdoor share rises at first as the damper opens; `closed_leak`, `open_share`: the share of
    outdoor air with the damper shut and fully open. `reheat_w`: full heat of a hot-gas coil after the cooling coil, 0 without
    one; `around_open`, `around_shut`: share of the supply that passes around the coil with the return bypass open and shut,
    `around_open` 0 without one.
    """

    model: str = "Larkmoor ED-20"
    supply_m3s: float = 1.9
    cooling_w: float = 35_000.0
    heating_w: float = 30_000.0
    stroke_s: float = 90.0
    curve: float = 1.6
    closed_leak: float = 0.03
    open_share: float = 0.95
    bypass: float = 0.12
    fan_heat_k: float = 0.9
    room_j_per_k: float = 6.0e6
    room_w_per_k: float = 900.0
    gains_w: float = 9_000.0
    wet_gains_kg_s: float = 4.0e-4
    infiltration_kg_s: float = 0.12
    building_m3s_per_pa: float = 0.045
    exhaust_m3s: float = 0.15
    relief_m3s_per_pa: float = 0.22
    pressure_pa: float = SEA_LEVEL_PA
    occupied_h: tuple[float, float] = (6.0, 20.0)
    reheat_w: float = 0.0
    around_open: float = 0.0
    around_shut: float = 0.02

    @property
    def dries(self) -> bool:
        """Whether it answers a call to dry."""
        return self.reheat_w > 0 or self.around_open > 0


@dataclass(frozen=True)
class Faults:
    """What is wrong; any number together. Left alone, the unit is sound.

    `stuck_at`: the damper does not move from this position; `reversed`: opens when told to close; `slip`: the blades
    follow only this share of the actuator's way; `loose_at`: the
    blades stay there whatever it does; `swapped`: wires of two sensors exchanged; `drift`: error added to
    sensors [K]; `failed`: sensors that are open, short or stuck; `loops`: loops tied to another place's sensor;
    `settings`: settings that differ from what was planned; `relief_blocked`; `compressor_runs_free`: the compressor does
    not wait while outdoor air cools; `spring`: what the damper does when its power goes.
    `misplaced`: sensors that hang in another place's air; `compressor_dead`: called, it does not run. `reheat_stays`: the
    reheat valve never closes further than this; `reheat_dead`: it never opens; `bypass_stands`: its blade does not move
    from this share of its way; `bypass_around`: fully open it lets this share of the supply around the coil;
    `dry_call_dead`: the sequence never hears that it is damp.
    """

    stuck_at: float | None = None
    reversed: bool = False
    slip: float = 1.0
    loose_at: float | None = None
    misplaced: dict[str, str] = field(default_factory=dict)
    compressor_dead: bool = False
    swapped: tuple[str, str] | None = None
    drift: dict[str, float] = field(default_factory=dict)
    failed: dict[str, str] = field(default_factory=dict)
    loops: dict[str, str] = field(default_factory=dict)
    settings: dict[str, float | str | bool] = field(default_factory=dict)
    relief_blocked: bool = False
    compressor_runs_free: bool = False
    spring: str = "closes"
    closed_leak: float | None = None
    reheat_stays: float = 0.0
    reheat_dead: bool = False
    bypass_stands: float | None = None
    bypass_around: float | None = None
    dry_call_dead: bool = False


@dataclass(frozen=True)
class Weather:
    """Outdoor air over the day: mean and swing of the dry bulb [°C], humidity ratio; unrest by seed."""

    mean_c: float = 22.0
    swing_k: float = 6.0
    humidity_ratio: float = 0.009
    unrest_k: float = 0.3

    def at(self, time_s: float, phases: tuple[float, ...]) -> tuple[float, float]:
        """Dry bulb [°C] and humidity ratio at a time; the warmest hour is three in the afternoon."""
        day = sin(2 * pi * (time_s / 86_400 - 0.375))
        unrest = sum(
            sin(2 * pi * time_s / period + phase) for period, phase in zip((2111.0, 5303.0, 9001.0), phases, strict=True)
        )
        return self.mean_c + self.swing_k * day + self.unrest_k * unrest / 3, self.humidity_ratio


def phases_of(random: Random) -> tuple[float, ...]:
    """Phases of the weather's unrest."""
    return tuple(random.uniform(0, 2 * pi) for _ in range(3))

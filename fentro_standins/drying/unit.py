"""A rooftop unit with reheat or a return bypass, drawn by its seed: build, weather, room, sensors, size of its hidden fault."""

from __future__ import annotations

from random import Random

from fentro_core.economizer.configuration import Configuration
from fentro_standins.rooftop.build import Build, Faults, Weather
from fentro_standins.rooftop.unit import RooftopUnit

_REHEAT = ("reheat_stuck_on", "reheat_dead")
_BYPASS = ("bypass_stuck_open", "bypass_blocked", "bypass_too_far")
FAULTS = {
    "reheat": (*_REHEAT, "call_dead"),
    "bypass": (*_BYPASS, "call_dead"),
    "both": (*_REHEAT, *_BYPASS, "call_dead"),
}
"""What may be hidden in a unit with reheat, with a bypass, with both."""

W_PER_K = 1.2 * 1006.0


def drying_unit(seed: int, kind: str, fault: str = "") -> RooftopUnit:
    """Every number that a technician does not know is drawn: coil, blower, reheat, what a damper lets through, the weather."""
    draw = Random(seed * 7919 + 11)
    supply = draw.uniform(1.4, 2.4)
    share = draw.uniform(0.15, 0.40)
    build = Build(
        supply_m3s=supply,
        cooling_w=supply * draw.uniform(16_000.0, 22_000.0),
        bypass=draw.uniform(0.06, 0.20),
        fan_heat_k=draw.uniform(0.3, 1.8),
        closed_leak=draw.uniform(0.01, 0.05),
        room_w_per_k=draw.uniform(500.0, 1400.0),
        gains_w=draw.uniform(5_000.0, 14_000.0),
        wet_gains_kg_s=draw.uniform(2e-4, 2.5e-3),
        reheat_w=supply * W_PER_K * draw.uniform(4.5, 11.0) if kind != "bypass" else 0.0,
        around_open=share if kind != "reheat" else 0.0,
        around_shut=draw.uniform(0.0, 0.06),
    )
    weather = Weather(draw.uniform(16.0, 34.0), draw.uniform(1.0, 5.0), draw.uniform(0.008, 0.016))
    stays, wide = draw.uniform(0.55, 1.0), draw.uniform(0.65, 0.85)
    faults = {
        "": Faults(),
        "reheat_stuck_on": Faults(reheat_stays=stays),
        "reheat_dead": Faults(reheat_dead=True),
        "bypass_stuck_open": Faults(bypass_stands=1.0),
        "bypass_blocked": Faults(bypass_stands=0.0),
        "bypass_too_far": Faults(bypass_around=wide),
        "call_dead": Faults(dry_call_dead=True),
    }[fault]
    setting = Configuration(minimum_position=draw.uniform(0.08, 0.30), stages=draw.choice((1, 2)))
    unit = RooftopUnit(seed, build, setting, faults, weather, draw.uniform(9.0, 15.0) * 3600, draw.uniform(21.0, 27.0))
    unit.advance(900.0, 5.0)
    return unit

"""A unit with reheat or a return bypass, drawn by its seed: what three probes would show on each call, with hidden faults."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from random import Random

from fentro_core.moisture.proof import DryingTestKind

FAULTS = {
    "reheat": ("reheat_stuck_on", "reheat_dead"),
    "bypass": ("bypass_stuck_open", "bypass_blocked", "bypass_too_far"),
    "both": ("call_dead",),
}


@dataclass(frozen=True)
class Air:
    """What is so at the three places [°C], and whether the compressor runs."""

    return_c: float
    after_c: float
    supply_c: float
    runs: bool


class DryingUnit:
    """One unit. Every number that a technician does not know is drawn: coil, blower, reheat, what a damper lets through."""

    def __init__(self, seed: int, faults: Collection[str] = ()) -> None:
        draw = Random(seed * 7919 + 11)
        self.faults = frozenset(faults)
        self.return_c = draw.uniform(21.0, 27.0)
        self.cools_k = draw.uniform(8.0, 14.0)
        self.fan_k = draw.uniform(0.3, 1.8)
        self.reheat_k = draw.uniform(4.5, 11.0)
        self.stuck_at = draw.uniform(0.55, 1.0)
        self.share = draw.uniform(0.15, 0.4)
        self.leaks = draw.uniform(0.0, 0.06)
        self.wide = draw.uniform(0.65, 0.85)

    def shows(self, test: DryingTestKind) -> Air:
        """On one call, once everything stands."""
        called = not (test == "dehumidify" and "call_dead" in self.faults)
        cools = self.cools_k if called else 0.0
        around = self._around(test)
        cools *= 1 + 0.6 * around
        after = self.return_c - cools
        mixed = around * self.return_c + (1 - around) * after
        return Air(self.return_c, after, mixed + self.fan_k + self._reheat(test), called)

    def _around(self, test: DryingTestKind) -> float:
        if "bypass_blocked" in self.faults:
            return self.leaks / 3
        wanted = self.share if test == "bypass_open" else self.leaks
        if "bypass_too_far" in self.faults and test == "bypass_open":
            return self.wide
        return max(wanted, self.share) if "bypass_stuck_open" in self.faults else wanted

    def _reheat(self, test: DryingTestKind) -> float:
        if "reheat_dead" in self.faults:
            return 0.0
        on = test == "reheat" or (test == "dehumidify" and "call_dead" not in self.faults)
        if "reheat_stuck_on" in self.faults:
            return self.reheat_k * (1.0 if on else self.stuck_at)
        return self.reheat_k if on else 0.0

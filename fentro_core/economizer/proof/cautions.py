"""What is said beside a step that can hurt somebody, or the machine."""

from __future__ import annotations

from fentro_core.economizer.proof.day import Day

LOCK_OUT = "Lock out and tag the power before a hand goes near dampers, linkage or blower. Capacitors hold charge."
FREEZE = "Frost: cold mixed air can burst a water coil. Not with water in the coil; stop when the mixed air nears freezing."
UNGUARDED = (
    "While the mixed-air sensor is overridden, freeze protection is blind: read the mixed air yourself, and keep it short."
)
HOT = "Hot, humid air goes to the rooms meanwhile. Tell the occupants, and keep it short."
COMPRESSOR = "Don't let the compressor start more often than its maker allows: wait its rest time."
MOVING = "The damper moves by itself. Keep fingers and tools out of the blades and the linkage."
HEATING = "The heat exchanger gets hot. Gas heat: a carbon monoxide alarm at hand; combustion is a licensed person's."
PRESSURE = "Doors may get hard to open or swing out by themselves: keep exits clear and watched."
ELECTRIC = "Low-voltage wires only. Check for voltage before you touch, and mark each wire before you pull it."


def cold(day: Day) -> tuple[str, ...]:
    """Of frost, where the mixed air may get near it."""
    return (FREEZE,) if day.outdoor_c < 6 else ()


def hot(day: Day) -> tuple[str, ...]:
    """Of hot air to the rooms, where outdoor air is warmer than theirs."""
    return (HOT,) if day.outdoor_c > day.return_c else ()

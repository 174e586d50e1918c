"""A duct to one room, as the air path knows it."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Branch:
    """A duct to one room: its floor, diameter and length."""

    room: str
    floor: str = ""
    diameter_m: float | None = None
    run_m: float | None = None

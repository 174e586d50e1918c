"""What Fentro asks of a ventilator's control. A simulated one implements it (`fentro_standins.ventilator`); a gateway can."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Protocol

from fentro_core.system.fresh_air import VentilatorControl

HELD: Mapping[str, tuple[float, float, str]] = {
    "run": (0.0, 1.0, "count"),
    "outdoor_c": (-60.0, 70.0, "temperature"),
    "dew_point_c": (-60.0, 40.0, "temperature"),
    "indoor_rh": (0.0, 1.0, "relative_humidity"),
}
"""What can be held at a control: least, most, kind. `run`: 1 it is called, 0 it rests; the others stand for its sensors."""


class VentilatorGateway(Protocol):
    """A ventilator's control. Values are SI; what is held stays until it is released.

    A lockout has the last word: called by hand, it stays off all the same. Every call may raise `DeviceRefused` or `DeviceGone`.
    """

    def points(self) -> Mapping[str, Any]:
        """What the control shows now.

        ``time_s`` its own clock; ``fan``, ``blower`` (bool; `blower` None: it drives none); ``damper``: ``open``, ``shut``,
        ``moving``, None without one; ``outdoor_c`` by its own sensor; ``locked``: which lockout keeps it off (``low``, ``high``,
        ``dew``, ``humid``, "" none); ``boost_left_s``; ``run_s``: how long it was on so far; ``held``: what is held.
        """

    def settings(self) -> VentilatorControl:
        """What it is set to."""

    def enter(self, control: VentilatorControl) -> None:
        """Set it to something else."""

    def hold(self, point: str, value: float) -> None:
        """Hold one of `HELD`."""

    def release(self, point: str) -> None:
        """Let it go; releasing what is not held is harmless."""

    def boost(self) -> None:
        """Start a boost; it returns by itself."""

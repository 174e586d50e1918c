"""What Fentro asks of a zone board. A simulated one implements it (`fentro_standins.zones`); a real gateway can."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal, Protocol

Indicator = Literal["open", "shut", "moving", "dark"]
ControlState = Literal["answers", "no_signal", "battery"]

INDICATORS: Mapping[str, str] = {"open": "open", "shut": "shut", "moving": "moving", "dark": "dark"}
CONTROL_STATES: Mapping[str, str] = {"answers": "answers", "no_signal": "no signal", "battery": "battery low"}


class ZoneBoard(Protocol):
    """A board with numbered zones, 1 to 8, in the order in which they stand on the plan.

    Values are SI. A zone that is held stays called, or not called, until it is released; then its control point decides again.
    Every call may raise `DeviceRefused` (it will not) or `DeviceGone` (it does not answer).
    """

    def points(self) -> Mapping[str, Any]:
        """What the board shows now.

        ``time_s`` its own clock; ``zones``: by number, each with ``calls`` (bool), ``indicator`` (`INDICATORS`), ``control``
        (`CONTROL_STATES`), ``room_c`` (None without a signal), ``held`` (bool); ``fan`` (bool); ``supply_c``; ``volts`` of its
        transformer.
        """

    def call(self, zone: int, calls: bool) -> None:
        """Hold a zone: called, or not."""

    def release(self, zone: int) -> None:
        """Let it go; releasing what is not held is harmless."""

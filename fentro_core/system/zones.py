"""Zones of a system: rooms that one control point commands together, and the board that moves their dampers."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from fentro_core.base import fields
from fentro_core.base.limits import within
from fentro_core.base.refusal import Refused

LONGEST_WORDS = 80
School = Literal["no_bypass", "bypass"]
ZoneDamper = Literal["power", "spring", "inflatable"]


@dataclass(frozen=True, kw_only=True)
class Zone:
    """Rooms that one control point commands together, on any floors.

    Attributes
    ----------
    id, name
        Made where it was noted, and as it is called.
    rooms
        Ids of its branches. A room belongs to one zone; one in none is always open.
    damper
        What shuts its rooms: driven open and shut, driven one way against a spring, or inflated.
    least_open
        Share of the stroke that its dampers keep open while it does not call, 0 to 0.5. An inflatable one has no such stop.
    dump
        It may always take what the others do not: open whenever the unit runs.
    control
        Where its control point is.
    wireless
        Its control point has a battery and a radio.
    cable_m
        Of its farthest damper, one way [m].
    damper_va
        What one of its dampers draws while it moves [VA].
    """

    id: str
    name: str
    rooms: tuple[str, ...] = ()
    damper: ZoneDamper = "power"
    least_open: float = 0.0
    dump: bool = False
    control: str = ""
    wireless: bool = False
    cable_m: float | None = None
    damper_va: float | None = None

    def check(self) -> None:
        """Refuse what no zone is."""
        if not self.id.strip() or len(self.id) > LONGEST_WORDS:
            raise Refused("A zone needs an id, under 80 letters.", "id")
        if not self.name.strip():
            raise Refused("Give the zone a name.", "name")
        for name in ("name", "control"):
            if len(getattr(self, name)) > LONGEST_WORDS:
                raise Refused("Keep it under 80 letters.", name)
        if len(set(self.rooms)) < len(self.rooms):
            raise Refused("A room stands twice in this zone.", "rooms")
        if not 0 <= self.least_open <= 0.5:
            raise Refused("Dampers keep 0 to 50 % open.", "least_open")
        if self.damper == "inflatable" and self.least_open:
            raise Refused("An inflatable damper is open or shut: it keeps nothing open.", "least_open")
        for name, most in (("cable_m", 300.0), ("damper_va", 100.0)):
            value = getattr(self, name)
            if value is not None and not 0 < value <= most:
                raise Refused("This must be above zero and at most {high}.", name, high=(most, fields.kind_of(name)))


_MOST: Mapping[str, float] = {"board_va": 200.0, "control_va": 200.0, "rated_va": 1000.0, "supply_v": 240.0}


@dataclass(frozen=True)
class ZoneHardware:
    """The board and what feeds it; the school; what each measure would cost, in the user's money.

    `ports`: of an inflation manifold. `supply_limit_c`: at which the unit is stopped. `board`: its name at the gateway, where it
    is connected.
    """

    school: School = "no_bypass"
    board_va: float | None = None
    control_va: float | None = None
    rated_va: float | None = None
    supply_v: float = 24.0
    ports: int | None = None
    supply_limit_c: float | None = None
    costs: dict[str, float] | None = None
    board: str = ""

    def check(self) -> None:
        """Refuse what no board is."""
        for name, most in _MOST.items():
            value = getattr(self, name)
            if value is not None and not 0 < value <= most:
                raise Refused("This must be above zero and at most {high}.", name, high=(most, fields.kind_of(name)))
        if self.ports is not None and not 0 < self.ports <= 100:
            raise Refused("A manifold has 1 to 100 ports.", "ports")
        if self.supply_limit_c is not None:
            within(self.supply_limit_c, (-20.0, 90.0), "supply_limit_c", "temperature")
        if len(self.board) > 80:
            raise Refused("Keep it under 80 letters.", "board")
        for key, cost in (self.costs or {}).items():
            if not 0 <= cost <= 1e9:
                raise Refused("A cost can't be below zero.", f"costs.{key}")

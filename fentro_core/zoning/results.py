"""What the pages of the zones show."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.system.ducts import Zone
from fentro_core.zoning.entries import Slot, ZoneHardware, ZoneOverride
from fentro_core.zoning.hardware import HardwareSheet


@dataclass(frozen=True)
class ZoneRoom:
    """A room that can be put into a zone."""

    branch: str
    called: str
    zone: str


@dataclass(frozen=True)
class ZoneLine:
    """A zone: its flow when it calls alone, its week, overrides in their order."""

    zone: Zone
    alone: Quantity | None
    slots: tuple[Slot, ...] = ()
    overrides: tuple[ZoneOverride, ...] = ()


@dataclass(frozen=True)
class RoomAir:
    """Air of a room in a combination; `loud`: over its limit of speed."""

    branch: str
    airflow: Quantity


@dataclass(frozen=True)
class CombinationLine:
    """Zones that call together: what the blower works against, the coil's share of its least flow, the loudest room."""

    calling: tuple[str, ...]
    names: tuple[str, ...]
    total: Quantity
    external: Quantity
    coil: Quantity | None
    loudest: str
    speed: Quantity
    limit: Quantity
    beyond_table: bool
    mark: Mark
    words: Sentence
    rooms: tuple[RoomAir, ...] = ()


@dataclass(frozen=True)
class OptionLine:
    """A measure: what it leaves at worst, why, what it costs."""

    key: str
    name: str
    sentence: Sentence
    mark: Mark
    worst_static: Quantity
    worst_coil: Quantity | None
    worst_speed: Quantity
    capacity_lost: Quantity | None = None
    bypass: Quantity | None = None
    bypass_diameter: Quantity | None = None
    mixed_return: Quantity | None = None
    supply_end: Quantity | None = None
    cost: float | None = None
    proposed: bool = False


@dataclass(frozen=True)
class ZoningPage:
    """Everything of the zones that follows from a visit's logbook."""

    rooms: tuple[ZoneRoom, ...] = ()
    zones: tuple[ZoneLine, ...] = ()
    combinations: tuple[CombinationLine, ...] = ()
    options: tuple[OptionLine, ...] = ()
    proposal: Sentence | None = None
    limits: tuple[Sentence, ...] = ()
    trouble: Sentence | None = None
    hardware: HardwareSheet | None = None
    given: ZoneHardware | None = None

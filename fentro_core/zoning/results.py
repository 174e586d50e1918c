"""What the pages of the zones show."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.system.zones import Zone, ZoneHardware
from fentro_core.zoning.entries import Slot, ZoneOverride
from fentro_core.zoning.hardware import HardwareSheet
from fentro_core.zoning.proof.step import Due, ZoneTestSeen


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
class RoomDue:
    """What is due at a room's register in a test; `faint`: so little by the model that a hand may miss it."""

    branch: str
    called: str
    zone: str
    due: Due
    faint: bool = False


@dataclass(frozen=True)
class ZoneDue:
    """What the board should show for a zone in a test."""

    zone: str
    name: str
    calls: bool
    indicator: str


@dataclass(frozen=True)
class ZoneTestLine:
    """A test, what is due, what was seen of it last, and the verdict. `again`: something of it fits nothing: repeat it."""

    key: str
    kind: str
    title: str
    do: Sentence
    asks: tuple[str, ...]
    rooms: tuple[RoomDue, ...]
    zones: tuple[ZoneDue, ...]
    mark: Mark
    words: Sentence
    zone: str = ""
    seen: ZoneTestSeen | None = None
    entry: str = ""
    again: bool = False


@dataclass(frozen=True)
class ZoneSuspect:
    """What may be wrong, where, how sure; what to do and who may."""

    name: str
    do: str
    who: str
    sure: Quantity


@dataclass(frozen=True)
class ZoneProof:
    """Every test, and what all of them say together."""

    tests: tuple[ZoneTestLine, ...]
    mark: Mark
    words: Sentence
    suspects: tuple[ZoneSuspect, ...] = ()
    done: int = 0


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
    proof: ZoneProof | None = None

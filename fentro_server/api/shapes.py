"""What the work routes take and give."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from pydantic import BaseModel, Field

from fentro_core.system.nameplate import NameplateLine
from fentro_core.base.quantity import Quantity
from fentro_core.visit.results import WorkUp
from fentro_server.api.errors import Refusal

LARGEST_BATCH = 500


class SystemLine(BaseModel):
    """A system in a list."""

    id: UUID
    name: str
    site: str
    kind: str
    kind_name: str
    location: str


class MainNumber(BaseModel):
    """One headline result of a visit."""

    key: str
    name: str
    quantity: Quantity


class VisitLine(BaseModel):
    """A visit in a list: what it is about, what is left, its main numbers."""

    id: UUID
    system: SystemLine
    technician: str
    mine: bool
    purpose: str
    opened_at: datetime
    closed_at: datetime | None
    next_step: str
    next_step_name: str
    left: list[str]
    numbers: list[MainNumber]
    worst: str | None


class DaySheet(BaseModel):
    """Open visits first, then those of today; and every system, to start one."""

    open: list[VisitLine]
    today: list[VisitLine]
    systems: list[SystemLine]


class SystemPage(BaseModel):
    """A system with its plate in words and its visits."""

    system: SystemLine
    elevation: Quantity
    pressure: Quantity
    climate_zone: str
    plate: list[NameplateLine]
    visits: list[VisitLine]


class InstrumentLine(BaseModel):
    """An instrument to read with."""

    id: UUID
    name: str
    kind: str
    serial: str
    quantities: list[str]
    calibration_due_on: str | None
    overdue: bool
    mine: bool


class EntryOut(BaseModel):
    """An entry of a logbook."""

    id: UUID
    kind: str
    phase: str
    at: datetime
    by: str
    body: dict[str, Any]
    replaces: UUID | None
    reason: str


class VisitPage(BaseModel):
    """A visit with its logbook and everything worked out from it. `economizer`: the plate says it has outdoor-air dampers.

    Traces of functional tests are left out here: they come with the economizer's page.
    """

    id: UUID
    system: SystemLine
    technician: str
    purpose: str
    opened_at: datetime
    closed_at: datetime | None
    may_write: bool
    economizer: bool
    entries: list[EntryOut]
    work_up: WorkUp


class NewVisit(BaseModel):
    """A visit to start. The id is made by the device: starting twice is starting once."""

    id: UUID
    system: UUID
    purpose: str = Field("", max_length=500)


class Batch(BaseModel):
    """Entries to add, in order, each as the core reads them (see the snapshot's JSON Schema)."""

    entries: list[Any] = Field(..., max_length=LARGEST_BATCH)


class RefusedEntry(BaseModel):
    """An entry that was not taken, and why."""

    index: int
    id: str
    refusal: Refusal


class Receipt(BaseModel):
    """What became of a batch. Accepted means committed."""

    accepted: list[UUID]
    refused: list[RefusedEntry]
    visit: VisitPage

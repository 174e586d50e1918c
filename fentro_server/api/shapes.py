"""What the work routes take and give."""

from __future__ import annotations

from datetime import datetime
from functools import reduce
from operator import or_
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field, create_model

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.instruments.instrument import Accuracy
from fentro_core.logbook.entry import Phase
from fentro_core.logbook.kinds import EntryKind, all_kinds
from fentro_core.system.nameplate import NameplateLine
from fentro_core.visit.results import WorkUp
from fentro_server.api.errors import Refusal

LARGEST_BATCH = 500


class SystemLine(BaseModel):
    """A system in a list. `practice`: made up, to practise on."""

    id: UUID
    name: str
    site: str
    site_id: UUID
    kind: str
    kind_name: str
    location: str
    practice: bool = False


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
    trouble: Sentence | None
    cancelled: bool = False


class VisitLines(BaseModel):
    """A page of visits; `more`: from where the next page begins (`before`), None at the end."""

    visits: list[VisitLine]
    more: str | None


class SystemLines(BaseModel):
    """A page of systems; `more`: from where the next page begins (`after`), None at the end."""

    systems: list[SystemLine]
    more: str | None


class DaySheet(BaseModel):
    """Open visits first, then those of today; and systems, to start one. Of each the first page, and where the next begins."""

    open: list[VisitLine]
    more_open: str | None
    today: list[VisitLine]
    more_today: str | None
    systems: list[SystemLine]
    more_systems: str | None


class SystemPage(BaseModel):
    """A system with its plate in words and its visits; `followed`: it has numbers that are followed over them.

    `head`: site and system of a visit's snapshot, so that a device can begin one without signal. `held`: who holds its
    controller, in words.
    """

    system: SystemLine
    head: dict[str, Any]
    elevation: Quantity
    pressure: Quantity
    climate_zone: str
    plate: list[NameplateLine]
    visits: list[VisitLine]
    more_visits: str | None
    followed: bool
    held: list[str] = []


class InstrumentLine(BaseModel):
    """An instrument to read with."""

    id: UUID
    name: str
    kind: str
    serial: str
    quantities: list[str]
    accuracy: dict[str, Accuracy]
    calibrated_on: str | None
    calibration_due_on: str | None
    overdue: bool
    mine: bool
    first_for: list[str]


class EntryHead(BaseModel):
    """What every entry of a logbook has besides its kind and body. `at` by the device's clock, `received_at` by the server's.

    `core`: which core judged it when it was made; empty where that is not known.
    """

    id: UUID
    phase: Phase
    at: datetime
    received_at: datetime
    by: str
    replaces: UUID | None
    reason: str
    core: str


def _entry_model(kind: EntryKind) -> type[BaseModel]:
    """An entry of one kind."""
    name = "".join(word.capitalize() for word in kind.key.split("_"))
    return create_model(
        f"{name}Entry", __base__=EntryHead, __doc__=kind.name, kind=(Literal[kind.key], ...), body=(kind.body, ...)
    )


_ENTRY_MODELS = [_entry_model(kind) for kind in all_kinds().values()]

AnyEntry = Annotated[reduce(or_, _ENTRY_MODELS), Field(discriminator="kind")]
"""An entry of a logbook: its kind says what its body is."""


class LeftOutEntry(BaseModel):
    """An entry that the visit can't be worked out with, and why: it can be taken back."""

    model_config = ConfigDict(from_attributes=True)

    entry: UUID
    words: Sentence


class VisitHead(BaseModel):
    """What a visit is. `number`: of its last entry; `after`: the number after which its entries are answered.

    `head`: the visit's snapshot without instruments and entries; with them a device works the visit out itself.
    `core`: which core worked it out here.
    """

    id: UUID
    system: SystemLine
    technician: str
    purpose: str
    opened_at: datetime
    closed_at: datetime | None
    may_write: bool
    after: int
    number: int
    core: str
    head: dict[str, Any]


class VisitPage(VisitHead):
    """A visit with everything worked out from it, and its logbook.

    What is large in an entry (a functional test's trace) is left out here: it comes with its part's page.
    `left_out`: entries that can't be worked with.
    """

    left_out: list[LeftOutEntry]
    work_up: WorkUp
    entries: list[AnyEntry]


class VisitNews(VisitHead):
    """What came to a visit since the device last heard of it, for one that works it out itself."""

    entries: list[AnyEntry]


class NewVisit(BaseModel):
    """A visit to start. The id is made by the device: starting twice is starting once.

    `opened_at`: when it began, where that was without signal; it counts if it lies within the last thirty days.
    """

    id: UUID
    system: UUID
    purpose: str = Field("", max_length=500)
    opened_at: datetime | None = None


class Batch(BaseModel):
    """Entries to add, in order, each as the core reads them (see the snapshot's JSON Schema).

    `after`: the number of the last entry that the device has; 0 for none. `core`: with the server's own core the device works the
    visit out itself, and is answered without it. `weigh`: causes are weighed before the answer; else whoever asks for the visit
    later gets them.
    """

    entries: list[Any] = Field(..., max_length=LARGEST_BATCH)
    after: int = Field(0, ge=0, lt=2**31)
    core: str = Field("", max_length=40)
    weigh: bool = True


class RefusedEntry(BaseModel):
    """An entry that was not taken, and why. `closed`: only because the visit is closed; a reopening lets it in."""

    index: int
    id: str
    refusal: Refusal
    closed: bool = False


class ReceiptHead(BaseModel):
    """What became of a batch. Accepted means committed."""

    accepted: list[UUID]
    refused: list[RefusedEntry]


class Receipt(ReceiptHead):
    """The same with the visit after it: worked out, and the entries after the number that was given.

    Without a visit when nothing can be worked out there (its site or its nameplate can't be right), or when the device does it
    itself: then `news` are what it needs for that.
    """

    visit: VisitPage | None
    news: VisitNews | None

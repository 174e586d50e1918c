"""Instruments: what reads what and how well, who has which, when each is due for calibration."""

from __future__ import annotations

from datetime import date
from typing import Any
from uuid import UUID

from django.db import IntegrityError, transaction
from django.http import Http404, HttpRequest
from django.utils import timezone
from ninja import Router, Status
from pydantic import BaseModel, Field

from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import read, write
from fentro_core.instruments.instrument import ACCURACY_CLASSES, Accuracy, Candidate, first_choice
from fentro_core.instruments.quantities import READABLE
from fentro_server.accounts.models import Person, Role
from fentro_server.api.access import may_record, person_of
from fentro_server.api.errors import NotAllowed, Problem, plain
from fentro_server.api.places import USED
from fentro_server.api.shapes import InstrumentLine
from fentro_server.instruments.models import Instrument
from fentro_server.places.naming import name_of, under_a_free_name

router = Router(tags=["instruments"])


class AccuracyClass(BaseModel):
    """An ordinary class of instruments, to start from."""

    key: str
    name: str
    kind: str
    accuracy: dict[str, Accuracy]


class InstrumentPage(BaseModel):
    """An instrument with its accuracy, who has it, and its calibration."""

    id: UUID
    name: str
    kind: str
    serial: str
    accuracy: dict[str, Accuracy]
    calibrated_on: date | None
    calibration_due_on: date | None
    overdue: bool
    due_soon: bool
    held_by: str
    mine: bool


class InstrumentList(BaseModel):
    """All instruments in use, what to start a new one from, and whether this person may change them."""

    instruments: list[InstrumentPage]
    classes: list[AccuracyClass]
    may_change: bool


class NewInstrument(BaseModel):
    """An instrument to add, its accuracy by class. With an id made by a device: adding twice is adding once."""

    id: UUID | None = None
    name: str = Field(..., min_length=1, max_length=80)
    accuracy_class: str
    serial: str = Field("", max_length=80)
    calibrated_on: date | None = None
    calibration_due_on: date | None = None


class Calibration(BaseModel):
    """When it was calibrated, and when it is due again."""

    calibrated_on: date
    calibration_due_on: date


SOON_DAYS = 30


def _instrument(row: Instrument, person: Person) -> InstrumentPage:
    today = timezone.now().date()
    due = row.calibration_due_on
    return InstrumentPage(
        id=row.pk,
        name=row.name,
        kind=row.kind,
        serial=row.serial,
        accuracy=read(row.accuracy, dict[str, Accuracy]),
        calibrated_on=row.calibrated_on,
        calibration_due_on=due,
        overdue=bool(due and due < today),
        due_soon=bool(due and 0 <= (due - today).days <= SOON_DAYS),
        held_by=row.held_by.name if row.held_by else "",
        mine=row.held_by_id == person.pk,
    )


def _leads(person: Person) -> None:
    if person.role != Role.LEAD:
        raise NotAllowed("Only a lead writes down calibrations.")


def _owned(person: Person, instrument_id: UUID) -> Instrument:
    found = Instrument.objects.of(person.company_id).select_related("held_by").filter(pk=instrument_id, in_use=True).first()
    if found is None:
        raise Http404
    return found


@router.get("/instruments", response=list[InstrumentLine])
def instruments(request: HttpRequest) -> list[InstrumentLine]:
    """Instruments in use; the person's own first. `first_for`: what each is the first choice for in this person's hands."""
    person = person_of(request)
    today = timezone.now().date()
    rows = list(Instrument.objects.of(person.company_id).filter(in_use=True))
    overdue = {row.pk: bool(row.calibration_due_on and row.calibration_due_on < today) for row in rows}
    candidates = [
        Candidate(str(row.pk), row.kind, tuple(row.accuracy), overdue[row.pk], row.held_by_id == person.pk)
        for row in sorted(rows, key=lambda row: row.name)
    ]
    first = {quantity: first_choice(quantity, candidates) for quantity in READABLE}
    lines = [
        InstrumentLine(
            id=row.pk,
            name=row.name,
            kind=row.kind,
            serial=row.serial,
            quantities=sorted(row.accuracy),
            accuracy=read(row.accuracy, dict[str, Accuracy]),
            calibrated_on=row.calibrated_on.isoformat() if row.calibrated_on else None,
            calibration_due_on=row.calibration_due_on.isoformat() if row.calibration_due_on else None,
            overdue=overdue[row.pk],
            mine=row.held_by_id == person.pk,
            first_for=[quantity for quantity, chosen in first.items() if chosen == str(row.pk)],
        )
        for row in rows
    ]
    return sorted(lines, key=lambda line: (not line.mine, line.name))


@router.get("/instruments/list", response=InstrumentList)
def instrument_list(request: HttpRequest) -> InstrumentList:
    """Every instrument in use: overdue ones first, then by name."""
    person = person_of(request)
    rows = Instrument.objects.of(person.company_id).filter(in_use=True).select_related("held_by")
    pages = [_instrument(row, person) for row in rows]
    return InstrumentList(
        instruments=sorted(pages, key=lambda page: (not page.overdue, not page.due_soon, page.name)),
        classes=[
            AccuracyClass(key=key, name=name, kind=kind, accuracy=accuracy)
            for key, (name, kind, accuracy) in ACCURACY_CLASSES.items()
        ],
        may_change=person.role == Role.LEAD,
    )


@router.post("/instruments", response={200: InstrumentPage, 403: Problem, 409: Problem, 422: Problem})
def add_instrument(request: HttpRequest, given: NewInstrument) -> Any:
    """Add an instrument of an accuracy class: a lead for the company, a technician what he has in his hands."""
    person = person_of(request)
    may_record(person)
    if given.accuracy_class not in ACCURACY_CLASSES:
        raise Refused("Choose an accuracy class.", "accuracy_class")
    _, kind, accuracy = ACCURACY_CLASSES[given.accuracy_class]
    _check_dates(given.calibrated_on, given.calibration_due_on)
    known = Instrument.objects.select_related("held_by").filter(pk=given.id).first() if given.id else None
    if known is not None:
        return _instrument(known, person) if known.company_id == person.company_id else Status(409, plain(USED, "id"))

    def make(name: str) -> Instrument:
        return Instrument.objects.create(
            **({"pk": given.id} if given.id else {}),
            company_id=person.company_id,
            name=name,
            kind=kind,
            serial=given.serial.strip(),
            accuracy={quantity: write(figure) for quantity, figure in accuracy.items()},
            calibrated_on=given.calibrated_on,
            calibration_due_on=given.calibration_due_on,
            held_by=person if person.role == Role.TECHNICIAN else None,
        )

    name = name_of(given.name)
    if given.id:
        return _instrument(under_a_free_name(make, name), person)
    try:
        with transaction.atomic():
            return _instrument(make(name), person)
    except IntegrityError:
        raise Refused("There is an instrument of this name already.", "name") from None


def _check_dates(calibrated: date | None, due: date | None) -> None:
    if calibrated and calibrated > timezone.now().date():
        raise Refused("The last calibration can't lie ahead.", "calibrated_on")
    if calibrated and due and due <= calibrated:
        raise Refused("The next calibration must be after the last.", "calibration_due_on")


@router.post("/instruments/{instrument_id}/calibration", response={200: InstrumentPage, 403: Problem, 404: Problem, 422: Problem})
def calibrate(request: HttpRequest, instrument_id: UUID, given: Calibration) -> Any:
    """Write down a calibration."""
    person = person_of(request)
    row = _owned(person, instrument_id)
    _leads(person)
    _check_dates(given.calibrated_on, given.calibration_due_on)
    row.calibrated_on, row.calibration_due_on = given.calibrated_on, given.calibration_due_on
    row.save(update_fields=["calibrated_on", "calibration_due_on"])
    return _instrument(row, person)


@router.post("/instruments/{instrument_id}/taken", response={200: InstrumentPage, 403: Problem, 404: Problem})
def take_instrument(request: HttpRequest, instrument_id: UUID) -> Any:
    """I have it."""
    person = person_of(request)
    row = _owned(person, instrument_id)
    may_record(person)
    row.held_by = person
    row.save(update_fields=["held_by"])
    return _instrument(row, person)

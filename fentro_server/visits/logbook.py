"""Appending to a logbook: idempotent, one refusal never holds up the other entries. The core decides, this locks and stores."""

from __future__ import annotations

import logging
from collections.abc import Callable, Container, Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import UTC
from functools import partial
from typing import Any
from uuid import UUID

from django.db import DataError, IntegrityError, connection, transaction
from django.http import Http404
from django.utils import timezone
from django.utils.functional import SimpleLazyObject

from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import write
from fentro_core.base.version import fingerprint
from fentro_core.logbook.accept import LogbookContext, NotAccepted, accept
from fentro_core.logbook.corrections import CorrectedSite, CorrectedSystem, KnownSystem
from fentro_core.logbook.entries import Closing, Reopening
from fentro_core.logbook.entry import Entry as CoreEntry
from fentro_core.logbook.entry import read_entry, standing
from fentro_core.logbook.temporary import HandedOn
from fentro_core.system.kinds import read_nameplate
from fentro_core.visit.worked import Worked
from fentro_server.accounts.models import Person, Role
from fentro_server.instruments.models import Instrument
from fentro_server.places.correcting import correct_site, correct_system, ducts_walked, keep_ducts, keep_fresh_air, keep_night
from fentro_server.prepared import Prepared, insert_and_update
from fentro_server.visits import kept
from fentro_server.visits.chain import link
from fentro_server.visits.kept import Logbook
from fentro_server.visits.lines import LINE_FIELDS, put_line
from fentro_server.visits.models import Entry, Visit
from fentro_server.visits.moving import known_system, move_to

log = logging.getLogger(__name__)

CANT_BE_KEPT = "This entry can't be kept. Enter it anew."


@dataclass
class Appended:
    """What became of a batch: ids that stand in the logbook now, refusals by position, and the visit after it.

    `worked`: None where it can't be worked out, or was not to be.
    """

    visit: Visit
    accepted: list[str] = field(default_factory=list)
    refused: list[tuple[int, str, Refused]] = field(default_factory=list)
    logbook: Logbook = field(default_factory=Logbook)
    worked: Worked | None = None


def append(
    visit_id: UUID,
    person: Person,
    batch: list[Any],
    may: Callable[[Visit], None] = lambda visit: None,
    *,
    work_out: bool = True,
    weigh: bool = True,
) -> Appended:
    """Add a batch to a visit's logbook, in order, in one transaction.

    An entry that is already there counts as accepted, so a repeat is harmless. When this returns inside no other
    transaction, everything accepted is committed. What the database can't keep is refused by itself.

    Parameters
    ----------
    may : callable
        Raises where the person may not add to this visit.
    work_out : bool
        False where the device does that itself: the visit's line is then left to ``manage.py work_lines``.
    weigh : bool
        False where causes can wait: they take as long as all the rest.

    Raises
    ------
    Http404
        There is no such visit in the person's company.
    """
    try:
        return _append(visit_id, person, batch, may, work_out=work_out, weigh=weigh)
    except (DataError, IntegrityError, UnicodeError):
        if connection.in_atomic_block:
            raise
        log.exception("a batch can't be kept as a whole")
    return _one_by_one(visit_id, person, batch, may, work_out, weigh)


def _one_by_one(
    visit_id: UUID, person: Person, batch: list[Any], may: Callable[[Visit], None], work_out: bool, weigh: bool
) -> Appended:
    accepted: list[str] = []
    refused: list[tuple[int, str, Refused]] = []
    for index, given in enumerate(batch):
        try:
            done = _append(visit_id, person, [given], may, work_out=False, alone=True)
        except (DataError, IntegrityError, UnicodeError):
            refused.append((index, _id_of(given), Refused(CANT_BE_KEPT)))
        else:
            accepted += done.accepted
            refused += [(index, given_id, refusal) for _, given_id, refusal in done.refused]
    done = _append(visit_id, person, [], may, work_out=work_out, weigh=weigh)
    done.accepted, done.refused = accepted, refused
    return done


def _append(
    visit_id: UUID,
    person: Person,
    batch: list[Any],
    may: Callable[[Visit], None],
    *,
    work_out: bool,
    weigh: bool = False,
    alone: bool = False,
) -> Appended:
    """`alone`: an entry tried by itself after the database refused the batch. Only then is asked whether another visit has it."""
    with transaction.atomic():
        nested = bool(connection.savepoint_ids)
        visit = _locked(visit_id, person)
        may(visit)
        logbook = kept.as_locked(visit, keep=not nested)
        instruments: Any = SimpleLazyObject(partial(_instrument_ids, person))
        done = Appended(visit)
        taken = _taken(batch, logbook) if alone or nested else set()
        fresh = _decide(done, person, batch, logbook, _context(visit, instruments, taken))
        for _, row in fresh:
            visit.chain = row.chain = link(visit.chain or str(visit.pk), row)
        done.logbook = logbook.with_more(kept.kept_entry(row, entry) for entry, row in fresh)
        for entry, _ in fresh:
            _follow(visit, entry)
        if any(isinstance(entry.body, Closing) and not entry.body.cancelled for entry, _ in fresh):
            stood = tuple(standing(done.logbook.entries))
            keep_ducts(visit.system, ducts_walked(visit.system.nameplate.get("ducts"), stood))
            keep_fresh_air(visit.system, stood)
            keep_night(visit.system, stood)
        if work_out:
            done.worked = put_line(visit, done.logbook, _instruments(person, done.logbook.instruments), weigh)
        visit.entries_number = done.logbook.number
        moved = ["system"] if any(isinstance(entry.body, KnownSystem) for entry, _ in fresh) else []
        fields = (*(LINE_FIELDS if work_out else ()), "entries_number", "chain", "closed_at", *moved)
        insert_and_update([row for _, row in fresh], visit, *fields)
        if not nested:
            transaction.on_commit(lambda: kept.shelf.put(visit.pk, done.logbook))
    return done


def _instrument_ids(person: Person) -> set[str]:
    """Of the company's."""
    return {str(pk) for pk in Instrument.objects.of(person.company_id).values_list("pk", flat=True)}


def _instruments(person: Person, named: Iterable[str]) -> dict[str, Instrument]:
    """The company's that are named, by id."""
    wanted = list(named)
    return {str(each.pk): each for each in Instrument.objects.of(person.company_id).filter(pk__in=wanted)} if wanted else {}


_LOCKED: Prepared[Visit] = Prepared(
    lambda company, visit: (
        Visit.objects.of(company).select_related("system__site").select_for_update(of=("self",)).filter(pk=visit)
    ),
    UUID(int=1),
    UUID(int=2),
)


def _locked(visit_id: UUID, person: Person) -> Visit:
    found = _LOCKED.first(person.company_id, visit_id)
    if found is None:
        raise Http404
    if found.technician_id == person.pk:
        found.technician = person
    return found


def _decide(
    done: Appended, person: Person, batch: list[Any], logbook: Logbook, context: LogbookContext
) -> list[tuple[CoreEntry, Entry]]:
    """What the core takes of the batch, each with its row; what it refuses is noted."""
    present = logbook.by_id.grown()
    number = logbook.number
    fresh = []
    for index, given in enumerate(batch):
        try:
            entry = _decided(given, done.visit, person, present, context)
        except Refused as refusal:
            done.refused.append((index, _id_of(given), refusal))
            continue
        except Exception:
            log.exception("an entry can't be decided on")
            done.refused.append((index, _id_of(given), Refused(CANT_BE_KEPT)))
            continue
        if entry.id not in present:
            number += 1
            row = _row(done.visit, person, entry, number)
            entry = replace(entry, at=row.at.isoformat())
            present.add(entry)
            fresh.append((entry, row))
            if isinstance(entry.body, CorrectedSystem):
                plate = read_nameplate(entry.body.kind, entry.body.nameplate)
                context = replace(context, system_kind=entry.body.kind, nameplate=plate)
            elif isinstance(entry.body, KnownSystem):
                context = replace(context, nameplate=known_system(done.visit, entry.body).plate)
        done.accepted.append(entry.id)
    return fresh


def _id_of(given: Any) -> str:
    """The id as it was given, if it can be said again."""
    found = given.get("id") if isinstance(given, dict) else None
    return found if isinstance(found, str) and len(found) <= 64 and found.isprintable() else ""


def _taken(batch: list[Any], logbook: Logbook) -> set[str]:
    """Which of the batch's ids another visit already uses."""
    given = {found for each in batch if isinstance(each, dict) and (found := _as_uuid(each.get("id")))}
    new = [each for each in given if str(each) not in logbook.by_id]
    return {str(each) for each in Entry.objects.filter(id__in=new).values_list("id", flat=True)} if new else set()


def _as_uuid(given: object) -> UUID | None:
    try:
        return UUID(given) if isinstance(given, str) and len(given) <= 64 else None
    except ValueError:
        return None


def _context(visit: Visit, instruments: Container[str], taken: set[str]) -> LogbookContext:
    return LogbookContext(visit.system.kind, visit.system.plate, instruments, taken=taken)


def _decided(given: Any, visit: Visit, person: Person, logbook: Mapping[str, CoreEntry], context: LogbookContext) -> CoreEntry:
    """The entry as the core takes it; raises what the core refuses."""
    if isinstance(given, dict):
        given = {**given, "by": person.name}
    entry = read_entry(given)
    if isinstance(entry.body, HandedOn):
        context = replace(context, colleagues=_colleagues(person))
    if isinstance(entry.body, KnownSystem):
        known_system(visit, entry.body)
    found = accept(entry, logbook, context)
    if isinstance(found, NotAccepted):
        raise found.refusal
    return found.entry


def _colleagues(person: Person) -> dict[str, str]:
    """Everyone of the company who may record: name by id."""
    known = Person.objects.filter(company_id=person.company_id, is_active=True).exclude(role=Role.VIEWER)
    return {str(pk): name for pk, name in known.values_list("pk", "name")}


def _row(visit: Visit, person: Person, entry: CoreEntry, number: int) -> Entry:
    row = Entry(
        id=entry.id,
        visit=visit,
        number=number,
        kind=entry.kind,
        phase=entry.phase,
        at=entry.moment.astimezone(UTC),
        by=person,
        body=write(entry.body),
        replaces_id=entry.replaces,
        reason=entry.reason,
        core=entry.core or fingerprint(),
        received_at=timezone.now(),
    )
    row.by_name = person.name
    return row


def _follow(visit: Visit, entry: CoreEntry) -> None:
    """What else an entry changes: since when the visit is closed, by the server's clock; what is known of system and site."""
    if isinstance(entry.body, Closing):
        visit.closed_at = timezone.now()
    elif isinstance(entry.body, Reopening):
        visit.closed_at = None
    elif isinstance(entry.body, KnownSystem):
        move_to(visit, known_system(visit, entry.body), same=entry.body.same)
    elif isinstance(entry.body, CorrectedSystem):
        correct_system(visit.system, entry.body)
    elif isinstance(entry.body, CorrectedSite):
        correct_site(visit.system.site, entry.body)

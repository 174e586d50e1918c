"""Whether an entry may be added to a logbook. Pure, so that a device without signal decides as the server does."""

from __future__ import annotations

from collections.abc import Container, Iterable, Mapping, Set
from dataclasses import dataclass

from fentro_core.base.refusal import Refused
from fentro_core.logbook.book import others_of
from fentro_core.logbook.entries import Closing, Reading, Reopening
from fentro_core.logbook.entry import Entry, kind_of_entry, standing
from fentro_core.logbook.temporary import HandedOn, check_change
from fentro_core.system.air_path import AirPath
from fentro_core.system.branch import Branch
from fentro_core.system.kinds import air_path
from fentro_core.system.nameplate import Nameplate

CLOSED = "This visit is closed. Reopen it to go on."
SAY_WHY = "Say why the visit is reopened: it stays in the record."
TAKEN = "This entry's number is already used by another entry."


@dataclass(frozen=True)
class LogbookContext:
    """What an entry is held against besides the logbook itself.

    Attributes
    ----------
    system_kind, nameplate
        Of the system visited.
    instruments
        Ids of the company's instruments.
    colleagues
        Who may take a change over, name by id; None where they are not known (a device without signal).
    taken
        Ids that another visit's entries already use.
    """

    system_kind: str
    nameplate: Nameplate
    instruments: Container[str] = frozenset()
    colleagues: Mapping[str, str] | None = None
    taken: Set[str] = frozenset()


@dataclass(frozen=True)
class Accepted:
    """The entry counts. `repeated`: it stands in the logbook already, and nothing is to be stored."""

    entry: Entry
    repeated: bool = False


@dataclass(frozen=True)
class NotAccepted:
    """The entry does not count, and why, with the field's path."""

    refusal: Refused


def accept(entry: Entry, logbook: Mapping[str, Entry], context: LogbookContext) -> Accepted | NotAccepted:
    """Decide on one entry.

    Parameters
    ----------
    entry : Entry
        As `read_entry` gives it.
    logbook : mapping of Entry
        All entries of the visit so far by id, in their order, also those replaced or taken back.
    """
    known = logbook.get(entry.id)
    try:
        if known is not None:
            if not same(known, entry):
                raise Refused(TAKEN, "id")
            return Accepted(known, repeated=True)
        if entry.id in context.taken:
            raise Refused(TAKEN, "id")
        kind = kind_of_entry(entry.kind)
        others = others_of(logbook)
        if not kind.when_closed and closed(others):
            raise Refused(CLOSED)
        if isinstance(entry.body, Reopening) and not entry.reason.strip():
            raise Refused(SAY_WHY, "reason")
        check_place(entry, _path(context, others), context.instruments)
        check_replacement(entry, logbook)
        if kind.ledger or isinstance(entry.body, Closing):
            ledger_kinds = [each for each in others if kind_of_entry(each.kind).ledger or each.replaces]
            check_change(entry, standing(ledger_kinds))
        if isinstance(entry.body, HandedOn):
            _check_receiver(entry.body, context.colleagues)
    except Refused as refusal:
        return NotAccepted(refusal)
    return Accepted(entry)


def same(known: Entry, entry: Entry) -> bool:
    """The same thing said twice, whoever sent it."""
    return (
        known.kind == entry.kind
        and known.phase == entry.phase
        and known.moment == entry.moment
        and known.body == entry.body
        and known.replaces == entry.replaces
    )


def closing(entries: Iterable[Entry]) -> Closing | None:
    """What closed the visit; None where it is open: the last word of closings and reopenings."""
    found: Closing | None = None
    for entry in entries:
        if isinstance(entry.body, Closing | Reopening):
            found = entry.body if isinstance(entry.body, Closing) else None
    return found


def closed(entries: Iterable[Entry]) -> bool:
    """The visit is over."""
    return closing(entries) is not None


def branches_noted(entries: Iterable[Entry]) -> tuple[Branch, ...]:
    """The branches found on the visit, from its standing entries."""
    telling = ((tells, entry) for entry in entries if (tells := kind_of_entry(entry.kind).branches))
    return tuple(branch for tells, entry in telling for branch in tells(entry.body))


def _path(context: LogbookContext, entries: Iterable[Entry]) -> AirPath:
    """The system's air path with every branch noted on the visit, taken back or not."""
    return air_path(context.system_kind, context.nameplate, branches_noted(entries))


def check_place(entry: Entry, path: AirPath, instruments: Container[str]) -> None:
    """Refuse what names a station this system does not have, or an unknown instrument."""
    kind = kind_of_entry(entry.kind)
    named = kind.station(entry.body) if kind.station else ""
    if kind.station and (named or not kind.station_optional):
        station = path.station(named)
        if station is None:
            names = ", ".join(station.name for station in path.stations if station.core)
            raise Refused(f"This system has no such station. It has: {names} and more.", "body.station")
        if isinstance(entry.body, Reading) and entry.body.quantity not in station.quantities:
            raise Refused("This can't be read at this station.", "body.quantity")
        if kind.station_is and station.kind != kind.station_is[0]:
            raise Refused(kind.station_is[1], "body.station")
    for where, instrument in kind.instruments(entry.body).items():
        if instrument not in instruments:
            raise Refused("This instrument is not on the list.", f"body.{where}")


def check_replacement(entry: Entry, logbook: Mapping[str, Entry]) -> None:
    """Refuse a correction of an entry that is unknown, of another kind, already corrected, or final."""
    if entry.replaces is None:
        return
    corrected = logbook.get(entry.replaces)
    if corrected is None:
        raise Refused("The entry to correct is not in this visit.", "replaces")
    if any(each.replaces == entry.replaces for each in logbook.values()):
        raise Refused("That entry was already corrected. Correct the newer one.", "replaces")
    if entry.kind not in (corrected.kind, "withdrawal"):
        raise Refused("A correction must be of the same kind as what it corrects.", "replaces")
    if kind_of_entry(corrected.kind).final:
        raise Refused("This kind of entry can't be taken back. Make a new one.", "replaces")


def _check_receiver(body: HandedOn, colleagues: Mapping[str, str] | None) -> None:
    """Refuse a receiver who is not of this company, or only looks."""
    if colleagues is not None and (body.to not in colleagues or colleagues[body.to] != body.to_name):
        raise Refused("Choose someone of your company who may record.", "body.to")

"""Entries that belong to no single part of the job: readings and where they were made, notes, changes, the visit's course."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from fentro_core.base.fields import kind_of
from fentro_core.base.refusal import Refused
from fentro_core.instruments.matching import MatchedProbe, check_match
from fentro_core.instruments.quantities import to_si
from fentro_core.instruments.steadiness import Evidence
from fentro_core.logbook.kinds import MOST_POINTS, EntryKind, register
from fentro_core.logbook.steps import CHECKS
from fentro_core.system.branch import Branch


@dataclass(frozen=True)
class Reading:
    """A value read at a station, as typed, in the unit it was typed in.

    `held`: taken from a live probe; what the samples of the last three minutes showed, in SI.
    """

    station: str
    quantity: str
    value: float
    unit: str
    point: int = 1
    instrument: str | None = None
    plus_minus: float | None = None
    held: Evidence | None = None


def _check_reading(body: Reading) -> None:
    to_si(body.quantity, body.value, body.unit)
    _check_point(body.point)
    if body.plus_minus is not None and body.plus_minus < 0:
        raise Refused("A half-width can't be below zero.", "plus_minus")
    if body.held is not None and (body.held.samples < 1 or min(body.held.slope_plus_minus, body.held.scatter) < 0):
        raise Refused("A held reading needs samples, and half-widths of zero or more.", "held")


def _check_point(point: int) -> None:
    if not 1 <= point <= MOST_POINTS:
        raise Refused(f"Points count from 1 to {MOST_POINTS}.", "point")


def _reading_instruments(body: Reading) -> Mapping[str, str]:
    return {"instrument": body.instrument} if body.instrument is not None else {}


@dataclass(frozen=True)
class Note:
    """Words, at a step of the visit."""

    text: str
    step: str = ""


def _check_note(body: Note) -> None:
    if not body.text.strip():
        raise Refused("Write something first.", "text")


@dataclass(frozen=True)
class Setting:
    """Something changed: what, from, to, why."""

    what: str
    was: str
    now: str
    why: str = ""


def _check_setting(body: Setting) -> None:
    for name in ("what", "was", "now"):
        if not getattr(body, name).strip():
            raise Refused("Fill this in: a change says what, from and to.", name)


@dataclass(frozen=True)
class Check:
    """An item of a checklist seen and found done, or taken back."""

    item: str
    done: bool = True


def _check_check(body: Check) -> None:
    if body.item not in CHECKS:
        raise Refused("There is no such check.", "item")


@dataclass(frozen=True)
class Run:
    """The unit began or stopped calling steadily; `already_s`: how long it surely ran before this was noted."""

    event: Literal["started", "stopped"]
    already_s: float = 0.0


def _check_run(body: Run) -> None:
    if not 0 <= body.already_s <= 7 * 86_400:
        raise Refused("A unit noted as running ran for at most a week before.", "already_s")


@dataclass(frozen=True)
class Placement:
    """Where a station lies on this system, in the technician's words."""

    station: str
    where: str = ""


@dataclass(frozen=True)
class NotedBranch:
    """A duct to one room, found on the visit. Lengths [m]."""

    room: str
    floor: str = ""
    diameter_m: float | None = None
    run_m: float | None = None


def _noted(body: NotedBranch) -> tuple[Branch, ...]:
    return (Branch(body.room.strip(), body.floor.strip(), body.diameter_m, body.run_m),)


def _check_branch(body: NotedBranch) -> None:
    if not body.room.strip():
        raise Refused("Name the room.", "room")
    for name, most in (("diameter_m", 3.0), ("run_m", 300.0)):
        value = getattr(body, name)
        if value is not None and not 0 < value <= most:
            raise Refused("This must be above zero and at most {high}.", name, high=(most, kind_of(name)))


@dataclass(frozen=True)
class Assignment:
    """A probe hangs at a station from now on; station "" takes it away."""

    instrument: str
    station: str = ""
    point: int = 1


def _check_assignment(body: Assignment) -> None:
    _check_point(body.point)


@dataclass(frozen=True)
class Match:
    """Probes held in the same air: what each showed of one quantity, SI. `by_hand`: read by eye, in rounds."""

    quantity: str
    seconds: float
    probes: tuple[MatchedProbe, ...]
    by_hand: bool = False


def _check_match(body: Match) -> None:
    check_match(body.quantity, body.probes, body.seconds, by_hand=body.by_hand)


def _match_instruments(body: Match) -> Mapping[str, str]:
    return {f"probes.{index}.instrument": probe.instrument for index, probe in enumerate(body.probes)}


@dataclass(frozen=True)
class Photo:
    """A photo by its SHA-256: of the nameplate, the site, a station, a zone's control point (`station`: the zone), or of
    something else; `words`: what it shows.
    """

    sha256: str
    of: Literal["nameplate", "site", "station", "control_point", "other"] = "other"
    station: str = ""
    words: str = ""


SHA256 = re.compile(r"[0-9a-f]{64}")


def _check_photo(body: Photo) -> None:
    if not SHA256.fullmatch(body.sha256):
        raise Refused("A photo is named by its SHA-256.", "sha256")
    if (body.of in ("station", "control_point")) != bool(body.station):
        raise Refused("Say which station it shows, or that it shows something else.", "station")


@dataclass(frozen=True)
class Withdrawal:
    """Takes the replaced entry back without putting another in its place."""


@dataclass(frozen=True)
class Closing:
    """The visit is over, with a last word. `cancelled`: it was a mistake, and `summary` says why."""

    summary: str = ""
    cancelled: bool = False


def _check_closing(body: Closing) -> None:
    if body.cancelled and not body.summary.strip():
        raise Refused("Say why the visit is cancelled.", "summary")


@dataclass(frozen=True)
class Reopening:
    """The visit goes on after all; the entry's reason says why."""


register(
    EntryKind(
        key="reading",
        body=Reading,
        name="Reading",
        check=_check_reading,
        station=lambda body: str(body.station),
        instruments=_reading_instruments,
    ),
    EntryKind(key="note", body=Note, name="Note", check=_check_note),
    EntryKind(key="setting", body=Setting, name="Change", check=_check_setting),
    EntryKind(key="check", body=Check, name="Check", check=_check_check),
    EntryKind(key="run", body=Run, name="Unit started or stopped", check=_check_run),
    EntryKind(
        key="placement",
        body=Placement,
        name="Where a station lies",
        station=lambda body: str(body.station),
        uses_station=True,
    ),
    EntryKind(key="branch", body=NotedBranch, name="Branch found", check=_check_branch, branches=_noted),
    EntryKind(
        key="assignment",
        body=Assignment,
        name="Probe hung",
        check=_check_assignment,
        station=lambda body: str(body.station),
        station_optional=True,
        uses_station=True,
        instruments=lambda body: {"instrument": body.instrument},
    ),
    EntryKind(key="match", body=Match, name="Probes matched", check=_check_match, instruments=_match_instruments),
    EntryKind(
        key="photo",
        body=Photo,
        name="Photo",
        check=_check_photo,
        station=lambda body: str(body.station) if body.of == "station" else "",
        station_optional=True,
    ),
    EntryKind(key="withdrawal", body=Withdrawal, name="Taken back", final=True),
    EntryKind(key="closing", body=Closing, name="Visit closed", final=True, check=_check_closing),
    EntryKind(key="reopening", body=Reopening, name="Visit reopened", final=True, when_closed=True),
)

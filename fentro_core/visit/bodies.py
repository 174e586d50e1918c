"""What each kind of entry says, and what it may say: readings, changes, looks, ducts, matches ..."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from fentro_core.findings.causes import CAUSES
from fentro_core.findings.signs import EYE_ITEMS
from fentro_core.leakage.combined import USUAL_LIMIT_M3S_PER_M2
from fentro_core.leakage.return_side import Where
from fentro_core.measuring.matching import MatchedProbe, check_match
from fentro_core.measuring.quantities import to_si
from fentro_core.measuring.steadiness import Evidence
from fentro_core.measuring.traverse import Duct, check_duct
from fentro_core.refusal import Refused
from fentro_core.units import kind_of
from fentro_core.visit.checklists import CHECKS
from fentro_core.visit.economizer_bodies import ECONOMIZER_BODIES, EconomizerBody, check_economizer_body

EntryKind = Literal[
    "reading",
    "note",
    "setting",
    "check",
    "run",
    "observation",
    "placement",
    "branch",
    "plane",
    "assignment",
    "match",
    "return_duct",
    "rejection",
    "temporary",
    "undone",
    "handed_on",
    "plan_setting",
    "outdoor_need",
    "damper_read",
    "test_seen",
    "point_list",
    "point_read",
    "configuration",
    "alarm",
    "alarm_check",
    "alarm_closed",
    "intake",
    "withdrawal",
    "closing",
    "reopening",
]
Phase = Literal["as_found", "as_left"]

LONGEST_TEXT = 4000
MOST_POINTS = 60


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


@dataclass(frozen=True)
class Note:
    """Words, at a step of the visit."""

    text: str
    step: str = ""


@dataclass(frozen=True)
class Setting:
    """Something changed: what, from, to, why."""

    what: str
    was: str
    now: str
    why: str = ""


@dataclass(frozen=True)
class Check:
    """An item of a checklist seen and found done, or taken back."""

    item: str
    done: bool = True


@dataclass(frozen=True)
class Run:
    """The unit began or stopped calling steadily; `already_s`: how long it surely ran before this was noted."""

    event: Literal["started", "stopped"]
    already_s: float = 0.0


@dataclass(frozen=True)
class Observation:
    """Something seen that is no number: the filter's arrow, the blower's speed tap, or a look answered yes or no."""

    item: str
    value: str


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


@dataclass(frozen=True)
class Plane:
    """The duct at a traverse station, measured inside."""

    station: str
    duct: Duct


@dataclass(frozen=True)
class Assignment:
    """A probe hangs at a station from now on; station "" takes it away."""

    instrument: str
    station: str = ""
    point: int = 1


@dataclass(frozen=True)
class Match:
    """Probes held in the same air: what each showed of one quantity, SI."""

    quantity: str
    seconds: float
    probes: tuple[MatchedProbe, ...]


@dataclass(frozen=True)
class ReturnDuct:
    """The return run outside the rooms: length, perimeter, its wall, where it would leak; a limit for the floor it serves."""

    length_m: float
    perimeter_m: float
    resistance_m2k_per_w: float
    where: Where = "spread"
    floor_area_m2: float | None = None
    limit_m3s_per_m2: float = USUAL_LIMIT_M3S_PER_M2


@dataclass(frozen=True)
class Rejection:
    """A proposed cause that the technician has ruled out, and why."""

    cause: str
    why: str


TemporaryKind = Literal["override", "jumper", "wire", "sensor", "damper", "test_hole", "filter", "other"]


@dataclass(frozen=True)
class Temporary:
    """Something changed for a test only, which must be undone; `undo`: how.

    `point`, `value`: the controller's point that is held, and at what (SI), when the app holds it.
    """

    what: str
    kind: TemporaryKind = "other"
    undo: str = ""
    point: str = ""
    value: float | None = None


@dataclass(frozen=True)
class Undone:
    """A temporary change was undone; `change` is the entry that opened it."""

    change: str
    how: str = ""


@dataclass(frozen=True)
class HandedOn:
    """A temporary change is left to someone else, by id and name, with the reason."""

    change: str
    to: str
    to_name: str
    reason: str


@dataclass(frozen=True)
class Withdrawal:
    """Takes the replaced entry back without putting another in its place."""


@dataclass(frozen=True)
class Closing:
    """The visit is over, with a last word."""

    summary: str = ""


@dataclass(frozen=True)
class Reopening:
    """The visit goes on after all."""


Body = (
    Reading
    | Note
    | Setting
    | Check
    | Run
    | Observation
    | Placement
    | NotedBranch
    | Plane
    | Assignment
    | Match
    | ReturnDuct
    | Rejection
    | Temporary
    | Undone
    | HandedOn
    | EconomizerBody
    | Withdrawal
    | Closing
    | Reopening
)

BODIES: dict[str, type[Any]] = {
    "reading": Reading,
    "note": Note,
    "setting": Setting,
    "check": Check,
    "run": Run,
    "observation": Observation,
    "placement": Placement,
    "branch": NotedBranch,
    "plane": Plane,
    "assignment": Assignment,
    "match": Match,
    "return_duct": ReturnDuct,
    "rejection": Rejection,
    "temporary": Temporary,
    "undone": Undone,
    "handed_on": HandedOn,
    **ECONOMIZER_BODIES,
    "withdrawal": Withdrawal,
    "closing": Closing,
    "reopening": Reopening,
}


def check_body(body: Body) -> None:
    """Refuse what no technician can have done or read; the path names the field."""
    for name, value in vars(body).items():
        if isinstance(value, str) and len(value) > LONGEST_TEXT:
            raise Refused("This text is too long. Keep it under 4,000 letters.", name)
    match body:
        case Reading():
            to_si(body.quantity, body.value, body.unit)
            if not 1 <= body.point <= MOST_POINTS:
                raise Refused(f"Points count from 1 to {MOST_POINTS}.", "point")
            if body.plus_minus is not None and body.plus_minus < 0:
                raise Refused("A half-width can't be below zero.", "plus_minus")
            if body.held is not None and (body.held.samples < 1 or min(body.held.slope_plus_minus, body.held.scatter) < 0):
                raise Refused("A held reading needs samples, and half-widths of zero or more.", "held")
        case Note() if not body.text.strip():
            raise Refused("Write something first.", "text")
        case Setting():
            for name in ("what", "was", "now"):
                if not getattr(body, name).strip():
                    raise Refused("Fill this in: a change says what, from and to.", name)
        case Check() if body.item not in CHECKS:
            raise Refused("There is no such check.", "item")
        case Run() if not 0 <= body.already_s <= 7 * 86_400:
            raise Refused("A unit noted as running ran for at most a week before.", "already_s")
        case Observation():
            _check_observation(body)
        case NotedBranch():
            if not body.room.strip():
                raise Refused("Name the room.", "room")
            for name, most in (("diameter_m", 3.0), ("run_m", 300.0)):
                value = getattr(body, name)
                if value is not None and not 0 < value <= most:
                    raise Refused("This must be above zero and at most {high}.", name, high=(most, kind_of(name)))
        case Plane():
            try:
                check_duct(body.duct)
            except Refused as refusal:
                raise refusal.under("duct") from refusal
        case Assignment() if not 1 <= body.point <= MOST_POINTS:
            raise Refused(f"Points count from 1 to {MOST_POINTS}.", "point")
        case ReturnDuct():
            _check_return_duct(body)
        case Rejection():
            if body.cause not in CAUSES:
                raise Refused("There is no such cause.", "cause")
            if not body.why.strip():
                raise Refused("Say why it can't be this: the next one will want to know.", "why")
        case Temporary() if not body.what.strip():
            raise Refused("Say what was changed for the test.", "what")
        case HandedOn():
            if not body.to.strip():
                raise Refused("Choose who takes it over.", "to")
            if not body.reason.strip():
                raise Refused("Say why it is left open.", "reason")
        case _ if isinstance(body, EconomizerBody):
            check_economizer_body(body)
        case Match():
            check_match(body.quantity, body.probes, body.seconds)


ARROW = ("agrees", "against", "no_filter")


_DUCT_LIMITS = {
    "length_m": 200.0,
    "perimeter_m": 12.0,
    "resistance_m2k_per_w": 5.0,
    "floor_area_m2": 20_000.0,
    "limit_m3s_per_m2": 0.01,
}


def _check_return_duct(body: ReturnDuct) -> None:
    for name, most in _DUCT_LIMITS.items():
        value = getattr(body, name)
        if value is not None and not 0 < value <= most:
            raise Refused("This must be above zero and at most {high}.", name, high=(most, kind_of(name)))


def _check_observation(body: Observation) -> None:
    if body.item not in ("filter_arrow", "fan_tap", *EYE_ITEMS):
        raise Refused("There is no such thing to look at.", "item")
    if body.item in EYE_ITEMS and body.value not in ("yes", "no"):
        raise Refused("Answer yes or no.", "value")
    if body.item == "filter_arrow" and body.value not in ARROW:
        raise Refused("The filter's arrow agrees, stands against, or there is no filter.", "value")
    if not body.value.strip() or len(body.value) > 60:
        raise Refused("Write what you saw, in at most 60 letters.", "value")

"""A connected zone board: what it shows, zones held with their ledger; a simulated one can be walked and given a fault."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from uuid import UUID

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel, Field

from fentro_core.base.refusal import Refused
from fentro_core.ducts.walked import tree_of
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.ducts import DuctTree
from fentro_core.zoning.board import CONTROL_STATES, INDICATORS, ControlState, Indicator
from fentro_core.zoning.proof.step import Air, Lever
from fentro_server.accounts.models import Person
from fentro_server.api.access import may_write_in, person_of, visit_of
from fentro_server.api.errors import Problem
from fentro_server.controllers.wire import scene_of, shown_scene, talking
from fentro_server.controllers.zone_board import HttpZoneBoard, hold_zones, let_go, numbered, zone_board
from fentro_server.instruments.models import Instrument
from fentro_server.visits.kept import committed
from fentro_server.visits.models import Visit
from fentro_server.visits.snapshots import full_snapshot

router = Router(tags=["zone board"])

SILENT = "The zone board does not answer. Look at its power and its cable; zones that were held stay in the ledger."


class BoardZone(BaseModel):
    """A zone as the board shows it now. `zone`: its id on the plan."""

    number: int
    zone: str
    name: str
    calls: bool
    indicator: Indicator
    control: ControlState
    held: bool


class BoardOut(BaseModel):
    """The board now; or in words why there is nothing to see. `held`: what it did not let go of."""

    connected: bool
    board: str
    words: str = ""
    simulated: bool = False
    speed: float = 1.0
    reachable: bool = True
    preset: str = ""
    presets: list[dict[str, str]] = []
    zones: list[BoardZone] = []
    volts: float | None = None
    supply_c: float | None = None
    time_s: float | None = None
    not_released: list[str] = []


class LookOut(BaseModel):
    """What a walk through the simulated rooms finds now: air by branch, static [Pa], the bypass's lever, bladders that hold."""

    air: dict[str, Air]
    static_pa: float
    bypass: Lever
    held: dict[str, bool]


def _plan(visit: Visit, person: Person) -> tuple[DuctTree, str]:
    """The visit's ducts with their zones, and the board's name."""
    context = VisitContext(full_snapshot(visit, committed(visit.pk), Instrument.objects.of(person.company_id)))
    tree = tree_of(context)
    return tree, tree.board.board if tree.board else ""


@contextlib.contextmanager
def _connected(visit: Visit, person: Person) -> Iterator[tuple[HttpZoneBoard, DuctTree]]:
    """The board and the plan behind it. Silence and refusals become sentences."""
    tree, name = _plan(visit, person)
    if not numbered(tree.zones):
        raise Refused("Make the zones first, on the page Zones.")
    if not name:
        raise Refused("No board is named. Type its name on the page Hardware, or call the zones by hand and type what you see.")
    found = zone_board(visit, name)
    if found is None:
        raise Refused("There is no gateway of zone boards here. Call the zones by hand, and type what you see.")
    with talking(found, SILENT, "board"):
        yield found, tree


def _writable(request: HttpRequest, visit_id: UUID) -> tuple[Person, Visit]:
    person = person_of(request)
    visit = visit_of(person, visit_id)
    may_write_in(person, visit)
    if visit.closed_at is not None:
        raise Refused("This visit is closed. Reopen it to go on.")
    return person, visit


def _now(found: HttpZoneBoard, tree: DuctTree, not_released: list[int] | None = None) -> BoardOut:
    scene = found.built_as(tree)
    shown = found.points()
    zones = numbered(tree.zones)
    lines = [
        BoardZone(
            number=number,
            zone=zones[number].id,
            name=zones[number].name,
            calls=bool(line["calls"]),
            indicator=line["indicator"] if line["indicator"] in INDICATORS else "dark",
            control=line["control"] if line["control"] in CONTROL_STATES else "answers",
            held=bool(line["held"]),
        )
        for line in shown["zones"]
        if (number := int(line["zone"])) in zones
    ]
    return BoardOut(
        connected=True,
        board=found.name,
        zones=lines,
        volts=shown.get("volts"),
        supply_c=shown.get("supply_c"),
        time_s=shown.get("time_s"),
        not_released=[zones[number].name for number in not_released or () if number in zones],
        **shown_scene(scene),
    )


_ANSWERS = {200: BoardOut, 403: Problem, 404: Problem, 422: Problem}


@router.get("/visits/{visit_id}/zone-board", response={200: BoardOut, 404: Problem, 422: Problem})
def board_now(request: HttpRequest, visit_id: UUID) -> BoardOut:
    """Every zone as the board shows it; or why there is nothing to see."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    try:
        with _connected(visit, person) as (found, tree):
            return _now(found, tree)
    except Refused as refused:
        return _silent(visit, person, refused.sentence.text)


def _silent(visit: Visit, person: Person, words: str) -> BoardOut:
    _, name = _plan(visit, person)
    found = None
    with contextlib.suppress(Refused):
        found = zone_board(visit, name)
    return BoardOut(connected=False, board=name, words=words, **scene_of(found))


class CallIn(BaseModel):
    """Zones that shall call; all others are held at not calling."""

    zones: list[str] = Field(..., max_length=8)


@router.post("/visits/{visit_id}/zone-board/call", response=_ANSWERS)
def call_zones(request: HttpRequest, visit_id: UUID, given: CallIn) -> BoardOut:
    """Hold every zone, these calling and the others not. Each stands in the ledger before the board is told."""
    person, visit = _writable(request, visit_id)
    with _connected(visit, person) as (found, tree):
        zones = numbered(tree.zones)
        unknown = set(given.zones) - {zone.id for zone in zones.values()}
        if unknown:
            raise Refused("There is no such zone.", "zones")
        found.built_as(tree)
        hold_zones(visit, person, found, zones, given.zones)
        return _now(found, tree)


@router.post("/visits/{visit_id}/zone-board/release", response=_ANSWERS)
def release_zones(request: HttpRequest, visit_id: UUID) -> BoardOut:
    """Let every zone go, and close in the ledger what the board confirms."""
    person, visit = _writable(request, visit_id)
    with _connected(visit, person) as (found, tree):
        still = let_go(visit, person, found)
        return _now(found, tree, still)


class BoardSceneIn(BaseModel):
    """What to simulate: another fault, a bypass, whether the board answers."""

    preset: str | None = None
    bypass: bool | None = None
    reachable: bool | None = None


@router.post("/visits/{visit_id}/zone-board/scene", response=_ANSWERS)
def change_board_scene(request: HttpRequest, visit_id: UUID, given: BoardSceneIn) -> BoardOut:
    """Change what is simulated. A real board has no scene."""
    person, visit = _writable(request, visit_id)
    with _connected(visit, person) as (found, tree):
        if found.built_as(tree) is None:
            raise Refused("A real board has no scene to choose.")
        found.scene(given.model_dump(exclude_none=True))
    return board_now(request, visit_id)


class ControlIn(BaseModel):
    """A zone whose control point somebody sets, so that it calls or not."""

    zone: str
    calls: bool


@router.post("/visits/{visit_id}/zone-board/control", response=_ANSWERS)
def set_control(request: HttpRequest, visit_id: UUID, given: ControlIn) -> BoardOut:
    """Set the control point of a zone of a simulated board."""
    person, visit = _writable(request, visit_id)
    with _connected(visit, person) as (found, tree):
        number = next((at for at, zone in numbered(tree.zones).items() if zone.id == given.zone), None)
        if number is None:
            raise Refused("There is no such zone.", "zone")
        if found.built_as(tree) is None:
            raise Refused("Set it at the control point itself.", "zone")
        found.control(number, given.calls)
        return _now(found, tree)


@router.get("/visits/{visit_id}/zone-board/look", response={200: LookOut, 404: Problem, 422: Problem})
def look_at_rooms(request: HttpRequest, visit_id: UUID) -> LookOut:
    """What a walk through the rooms of a simulated board finds now."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    with _connected(visit, person) as (found, tree):
        if found.built_as(tree) is None:
            raise Refused("A real house is walked by somebody: hold a hand to every register.")
        return LookOut(**found.look())

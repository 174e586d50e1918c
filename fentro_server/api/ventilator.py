"""A ventilator's connected control: what it shows, what is held with its ledger; a simulated one can be walked around."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from typing import Any, Literal
from uuid import UUID

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel, Field

from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import read, write
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.fresh_air import Stream, Ventilator, VentilatorControl
from fentro_core.ventilation.control import HELD
from fentro_core.ventilation.kept import fresh_air_of
from fentro_core.ventilation.page import now_of, state_of
from fentro_core.ventilation.proof.step import Air, Blade, Filters, Runs, Screen
from fentro_server.accounts.models import Person
from fentro_server.api.access import may_write_in, person_of, visit_of
from fentro_server.api.errors import Problem
from fentro_server.controllers.ventilator import HttpVentilator, connected_ventilator, hold_points, let_go
from fentro_server.controllers.wire import scene_of, shown_scene, talking
from fentro_server.instruments.models import Instrument
from fentro_server.visits.kept import committed
from fentro_server.visits.models import Visit
from fentro_server.visits.snapshots import full_snapshot

router = Router(tags=["ventilator"])

SILENT = "The ventilator's control does not answer. Look at its power and its cable; what was held stays in the ledger."


class VentilatorOut(BaseModel):
    """The control now; or in words why there is nothing to see. `not_released`: what it did not let go of."""

    connected: bool
    name: str
    words: str = ""
    simulated: bool = False
    speed: float = 1.0
    reachable: bool = True
    preset: str = ""
    presets: list[dict[str, str]] = []
    fan: bool | None = None
    blower: bool | None = None
    damper: Literal["open", "shut", "moving"] | None = None
    outdoor_c: float | None = None
    locked: str = ""
    boost_left_s: float = 0.0
    run_s: float | None = None
    time_s: float | None = None
    held: dict[str, float] = {}
    settings: dict[str, Any] | None = None
    not_released: list[str] = []


class VentilatorLookOut(BaseModel):
    """What a walk around the simulated ventilator finds now. `port_pa`: by stream [Pa]; `probe_c`: beside its sensor [°C]."""

    fan: Runs
    blower: Runs
    damper: Blade
    air: dict[Stream, Air]
    filters: Filters
    screen: Screen
    probe_c: float
    port_pa: dict[Stream, float | None]


def _known(visit: Visit, person: Person) -> tuple[Ventilator | None, VentilatorControl]:
    """The visit's ventilator, and what its control is said to be set to."""
    context = VisitContext(full_snapshot(visit, committed(visit.pk), Instrument.objects.of(person.company_id)))
    now = now_of(state_of(context, "as_left", {}))
    return fresh_air_of(context).ventilator, now[1] if now else VentilatorControl()


@contextlib.contextmanager
def _connected(visit: Visit, person: Person) -> Iterator[HttpVentilator]:
    """The control. Silence and refusals become sentences."""
    ventilator, control = _known(visit, person)
    if ventilator is None:
        raise Refused("Say first what brings the fresh air in, on the page Fresh air.")
    if not ventilator.control_name:
        raise Refused("No control is named. Type its name under The ventilator, or do it by hand and type what you see.")
    found = connected_ventilator(visit, ventilator.control_name)
    if found is None:
        raise Refused("There is no gateway of ventilators here. Do it by hand at its control, and type what you see.")
    with talking(found, SILENT, "ventilator"):
        found.built_as(ventilator, control)
        yield found


def _writable(request: HttpRequest, visit_id: UUID) -> tuple[Person, Visit]:
    person = person_of(request)
    visit = visit_of(person, visit_id)
    may_write_in(person, visit)
    if visit.closed_at is not None:
        raise Refused("This visit is closed. Reopen it to go on.")
    return person, visit


def _now(found: HttpVentilator, not_released: list[str] | None = None) -> VentilatorOut:
    shown = found.points()
    return VentilatorOut(
        connected=True,
        name=found.name,
        fan=bool(shown["fan"]),
        blower=shown.get("blower"),
        damper=shown.get("damper"),
        outdoor_c=shown.get("outdoor_c"),
        locked=str(shown.get("locked", "")),
        boost_left_s=float(shown.get("boost_left_s") or 0.0),
        run_s=shown.get("run_s"),
        time_s=shown.get("time_s"),
        held={point: float(value) for point, value in shown["held"].items() if point in HELD},
        settings=write(found.settings()),
        not_released=not_released or [],
        **shown_scene(found.scene()),
    )


_ANSWERS = {200: VentilatorOut, 403: Problem, 404: Problem, 422: Problem}


@router.get("/visits/{visit_id}/ventilator", response={200: VentilatorOut, 404: Problem, 422: Problem})
def ventilator_now(request: HttpRequest, visit_id: UUID) -> VentilatorOut:
    """What the control shows; or why there is nothing to see."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    try:
        with _connected(visit, person) as found:
            return _now(found)
    except Refused as refused:
        return _silent(visit, person, refused.sentence.text)


def _silent(visit: Visit, person: Person, words: str) -> VentilatorOut:
    ventilator, _ = _known(visit, person)
    name = ventilator.control_name if ventilator else ""
    found = None
    with contextlib.suppress(Refused):
        found = connected_ventilator(visit, name)
    return VentilatorOut(connected=False, name=name, words=words, **scene_of(found))


class HoldIn(BaseModel):
    """Points to hold, each at a value in SI."""

    points: dict[str, float] = Field(..., min_length=1, max_length=len(HELD))


@router.post("/visits/{visit_id}/ventilator/hold", response=_ANSWERS)
def hold_ventilator(request: HttpRequest, visit_id: UUID, given: HoldIn) -> VentilatorOut:
    """Call it, or make it believe another temperature. It stands in the ledger before the control is told."""
    person, visit = _writable(request, visit_id)
    if set(given.points) - set(HELD):
        raise Refused("The control has no such point.", "points")
    with _connected(visit, person) as found:
        hold_points(visit, person, found, given.points)
        return _now(found)


@router.post("/visits/{visit_id}/ventilator/release", response=_ANSWERS)
def release_ventilator(request: HttpRequest, visit_id: UUID) -> VentilatorOut:
    """Let everything go, and close in the ledger what the control confirms."""
    person, visit = _writable(request, visit_id)
    with _connected(visit, person) as found:
        still = let_go(visit, person, found)
        return _now(found, still)


@router.post("/visits/{visit_id}/ventilator/boost", response=_ANSWERS)
def boost_ventilator(request: HttpRequest, visit_id: UUID) -> VentilatorOut:
    """Start a boost at the control. It returns by itself: nothing for the ledger."""
    person, visit = _writable(request, visit_id)
    with _connected(visit, person) as found:
        found.boost()
        return _now(found)


class SettingsIn(BaseModel):
    """What to set the control to: the fields of `VentilatorControl`."""

    control: dict[str, Any]


@router.post("/visits/{visit_id}/ventilator/settings", response=_ANSWERS)
def set_ventilator(request: HttpRequest, visit_id: UUID, given: SettingsIn) -> VentilatorOut:
    """Enter settings at the control. What it then shows is noted by the device, as left."""
    person, visit = _writable(request, visit_id)
    control = _control(given.control)
    with _connected(visit, person) as found:
        found.enter(control)
        return _now(found)


def _control(given: dict[str, Any]) -> VentilatorControl:
    try:
        control = read(given, VentilatorControl)
        control.check()
    except Refused as refused:
        raise refused.under("control") from refused
    return control


class VentilatorSceneIn(BaseModel):
    """What to simulate: another fault, whether the control answers."""

    preset: str | None = None
    reachable: bool | None = None


@router.post("/visits/{visit_id}/ventilator/scene", response=_ANSWERS)
def change_ventilator_scene(request: HttpRequest, visit_id: UUID, given: VentilatorSceneIn) -> VentilatorOut:
    """Change what is simulated. A real control has no scene."""
    person, visit = _writable(request, visit_id)
    with _connected(visit, person) as found:
        if found.scene() is None:
            raise Refused("A real control has no scene to choose.")
        found.scene(given.model_dump(exclude_none=True))
    return ventilator_now(request, visit_id)


@router.get("/visits/{visit_id}/ventilator/look", response={200: VentilatorLookOut, 404: Problem, 422: Problem})
def look_at_ventilator(request: HttpRequest, visit_id: UUID) -> VentilatorLookOut:
    """What a walk around a simulated ventilator finds now."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    with _connected(visit, person) as found:
        if found.scene() is None:
            raise Refused("A real ventilator is walked around by somebody: hold a strip of tissue to its grilles.")
        return VentilatorLookOut(**found.look())

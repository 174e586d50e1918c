"""A connected controller: its points, overrides with their ledger, automatic tests, configuration."""

from __future__ import annotations

import asyncio
import contextlib
import json
import threading
from collections.abc import AsyncIterator, Iterator
from typing import Any, Literal
from uuid import UUID

from django.http import HttpRequest, StreamingHttpResponse
from ninja import Router, Status
from pydantic import BaseModel, Field

from fentro_core.base.device import DeviceGone, DeviceRefused
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import write
from fentro_core.economizer.alarms import ALARMS
from fentro_core.economizer.configuration import (
    Configuration,
    Difference,
    check_model,
    configuration_json,
    differences,
    read_configuration,
)
from fentro_core.economizer.places import MODES, POINTS, TEMPERATURES, Point
from fentro_core.economizer.proof.day import day_now
from fentro_core.economizer.proof.loops import loop_step
from fentro_core.economizer.proof.plan import Wanted, as_it_was, plan
from fentro_core.economizer.proof.running import channels, state_before
from fentro_core.economizer.proof.step import Step
from fentro_core.moisture import live
from fentro_server.api.access import may_write_in, person_of, visit_of
from fentro_server.api.economizer import controller_named, page_of
from fentro_server.api.errors import Problem, plain
from fentro_server.controllers.gateway import HttpController, controller
from fentro_server.controllers.holders import alone, holders
from fentro_server.controllers.overrides import hold, new_entry, open_points, release, strays, write_down
from fentro_server.controllers.proof_run import ProofRun, of_drying, of_economizer, only_one
from fentro_server.controllers.wire import scene_of, shown_scene, talking
from fentro_server.visits.models import Visit

router = Router(tags=["controller"])

CLOSED = "This visit is closed. Reopen it to go on."
SILENT = "The controller does not answer. Look at its power and its cable; what was overridden stays in the ledger."


class PointOut(BaseModel):
    """A point of the controller now."""

    key: str
    name: str
    kind: str
    value: float | None
    text: str
    overridden: bool
    overridable: bool
    low: float
    high: float


class AlarmOut(BaseModel):
    """An alarm that stands at the controller."""

    key: str
    name: str


class ControllerOut(BaseModel):
    """The controller as it is now. `strays`: held there, and not in this visit's ledger. `differs`: what it runs against
    the last revision saved or loaded on this visit; `configuration_words`: why that can't be told. `held_by`: other visits that
    hold this unit, in words."""

    connected: bool
    unit: str
    words: str = ""
    simulated: bool = False
    speed: float = 1.0
    preset: str = ""
    presets: list[dict[str, str]] = []
    reachable: bool = True
    mode: str = ""
    mode_key: str = ""
    points: list[PointOut] = []
    alarms: list[AlarmOut] = []
    strays: list[str] = []
    differs: list[Difference] = []
    not_released: list[str] = []
    held_by: list[str] = []
    configuration_words: str = ""


@contextlib.contextmanager
def connected(visit: Visit) -> Iterator[HttpController]:
    """The system's controller. Silence and refusals become sentences."""
    found = controller(visit, controller_named(visit))
    if found is None:
        raise Refused("There is no gateway of controllers here. Type what you see.")
    with talking(found, SILENT, "controller", "value"):
        yield found


def _writable(request: HttpRequest, visit_id: UUID) -> tuple[Any, Visit]:
    person = person_of(request)
    visit = visit_of(person, visit_id)
    may_write_in(person, visit)
    return person, visit


@router.get("/visits/{visit_id}/controller", response={200: ControllerOut, 404: Problem})
def controller_now(request: HttpRequest, visit_id: UUID) -> ControllerOut:
    """Every point, what is held, alarms; or why there is nothing to see."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    unit = str(visit.system.nameplate.get("controller", ""))
    try:
        with connected(visit) as found:
            has_plan = visit.system.plate.has_economizer
            return _now(visit, found, page_of(visit, person).revisions if has_plan else ())
    except Refused as refused:
        return _silent(visit, unit, refused.sentence.text)


def _silent(visit: Visit, unit: str, words: str) -> ControllerOut:
    found = None
    with contextlib.suppress(Refused):
        found = controller(visit, unit)
    return ControllerOut(connected=False, unit=unit, words=words, **scene_of(found))


def _now(
    visit: Visit, found: HttpController, revisions: tuple[Any, ...] = (), not_released: list[str] | None = None
) -> ControllerOut:
    shown = found.points()
    held = set(shown["overridden"])
    differs, configuration_words = _compared(found, revisions)
    theirs = holders(visit, found.name)
    return ControllerOut(
        connected=True,
        configuration_words=configuration_words,
        held_by=[each.words for each in theirs],
        unit=found.name,
        mode=MODES.get(shown["mode"], shown["mode"]),
        mode_key=shown["mode"],
        points=[
            _point(point, shown[point.key], point.key in held)
            for point in POINTS.values()
            if point.key in shown and point.role != "state"
        ],
        alarms=[AlarmOut(key=each["key"], name=ALARMS.get(each["key"], ALARMS["other"]).name) for each in found.alarms()],
        strays=strays(visit, held - {point for each in theirs for point in each.points}),
        differs=differs,
        not_released=not_released or [],
        **shown_scene(found.scene()),
    )


def _compared(found: HttpController, revisions: tuple[Any, ...]) -> tuple[list[Difference], str]:
    """How what runs differs from the last revision, or why that can't be told: the rest of the page stands without it."""
    if not revisions:
        return [], ""
    try:
        return list(differences(revisions[-1].document, read_configuration(found.save()))), ""
    except Refused as refused:
        return [], f"What it runs can't be read: {refused.sentence.text}"
    except (DeviceRefused, DeviceGone) as trouble:
        return [], f"What it runs can't be read. {trouble}".strip()


def _point(point: Point, value: object, held: bool) -> PointOut:
    return PointOut(
        key=point.key,
        name=point.name,
        kind=point.kind,
        value=_number(value),
        text=value if isinstance(value, str) else "",
        overridden=held,
        overridable=point.overridable,
        low=point.low,
        high=point.high,
    )


def _number(value: object) -> float | None:
    return float(value) if isinstance(value, int | float) else None


class OverrideIn(BaseModel):
    """A point to hold, at a value in SI."""

    point: str
    value: float
    why: str = Field("", max_length=400)


_ANSWERS = {200: ControllerOut, 403: Problem, 404: Problem, 422: Problem}


@router.post("/visits/{visit_id}/controller/override", response=_ANSWERS)
def override(request: HttpRequest, visit_id: UUID, given: OverrideIn) -> ControllerOut:
    """Hold a point. It stands in the ledger before the controller is told."""
    person, visit = _writable(request, visit_id)
    if given.point not in POINTS:
        raise Refused("The controller has no such point.", "point")
    with connected(visit) as found, only_one(found.gateway, found.name):
        alone(visit, found.name)
        hold(visit, person, found, {given.point: given.value}, given.why)
        return _now(visit, found)


class ReleaseIn(BaseModel):
    """Points to release; none named: all that this visit holds, and what nobody's ledger knows. `others`: what other visits
    hold."""

    points: list[str] | None = None
    others: bool = False


@router.post("/visits/{visit_id}/controller/release", response=_ANSWERS)
def release_points(request: HttpRequest, visit_id: UUID, given: ReleaseIn) -> ControllerOut:
    """Release, ask the controller what it still holds, and close in the ledger what it confirms."""
    person, visit = _writable(request, visit_id)
    with connected(visit) as found:
        still: list[str] = []
        theirs = holders(visit, found.name)
        if given.others:
            for each in theirs:
                still += release(each.visit, person, found, each.points)
        else:
            kept = {point for each in theirs for point in each.points}
            mine = set(open_points(visit)) & set(POINTS)
            asked = set(given.points) if given.points is not None else set(found.points()["overridden"]) | mine
            if given.points is not None and asked & kept - mine:
                raise Refused(f"{theirs[0].words} Ask before you release it.", "points")
            still = release(visit, person, found, asked - (kept - mine))
        return _now(visit, found, not_released=still)


class SaveIn(BaseModel):
    """Why the configuration is read."""

    reason: str = Field("As found", max_length=400)


@router.post("/visits/{visit_id}/controller/save", response=_ANSWERS)
def save_configuration(request: HttpRequest, visit_id: UUID, given: SaveIn) -> ControllerOut:
    """Read the configuration and keep it as a numbered revision."""
    person, visit = _writable(request, visit_id)
    with connected(visit) as found:
        document = read_configuration(found.save())
        _revision(visit, person, document, given.reason, "controller")
        return _now(visit, found)


UNCONFIRMED = "The controller fell silent while this was sent: whether it runs is not known. Read it again once it answers"


class LoadIn(BaseModel):
    """A configuration to load, and why."""

    document: dict[str, Any]
    reason: str = Field("", max_length=400)


@router.post("/visits/{visit_id}/controller/load", response=_ANSWERS)
def load_configuration(request: HttpRequest, visit_id: UUID, given: LoadIn) -> ControllerOut:
    """Load another configuration and keep it as a numbered revision. One of another model is refused, nothing is changed."""
    person, visit = _writable(request, visit_id)
    if visit.closed_at is not None:
        raise Refused(CLOSED)
    if not given.reason.strip():
        raise Refused("Say why: the next one will want to know.", "reason")
    document = read_configuration(given.document)
    if not page_of(visit, person).revisions:
        raise Refused("Save the configuration as found first: then you can always go back.", "document")
    with connected(visit) as found, only_one(found.gateway, found.name):
        alone(visit, found.name)
        before = read_configuration(found.save())
        check_model(document, before.model)
        _revision(visit, person, document, given.reason, "loaded")
        try:
            found.load(configuration_json(document))
        except DeviceRefused:
            _revision(visit, person, before, "Refused by the controller: it runs as before", "controller")
            raise
        except DeviceGone:
            _revision(visit, person, document, UNCONFIRMED, "unconfirmed")
            raise
        return _now(visit, found)


def _revision(visit: Visit, person: Any, document: Configuration, reason: str, source: str) -> None:
    body = {"document": configuration_json(document), "reason": reason, "source": source}
    write_down(visit, person, [new_entry("configuration", body)])


class ConditionIn(BaseModel):
    """The name of the condition in which all sensors are read against a probe; before a change or after it."""

    phase: Literal["as_found", "as_left"] = "as_found"
    condition: str = Field(..., min_length=1, max_length=60)
    references: dict[str, float] = {}


@router.post("/visits/{visit_id}/controller/compare", response=_ANSWERS)
def compare_sensors(request: HttpRequest, visit_id: UUID, given: ConditionIn) -> ControllerOut:
    """Write down what every sensor shows, with the reference reading at its place: typed, or the simulated unit's own probe."""
    person, visit = _writable(request, visit_id)
    with connected(visit) as found:
        shown = found.points()
        references = dict(given.references)
        if not references:
            if found.scene() is None:
                raise Refused("Type what your probe shows at each place.", "references")
            references = found.reference()
        page = page_of(visit, person)
        entries = [
            new_entry(
                "point_read",
                {
                    "terminal": line.line.terminal,
                    "shown_c": float(shown[TEMPERATURES[line.line.place]]),
                    "reference_c": references[line.line.place],
                    "plus_minus_k": 0.3,
                    "condition": given.condition,
                },
                given.phase,
            )
            for line in page.points.lines
            if line.line.place in references and TEMPERATURES[line.line.place] in shown
        ]
        write_down(visit, person, entries)
        return _now(visit, found)


class SceneIn(BaseModel):
    """What to simulate: another fault, the speed, whether the controller answers."""

    preset: str = ""
    speed: float | None = Field(None, ge=0.1, le=60)
    reachable: bool | None = None
    refuses: list[str] | None = None


@router.post("/visits/{visit_id}/controller/scene", response=_ANSWERS)
def change_scene(request: HttpRequest, visit_id: UUID, given: SceneIn) -> ControllerOut:
    """Change what is simulated. A real controller has no scene."""
    _, visit = _writable(request, visit_id)
    with connected(visit) as found:
        if found.scene() is None:
            raise Refused("A real controller has no scene to choose.")
        found.scene(given.model_dump(exclude_none=True))
    return controller_now(request, visit_id)


class HandIn(BaseModel):
    """What the simulated unit's hand does."""

    action: Literal["actuator_power", "unplug", "freeze_reset"]
    value: str = ""


@router.post("/visits/{visit_id}/controller/hand", response=_ANSWERS)
def by_hand(request: HttpRequest, visit_id: UUID, given: HandIn) -> ControllerOut:
    """Do something by hand at the simulated unit."""
    _, visit = _writable(request, visit_id)
    with connected(visit) as found:
        found.hand(given.action, given.value)
        return _now(visit, found)


class RunIn(BaseModel):
    """A test to run: its key in the plan, or of a loop check; which phase it belongs to. `over_held`: also where the
    person holds a point that the test moves; it is put back as it was."""

    step: str
    over_held: bool = False
    phase: Literal["as_found", "as_left"] = "as_found"


@router.post("/visits/{visit_id}/controller/run", response={200: Any, 403: Problem, 404: Problem, 422: Problem})
def run_test(request: HttpRequest, visit_id: UUID, given: RunIn) -> Any:
    """Run a test against the controller; samples come as one JSON object a line. Hanging up stops it and releases everything."""
    person, visit = _writable(request, visit_id)
    if visit.closed_at is not None:
        raise Refused(CLOSED)
    alone(visit, controller_named(visit))
    drying = given.step.startswith(live.PREFIX)
    step = live.live_step(visit.system.plate, given.step) if drying else _economizer_step(visit, person, given.step)
    worker = controller(visit, controller_named(visit))
    if worker is None:
        return Status(422, plain(SILENT))
    judge = of_drying if drying else of_economizer
    run = ProofRun(visit, person, worker, step, given.phase, judge, given.over_held)
    response = StreamingHttpResponse(_lines(run, step), content_type="application/x-ndjson")
    response["Cache-Control"] = "no-store"
    response["X-Accel-Buffering"] = "no"
    return response


def _economizer_step(visit: Visit, person: Any, key: str) -> Step:
    """As the plan of this day has it."""
    page = page_of(visit, person)
    with connected(visit) as found:
        points = found.points()
    share = page.need.required_m3s / page.need.supply_m3s if page.need else None
    step = _step(page.planned, key, day_now(channels(points, {}), page.day), Wanted(share))
    return as_it_was(step, page.found_running, page.found_mode, state_before(points)[0])


def _step(setting: Configuration, key: str, day: Any, wanted: Wanted) -> Step:
    if key.startswith("loop/"):
        return loop_step(setting, day, key)
    step = next((each for each in plan(setting, day, wanted) if each.key == key), None)
    if step is None or step.by_hand_only:
        raise Refused("There is no such test to run against the controller.", "step")
    if step.not_today:
        raise Refused(step.not_today.text, "step")
    return step


async def _lines(run: ProofRun, step: Step) -> AsyncIterator[str]:
    """What the worker says; a listener who hangs up stops it, and it cleans up by itself."""
    worker = threading.Thread(target=run.run, daemon=True)
    worker.start()
    try:
        yield json.dumps({"event": "step", "step": write(step)}) + "\n"
        while True:
            event = await asyncio.to_thread(run.events.get)
            if event is None:
                return
            yield json.dumps(event) + "\n"
    finally:
        run.stop.set()
        with contextlib.suppress(asyncio.CancelledError):
            await asyncio.shield(asyncio.to_thread(worker.join, 15))

"""The nine steps of a visit, what is left in each, and which comes next."""

from __future__ import annotations

from collections.abc import Mapping

from fentro_core.logbook.entries import Check, Setting
from fentro_core.logbook.entry import Entry
from fentro_core.logbook.steps import STEP_LEADS, STEP_NAMES, StepId, cautions_of, checks_of
from fentro_core.logbook.temporary import ledger
from fentro_core.parts import parts_of
from fentro_core.phase.declaration import Course
from fentro_core.phase.numbers import NUMBERS
from fentro_core.phase.visit_context import VisitContext
from fentro_core.visit.results import CheckState, PhaseResult, RouteStep


def route(
    visit: VisitContext,
    phases: Mapping[str, PhaseResult],
    running_since: str | None,
    closed: bool,
) -> tuple[tuple[RouteStep, ...], str]:
    """Steps in order, and the id of the next sensible one."""
    entries = visit.others
    kind = visit.snapshot.system.kind
    ticked = {entry.body.item: entry for entry in entries if isinstance(entry.body, Check)}
    changed = any(isinstance(entry.body, Setting) for entry in entries)
    system = visit.snapshot.system
    courses = [part.course(visit) for part in parts_of(system.kind, system.nameplate) if part.course]
    steps = []
    for step_id, name in STEP_NAMES.items():
        checks = tuple(
            CheckState(item.key, item.text, _done(ticked.get(item.key)), _id(ticked.get(item.key)))
            if item.key != "air_traced" or not visit.arrow_settled()
            else CheckState(item.key, item.text, True, None)
            for item in checks_of(step_id, kind)
        )
        left = [check.text for check in checks if not check.done]
        here = [course for course in courses if course.step == step_id]
        left = [*_left(step_id, left, visit, phases, running_since, changed, closed), *_of_parts(here)]
        begun = any(check.done for check in checks) or _begun(step_id, phases, changed) or any(course.begun for course in here)
        needed = step_id != "prove" or changed or any(course.begun for course in here)
        cautions = tuple(cautions_of(step_id, kind, system.location))
        state = "not_needed" if not needed else "done" if not left else "begun" if begun else "to_do"
        steps.append(RouteStep(step_id, name, STEP_LEADS[step_id], state, tuple(left), checks, cautions))
    following = next((step.id for step in steps if step.state in ("to_do", "begun")), "hand_over")
    return tuple(steps), following


def _done(entry: Entry | None) -> bool:
    return entry is not None and isinstance(entry.body, Check) and entry.body.done


def _id(entry: Entry | None) -> str | None:
    return entry.id if entry else None


def _left(
    step: StepId,
    left: list[str],
    visit: VisitContext,
    phases: Mapping[str, PhaseResult],
    running_since: str | None,
    changed: bool,
    closed: bool,
) -> list[str]:
    match step:
        case "trace" if visit.against():
            return [*left, "Find out why the filter's arrow points against the air"]
        case "settle" if running_since is None:
            return [*left, "Note when the unit started"]
        case "measure":
            return _unread(visit, phases.get("as_found"))
        case "work_out":
            found = phases.get("as_found")
            if found is None:
                return ["Readings"]
            needed = [result for result in found.results if not NUMBERS[result.key].optional]
            return list(dict.fromkeys(name for result in needed for name in result.missing))
        case "set_up" if changed:
            return []
        case "restore":
            return [*(f"Undo: {each.what}" for each in ledger(visit.others) if not each.handed_to), *left]
        case "prove":
            return [f"{what}, as left" for what in _unread(visit, phases.get("as_left"))] if changed else []
        case "hand_over":
            return [] if closed else ["Close the visit"]
        case _:
            return left


def _of_parts(courses: list[Course]) -> list[str]:
    """What the parts of the job leave to be done in a step."""
    return [words for course in courses for words in course.left]


def _begun(step: StepId, phases: Mapping[str, PhaseResult], changed: bool) -> bool:
    phase = {"measure": "as_found", "work_out": "as_found", "prove": "as_left"}.get(step)
    if phase is None:
        return step == "set_up" and changed
    return phase in phases and any(station.readings for station in phases[phase].stations)


def _unread(visit: VisitContext, phase: PhaseResult | None) -> list[str]:
    found = {station.station: station for station in phase.stations} if phase else {}
    dry = phase is not None and phase.mode == "heating"
    left = []
    for station in visit.path.stations:
        if not station.needed:
            continue
        result = found.get(station.id)
        if result is None or result.dry_bulb is None:
            left.append(f"{station.name}: dry bulb and humidity")
        elif not result.properties and not dry:
            left.append(f"{station.name}: humidity")
    return left


def next_station(visit: VisitContext, phase: PhaseResult) -> str:
    """Where to read next: the first needed station whose air is not known yet; "" when all are."""
    known = {station.station for station in phase.stations if station.properties}
    return next((station.id for station in visit.path.stations if station.needed and station.id not in known), "")

"""The nine steps of a visit, what is left in each, and which comes next."""

from __future__ import annotations

from collections.abc import Mapping

from fentro_core.visit.bodies import Check, Setting
from fentro_core.visit.checklists import STEP_NAMES, StepId, cautions_of, checks_of
from fentro_core.visit.economizer import planned_tests
from fentro_core.visit.economizer_bodies import TestSeen
from fentro_core.visit.entries import Entry
from fentro_core.visit.proof_lines import left_to_prove
from fentro_core.visit.results import CheckState, PhaseResult, RouteStep
from fentro_core.visit.scene import Scene
from fentro_core.visit.temporary import ledger


def route(
    scene: Scene,
    phases: Mapping[str, PhaseResult],
    running_since: str | None,
    closed: bool,
) -> tuple[tuple[RouteStep, ...], str]:
    """Steps in order, and the id of the next sensible one."""
    entries = scene.entries
    kind = scene.snapshot.system.kind
    ticked = {entry.body.item: entry for entry in entries if isinstance(entry.body, Check)}
    changed = any(isinstance(entry.body, Setting) for entry in entries)
    tested = any(isinstance(entry.body, TestSeen) for entry in entries)
    steps = []
    for step_id, name in STEP_NAMES.items():
        checks = tuple(
            CheckState(item.key, item.text, _done(ticked.get(item.key)), _id(ticked.get(item.key)))
            if item.key != "air_traced" or not scene.arrow_settled()
            else CheckState(item.key, item.text, True, None)
            for item in checks_of(step_id, kind)
        )
        left = [check.text for check in checks if not check.done]
        left = _left(step_id, left, scene, phases, running_since, changed, closed)
        begun = any(check.done for check in checks) or _begun(step_id, phases, changed) or (step_id == "prove" and tested)
        needed = step_id != "prove" or changed or tested
        state = "not_needed" if not needed else "done" if not left else "begun" if begun else "to_do"
        steps.append(RouteStep(step_id, name, state, tuple(left), checks, tuple(cautions_of(step_id, kind))))
    following = next((step.id for step in steps if step.state in ("to_do", "begun")), "hand_over")
    return tuple(steps), following


_OPTIONAL = (
    "target_split",
    "target_total",
    "target_heat",
    "target_rise",
    "heat_total",
    "outdoor_share",
    "external_static",
    "flow_supply",
    "flow_extract",
)
"""Results that a visit can do without."""


def _done(entry: Entry | None) -> bool:
    return entry is not None and isinstance(entry.body, Check) and entry.body.done


def _id(entry: Entry | None) -> str | None:
    return entry.id if entry else None


def _left(
    step: StepId,
    left: list[str],
    scene: Scene,
    phases: Mapping[str, PhaseResult],
    running_since: str | None,
    changed: bool,
    closed: bool,
) -> list[str]:
    match step:
        case "trace" if scene.against():
            return [*left, "Find out why the filter's arrow stands against the air"]
        case "settle" if running_since is None:
            return [*left, "Note when the unit started"]
        case "measure":
            return _unread(scene, phases.get("as_found"))
        case "work_out":
            found = phases.get("as_found")
            if found is None:
                return ["Readings"]
            needed = [result for result in found.results if result.key not in _OPTIONAL]
            return list(dict.fromkeys(name for result in needed for name in result.missing))
        case "set_up" if changed:
            return []
        case "restore":
            return [*(f"Undo: {each.what}" for each in ledger(scene.entries) if not each.handed_to), *left]
        case "prove":
            unread = [f"{what}, as left" for what in _unread(scene, phases.get("as_left"))] if changed else []
            return [*unread, *_tests_left(scene)]
        case "hand_over":
            return [] if closed else ["Close the visit"]
        case _:
            return left


def _tests_left(scene: Scene) -> list[str]:
    """Once functional testing has begun, the whole plan is to be seen."""
    if not any(isinstance(entry.body, TestSeen) for entry in scene.entries):
        return []
    return left_to_prove(scene.entries, planned_tests(scene))


def _begun(step: StepId, phases: Mapping[str, PhaseResult], changed: bool) -> bool:
    phase = {"measure": "as_found", "work_out": "as_found", "prove": "as_left"}.get(step)
    if phase is None:
        return step == "set_up" and changed
    return phase in phases and any(station.readings for station in phases[phase].stations)


def _unread(scene: Scene, phase: PhaseResult | None) -> list[str]:
    found = {station.station: station for station in phase.stations} if phase else {}
    dry = phase is not None and phase.mode == "heating"
    left = []
    for station in scene.path.stations:
        if not station.needed:
            continue
        result = found.get(station.id)
        if result is None or result.dry_bulb is None:
            left.append(f"{station.name}: dry bulb and humidity")
        elif not result.properties and not dry:
            left.append(f"{station.name}: humidity")
    return left

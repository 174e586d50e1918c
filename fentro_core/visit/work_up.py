"""From a snapshot to everything that follows from it. A pure function: same snapshot, same answer."""

from __future__ import annotations

from fentro_core.measured import Measured
from fentro_core.sentence import Sentence
from fentro_core.visit.bench import RESULT_NAMES
from fentro_core.visit.bodies import Closing, Note, Reading, Reopening, Setting
from fentro_core.visit.entries import Entry
from fentro_core.visit.nameplate import CoolingPlate
from fentro_core.visit.phase import PhaseWork
from fentro_core.visit.readings import quantity
from fentro_core.visit.results import Between, Change, PhaseResult, Quantity, WorkUp
from fentro_core.visit.route import route
from fentro_core.visit.scene import Scene
from fentro_core.visit.snapshot import Snapshot
from fentro_core.visit.temporary import ledger

PHASES = ("as_found", "as_left")
_COMPARED = (
    "split",
    "rise",
    "airflow",
    "total",
    "sensible",
    "latent",
    "shr",
    "heat_total",
    "external_static",
    "drop_filter",
    "superheat",
    "subcooling",
    "leak_share",
    "outdoor_share",
    "flow_supply",
    "flow_extract",
)


def work_up(snapshot: Snapshot) -> WorkUp:
    """Work out a visit: stations, results with half-widths and working, rail, ribbon, route, as found against as left.

    Raises
    ------
    Refused
        The site's pressure can't be right. Impossible readings do not raise: their station says what is wrong.
    """
    scene = Scene(snapshot)
    entries = scene.entries
    running_since = scene.runs.since.isoformat() if scene.runs.since else None
    works: dict[str, PhaseWork] = {}
    phases: dict[str, PhaseResult] = {}
    for phase in PHASES:
        readings = [entry for entry in entries if entry.phase == phase and isinstance(entry.body, Reading)]
        if readings or phase == "as_found":
            works[phase] = PhaseWork(scene, phase)
            phases[phase] = works[phase].result()
    closed = _closed(entries)
    steps, following = route(scene, phases, running_since, closed)
    site = snapshot.site
    return WorkUp(
        pressure=Quantity(site.pressure_pa(), 0.0, "barometric_pressure"),
        pressure_remark=Sentence.of("By the site's barometer.")
        if site.barometer_pa is not None
        else Sentence.of("Standard air at {elevation}.", elevation=(site.elevation_m, "length")),
        path=scene.path,
        phases=tuple(phases.values()),
        comparison=_comparison(works, phases),
        route=steps,
        next_step=following,
        running_since=running_since,
        closed=closed,
        reported=_reported(entries) or snapshot.visit.purpose,
        matches=tuple(scene.matches.results),
        placed=scene.placed,
        assigned=scene.assigned,
        seen=scene.seen,
        fan_taps=_fan_taps(snapshot),
        between=_between(entries),
        temporary=ledger(entries),
    )


def _comparison(works: dict[str, PhaseWork], phases: dict[str, PhaseResult]) -> tuple[Change, ...]:
    """As left less as found. An instrument used both times cancels, so a small real change can be seen."""
    if "as_left" not in works:
        return ()
    kinds = _kinds(phases["as_left"])
    changes = []
    for key in _COMPARED:
        before, after = (works[phase].measured.get(key) for phase in PHASES)
        if before is not None and after is not None and key in kinds:
            changes.append(_change(key, before, after, kinds[key]))
    return tuple(changes)


def _kinds(phase: PhaseResult) -> dict[str, str]:
    """Kind of every number shown in a phase, pages included."""
    shown = [*phase.results, *(phase.leak.results if phase.leak else ())]
    shown += [drop.drop for drop in phase.statics.drops] if phase.statics else []
    return {result.key: result.quantity.kind for result in shown if result.quantity}


def _between(entries: list[Entry]) -> tuple[Between, ...]:
    """Settings changed on the visit, in their order."""
    return tuple(
        Between(entry.body.what, entry.body.was, entry.body.now, entry.body.why, entry.at)
        for entry in entries
        if isinstance(entry.body, Setting)
    )


def _change(key: str, before: Measured, after: Measured, kind: str) -> Change:
    change = after - before
    difference_kind = {"temperature": "temperature_difference"}.get(kind, kind)
    return Change(
        key,
        RESULT_NAMES[key],
        quantity(before, kind),
        quantity(after, kind),
        quantity(change, difference_kind),
        abs(change.value) > change.plus_minus,
    )


def _fan_taps(snapshot: Snapshot) -> tuple[str, ...]:
    """Speed taps of the plate's fan table, in its order."""
    plate = snapshot.system.nameplate
    return tuple(dict.fromkeys(row.tap for row in plate.fan_table)) if isinstance(plate, CoolingPlate) else ()


def _reported(entries: list[Entry]) -> str:
    return next((entry.body.text for entry in entries if isinstance(entry.body, Note) and entry.body.step == "arrive"), "")


def _closed(entries: list[Entry]) -> bool:
    closed = False
    for entry in entries:
        if isinstance(entry.body, Closing | Reopening):
            closed = isinstance(entry.body, Closing)
    return closed

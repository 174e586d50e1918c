"""Everything of an economizer that follows from a visit's logbook: plan, walk, tests with verdicts, points, revisions, alarms."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from fentro_core.airflow.intake import IntakePlacing
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.economizer.audit import alarm_lines, audit_of, last_of, points_page
from fentro_core.economizer.changeover import (
    FIXED_LIMIT_F,
    default_method,
)
from fentro_core.economizer.configuration import (
    Configuration,
    differences,
)
from fentro_core.economizer.entries import (
    OutdoorNeed,
    PlanSetting,
    SavedConfiguration,
    TestSeen,
)
from fentro_core.economizer.proof.day import Day
from fentro_core.economizer.proof.diagnosis import ANOTHER_DAY, READ_SETTINGS, diagnose, faults_of_test
from fentro_core.economizer.proof.fault import TRUE_AIR
from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.loops import loop_steps
from fentro_core.economizer.proof.plan import Wanted, as_it_was, plan
from fentro_core.economizer.proof.step import Step, StepVerdict, TestRun
from fentro_core.economizer.results import (
    CauseLine,
    EconomizerPage,
    PointPage,
    Revision,
    SeenTest,
    SuspectLine,
    TestLine,
)
from fentro_core.economizer.true_air import APART_K
from fentro_core.economizer.visit_settings import (
    against_plan,
    changeover_methods,
    economizer_of,
    fights_itself,
    planned_settings,
    setting_lines,
)
from fentro_core.economizer.walk import damper_reads, walk_of
from fentro_core.logbook.entry import Entry
from fentro_core.logbook.snapshot import Snapshot
from fentro_core.phase.readings import Readings
from fentro_core.phase.visit_context import VisitContext

PHASES = ("as_found", "as_left")


def economizer_page(snapshot: Snapshot) -> EconomizerPage:
    """Work out the economizer of a visit. Pure: same snapshot, same answer.

    Raises
    ------
    Refused
        The system has no economizer.
    """
    nameplate = economizer_of(snapshot)
    if nameplate is None:
        raise Refused("This system has no economizer on its nameplate.")
    visit = VisitContext(snapshot)
    entries = visit.others
    zone = snapshot.site.climate_zone
    revisions = _revisions(entries)
    said_settings = [entry for entry in entries if isinstance(entry.body, PlanSetting)]
    as_found, planned = planned_settings(nameplate, zone, visit.pressure_pa, entries)
    need, need_entry = last_of(entries, OutdoorNeed)
    reads, lines = damper_reads(entries)
    points = points_page(entries, planned, "as_found")
    left = points_page(entries, planned, "as_left")
    day, known = _day(visit, (left, points))
    wanted = Wanted(need.required_m3s / need.supply_m3s if need else None)
    fights = fights_itself(planned)
    tests, trouble = _plan(planned, day, wanted, fights)
    running, mode = _as_it_ran(entries)
    tests = tuple(as_it_was(step, running, mode, {}) for step in tests)
    audits = {"as_found": audit_of(points), "as_left": audit_of(left)}
    audit = audits["as_left"] or audits["as_found"]
    settings = {phase: against_plan(visit, planned, phase) for phase in PHASES}
    titles = {step.key: step.title for step in tests}
    found_runs, left_runs = (_runs(entries, phase) for phase in PHASES)
    seen_left = {run.test for run in left_runs}
    runs = [*(run for run in found_runs if run.test not in seen_left), *left_runs]
    read = settings["as_left" if left_runs else "as_found"] if runs else None
    diagnosis = diagnose(runs, audit, titles.keys(), read)
    ran = {run.test for run in runs} if diagnosis.suspects else set()
    intake_body, intake_entry = last_of(entries, IntakePlacing)
    return EconomizerPage(
        controller=nameplate.controller,
        climate_zone=zone,
        method_reason=default_method(zone)[1] if zone in FIXED_LIMIT_F else None,
        methods=changeover_methods(zone),
        settings=setting_lines(as_found, said_settings, zone, visit.pressure_pa),
        as_found=as_found,
        planned=planned,
        fights=fights,
        need=need,
        need_entry=need_entry,
        walk=walk_of(need, reads, lines, day),
        reads=reads,
        day=day,
        day_known=known,
        tests=_lines(tests, entries, audits, settings),
        plan_trouble=trouble,
        suspects=tuple(
            SuspectLine(
                each.fault.key,
                each.fault.name,
                each.fault.do,
                each.fault.who,
                each.sure,
                tuple(dict.fromkeys(_sign_words(sign, titles) for sign in each.signs)),
            )
            for each in diagnosis.suspects
        ),
        found=diagnosis.found,
        open_between=tuple(to_decide(test, titles, ran, audit) for test in diagnosis.open_between),
        points=points,
        points_left=left,
        loops=_lines(_loops(planned, day, fights), entries, audits, settings),
        revisions=revisions,
        alarms=alarm_lines(entries, planned),
        intake=intake_body,
        intake_entry=intake_entry,
        intake_flags=intake_body.flags if intake_body else (),
        found_running=running,
        found_mode=mode,
    )


def _as_it_ran(entries: list[Entry]) -> tuple[dict[str, float], str]:
    """Fan, schedule and mode before the first test of the visit that a controller ran."""
    for entry in entries:
        if isinstance(entry.body, TestSeen) and entry.body.seen.before:
            return entry.body.seen.before, entry.body.seen.mode_before
    return {}, ""


def planned_tests(visit: VisitContext) -> tuple[str, ...]:
    """Keys of the tests that the planned settings call for on an ordinary day; none without an economizer."""
    nameplate = economizer_of(visit.snapshot)
    if nameplate is None:
        return ()
    planned = planned_settings(nameplate, visit.snapshot.site.climate_zone, visit.pressure_pa, visit.others)[1]
    day = Day(pressure_pa=visit.pressure_pa)
    return tuple(step.key for step in _plan(planned, day, Wanted(), fights_itself(planned))[0])


def _day(visit: VisitContext, audits: tuple[PointPage, ...]) -> tuple[Day, bool]:
    """Outdoor and return air by the visit's latest readings, or by the probe beside the unit's sensors; else a mild day."""
    day, known = Day(pressure_pa=visit.pressure_pa), False
    for phase in PHASES:
        entries = visit.readings(phase)
        readings = Readings(
            phase, entries, visit.snapshot.instruments, visit.path.stations, visit.runs, visit.matches, visit.pressure_pa
        )
        for station in visit.path.stations:
            if station.id in ("outdoor", "return"):
                readings.station(station)
        outdoor, back = readings.airs.get("outdoor"), readings.airs.get("return")
        if outdoor and back:
            known = True
            day = Day(
                outdoor.dry_bulb.value,
                back.dry_bulb.value,
                _rh(outdoor.properties, 0.6),
                _rh(back.properties, 0.5),
                visit.pressure_pa,
            )
    if not known:
        for points in audits:
            by_probe = {each.line.place: each.reference_c for each in points.lines if each.reference_c is not None}
            if {"outdoor", "return"} <= set(by_probe):
                return replace(day, outdoor_c=by_probe["outdoor"], return_c=by_probe["return"]), True
    return day, known


def _rh(properties: object, usual: float) -> float:
    found = properties.get("relative_humidity") if hasattr(properties, "get") else None
    return float(min(max(found.value, 0.02), 1.0)) if found else usual


def _plan(planned: Configuration, day: Day, wanted: Wanted, fights: Sentence | None) -> tuple[tuple[Step, ...], Sentence | None]:
    if fights:
        return (), fights
    try:
        return plan(planned, day, wanted), None
    except Refused as refusal:
        return (), refusal.sentence


def _loops(planned: Configuration, day: Day, fights: Sentence | None) -> tuple[Step, ...]:
    try:
        return loop_steps(planned, day) if not fights else ()
    except Refused:
        return ()


def _runs(entries: list[Entry], phase: str) -> list[TestRun]:
    """Every run of a phase that was not judged by eye alone, in order."""
    seen = [entry.body.seen for entry in entries if isinstance(entry.body, TestSeen) and entry.phase == phase]
    return [run for run in seen if not run.asked]


Signs = Mapping[str, Mapping[str, bool] | None]
"""By phase: what the audit says, or the settings that run; None where nobody looked."""


def _lines(steps: tuple[Step, ...], entries: list[Entry], audits: Signs, settings: Signs) -> tuple[TestLine, ...]:
    """Every test with what was seen of it in each phase."""
    return tuple(TestLine(step, *(_test(step.key, phase, entries, audits, settings) for phase in PHASES)) for step in steps)


def _test(key: str, phase: str, entries: list[Entry], audits: Signs, settings: Signs) -> SeenTest | None:
    runs = [
        (entry, entry.body)
        for entry in entries
        if isinstance(entry.body, TestSeen) and entry.body.seen.test == key and entry.phase == phase
    ]
    if not runs:
        return None
    entry, body = runs[-1]
    judged: StepVerdict = verdict(body.seen)
    causes: tuple[CauseLine, ...] = ()
    if judged.mark == "off" and not body.seen.asked:
        diagnosis = diagnose(_runs(entries, phase), audits[phase], settings=settings[phase])
        sure = {each.fault.key: each.sure for each in diagnosis.suspects}
        causes = tuple(
            CauseLine(fault.key, fault.name, fault.do, sure.get(fault.key, 0.0)) for fault in faults_of_test(key, diagnosis)
        )
    return SeenTest(entry.id, entry.at, entry.by, body.seen, judged.mark, judged.points, judged.sentence, causes, len(runs))


def _sign_words(sign: str, titles: dict[str, str]) -> str:
    test = sign.split(".")[0]
    if sign in TRUE_AIR:
        return "Mixed air by the probe, damper shut and open"
    if test == READ_SETTINGS:
        return "The settings that run, beside the plan"
    if test == "audit":
        return "Sensors against the reference probe"
    if test == "any":
        return "Freeze protection tripped"
    if test in ("damper", "air"):
        return "Where it stands when shut, and when open"
    return titles.get(test, test)


def to_decide(test: str, titles: dict[str, str], ran: set[str], audit: dict[str, bool] | None) -> str:
    """A test by its title; once more where it was run."""
    if test == ANOTHER_DAY:
        return f"A day on which outdoor and return air differ by {APART_K:.0f} K ({APART_K * 1.8:.0f} °F) or more"
    words = _sign_words(test, titles)
    return f"{words}, once more" if test in ran or (test == "audit" and audit is not None) else words


def _revisions(entries: list[Entry]) -> tuple[Revision, ...]:
    found: list[Revision] = []
    for entry in entries:
        if isinstance(entry.body, SavedConfiguration):
            body = entry.body
            changes = differences(found[-1].document, body.document) if found else ()
            found.append(Revision(len(found), entry.id, entry.at, entry.by, body.reason, body.source, changes, body.document))
    return tuple(found)

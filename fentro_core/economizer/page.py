"""Everything of an economizer that follows from a visit's logbook: plan, walk, tests with verdicts, points, revisions, alarms."""

from __future__ import annotations

from dataclasses import replace
from math import sqrt

from fentro_core.airflow.intake import IntakePlacing
from fentro_core.base.quantity import Quantity
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Number, Sentence
from fentro_core.economizer.audit import alarm_lines, audit_of, last_of, points_page
from fentro_core.economizer.changeover import (
    FIXED_LIMIT_F,
    METHOD_REASONS,
    NOT_DIFFERENTIAL_DRY_BULB,
    SWITCHING_DIFFERENTIAL_K,
    default_method,
    enthalpy_limit,
)
from fentro_core.economizer.configuration import (
    CHOICES,
    LABELS,
    Configuration,
    check_configuration,
    differences,
    said,
    with_setting,
)
from fentro_core.economizer.entries import (
    DamperRead,
    OutdoorNeed,
    PlanSetting,
    SavedConfiguration,
    TestSeen,
)
from fentro_core.economizer.minimum_position import PositionRead, next_position
from fentro_core.economizer.proof.diagnosis import diagnose, faults_of_test
from fentro_core.economizer.proof.faults import TRUE_AIR
from fentro_core.economizer.proof.judging import verdict
from fentro_core.economizer.proof.loops import loop_steps
from fentro_core.economizer.proof.plan import Day, Wanted, as_it_was, plan
from fentro_core.economizer.proof.step import Step, StepVerdict, TestRun
from fentro_core.economizer.results import (
    CauseLine,
    EconomizerPage,
    MethodLine,
    Revision,
    SeenTest,
    SettingLine,
    SettingValue,
    SuspectLine,
    TestLine,
    Walk,
    WalkLine,
)
from fentro_core.logbook.entry import Entry
from fentro_core.logbook.snapshot import Snapshot
from fentro_core.phase.readings import Readings
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.packaged_rooftop import RooftopNameplate

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
    as_found, planned = _planned(nameplate, zone, visit.pressure_pa, entries)
    need, need_entry = last_of(entries, OutdoorNeed)
    reads, lines = _damper_reads(entries)
    day, known = _day(visit)
    wanted = Wanted(need.required_m3s / need.supply_m3s if need else None)
    fights = _fights(planned)
    tests, trouble = _plan(planned, day, wanted, fights)
    running, mode = _as_it_ran(entries)
    tests = tuple(as_it_was(step, running, mode, {}) for step in tests)
    points = points_page(entries, planned, "as_found")
    left = points_page(entries, planned, "as_left")
    audits = {"as_found": audit_of(points), "as_left": audit_of(left)}
    audit = audits["as_left"] or audits["as_found"]
    titles = {step.key: step.title for step in tests}
    found_runs, left_runs = (_runs(entries, phase) for phase in PHASES)
    seen_left = {run.test for run in left_runs}
    runs = [*(run for run in found_runs if run.test not in seen_left), *left_runs]
    diagnosis = diagnose(runs, audit, titles.keys())
    ran = {run.test for run in runs} if diagnosis.suspects else set()
    intake_body, intake_entry = last_of(entries, IntakePlacing)
    return EconomizerPage(
        controller=nameplate.controller,
        climate_zone=zone,
        method_reason=default_method(zone)[1] if zone in FIXED_LIMIT_F else None,
        methods=_methods(zone),
        settings=_settings(as_found, said_settings, zone, visit.pressure_pa),
        as_found=as_found,
        planned=planned,
        fights=fights,
        need=need,
        need_entry=need_entry,
        walk=_walk(need, reads, lines, day),
        reads=reads,
        day=day,
        day_known=known,
        tests=_lines(tests, entries, audits),
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
        loops=_lines(_loops(planned, day, fights), entries, audits),
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


def economizer_of(snapshot: Snapshot) -> RooftopNameplate | None:
    """The nameplate of a unit with an economizer; None of any other."""
    nameplate = snapshot.system.nameplate
    return nameplate if nameplate.has_economizer and isinstance(nameplate, RooftopNameplate) else None


def planned_tests(visit: VisitContext) -> tuple[str, ...]:
    """Keys of the tests that the planned settings call for on an ordinary day; none without an economizer."""
    nameplate = economizer_of(visit.snapshot)
    if nameplate is None:
        return ()
    planned = _planned(nameplate, visit.snapshot.site.climate_zone, visit.pressure_pa, visit.others)[1]
    day = Day(pressure_pa=visit.pressure_pa)
    return tuple(step.key for step in _plan(planned, day, Wanted(), _fights(planned))[0])


def running(visit: VisitContext, phase: str) -> Configuration | None:
    """The configuration that runs in a phase; None where nobody read it or said anything of it then."""
    nameplate = economizer_of(visit.snapshot)
    saved = [entry.body.document for entry in visit.others if isinstance(entry.body, SavedConfiguration)]
    typed = [entry for entry in visit.others if isinstance(entry.body, PlanSetting) and entry.body.stage == phase]
    known = len(saved) > 1 if phase == "as_left" else bool(saved)
    if nameplate is None or not (known or typed):
        return None
    start = (
        saved[-1 if phase == "as_left" else 0]
        if saved
        else _usual(nameplate, visit.snapshot.site.climate_zone, visit.pressure_pa)
    )
    return _with(start, typed, phase)


def _planned(
    nameplate: RooftopNameplate, zone: str, pressure_pa: float, entries: list[Entry]
) -> tuple[Configuration, Configuration]:
    """The configuration as found, and as planned."""
    saved = next((entry.body.document for entry in entries if isinstance(entry.body, SavedConfiguration)), None)
    said_settings = [entry for entry in entries if isinstance(entry.body, PlanSetting)]
    as_found = _with(saved or _usual(nameplate, zone, pressure_pa), said_settings, "as_found")
    return as_found, _with(as_found, said_settings, "planned")


def _usual(nameplate: RooftopNameplate, zone: str, pressure_pa: float) -> Configuration:
    """What is assumed of a controller until its configuration is read or typed."""
    method = nameplate.changeover or (default_method(zone)[0] if zone in FIXED_LIMIT_F else "fixed_dry_bulb")
    limit = (FIXED_LIMIT_F[zone] - 32) / 1.8 if zone in FIXED_LIMIT_F and "dry_bulb" in method else Configuration().high_limit_c
    return Configuration(model="", changeover=method, high_limit_c=limit, high_limit_j_per_kg=enthalpy_limit(pressure_pa))


def _with(start: Configuration, said_settings: list[Entry], stage: str) -> Configuration:
    """The configuration with what was written down at a stage; what does not fit by itself is left aside, and said elsewhere."""
    document = start
    for entry in said_settings:
        body = entry.body
        if isinstance(body, PlanSetting) and body.stage == stage:
            document = _set(document, body.setting, body.value)
    return document


def _set(document: Configuration, key: str, value: float | str | bool) -> Configuration:
    try:
        return with_setting(document, key, value)
    except Refused:
        return replace(document, **{key: value}) if key in LABELS else document  # type: ignore[arg-type]


def _fights(planned: Configuration) -> Sentence | None:
    try:
        check_configuration(planned)
    except Refused as refusal:
        return refusal.sentence
    return None


def _methods(zone: str) -> tuple[MethodLine, ...]:
    default = default_method(zone)[0] if zone in FIXED_LIMIT_F else ""
    lines = []
    for key, reason in METHOD_REASONS.items():
        allowed = key != "differential_dry_bulb" or zone not in NOT_DIFFERENTIAL_DRY_BULB
        limit = (
            Number((FIXED_LIMIT_F[zone] - 32) / 1.8, "temperature") if key == "fixed_dry_bulb" and zone in FIXED_LIMIT_F else None
        )
        lines.append(MethodLine(key, said(key), reason, allowed, key == default, limit))
    return tuple(lines)


def _settings(as_found: Configuration, said_settings: list[Entry], zone: str, pressure_pa: float) -> tuple[SettingLine, ...]:
    last: dict[tuple[str, str], Entry] = {}
    for entry in said_settings:
        if isinstance(entry.body, PlanSetting):
            last[entry.body.setting, entry.body.stage] = entry
    proposals = _proposals(zone, pressure_pa)
    lines = []
    for key, (name, kind) in LABELS.items():
        stages = [_value(last.get((key, stage)), kind) for stage in ("as_found", "planned", "as_left")]
        found = stages[0] or _plain(getattr(as_found, key), kind)
        lines.append(SettingLine(key, name, kind, CHOICES.get(key, {}), found, stages[1], stages[2], proposals.get(key)))
    return tuple(lines)


def _value(entry: Entry | None, kind: str) -> SettingValue | None:
    if entry is None or not isinstance(entry.body, PlanSetting):
        return None
    plain = _plain(entry.body.value, kind)
    return SettingValue(plain.text, plain.number, entry.body.reason, entry.id)


def _plain(value: float | str | bool, kind: str) -> SettingValue:
    if kind and kind != "count" and not isinstance(value, str):
        return SettingValue("", Number(float(value), kind))
    return SettingValue(said(value))


def _proposals(zone: str, pressure_pa: float) -> dict[str, SettingValue]:
    """What the climate zone proposes, with its reason."""
    if zone not in FIXED_LIMIT_F:
        return {}
    method, reason = default_method(zone)
    proposed = {"changeover": SettingValue(method, why=reason)}
    if method == "fixed_dry_bulb":
        limit = Number((FIXED_LIMIT_F[zone] - 32) / 1.8, "temperature")
        words = f"High limit of zone {zone} after the usual energy standard (2019 edition); local code rules."
        proposed["high_limit_c"] = SettingValue(number=limit, why=Sentence.of(words))
    if method == "fixed_enthalpy":
        words = "Enthalpy limit after the usual energy standard, at this site's air pressure; local code rules."
        proposed["high_limit_j_per_kg"] = SettingValue(
            number=Number(enthalpy_limit(pressure_pa), "enthalpy"), why=Sentence.of(words)
        )
    for key, (value, kind, words) in _ALWAYS_PROPOSED.items():
        proposed[key] = SettingValue(number=Number(value, kind), why=Sentence.of(words))
    return proposed


_ALWAYS_PROPOSED = {
    "differential_k": (
        SWITCHING_DIFFERENTIAL_K,
        "temperature_difference",
        "Without a differential the dampers hunt on a mild day.",
    ),
    "mixed_low_limit_c": ((45 - 32) / 1.8, "temperature", "Keeps the coil from freezing."),
    "freeze_c": ((38 - 32) / 1.8, "temperature", "Below this for five minutes, and the fan must stop; reset by hand."),
}


def _damper_reads(entries: list[Entry]) -> tuple[tuple[PositionRead, ...], tuple[WalkLine, ...]]:
    """Shares by temperature at each damper position, with half-widths; those that can't be told are lines alone."""
    reads, lines = [], []
    for entry in entries:
        body = entry.body
        if not isinstance(body, DamperRead):
            continue
        contrast = body.outdoor_c - body.return_c
        if abs(contrast) < 1.0:
            words = Sentence.of(
                "Outdoor and return air are only {contrast} apart: nothing can be told. Come back when they differ by {least}.",
                contrast=(abs(contrast), "temperature_difference"),
                least=(10.0, "temperature_difference"),
            )
            lines.append(WalkLine(entry.id, body.position, None, words))
            continue
        share = (body.mixed_c - body.return_c) / contrast
        width = body.plus_minus_k * sqrt(1 + share * share + (1 - share) ** 2) / abs(contrast)
        weak = None
        if width > 0.1:
            weak = Sentence.of(
                "Known to no better than {width}: wait for a larger difference than {contrast}, or match the probes.",
                width=(width, "share"),
                contrast=(abs(contrast), "temperature_difference"),
            )
        lines.append(WalkLine(entry.id, body.position, Quantity(share, width, "share"), weak))
        if 0 <= share <= 1.05:
            reads.append(PositionRead(body.position, min(share, 1.0), width))
    return tuple(reads), tuple(lines)


def _walk(need: OutdoorNeed | None, reads: tuple[PositionRead, ...], lines: tuple[WalkLine, ...], day: Day) -> Walk:
    if need is None:
        return Walk(None, lines, None, Sentence.of("First say how much outdoor air is required, of how much supply air."))
    wanted = need.required_m3s / need.supply_m3s
    following = next_position(reads, need.required_m3s, need.supply_m3s, day.return_c, day.outdoor_c)
    return Walk(wanted, lines, following, None, _ADVICE.get(following.advice))


_ADVICE = {
    "read_apart": Sentence.of(
        "The readings so far are too much alike to tell how this damper opens. Read it once more here, a step from the others."
    ),
    "too_coarse": Sentence.of(
        "The share is about right, but known too coarsely to settle on. Match the probes, or come back when outdoor and "
        "return air differ more."
    ),
    "leaks_shut": Sentence.of(
        "More outdoor air than wanted comes in with the damper shut: its blades or seals leak. Mend them before setting it."
    ),
    "opens_short": Sentence.of(
        "Less outdoor air than wanted comes in with the damper fully open. Look for a blocked intake, a slipped linkage, or a "
        "return damper that does not shut."
    ),
}


def _day(visit: VisitContext) -> tuple[Day, bool]:
    """Outdoor and return air by the visit's latest readings; a mild day until they are read."""
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


def _lines(steps: tuple[Step, ...], entries: list[Entry], audits: dict[str, dict[str, bool] | None]) -> tuple[TestLine, ...]:
    """Every test with what was seen of it in each phase."""
    return tuple(TestLine(step, *(_test(step.key, phase, entries, audits[phase]) for phase in PHASES)) for step in steps)


def _test(key: str, phase: str, entries: list[Entry], audit: dict[str, bool] | None) -> SeenTest | None:
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
        diagnosis = diagnose(_runs(entries, phase), audit)
        sure = {each.fault.key: each.sure for each in diagnosis.suspects}
        causes = tuple(
            CauseLine(fault.key, fault.name, fault.do, sure.get(fault.key, 0.0)) for fault in faults_of_test(key, diagnosis)
        )
    return SeenTest(entry.id, entry.at, entry.by, body.seen, judged.mark, judged.points, judged.sentence, causes, len(runs))


def _sign_words(sign: str, titles: dict[str, str]) -> str:
    test = sign.split(".")[0]
    if sign in TRUE_AIR:
        return "Mixed air by the probe, damper shut and open"
    if test == "audit":
        return "Sensors against the reference probe"
    if test == "any":
        return "Freeze protection tripped"
    if test in ("damper", "air"):
        return "Where it stands when shut, and when open"
    return titles.get(test, test)


def to_decide(test: str, titles: dict[str, str], ran: set[str], audit: dict[str, bool] | None) -> str:
    """A test by its title; once more where it was run."""
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

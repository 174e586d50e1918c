"""From a snapshot to its report. A pure function: same snapshot, same report."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.ducts.results import DuctPage
from fentro_core.economizer.page import economizer_page
from fentro_core.economizer.results import EconomizerPage
from fentro_core.logbook.accept import closing
from fentro_core.logbook.entries import Closing, Photo, Setting
from fentro_core.logbook.entry import Entry, standing
from fentro_core.logbook.snapshot import Snapshot
from fentro_core.logbook.temporary import TEMPORARY_KINDS, HandedOn, Temporary, Undone
from fentro_core.parts import PARTS, parts_of
from fentro_core.phase.results import PointReading, VerdictLine
from fentro_core.report.content import (
    AirPicture,
    DoneLine,
    PlanLine,
    Report,
    ReportChange,
    ReportPhoto,
    ReportReading,
    ReportResult,
    ReportVerdict,
    SoLine,
    StatePoint,
    ToDo,
)
from fentro_core.report.log import log_lines, places, readable_name, typed
from fentro_core.report.plans import handles_planned, rooms_of, settings_planned, tree_of
from fentro_core.report.proofs import tests_of
from fentro_core.system.kinds import KIND_NAMES
from fentro_core.system.nameplate import nameplate_words
from fentro_core.visit.ducts import ducts_of
from fentro_core.visit.results import PhaseResult, WorkUp
from fentro_core.visit.worked import Worked, worked

AT_ONCE = "Before the unit runs on"
SOON = "Within two weeks"
NEXT = "At the next visit"

AT_ONCE_KEYS = ("outlet", "trouble:heating")
"""Verdicts that, when they are off, can hurt someone: what the readings point to is then to be done before the unit runs on."""

TECHNICIAN = "Technician"
READ_AGAIN = "It could not be told. Read it again, with matched probes or at more points."
WATCH = "It is near its limit. Read it again, and compare."

MOST_TO_DO = 4
"""Causes named to a customer; the whole list stands in the record."""

GRAVEST: dict[Mark, int] = {"off": 0, "too_close": 1, "watch": 2, "not_measured": 3, "holds": 4}

SUBJECTS: dict[str, str] = {key: words for part in PARTS for key, words in part.subjects.items()}


def report_of(snapshot: Snapshot, done: Worked | None = None) -> Report:
    """The report of a visit.

    Parameters
    ----------
    snapshot : Snapshot
        Of the whole visit.
    done : Worked, optional
        Of the same snapshot, where it was worked out already.

    Raises
    ------
    Unworkable
        The site or the plate can't be right.
    """
    made = done or worked(snapshot)
    out = {each.entry for each in made.left_out}
    entries = [entry for entry in snapshot.entries if entry.id not in out]
    found = made.found
    stand = standing(entries)
    by = {entry.id: entry.by for entry in entries}
    system = snapshot.system
    first, last = found.phases[0], found.phases[-1]
    over = closing(stand)
    closed_at = next((entry.at for entry in reversed(stand) if isinstance(entry.body, Closing)), "") if over else ""
    names = places(found.path)
    # What could not be worked out with is left out of the pages that are worked out apart, too.
    sound = replace(snapshot, entries=tuple(entries))
    here = {part.key for part in parts_of(system.kind, system.nameplate)}
    ducts = ducts_of(sound) if "ducts" in here else None
    economizer = economizer_page(sound) if "economizer" in here else None
    numbers = {entry.id: number for number, entry in enumerate(snapshot.entries, 1)}
    readings = tuple(_readings(found, snapshot, names, by, numbers))
    return Report(
        site=snapshot.site.name,
        elevation=Quantity(snapshot.site.elevation_m, 0.0, "length"),
        pressure=found.pressure,
        system=system.name,
        kind=KIND_NAMES[system.kind],
        location=system.location,
        technician=snapshot.visit.technician,
        opened_at=snapshot.visit.opened_at,
        closed_at=closed_at,
        state="cancelled" if found.cancelled else "closed" if over else "open",
        asked=_asked(snapshot, found),
        summary=over.summary if over else "",
        so=so_lines(first, last),
        done=_done(stand),
        improved=tuple(each for each in found.comparison if each.real),
        to_do=to_do(last),
        untold=_untold(found),
        plate=nameplate_words(system.nameplate),
        results=_results(first, last if len(found.phases) > 1 else None),
        changes=found.comparison,
        verdicts=tuple(_verdict(phase.phase, line) for phase in found.phases for line in phase.verdicts),
        readings=readings,
        tests=tests_of(sound, found.phases, economizer),
        rooms=rooms_of(ducts) if ducts else (),
        plans=_plans(economizer, ducts),
        tree=tree_of(ducts) if ducts else (),
        pictures=tuple(AirPicture(phase.phase, found.path, phase.ribbon) for phase in found.phases),
        states=tuple(_states(found, names)),
        findings=tuple(each for each in last.findings if not each.faint),
        cautions=tuple(dict.fromkeys(_cautions(found, last))),
        instruments=snapshot.instruments,
        temporary=_temporary(stand),
        photos=_photos(stand, names),
        log=log_lines(snapshot.entries, names, frozenset(line.number for line in readings)),
        left_out=tuple(each.words for each in made.left_out),
    )


def _asked(snapshot: Snapshot, found: WorkUp) -> tuple[str, ...]:
    return tuple(dict.fromkeys(words.strip() for words in (snapshot.visit.purpose, found.reported) if words.strip()))


def subject_of(key: str) -> str:
    """What a customer calls what a verdict is about; "" for what is none of a customer's.

    >>> subject_of("ducts:b3:share"), subject_of("zones:proof"), subject_of("first_look")
    ('Air that each room gets', 'Zones: tests', '')
    """
    at = key
    while at:
        if at in SUBJECTS:
            return SUBJECTS[at]
        at = at.rpartition(":")[0] or ("drop" if at.startswith("drop_") else "")
    return ""


def so_lines(first: PhaseResult, last: PhaseResult) -> tuple[SoLine, ...]:
    """Subject by subject, the gravest first: how it is at the end, and how it was found."""
    before, after = _by_subject(first.verdicts), _by_subject(last.verdicts)
    lines = []
    for subject, said in after.items():
        mark = _gravest(said)
        was = _gravest(before[subject]) if last is not first and subject in before else None
        sentences = tuple(line.sentence for line in said if line.mark == mark)[:3]
        lines.append(SoLine(subject, mark, was, sentences))
    return tuple(sorted(lines, key=lambda line: GRAVEST[line.mark]))


def _by_subject(verdicts: Iterable[VerdictLine]) -> dict[str, list[VerdictLine]]:
    found: dict[str, list[VerdictLine]] = {}
    for line in verdicts:
        subject = subject_of(line.key)
        if line.mark and subject:
            found.setdefault(subject, []).append(line)
    return found


def _gravest(lines: Sequence[VerdictLine]) -> Mark:
    return min((line.mark for line in lines if line.mark), key=lambda mark: GRAVEST[mark])


def _done(stand: Sequence[Entry]) -> tuple[DoneLine, ...]:
    return tuple(
        DoneLine(entry.body.what, entry.body.was, entry.body.now, entry.body.why, entry.at, entry.by)
        for entry in stand
        if isinstance(entry.body, Setting)
    )


def to_do(last: PhaseResult) -> tuple[ToDo, ...]:
    """What remains: the leading cause, and what to look at if it is not that; without a cause, whatever is not as it should be.

    How soon is ours, no rule of the trade: by what can hurt, then by what the readings say.
    """
    danger = any(line.mark == "off" and line.key.startswith(AT_ONCE_KEYS) for line in last.verdicts)
    open_still = [each for each in last.findings if each.why_not is None and not each.faint]
    if not open_still:
        return tuple(_without_cause(last, AT_ONCE if danger else SOON))
    first, *rest = open_still
    others = tuple(each.name for each in rest[: MOST_TO_DO - 1] if each.likely or not first.likely)
    if first.likely:
        how_soon = AT_ONCE if danger else SOON
        return (ToDo(first.name, Sentence(first.do), first.who, how_soon, first.caution, True, others),)
    how_soon = AT_ONCE if danger else NEXT
    return (ToDo(first.name, Sentence(first.check), first.check_who, how_soon, first.caution, False, others),)


def _without_cause(last: PhaseResult, how_soon: str) -> Iterable[ToDo]:
    """Subjects that are off, with what is said of them; then those that nobody could tell, or that are to be watched."""
    for line in so_lines(last, last):
        if line.mark == "off":
            yield ToDo(line.subject, line.sentences[0], TECHNICIAN, how_soon, "", True, cause=False)
        elif line.mark == "too_close":
            yield ToDo(line.subject, Sentence(READ_AGAIN), TECHNICIAN, NEXT, "", False, cause=False)
        elif line.mark == "watch":
            yield ToDo(line.subject, Sentence(WATCH), TECHNICIAN, NEXT, "", False, cause=False)


def _untold(found: WorkUp) -> tuple[str, ...]:
    """What the visit leaves open, step by step, up to the handing over."""
    return tuple(f"{step.name}: {words}" for step in found.route for words in step.left)


def _results(first: PhaseResult, last: PhaseResult | None) -> tuple[ReportResult, ...]:
    left = {result.key: result for result in last.results} if last else {}
    found = {result.key: result for result in first.results}
    lines = []
    for key in dict.fromkeys([*found, *left]):
        before, after = found.get(key), left.get(key)
        shown = before or after
        if shown and ((before and before.quantity) or (after and after.quantity)):
            nominal = bool((before and before.nominal) or (after and after.nominal))
            lines.append(
                ReportResult(shown.name, before.quantity if before else None, after.quantity if after else None, nominal)
            )
    return tuple(lines)


def _verdict(phase: str, line: VerdictLine) -> ReportVerdict:
    return ReportVerdict(phase, line.mark, line.sentence, line.notes, line.early)


def _readings(
    found: WorkUp, snapshot: Snapshot, names: dict[str, str], by: dict[str, str], numbers: dict[str, int]
) -> Iterable[ReportReading]:
    instruments = {each.id: each.name for each in snapshot.instruments}
    for phase in found.phases:
        for station in phase.stations:
            for each in station.readings:
                where = names.get(station.station, station.station)
                who, number = by.get(each.entry, ""), numbers.get(each.entry, 0)
                yield _reading(phase.phase, where, each, instruments, who, number)


def _reading(phase: str, station: str, each: PointReading, instruments: dict[str, str], by: str, number: int) -> ReportReading:
    return ReportReading(
        number=number,
        phase=phase,
        station=station,
        quantity=readable_name(each.quantity),
        point=each.point,
        typed=typed(each.quantity, each.typed_value, each.typed_unit),
        value=each.value,
        instrument=instruments.get(each.instrument, each.instrument),
        at=each.at,
        by=by,
        early=each.early,
        held=each.held,
        overdue=each.overdue,
    )


def _plans(economizer: EconomizerPage | None, ducts: DuctPage | None) -> tuple[PlanLine, ...]:
    names = {part.key: part.name for part in PARTS}
    settings = settings_planned(economizer, names["economizer"]) if economizer else ()
    return (*settings, *(handles_planned(ducts, names["ducts"]) if ducts else ()))


def _states(found: WorkUp, names: dict[str, str]) -> Iterable[StatePoint]:
    for phase in found.phases:
        for each in phase.stations:
            ratio = each.properties.get("humidity_ratio")
            if each.dry_bulb and ratio:
                yield StatePoint(names.get(each.station, each.station), phase.phase, each.dry_bulb.value, ratio.value)


def _cautions(found: WorkUp, last: PhaseResult) -> Iterable[str]:
    for step in found.route:
        yield from step.cautions
    yield from (each.caution for each in last.findings if each.caution and not each.faint)


def _temporary(stand: Sequence[Entry]) -> tuple[ReportChange, ...]:
    opened = {entry.id: entry for entry in stand if isinstance(entry.body, Temporary)}
    ends: dict[str, tuple[str, Entry, str]] = {}
    for entry in stand:
        if isinstance(entry.body, Undone):
            ends[entry.body.change] = ("undone", entry, entry.body.how)
        elif isinstance(entry.body, HandedOn):
            ends[entry.body.change] = ("handed on", entry, f"to {entry.body.to_name}: {entry.body.reason}")
    lines = []
    for key, entry in opened.items():
        end, at, words = ends.get(key, ("open", None, ""))
        body = entry.body
        kind = TEMPORARY_KINDS[body.kind]
        lines.append(
            ReportChange(body.what, kind, entry.at, entry.by, end, at.at if at else "", at.by if at else "", words or body.undo)
        )
    return tuple(lines)


def _photos(stand: Sequence[Entry], names: dict[str, str]) -> tuple[ReportPhoto, ...]:
    of = {"nameplate": "Nameplate", "site": "Site", "other": ""}
    lines = []
    for entry in stand:
        if isinstance(entry.body, Photo):
            shows = names.get(entry.body.station, entry.body.station) if entry.body.station else of.get(entry.body.of, "")
            words = ": ".join(each for each in (shows, entry.body.words.strip()) if each)
            lines.append(ReportPhoto(entry.body.sha256, words or "Photo", entry.at, entry.by))
    return tuple(lines)

"""Night cooling: what a plan needs, the plan that was taken over, the night afterwards, the damper's tests."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime, timedelta
from functools import lru_cache

from fentro_core.airflow.intake import IntakePlacing
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.night import after, fit, forecast, plan, tonight
from fentro_core.night.after import NightAfter, NightSamples, night_after
from fentro_core.night.entries import OutdoorAirNow
from fentro_core.night.proof import NightTestSeen, tests, verdict
from fentro_core.night.results import NightPage, NightProof, NightTestLine
from fentro_core.phase.context import PartContext
from fentro_core.phase.declaration import Course, Part, PartResult
from fentro_core.phase.results import VerdictLine
from fentro_core.phase.verdicts import gravest
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.heat_pump import HeatPumpNameplate
from fentro_core.system.nameplate import Nameplate
from fentro_core.system.night_setup import NightPlanned, NightSetup
from fentro_core.ventilation.kept import fresh_air_of


def applies(nameplate: Nameplate) -> bool:
    """A damper can bring in outdoor air at night."""
    return isinstance(nameplate, HeatPumpNameplate) and nameplate.night_cooling


def work(context: PartContext[HeatPumpNameplate]) -> PartResult:
    """What is known for tonight; a plan, the night afterwards and the proof are said among the verdicts."""
    visit, nameplate = context.visit, context.nameplate
    setups, plans = visit.entries_of(NightSetup), visit.entries_of(NightPlanned)
    seen, overrides = visit.entries_of(NightSamples), visit.entries_of(OutdoorAirNow)
    room = context.air("return")
    dwelling = fresh_air_of(visit).dwelling
    setup = setups[-1][1] if setups else nameplate.night
    planned = plans[-1][1] if plans else nameplate.night_plan
    found, why = _afterwards(setup, planned, seen[-1][1]) if seen else (None, None)
    over = overrides[-1] if overrides else None
    page = NightPage(
        setup,
        setups[-1][0].id if setups else "",
        planned,
        plans[-1][0].id if plans else "",
        room.dry_bulb.value if room else None,
        nameplate.rated_total_w,
        dwelling.floor_area_m2 if dwelling else None,
        nameplate.rated_airflow_m3s,
        seen[-1][1] if seen else None,
        seen[-1][0].id if seen else "",
        found,
        why,
        over[1] if over else None,
        (datetime.fromisoformat(over[0].at) + timedelta(hours=over[1].hours)).isoformat() if over else "",
        over[0].id if over else "",
        proof_of(visit),
    )
    lines = tuple(_lines(page, bool(plans), visit))
    spoken = gravest(line.mark for line in lines if line.mark)
    return PartResult(
        page=page, details=lines, mark=spoken if spoken != "holds" else None, speaks=any(line.mark for line in lines)
    )


def _lines(page: NightPage, planned_here: bool, visit: VisitContext) -> Iterator[VerdictLine]:
    if page.planned and planned_here and not page.seen:
        words = f"Tonight from {page.planned.start_hour} to {page.planned.stop_hour} h, down to {{target}}."
        yield VerdictLine(
            "night:planned", None, Sentence.of(words, target=(page.planned.target_c, "temperature")), opens="tonight"
        )
    if page.after and page.after.mark != "not_measured":
        yield VerdictLine("night:after", page.after.mark, page.after.words, opens="tonight")
    if page.proof and page.proof.done:
        yield VerdictLine("night:proof", page.proof.mark, page.proof.words, opens="night_proof")
    intake = next((body for _, body in reversed(visit.entries_of(IntakePlacing))), None)
    if intake and intake.shaded is False:
        words = "Its outdoor sensor is in the sun or in an exhaust: it never cools at night while that is so."
        yield VerdictLine("night:sensor", "off", Sentence.of(words), opens="night_proof")


def _afterwards(
    setup: NightSetup | None, planned: NightPlanned | None, samples: NightSamples
) -> tuple[NightAfter | None, Sentence | None]:
    """What the samples say, or why they say nothing."""
    if setup is None:
        return None, Sentence.of("Say what blows the night air first: then its samples can be followed.")
    if planned is None:
        return None, Sentence.of("No plan was noted for this night: there is nothing to hold it against.")
    try:
        return _known(setup, planned, samples), None
    except Refused as refused:
        return None, refused.sentence


@lru_cache(maxsize=16)
def _known(setup: NightSetup, planned: NightPlanned, samples: NightSamples) -> NightAfter:
    """Followed once for the same night; entries never change."""
    return night_after(setup, planned, samples)


def proof_of(visit: VisitContext) -> NightProof:
    """The damper's tests as they stand on this visit."""
    last = {body.test: (entry.id, body) for entry, body in visit.entries_of(NightTestSeen)}
    lines = []
    for test in tests():
        entry, seen = last.get(test.kind, ("", None))
        mark, words = verdict(test, seen) if seen else ("not_measured", Sentence.of("Not done yet."))
        lines.append(NightTestLine(test.kind, test.title, test.do, test.asks, mark, words, seen, entry))
    mark, words = _together(lines)
    return NightProof(tuple(lines), mark, words, len(last))


def _together(lines: list[NightTestLine]) -> tuple[Mark, Sentence]:
    if not any(line.seen for line in lines):
        return "not_measured", Sentence.of("Nothing is proved yet.")
    for mark in ("off", "too_close"):
        bad = next((line for line in lines if line.mark == mark), None)
        if bad:
            return bad.mark, bad.words
    left = next((line for line in lines if line.mark == "not_measured"), None)
    if left:
        return "not_measured", Sentence.of(f"Good so far. Next: {left.title}.")
    return "holds", Sentence.of("Proved: the damper turns, its relief opens with it, and both go back.")


def course(visit: VisitContext) -> Course:
    """Once the damper's proof was begun, the tests that are left."""
    done = {body.test for _, body in visit.entries_of(NightTestSeen)}
    return (
        Course("prove", tuple(test.title for test in tests() if test.kind not in done), begun=True) if done else Course("prove")
    )


PART = Part(
    key="night",
    name="Night cooling",
    work=work,
    course=course,
    applies=applies,
    page=NightPage,
    calculations=(plan, tonight, fit, forecast, after),
    subjects={
        "night": "Night cooling",
        "night:proof": "Night damper: tests",
    },
)

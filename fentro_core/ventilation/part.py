"""Fresh air: a ventilator's flows, what the dwelling needs, what its control gives. Occupied spaces are a calculation."""

from __future__ import annotations

from collections.abc import Iterator

from fentro_core.airflow.intake import IntakePlacing
from fentro_core.airflow.traverses import planes, traverses
from fentro_core.airflow.ways import Way, by_traverse, known, tightest
from fentro_core.base.measured import Measured
from fentro_core.base.sentence import Sentence
from fentro_core.phase.context import PartContext, missing
from fentro_core.phase.declaration import Course, Part, PartResult
from fentro_core.phase.numbers import NUMBERS, Followed, Number
from fentro_core.phase.results import Result, VerdictLine
from fentro_core.phase.verdicts import gravest
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.fresh_air import Stream
from fentro_core.system.nameplate import Nameplate
from fentro_core.ventilation import dwelling, lockouts, port_flow, runtime, spaces
from fentro_core.ventilation.entries import OF_FRESH_AIR
from fentro_core.ventilation.kept import fresh_air_of
from fentro_core.ventilation.page import (
    SHARE_HIGH,
    SHARE_LOW,
    UNEVEN,
    FreshAirState,
    balance,
    now_of,
    page_of,
    state_of,
    together,
)
from fentro_core.ventilation.proof.plan import plan
from fentro_core.ventilation.proof.step import VentilatorTestSeen
from fentro_core.ventilation.proving import proof_of
from fentro_core.ventilation.results import VentilationPage
from fentro_core.ventilation.runtime import MINUTES

VENTILATOR = "dwelling_ventilator"
ABOUT = (*OF_FRESH_AIR, "ventilator_flow", "ventilator_test")

Context = PartContext[Nameplate]

_SIDES: dict[str, Stream] = {"supply": "fresh", "extract": "stale"}
_KEYS = {"supply": "flow_supply", "extract": "flow_extract"}


def work(context: Context) -> PartResult:
    """A ventilator's own flows with its traverses; need, run time and control of a dwelling, once something is said of it."""
    own = context.kind == VENTILATOR
    results, read = _flows(context) if own else ((), {})
    about = any(entry.kind in ABOUT for entry in context.visit.others) or context.nameplate.fresh_air_kept is not None
    if not own and not about:
        return PartResult()
    state = state_of(context.visit, context.phase, read)
    page = page_of(context.visit, state, tuple(traverses(context)) if own else ())
    lines = tuple(_lines(context, state)) if about else ()
    spoken = gravest(line.mark for line in lines)
    return PartResult(results=results, page=page, details=lines, mark=spoken if spoken != "holds" else None, speaks=bool(lines))


def _lines(context: Context, state: FreshAirState) -> Iterator[VerdictLine]:
    mark, words = together(state)
    now = now_of(state)
    share = state.share(now[1]) if now else None
    if share is not None:
        context.note("fresh_air_share", share)
    if mark != "not_measured":
        yield VerdictLine("ventilation:need", mark, words, opens="fresh_air")
    even, even_words, difference = balance(state)
    if difference is not None:
        context.note("fresh_air_balance", difference)
    if even_words and even != "not_measured":
        yield VerdictLine("ventilation:balance", even, even_words, opens="fresh_air")
    for flag in intake.flags if (intake := _intake(context)) else ():
        yield VerdictLine(
            f"ventilation:intake:{flag.key}", "off" if flag.off else "watch", Sentence.of(flag.text), opens="fresh_air"
        )
    ventilator = state.known.ventilator
    proof = proof_of(context.visit, ventilator, now[1] if now else None) if ventilator else None
    if proof and proof.done:
        yield VerdictLine("ventilation:proof", proof.mark, proof.words, opens="fresh_air_proof")
    if now and now[1].minutes_per_hour == MINUTES and _need_not(state):
        words = Sentence.of(
            "It runs without a break, and {minutes} an hour would do: somebody left it on.", minutes=_needed(state)
        )
        yield VerdictLine("ventilation:left_on", "watch", words, opens="fresh_air")


def _intake(context: Context) -> IntakePlacing | None:
    return next((body for _, body in reversed(context.visit.entries_of(IntakePlacing))), None)


def course(visit: VisitContext) -> Course:
    """Once the proof was begun, the tests that are left."""
    done = {body.test for _, body in visit.entries_of(VentilatorTestSeen) if body.ended == "done"}
    ventilator = fresh_air_of(visit).ventilator
    if not done or ventilator is None:
        return Course("prove")
    now = now_of(state_of(visit, "as_left", {}))
    tests = plan(ventilator, now[1] if now else None)
    return Course("prove", tuple(test.title for test in tests if test.key not in done), begun=True)


def _need_not(state: FreshAirState) -> bool:
    """It need not run all the time, by the control's next step."""
    time = state.times.get(state.known.edition)
    return time is not None and time.set_minutes < MINUTES


def _needed(state: FreshAirState) -> tuple[float, str]:
    return state.times[state.known.edition].set_minutes * 60.0, "duration"


def _flows(context: Context) -> tuple[tuple[Result, ...], dict[Stream, Measured]]:
    """Both flows of a ventilator of its own: results, and what they are by stream."""
    ducts = {station: duct for station, (_, duct) in planes(context.visit).items()}
    results: list[Result] = []
    found: dict[Stream, Measured] = {}
    for side, stream in _SIDES.items():
        key = _KEYS[side]
        direct = context.readings.average(side, "airflow")
        ways = [Way(key, NUMBERS[key].name, direct, remark=Sentence.of("Read directly."))] if direct else []
        traversed = by_traverse(context.readings, ducts, side)
        best = tightest(known((*ways, *([traversed] if traversed else []))))
        if best:
            results.append(context.keep(key, best.flow, best.work, best.remark))
            found[stream] = best.flow
        else:
            results.append(missing(key, [f"Airflow at {context.readings.names[side].lower()}"]))
    return tuple(results), found


PART = Part(
    key="ventilation",
    name="Ventilation",
    work=work,
    course=course,
    page=VentilationPage,
    calculations=(dwelling, port_flow, runtime, lockouts, spaces),
    numbers=(
        Number(key="flow_supply", name="Fresh-air flow", kind="airflow", compared=True, optional=True),
        Number(key="flow_extract", name="Extract flow", kind="airflow", compared=True, optional=True),
        Number(
            key="fresh_air_share",
            kind="share",
            followed=Followed(
                name="Fresh air against need",
                worse="down",
                low=SHARE_LOW,
                high=SHARE_HIGH,
                says="Less fresh air from visit to visit: filters, the outdoor screen, a damper that sticks, a changed setting.",
            ),
        ),
        Number(
            key="fresh_air_balance",
            kind="share",
            followed=Followed(
                name="Fresh air more than stale",
                worse="up",
                low=-UNEVEN,
                high=UNEVEN,
                says="The two flows drift apart: one filter or one fan.",
            ),
        ),
    ),
    subjects={
        "ventilation": "Fresh air",
        "ventilation:balance": "Balance of fresh and stale air",
        "ventilation:intake": "Where the fresh air is taken in",
        "ventilation:proof": "Ventilator: tests",
    },
)

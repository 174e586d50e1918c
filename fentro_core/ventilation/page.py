"""The fresh-air page, from a visit's logbook: what is needed, what flows, how long it must run, what the control says."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from fentro_core.airflow.intake import IntakePlacing
from fentro_core.airflow.page import TraversePage
from fentro_core.base.measured import Measured
from fentro_core.base.quantity import Quantity, quantity
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark, judge
from fentro_core.base.working import Working
from fentro_core.instruments.instrument import assumed_width
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.fresh_air import Edition, FreshAir, Stage, Stream, Ventilator, VentilatorControl
from fentro_core.ventilation.dwelling import EDITIONS, DwellingNeed, dwelling_need
from fentro_core.ventilation.entries import ControlSaid, DwellingSaid, FlowMeasured
from fentro_core.ventilation.kept import fresh_air_of
from fentro_core.ventilation.port_flow import STEEP, port_flow
from fentro_core.ventilation.proving import proof_of
from fentro_core.ventilation.results import ControlColumn, NeedLine, StreamLine, VentilationPage
from fentro_core.ventilation.runtime import MINUTES, Runtime, runtime

SHARE_LOW, SHARE_HIGH = 0.95, 1.3
"""Of the required fresh air: less is under-ventilated, more costs energy for nothing. Ours: as near as controls and meters go."""

UNEVEN = 0.10
"""Fresh and stale air of one ventilator may differ by this share of the larger one. Ours."""

CHART_SHARE = 0.03
HOOD_SHARE = 0.10
"""95 % half-widths taken where nobody said them: of a model's chart, of a hood. Ours."""

STREAM_NAMES: dict[Stream, str] = {"fresh": "Fresh air in", "stale": "Stale air out"}


@dataclass(frozen=True)
class FreshAirState:
    """What the page and the verdicts are made of: the ventilator's flow that counts, its needs, the run time that gives them."""

    known: FreshAir
    streams: tuple[StreamLine, ...]
    flow: Measured | None
    other: Measured | None
    needs: dict[Edition, DwellingNeed]
    times: dict[Edition, Runtime]
    controls: dict[Stage, tuple[str, VentilatorControl]]

    @property
    def need(self) -> DwellingNeed | None:
        """By the edition that counts here."""
        return self.needs.get(self.known.edition)

    def share(self, control: VentilatorControl) -> Measured | None:
        """Of the required fresh air, with this setting."""
        given = self.given(control)
        if given is None or self.need is None:
            return None
        return Measured(given.value / self.need.required_m3s, _scaled(given.parts, 1.0 / self.need.required_m3s))

    def given(self, control: VentilatorControl) -> Measured | None:
        """Fresh air on average with this setting [m³/s]."""
        if self.flow is None or control.minutes_per_hour is None:
            return None
        part = control.minutes_per_hour / MINUTES
        return Measured(self.flow.value * part, _scaled(self.flow.parts, part))


def _scaled(parts: Mapping[str, float], by: float) -> dict[str, float]:
    return {source: part * by for source, part in parts.items()}


def state_of(visit: VisitContext, phase: str, read: dict[Stream, Measured]) -> FreshAirState:
    """Fresh air of a phase; `read`: flows that were read at stations of the ventilator itself."""
    known = fresh_air_of(visit)
    ventilator = known.ventilator
    flows: dict[Stream, Measured] = {}
    lines = []
    for stream in ventilator.streams if ventilator else ():
        line, flow = _stream(visit, phase, ventilator, stream, read.get(stream)) if ventilator else (None, None)
        if line:
            lines.append(line)
        if flow:
            flows[stream] = flow
    counts = ventilator.streams[0] if ventilator else "fresh"
    others = [flow for stream, flow in flows.items() if stream != counts]
    needs: dict[Edition, DwellingNeed] = {}
    times: dict[Edition, Runtime] = {}
    if known.dwelling:
        for edition in EDITIONS:
            needs[edition] = dwelling_need(known.dwelling, edition)
            if ventilator and counts in flows and needs[edition].required_m3s >= 0.001:
                times[edition] = runtime(
                    needs[edition].required_m3s, flows[counts].value, ventilator.step_min, ventilator.cycle_h
                )
    controls: dict[Stage, tuple[str, VentilatorControl]] = {}
    for entry, body in visit.entries_of(ControlSaid):
        controls[body.stage] = entry.id, body.control
    if "found" not in controls and known.control and not any(body.stage == "left" for _, body in visit.entries_of(ControlSaid)):
        controls["found"] = "", known.control
    return FreshAirState(known, tuple(lines), flows.get(counts), others[0] if others else None, needs, times, controls)


def _stream(
    visit: VisitContext, phase: str, ventilator: Ventilator, stream: Stream, read: Measured | None
) -> tuple[StreamLine, Measured | None]:
    name = STREAM_NAMES[stream]
    said = [(entry, body) for entry, body in visit.entries_of(FlowMeasured, phase) if body.stream == stream]
    if not said and phase == "as_left":
        said = [(entry, body) for entry, body in visit.entries_of(FlowMeasured) if body.stream == stream]
    if not said:
        if read is not None:
            return StreamLine(stream, name, quantity(read, "airflow"), Sentence.of("Read at its station.")), read
        return StreamLine(stream, name, None, Sentence.of("Not measured yet.")), None
    entry, body = said[-1]
    if body.way == "hood" and body.airflow_m3s is not None:
        width = body.plus_minus_m3s if body.plus_minus_m3s is not None else HOOD_SHARE * body.airflow_m3s
        flow = Measured(body.airflow_m3s, {f"reading:{entry.id}": width})
        return StreamLine(stream, name, quantity(flow, "airflow"), Sentence.of("By a hood."), entry.id), flow
    chart, port = ventilator.chart_of(stream), body.port_pa
    if port is None or not chart:
        words = Sentence.of("The ports' drop was read; the model's chart is missing.")
        return StreamLine(stream, name, None, words, entry.id, port), None
    try:
        found = port_flow(chart, port)
    except Refused as refused:
        return StreamLine(stream, name, None, refused.sentence, entry.id, port), None
    width = body.plus_minus_pa if body.plus_minus_pa is not None else assumed_width("static_pressure", port)
    parts = {f"reading:{entry.id}": found.slope_m3s_per_pa * width, "chart": CHART_SHARE * found.airflow_m3s}
    flow = Measured(found.airflow_m3s, parts)
    poor = flow.plus_minus > STEEP * flow.value
    words = Sentence.of("By its ports' drop of {drop} and the model's chart.", drop=(port, "pressure"))
    if poor:
        text = f"{words.text} The chart is steep here: take a finer gauge, or a hood."
        words = Sentence(text, words.numbers)
    line = StreamLine(stream, name, quantity(flow, "airflow"), words, entry.id, port, found.slope_m3s_per_pa, poor)
    return line, flow


def page_of(visit: VisitContext, state: FreshAirState, traverses: tuple[TraversePage, ...]) -> VentilationPage:
    """Everything of it."""
    mark, words = together(state)
    even, even_words, difference = balance(state)
    judged = now_of(state)
    intake = next(reversed(visit.entries_of(IntakePlacing)), None)
    return VentilationPage(
        traverses,
        state.known,
        tuple(_needs(state)),
        state.streams,
        quantity(difference, "share") if difference else None,
        even,
        even_words,
        tuple(_columns(state)),
        proposed(state),
        words,
        mark,
        proof=proof_of(visit, state.known.ventilator, judged[1] if judged else None) if state.known.ventilator else None,
        intake=intake[1] if intake else None,
        intake_entry=intake[0].id if intake else "",
        intake_flags=intake[1].flags if intake else (),
        dwelling_entry=_last(visit, DwellingSaid),
        ventilator_entry=_last(visit, Ventilator),
    )


def _last(visit: VisitContext, body: type[object]) -> str:
    found = visit.entries_of(body)
    return found[-1][0].id if found else ""


def _needs(state: FreshAirState) -> Iterator[NeedLine]:
    for edition, need in state.needs.items():
        work = Working()
        if state.known.dwelling:
            dwelling_need(state.known.dwelling, edition, work)
        line = NeedLine(
            edition,
            EDITIONS[edition],
            Quantity(need.whole_m3s, 0.0, "airflow"),
            Quantity(need.leaks_m3s, 0.0, "airflow"),
            Quantity(need.required_m3s, 0.0, "airflow"),
            edition == state.known.edition,
        )
        time = state.times.get(edition)
        if time and state.known.ventilator and state.flow:
            runtime(need.required_m3s, state.flow.value, state.known.ventilator.step_min, state.known.ventilator.cycle_h, work)
            line = replace(
                line,
                minutes_per_hour=time.minutes_per_hour,
                set_minutes=time.set_minutes,
                gives=Quantity(time.gives_m3s, 0.0, "airflow"),
                effectiveness=time.effectiveness,
                enough=time.enough,
                lacks=Quantity(time.lacks_m3s, 0.0, "airflow"),
            )
        yield replace(line, working=tuple(work.lines))


def _columns(state: FreshAirState) -> Iterator[ControlColumn]:
    stages: tuple[Stage, ...] = ("found", "planned", "left")
    for stage in stages:
        entry, control = state.controls.get(stage, ("", None))
        shown = control or (proposed(state) if stage == "planned" else None)
        if shown is None:
            yield ControlColumn(stage, None)
            continue
        given, share = state.given(shown), state.share(shown)
        yield ControlColumn(
            stage,
            control,
            entry,
            quantity(given, "airflow") if given else None,
            quantity(share, "share") if share else None,
            judge(share, SHARE_LOW, SHARE_HIGH).mark if share else "not_measured",
        )


def proposed(state: FreshAirState) -> VentilatorControl | None:
    """What to enter at the control: the minutes that give what is needed, the rest as it was found."""
    time = state.times.get(state.known.edition)
    if time is None:
        return None
    _, found = state.controls.get("found", ("", VentilatorControl()))
    ventilator = state.known.ventilator
    along = found.interlock or bool(ventilator and ventilator.interlock_w)
    return replace(found, minutes_per_hour=time.set_minutes, interlock=along, filter_months=found.filter_months or 3)


BACKDRAFT = (
    "It sucks on the rooms: a stove, chimney or gas heater that takes its air there can give back flue gas, carbon monoxide. "
    "Alarm at hand; a licensed person checks the draft."
)


def balance(state: FreshAirState) -> tuple[Mark, Sentence | None, Measured | None]:
    """Fresh against stale air of a ventilator that does both, as a share of the larger one."""
    ventilator = state.known.ventilator
    if ventilator is None or ventilator.kind != "balanced" or state.flow is None or state.other is None:
        return "not_measured", None, None
    fresh, stale = state.flow, state.other
    larger = max(fresh.value, stale.value)
    parts = {source: part / larger for source, part in fresh.parts.items()}
    for source, part in stale.parts.items():
        shared = part / larger
        parts[source] = abs(parts[source] - shared) if source in parts else shared
    difference = Measured((fresh.value - stale.value) / larger, parts)
    mark = judge(difference, -UNEVEN, UNEVEN).mark
    if mark == "off":
        more = "more comes in than goes out" if difference.value > 0 else "more goes out than comes in"
        hazard = "" if difference.value > 0 else f" {BACKDRAFT}"
        words = Sentence.of(f"Out of balance by {{share}}: {more}.{hazard}", share=(abs(difference.value), "share"))
    else:
        words = Sentence.of("Fresh and stale air differ by {share}.", share=(abs(difference.value), "share"))
    return mark, words, difference


def now_of(state: FreshAirState) -> tuple[Stage, VentilatorControl] | None:
    """The setting that is judged: as left where somebody set it, else as found."""
    for stage in ("left", "found"):
        said = state.controls.get(stage)
        if said and said[1].minutes_per_hour is not None:
            return stage, said[1]
    return None


def together(state: FreshAirState) -> tuple[Mark, Sentence]:
    """In one sentence: does the dwelling get its air, or what to do next."""
    if state.known.dwelling is None:
        return "not_measured", Sentence.of("Say what the dwelling is: its floor and bedrooms.")
    if state.known.ventilator is None:
        return "not_measured", Sentence.of("Say what brings the fresh air in.")
    if state.flow is None:
        return "not_measured", Sentence.of("Measure its flow: ports or hood.")
    time, need = state.times.get(state.known.edition), state.need
    if time and need and not time.enough:
        numbers = {"flow": (state.flow.value, "airflow"), "need": (need.required_m3s, "airflow")}
        return "off", Sentence.of("It can't: running without a break it gives {flow}, and {need} is needed.", **numbers)
    now = now_of(state)
    if now is None:
        return "not_measured", Sentence.of("Read what its control is set to.")
    stage, control = now
    share = state.share(control)
    if share is None or need is None:
        return "not_measured", Sentence.of("What it gives is not known yet.")
    verdict = judge(share, SHARE_LOW, SHARE_HIGH)
    said = {"share": (share.value, "share"), "minutes": ((control.minutes_per_hour or 0.0) * 60.0, "duration")}
    where = "As left" if stage == "left" else "As found"
    if verdict.mark == "off" and verdict.side == "low":
        return "off", Sentence.of(f"{where} it runs {{minutes}} an hour and gives {{share}} of the fresh air needed.", **said)
    if verdict.mark == "off":
        return "watch", Sentence.of(
            f"{where} it runs {{minutes}} an hour and gives {{share}} of the fresh air needed: more than it must.", **said
        )
    if verdict.mark == "too_close":
        return "too_close", Sentence.of(f"{where} it gives {{share}} of the fresh air needed: too close to call.", **said)
    return "holds", Sentence.of(f"{where} it gives {{share}} of the fresh air needed.", **said)

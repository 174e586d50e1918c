"""Moisture: what the coil does to the water now, the bucket's answer beside it, ways to dry, and where the water comes from."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, TypeVar

from fentro_core.air.state import AirState
from fentro_core.airflow.ways import Airflow, KnownWay
from fentro_core.base.measured import Measured, propagate
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.base.working import Working
from fentro_core.cooling.fan import fan_heat
from fentro_core.instruments.station_air import StationAir
from fentro_core.leakage.page import ToRead
from fentro_core.moisture import bucket as bucket_formula
from fentro_core.moisture import bypass as bypass_formula
from fentro_core.moisture import choose as choose_formula
from fentro_core.moisture import coil as coil_formula
from fentro_core.moisture import part_load as part_load_formula
from fentro_core.moisture import reheat as reheat_formula
from fentro_core.moisture import sources as sources_formula
from fentro_core.moisture import stops as stops_formula
from fentro_core.moisture.after_coil import seen_around
from fentro_core.moisture.bucket import bucket
from fentro_core.moisture.causes import CAUSES
from fentro_core.moisture.coil import CoilNow, coil_now
from fentro_core.moisture.entries import Condensate, MoistureAim, WaterSources
from fentro_core.moisture.options import chosen
from fentro_core.moisture.origin import traced
from fentro_core.moisture.page import MoisturePage, StatePoint
from fentro_core.moisture.proving import course, proof_of
from fentro_core.moisture.signs import DAMP_RH, signs
from fentro_core.moisture.symptoms import SYMPTOMS
from fentro_core.phase.context import PartContext
from fentro_core.phase.declaration import Part, PartResult
from fentro_core.phase.numbers import Number
from fentro_core.phase.results import Result, VerdictLine
from fentro_core.phase.verdicts import gravest, softened
from fentro_core.system.nameplate import CoolingNameplate, Nameplate

Context = PartContext[CoolingNameplate]
Noted = TypeVar("Noted")


def applies(nameplate: Nameplate) -> bool:
    """Where a coil stands in the air."""
    return nameplate.has_coil


@dataclass(frozen=True)
class _Coil:
    """What was read around the coil. `apart`: read right after it, so that no fan's heat is in it."""

    entering: StationAir
    leaving: StationAir
    apart: bool
    flow: KnownWay
    inputs: dict[str, Measured]
    pressure_pa: float

    @property
    def flowing(self) -> AirState:
        """The air in which the flow was measured."""
        at = self.entering if self.flow.at == "return" else self.leaving
        ratio = at.humidity_ratio.value if at.humidity_ratio else 0.0
        return AirState(at.dry_bulb.value, max(ratio, 0.0), self.pressure_pa)

    def worked(self, work: Working | None, **given: float) -> CoilNow:
        """With these numbers."""
        entering = AirState(given["t_e"], max(given["w_e"], 0.0), self.pressure_pa)
        leaving = AirState(given["t_s"], max(given["w_s"], 0.0), self.pressure_pa)
        fan = max(given.get("fan", 0.0), 0.0)
        return coil_now(entering, leaving, given["flow"], self.flow.at, fan, work or Working(silent=True))


def work(context: Context) -> PartResult:
    """Everything of moisture; while the unit heats or defrosts, nothing."""
    if not context.cools:
        return PartResult(page=MoisturePage(proof=proof_of(context.visit)))
    coil, missing = _read(context)
    page = _page(context, coil, missing)
    lines = tuple(_lines(context, page))
    return PartResult(
        page=page,
        mark=gravest([page.mark, page.bucket_mark, page.sources_mark]),
        speaks=any(line.mark for line in lines),
        details=lines,
        symptoms=tuple(signs(context, page)),
    )


def _read(context: Context) -> tuple[_Coil | None, tuple[ToRead, ...]]:
    """What was read, or what is still to read."""
    mixed, apart = context.air("mixed"), context.air("after_coil")
    entering_at = "mixed" if mixed and mixed.humidity_ratio else "return"
    entering = mixed if entering_at == "mixed" else context.air("return")
    supply, plate = context.air("supply"), context.nameplate
    leaving = apart if apart and apart.humidity_ratio else supply
    airflow = context.given("airflow", Airflow)
    flow = airflow.in_use if airflow else None
    missing = []
    if entering is None or entering.humidity_ratio is None:
        missing.append(ToRead("Return: dry bulb and humidity", "return"))
    if leaving is None or leaving.humidity_ratio is None:
        missing.append(ToRead("Supply: dry bulb and humidity", "supply"))
    if (plate.reheats or plate.bypasses) and leaving is not apart:
        missing.append(ToRead("After the coil: dry bulb and humidity", "after_coil"))
    if plate.bypasses and (supply is None or supply.humidity_ratio is None):
        missing.append(ToRead("Supply: dry bulb and humidity", "supply"))
    if flow is None:
        missing.append(ToRead("Airflow", ""))
    if missing or not (entering and leaving and flow and entering.humidity_ratio and leaving.humidity_ratio):
        return None, tuple(missing)
    inputs = {
        "t_e": entering.dry_bulb,
        "w_e": entering.humidity_ratio,
        "t_s": leaving.dry_bulb,
        "w_s": leaving.humidity_ratio,
        "flow": flow.flow,
    }
    if plate.bypasses and supply and supply.humidity_ratio:
        inputs["w_mixed"] = supply.humidity_ratio
    fan = None if leaving is apart else fan_heat(context)
    if fan is not None:
        inputs["fan"] = fan
    return _Coil(entering, leaving, leaving is apart, flow, inputs, context.pressure_pa), ()


def _page(context: Context, coil: _Coil | None, missing: tuple[ToRead, ...]) -> MoisturePage:
    water: Measured | None = None
    found: CoilNow | None = None
    results: list[Result] = []
    mark: Mark | None = None
    words: Sentence | None = None
    notes: tuple[Sentence, ...] = ()
    points: tuple[StatePoint, ...] = ()
    trouble: Sentence | None = None
    if coil is not None:
        try:
            found, water, results = _coil_results(context, coil)
            mark, words, notes = _said(coil, found, water, context.early)
            points = tuple(_points(context, coil, found))
        except Refused as refused:
            trouble = refused.sentence
    condensate_entry, condensate = _noted(context, Condensate, context.phase)
    until = "as_found" if context.phase == "as_found" else ""
    aim_entry, aim = _noted(context, MoistureAim, until)
    sources_entry, given = _noted(context, WaterSources, until)
    bucket_mark: Mark | None = None
    bucket_words: Sentence | None = None
    explains: tuple[Sentence, ...] = ()
    if condensate is not None:
        weighed = _weighed(context, condensate)
        results.append(weighed[1])
        bucket_mark, bucket_words, explains = _against_bucket(condensate, weighed[0], water)
    if coil is not None and coil.flow.nominal:
        notes = (*notes, Sentence.of("With an ordinary airflow for this nameplate. Measure it: the water an hour rests on it."))
    gear, gear_notes = seen_around(context)
    results += gear
    ways = chosen(context, aim, context.air("return"), coil.flow if coil else None)
    origin = traced(context, given, water, coil.flow if coil else None)
    return MoisturePage(
        results=tuple(results),
        missing=missing,
        mark=mark,
        words=words or trouble,
        notes=(*notes, *gear_notes),
        points=points,
        condensate=condensate,
        condensate_entry=condensate_entry,
        bucket_mark=bucket_mark,
        bucket=bucket_words,
        explains=explains,
        aim=aim,
        aim_entry=aim_entry,
        aim_by_unit=ways.by_unit,
        choice=ways.choice,
        choice_words=ways.words,
        options=ways.lines,
        reheat_note=ways.reheat_note,
        sources=given,
        sources_entry=sources_entry,
        brought=origin.lines,
        sources_mark=origin.mark,
        sources_words=origin.words,
        proof=proof_of(context.visit),
    )


def _noted(context: Context, kind: type[Noted], phase: str = "") -> tuple[str, Noted | None]:
    """What was noted last, with its entry."""
    found = context.visit.entries_of(kind, phase)
    return (found[-1][0].id, found[-1][1]) if found else ("", None)


def _coil_results(context: Context, coil: _Coil) -> tuple[CoilNow, Measured, list[Result]]:
    """The coil's numbers with their half-widths."""
    working = Working()
    of_coil = {name: given for name, given in coil.inputs.items() if name != "w_mixed"}
    values: dict[str, Any] = {name: given.value for name, given in of_coil.items()}
    central = coil.worked(working, **values)
    told = _numbers(central)

    def moved(**given: float) -> dict[str, float]:
        return {**told, **{name: value for name, value in _numbers(coil.worked(None, **given)).items() if name in told}}

    fields = propagate(moved, of_coil, told)
    volume = coil.flowing.specific_volume_m3_per_kg
    # Around a bypass goes air that the coil never sees: what left the whole stream is told where both have met again.
    out = coil.inputs.get("w_mixed", coil.inputs["w_s"])
    inputs = {"w_e": coil.inputs["w_e"], "w_s": out, "flow": coil.inputs["flow"]}
    water = propagate(lambda w_e, w_s, flow: {"water": flow / volume * (w_e - w_s)}, inputs)["water"]
    remark = None if coil.apart else Sentence.of("By the supply, with the fan's heat taken off where it was read.")
    results = [context.keep("coil_dew_point", fields["dew_point"], working)]
    if "surface" in fields:
        results.append(context.keep("coil_surface", fields["surface"], working, remark))
    results.append(context.keep("coil_leaving", fields["leaving"], working))
    results.append(context.keep("coil_water", water, working))
    if central.total_w > 0:
        results.append(context.keep("coil_shr", fields["shr"], working))
    return central, water, results


def _numbers(found: CoilNow) -> dict[str, float]:
    numbers = {"dew_point": found.dew_point_c, "leaving": found.leaving_dry_bulb_c, "shr": found.sensible_heat_ratio}
    if found.apparatus_dew_point_c is not None:
        numbers["surface"] = found.apparatus_dew_point_c
    return numbers


def _said(
    coil: _Coil, found: CoilNow, water: Measured, early: Sentence | None
) -> tuple[Mark | None, Sentence, tuple[Sentence, ...]]:
    """What the coil does, in one sentence; whether it calls for a look."""
    if found.dry_because == "not_cooling":
        return None, Sentence.of("It is not cooling now: nothing condenses."), ()
    at = {"dew": (found.dew_point_c, "temperature"), "leaving": (found.leaving_dry_bulb_c, "temperature")}
    humidity = coil.entering.properties.get("relative_humidity")
    damp = humidity is not None and humidity.value > DAMP_RH
    if water.high <= 0 or (found.dry_because and found.leaving_dry_bulb_c > found.dew_point_c):
        mark: Mark | None = softened("off", early) if damp else None
        if found.leaving_dry_bulb_c > found.dew_point_c:
            words = "This coil removes no water now: air leaves it at {leaving}, and would have to be below {dew} first."
            return mark, Sentence.of(words, **at), (_COLDER,)
        words = "This coil removes no water now, though air leaves it at {leaving}, below the dew point of {dew}."
        return "watch", Sentence.of(words, **at), _NO_DRIER
    if water.low <= 0:
        return (
            "too_close" if damp else None,
            Sentence.of("Too close to call: {water} an hour or none, by these probes.", water=(water.value, "water_rate")),
            (Sentence.of("Weigh the condensate: a bucket needs no humidity probe."),),
        )
    words = "Water leaves: the air that enters has its dew point at {dew}."
    if found.apparatus_dew_point_c is None:
        steep = Sentence.of("The line of these two readings meets saturation nowhere: no surface does that. Read both again.")
        return "watch", Sentence.of(words, dew=at["dew"]), (steep,)
    words = "Water leaves: the coil's surface is at {surface}, the dew point of the air that enters at {dew}."
    surface = (found.apparatus_dew_point_c, "temperature")
    notes: tuple[Sentence, ...] = ()
    if found.apparatus_dew_point_c < coil_formula.FREEZES_BELOW_C:
        notes = (Sentence.of("A surface this cold frosts sooner or later: look at airflow and charge first."),)
    return None, Sentence.of(words, dew=at["dew"], surface=surface), notes


_COLDER = Sentence.of(
    "A colder coil dries: less air over it, a return bypass, or more cooling with reheat after it. Warming the supply alone"
    " does not."
)
_NO_DRIER = (
    Sentence.of("Air that comes in between coil and supply probe: a leak at the blower's cabinet, or a damper."),
    Sentence.of("A wet coil whose compressor has just stopped gives its water back. Read while it runs."),
    Sentence.of("A probe that reads wrong. Hold both together, and match them."),
)


def _points(context: Context, coil: _Coil, found: CoilNow) -> Iterator[StatePoint]:
    """For the chart: entering air, after the coil, supply, and where the coil's line meets saturation."""
    ratio = coil.inputs["w_e"].value, coil.inputs["w_s"].value
    yield StatePoint("entering", "Enters the coil", coil.entering.dry_bulb.value, ratio[0])
    yield StatePoint("leaving", "Leaves the coil", found.leaving_dry_bulb_c, ratio[1])
    supply = context.air("supply")
    if supply and supply.humidity_ratio and abs(supply.dry_bulb.value - found.leaving_dry_bulb_c) > 0.05:
        yield StatePoint("supply", "Supply", supply.dry_bulb.value, supply.humidity_ratio.value)
    if found.apparatus_dew_point_c is not None:
        saturated = AirState.from_rh(found.apparatus_dew_point_c, 1.0, context.pressure_pa)
        yield StatePoint("surface", "Coil's surface", saturated.dry_bulb_c, saturated.humidity_ratio)


def _weighed(context: Context, given: Condensate) -> tuple[Measured, Result]:
    source = f"{context.phase}:scale and clock"
    context.readings.labels[source] = "Scale and clock"
    working = Working()
    rate = bucket(given.condensate_kg, given.minutes, working)
    weighed = Measured(rate, {source: given.plus_minus_kg / (given.minutes * 60)})
    remark = None if given.settled else Sentence.of("Caught before the pan ran over: the first water stays on coil and pan.")
    return weighed, context.keep("bucket_water", weighed, working, remark)


def _against_bucket(
    given: Condensate, weighed: Measured, by_air: Measured | None
) -> tuple[Mark | None, Sentence | None, tuple[Sentence, ...]]:
    """The two answers held against each other."""
    both = {"bucket": (weighed.value, "water_rate")}
    if by_air is None:
        return None, Sentence.of("By the bucket {bucket}. Read both airs and the flow for the second answer.", **both), ()
    both["air"] = (by_air.value, "water_rate")
    apart = weighed - by_air
    if abs(apart.value) <= apart.plus_minus:
        return "holds", Sentence.of("Two answers agree: {bucket} by the bucket, {air} by the air.", **both), ()
    if not given.settled:
        words = "{bucket} by the bucket, {air} by the air. Catch it again once the pan runs: it was not wet through yet."
        return "too_close", Sentence.of(words, **both), ()
    if apart.value < 0:
        words = "The bucket has less than the air lost: {bucket} against {air}."
        return "watch", Sentence.of(words, **both), _LESS_IN_BUCKET
    words = "The bucket has more than the air lost: {bucket} against {air}."
    return "watch", Sentence.of(words, **both), _MORE_IN_BUCKET


_LESS_IN_BUCKET = (
    Sentence.of("Water goes another way: a cracked pan, a second drain, a trap that is blocked or dry."),
    Sentence.of("The blower takes it up again: drops on the coil's far side, or pauses in which it blows on."),
    Sentence.of("An air reading is off: a supply probe wetted by spray, or too large an airflow. Match the probes."),
)
_MORE_IN_BUCKET = (
    Sentence.of("Damp air comes in behind the return probe: a leak in the return, or outdoor air. Read right before the coil."),
    Sentence.of("An air reading is off: too small an airflow, or probes that differ. Match them."),
    Sentence.of("The pan was still running over from before. Empty the trap, and catch it again."),
)


def _lines(context: Context, page: MoisturePage) -> Iterator[VerdictLine]:
    """What stands among the verdicts: only what calls for a look."""
    if page.words and page.mark:
        yield VerdictLine("moisture:coil", page.mark, page.words, "coil_dew_point", page.notes, bool(context.early), "moisture")
    if page.bucket and page.bucket_mark in ("watch", "too_close"):
        yield VerdictLine("moisture:bucket", page.bucket_mark, page.bucket, "bucket_water", page.explains, opens="moisture")
    if page.sources_words and page.sources_mark:
        yield VerdictLine("moisture:sources", page.sources_mark, page.sources_words, opens="moisture")
    if page.proof and page.proof.done:
        yield VerdictLine("moisture:proof", page.proof.mark, page.proof.words, opens="drying_proof")
    if page.choice_words and page.aim is not None:
        yield VerdictLine("moisture:choice", None, page.choice_words, opens="moisture")


PART = Part(
    key="moisture",
    name="Moisture",
    work=work,
    applies=applies,
    course=course,
    needs=("airflow", "cooling", "mixing", "leakage"),
    page=MoisturePage,
    calculations=(
        coil_formula,
        bucket_formula,
        reheat_formula,
        bypass_formula,
        choose_formula,
        part_load_formula,
        stops_formula,
        sources_formula,
    ),
    numbers=(
        Number(key="coil_water", name="Water taken out by the coil", kind="water_rate", compared=True, optional=True),
        Number(key="coil_dew_point", name="Dew point of the air that enters", kind="temperature", optional=True),
        Number(key="coil_surface", name="Apparatus dew point", kind="temperature", optional=True),
        Number(key="coil_leaving", name="Air after the coil", kind="temperature", optional=True),
        Number(key="coil_shr", name="Sensible heat ratio of the coil", kind="ratio", optional=True),
        Number(key="around_coil", name="Share that passes around the coil", kind="share", compared=True, optional=True),
        Number(key="reheat_now", name="Heat of the reheat coil now", kind="power", compared=True, optional=True),
        Number(key="bucket_water", name="Water weighed in the bucket", kind="water_rate", optional=True),
    ),
    symptoms=SYMPTOMS,
    causes=CAUSES,
    subjects={
        "moisture": "Moisture",
        "moisture:proof": "Reheat and bypass: tests",
    },
)

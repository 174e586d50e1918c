"""What the cooling numbers say: the split, moisture, and the share of the rating."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from fentro_core.base.sentence import Sentence
from fentro_core.cooling.judging import SplitJudgement, four_way, judge_split, judge_split_by_target
from fentro_core.phase.context import PartContext
from fentro_core.phase.results import Result, VerdictLine
from fentro_core.phase.verdicts import not_measured, settle_words, softened
from fentro_core.system.nameplate import CoolingNameplate

Context = PartContext[CoolingNameplate]

_KIND = "temperature_difference"


def verdicts(context: Context, results: Mapping[str, Result]) -> Iterator[VerdictLine]:
    """Split, moisture, capacity."""
    yield _split(context, results["split"])
    yield from _moisture(context)
    yield from _capacity(context, results)


ON_LOWER_STAGE = "On a lower stage no target is known. Read again on the full stage to judge it."


def _split(context: Context, result: Result) -> VerdictLine:
    if context.number("split") is None:
        return not_measured(result)
    if context.lower_stage:
        return VerdictLine("split", None, Sentence.of(ON_LOWER_STAGE), "split", (context.early,) if context.early else ())
    judged, notes = _judged(context)
    if judged.verdict.settle:
        notes.append(settle_words(judged.verdict.settle, context.readings.labels, _KIND))
    matched = _matched(context)
    notes += [note for note in (matched, context.early) if note]
    mark = softened(judged.mark, context.early)
    return VerdictLine("split", mark, judged.sentence, "split", tuple(notes), context.early is not None)


def _judged(context: Context) -> tuple[SplitJudgement, list[Sentence]]:
    """By the unit's own target where it is known, else by the fixed band."""
    measured = context.number("split")
    assert measured is not None
    residual, target = context.number("split_residual"), context.number("target_split")
    if residual is not None and target is not None:
        share, design = context.number("capacity_share"), context.number("design_residual")
        together = four_way(design, share) if share is not None and design is not None else None
        return judge_split_by_target(measured, target, residual), [together] if together else []
    return_ = context.air("return")
    judged = judge_split(measured, return_.properties.get("relative_humidity") if return_ else None)
    return judged, [judged.note] if judged.note else []


def _matched(context: Context) -> Sentence | None:
    """What the probe match brought to the split, when it brought something."""
    return_, supply = (context.readings.airs.get(name) for name in ("return", "supply"))
    after = context.number("split")
    if after is None or return_ is None or supply is None:
        return None
    before = return_.dry_bulb - supply.dry_bulb
    if abs(before.plus_minus - after.plus_minus) < 0.005 and abs(before.value - after.value) < 0.005:
        return None
    return Sentence.of(
        "Probes matched: {after} ±{after_width} instead of {before} ±{before_width}.",
        after=(after.value, _KIND),
        after_width=(after.plus_minus, _KIND),
        before=(before.value, _KIND),
        before_width=(before.plus_minus, _KIND),
    )


def _moisture(context: Context) -> Iterator[VerdictLine]:
    withheld = context.number("latent_withheld")
    if withheld is None:
        return
    if withheld.high >= 0:
        text = "No moisture removal larger than {width} can be seen: the coil is dry, or nearly."
        yield VerdictLine("moisture", None, Sentence.of(text, width=(withheld.plus_minus, "power")), "latent")
        return
    text = (
        "Supply air is wetter than return air. No coil does that: a reading is off, water blows off a wet coil, "
        "or air leaks in. Read the humidities again, with one probe."
    )
    yield VerdictLine("moisture", "off", Sentence.of(text), "latent")


def _capacity(context: Context, results: Mapping[str, Result]) -> Iterator[VerdictLine]:
    total = results["total"]
    if total.quantity is None:
        yield not_measured(total)
        return
    share = results.get("rated_share")
    if total.quantity.value > 0 and share and share.quantity:
        sentence = Sentence.of(
            "Total cooling is {share} of the nameplate's rating. The rating is for one hot day: no verdict from this alone.",
            share=(share.quantity.value, "share"),
        )
        notes = [Sentence.of("Airflow is nominal, good to ±25 %. Measure it to know the capacity.")] if _nominal(results) else []
        if context.early:
            notes.append(context.early)
        yield VerdictLine("capacity", None, sentence, "total", tuple(notes), context.early is not None)


def _nominal(results: Mapping[str, Result]) -> bool:
    return "airflow" in results and results["airflow"].nominal

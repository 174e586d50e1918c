"""The verdict rail: what the results of a phase say, ranked; gravest first."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from fentro_core.measured import Measured
from fentro_core.measuring.stations import StationAir
from fentro_core.performance.judging import four_way, judge_split, judge_split_by_target
from fentro_core.sentence import Sentence
from fentro_core.verdict import Mark, Settle, judge
from fentro_core.visit.results import RailLine, Result, StationResult

_RANK = {"off": 0, "too_close": 1, "watch": 2, "holds": 3, "not_measured": 4, None: 5}

_FIRST = {"filter_arrow": 0, "finding": 1}
"""What goes before all verdicts: air read the wrong way round, then the leading cause."""

USABLE_SHARE_HALF_WIDTH = 0.10
"""An outdoor-air share known to no better than this says nothing about a minimum position."""


@dataclass(frozen=True)
class Facts:
    """What the rail speaks of: one phase's stations, results, and what hangs together with them.

    `labels`: names of the sources of doubt. `airs`: as differences use them. `early`: why a reading came too soon, or None.
    `flows`: pairs that disagree.
    """

    names: Mapping[str, str]
    labels: Mapping[str, str]
    stations: Sequence[StationResult]
    results: Mapping[str, Result]
    measured: Mapping[str, Measured]
    airs: Mapping[str, StationAir]
    early: Sentence | None
    most_static_pa: float | None = None
    flows: Sequence[tuple[str, str, Measured, Measured]] = ()
    matches: Sequence[Sentence] = ()
    matched: Sentence | None = None
    arrow_against: bool = False
    more: Sequence[RailLine] = ()


def rail(facts: Facts) -> tuple[RailLine, ...]:
    """All lines of one phase: the leading cause, then the gravest; what came too early stands behind what did not."""
    lines = [*_arrow(facts), *_troubles(facts), *_split(facts), *_moisture(facts.results, facts.measured)]
    lines += [*_capacity(facts.results, facts.early), *_external_static(facts), *_flows(facts)]
    lines += [*_outdoor_share(facts.results, facts.measured), *_matches(facts), *_overdue(facts.stations)]
    lines += facts.more
    return tuple(sorted(lines, key=lambda line: (_FIRST.get(line.key, 2), _RANK[line.mark], line.early)))


def softened(mark: Mark, early: Sentence | None) -> Mark:
    """An early reading never hardens a verdict: what would be "off" or "holds" is only to be watched."""
    return "watch" if early and mark in ("off", "holds") else mark


def _arrow(facts: Facts) -> list[RailLine]:
    if not facts.arrow_against:
        return []
    text = (
        "The filter's arrow stands against the air path shown: the filter is in backwards, or return and supply are "
        "mixed up. Find out first."
    )
    return [RailLine("filter_arrow", "off", Sentence.of(text))]


def _troubles(facts: Facts) -> list[RailLine]:
    lines = []
    for station in facts.stations:
        name = facts.names.get(station.station, station.station)
        if station.trouble:
            text = f"{name}: {station.trouble.text}"
            lines.append(RailLine(f"trouble:{station.station}", "off", Sentence(text, station.trouble.numbers)))
        elif station.remark:
            text = f"{name}: {station.remark.text}"
            lines.append(RailLine(f"spread:{station.station}", "watch", Sentence(text, station.remark.numbers)))
    return lines


def _split(facts: Facts) -> list[RailLine]:
    if "split" not in facts.results:
        return []
    if "split" not in facts.measured:
        return [_not_measured(facts.results["split"])]
    return_rh = facts.airs["return"].properties.get("relative_humidity")
    residual, target = facts.measured.get("split_residual"), facts.measured.get("target_split")
    if residual is not None and target is not None:
        judged = judge_split_by_target(facts.measured["split"], target, residual)
        share = facts.measured.get("capacity_share")
        together = four_way(facts.measured["design_residual"], share) if share is not None else None
        notes = [together] if together else []
    else:
        judged = judge_split(facts.measured["split"], return_rh)
        notes = [judged.note] if judged.note else []
    if judged.verdict.settle:
        notes.append(_settle(judged.verdict.settle, facts.labels, "temperature_difference"))
    if facts.matched:
        notes.append(facts.matched)
    if facts.early:
        notes.append(facts.early)
    mark = softened(judged.mark, facts.early)
    return [RailLine("split", mark, judged.sentence, "split", tuple(notes), facts.early is not None)]


_STATIC_SAID = {
    "off": "External static {static} is over the plate's {limit}: the blower works against too much.",
    "holds": "External static {static} lies under the plate's {limit}.",
    "watch": "External static {static} is close under the plate's {limit}.",
    "too_close": "External static {static} may lie on either side of the plate's {limit}.",
}


def _external_static(facts: Facts) -> list[RailLine]:
    static = facts.measured.get("external_static")
    if static is None:
        return []
    number = (static.value, "pressure")
    if static.high < 0:
        text = "External static comes out below zero, {static}: the two hoses are swapped, or a sign was left out."
        return [RailLine("external_static", "off", Sentence.of(text, static=number), "external_static")]
    if facts.most_static_pa is None:
        text = "External static is {static}. The plate's limit is not noted."
        return [RailLine("external_static", None, Sentence.of(text, static=number), "external_static")]
    verdict = judge(static, None, facts.most_static_pa)
    sentence = Sentence.of(_STATIC_SAID[verdict.mark], static=number, limit=(facts.most_static_pa, "pressure"))
    notes = [_settle(verdict.settle, facts.labels, "pressure")] if verdict.settle else []
    return [RailLine("external_static", verdict.mark, sentence, "external_static", tuple(notes))]


def _flows(facts: Facts) -> list[RailLine]:
    lines = []
    for first, second, one, other in facts.flows:
        sentence = Sentence.of(
            f"{first} gives {{one}}, {second.lower()} {{other}}: further apart than both can explain. One of them is wrong.",
            one=(one.value, "airflow"),
            other=(other.value, "airflow"),
        )
        lines.append(RailLine(f"flows:{first}:{second}", "off", sentence, "airflow"))
    return lines


def _matches(facts: Facts) -> list[RailLine]:
    return [RailLine(f"match:{index}", "off", trouble) for index, trouble in enumerate(facts.matches)]


def _settle(settle: Settle, labels: Mapping[str, str], kind: str) -> Sentence:
    """Which source decides, the half-width it would need, and how to get there."""
    label = labels.get(settle.source, settle.source)
    share = (settle.share, "share")
    advice = next(text for test, text in _ADVICE if test in settle.source)
    if settle.needed is None:
        return Sentence.of(f"{label} brings {{share}} of the doubt, but alone can't settle this. {advice}", share=share)
    return Sentence.of(
        f"{label} decides ({{share}} of the doubt): within ±{{needed}} instead of ±{{now}} it would settle this. {advice}",
        share=share,
        needed=(settle.needed, kind),
        now=(settle.now, kind),
    )


_ADVICE = (
    ("spread", "Read more points across the duct."),
    ("instrument:", "Match the probes, or read both places with one: its error cancels."),
    ("match:", "Hold the probes together again, longer and in still air."),
    ("", "Read again, at several points."),
)
"""What helps, by the kind of source."""


def _moisture(results: Mapping[str, Result], measured: Mapping[str, Measured]) -> list[RailLine]:
    withheld = measured.get("latent_withheld")
    if withheld is None:
        return []
    if withheld.high >= 0:
        text = "No moisture removal larger than {width} can be seen: the coil is dry, or nearly."
        return [RailLine("moisture", None, Sentence.of(text, width=(withheld.plus_minus, "power")), "latent")]
    text = (
        "Supply air is wetter than return air. No coil does that: a reading is off, water blows off a wet coil, "
        "or air leaks in. Read the humidities again, with one probe."
    )
    return [RailLine("moisture", "off", Sentence.of(text), "latent")]


def _capacity(results: Mapping[str, Result], early: Sentence | None) -> list[RailLine]:
    total = results.get("total")
    if total is None:
        return []
    if total.quantity is None:
        return [_not_measured(total)]
    share = results.get("rated_share")
    lines = []
    if total.quantity.value > 0 and share and share.quantity:
        sentence = Sentence.of(
            "Total cooling is {share} of the plate's rating. The rating is for one hot day: no verdict from this alone.",
            share=(share.quantity.value, "share"),
        )
        notes = [early] if early else []
        airflow = results["airflow"]
        if airflow.nominal:
            notes.insert(0, Sentence.of("Airflow is nominal, good to ±15 %. Measure it to know the capacity."))
        lines.append(RailLine("capacity", None, sentence, "total", tuple(notes), early is not None))
    return lines


def _outdoor_share(results: Mapping[str, Result], measured: Mapping[str, Measured]) -> list[RailLine]:
    share = measured.get("outdoor_share")
    if share is None:
        return []
    number = (share.value, "share")
    if share.high < 0 or share.low > 1:
        text = "Outdoor-air share comes out at {share}: mixed air must lie between return and outdoor. Check the three probes."
        return [RailLine("outdoor_share", "off", Sentence.of(text, share=number), "outdoor_share")]
    if share.plus_minus > USABLE_SHARE_HALF_WIDTH:
        text = "Outdoor-air share can't be told today: outdoor and return air are too much alike."
        return [RailLine("outdoor_share", None, Sentence.of(text), "outdoor_share")]
    return [
        RailLine(
            "outdoor_share",
            None,
            Sentence.of("Outdoor air is {share} of the mixed air.", share=number),
            "outdoor_share",
        )
    ]


def _overdue(stations: Iterable[StationResult]) -> list[RailLine]:
    names = sorted({reading.instrument for station in stations for reading in station.readings if reading.overdue})
    return [
        RailLine(f"overdue:{name}", "watch", Sentence.of(f"{name} is overdue for calibration: its half-widths are doubled."))
        for name in names
    ]


def _not_measured(result: Result) -> RailLine:
    return RailLine(
        result.key,
        "not_measured",
        Sentence.of(f"{result.name}: still missing {', '.join(result.missing).lower()}."),
        result.key,
    )

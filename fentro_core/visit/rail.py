"""The verdict rail: what the results of a phase say, ranked; gravest first."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from fentro_core.measured import Measured
from fentro_core.measuring.stations import StationAir
from fentro_core.performance.judging import judge_split
from fentro_core.sentence import Sentence
from fentro_core.verdict import Settle
from fentro_core.visit.results import RailLine, Result, StationResult

_RANK = {"off": 0, "too_close": 1, "watch": 2, "holds": 3, "not_measured": 4, None: 5}

USABLE_SHARE_HALF_WIDTH = 0.10
"""An outdoor-air share known to no better than this says nothing about a minimum position."""


def rail(
    stations: Iterable[StationResult],
    results: Mapping[str, Result],
    measured: Mapping[str, Measured],
    airs: Mapping[str, StationAir],
    early: Sentence | None,
) -> tuple[RailLine, ...]:
    """All lines of one phase."""
    lines = [*_troubles(stations), *_split(results, measured, airs, early), *_moisture(results, measured)]
    lines += [*_capacity(results, early), *_outdoor_share(results, measured), *_overdue(stations)]
    return tuple(sorted(lines, key=lambda line: _RANK[line.mark]))


def _troubles(stations: Iterable[StationResult]) -> list[RailLine]:
    lines = []
    for station in stations:
        if station.trouble:
            text = f"{station.station.title()}: {station.trouble.text}"
            lines.append(RailLine(f"trouble:{station.station}", "off", Sentence(text, station.trouble.numbers)))
        elif station.remark:
            text = f"{station.station.title()}: {station.remark.text}"
            lines.append(RailLine(f"spread:{station.station}", "watch", Sentence(text, station.remark.numbers)))
    return lines


def _split(
    results: Mapping[str, Result],
    measured: Mapping[str, Measured],
    airs: Mapping[str, StationAir],
    early: Sentence | None,
) -> list[RailLine]:
    if "split" not in results:
        return []
    if "split" not in measured:
        return [_not_measured(results["split"])]
    judged = judge_split(measured["split"], airs["return"].properties.get("relative_humidity"))
    notes = [judged.note] if judged.note else []
    if judged.verdict.settle:
        notes.append(_settle(judged.verdict.settle, results["split"]))
    if early:
        notes.append(early)
    return [RailLine("split", judged.mark, judged.sentence, "split", tuple(notes), early is not None)]


def _settle(settle: Settle, result: Result) -> Sentence:
    """Which source decides, the half-width it would need, and how to get there."""
    label = result.contributions[0].label if result.contributions else settle.source
    share = (settle.share, "share")
    advice = next(text for test, text in _ADVICE if test in settle.source)
    if settle.needed is None:
        return Sentence.of(f"{label} brings {{share}} of the doubt, but alone can't settle this. {advice}", share=share)
    return Sentence.of(
        f"{label} decides ({{share}} of the doubt): within ±{{needed}} instead of ±{{now}} it would settle this. {advice}",
        share=share,
        needed=(settle.needed, "temperature_difference"),
        now=(settle.now, "temperature_difference"),
    )


_ADVICE = (
    ("spread", "Read more points across the duct."),
    ("instrument:", "Read both places with one probe: its error cancels."),
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

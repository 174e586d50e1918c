"""How far the readings can be trusted: the way of the air, impossible readings, layers, matches, calibration, timing."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from fentro_core.base.sentence import Sentence
from fentro_core.diagnosis.signs import Sign
from fentro_core.instruments import averaging, matching, steadiness
from fentro_core.measuring.causes import CAUSES
from fentro_core.measuring.symptoms import SYMPTOMS
from fentro_core.phase.context import CHANGES_FROM_K, JUDGED_AT, PartContext
from fentro_core.phase.declaration import Part, PartResult
from fentro_core.phase.results import VerdictLine

Context = PartContext[Any]

BAROMETER_PA = 1500.0
"""A barometer this far from the pressure used belongs to another height. Ours."""

FAR_APART = 2.0
"""A probe this many times its accuracy from the mean of all is one that reads wrong, not merely one to be corrected."""


def work(context: Context) -> PartResult:
    """Verdicts on the readings themselves, and the symptoms that say a reading may be wrong."""
    return PartResult(
        verdicts=(*_arrow(context), *_troubles(context)),
        details=(*_matches(context), *_overdue(context)),
        symptoms=tuple(_signs(context)),
    )


def _arrow(context: Context) -> Iterator[VerdictLine]:
    if context.visit.against():
        text = (
            "The filter's arrow points against the air path shown: the filter is in backwards, or return and supply are "
            "mixed up. Find out first."
        )
        yield VerdictLine("filter_arrow", "off", Sentence.of(text))


def _troubles(context: Context) -> Iterator[VerdictLine]:
    names = {station.id: station.name for station in context.path.stations}
    for station in context.stations:
        name = names[station.station]
        if station.trouble:
            words = Sentence(f"{name}: {station.trouble.text}", station.trouble.numbers)
            yield VerdictLine(f"trouble:{station.station}", "off", words)
        elif station.remark:
            words = Sentence(f"{name}: {station.remark.text}", station.remark.numbers)
            yield VerdictLine(f"spread:{station.station}", "watch", words)


def _matches(context: Context) -> Iterator[VerdictLine]:
    troubles = [match.trouble for match in context.visit.matches.results if match.trouble]
    for index, trouble in enumerate(troubles):
        yield VerdictLine(f"match:{index}", "off", trouble)


def _overdue(context: Context) -> Iterator[VerdictLine]:
    readings = [reading for station in context.stations for reading in station.readings]
    for name in sorted({reading.instrument for reading in readings if reading.overdue}):
        words = Sentence.of(f"{name} is overdue for calibration: its half-widths are doubled.")
        yield VerdictLine(f"overdue:{name}", "watch", words)


def _change(context: Context) -> str:
    """What it does to the air; it may cool it while nobody called for that."""
    return_, supply = context.air("return"), context.air("supply")
    colder = return_ and supply and supply.dry_bulb.value - return_.dry_bulb.value <= -CHANGES_FROM_K
    return "heats" if context.mode == "heating" else "cools" if colder else "nothing"


def _signs(context: Context) -> Iterator[Sign]:
    visit = context.visit
    if context.air("return") and context.air("supply"):
        yield from context.sign("change", _change(context))
    if visit.runs.events:
        yield from context.sign("steadiness", "early" if context.readings.early(JUDGED_AT) else "steady")
    for match in visit.matches.results:
        furthest = max(abs(line.offset.value) / line.accuracy.value for line in match.probes)
        if furthest > FAR_APART or not match.trouble:
            yield from context.sign("match", "apart" if furthest > FAR_APART else "agree")
    if visit.against() or visit.arrow_settled():
        yield from context.sign("arrow", "against" if visit.against() else "agrees")
    site = visit.snapshot.site
    yield from context.sign("pressure_known", "unset" if site.elevation_m == 0 and site.barometer_pa is None else "known")
    barometer = context.readings.average("outdoor", "air_pressure")
    if barometer:
        near = abs(barometer.value - context.pressure_pa) < BAROMETER_PA
        yield from context.sign("air_pressure", "agrees" if near else "differs")
    overdue = any(reading.overdue for station in context.stations for reading in station.readings)
    yield from context.sign("calibration", "overdue" if overdue else "valid")


PART = Part(
    key="measuring",
    name="Measuring",
    work=work,
    calculations=(averaging, steadiness, matching),
    symptoms=SYMPTOMS,
    causes=CAUSES,
    subjects={
        "filter_arrow": "Direction of the air through the filter",
        "trouble": "What was read",
        "spread": "What was read",
        "match": "Instruments",
        "overdue": "Instruments",
    },
)

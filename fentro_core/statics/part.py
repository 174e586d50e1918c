"""Static pressures: total external static, the drop over each part of the unit, and the profile along the air."""

from __future__ import annotations

from collections.abc import Iterator

from fentro_core.airflow.external_static import external_static_read
from fentro_core.airflow.ways import Airflow
from fentro_core.base.measured import Measured, propagate
from fentro_core.base.quantity import quantity
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark, judge
from fentro_core.base.working import Working
from fentro_core.diagnosis.signs import Sign
from fentro_core.phase.context import PartContext, missing
from fentro_core.phase.declaration import Part, PartResult
from fentro_core.phase.known import Missing
from fentro_core.phase.numbers import Followed, Number
from fentro_core.phase.results import Result, VerdictLine
from fentro_core.phase.verdicts import gravest, settle_words
from fentro_core.statics import drops as drops_formula
from fentro_core.statics.causes import CAUSES
from fentro_core.statics.drops import (
    CHANGE_FILTER_PA,
    CHANGE_SOON_SHARE,
    ORDINARY_PA,
    PART_NAMES,
    drop_at_rated,
    drops,
    wet_coil_drop,
)
from fentro_core.statics.page import Drop, PressureTap, StaticPage
from fentro_core.statics.symptoms import SYMPTOMS
from fentro_core.system.nameplate import CoolingNameplate

Context = PartContext[CoolingNameplate]

_KIND = "pressure"

SMALL_DROP_SHARE = 0.08
"""Under this share of its limit a drop counts as low. Ours. A low external static is a good duct, and no sign."""


def work(context: Context) -> PartResult:
    """External static against the nameplate's limit; taps, drops and the filter once a tap was read."""
    results = _external(context)
    page = _page(context, context.given("airflow", Airflow) or Airflow())
    return PartResult(
        results=tuple(results),
        page=page,
        mark=gravest(drop.mark for drop in page.drops),
        verdicts=tuple(_external_verdict(context)),
        details=tuple(_drop_verdicts(page)),
        symptoms=tuple(_signs(context, page)),
    )


def _external(context: Context) -> list[Result]:
    """Asked for once one of its taps was read."""
    found = external_static_read(context.readings, context.path)
    if isinstance(found, Missing):
        return [missing("external_static", found.what)] if len(found.what) < 2 else []
    limit = context.nameplate.max_external_static_pa
    remark = Sentence.of("The nameplate allows {limit}.", limit=(limit, _KIND)) if limit else None
    return [context.keep("external_static", found.value, found.work, remark)]


def _page(context: Context, airflow: Airflow) -> StaticPage:
    """Taps in the order of the air, drops with their limits."""
    taps = {
        station.id: average
        for station in context.path.stations
        if station.kind == "static" and (average := context.readings.average(station.id, "static_pressure")) is not None
    }
    parts = drops(taps, context.path.coil_taps).parts()
    found = tuple(_drop(context, airflow, part, drop) for part, drop in parts.items())
    names = context.readings.names
    shown = tuple(PressureTap(station, names[station], quantity(value, _KIND)) for station, value in taps.items())
    return StaticPage(shown, found, _filter_words(context, found))


def _drop(context: Context, airflow: Airflow, part: str, drop: Measured) -> Drop:
    at_rated, working = _at_rated(airflow, drop)
    most, source = _most(context, airflow, part)
    context.note(f"drop_{part}_at_rated", at_rated)
    mark: Mark = "off" if drop.high < 0 else judge(at_rated, None, most).mark
    result = context.keep(f"drop_{part}", drop, working)
    return Drop(part, PART_NAMES[part], result, quantity(at_rated, _KIND), most, source, mark)


def _at_rated(airflow: Airflow, drop: Measured) -> tuple[Measured, Working]:
    """A drop as it would be at rated flow, when the flow was measured; else as it is."""
    working = Working()
    flow, rated = airflow.measured, airflow.rated_m3s
    if flow is None or not rated:
        return drop, working
    drop_at_rated(drop.value, flow.flow.value, rated, working)
    inputs = {"drop": drop, "flow": flow.flow}
    return propagate(lambda drop, flow: {"drop": drop_at_rated(drop, flow, rated)}, inputs)["drop"], working


def _most(context: Context, airflow: Airflow, part: str) -> tuple[float, str]:
    """The most this part may drop at rated flow, and who says so."""
    nameplate = context.nameplate
    if part == "filter":
        if nameplate.filter_change_pa:
            return nameplate.filter_change_pa, "plate"
        return CHANGE_FILTER_PA[context.kind], "ordinary"
    rated = airflow.rated_m3s
    if part == "coil" and rated and len(nameplate.coil_curve) > 1:
        try:
            return wet_coil_drop(nameplate.coil_curve, rated), "plate"
        except Refused:
            pass
    return ORDINARY_PA[context.kind][part], "ordinary"


_FILTER_SAID = {
    "off": "Change the filter: at rated flow it would drop {drop}, and {most} is where it is changed.",
    "too_close": "The filter is about to be changed: at rated flow it would drop {drop}, near {most}.",
    "watch": "The filter will be due soon: at rated flow it would drop {drop} of {most}.",
    "holds": "The filter is good: at rated flow it would drop {drop}, and {most} is where it is changed.",
}


def _filter_words(context: Context, found: tuple[Drop, ...]) -> Sentence | None:
    drop = next((each for each in found if each.part == "filter"), None)
    measured = context.number("drop_filter_at_rated")
    if drop is None or measured is None:
        return None
    mark = drop.mark
    if mark == "holds" and measured.value > CHANGE_SOON_SHARE * drop.most:
        mark = "watch"
    return Sentence.of(_FILTER_SAID[mark], drop=(measured.value, _KIND), most=(drop.most, _KIND))


_EXTERNAL_SAID = {
    "off": "External static {static} is over the nameplate's {limit}: the blower works against too much.",
    "holds": "External static {static} is below the nameplate's {limit}.",
    "watch": "External static {static} is just below the nameplate's {limit}.",
    "too_close": "External static {static} may lie on either side of the nameplate's {limit}.",
}


def _external_verdict(context: Context) -> Iterator[VerdictLine]:
    key, static, limit = "external_static", context.number("external_static"), context.nameplate.max_external_static_pa
    if static is None:
        return
    number = (static.value, _KIND)
    if static.high < 0:
        text = "External static comes out below zero, {static}: the two hoses are swapped, or a sign was left out."
        yield VerdictLine(key, "off", Sentence.of(text, static=number), key)
    elif limit is None:
        text = "External static is {static}. The nameplate's limit is not noted."
        yield VerdictLine(key, None, Sentence.of(text, static=number), key)
    else:
        verdict = judge(static, None, limit)
        sentence = Sentence.of(_EXTERNAL_SAID[verdict.mark], static=number, limit=(limit, _KIND))
        notes = (settle_words(verdict.settle, context.readings.labels, _KIND),) if verdict.settle else ()
        yield VerdictLine(key, verdict.mark, sentence, key, notes)


def _drop_verdicts(page: StaticPage) -> Iterator[VerdictLine]:
    """Drops that are too large, and the filter's state when it matters."""
    for drop in page.drops:
        if drop.part == "filter" and drop.mark in ("off", "too_close", "watch") and page.filter:
            yield VerdictLine("drop_filter", drop.mark, page.filter, "drop_filter")
        elif drop.part != "filter" and drop.mark == "off":
            words = Sentence.of(
                f"{drop.name}: {{drop}} at rated flow, more than {{most}}.",
                drop=(drop.at_rated.value, _KIND),
                most=(drop.most, _KIND),
            )
            yield VerdictLine(f"drop_{drop.part}", "off", words, f"drop_{drop.part}")


def _signs(context: Context, page: StaticPage) -> Iterator[Sign]:
    static, limit = context.number("external_static"), context.nameplate.max_external_static_pa
    if static is not None and limit:
        yield from context.judge("static", static, None, limit)
    for drop in page.drops:
        value = context.number(f"drop_{drop.part}_at_rated")
        if value is not None:
            yield from context.judge(f"{drop.part}_drop", value, SMALL_DROP_SHARE * drop.most, drop.most)


PART = Part(
    key="statics",
    name="Pressures",
    work=work,
    calculations=(drops_formula,),
    needs=("airflow",),
    page=StaticPage,
    numbers=(
        Number(
            key="external_static",
            name="Total external static",
            kind=_KIND,
            compared=True,
            optional=True,
            followed=Followed(
                name="External static", worse="up", says="External static climbs: something in the air's way is filling up."
            ),
        ),
        Number(key="drop_return", name="Drop over the return duct", kind=_KIND),
        Number(key="drop_filter", name="Drop over the filter", kind=_KIND, compared=True),
        Number(key="drop_coil", name="Drop over the coil", kind=_KIND),
        Number(key="drop_supply", name="Drop over the supply duct", kind=_KIND),
        Number(key="drop_return_at_rated", kind=_KIND),
        Number(
            key="drop_filter_at_rated",
            kind=_KIND,
            followed=Followed(name="Filter's drop at rated flow", worse="up", says="The filter fills up between visits."),
        ),
        Number(key="drop_coil_at_rated", kind=_KIND),
        Number(key="drop_supply_at_rated", kind=_KIND),
    ),
    symptoms=SYMPTOMS,
    causes=CAUSES,
    subjects={
        "external_static": "Resistance that the blower works against",
        "filter": "Filter",
        "drop_filter": "Filter",
        "drop": "Resistance inside the unit",
    },
)

"""Static pressures: total external static, the drop over each part, and the profile along the air path."""

from __future__ import annotations

from fentro_core.interpolation import Monotone
from fentro_core.measured import Measured, propagate
from fentro_core.performance.statics import (
    CHANGE_FILTER_PA,
    CHANGE_SOON_SHARE,
    ORDINARY_PA,
    PART_NAMES,
    drop_at_rated,
    drops,
)
from fentro_core.refusal import Refused
from fentro_core.sentence import Sentence
from fentro_core.verdict import Mark, judge
from fentro_core.visit.bench import Bench, missing
from fentro_core.visit.nameplate import CoolingPlate
from fentro_core.visit.readings import quantity
from fentro_core.visit.results import Drop, PressureTap, RailLine, Result, StaticPage
from fentro_core.working import Working

WET_COIL_FACTOR = 1.4
"""A wet coil drops more than its clean, dry curve: by up to this factor it is still ordinary. Ours."""


def external(bench: Bench, plate: CoolingPlate) -> list[Result]:
    """Total external static against the plate's limit."""
    found = bench.flows.external_static()
    if isinstance(found[0], Measured) and isinstance(found[1], Working):
        limit = plate.max_external_static_pa
        remark = Sentence.of("The plate allows {limit}.", limit=(limit, "pressure")) if limit else None
        return [bench.keep("external_static", found[0], "pressure", found[1], remark)]
    taps = [str(each) for each in found]
    return [missing("external_static", taps)] if len(taps) < 2 else []


def page(bench: Bench, plate: CoolingPlate) -> StaticPage | None:
    """Taps in the order of the air, drops with their limits; None until a tap was read."""
    taps = {
        station.id: average
        for station in bench.path.stations
        if station.kind == "static" and (average := bench.readings.average(station.id, "static_pressure")) is not None
    }
    if not taps:
        return None
    found = []
    for part, drop in drops(taps, bench.path.coil_taps).parts().items():
        found.append(_drop(bench, plate, part, drop))
    names = bench.readings.names
    shown = tuple(PressureTap(station, names[station], quantity(value, "pressure")) for station, value in taps.items())
    return StaticPage(shown, tuple(found), _filter_words(bench, plate, found))


def _drop(bench: Bench, plate: CoolingPlate, part: str, drop: Measured) -> Drop:
    at_rated, flow_known = _at_rated(bench, drop)
    most, source = _most(bench, plate, part)
    key = f"drop_{part}"
    bench.measured[f"{key}_at_rated"] = at_rated
    mark: Mark = judge(at_rated, None, most).mark
    if drop.high < 0:
        mark = "off"
    work = Working()
    flow, rated = bench.measured_flow, bench.rated_airflow_m3s
    if flow_known and flow and flow.flow and rated:
        drop_at_rated(drop.value, flow.flow.value, rated, work)
    result = bench.keep(key, drop, "pressure", work)
    return Drop(part, PART_NAMES[part], result, quantity(at_rated, "pressure"), most, source, mark)


def _at_rated(bench: Bench, drop: Measured) -> tuple[Measured, bool]:
    """A drop as it would be at rated flow, when the flow was measured."""
    flow, rated = bench.measured_flow, bench.rated_airflow_m3s
    if flow is None or flow.flow is None or not rated:
        return drop, False
    inputs = {"drop": drop, "flow": flow.flow}
    return propagate(lambda drop, flow: {"drop": drop_at_rated(drop, flow, rated)}, inputs)["drop"], True


def _most(bench: Bench, plate: CoolingPlate, part: str) -> tuple[float, str]:
    """The most this part may drop at rated flow, and who says so."""
    if part == "filter":
        if plate.filter_change_pa:
            return plate.filter_change_pa, "plate"
        return CHANGE_FILTER_PA[bench.kind], "ordinary"
    rated = bench.rated_airflow_m3s
    if part == "coil" and rated and len(plate.coil_curve) > 1:
        try:
            clean = Monotone([(point.airflow_m3s, point.drop_pa) for point in plate.coil_curve])(rated)
            return clean * WET_COIL_FACTOR, "plate"
        except Refused:
            pass
    return ORDINARY_PA[bench.kind][part], "ordinary"


_FILTER_SAID = {
    "off": "Change the filter: at rated flow it would drop {drop}, and {most} is where it is changed.",
    "too_close": "The filter is about to be changed: at rated flow it would drop {drop}, near {most}.",
    "watch": "The filter will be due soon: at rated flow it would drop {drop} of {most}.",
    "holds": "The filter is good: at rated flow it would drop {drop}, and {most} is where it is changed.",
}


def _filter_words(bench: Bench, plate: CoolingPlate, found: list[Drop]) -> Sentence | None:
    drop = next((each for each in found if each.part == "filter"), None)
    if drop is None:
        return None
    measured = bench.measured["drop_filter_at_rated"]
    mark = drop.mark
    if mark == "holds" and measured.value > CHANGE_SOON_SHARE * drop.most:
        mark = "watch"
    return Sentence.of(_FILTER_SAID[mark], drop=(measured.value, "pressure"), most=(drop.most, "pressure"))


def rail_lines(page: StaticPage | None) -> list[RailLine]:
    """Drops that are too large, and the filter's state when it matters."""
    if page is None:
        return []
    lines = []
    for drop in page.drops:
        if drop.part == "filter" and drop.mark in ("off", "too_close", "watch") and page.filter:
            lines.append(RailLine("drop_filter", drop.mark, page.filter, "drop_filter"))
        elif drop.part != "filter" and drop.mark == "off":
            text = "{part}: {drop} at rated flow, more than {most}."
            words = Sentence.of(
                text.replace("{part}", drop.name), drop=(drop.at_rated.value, "pressure"), most=(drop.most, "pressure")
            )
            lines.append(RailLine(f"drop_{drop.part}", "off", words, f"drop_{drop.part}"))
    return lines

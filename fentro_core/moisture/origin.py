"""Where this room's water comes from: each source with its half-width, and what they leave unexplained."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from fentro_core.air.state import AirState
from fentro_core.airflow.ways import KnownWay
from fentro_core.base.measured import GUESS, Measured, propagate
from fentro_core.base.quantity import quantity
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.instruments.station_air import StationAir
from fentro_core.moisture.entries import WaterSources
from fentro_core.moisture.page import SourceLine
from fentro_core.moisture.sources import drawn_in, sources
from fentro_core.phase.context import PartContext

UNSURE = {
    "outdoor_m3s": 0.15,
    "infiltration_m3s": 0.5,
    "occupants": 0.3,
    "wet_area_m2": 0.4,
    "process_kg_per_s": 0.3,
}
"""How far (95 %) a typed figure lies from what is so, as a share of it. Ours."""

LINES = {
    "from_outdoor_kg_per_s": ("outdoor", "Outdoor air through the unit"),
    "from_leaks_kg_per_s": ("gaps", "Outdoor air through gaps"),
    "from_duct_kg_per_s": ("duct", "Leak in the return duct"),
    "from_people_kg_per_s": ("people", "People"),
    "from_wet_kg_per_s": ("wet", "Open water, wet floors"),
    "from_process_kg_per_s": ("process", "Process"),
}

LARGE_SHARE = 0.5
"""A source that brings more than this of all the water is named."""


@dataclass(frozen=True)
class Origin:
    """What is said of the sources."""

    lines: tuple[SourceLine, ...] = ()
    mark: Mark | None = None
    words: Sentence | None = None


def traced(context: PartContext[Any], given: WaterSources | None, removed: Measured | None, flow: KnownWay | None) -> Origin:
    """The balance; nothing before anybody noted a source."""
    if given is None:
        return Origin()
    room, outdoor = context.air("return"), context.air("outdoor")
    if not (room and outdoor and room.humidity_ratio and outdoor.humidity_ratio):
        return Origin(words=Sentence.of("Read the humidity of return and outdoor air: the balance rests on both."))
    if removed is None:
        return Origin(words=Sentence.of("Read what the coil takes out first: the balance rests on it."))
    inputs = _inputs(context, given, removed, flow, room, outdoor)
    around = context.air("surroundings")
    leak = context.number("leak_flow")
    if around and around.humidity_ratio and leak:
        inputs |= {"t_a": around.dry_bulb, "w_a": around.humidity_ratio, "duct_leak_m3s": leak}

    def balance(**now: float) -> dict[str, float]:
        room = _air(now.pop("t_r"), now.pop("w_r"), context.pressure_pa)
        outdoor = _air(now.pop("t_o"), now.pop("w_o"), context.pressure_pa)
        beside = _air(now.pop("t_a"), now.pop("w_a"), context.pressure_pa) if "t_a" in now else None
        rest: dict[str, Any] = {name: max(value, 0.0) for name, value in now.items()}
        return vars(sources(room, outdoor, around=beside, water_c=given.water_c, **rest))

    try:
        found = propagate(balance, inputs)
    except Refused as refused:
        return Origin(words=refused.sentence)
    return Origin(tuple(_lines(found)), *_said(found, removed))


def _inputs(
    context: PartContext[Any],
    given: WaterSources,
    removed: Measured,
    flow: KnownWay | None,
    room: StationAir,
    outdoor: StationAir,
) -> dict[str, Measured]:
    assert room.humidity_ratio is not None
    assert outdoor.humidity_ratio is not None
    found = {
        "t_r": room.dry_bulb,
        "w_r": room.humidity_ratio,
        "t_o": outdoor.dry_bulb,
        "w_o": outdoor.humidity_ratio,
        "removed_kg_per_s": removed,
    }
    share = context.number("outdoor_share")
    if given.outdoor_m3s is None and share is not None and flow is not None:
        through = propagate(lambda share, flow: {"m3s": max(share, 0.0) * flow}, {"share": share, "flow": flow.flow})["m3s"]
        found["outdoor_m3s"] = through
    through_gaps = given.infiltration_m3s
    if not through_gaps and given.blower_door_m3s and given.building_pa is not None:
        through_gaps = drawn_in(given.blower_door_m3s, given.building_pa)
    for name, unsure in UNSURE.items():
        value = through_gaps if name == "infiltration_m3s" else getattr(given, name)
        if value:
            source = f"{GUESS}{name}"
            context.readings.labels[source] = "What was noted of the sources"
            found[name] = Measured(value, {source: unsure * value})
    return found


def _air(celsius: float, ratio: float, pressure_pa: float) -> AirState:
    return AirState(celsius, max(ratio, 0.0), pressure_pa)


def _lines(found: dict[str, Measured]) -> Iterator[SourceLine]:
    for name, (key, words) in LINES.items():
        if found[name].value or found[name].plus_minus:
            yield SourceLine(key, words, quantity(found[name], "water_rate"))
    yield SourceLine("unexplained", "Not explained", quantity(found["unexplained_kg_per_s"], "water_rate"))


def _said(found: dict[str, Measured], removed: Measured) -> tuple[Mark | None, Sentence]:
    rest, brought = found["unexplained_kg_per_s"], found["brought_kg_per_s"]
    told = {"rest": abs(rest.value), "brought": brought.value, "w": removed.value}
    numbers = {name: (value, "water_rate") for name, value in told.items()}
    largest = max(LINES, key=lambda name: found[name].value)
    share = found[largest].value / brought.value if brought.value > 0 else 0.0
    if rest.low > 0:
        words = (
            "{rest} is not explained: there is another way in. Look at damp ground, a roof or pipe that leaks, doors that stand"
            " open, and whether the building draws air in."
        )
        return "watch", Sentence.of(words, **numbers)
    if rest.high < 0:
        words = "The sources bring {brought}, the unit takes out {w}: the room gets more humid while that is so."
        return "off", Sentence.of(words, **numbers)
    if share > LARGE_SHARE and found[largest].low > 0:
        words = f"Explained, as far as it can be told. Most of it: {LINES[largest][1].lower()}, {{share}}."
        return None, Sentence.of(words, share=(share, "share"))
    return None, Sentence.of("Explained, as far as it can be told: {brought} come in, {w} are taken out.", **numbers)

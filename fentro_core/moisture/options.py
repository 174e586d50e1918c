"""The ways to dry this room, in words and on the chart: by what is wanted, or by what the unit carries now."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from fentro_core.air.mixing import Stream, mix
from fentro_core.air.state import AirState
from fentro_core.airflow.ways import KnownWay
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.instruments.station_air import StationAir
from fentro_core.moisture.bypass import LEAST_COIL_FLOW
from fentro_core.moisture.choose import Choice, Dried, choose
from fentro_core.moisture.entries import MoistureAim
from fentro_core.moisture.page import DryingWay, StatePoint
from fentro_core.phase.context import PartContext

LEAST_WATER = 0.05 / 3600
"""Less than 50 g an hour is none."""

NAMES = {
    "plain": "The coil alone",
    "less_air": "Less air over the coil",
    "bypass": "Return bypass",
    "reheat": "Reheat",
    "both": "Bypass and reheat",
}


@dataclass(frozen=True)
class Ways:
    """What is said of them. `by_unit`: loads are what the unit takes out now."""

    choice: Choice | None = None
    words: Sentence | None = None
    lines: tuple[DryingWay, ...] = ()
    reheat_note: Sentence | None = None
    by_unit: bool = False


def chosen(context: PartContext[Any], aim: MoistureAim | None, return_: StationAir | None, flow: KnownWay | None) -> Ways:
    """The ways at the room's load; nothing where air, flow or load are not known."""
    if flow is None or return_ is None or return_.humidity_ratio is None:
        return Ways()
    sensible, water = _load(context, aim)
    by_unit = aim is None or aim.room_sensible_w is None or aim.room_water_kg_per_s is None
    if sensible is None or water is None or sensible < 0:
        return Ways()
    built = context.nameplate.reheat
    unbuilt = aim is None and built is None
    aim = aim or MoistureAim(return_.dry_bulb.value, 0.5, reheat_source=built or "electric")
    try:
        room = AirState.from_rh(aim.wanted_c, aim.wanted_rh, context.pressure_pa)
        entering = _entering(context, room)
        least_air = _least_air(context, aim.least_air, flow.flow.value)
        means = (aim.reheat_source, aim.most_bypass, aim.cop, entering, least_air)
        found = _same(room, flow.flow.value, sensible, max(water, 0.0), *means)
    except Refused as refused:
        return Ways(words=refused.sentence, by_unit=by_unit)
    lines = tuple(_lines(found, room, entering, unbuilt=unbuilt))
    return Ways(found, _words(found, room), lines, _note(found), by_unit)


_same = lru_cache(maxsize=128)(choose)
"""Most readings of a visit leave room, flow and load as they were: the same question is answered once."""


def _load(context: PartContext[Any], aim: MoistureAim | None) -> tuple[float | None, float | None]:
    """The room's heat [W] and water [kg/s]: as noted, else as the unit carries them now, and what the room itself gains."""
    heat, water = context.number("sensible"), context.number("water")
    sensible = aim.room_sensible_w if aim and aim.room_sensible_w is not None else heat.value if heat else None
    wet = aim.room_water_kg_per_s if aim and aim.room_water_kg_per_s is not None else water.value if water else None
    if wet is None and heat is not None and context.number("latent_withheld") is not None:
        wet = 0.0
    if wet is not None and aim and aim.room_water_kg_per_s is None and aim.room_m3 and aim.drift_ratio:
        air = AirState.from_rh(aim.wanted_c, aim.wanted_rh, context.pressure_pa)
        wet += aim.room_m3 / air.specific_volume_m3_per_kg * aim.drift_ratio / 3600
    return sensible, wet


def _least_air(context: PartContext[Any], wanted: float, flow_m3s: float) -> float:
    """Of today's air; never under the same share of the nameplate's, where that is known: today's may be little already."""
    rated = context.nameplate.rated_airflow_m3s
    return min(max(wanted, LEAST_COIL_FLOW * rated / flow_m3s), 1.0) if rated else wanted


def _entering(context: PartContext[Any], room: AirState) -> AirState | None:
    """Outdoor air mixed into the wanted air, at the share that was measured; None where none is mixed in."""
    share, outdoor = context.number("outdoor_share"), context.air("outdoor")
    if share is None or outdoor is None or outdoor.humidity_ratio is None or not 0 < share.value <= 1:
        return None
    out = AirState(outdoor.dry_bulb.value, max(outdoor.humidity_ratio.value, 0.0), room.pressure_pa)
    both = mix((Stream(room, 1 - share.value), Stream(out, share.value)))
    return AirState(both.dry_bulb_c, both.humidity_ratio, room.pressure_pa)


def _lines(found: Choice, room: AirState, entering: AirState | None, *, unbuilt: bool) -> Iterator[DryingWay]:
    for each in found.options:
        mark: Mark = "holds" if each.meets else "off"
        yield DryingWay(each.option, NAMES[each.option], mark, _say(each, unbuilt=unbuilt), tuple(_path(each, room, entering)))


def _say(each: Dried, *, unbuilt: bool) -> Sentence:
    """What it takes, or why it does not do."""
    numbers = {
        "coil": (each.leaving_dry_bulb_c, "temperature"),
        "water": (each.water_kg_per_s, "water_rate"),
        "share": (each.bypass_share, "share"),
        "heat": (each.reheat_w, "power"),
        "power": (each.power_w, "electric_power"),
        "air": (each.air_share, "share"),
    }
    if each.why == "too_little_water" and each.water_kg_per_s < LEAST_WATER:
        return Sentence.of("Takes out no water at the supply that this room needs: the coil is too warm for it.")
    if each.why == "too_little_water":
        return Sentence.of("Takes out at most {water}: not enough.", **numbers)
    if each.why == "freezes":
        return Sentence.of("The coil would have to leave at {coil}: it freezes.", **numbers)
    if each.why:
        return Sentence.of("Not available here.")
    words = "Coil leaves at {coil}"
    if each.air_share < 0.995:
        words += " with {air} of today's air"
    if each.bypass_share > 0.005:
        words += ", {share} of the return passes around it"
    if each.reheat_w > 50:
        words += ", then {heat} of reheat"
        words += " (counted as electric)" if unbuilt else ""
    return Sentence.of(f"{words}. Takes out {{water}}, and needs {{power}}.", **numbers)


def _path(each: Dried, room: AirState, entering: AirState | None) -> Iterator[StatePoint]:
    """Room, with outdoor air, after the coil, mixed with what passed around, supply."""
    yield StatePoint("room", "Room", room.dry_bulb_c, room.humidity_ratio)
    if entering is not None:
        yield StatePoint("entering", "With outdoor air", entering.dry_bulb_c, entering.humidity_ratio)
    share = each.bypass_share
    coil_ratio = (each.supply_ratio - share * room.humidity_ratio) / (1 - share)
    yield StatePoint("coil", "After the coil", each.leaving_dry_bulb_c, coil_ratio)
    if share > 0.005:
        mixed = share * room.dry_bulb_c + (1 - share) * each.leaving_dry_bulb_c
        yield StatePoint("mixed", "Mixed again", mixed, each.supply_ratio)
    yield StatePoint("supply", "Supply", each.supply_c, each.supply_ratio)


def _words(found: Choice, room: AirState) -> Sentence:
    best = next((each for each in found.options if each.option == found.best), None)
    held = {"room": (room.dry_bulb_c, "temperature"), "rh": (room.relative_humidity, "relative_humidity")}
    if best is None:
        words = (
            "Nothing here holds {room} and {rh}: a dehumidifier of its own, less outdoor air while it is damp outside, or find"
            " the water."
        )
        return Sentence.of(words, **held)
    chosen_words = {
        "plain": "The coil alone holds {room} and {rh}: nothing is to be built.",
        "less_air": "Less air, {air} of today's, holds {room} and {rh} with the least energy. Then measure outdoor air again.",
        "bypass": "A return bypass of {share} holds {room} and {rh} with the least energy.",
        "reheat": "Reheat of {heat} holds {room} and {rh} with the least energy.",
        "both": "A bypass of {share} with {heat} of reheat holds {room} and {rh} with the least energy.",
    }[best.option]
    return Sentence.of(
        chosen_words, **held, share=(best.bypass_share, "share"), heat=(best.reheat_w, "power"), air=(best.air_share, "share")
    )


def _note(found: Choice) -> Sentence | None:
    """That reheat dries nothing, in numbers."""
    each = next((each for each in found.options if each.option == "reheat" and each.reheat_w > 50), None)
    if each is None:
        return None
    words = (
        "Reheat dries nothing by itself: the air holds {ratio} before it and {ratio} after it. What dries is the coil at {coil};"
        " reheat only brings the air back to {supply}, so that the room is not overcooled."
    )
    return Sentence.of(
        words,
        ratio=(each.supply_ratio, "humidity_ratio"),
        coil=(each.leaving_dry_bulb_c, "temperature"),
        supply=(each.supply_c, "temperature"),
    )

"""The verdict on one test of zones: what was seen against what was due. Nothing holds that was not looked at."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.system.ducts import DuctTree
from fentro_core.system.zones import Zone
from fentro_core.zoning.board import CONTROL_STATES
from fentro_core.zoning.proof.step import LOW_VOLTS, ZoneTest, ZoneTestSeen

ENDED = {
    "stopped": "Stopped before its end: nothing is proved. Repeat it.",
    "gone": "The board stopped answering: nothing is proved. Repeat it when it answers again.",
    "refused": "The board refused to call: nothing is proved. Call the zone by hand, and type what you see.",
}

_GRAVEST: tuple[Mark, ...] = ("off", "not_measured", "too_close", "watch", "holds")

ASKED: Mapping[str, str] = {
    "air": "a register",
    "indicators": "an indicator",
    "called": "which zone calls",
    "control": "the control point",
    "static_pa": "the static",
    "noise": "the noise",
    "bypass": "the bypass's lever",
    "volts": "the transformer",
    "held": "a bladder",
    "supply_c": "the supply air",
}
"""Looks of a test, as a sentence names them where they are missing."""

MOST_NAMED = 3


@dataclass(frozen=True)
class Limits:
    """Most external static by the nameplate [Pa], where it is known; the transformer's nominal voltage [V]; supply air at which
    the unit is stopped [°C], and whether it cools.
    """

    most_static_pa: float | None = None
    supply_v: float = 24.0
    supply_limit_c: float | None = None
    cools: bool = True


def verdict(tree: DuctTree, test: ZoneTest, seen: ZoneTestSeen, limits: Limits) -> tuple[Mark, Sentence]:
    """The gravest of everything that was looked at, and its words."""
    if seen.ended != "done":
        return "not_measured", Sentence.of(ENDED[seen.ended])
    found = [
        *_rooms(tree, test, seen),
        *_indicators(tree, test, seen),
        *_control(tree, test, seen),
        *_figures(test, seen, limits),
    ]
    missing = [ASKED[ask] for ask in test.asks if _is_missing(tree, test, seen, ask)]
    if missing:
        found.append(("not_measured", Sentence.of(f"Not looked at: {', '.join(missing)}.")))
    for mark in _GRAVEST:
        words = [sentence for each, sentence in found if each == mark]
        if words:
            return mark, _joined(words)
    return "holds", Sentence.of("As it should be.")


def _joined(words: list[Sentence]) -> Sentence:
    named = words[:MOST_NAMED]
    more = f" And {len(words) - MOST_NAMED} more." if len(words) > MOST_NAMED else ""
    numbers = {name: number for sentence in named for name, number in sentence.numbers.items()}
    return Sentence(" ".join(sentence.text for sentence in named) + more, numbers)


def _rooms(tree: DuctTree, test: ZoneTest, seen: ZoneTestSeen) -> Iterator[tuple[Mark, Sentence]]:
    for branch in tree.branches:
        air, due = seen.air.get(branch.id), test.rooms.get(branch.id)
        if air is None or due is None:
            continue
        if due == "open" and air != "air":
            if branch.id in test.faint:
                yield (
                    "too_close",
                    Sentence.of(f"{branch.called}: little air is due even when open; a hand can't tell. Measure it."),
                )
            elif air == "none":
                yield "off", Sentence.of(f"{branch.called}: no air, and it should have some.")
            else:
                yield "watch", Sentence.of(f"{branch.called}: only a little air.")
        elif due == "shut" and air == "air":
            yield "off", Sentence.of(f"{branch.called}: air, and it should be shut.")


def _indicators(tree: DuctTree, test: ZoneTest, seen: ZoneTestSeen) -> Iterator[tuple[Mark, Sentence]]:
    for zone in tree.zones:
        light = seen.indicators.get(zone.id)
        due = indicator_due(test, zone)
        if light is None or light == due:
            continue
        if light == "moving":
            yield "off", Sentence.of(f"{zone.name}: its indicator still shows moving. Wait, and look once more.")
        else:
            yield "off", Sentence.of(f"{zone.name}: its indicator shows {light}, {due} is due.")


def indicator_due(test: ZoneTest, zone: Zone) -> str:
    """What the board should show for a zone."""
    return "open" if zone.id in test.calling or zone.dump else "shut"


def _control(tree: DuctTree, test: ZoneTest, seen: ZoneTestSeen) -> Iterator[tuple[Mark, Sentence]]:
    if test.kind != "control":
        return
    if seen.control and seen.control != "answers":
        yield "off", Sentence.of(f"The control point: {CONTROL_STATES[seen.control]}.")
    elif seen.called is not None and set(seen.called) != {test.zone}:
        names = [zone.name for zone in tree.zones if zone.id in seen.called]
        yield "off", Sentence.of(f"{' and '.join(names)} calls instead." if names else "No zone calls.")


def _figures(test: ZoneTest, seen: ZoneTestSeen, limits: Limits) -> Iterator[tuple[Mark, Sentence]]:
    most = limits.most_static_pa
    if seen.static_pa is not None and most is not None and seen.static_pa > most:
        words = "The blower works against {static}, at most {most}."
        yield "off", Sentence.of(words, static=(seen.static_pa, "pressure"), most=(most, "pressure"))
    if seen.volts is not None and seen.volts < LOW_VOLTS * limits.supply_v:
        yield "off", Sentence.of("The transformer falls to {volts}: too much moves at once.", volts=(seen.volts, "voltage"))
    limit = limits.supply_limit_c
    if seen.supply_c is not None and limit is not None and (seen.supply_c <= limit if limits.cools else seen.supply_c >= limit):
        words = "Supply air at {supply}, its limit is {limit}: coil or heat exchanger gets too little air."
        yield "off", Sentence.of(words, supply=(seen.supply_c, "temperature"), limit=(limit, "temperature"))
    if test.kind == "all" and seen.bypass in ("part", "open"):
        yield "off", Sentence.of("The bypass is open while all zones call: capacity goes round.")
    if seen.noise == "loud":
        yield "watch", Sentence.of("Loud where people sit.")
    leaking = sum(1 for held in seen.held.values() if not held)
    if leaking:
        yield "off", Sentence.of(f"{leaking} of {len(seen.held)} bladders do not hold their pressure.")


def _is_missing(tree: DuctTree, test: ZoneTest, seen: ZoneTestSeen, ask: str) -> bool:
    if ask == "air":
        return not set(test.rooms) <= set(seen.air)
    if ask == "indicators":
        return not {zone.id for zone in tree.zones if zone.rooms} <= set(seen.indicators)
    if ask == "held":
        return not {room for zone in tree.zones if zone.id == test.zone for room in zone.rooms} <= set(seen.held)
    if ask == "called":
        return seen.called is None and not (seen.control and seen.control != "answers")
    return getattr(seen, ask) in (None, "")

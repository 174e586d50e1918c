"""A technician who proves a ventilator: calls it, waits, goes from grille to grille, and slips now and then."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from random import Random
from typing import Any

from fentro_core.system.fresh_air import VentilatorControl
from fentro_core.ventilation.proof.diagnosis import VALUES
from fentro_core.ventilation.proof.step import TRAVEL_S, VentilatorTest, VentilatorTestSeen
from fentro_standins.ventilator.unit import SimulatedVentilator


@dataclass(frozen=True)
class Habits:
    """Shares of looks: left out, taken for something else, taken before anything moved."""

    missing: float = 0.0
    slips: float = 0.0
    early: float = 0.0


def prove(
    one: SimulatedVentilator, tests: Iterable[VentilatorTest], card: VentilatorControl, random: Random, habits: Habits = Habits()
) -> list[VentilatorTestSeen]:
    """Every test in order; some are never done."""
    return [look(one, test, card, random, habits) for test in tests if random.random() >= habits.missing / 2]


def look(
    one: SimulatedVentilator, test: VentilatorTest, card: VentilatorControl, random: Random, habits: Habits = Habits()
) -> VentilatorTestSeen:
    """Do one test, and let everything go again."""
    early = random.random() < habits.early
    seen: dict[str, Any] = {}
    match test.kind:
        case "settings":
            seen["as_card"] = one.control == card
        case "sensor":
            seen |= {"shown_c": one.points()["outdoor_c"], "probe_c": one.look()["probe_c"]}
        case "hour":
            mild(one, card, random)
            one.advance(random.uniform(0.0, 1800.0))
            before = one.run_s
            one.advance(3600.0)
            seen["minutes"] = round((one.run_s - before) / 60.0 + random.gauss(0.0, 0.2), 1)
        case "boost":
            seen |= _boosted(one, card, random)
        case "filters":
            found = one.look()
            seen |= {"filters": found["filters"], "screen": found["screen"]}
        case _:
            seen |= _called(one, test, early)
    for point in list(one.held):
        one.release(point)
    return _human(VentilatorTestSeen(test=test.kind, **_asked(test, seen)), random, habits)


def mild(one: SimulatedVentilator, card: VentilatorControl, random: Random) -> None:
    """See that no lockout keeps it off."""
    low, high = card.low_c, card.high_c
    if low is not None or high is not None:
        one.hold("outdoor_c", (low + high) / 2 if low is not None and high is not None else 15.0)
    if card.dew_point_c is not None:
        one.hold("dew_point_c", card.dew_point_c - 5.0)
    if card.indoor_rh is not None:
        one.hold("indoor_rh", max(card.indoor_rh - 0.1, 0.0))


def _boosted(one: SimulatedVentilator, card: VentilatorControl, random: Random) -> dict[str, Any]:
    mild(one, card, random)
    for _ in range(60):
        if not one.points()["fan"]:
            break
        one.advance(60.0)
    one.boost()
    one.advance(TRAVEL_S)
    ran = one.runs
    one.advance((card.boost_min or 0.0) * 60.0)
    rests = False
    for _ in range(70):
        rests = rests or not one.runs
        one.advance(60.0)
    return {"fan": "runs" if ran else "stands", "again": "stands" if rests else "runs"}


def _called(one: SimulatedVentilator, test: VentilatorTest, early: bool) -> dict[str, Any]:
    before = one.held.get("run")
    if before is None:
        one.advance(TRAVEL_S)
    for point, value in test.hold.items():
        one.hold(point, value)
    one.advance(5.0 if early else TRAVEL_S)
    seen = one.look()
    if test.then:
        for point, value in test.then.items():
            one.hold(point, value)
        one.advance(TRAVEL_S)
        seen["again"] = "runs" if one.runs else "stands"
    return seen


def _asked(test: VentilatorTest, seen: dict[str, Any]) -> dict[str, Any]:
    asks = set(test.asks) | ({"shown_c", "probe_c"} if "sensor" in test.asks else set())
    return {name: value for name, value in seen.items() if name in asks}


def _human(seen: VentilatorTestSeen, random: Random, habits: Habits) -> VentilatorTestSeen:
    """Leave out and mistake some of it."""
    change: dict[str, Any] = {}
    for name in ("fan", "blower", "damper", "again", "filters", "screen"):
        if not getattr(seen, name):
            continue
        if random.random() < habits.missing:
            change[name] = ""
        elif random.random() < habits.slips:
            change[name] = random.choice(VALUES[name])
    air: dict[str, Any] = {}
    for stream, felt in seen.air.items():
        if random.random() >= habits.missing:
            air[stream] = random.choice(VALUES["air"]) if random.random() < habits.slips else felt
    kept = {name: value for name, value in vars(seen).items() if name not in change and name != "air"}
    return VentilatorTestSeen(**kept, **change, air=air)  # type: ignore[arg-type]

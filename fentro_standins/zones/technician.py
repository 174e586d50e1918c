"""A technician who proves zones: calls them, waits, goes from register to register, and slips now and then."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from random import Random
from typing import Any

from fentro_core.zoning.proof.plan import USUAL_FACE
from fentro_core.zoning.proof.step import Air, ZoneTest, ZoneTestSeen
from fentro_standins.zones.board import SimulatedBoard

LITTLE_FROM, AIR_FROM = 0.25, 0.8
"""Speeds at a register's face that a hand takes for a little and for air [m/s]."""


BATTERY_LOOKED_AT = 0.9
"""How often somebody without a signal opens the control point and finds its battery flat."""


@dataclass(frozen=True)
class Habits:
    """Shares of looks: left out, taken for something else, taken before the dampers stood; the static a bypass is set to [Pa]."""

    missing: float = 0.0
    slips: float = 0.0
    early: float = 0.0
    limit_pa: float = 160.0


def walk(board: SimulatedBoard, test: ZoneTest, random: Random, habits: Habits = Habits()) -> ZoneTestSeen:
    """Do one test, and let the zones go again."""
    seen: dict[str, Any] = {"test": test.key}
    if test.kind == "control":
        seen |= _control(board, test, random)
    elif test.kind == "hold":
        seen["held"] = {room: board.holds(room) for zone in board.zones if zone.id == test.zone for room in zone.rooms}
    else:
        seen |= _called(board, test, random, habits)
    return _human(ZoneTestSeen(**seen), random, habits)


def walk_all(board: SimulatedBoard, tests: Iterable[ZoneTest], random: Random, habits: Habits = Habits()) -> list[ZoneTestSeen]:
    """Every test in order; some are never done."""
    return [walk(board, test, random, habits) for test in tests if random.random() >= habits.missing / 2]


def _control(board: SimulatedBoard, test: ZoneTest, random: Random) -> dict[str, Any]:
    board.ask(test.zone, True)
    shown = board.points()["zones"]
    board.ask(test.zone, False)
    states = {zone.id: line for zone, line in zip(board.zones, shown, strict=True)}
    calls = tuple(zone for zone, line in states.items() if line["calls"])
    control = states[test.zone]["control"]
    if control == "no_signal" and board.hidden.key == "battery_flat" and random.random() < BATTERY_LOOKED_AT:
        control = "battery"
    return {"called": calls, "control": control}


def _called(board: SimulatedBoard, test: ZoneTest, random: Random, habits: Habits) -> dict[str, Any]:
    for number in range(1, len(board.zones) + 1):
        board.call(number, False)
    board.settle()
    for number, zone in enumerate(board.zones, 1):
        board.call(number, zone.id in test.calling)
    board.advance(2.0)
    volts = board.points()["volts"]
    board.advance(random.uniform(15.0, 60.0) if random.random() < habits.early else 150.0)
    flows, static, opened = board.flows()
    while test.kind == "bypass" and static > habits.limit_pa and board.set_pa > 15.0:
        board.set_pa -= 10.0
        flows, static, opened = board.flows()
    lights = {zone.id: line["indicator"] for zone, line in zip(board.zones, board.points()["zones"], strict=True)}
    for number in range(1, len(board.zones) + 1):
        board.release(number)
    asks = test.asks
    lever = "shut" if opened < 0.05 else "open" if opened > 0.6 else "part"
    found: dict[str, Any] = {
        "air": {room: felt(board, room, flow, random) for room, flow in flows.items()} if "air" in asks else {},
        "indicators": lights if "indicators" in asks else {},
        "static_pa": round(static * random.gauss(1.0, 0.03), 1) if "static_pa" in asks else None,
        "volts": volts if "volts" in asks else None,
        "bypass": lever if "bypass" in asks else "",
        "noise": ("loud" if static > 200 else "quiet") if "noise" in asks else "",
        "supply_c": 13.0 if "supply_c" in asks else None,
    }
    return found


def felt(board: SimulatedBoard, room: str, flow: float, random: Random) -> Air:
    """What a hand at a register takes its air for."""
    branch = next(branch for branch in board.tree.branches if branch.id == room)
    face = branch.face_area_m2 or USUAL_FACE * branch.area_m2
    speed = flow / face * random.lognormvariate(0.0, 0.2)
    return "air" if speed >= AIR_FROM else "little" if speed >= LITTLE_FROM else "none"


def _human(seen: ZoneTestSeen, random: Random, habits: Habits) -> ZoneTestSeen:
    """Leave out and mistake some of it."""
    choices: tuple[Air, ...] = ("air", "little", "none")
    for room in list(seen.air):
        if random.random() < habits.missing:
            del seen.air[room]
        elif random.random() < habits.slips:
            seen.air[room] = random.choice(choices)
    for zone in list(seen.indicators):
        if random.random() < habits.missing:
            del seen.indicators[zone]
        elif random.random() < habits.slips / 2:
            seen.indicators[zone] = random.choice(("open", "shut", "moving"))
    return seen

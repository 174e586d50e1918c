"""The blind proof of zones: seeded houses with one hidden fault each, and sound ones. The proof must convict the right one and
acquit the healthy. Two disjoint sets; chances were worked on with the first, so draw fresh seeds: ``python -m bench zones``.
"""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, replace
from random import Random

from bench.report import Row
from fentro_core.ducts.solve import Network
from fentro_core.system.ducts import DuctTree
from fentro_core.system.zones import Zone
from fentro_core.zoning.combinations import Limits, every_combination
from fentro_core.zoning.proof.diagnosis import ZoneDiagnosis, diagnose
from fentro_core.zoning.proof.plan import Proof, plan
from fentro_standins.ducts.house import House
from fentro_standins.zones.board import Hidden, SimulatedBoard
from fentro_standins.zones.technician import Habits, walk_all

HOUSES = 160
SLOPPY = Habits(missing=0.1, slips=0.02, early=0.05)
MOST_STATIC_PA = 160.0


ALIKE = ({"stuck_open", "leak"},)
"""At one bladder that nobody held under pressure: open for whatever reason, and the same thing to look at."""


@dataclass(frozen=True)
class Judged:
    """A house's truth, and what the proof said."""

    seed: int
    hidden: Hidden
    said: ZoneDiagnosis
    rooms: tuple[str, ...]

    @property
    def kind(self) -> str:
        """How the proof did: ``right``, ``acquitted`` where sound; ``open``: it did not decide; else ``wrong`` or ``accused``."""
        found = self.said.found
        if not self.hidden.key:
            return "accused" if found else "acquitted" if self.said.sound >= 0.6 and not self.said.again else "open"
        if found is None:
            return "missed" if self.said.sound >= 0.6 and not self.said.again else "open"
        same_place = set(found.at) == set(self.hidden.at) or (
            found.fault.key == "chain_broken" and set(found.at) <= set(self.rooms)
        )
        same = found.fault.key == self.hidden.key or {found.fault.key, self.hidden.key} in ALIKE
        return "right" if same and same_place else "wrong"


def house_of(seed: int) -> tuple[House, DuctTree, bool]:
    """A house and its zones: two to six, of any damper, some with a stop or a dump zone, perhaps a bypass."""
    random = Random(seed * 7919 + 1)
    house = House(seed, random.randint(6, 20))
    rooms = [branch.id for branch in house.drawn.branches]
    random.shuffle(rooms)
    count = random.randint(2, min(6, len(rooms) // 2))
    cuts = sorted(random.sample(range(1, len(rooms)), count - 1))
    groups = [rooms[a:b] for a, b in zip([0, *cuts], [*cuts, len(rooms)], strict=True)]
    if random.random() < 0.3 and len(groups[0]) > 1:
        groups[0].pop()
    damper = random.choice(("power", "spring", "inflatable", "mixed"))
    zones = []
    for at, group in enumerate(groups):
        kind = random.choice(("power", "spring", "inflatable")) if damper == "mixed" else damper
        least = random.choice((0.0, 0.0, 0.2)) if kind != "inflatable" else 0.0
        zones.append(
            Zone(
                id=f"z{at}",
                name=f"Zone {at + 1}",
                rooms=tuple(group),
                damper=kind,
                least_open=least,
                dump=at == 1 and count > 2 and random.random() < 0.15,
                wireless=random.random() < 0.5,
            )
        )
    return house, replace(house.drawn, zones=tuple(zones)), random.random() < 0.4


def hide(seed: int, tree: DuctTree, bypass: bool) -> Hidden:
    """A fault that this house can have; a third of all houses are sound."""
    random = Random(seed * 104729 + 3)
    if random.random() < 0.33:
        return Hidden()
    zones = {zone.id: zone for zone in tree.zones if not zone.dump}
    wired = [zone for zone in zones.values() if zone.damper != "inflatable"]
    tubes = [zone for zone in zones.values() if zone.damper == "inflatable"]
    room_of_any = random.choice([room for zone in zones.values() for room in zone.rooms])
    may: dict[str, tuple[str, ...]] = {
        "control_swapped": tuple(random.sample(sorted(zones), 2)) if len(zones) > 1 else (),
        "dampers_swapped": tuple(random.sample(sorted(zones), 2)) if len(zones) > 1 else (),
        "stuck_open": (room_of_any,),
        "stuck_shut": (room_of_any,),
        "zone_reversed": (random.choice([z.id for z in wired if len(z.rooms) > 1] or [""]),),
        "damper_reversed": (random.choice([room for z in wired for room in z.rooms] or [""]),),
        "chain_broken": (random.choice([z.id for z in wired if len(z.rooms) > 1] or [""]),),
        "indicator_lies": (random.choice(sorted(zones)),),
        "radio_lost": (random.choice(sorted(zones)),),
        "battery_flat": (random.choice([z.id for z in zones.values() if z.wireless] or [""]),),
        "leak": (random.choice([room for z in tubes for room in z.rooms] or [""]),),
    }
    if len(tubes) > 1:
        one, other = random.sample(tubes, 2)
        may["ports_swapped"] = (random.choice(one.rooms), random.choice(other.rooms))
    found = [(key, at) for key, at in may.items() if at and all(at)]
    if wired:
        found.append(("overloaded", ()))
    if tubes:
        found.append(("pump", ()))
    if bypass:
        found += [("bypass_shut", ()), ("bypass_open", ())]
    key, at = random.choice(found)
    return Hidden(key, at)


def proved(seed: int, habits: Habits = SLOPPY) -> Judged:
    """One house, proved blind."""
    house, tree, bypass = house_of(seed)
    hidden = hide(seed, tree, bypass)
    given = Proof(bypass)
    combinations = every_combination(Network(tree, 1.18), house.mover_drawn, tree.zones, Limits(MOST_STATIC_PA))
    tests = plan(tree, given, combinations)
    random = Random(seed * 31 + 5)
    board = SimulatedBoard(tree, house.mover, seed, hidden, bypass, random.uniform(90.0, 130.0))
    seen = walk_all(board, tests, random, habits)
    by_key = {test.key: test for test in tests}
    said = diagnose(tree, by_key, seen, given, MOST_STATIC_PA)
    if said.again:
        seen += walk_all(board, [by_key[key] for key in said.again], random, habits)
        said = diagnose(tree, by_key, seen, given, MOST_STATIC_PA)
    rooms = tuple(board._dead)
    return Judged(seed, hidden, said, rooms)


def figures(first_seed: int, count: int = HOUSES) -> tuple[Counter[str], list[Judged]]:
    """How often the proof did what, over houses that begin at a seed."""
    judged = [proved(seed) for seed in range(first_seed, first_seed + count)]
    return Counter(each.kind for each in judged), judged


def rows() -> Iterator[Row]:
    """The two sets, and seeds of now."""
    fresh = int(time.time()) % 1_000_000 + 100_000
    for name, first in (("first set", 1000), ("second set", 50_000), (f"fresh seeds from {fresh}", fresh)):
        counts, judged = figures(first)
        sound = sum(1 for each in judged if not each.hidden.key)
        faulty = len(judged) - sound
        yield Row(
            f"zones, {name}: faults not named wholly right",
            1.0 - counts["right"] / faulty,
            0.25,
            f"{counts['right']} of {faulty}, {counts['open']} undecided (with sound ones), {counts['missed']} missed, "
            f"{counts['wrong']} named wrongly; {counts['accused']} of {sound} sound ones accused",
        )

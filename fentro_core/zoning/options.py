"""What can be done about zones that are too small: with a bypass and without, each measure reckoned and ranked."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from fentro_core.ducts.blower import AirMover, Blower
from fentro_core.ducts.solve import Network
from fentro_core.system.ducts import DuctTree
from fentro_core.system.zones import Zone
from fentro_core.zoning.bypass import BypassCourse, Mixed, bypass_course, bypass_mixing
from fentro_core.zoning.combinations import Combination, Limits, every_combination

OptionKey = Literal["as_is", "least_open", "merge", "dump", "turn_down", "bypass"]

KEPT_OPEN = 0.2
"""Share of the stroke that shut zones keep open, where that is the measure."""

TURNED_DOWN = 0.7
"""Speed of a blower that can be turned down, as a share of its full one."""

FINE = 1.0
"""Badness up to here is within all limits."""

MOST_LOST = 0.1
"""Share of the capacity that a bypass may cost before it is no way out."""


@dataclass(frozen=True)
class Air:
    """Supply and return without a bypass [°C], and the supply temperature at which the unit must stop."""

    supply_c: float
    return_c: float
    limit_c: float


@dataclass(frozen=True)
class Option:
    """One measure and the worst that it leaves.

    Attributes
    ----------
    key, names
        Which measure, and the zones it is about.
    badness
        Of its worst combination: up to 1 all limits hold.
    worst
        That combination.
    capacity_lost
        Share of the capacity, for a bypass.
    mixed, course
        Of a bypass.
    cost
        As the user entered it; None where nobody did.
    """

    key: OptionKey
    names: tuple[str, ...]
    badness: float
    worst: Combination
    capacity_lost: float = 0.0
    mixed: Mixed | None = None
    course: BypassCourse | None = None
    cost: float | None = None

    @property
    def fine(self) -> bool:
        """All limits hold, and a bypass costs little."""
        return self.badness <= FINE and self.capacity_lost <= MOST_LOST


def options(
    tree: DuctTree,
    density: float,
    factors: Mapping[str, float],
    leak_m3s: float,
    mover: AirMover,
    limits: Limits,
    air: Air | None = None,
    costs: Mapping[str, float] | None = None,
    plain: Sequence[Combination] = (),
    handles: Mapping[str, float] | None = None,
) -> tuple[Option, ...]:
    """All measures, the best first: within limits, then little capacity lost, then cheap, then mild.

    A bypass is only reckoned where the air's temperatures are known. `plain`: every combination as it stands, if known.
    `handles`: what dampers were found to do, by branch.
    """
    network = Network(tree, density, factors, leak_m3s, handles)
    given = costs or {}
    found = [replace(each, cost=given.get(each.key)) for each in _all(network, mover, tree.zones, limits, air, plain)]
    return tuple(sorted(found, key=_rank))


def _rank(option: Option) -> tuple[bool, bool, float, float]:
    cost = option.cost if option.cost is not None else 0.0
    return not option.fine, option.key == "bypass", cost if option.fine else 0.0, option.badness + option.capacity_lost


FEW = 2
"""A measure is judged where no more zones than these call: with more of them the air has more ways."""


def _all(
    network: Network,
    mover: AirMover,
    zones: Sequence[Zone],
    limits: Limits,
    air: Air | None,
    known: Sequence[Combination],
) -> Iterator[Option]:
    plain = known or every_combination(network, mover, zones, limits)
    yield Option("as_is", (), plain[0].badness, plain[0])
    if any(zone.damper != "inflatable" for zone in zones):
        open_ = {zone.id: max(zone.least_open, KEPT_OPEN) for zone in zones}
        kept = every_combination(network, mover, zones, limits, open_, FEW)
        yield Option("least_open", (), kept[0].badness, kept[0])
    if len(zones) > 1:
        yield min(_merged(network, mover, zones, limits, plain), key=lambda option: option.badness)
        yield min(_dumped(network, mover, zones, limits), key=lambda option: option.badness)
    slower = every_combination(network, turned_down(mover), zones, limits, most_calling=FEW)
    yield Option("turn_down", (), slower[0].badness, slower[0])
    if air is not None and limits.most_static_pa and mover.blower.points:
        yield _bypassed(network, mover, plain, limits, air)


def _merged(
    network: Network, mover: AirMover, zones: Sequence[Zone], limits: Limits, plain: Sequence[Combination]
) -> Iterator[Option]:
    """The smallest zone together with each other one."""
    alone = {each.calling[0]: each for each in plain if len(each.calling) == 1}
    smallest = min(zones, key=lambda zone: sum(alone[zone.id].flows[room] for room in zone.rooms))
    for other in zones:
        if other is smallest:
            continue
        together = replace(other, name=f"{other.name} with {smallest.name}", rooms=(*other.rooms, *smallest.rooms))
        left = [together if zone is other else zone for zone in zones if zone is not smallest]
        worst = every_combination(network, mover, left, limits, most_calling=FEW)[0]
        yield Option("merge", (smallest.name, other.name), worst.badness, worst)


def _dumped(network: Network, mover: AirMover, zones: Sequence[Zone], limits: Limits) -> Iterator[Option]:
    """Each zone as the one that always takes the rest."""
    for chosen in zones:
        with_dump = [replace(zone, dump=zone is chosen or zone.dump) for zone in zones]
        worst = every_combination(network, mover, with_dump, limits, most_calling=FEW)[0]
        yield Option("dump", (chosen.name,), worst.badness, worst)


def turned_down(mover: AirMover, speed: float = TURNED_DOWN) -> AirMover:
    """The blower at a lower speed: flow with the speed, pressure with its square (fan laws).

    >>> turned_down(AirMover(Blower(((0.2, 300.0), (0.6, 0.0))), 100.0, 0.5), 0.5).blower.points[0]
    (0.1, 75.0)
    """
    blower = mover.blower
    points = tuple((flow * speed, head * speed * speed) for flow, head in blower.points)
    return replace(mover, blower=Blower(points, blower.held_m3s * speed))


def _bypassed(network: Network, mover: AirMover, plain: Sequence[Combination], limits: Limits, air: Air) -> Option:
    """A weighted bypass that opens at the most static: sized for the smallest call at its limit of speed."""
    assert limits.most_static_pa is not None
    blower = flow_at(mover, limits.most_static_pa, network.density)
    smallest = min(plain, key=lambda each: each.total_m3s * min(1.0, each.loudest_limit / max(each.loudest_m_per_s, 1e-9)))
    taken = min(smallest.total_m3s * min(1.0, smallest.loudest_limit / max(smallest.loudest_m_per_s, 1e-9)), blower)
    mixed = bypass_mixing(blower, taken, air.supply_c, air.return_c)
    course = bypass_course(mixed.bypass_m3s / blower, air.supply_c, air.return_c, air.limit_c)
    coil = blower / limits.least_flow_m3s if limits.least_flow_m3s else None
    stops = course.minutes_to_limit is not None
    badness = max(FINE, 1.0 / coil if coil else 0.0) if not stops else FINE + mixed.bypass_m3s / blower
    return Option("bypass", (), badness, smallest, course.capacity_lost, mixed, course)


def flow_at(mover: AirMover, pressure_pa: float, density: float) -> float:
    """The blower's flow where it works against this pressure [m³/s].

    >>> round(flow_at(AirMover(Blower(((0.2, 300.0), (0.6, 0.0))), 100.0, 0.5), 150.0, 1.204), 3)
    0.4
    """
    low, high = 0.0, mover.blower.most_m3s
    for _ in range(60):
        middle = (low + high) / 2.0
        if mover.blower.pressure(middle, density) > pressure_pa:
            low = middle
        else:
            high = middle
    return (low + high) / 2.0

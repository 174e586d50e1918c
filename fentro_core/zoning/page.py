"""The pages of the zones, from a visit's logbook: rooms grouped, every combination, both schools, the hardware sheet."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache

from fentro_core.air.constants import dry_heat_per_m3
from fentro_core.airflow.ways import Airflow
from fentro_core.base.quantity import Quantity
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.ducts.balance import distance_m
from fentro_core.ducts.blower import AirMover
from fentro_core.ducts.plan_page import LEAST_COIL_M3S_PER_W
from fentro_core.ducts.results import flow, pressure
from fentro_core.ducts.solve import Network
from fentro_core.ducts.state import Factors, readings_of, state_of
from fentro_core.ducts.walked import SUPPLY_AIR_C
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.ducts import DuctTree
from fentro_core.system.nameplate import CoolingNameplate
from fentro_core.system.zones import ZoneHardware
from fentro_core.zoning.combinations import Combination, Limits, every_combination
from fentro_core.zoning.entries import ZoneOverride, ZoneTimetable
from fentro_core.zoning.hardware import hardware_sheet
from fentro_core.zoning.options import FINE, Air, Option, options
from fentro_core.zoning.proof.judging import Limits as ProofLimits
from fentro_core.zoning.proving import proof_of
from fentro_core.zoning.results import CombinationLine, OptionLine, RoomAir, ZoneLine, ZoneRoom, ZoningPage

LIMIT_C = {"cooling": 5.0, "heating": 65.0}
"""Supply temperature at which a unit is ordinarily stopped [°C]; the maker's own goes before."""

RETURN_C = {"cooling": 24.0, "heating": 20.0}
WATCH = 0.9
"""Badness from here on is near a limit."""

NAMES = {
    "as_is": "As drawn, nothing added",
    "least_open": "Shut dampers keep a fifth open",
    "merge": "Two zones made one",
    "dump": "One zone takes what is left",
    "turn_down": "Blower turned down while few call",
    "bypass": "Bypass with a weighted damper",
}


def zoning_page(visit: VisitContext, airflow: Airflow | None) -> ZoningPage:
    """Everything of the zones of a visit.

    Raises
    ------
    Refused
        The system has no ducts of this kind.
    """
    if not isinstance(visit.snapshot.system.nameplate, CoolingNameplate):
        raise Refused("This kind of system has no duct tree.")
    state = state_of(visit, airflow)
    tree = state.present
    given = tree.board or ZoneHardware()
    zone_of = {room: zone.id for zone in tree.zones for room in zone.rooms}
    rooms = tuple(ZoneRoom(branch.id, branch.called, zone_of.get(branch.id, "")) for branch in tree.branches)
    sheet = hardware_sheet(tree, given, distance_m(tree)) if tree.zones else None
    at_proof = ProofLimits(
        visit.snapshot.system.nameplate.max_external_static_pa,
        given.supply_v,
        supply_limit(given, state.season),
        state.season == "cooling",
    )
    plain = ZoningPage(
        rooms,
        tuple(_zone(visit, tree, at, ()) for at in range(len(tree.zones))),
        hardware=sheet,
        given=given,
        proof=proof_of(visit, tree, given, at_proof),
    )
    if state.now is None or not tree.zones:
        return _with(plain, trouble=state.trouble)
    empty = [zone.name for zone in tree.zones if not zone.rooms]
    if empty:
        return _with(plain, trouble=Sentence.of(f"{'; '.join(empty)}: put a room into this zone."))
    limits = _limits(visit, state.season, state.density)
    factors = tuple(sorted(state.now.values.items()))
    handles = tuple(sorted(state.now.handles.items()))
    try:
        found = _combined(tree, state.now.mover, state.density, factors, handles, state.leak, limits)
        measures = _measures(
            tree,
            state.now.mover,
            state.density,
            factors,
            handles,
            state.leak,
            limits,
            _air(visit, state.season, given),
            _costs(given),
        )
    except Refused as refused:
        return _with(plain, trouble=refused.sentence)
    return ZoningPage(
        rooms,
        tuple(_zone(visit, tree, at, found) for at in range(len(tree.zones))),
        tuple(_combination(tree, each) for each in found),
        tuple(_option(tree, each, measures[0]) for each in measures),
        _proposal(measures[0], given),
        tuple(_limit_words(limits)),
        None,
        sheet,
        given,
        proof_of(visit, tree, given, at_proof, found),
    )


def _with(page: ZoningPage, trouble: Sentence | None) -> ZoningPage:
    return ZoningPage(page.rooms, page.zones, hardware=page.hardware, given=page.given, proof=page.proof, trouble=trouble)


def _zone(visit: VisitContext, tree: DuctTree, at: int, found: tuple[Combination, ...]) -> ZoneLine:
    zone = tree.zones[at]
    alone = next((each for each in found if each.calling == (zone.id,)), None)
    weeks = [body for _, body in visit.entries_of(ZoneTimetable) if body.zone == zone.id]
    return ZoneLine(
        zone,
        flow(sum(alone.flows[room] for room in zone.rooms)) if alone else None,
        weeks[-1].slots if weeks else (),
        tuple(body for _, body in visit.entries_of(ZoneOverride) if body.zone == zone.id),
    )


def _limits(visit: VisitContext, season: str, density: float) -> Limits:
    """Of the unit: the nameplate's static; the coil's least flow, or what keeps a heater within its rise."""
    plate = visit.snapshot.system.nameplate
    assert isinstance(plate, CoolingNameplate)
    least = plate.rated_total_w * LEAST_COIL_M3S_PER_W if plate.rated_total_w and season == "cooling" else None
    rise = plate.rise_ends_k[1]
    if season == "heating" and plate.gas_input_w and rise:
        heat = plate.gas_input_w * (plate.gas_efficiency or 0.8)
        least = heat / (dry_heat_per_m3(RETURN_C["heating"], visit.pressure_pa) * rise)
    return Limits(plate.max_external_static_pa, least)


def _limit_words(limits: Limits) -> Iterator[Sentence]:
    if limits.most_static_pa:
        yield Sentence.of("External static: at most {most}, by the nameplate.", most=(limits.most_static_pa, "pressure"))
    else:
        yield Sentence.of("External static: the nameplate says no most, so it is not judged.")
    if limits.least_flow_m3s:
        yield Sentence.of("Air over coil or heat exchanger: at least {least}.", least=(limits.least_flow_m3s, "airflow"))
    else:
        yield Sentence.of("The least airflow of coil or heat exchanger is not known: it is not judged.")


def supply_limit(given: ZoneHardware, season: str) -> float:
    """Supply air at which the unit is stopped [°C]: as noted, else as is ordinary."""
    return given.supply_limit_c if given.supply_limit_c is not None else LIMIT_C[season]


def _air(visit: VisitContext, season: str, given: ZoneHardware) -> Air:
    """Supply and return as read, ordinary where they were not."""
    readings = readings_of(visit, ("dry_bulb",))
    supply, return_ = readings.average("supply", "dry_bulb"), readings.average("return", "dry_bulb")
    both = supply is not None and return_ is not None and (supply.value < return_.value) == (season == "cooling")
    limit = supply_limit(given, season)
    if both and supply and return_:
        return Air(supply.value, return_.value, limit)
    return Air(SUPPLY_AIR_C[season], RETURN_C[season], limit)


def _costs(given: ZoneHardware) -> Factors:
    return tuple(sorted((given.costs or {}).items()))


@lru_cache(maxsize=16)
def _combined(
    tree: DuctTree, mover: AirMover, density: float, factors: Factors, handles: Factors, leak: float, limits: Limits
) -> tuple[Combination, ...]:
    return every_combination(Network(tree, density, dict(factors), leak, dict(handles)), mover, tree.zones, limits)


@lru_cache(maxsize=16)
def _measures(
    tree: DuctTree,
    mover: AirMover,
    density: float,
    factors: Factors,
    handles: Factors,
    leak: float,
    limits: Limits,
    air: Air,
    costs: Factors,
) -> tuple[Option, ...]:
    plain = _combined(tree, mover, density, factors, handles, leak, limits)
    return options(tree, density, dict(factors), leak, mover, limits, air, dict(costs), plain, dict(handles))


def _mark(badness: float) -> Mark:
    return "off" if badness > FINE else "watch" if badness > WATCH else "holds"


def _combination(tree: DuctTree, each: Combination) -> CombinationLine:
    names = {zone.id: zone.name for zone in tree.zones}
    rooms = {branch.id: branch.called for branch in tree.branches}
    return CombinationLine(
        each.calling,
        tuple(names[zone] for zone in each.calling),
        flow(each.total_m3s),
        pressure(each.external_pa),
        Quantity(each.coil_share, 0.0, "share") if each.coil_share is not None else None,
        rooms.get(each.loudest, ""),
        Quantity(each.loudest_m_per_s, 0.0, "velocity"),
        Quantity(each.loudest_limit, 0.0, "velocity"),
        each.beyond_table,
        _mark(each.badness),
        _worst_words(each, rooms),
        tuple(RoomAir(branch, flow(value)) for branch, value in each.flows.items()),
    )


def _worst_words(each: Combination, rooms: dict[str, str]) -> Sentence:
    """What is worst about a combination."""
    speed = each.loudest_m_per_s / each.loudest_limit
    coil = 1.0 / each.coil_share if each.coil_share else 0.0
    if each.badness <= FINE:
        return Sentence.of("Within all limits.")
    if coil >= each.badness:
        return Sentence.of("Too little air over the coil: {share} of the least.", share=(each.coil_share or 0.0, "share"))
    if speed >= each.badness:
        words = f"{rooms.get(each.loudest, 'A branch')}: loud, {{speed}} over {{limit}}."
        return Sentence.of(words, speed=(each.loudest_m_per_s, "velocity"), limit=(each.loudest_limit, "velocity"))
    return Sentence.of("The blower works against {static}: too much.", static=(each.external_pa, "pressure"))


def _option(tree: DuctTree, each: Option, best: Option) -> OptionLine:
    rooms = {branch.id: branch.called for branch in tree.branches}
    worst = each.worst
    mixed, course = each.mixed, each.course
    return OptionLine(
        each.key,
        f"{NAMES[each.key]}: {' and '.join(each.names)}" if each.names else NAMES[each.key],
        _option_words(each, rooms),
        "off" if not each.fine else _mark(each.badness),
        pressure(worst.external_pa),
        Quantity(worst.coil_share, 0.0, "share") if worst.coil_share is not None else None,
        Quantity(worst.loudest_m_per_s, 0.0, "velocity"),
        Quantity(each.capacity_lost, 0.0, "share") if mixed else None,
        flow(mixed.bypass_m3s) if mixed else None,
        Quantity(mixed.bypass_diameter_m, 0.0, "depth") if mixed else None,
        Quantity(course.mixed_return_end_c, 0.0, "temperature") if course else None,
        Quantity(course.supply_end_c, 0.0, "temperature") if course else None,
        each.cost,
        each is best,
    )


def _option_words(each: Option, rooms: dict[str, str]) -> Sentence:
    if each.key != "bypass" or each.mixed is None or each.course is None:
        return _worst_words(each.worst, rooms)
    numbers = {"flow": (each.mixed.bypass_m3s, "airflow"), "end": (each.course.supply_end_c, "temperature")}
    if each.course.minutes_to_limit is not None:
        minutes = (each.course.minutes_to_limit * 60.0, "duration")
        words = "{flow} goes round; the supply reaches its limit after {minutes}, and the unit stops."
        return Sentence.of(words, **numbers, minutes=minutes)
    lost = (each.capacity_lost, "share")
    return Sentence.of("{flow} goes round; the supply ends at {end}, and {lost} of the capacity is lost.", **numbers, lost=lost)


def _proposal(best: Option, given: ZoneHardware) -> Sentence:
    """What to do, and why."""
    name = NAMES[best.key].lower()
    if best.key == "as_is" and best.fine:
        return Sentence.of("Every combination is within limits as drawn: nothing to add.")
    if not best.fine:
        words = "No single measure brings every combination within limits. Larger zones, larger branches, or fewer of them."
        return Sentence.of(f"{words} The mildest: {name}.")
    if best.key == "bypass":
        return Sentence.of("Only a bypass brings it within limits. Give it a supply temperature limit of its own.")
    return Sentence.of(f"Without a bypass: {name}. It holds all limits and loses no capacity.")

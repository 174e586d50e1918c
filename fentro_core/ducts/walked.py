"""The ducts of a visit from its logbook: the tree as walked, what drives the air, and what was read between turns of handles."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from fentro_core.air.constants import GAS_CONSTANT, KELVIN, STANDARD_DENSITY
from fentro_core.airflow.ways import Airflow
from fentro_core.base.measured import Measured
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.ducts.blower import AirMover, Blower, blower_of
from fentro_core.ducts.calibrate import DuctReading, Positions, Round, What
from fentro_core.ducts.design import Season
from fentro_core.ducts.entries import BalanceSeason, DamperTurned, DuctsTaken, DuctUnit, PieceGone, ZoneGone
from fentro_core.logbook.entries import Reading
from fentro_core.logbook.entry import Entry
from fentro_core.phase.readings import Readings
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.ducts import DuctTree, RoomBranch, Trunk
from fentro_core.system.stations import register_station
from fentro_core.system.zones import Zone, ZoneHardware

SUPPLY_AIR_C = {"cooling": 14.0, "heating": 45.0}
"""Of the air in the ducts where the supply was not read [°C]."""

ORDINARY_DROP_PA = 110.0
"""Return duct, filter and coil of an ordinary unit at its rated flow, until it is read [Pa]. Ours."""

HOOD_SHARE = 0.05
"""A flow at a register is no better known than this (95 %), whatever its instrument says: how the hood sits. Ours."""


def tree_of(visit: VisitContext) -> DuctTree:
    """The tree: as kept with the system, and what this visit says of it, in the order it was said."""
    return laid_over(visit.snapshot.system.nameplate.duct_tree or DuctTree(), visit.others)


def laid_over(tree: DuctTree, entries: Iterable[Entry]) -> DuctTree:
    """A tree with what standing entries say of it, in their order. Laid over what it made once, it makes the same again."""
    for entry in entries:
        match entry.body:
            case Trunk() | RoomBranch():
                tree = tree.with_(entry.body)
            case PieceGone(piece):
                tree = tree.without(piece)
            case DuctsTaken(taken):
                tree = replace(taken, board=tree.board)
            case Zone():
                tree = tree.with_zone(entry.body)
            case ZoneHardware():
                tree = replace(tree, board=entry.body)
            case ZoneGone(zone):
                tree = tree.without_zone(zone)
            case _:
                pass
    return tree


@dataclass(frozen=True)
class Moved:
    """What moves the air, and how that is known. `trouble`: why it is not."""

    mover: AirMover | None
    blower_by: Sentence
    return_by: Sentence
    trouble: Sentence | None = None


def season_of(visit: VisitContext, mode: str = "") -> Season:
    """As said on the visit; else as the unit runs; else cooling."""
    said = visit.last_of(BalanceSeason)
    return said.season if said else "heating" if mode == "heating" else "cooling"


def density_of(visit: VisitContext, season: Season) -> float:
    """Of the air in the ducts [kg/m³], at the site's pressure."""
    return visit.pressure_pa / (GAS_CONSTANT * (SUPPLY_AIR_C[season] + KELVIN))


def mover_of(visit: VisitContext, readings: Readings, airflow: Airflow | None, density: float) -> Moved:
    """Blower and return side: what was said goes before what follows from readings, that before what is ordinary."""
    unit = visit.last_of(DuctUnit) or DuctUnit()
    measured = airflow.measured.flow.value if airflow and airflow.measured else None
    try:
        blower, blower_by = _blower(visit, unit, measured)
    except Refused as refused:
        return Moved(None, refused.sentence, Sentence.of(""), refused.sentence)
    mover, return_by = _beside(visit, unit, blower, readings, measured, density)
    return Moved(mover, blower_by, return_by)


def _blower(visit: VisitContext, unit: DuctUnit, measured: float | None) -> tuple[Blower, Sentence]:
    """The blower, and how it is known; refused where nothing tells it."""
    plate = visit.snapshot.system.nameplate
    if unit.held_m3s:
        words = "The blower holds {flow}, as noted."
        return Blower(held_m3s=unit.held_m3s), Sentence.of(words, flow=(unit.held_m3s, "airflow"))
    table = getattr(plate, "fan_table", ())
    if table:
        tap = unit.tap or visit.item("fan_tap", "as_left") or table[0].tap
        return blower_of(table, tap), Sentence.of(f"The blower by the nameplate's fan table, tap {tap}.")
    rated = getattr(plate, "rated_airflow_m3s", None)
    flow = measured or rated
    if not flow:
        raise Refused("What moves the air is not known: give the blower's flow, or its table on the nameplate.")
    how = "measured" if measured else "on the nameplate"
    words = f"No fan table: the flow is held at what is {how}, {{flow}}."
    return Blower(held_m3s=flow), Sentence.of(words, flow=(flow, "airflow"))


def _beside(
    visit: VisitContext, unit: DuctUnit, blower: Blower, readings: Readings, measured: float | None, density: float
) -> tuple[AirMover, Sentence]:
    """What stands besides the supply ducts: as noted, by statics, or ordinary."""
    beside = _besides_ducts(visit, readings)
    if unit.drop_pa and unit.at_m3s:
        drop, at, words = unit.drop_pa, unit.at_m3s, "Return side, filter and coil: {drop} at {flow}, as noted."
    elif beside is not None and measured:
        drop, at = beside * STANDARD_DENSITY / density, measured
        words = "Return side and coil: {drop} at {flow}, by the statics read."
    else:
        rated = getattr(visit.snapshot.system.nameplate, "rated_airflow_m3s", None)
        drop, at = ORDINARY_DROP_PA, rated or blower.held_m3s or blower.most_m3s * 0.75
        words = "Return side, filter and coil: an ordinary {drop} at {flow} until statics are read."
    return AirMover(blower, drop, at), Sentence.of(words, drop=(drop, "pressure"), flow=(at, "airflow"))


def _besides_ducts(visit: VisitContext, readings: Readings) -> float | None:
    """External static less the pressure in the supply plenum [Pa]; None where a tap was not read."""
    external, plenum = external_of(visit, readings), plenum_of(visit, readings)
    if external is None or plenum is None:
        return None
    beside = external.value - plenum.value
    return beside if beside > 0 else None


def external_of(visit: VisitContext, readings: Readings) -> Measured | None:
    """Total external static, from its two taps."""
    taps = visit.path.external_taps
    if len(taps) != 2:
        return None
    return_, supply = (readings.average(tap, "static_pressure") for tap in taps)
    return supply - return_ if supply and return_ else None


def plenum_tap(visit: VisitContext) -> str:
    """The tap in the supply duct after everything that stands in the unit; "" where there is none."""
    path = visit.path
    if path.coil_taps and path.coil_taps[:1] == ("supply_static",):
        return path.coil_taps[-1]
    return path.external_taps[-1] if path.external_taps else ""


def plenum_of(visit: VisitContext, readings: Readings) -> Measured | None:
    """Static pressure in the supply plenum."""
    tap = plenum_tap(visit)
    return readings.average(tap, "static_pressure") if tap else None


def rounds_of(visit: VisitContext, tree: DuctTree, airflow: Airflow | None) -> tuple[Round, ...]:
    """What was read between two turns of a handle, the latest of each place."""
    stations = {register_station(branch.branch).id: branch.id for branch in tree.branches}
    turned: dict[str, tuple[float, float]] = {}
    for _, body in visit.entries_of(DamperTurned):
        turned.setdefault(body.branch, (body.was_deg, body.was_open))
    rounds: list[Round] = []
    read: dict[tuple[str, str, int], Entry] = {}
    wanted = {*stations, plenum_tap(visit), *visit.path.external_taps}
    quantities = {"airflow", "static_pressure"}
    # Without a turn there is one round: the latest of each place, and nothing to be walked through.
    for entry in visit.standing if turned else visit.latest.values():
        body = entry.body
        if isinstance(body, Reading):
            if body.station in wanted and body.quantity in quantities:
                read[body.station, body.quantity, body.point] = entry
        elif isinstance(body, DamperTurned):
            if read:
                rounds.append(Round(_readings(visit, stations, read.values()), _places(turned)))
                read = {}
            turned[body.branch] = (body.damper_deg, body.register_open)
    readings = _readings(visit, stations, read.values())
    measured = airflow.apart_from_ducts if airflow else None
    if measured:
        flow = measured.flow
        total = DuctReading("total", flow.value, max(flow.plus_minus / flow.value, 0.02))
        if rounds:
            rounds[0] = Round((*rounds[0].readings, total), rounds[0].turned)
        else:
            readings = (*readings, total)
    rounds.append(Round(readings, _places(turned)))
    return tuple(rounds)


def _places(turned: dict[str, tuple[float, float]]) -> Positions:
    return tuple((branch, angle, open_) for branch, (angle, open_) in turned.items())


def _readings(visit: VisitContext, stations: dict[str, str], entries: Iterable[Entry]) -> tuple[DuctReading, ...]:
    """Readings of one round as the ducts take them."""
    all_ = list(entries)
    if not all_:
        return ()
    snapshot = visit.snapshot
    readings = Readings("", all_, snapshot.instruments, visit.path.stations, visit.runs, visit.matches, visit.pressure_pa)
    found = []
    for station, branch in stations.items():
        flow = readings.average(station, "airflow")
        if flow and flow.value > 0:
            by = readings.at(station, "airflow")[0].instrument
            share = max(flow.plus_minus / flow.value, HOOD_SHARE)
            found.append(DuctReading("register", flow.value, share, branch, by.id if by else "hood"))
    plenum, external = plenum_of(visit, readings), external_of(visit, readings)
    at_unit: tuple[tuple[What, Measured | None], ...] = (("plenum", plenum), ("external", external))
    for what, value in at_unit:
        if value and value.value > 0:
            share = max(value.plus_minus / value.value, 0.03)
            found.append(DuctReading(what, value.value, share))
    return tuple(found)

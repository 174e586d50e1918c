"""The pages of the ducts, from a visit's logbook: what was walked, how the air divides, why a room starves, the balance plan."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from fentro_core.airflow.ways import Airflow
from fentro_core.base.measured import Measured
from fentro_core.base.quantity import Quantity
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark, judge
from fentro_core.ducts.balance import Position, noisy
from fentro_core.ducts.calibrate import Calibrated, Factor, NextReading
from fentro_core.ducts.design import Design
from fentro_core.ducts.plan_page import plan_page
from fentro_core.ducts.results import (
    BranchLine,
    DuctPage,
    LossShare,
    NextLine,
    RemedyLine,
    TrunkLine,
    flow,
    pressure,
)
from fentro_core.ducts.starved import EASIER_REGISTER, LARGER_M, SHORTER, Remedy, way_losses
from fentro_core.ducts.state import DuctState, state_of
from fentro_core.ducts.survey import Survey
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.ducts import RoomBranch
from fentro_core.system.nameplate import CoolingNameplate
from fentro_core.system.stations import register_station

SHARE_LOW, SHARE_HIGH = 0.9, 1.1
"""A room with this much of its design gets what it should."""

NEXT_SHOWN = 3
WORTH_READING = 0.02
MOST_REMEDIES = 8

REMEDY_WORDS = {
    "stretch": "Pull the flexible duct straight",
    "open_damper": "Open its damper fully",
    "open_register": "Open its register fully",
    "register": "A register that loses half as much",
    "larger": "One size larger",
    "shorter": "A run a quarter shorter",
}
assert (EASIER_REGISTER, SHORTER, LARGER_M) == (0.5, 0.75, 0.0254), "the words say these"

AT_UNIT = {
    "plenum": "Static pressure in the supply plenum",
    "total": "Total airflow at the unit",
    "external": "Total external static",
}

THERMOSTATS = {
    "heating": "Two thermostats on two floors: warm air rises through the stairwell. Set the lower floor {least} to {most} lower "
    "than the upper one, so that the upper floor does not idle while the lower one heats both.",
    "cooling": "Two thermostats on two floors: cool air sinks through the stairwell. Set the upper floor {least} to {most} "
    "higher than it is wanted at the lower one, so that it is not cooled twice.",
}
OFFSET_K = (1.0 / 1.8, 3.0 / 1.8)


def ducts_page(visit: VisitContext, airflow: Airflow | None) -> DuctPage:
    """Everything of the ducts of a visit; `airflow`: as the visit knows it apart from them.

    Raises
    ------
    Refused
        The system has no ducts of this kind.
    """
    if not isinstance(visit.snapshot.system.nameplate, CoolingNameplate):
        raise Refused("This kind of system has no duct tree.")
    state = state_of(visit, airflow)
    found, tree = state.now, state.tree
    said = visit.snapshot.system.nameplate.duct_tree
    return DuctPage(
        season=state.season,
        trunks=tuple(_trunks(state)),
        branches=tuple(_branches(visit, state)),
        troubles=tree.troubles(),
        blower=state.moved.blower_by,
        return_side=state.moved.return_by,
        trouble=state.trouble,
        unit=state.unit,
        total=flow(found.flows.total_m3s) if found else None,
        plenum=pressure(found.flows.plenum_pa) if found else None,
        external=pressure(found.flows.blower_pa) if found and found.mover.blower.points else None,
        lost=flow(found.flows.lost_m3s) if found and state.leak else None,
        beyond_table=bool(found and found.flows.beyond_table),
        next=tuple(_next(state)),
        plan=plan_page(visit, state),
        notes=tuple(_notes(visit, state)),
        thermostats=_thermostats(state),
        from_earlier=bool(said and tree == said),
        density=Quantity(state.density, 0.0, "density"),
    )


def _speed(value: float) -> Quantity:
    return Quantity(value, 0.0, "velocity")


def _trunks(state: DuctState) -> Iterator[TrunkLine]:
    loud = {each.piece for each in noisy(state.tree, state.now.flows)} if state.now else set()
    for trunk in state.tree.trunks:
        if state.now is None:
            yield TrunkLine(trunk)
            continue
        said = state.now.flows.pieces[trunk.id]
        yield TrunkLine(
            trunk, flow(said.airflow_m3s), _speed(said.velocity_m_per_s), pressure(said.pressure_pa), trunk.id in loud
        )


def _branches(visit: VisitContext, state: DuctState) -> Iterator[BranchLine]:
    design, found = state.design, state.now
    loud = {each.piece for each in noisy(state.tree, found.flows)} if found else set()
    rooms = Survey(visit, state.tree)
    starved = _starved(state, design)
    present = {branch.id: Position(branch.damper_deg, branch.register_open) for branch in state.present.branches}
    measured = {each.branch: each for each in (state.rounds[-1].readings if state.rounds else ()) if each.what == "register"}
    read = {each.branch for round_ in state.rounds for each in round_.readings if each.what == "register"}
    for branch in state.tree.branches:
        station = register_station(branch.branch).id
        reading = measured.get(branch.id)
        line = BranchLine(
            branch,
            station,
            present[branch.id],
            measured=Quantity(reading.value, reading.value * reading.share, "airflow") if reading else None,
            read=branch.id in read,
            room=rooms.room(branch.id),
            deviation=rooms.deviation(branch.id),
            drifts=rooms.drift(branch),
        )
        if found is None or state.found is None:
            yield line
            continue
        said, width, factor = found.flows.pieces[branch.id], found.half_widths[branch.id], found.factors[branch.id]
        share = _share(found, design, branch)
        face = branch.face_area_m2
        yield replace(
            line,
            airflow=flow(said.airflow_m3s, width),
            was=flow(state.found.flows.flow(branch.id), state.found.half_widths[branch.id]),
            design=flow(design.flows[branch.id]) if design and design.by else None,
            share=Quantity(share.value, share.plus_minus, "share") if share else None,
            share_before=_quantity_share(_share(state.found, design, branch)),
            velocity=_speed(said.velocity_m_per_s),
            face_velocity=_speed(said.airflow_m3s / face) if face else None,
            pressure=pressure(said.pressure_pa),
            factor=factor.value,
            factor_low=factor.low,
            factor_high=factor.high,
            mark=_mark(share),
            finding=finding(branch, factor),
            losses=tuple(_losses(state, found, branch)),
            remedies=tuple(_remedies(state, design, branch)) if branch.id in starved else (),
            loud=branch.id in loud,
        )


def _share(found: Calibrated, design: Design | None, branch: RoomBranch) -> Measured | None:
    if design is None or not design.by:
        return None
    share = found.flows.flow(branch.id) / design.flows[branch.id]
    return Measured(share, {"ducts": share * found.half_widths[branch.id]})


def _quantity_share(share: Measured | None) -> Quantity | None:
    return Quantity(share.value, share.plus_minus, "share") if share else None


def _mark(share: Measured | None) -> Mark:
    return judge(share, SHARE_LOW, SHARE_HIGH).mark if share else "not_measured"


def _starved(state: DuctState, design: Design | None) -> set[str]:
    """Rooms with too little, the worst few."""
    found = state.now
    if found is None or design is None or not design.by:
        return set()
    shares = {branch: found.flows.flow(branch) / flow for branch, flow in design.flows.items()}
    low = sorted((share, branch) for branch, share in shares.items() if share < SHARE_LOW)
    return {branch for _, branch in low[:MOST_REMEDIES]}


LOOK = {
    "more": "crushed or kinked, an open joint on the way, a closed damper, or not what was drawn",
    "less": "a larger or shorter duct than drawn, fewer bends, a register without its core",
}


def far_from_drawn(branch: RoomBranch, factor: Factor) -> Sentence | None:
    """What a branch loses that surely is not what was drawn."""
    if not factor.far:
        return None
    only = "only " if factor.far == "less" else ""
    times = f"{factor.value:.1f} times as much as drawn ({factor.low:.1f} to {factor.high:.1f})"
    return Sentence.of(f"{branch.called} loses {only}{times}.")


def finding(branch: RoomBranch, factor: Factor) -> Sentence | None:
    """The same, with what to look for."""
    said = far_from_drawn(branch, factor)
    return Sentence(f"{said.text} Look before you trim: {LOOK[factor.far]}.", said.numbers) if said else None


def _losses(state: DuctState, found: Calibrated, branch: RoomBranch) -> Iterator[LossShare]:
    way = way_losses(state.tree, found.flows, branch)
    whole = found.flows.plenum_pa or 1.0
    named = (
        ("Trunks before it", way.trunk_pa),
        ("Length", way.friction_pa),
        ("Fittings", way.fittings_pa),
        ("Damper", way.damper_pa),
        ("Register", way.register_pa),
    )
    for name, loss in named:
        yield LossShare(name, pressure(loss), loss / whole)


def _remedies(state: DuctState, design: Design | None, branch: RoomBranch) -> Iterator[RemedyLine]:
    wanted = design.flows[branch.id] if design and design.by else None
    for remedy in state.remedies(branch):
        share = Quantity(remedy.airflow_m3s / wanted, 0.0, "share") if wanted else None
        yield RemedyLine(_remedy_words(branch, remedy), flow(remedy.airflow_m3s), share)


def _remedy_words(branch: RoomBranch, remedy: Remedy) -> Sentence:
    words = REMEDY_WORDS[remedy.key]
    if remedy.key == "larger" and branch.diameter_m:
        return Sentence.of(
            f"{words}: {{size}} instead of {{now}}.",
            size=(branch.diameter_m + LARGER_M, "depth"),
            now=(branch.diameter_m, "depth"),
        )
    return Sentence.of(f"{words}.")


def _next(state: DuctState) -> Iterator[NextLine]:
    if state.now is None:
        return
    branches = {branch.id: branch for branch in state.tree.branches}
    for reading in state.now.next_readings[:NEXT_SHOWN]:
        if reading.takes_away < WORTH_READING:
            return
        yield _next_line(reading, branches.get(reading.branch))


def _next_line(reading: NextReading, branch: RoomBranch | None) -> NextLine:
    name = f"Register: {branch.called}" if branch else AT_UNIT[reading.what]
    sentence = Sentence.of("It takes away {share} of the doubt that is left.", share=(reading.takes_away, "share"))
    return NextLine(register_station(branch.branch).id if branch else "", name, sentence)


def _notes(visit: VisitContext, state: DuctState) -> Iterator[Sentence]:
    """What the flows say by themselves."""
    found = state.now
    if found is None:
        return
    if found.flows.beyond_table:
        yield Sentence.of("This flow lies beyond the blower's table: its last slope was carried on.")
    if not found.settled:
        yield Sentence.of(
            "Readings and drawing could not be fully reconciled: check the largest trunks, and the readings that seem odd."
        )
    most = getattr(visit.snapshot.system.nameplate, "max_external_static_pa", None)
    if most and found.mover.blower.points and found.flows.blower_pa > most:
        words = "The blower works against {static}, over the nameplate's {most}."
        yield Sentence.of(words, static=(found.flows.blower_pa, "pressure"), most=(most, "pressure"))


def _thermostats(state: DuctState) -> Sentence | None:
    floors = {branch.floor.strip().lower() for branch in state.tree.branches if branch.floor.strip()}
    if len(floors) < 2:
        return None
    least, most = OFFSET_K
    kind = "temperature_difference"
    return Sentence.of(THERMOSTATS[state.season], least=(least, kind), most=(most, kind))

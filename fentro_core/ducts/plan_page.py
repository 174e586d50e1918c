"""The balance plan as it is shown: handles in order, where each room ends, what the plan can't do."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.ducts.balance import NEAR_SHARE, BalancePlan, Position, by_of
from fentro_core.ducts.design import DESIGN_WORDS
from fentro_core.ducts.results import PlannedBranch, PlanPage, TurnLine, flow, pressure
from fentro_core.ducts.state import DuctState
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.ducts import RoomBranch

LEAST_COIL_M3S_PER_W = 4.7e-5
"""350 cfm a ton: less air than this over a cooling coil, and it freezes."""


def plan_page(visit: VisitContext, state: DuctState) -> PlanPage | None:
    design = state.design
    if design is None or state.now is None:
        return None
    plan = state.plan()
    read = sum(1 for each in state.rounds for reading in each.readings if reading.what == "register")
    if plan is None:
        return PlanPage(state.season, "", DESIGN_WORDS[""], design.lacking, read=read)
    widths = state.now.half_widths
    has_curve = bool(state.now.mover.blower.points)
    return PlanPage(
        state.season,
        design.by,
        DESIGN_WORDS[design.by],
        turns=tuple(
            TurnLine(
                turn.branch,
                turn.by,
                turn.was,
                turn.to,
                flow(turn.airflow_m3s, widths[turn.branch]),
                flow(turn.total_m3s),
                pressure(turn.plenum_pa),
            )
            for turn in plan.turns
        ),
        branches=tuple(
            PlannedBranch(
                branch,
                position,
                flow(plan.after.flow(branch), widths[branch]),
                Quantity(plan.shares_after[branch], plan.shares_after[branch] * widths[branch], "share"),
            )
            for branch, position in plan.positions.items()
        ),
        stays_open=plan.stays_open,
        share=Quantity(plan.exact_share, 0.0, "share"),
        total_before=flow(plan.before.total_m3s),
        total_after=flow(plan.after.total_m3s),
        external_before=pressure(plan.before.blower_pa) if has_curve else None,
        external_after=pressure(plan.after.blower_pa) if has_curve else None,
        notes=tuple(_plan_notes(visit, state, plan, read)),
        even=even([share for branch, share in plan.shares_before.items() if branch not in plan.left_out]),
        read=read,
    )


def mark_of(branch: RoomBranch, to: Position) -> str:
    """Where a branch's handle stands, in words."""
    if by_of(branch) == "damper":
        return f"damper {to.damper_deg:.0f}° from open" if to.damper_deg else "damper open"
    return f"register open by {to.register_open:.0%}".replace("%", " %") if to.register_open < 1 else "register open"


def even(shares: Iterable[float]) -> bool:
    """All shares lie within 5 % of their mean."""
    values = list(shares)
    middle = sum(values) / len(values)
    return all(abs(value / middle - 1.0) <= NEAR_SHARE for value in values)


def _plan_notes(visit: VisitContext, state: DuctState, plan: BalancePlan, read: int) -> Iterator[Sentence]:
    called = {branch.id: branch.called for branch in state.tree.branches}
    if read == 0:
        yield Sentence.of("Nothing was read at a register yet: this follows from the drawing alone. Read the registers first.")
    for left in sorted(plan.left_out, key=lambda each: called[each]):
        yield Sentence.of(f"{called[left]} is left out of this plan: look at its run first, then read it again.")
    for out in plan.out_of_reach:
        share = (out.share, "share")
        if out.which == "high":
            words = (
                f"{called[out.branch]} still gets {{share}} with its handle at a quarter: a second damper, or a smaller branch."
            )
        else:
            remedy = "A larger branch, a free return, a faster blower."
            words = f"{called[out.branch]} gets only {{share}}: no handle brings more. {remedy}"
        yield Sentence.of(words, share=share)
    for loud in plan.noisy:
        where = {"register": "at its register", "branch": "in its branch", "trunk": "in the trunk"}[loud.where]
        words = f"{called.get(loud.piece, 'Trunk')}: {{speed}} {where} will be heard, over {{limit}}."
        yield Sentence.of(words, speed=(loud.velocity_m_per_s, "velocity"), limit=(loud.limit_m_per_s, "velocity"))
    plate = visit.snapshot.system.nameplate
    most = getattr(plate, "max_external_static_pa", None)
    if most and plan.after.blower_pa > most and state.now and state.now.mover.blower.points:
        words = "The external static would be {static}, over the nameplate's {most}."
        yield Sentence.of(words, static=(plan.after.blower_pa, "pressure"), most=(most, "pressure"))
    cooling = getattr(plate, "rated_total_w", None)
    least = cooling * LEAST_COIL_M3S_PER_W if cooling else None
    if least and plan.after.total_m3s < least:
        words = "The coil would get {flow}, under the {least} that it needs not to freeze."
        yield Sentence.of(words, flow=(plan.after.total_m3s, "airflow"), least=(least, "airflow"))

"""The ducts: what they say among the verdicts. Their pages come by `ducts.page`."""

from __future__ import annotations

from collections.abc import Iterator

from fentro_core.airflow.ways import Airflow
from fentro_core.base.measured import Measured
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import judge
from fentro_core.ducts import asked, loss
from fentro_core.ducts.page import SHARE_HIGH, SHARE_LOW, finding
from fentro_core.ducts.state import DuctState, state_of
from fentro_core.ducts.walked import tree_of
from fentro_core.phase.context import PartContext
from fentro_core.phase.declaration import Part, PartResult
from fentro_core.phase.results import VerdictLine
from fentro_core.phase.verdicts import gravest
from fentro_core.system.nameplate import CoolingNameplate

MOST_LINES = 4
"""Rooms named among the verdicts, the worst first; the page shows all."""

MOST_BRANCHES = 60
"""A larger tree is worked out on its page alone: a reading is answered at once."""

Context = PartContext[CoolingNameplate]


def work(context: Context) -> PartResult:
    """Starved rooms and branches that are not as drawn, once registers were read."""
    if len(tree_of(context.visit).branches) > MOST_BRANCHES:
        return PartResult()
    state = state_of(context.visit, context.given("airflow", Airflow), context.phase)
    if state.now is None or not any(each.readings for each in state.rounds):
        return PartResult()
    lines = tuple(_lines(state))
    return PartResult(details=lines, mark=gravest(line.mark for line in lines))


def _lines(state: DuctState) -> Iterator[VerdictLine]:
    found, design = state.now, state.design
    assert found is not None
    measured = {reading.branch for each in state.rounds for reading in each.readings if reading.what == "register"}
    told: list[tuple[float, VerdictLine]] = []
    for branch in state.tree.branches:
        if branch.id not in measured:
            continue
        words = finding(branch, found.factors[branch.id])
        if words:
            told.append((0.0, VerdictLine(f"ducts:{branch.id}:drawn", "watch", words, opens="ducts")))
        if design and design.by:
            share = found.flows.flow(branch.id) / design.flows[branch.id]
            mark = judge(Measured(share, {"ducts": share * found.half_widths[branch.id]}), SHARE_LOW, SHARE_HIGH).mark
            if mark == "off" and share < SHARE_LOW:
                said = Sentence.of(f"{branch.called} gets {{share}} of its design airflow.", share=(share, "share"))
                told.append((share, VerdictLine(f"ducts:{branch.id}:share", "off", said, opens="ducts")))
    yield from (line for _, line in sorted(told, key=lambda each: each[0])[:MOST_LINES])


PART = Part(
    key="ducts",
    name="Ducts",
    work=work,
    needs=("airflow",),
    calculations=(loss, asked),
)

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
from fentro_core.phase.numbers import Followed, Number
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
    least = _least_share(state)
    if least is not None:
        context.note("least_room_share", least)
    lines = tuple(_lines(state))
    return PartResult(details=lines, mark=gravest(line.mark for line in lines))


def _measured(state: DuctState) -> set[str]:
    """Branches whose registers were read."""
    return {reading.branch for each in state.rounds for reading in each.readings if reading.what == "register"}


def _share(state: DuctState, branch: str) -> Measured | None:
    """What a branch gets of its design, where that is known."""
    found, design = state.now, state.design
    if found is None or not design or not design.by:
        return None
    share = found.flows.flow(branch) / design.flows[branch]
    return Measured(share, {"ducts": share * found.half_widths[branch]})


def _least_share(state: DuctState) -> Measured | None:
    """Of the room that is served worst, of those that were read."""
    shares = [share for branch in _measured(state) if (share := _share(state, branch)) is not None]
    return min(shares, key=lambda share: share.value, default=None)


def _lines(state: DuctState) -> Iterator[VerdictLine]:
    found = state.now
    assert found is not None
    measured = _measured(state)
    told: list[tuple[float, VerdictLine]] = []
    for branch in state.tree.branches:
        if branch.id not in measured:
            continue
        words = finding(branch, found.factors[branch.id])
        if words:
            told.append((0.0, VerdictLine(f"ducts:{branch.id}:drawn", "watch", words, opens="ducts")))
        share = _share(state, branch.id)
        if share is not None and share.value < SHARE_LOW and judge(share, SHARE_LOW, SHARE_HIGH).mark == "off":
            said = Sentence.of(f"{branch.called} gets {{share}} of its design airflow.", share=(share.value, "share"))
            told.append((share.value, VerdictLine(f"ducts:{branch.id}:share", "off", said, opens="ducts")))
    yield from (line for _, line in sorted(told, key=lambda each: each[0])[:MOST_LINES])


PART = Part(
    key="ducts",
    name="Ducts",
    work=work,
    needs=("airflow",),
    calculations=(loss, asked),
    numbers=(
        Number(
            key="least_room_share",
            kind="share",
            followed=Followed(
                name="Room served worst, share of design",
                worse="down",
                low=SHARE_LOW,
                says="A room gets less and less: a handle that moved, a run that sags, a register that was shut.",
            ),
        ),
    ),
)

"""The ducts: what they say among the verdicts. Their pages come by `ducts.page`."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from fentro_core.airflow.ways import Airflow
from fentro_core.base.measured import Measured
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import judge
from fentro_core.diagnosis.signs import Sign
from fentro_core.ducts import asked, loss
from fentro_core.ducts.calibrate import FAR_FROM_DRAWN, Factor
from fentro_core.ducts.causes import CAUSES
from fentro_core.ducts.page import SHARE_HIGH, SHARE_LOW, far_from_drawn, finding
from fentro_core.ducts.state import DuctState, state_of
from fentro_core.ducts.symptoms import SYMPTOMS
from fentro_core.ducts.walked import tree_of
from fentro_core.phase.context import PartContext
from fentro_core.phase.declaration import Part, PartResult
from fentro_core.phase.numbers import Followed, Number
from fentro_core.phase.results import VerdictLine
from fentro_core.phase.verdicts import gravest
from fentro_core.system.ducts import RoomBranch
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
    signs = (*_branch_signs(context, state), *_room_signs(context, state))
    return PartResult(details=lines, symptoms=signs, mark=gravest(line.mark for line in lines))


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


def _branch_signs(context: Context, state: DuctState) -> Iterator[Sign]:
    """The branch farthest from its drawing, of those that were read."""
    assert state.now is not None
    measured = _measured(state)
    read = [(branch, state.now.factors[branch.id]) for branch in state.tree.branches if branch.id in measured]
    if not read:
        return
    held = max((factor for _, factor in read), key=lambda factor: factor.value)
    context.note("most_branch_loss", Measured(held.value, {"ducts": (held.high - held.low) / 2}))
    branch, factor = max(read, key=lambda each: _farness(each[1]))
    words = far_from_drawn(branch, factor)
    for sign in context.sign("branch_loss", factor.far or "right"):
        yield replace(sign, words=words, place=branch.called) if words else sign


def _farness(factor: Factor) -> tuple[bool, bool, float]:
    """Too much goes before too little, and the farther before the nearer."""
    return factor.far == "more", factor.far == "less", max(factor.value, 1.0 / factor.value)


def _room_signs(context: Context, state: DuctState) -> Iterator[Sign]:
    """The room that is served worst, of those that were read."""
    measured = _measured(state)
    shares = [(share, branch) for branch in state.tree.branches if branch.id in measured and (share := _share(state, branch.id))]
    if not shares:
        return
    least, branch = min(shares, key=lambda each: each[0].value)
    context.note("least_room_share", least)
    for sign in context.judge("room_share", least, SHARE_LOW, None):
        yield replace(sign, words=served(branch, least), place=branch.called) if sign.state == "low" else sign


def served(branch: RoomBranch, share: Measured) -> Sentence:
    """What a room gets of its design."""
    return Sentence.of(f"{branch.called} gets {{share}} of its design airflow.", share=(share.value, "share"))


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
            told.append((share.value, VerdictLine(f"ducts:{branch.id}:share", "off", served(branch, share), opens="ducts")))
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
        Number(
            key="most_branch_loss",
            kind="ratio",
            followed=Followed(
                name="Branch held back most, times its drawn loss",
                worse="up",
                high=FAR_FROM_DRAWN,
                says="A branch is held back more and more: a run that sags, a damper that moved, a joint that opened.",
            ),
        ),
    ),
    symptoms=SYMPTOMS,
    causes=CAUSES,
    subjects={
        "ducts": "Air that each room gets",
    },
)

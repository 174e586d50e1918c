"""Causes in single branches of the ducts. The branch is named by the signs."""

from __future__ import annotations

from fentro_core.diagnosis.cause import Cause
from fentro_core.diagnosis.people import HEIGHT

CAUSES: tuple[Cause, ...] = (
    Cause(
        key="branch_held_back",
        name="Branch crushed, shut or not as drawn",
        area="Ducts",
        why="One branch loses far more than its length, fittings and damper explain.",
        do="Follow it from the trunk to its register: straighten it, open its damper, mend a joint. Only then balance.",
        shows={"branch_loss": {"more"}, "room_share": {"low", "right"}, "duct_crushed": {"yes"}, "worst_room_far": {"yes"}},
        proof="duct_crushed",
        apart="ducts",
        caution=HEIGHT,
    ),
    Cause(
        key="branch_too_small",
        name="Branch too small or too long for its room",
        area="Ducts",
        why="The branch is as drawn, and its room still gets too little: its size or length starves it, or others take its air.",
        do="See on the ducts' page what balancing gives it, and what a larger or shorter branch would.",
        shows={"room_share": {"low"}, "branch_loss": {"right", "less"}, "duct_crushed": {"no"}, "worst_room_far": {"yes"}},
        proof="duct_crushed",
        apart="ducts",
    ),
    Cause(
        key="branch_too_easy",
        name="Branch that takes more than drawn",
        area="Ducts",
        why="One branch loses far less than drawn: a larger duct, a missing damper or core, an open joint before the register.",
        do="Look for the open joint first; correct the drawing if the duct is larger; then trim it at its damper.",
        shows={"branch_loss": {"less"}, "room_share": {"low", "right"}, "worst_room_far": {"yes"}},
        proof="worst_room_far",
        apart="ducts",
        caution=HEIGHT,
        rare=True,
    ),
)

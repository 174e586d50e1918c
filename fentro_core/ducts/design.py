"""What each room should get: as it was designed, by the rooms' loads, or by floor area as a last resort; and limits of speed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from fentro_core.system.ducts import DuctTree, RoomBranch

Season = Literal["cooling", "heating"]
DesignBy = Literal["entered", "loads", "area", ""]

FACE_M_PER_S = 3.5
QUIET_FACE_M_PER_S = 2.5
BRANCH_M_PER_S = 4.5
TRUNK_M_PER_S = 6.0
"""Above these air is heard: at a register's face, at that of a quiet room, in a branch, in a trunk. The trade's usual limits."""


def face_limit(branch: RoomBranch) -> float:
    """Speed at the register's face above which the room hears it [m/s]."""
    return QUIET_FACE_M_PER_S if branch.quiet else FACE_M_PER_S


DESIGN_WORDS: Mapping[DesignBy, str] = {
    "entered": "as entered",
    "loads": "by the rooms' loads",
    "area": "by floor area, for want of anything better",
    "": "not known",
}


@dataclass(frozen=True)
class Design:
    """Flow of each branch as it should be [m³/s]; `by`: where it comes from; `lacking`: branches for which it is not known."""

    by: DesignBy
    flows: Mapping[str, float]
    lacking: tuple[str, ...] = ()


def entered(branch: RoomBranch, season: Season) -> float | None:
    """The design flow of a branch in a season; where only one is entered, it holds for both."""
    first, second = branch.cooling_design_m3s, branch.heating_design_m3s
    return (first or second) if season == "cooling" else (second or first)


def design_flows(tree: DuctTree, season: Season, total_m3s: float) -> Design:
    """The design of a season; shares of load or floor are shares of `total_m3s`.

    One way holds for all rooms: a share by load beside a flow by floor area would not add up.

    >>> tree = DuctTree(branches=(RoomBranch(id="1", room="A", diameter_m=0.15, length_m=4.0, floor_area_m2=20.0),
    ...                           RoomBranch(id="2", room="B", diameter_m=0.15, length_m=4.0, floor_area_m2=10.0)))
    >>> design_flows(tree, "cooling", 0.3).by, round(design_flows(tree, "cooling", 0.3).flows["1"], 3)
    ('area', 0.2)
    """
    ways: tuple[tuple[DesignBy, dict[str, float | None]], ...] = (
        ("entered", {branch.id: entered(branch, season) for branch in tree.branches}),
        ("loads", {branch.id: branch.room_load_w for branch in tree.branches}),
        ("area", {branch.id: branch.floor_area_m2 for branch in tree.branches}),
    )
    for by, given in ways:
        known = {branch: value for branch, value in given.items() if value}
        if known and len(known) == len(tree.branches):
            whole = sum(known.values())
            flows = known if by == "entered" else {branch: total_m3s * value / whole for branch, value in known.items()}
            return Design(by, flows)
    best = max(ways, key=lambda way: sum(1 for value in way[1].values() if value))
    lacking = tuple(branch.called for branch in tree.branches if not best[1][branch.id])
    return Design("", {}, lacking)

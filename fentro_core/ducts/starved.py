"""Why a room gets too little air: what its way loses by cause, and what each change would bring, through the whole tree."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from fentro_core.ducts.blower import AirMover
from fentro_core.ducts.solve import DuctFlows, Network
from fentro_core.system.ducts import DuctTree, RoomBranch

LARGER_M = 0.0254
"""The next usual size of a round duct; the height of a rectangular one grows by two of it."""

SHORTER = 0.75
EASIER_REGISTER = 0.5
WORTH_SHARE = 0.02
"""A change that brings less than this is not named."""

RemedyKey = Literal["stretch", "open_damper", "open_register", "register", "larger", "shorter"]


@dataclass(frozen=True)
class Remedy:
    """One change to a branch, and the flow it would have then [m³/s]."""

    key: RemedyKey
    airflow_m3s: float


@dataclass(frozen=True)
class WayLosses:
    """Where the plenum's pressure goes on the way to a room [Pa]: trunks before it, then in its own branch."""

    trunk_pa: float
    friction_pa: float
    fittings_pa: float
    damper_pa: float
    register_pa: float


def way_losses(tree: DuctTree, flows: DuctFlows, branch: RoomBranch) -> WayLosses:
    """By cause, on the way to a room."""
    own = flows.pieces[branch.id].losses
    at = flows.pieces[branch.after].pressure_pa if branch.after else flows.plenum_pa
    return WayLosses(flows.plenum_pa - at, own.friction_pa, own.fittings_pa, own.damper_pa, own.register_pa)


def remedies(
    tree: DuctTree,
    branch: RoomBranch,
    mover: AirMover,
    density: float,
    factors: Mapping[str, float],
    leak_at_25pa_m3s: float = 0.0,
) -> tuple[Remedy, ...]:
    """What each change would bring this branch, the most first; what brings nothing is left out."""

    def flow(changed: RoomBranch) -> float:
        network = Network(tree.with_(changed), density, factors, leak_at_25pa_m3s)
        return network.solve(mover, 1e-5).flow(branch.id)

    now = flow(branch)
    found = [Remedy(key, flow(changed)) for key, changed in _changes(branch)]
    worth = [each for each in found if each.airflow_m3s > now * (1.0 + WORTH_SHARE)]
    return tuple(sorted(worth, key=lambda each: -each.airflow_m3s))


def _changes(branch: RoomBranch) -> Iterator[tuple[RemedyKey, RoomBranch]]:
    if branch.compressed > 0.0:
        yield "stretch", replace(branch, compressed=0.0)
    if branch.damper_deg > 0.0:
        yield "open_damper", replace(branch, damper_deg=0.0)
    if branch.register_open < 1.0:
        yield "open_register", replace(branch, register_open=1.0)
    if branch.register_pa is not None:
        yield "register", replace(branch, register_pa=branch.register_pa * EASIER_REGISTER)
    if branch.diameter_m is not None:
        yield "larger", replace(branch, diameter_m=branch.diameter_m + LARGER_M)
    elif branch.height_m is not None:
        yield "larger", replace(branch, height_m=branch.height_m + 2 * LARGER_M)
    yield "shorter", replace(branch, length_m=branch.length_m * SHORTER)

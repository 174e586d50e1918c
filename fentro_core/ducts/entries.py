"""What is said of ducts on a visit: pieces while walking them, the blower, handles turned, rooms surveyed."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.fields import kind_of
from fentro_core.base.limits import within
from fentro_core.base.refusal import Refused, inside
from fentro_core.ducts.design import Season
from fentro_core.ducts.loss import check_fittings
from fentro_core.logbook.kinds import EntryKind, register
from fentro_core.system.ducts import LONGEST_WORDS, DuctTree, RoomBranch, Trunk
from fentro_core.system.zones import Zone, ZoneHardware

ROOM_C = (-20.0, 60.0)


@dataclass(frozen=True)
class PieceGone:
    """A piece that is not there after all; what left it leaves what it left."""

    id: str


@dataclass(frozen=True)
class ZoneGone:
    """A zone that is not to be: its rooms are in none."""

    id: str


@dataclass(frozen=True)
class DuctsTaken:
    """A whole tree in place of what was known: from a sister system, a file, or an earlier visit; `source` says which."""

    tree: DuctTree
    source: str = ""


@dataclass(frozen=True)
class DuctUnit:
    """What drives the air: the blower's speed tap, or the flow that it holds; what stands besides the supply ducts.

    Attributes
    ----------
    tap
        Of the nameplate's fan table; "" the one seen on the visit.
    held_m3s
        Flow of a constant-airflow blower [m³/s]; it goes before the table.
    drop_pa, at_m3s
        Return side, filter and coil together: their drop at a flow, where statics don't tell it.
    leak_at_25pa_m3s
        Supply ducts' leak to outside at 25 Pa [m³/s].
    """

    tap: str = ""
    held_m3s: float | None = None
    drop_pa: float | None = None
    at_m3s: float | None = None
    leak_at_25pa_m3s: float | None = None


@dataclass(frozen=True)
class DamperTurned:
    """A handle turned: where the branch's damper [° from open] and its register [share open] stand now, and where they stood."""

    branch: str
    damper_deg: float = 0.0
    register_open: float = 1.0
    was_deg: float = 0.0
    was_open: float = 1.0


@dataclass(frozen=True)
class RoomSurveyed:
    """The air of a room after the unit has run its time [°C], of what its thermostat or the whole house should have."""

    branch: str
    room_c: float
    wanted_c: float | None = None


@dataclass(frozen=True)
class BalanceSeason:
    """The season the plan is for."""

    season: Season


_MOST = {"held_m3s": 20.0, "drop_pa": 2500.0, "at_m3s": 20.0, "leak_at_25pa_m3s": 5.0}


def _check_piece(body: Trunk | RoomBranch) -> None:
    body.check()
    check_fittings(body)


def _check_taken(body: DuctsTaken) -> None:
    with inside("tree"):
        body.tree.check()
        for piece in body.tree.pieces:
            check_fittings(piece)
    if len(body.source) > LONGEST_WORDS:
        raise Refused("Keep it under 80 letters.", "source")


def _check_unit(body: DuctUnit) -> None:
    for name, most in _MOST.items():
        value = getattr(body, name)
        if value is not None and not 0 < value <= most:
            raise Refused("This must be above zero and at most {high}.", name, high=(most, kind_of(name)))
    if (body.drop_pa is None) != (body.at_m3s is None):
        raise Refused("Give both: the drop, and the flow at which it was read.", "drop_pa" if body.drop_pa is None else "at_m3s")


def _check_turned(body: DamperTurned) -> None:
    for name in ("damper_deg", "was_deg"):
        if not 0 <= getattr(body, name) <= 90:
            raise Refused("A damper turns from 0° (open) to 90° (shut).", name)
    for name in ("register_open", "was_open"):
        if not 0 <= getattr(body, name) <= 1:
            raise Refused("A register is open by 0 to 100 %.", name)


def _check_surveyed(body: RoomSurveyed) -> None:
    within(body.room_c, ROOM_C, "room_c", "temperature")
    if body.wanted_c is not None:
        within(body.wanted_c, ROOM_C, "wanted_c", "temperature")


register(
    EntryKind(key="duct_trunk", body=Trunk, name="Trunk noted", check=_check_piece),
    EntryKind(key="duct_branch", body=RoomBranch, name="Branch noted", check=_check_piece, branches=lambda body: (body.branch,)),
    EntryKind(key="duct_gone", body=PieceGone, name="Duct taken out"),
    EntryKind(
        key="ducts_taken",
        body=DuctsTaken,
        name="Ducts taken over",
        check=_check_taken,
        branches=lambda body: tuple(branch.branch for branch in body.tree.branches),
    ),
    EntryKind(key="zone", body=Zone, name="Zone noted", check=Zone.check),
    EntryKind(key="zone_gone", body=ZoneGone, name="Zone taken out"),
    EntryKind(key="zone_hardware", body=ZoneHardware, name="Zone board", check=ZoneHardware.check),
    EntryKind(key="duct_unit", body=DuctUnit, name="Blower and return side", check=_check_unit),
    EntryKind(key="damper_turned", body=DamperTurned, name="Damper turned", check=_check_turned),
    EntryKind(key="room_surveyed", body=RoomSurveyed, name="Room surveyed", check=_check_surveyed),
    EntryKind(key="balance_season", body=BalanceSeason, name="Season of the balance"),
)

OF_DUCTS = (
    *("duct_trunk", "duct_branch", "duct_gone", "ducts_taken", "duct_unit"),
    *("damper_turned", "room_surveyed", "balance_season", "zone", "zone_gone", "zone_hardware"),
)
"""Every kind of entry about ducts."""

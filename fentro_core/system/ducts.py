"""The ducts of a system as a tree: the plenum, trunks one after the other, branches that each end at a register in a room."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Literal, TypeVar

from fentro_core.base import fields
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.system.branch import Branch
from fentro_core.system.zones import Zone, ZoneHardware

DuctWall = Literal["metal", "lined", "flexible"]
DamperKind = Literal["none", "blade", "inflatable"]

MOST_PIECES = 240
MOST_FITTINGS = 12
LONGEST_WORDS = 80

MOST: Mapping[str, float] = {
    "length_m": 300.0,
    "diameter_m": 2.0,
    "width_m": 3.0,
    "height_m": 3.0,
    "more_loss": 200.0,
    "register_pa": 500.0,
    "register_m3s": 20.0,
    "face_area_m2": 4.0,
    "floor_area_m2": 5000.0,
    "room_load_w": 500_000.0,
    "cooling_design_m3s": 20.0,
    "heating_design_m3s": 20.0,
}
"""The most that each number of a piece may be; all but `more_loss` lie above zero."""


@dataclass(frozen=True, kw_only=True)
class Piece:
    """One length of duct of one size, in the order of the air.

    Attributes
    ----------
    id
        Made where it was noted; the same id again means the same piece.
    after
        The trunk it leaves, by id; "" the plenum.
    diameter_m, width_m, height_m
        Round, or two sides [m].
    length_m
        Along its middle [m].
    wall
        Sheet metal, lined, or flexible.
    compressed
        How much shorter a flexible duct lies than it is when stretched, share of its length: 0 to 0.5.
    fittings
        Keys of fittings in it (`ducts.fittings`); one twice stands twice.
    more_loss
        Loss coefficient besides them, on this piece's velocity: a maker's own figure.
    """

    id: str
    after: str = ""
    diameter_m: float | None = None
    width_m: float | None = None
    height_m: float | None = None
    length_m: float
    wall: DuctWall = "metal"
    compressed: float = 0.0
    fittings: tuple[str, ...] = ()
    more_loss: float = 0.0

    @property
    def called(self) -> str:
        """As a sentence names it."""
        return "This duct"

    @property
    def sides_m(self) -> tuple[float, float]:
        """Both sides [m]; a round duct has none."""
        return self.width_m or 0.0, self.height_m or 0.0

    @property
    def area_m2(self) -> float:
        """Free area [m²]."""
        if self.diameter_m is not None:
            return 0.7853981633974483 * self.diameter_m * self.diameter_m
        width, height = self.sides_m
        return width * height

    @property
    def hydraulic_m(self) -> float:
        """Diameter of the round duct that rubs as this one does [m]: four areas over the perimeter."""
        if self.diameter_m is not None:
            return self.diameter_m
        width, height = self.sides_m
        return 2.0 * width * height / (width + height)

    def check(self) -> None:
        """Refuse what no duct is; the path names the field."""
        if not self.id.strip() or len(self.id) > LONGEST_WORDS:
            raise Refused("A duct needs a name of its own, under 80 letters.", "id")
        round_, sides = self.diameter_m is not None, (self.width_m is not None, self.height_m is not None)
        if round_ == any(sides) or any(sides) != all(sides):
            raise Refused("Give the diameter, or both sides.", "diameter_m" if not any(sides) else "width_m")
        for name, most in MOST.items():
            value = getattr(self, name, None)
            if value is None:
                continue
            if name == "more_loss" and not value >= 0:
                raise Refused("This can't be below zero.", name)
            if name != "more_loss" and not value > 0:
                raise Refused("This must be above zero.", name)
            if not value <= most:
                raise Refused("At most {high}.", name, high=(most, fields.kind_of(name)))
        if not 0 <= self.compressed <= 0.5:
            raise Refused("A flexible duct lies at most half as long as it is: 0 to 50 %.", "compressed")
        if self.compressed and self.wall != "flexible":
            raise Refused("Only a flexible duct can lie compressed.", "compressed")
        if len(self.fittings) > MOST_FITTINGS:
            raise Refused("At most 12 fittings in one piece: divide the duct.", "fittings")


@dataclass(frozen=True, kw_only=True)
class Trunk(Piece):
    """A piece that others leave at its end."""

    name: str = ""

    @property
    def called(self) -> str:
        """By its name."""
        return self.name or "A trunk"


@dataclass(frozen=True, kw_only=True)
class RoomBranch(Piece):
    """A piece that ends at a register in a room.

    Attributes
    ----------
    room, floor
        Where its air comes out; no two branches have both the same.
    damper, damper_deg
        In the branch; how far it is turned from open [°] (0 open, 90 shut). An inflatable one is open or shut.
    register_pa, register_m3s
        What the register loses at its rated flow.
    register_open
        Share of the register's stroke that is open.
    face_area_m2
        Free face of the register [m²].
    quiet
        A room where people sleep or listen: its register may blow at 2.5 m/s, not 3.5.
    cooling_design_m3s, heating_design_m3s
        What the room should get, where somebody designed it.
    room_load_w, floor_area_m2
        The room's share of load or floor: from them a design, where nobody made one.
    """

    room: str
    floor: str = ""
    damper: DamperKind = "none"
    damper_deg: float = 0.0
    register_pa: float | None = None
    register_m3s: float | None = None
    register_open: float = 1.0
    face_area_m2: float | None = None
    quiet: bool = False
    cooling_design_m3s: float | None = None
    heating_design_m3s: float | None = None
    room_load_w: float | None = None
    floor_area_m2: float | None = None

    @property
    def called(self) -> str:
        """By its room."""
        return f"{self.room}, {self.floor}" if self.floor else self.room

    @property
    def branch(self) -> Branch:
        """As the air path knows it."""
        return Branch(self.room.strip(), self.floor.strip(), self.diameter_m, self.length_m)

    def check(self) -> None:
        """As every piece; besides the register, the damper, the room's name."""
        super().check()
        if not self.room.strip():
            raise Refused("Say which room it goes to.", "room")
        for name in ("room", "floor"):
            if len(getattr(self, name)) > LONGEST_WORDS:
                raise Refused("Keep it under 80 letters.", name)
        if (self.register_pa is None) != (self.register_m3s is None):
            raise Refused("A register's loss needs both: the pressure, and the flow at which it has it.", "register_pa")
        if not 0 <= self.damper_deg <= 90:
            raise Refused("A damper turns from 0° (open) to 90° (shut).", "damper_deg")
        if self.damper == "none" and self.damper_deg:
            raise Refused("There is no damper here to turn.", "damper_deg")
        if not 0 <= self.register_open <= 1:
            raise Refused("A register is open by 0 to 100 %.", "register_open")


MOST_ZONES = 8

Laid = TypeVar("Laid", bound=Piece)


@dataclass(frozen=True)
class DuctTree:
    """All ducts of one system, each piece in the order in which it was noted; zones, and the board that moves them."""

    trunks: tuple[Trunk, ...] = ()
    branches: tuple[RoomBranch, ...] = ()
    zones: tuple[Zone, ...] = ()
    board: ZoneHardware | None = field(default=None, hash=False)

    @property
    def pieces(self) -> Iterator[Piece]:
        """All, trunks first."""
        yield from self.trunks
        yield from self.branches

    def check(self) -> None:
        """Refuse a tree of which a piece is impossible, or one that is too large; what does not hang together is no refusal."""
        if len(self.trunks) + len(self.branches) > MOST_PIECES:
            raise Refused("At most 240 pieces of duct for one system.")
        if len(self.zones) > MOST_ZONES:
            raise Refused("At most 8 zones on one blower.", "zones")
        for where in ("trunks", "branches", "zones"):
            for index, piece in enumerate(getattr(self, where)):
                try:
                    piece.check()
                except Refused as refused:
                    raise refused.under(f"{where}.{index}") from refused
        if self.board is not None:
            try:
                self.board.check()
            except Refused as refused:
                raise refused.under("board") from refused

    def with_(self, piece: Piece) -> DuctTree:
        """This tree with a piece more, or with that piece as it now is."""
        without = self.without(piece.id) if self._elsewhere(piece) else self
        if isinstance(piece, Trunk):
            return replace(without, trunks=_laid(without.trunks, piece))
        assert isinstance(piece, RoomBranch)
        return replace(without, branches=_laid(without.branches, piece))

    def _elsewhere(self, piece: Piece) -> bool:
        others: Iterable[Piece] = self.branches if isinstance(piece, Trunk) else self.trunks
        return any(each.id == piece.id for each in others)

    def with_zone(self, zone: Zone) -> DuctTree:
        """This tree with a zone more, or with that zone as it now is; its rooms leave the zones they were in."""
        taken = set(zone.rooms)
        others = tuple(
            replace(each, rooms=tuple(room for room in each.rooms if room not in taken)) if each.id != zone.id else zone
            for each in self.zones
        )
        return replace(self, zones=others if any(each.id == zone.id for each in others) else (*others, zone))

    def without_zone(self, zone_id: str) -> DuctTree:
        """This tree without a zone; its rooms are in none then."""
        return replace(self, zones=tuple(each for each in self.zones if each.id != zone_id))

    def without(self, piece_id: str) -> DuctTree:
        """This tree without a piece; what left it leaves what it left."""
        gone = next((piece for piece in self.pieces if piece.id == piece_id), None)
        if gone is None:
            return self

        def joined(each: Laid) -> Laid:
            return replace(each, after=gone.after) if each.after == piece_id else each

        return replace(
            self,
            trunks=tuple(joined(each) for each in self.trunks if each.id != piece_id),
            branches=tuple(joined(each) for each in self.branches if each.id != piece_id),
            zones=tuple(replace(each, rooms=tuple(room for room in each.rooms if room != piece_id)) for each in self.zones),
        )

    def troubles(self) -> tuple[Trouble, ...]:
        """What keeps it from being one tree, each as a sentence at a piece."""
        return tuple(_troubles(self))


@dataclass(frozen=True)
class Trouble:
    """Something that does not hang together, at a piece. `breaks`: no flow can be worked out before it is mended."""

    piece: str
    sentence: Sentence
    breaks: bool = True


def _laid(pieces: tuple[Any, ...], piece: Piece) -> tuple[Any, ...]:
    if any(each.id == piece.id for each in pieces):
        return tuple(piece if each.id == piece.id else each for each in pieces)
    return (*pieces, piece)


def _troubles(tree: DuctTree) -> Iterator[Trouble]:
    trunks = {trunk.id: trunk for trunk in tree.trunks}
    ids: set[str] = set()
    for piece in tree.pieces:
        if piece.id in ids:
            yield Trouble(piece.id, Sentence.of(f"{piece.called}: two pieces have this id."))
        ids.add(piece.id)
        if piece.after and piece.after not in trunks:
            words = f"{piece.called}: the trunk that it leaves is not in the tree. Say which one it leaves."
            yield Trouble(piece.id, Sentence.of(words))
    for trunk in tree.trunks:
        if _in_a_ring(trunk, trunks):
            words = f"{trunk.called}: the air would go round in a ring. Say which trunk it really leaves."
            yield Trouble(trunk.id, Sentence.of(words))
    rooms: set[tuple[str, str]] = set()
    for branch in tree.branches:
        place = (branch.room.strip().lower(), branch.floor.strip().lower())
        if place in rooms:
            words = f"{branch.called}: there is already a branch to this room. Call this one by where its register is."
            yield Trouble(branch.id, Sentence.of(words))
        rooms.add(place)
    leads_on = {piece.after for piece in tree.pieces}
    for trunk in tree.trunks:
        if trunk.id not in leads_on:
            yield Trouble(trunk.id, Sentence.of(f"{trunk.called}: nothing leaves it yet. Note its branches."), False)


def _in_a_ring(trunk: Trunk, trunks: Mapping[str, Trunk]) -> bool:
    seen: set[str] = set()
    at: str = trunk.id
    while at in trunks and at not in seen:
        seen.add(at)
        at = trunks[at].after
    return at == trunk.id and bool(seen)

"""The seam to a zone board: JSON over HTTP as docs/zone-board.md says; and the ledger of what is held there."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from fentro_core.base.device import DeviceRefused
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import Json, write
from fentro_core.system.ducts import DuctTree
from fentro_core.system.zones import Zone
from fentro_server.accounts.models import Person
from fentro_server.controllers.overrides import ledger_first, new_entry, open_points, write_down
from fentro_server.controllers.wire import Wire, wired
from fentro_server.gateways.models import Kind
from fentro_server.visits.models import Visit

HELD = "zone/"
"""Begins the name under which the ledger knows a zone that is held at a board."""


class HttpZoneBoard(Wire):
    """One board behind the gateway; answers the core's `ZoneBoard` protocol."""

    kind, plural = Kind.ZONE_BOARDS, "boards"

    def points(self) -> Mapping[str, Any]:
        """What the board shows now."""
        return self.asked("GET", "/points")

    def call(self, zone: int, calls: bool) -> None:
        """Hold a zone: called, or not."""
        self.asked("PUT", f"/calls/{zone}", {"calls": calls})

    def release(self, zone: int) -> None:
        """Let it go."""
        self.asked("DELETE", f"/calls/{zone}")

    def built_as(self, tree: DuctTree) -> Json | None:
        """The scene of a simulated board, with the visit's ducts behind it; None for a real one."""
        scene = self.scene()
        if scene is None or not scene.get("reachable"):
            return scene
        zones = [zone.id for zone in tree.zones if zone.rooms]
        rooms = [branch.id for branch in tree.branches]
        if scene["zones"] == zones and scene["rooms"] == rooms:
            return scene
        return self.scene({"ducts": write(tree), "preset": ""})

    def look(self) -> Json:
        """What a walk through the rooms of a simulated board would find now."""
        return self.asked("GET", "/look")

    def control(self, zone: int, calls: bool) -> None:
        """Somebody sets the control point of a zone of a simulated board."""
        self.asked("POST", "/control", {"zone": zone, "calls": calls})


def zone_board(visit: Visit, name: str) -> HttpZoneBoard | None:
    """The board of that name at the gateway of the visit's company and site, or None.

    Raises
    ------
    Refused
        The gateway's address is not allowed, or a name that is no board's.
    """
    return wired(HttpZoneBoard, visit, name, Refused("A board's name is more than dots.", "board"))


def numbered(zones: Iterable[Zone]) -> dict[int, Zone]:
    """Zones with rooms, by their number at the board: in the order of the plan."""
    return dict(enumerate((zone for zone in zones if zone.rooms), 1))


def hold_zones(visit: Visit, person: Person, board: HttpZoneBoard, zones: Mapping[int, Zone], calling: Iterable[str]) -> None:
    """Hold every zone, called or not: each stands in the ledger before the board is told.

    Raises
    ------
    DeviceRefused, DeviceGone
        See `overrides.ledger_first`.
    """
    called = set(calling)
    numbers = {f"{HELD}{zone.id}": number for number, zone in zones.items()}
    bodies = {
        point: {"what": f"{zones[number].name} held at the zone board", "undo": "Let it go at the zone board"}
        for point, number in numbers.items()
    }

    def hold_one(point: str) -> None:
        number = numbers[point]
        board.call(number, zones[number].id in called)

    ledger_first(visit, person, bodies, hold_one, DeviceRefused, "refused by the board")


def let_go(visit: Visit, person: Person, board: HttpZoneBoard) -> list[int]:
    """Release every zone, and close in the ledger what the board confirms. Answers the numbers it still holds.

    Raises
    ------
    DeviceGone
        It does not answer: the ledger stays open.
    """
    for line in board.points()["zones"]:
        board.release(int(line["zone"]))
    still = [int(line["zone"]) for line in board.points()["zones"] if line["held"]]
    if not still:
        undone = [
            new_entry("undone", {"change": entry, "how": "let go, confirmed by the board"})
            for point, entries in open_points(visit).items()
            if point.startswith(HELD)
            for entry in entries
        ]
        if undone:
            write_down(visit, person, undone)
    return still

"""The simulated zone boards as a network service: plain JSON over HTTP on loopback. See docs/zone-board.md for the protocol."""

from __future__ import annotations

from random import Random
from typing import Any

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response

from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import read
from fentro_core.system.ducts import DuctTree
from fentro_standins.answers import given_object, refused
from fentro_standins.fleet import Fleet
from fentro_standins.zones.board import FAULTS, SimulatedBoard
from fentro_standins.zones.presets import BOARDS, board_of, ordinary_house
from fentro_standins.zones.technician import felt


class Boards(Fleet[SimulatedBoard]):
    """All boards, each with its ducts."""

    what, plural, title, about = "board", "boards", "board", "zone"

    def __init__(self) -> None:
        super().__init__()
        tree = ordinary_house()
        made = {name: board_of(tree, seed=at) for at, name in enumerate(BOARDS)}
        self.all = {name: board for name, board in made.items() if board is not None}
        self.presets = dict.fromkeys(self.all, "")
        self.trees = dict.fromkeys(self.all, tree)

    def line(self, name: str) -> dict[str, Any]:
        """The board and how many zones it has."""
        return {"name": name, "zones": len(self.all[name].zones)}

    def scene(self, name: str) -> dict[str, Any]:
        """Its zones and rooms, and the faults that can be chosen."""
        return {
            "zones": [zone.id for zone in self.all[name].zones],
            "rooms": [branch.id for branch in self.trees[name].branches],
            "presets": [{"key": key, "name": words} for key, words in FAULTS.items()],
        }

    def change(self, name: str, given: dict[str, Any]) -> Response | None:
        """Build the board anew where another fault or other ducts are asked for; in words why not."""
        if not {"preset", "ducts", "bypass"} & set(given):
            return None
        preset = given.get("preset", self.presets[name])
        if preset not in FAULTS:
            return refused(f"There is no such fault. There are: {', '.join(FAULTS)}.", "preset")
        try:
            tree = read(given["ducts"], DuctTree) if "ducts" in given else self.trees[name]
        except Refused as reason:
            return refused(reason.sentence.say(), f"ducts.{reason.path}")
        if not tree.branches or not any(zone.rooms for zone in tree.zones) or tree.troubles():
            return refused("These ducts can't be built: give branches that hang together, and zones with rooms.", "ducts")
        made = board_of(tree, preset, bypass=bool(given.get("bypass", self.all[name].has_bypass)))
        if made is None:
            return refused("These ducts can't have this fault.", "preset")
        self.all[name], self.presets[name], self.trees[name] = made, preset, tree
        return None


async def points(boards: Boards, request: Request, board: SimulatedBoard) -> Response:
    """What the board shows now."""
    return JSONResponse(board.points())


async def call(boards: Boards, request: Request, board: SimulatedBoard) -> Response:
    """Hold a zone, called or not; or let it go."""
    zone = int(request.path_params["zone"])
    if request.method == "DELETE":
        board.release(zone)
        return JSONResponse({"released": zone})
    calls = (await given_object(request)).get("calls")
    if not isinstance(calls, bool):
        return refused("Say whether it calls: true or false.", "calls")
    board.call(zone, calls)
    return JSONResponse({"held": zone, "calls": calls})


async def look(boards: Boards, request: Request, board: SimulatedBoard) -> Response:
    """What a walk through the rooms would find now. Of simulated boards only."""
    flows, static, opened = board.flows()
    random = Random(int(board.time_s))
    return JSONResponse(
        {
            "air": {room: felt(board, room, flow, random) for room, flow in flows.items()},
            "static_pa": round(static, 1),
            "bypass": "shut" if opened < 0.05 else "open" if opened > 0.6 else "part",
            "held": {room: board.holds(room) for zone in board.zones if zone.damper == "inflatable" for room in zone.rooms},
        }
    )


async def control(boards: Boards, request: Request, board: SimulatedBoard) -> Response:
    """Somebody sets a zone's control point so that it calls, or back. Of simulated boards only."""
    given = await given_object(request)
    zone = next((each for at, each in enumerate(board.zones, 1) if at == given.get("zone")), None)
    if zone is None or not isinstance(given.get("calls"), bool):
        return refused("Say which zone, and whether it calls.", "zone")
    board.ask(zone.id, given["calls"])
    return JSONResponse({"zone": given["zone"], "calls": given["calls"]})


def application() -> Starlette:
    """The service as an ASGI application."""
    boards = Boards()
    return boards.application(
        [
            boards.route("/points", points, "GET"),
            boards.route("/calls/{zone:int}", call, "PUT", "DELETE"),
            boards.route("/look", look, "GET"),
            boards.route("/control", control, "POST"),
        ]
    )

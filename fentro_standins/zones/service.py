"""The simulated zone boards as a network service: plain JSON over HTTP on loopback. See docs/zone-board.md for the protocol."""

from __future__ import annotations

import asyncio
import contextlib
import time
from collections.abc import AsyncIterator, Awaitable, Callable
from random import Random
from typing import Any

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import read
from fentro_core.system.ducts import DuctTree
from fentro_core.zoning.board import BoardGone, BoardRefused
from fentro_standins.answers import given_object, refused
from fentro_standins.zones.board import FAULTS, SimulatedBoard
from fentro_standins.zones.presets import BOARDS, board_of, ordinary_house
from fentro_standins.zones.technician import felt

TICK_S = 0.1
USUAL_SPEED = 10.0
SLOWEST, FASTEST = 0.1, 60.0

Answer = Callable[["Service", Request, SimulatedBoard], Awaitable[Response]]


class Service:
    """All boards, advanced as real time passes, many times as fast."""

    def __init__(self) -> None:
        tree = ordinary_house()
        made = {name: board_of(tree, seed=at) for at, name in enumerate(BOARDS)}
        self.boards = {name: board for name, board in made.items() if board is not None}
        self.presets = dict.fromkeys(self.boards, "")
        self.trees = dict.fromkeys(self.boards, tree)
        self.speed = USUAL_SPEED

    async def keep_time(self) -> None:
        """Advance every board as real time passes."""
        before = time.monotonic()
        while True:
            await asyncio.sleep(TICK_S)
            now = time.monotonic()
            for board in self.boards.values():
                board.advance(min(now - before, 1.0) * self.speed)
            before = now

    def route(self, path: str, answer: Answer, *methods: str) -> Route:
        """A route about one board: unknown ones, refusals and silence are answered alike everywhere."""

        async def called(request: Request) -> Response:
            board = self.boards.get(request.path_params["board"])
            if board is None:
                return refused(f"There is no such board. There are: {', '.join(self.boards)}.", "board", 404)
            if board.gone and not path.endswith("/scene"):
                return refused("The board does not answer.", "board", 504)
            try:
                return await answer(self, request, board)
            except BoardRefused as reason:
                return refused(str(reason), "zone")
            except BoardGone:
                return refused("The board does not answer.", "board", 504)

        return Route(f"/v1/boards/{{board}}{path}", called, methods=list(methods))


async def boards(service: Service) -> Response:
    """Every board and how many zones it has."""
    lines = [{"name": name, "zones": len(board.zones), "simulated": True} for name, board in service.boards.items()]
    return JSONResponse({"boards": lines})


async def points(service: Service, request: Request, board: SimulatedBoard) -> Response:
    """What the board shows now."""
    return JSONResponse(board.points())


async def call(service: Service, request: Request, board: SimulatedBoard) -> Response:
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


async def look(service: Service, request: Request, board: SimulatedBoard) -> Response:
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


async def control(service: Service, request: Request, board: SimulatedBoard) -> Response:
    """Somebody sets a zone's control point so that it calls, or back. Of simulated boards only."""
    given = await given_object(request)
    zone = next((each for at, each in enumerate(board.zones, 1) if at == given.get("zone")), None)
    if zone is None or not isinstance(given.get("calls"), bool):
        return refused("Say which zone, and whether it calls.", "zone")
    board.ask(zone.id, given["calls"])
    return JSONResponse({"zone": given["zone"], "calls": given["calls"]})


async def scene(service: Service, request: Request, board: SimulatedBoard) -> Response:
    """What is simulated; a POST chooses another fault or other ducts, the speed, or takes the board out of reach."""
    name = request.path_params["board"]
    if request.method == "POST":
        given = await given_object(request)
        speed = given.get("speed", service.speed)
        if not isinstance(speed, int | float) or not SLOWEST <= speed <= FASTEST:
            return refused(f"The speed lies between {SLOWEST} and {FASTEST:.0f}.", "speed")
        wrong = _built(service, name, given)
        if wrong is not None:
            return wrong
        board = service.boards[name]
        service.speed = float(speed)
        board.gone = not given.get("reachable", not board.gone)
    return JSONResponse(_scene(service, name))


def _built(service: Service, name: str, given: dict[str, Any]) -> Response | None:
    """Build the board anew where another fault or other ducts are asked for; in words why not."""
    if not {"preset", "ducts", "bypass"} & set(given):
        return None
    preset = given.get("preset", service.presets[name])
    if preset not in FAULTS:
        return refused(f"There is no such fault. There are: {', '.join(FAULTS)}.", "preset")
    try:
        tree = read(given["ducts"], DuctTree) if "ducts" in given else service.trees[name]
    except Refused as reason:
        return refused(reason.sentence.say(), f"ducts.{reason.path}")
    if not tree.branches or not any(zone.rooms for zone in tree.zones) or tree.troubles():
        return refused("These ducts can't be built: give branches that hang together, and zones with rooms.", "ducts")
    made = board_of(tree, preset, bypass=bool(given.get("bypass", service.boards[name].has_bypass)))
    if made is None:
        return refused("These ducts can't have this fault.", "preset")
    service.boards[name], service.presets[name], service.trees[name] = made, preset, tree
    return None


def _scene(service: Service, name: str) -> dict[str, Any]:
    board = service.boards[name]
    return {
        "simulated": True,
        "board": name,
        "speed": service.speed,
        "preset": service.presets[name],
        "reachable": not board.gone,
        "zones": [zone.id for zone in board.zones],
        "rooms": [branch.id for branch in service.trees[name].branches],
        "presets": [{"key": key, "name": words} for key, words in FAULTS.items()],
    }


def application() -> Starlette:
    """The service as an ASGI application."""
    service = Service()

    @contextlib.asynccontextmanager
    async def lifespan(app: Starlette) -> AsyncIterator[None]:
        keeper = asyncio.create_task(service.keep_time())
        yield
        keeper.cancel()

    async def listing(request: Request) -> Response:
        return await boards(service)

    return Starlette(
        routes=[
            Route("/v1/boards", listing),
            service.route("/points", points, "GET"),
            service.route("/calls/{zone:int}", call, "PUT", "DELETE"),
            service.route("/look", look, "GET"),
            service.route("/control", control, "POST"),
            service.route("/scene", scene, "GET", "POST"),
        ],
        lifespan=lifespan,
    )

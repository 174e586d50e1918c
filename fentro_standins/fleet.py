"""What simulated devices behind one gateway have in common: their clock, how a request finds its device, how they are served."""

from __future__ import annotations

import argparse
import asyncio
import contextlib
import time
from abc import ABC, abstractmethod
from collections.abc import AsyncIterator, Awaitable, Callable, Sequence
from typing import Any, Generic, Protocol, Self, TypeVar

import uvicorn
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from fentro_core.base.device import DeviceGone, DeviceRefused
from fentro_standins.answers import given_object, refused

TICK_S = 0.1
USUAL_SPEED = 10.0
SLOWEST, FASTEST = 0.1, 60.0


class Device(Protocol):
    """What is simulated: its time can pass, and it can be out of reach."""

    gone: bool

    def advance(self, seconds: float) -> None:
        """Let time pass."""


One = TypeVar("One", bound=Device)


class Fleet(ABC, Generic[One]):
    """All devices of one kind, advanced as real time passes, many times as fast.

    Attributes
    ----------
    what, plural, title
        What one is called in words, all of them in paths (`units`), and one at the head of a sentence.
    about
        The field that a refusal is about.
    """

    what: str
    plural: str
    title: str
    about: str

    def __init__(self) -> None:
        self.all: dict[str, One] = {}
        self.presets: dict[str, str] = {}
        self.speed = USUAL_SPEED

    @abstractmethod
    def line(self, name: str) -> dict[str, Any]:
        """One device in the list of all."""

    @abstractmethod
    def scene(self, name: str) -> dict[str, Any]:
        """What is simulated, besides what every fleet says."""

    @abstractmethod
    def change(self, name: str, given: dict[str, Any]) -> Response | None:
        """Another fault, or whatever else can be chosen; in words why not."""

    async def keep_time(self) -> None:
        """Advance every device as real time passes."""
        before = time.monotonic()
        while True:
            await asyncio.sleep(TICK_S)
            now = time.monotonic()
            for device in self.all.values():
                device.advance(min(now - before, 1.0) * self.speed)
            before = now

    def route(self, path: str, answer: Callable[[Self, Request, One], Awaitable[Response]], *methods: str) -> Route:
        """A route about one device: unknown ones, refusals and silence are answered alike everywhere."""

        async def called(request: Request) -> Response:
            device = self.all.get(request.path_params["name"])
            if device is None:
                return refused(f"There is no such {self.what}. There are: {', '.join(self.all)}.", self.what, 404)
            silent = refused(f"The {self.title} does not answer.", self.what, 504)
            if device.gone and not path.endswith("/scene"):
                return silent
            try:
                return await answer(self, request, device)
            except DeviceRefused as reason:
                return refused(str(reason), self.about)
            except DeviceGone:
                return silent

        return Route(f"/v1/{self.plural}/{{name}}{path}", called, methods=list(methods))

    async def _scene(self, request: Request) -> Response:
        """What is simulated; a POST chooses another fault, the speed, or takes the device out of reach."""
        name = request.path_params["name"]
        if request.method == "POST":
            given = await given_object(request)
            speed = given.get("speed", self.speed)
            if not isinstance(speed, int | float) or not SLOWEST <= speed <= FASTEST:
                return refused(f"The speed lies between {SLOWEST} and {FASTEST:.0f}.", "speed")
            wrong = self.change(name, given)
            if wrong is not None:
                return wrong
            self.speed = float(speed)
            device = self.all[name]
            device.gone = not given.get("reachable", not device.gone)
        said = {
            "simulated": True,
            self.what: name,
            "speed": self.speed,
            "preset": self.presets[name],
            "reachable": not self.all[name].gone,
        }
        return JSONResponse(said | self.scene(name))

    def application(self, routes: Sequence[Route]) -> Starlette:
        """The service as an ASGI application."""

        @contextlib.asynccontextmanager
        async def lifespan(app: Starlette) -> AsyncIterator[None]:
            keeper = asyncio.create_task(self.keep_time())
            yield
            keeper.cancel()

        async def listing(request: Request) -> Response:
            return JSONResponse({self.plural: [self.line(name) | {"simulated": True} for name in self.all]})

        async def scene(fleet: Self, request: Request, device: One) -> Response:
            return await self._scene(request)

        return Starlette(
            routes=[Route(f"/v1/{self.plural}", listing), *routes, self.route("/scene", scene, "GET", "POST")], lifespan=lifespan
        )


def serve(application: Callable[[], Starlette], port: int, words: str) -> None:
    """Serve on loopback until ended; `port`: where nothing else is asked for; `words`: of its help."""
    parser = argparse.ArgumentParser(description=words)
    parser.add_argument("--port", type=int, default=port)
    given = parser.parse_args()
    uvicorn.run(
        application(), host="127.0.0.1", port=given.port, log_level="warning", server_header=False, timeout_graceful_shutdown=1
    )

"""The probes as a service: JSON over HTTP, live frames as server-sent events. See docs/probes.md for the protocol."""

from __future__ import annotations

import asyncio
import contextlib
import json
import time
import uuid
from collections.abc import AsyncIterator
from datetime import UTC, datetime, timedelta

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response, StreamingResponse
from starlette.routing import Route

from fentro_standins.answers import given_object, refused
from fentro_standins.probes.physics import BUILDS, SCENARIOS
from fentro_standins.probes.rack import FASTEST, KINDS, Rack

TICK_S = 0.1
SEND_S = 0.4


class Service:
    """One rack, advanced in real time; any number of listeners."""

    def __init__(self) -> None:
        self.boot = uuid.uuid4().hex
        self.rack = Rack(datetime.now(UTC))

    async def keep_time(self) -> None:
        """Advance the rack as real time passes."""
        before = time.monotonic()
        while True:
            await asyncio.sleep(TICK_S)
            now = time.monotonic()
            self.rack.advance(min(now - before, 5.0))
            before = now

    async def probes(self, request: Request) -> Response:
        """Every probe: what it reads, where it hangs, battery, reachable."""
        return JSONResponse(
            {
                "boot": self.boot,
                "at": self.rack.now.isoformat(),
                "probes": [
                    {
                        "serial": probe.serial,
                        "name": probe.name,
                        "quantities": list(KINDS[probe.kind]),
                        "battery": round(probe.battery, 2),
                        "reachable": probe.reachable,
                        "station": probe.station,
                    }
                    for probe in self.rack.probes.values()
                ],
            }
        )

    async def scene(self, request: Request) -> Response:
        """What is simulated; a POST chooses another scenario, seed or speed and begins again."""
        rack = self.rack
        if request.method == "POST":
            given = await given_object(request)
            scenario = str(given.get("scenario", rack.scenario.key))
            seed, speed = given.get("seed", rack.seed), given.get("speed", rack.speed)
            if scenario not in SCENARIOS:
                return refused(f"There is no such scenario. There are: {', '.join(SCENARIOS)}.", "scenario")
            if not isinstance(seed, int) or isinstance(seed, bool) or not 0 <= seed < 10**9:
                return refused("The seed is a whole number from 0 to 999,999,999.", "seed")
            if not isinstance(speed, int | float) or not 0.1 <= speed <= FASTEST:
                return refused(f"The speed lies between 0.1 and {FASTEST:.0f}.", "speed")
            rack.set_scene(datetime.now(UTC), scenario, seed, float(speed))
        return JSONResponse(
            {
                "simulated": True,
                "scenario": rack.scenario.key,
                "seed": rack.seed,
                "speed": rack.speed,
                "scenarios": [{"key": each.key, "name": each.name} for each in SCENARIOS.values()],
            }
        )

    async def places(self, request: Request) -> Response:
        """Which probes hang where in one system, and since when it runs."""
        given = await given_object(request)
        kind = str(given.get("kind", ""))
        if kind not in BUILDS:
            return refused(f"There is no such kind of system. There are: {', '.join(BUILDS)}.", "kind")
        since = given.get("running_since")
        figures = {key: float(given[key]) for key in ("pressure_pa",) if given.get(key)}
        places = {serial: place for serial, place in given.get("places", {}).items() if serial in self.rack.probes}
        self.rack.place(str(given.get("system", "")), kind, datetime.fromisoformat(since) if since else None, places, **figures)
        return JSONResponse({"placed": sorted(places)})

    async def fault(self, request: Request) -> Response:
        """Take a probe out of reach, or bring it back: for trying what happens then."""
        given = await given_object(request)
        serial = request.path_params["serial"]
        if serial not in self.rack.probes:
            return refused("There is no such probe.", "serial", 404)
        change = self.rack.forced_out.discard if given.get("reachable", True) else self.rack.forced_out.add
        change(serial)
        return JSONResponse({"serial": serial, "reachable": serial not in self.rack.forced_out})

    async def stream(self, request: Request) -> Response:
        """Frames from `since` on, or from `back` seconds ago: first what is kept, then as they come.

        Several stand in one event when time runs fast.
        """
        since = request.query_params.get("since")
        try:
            back = timedelta(seconds=float(request.query_params.get("back", "0")))
            start = datetime.fromisoformat(since) if since else self.rack.now - back
        except ValueError:
            return refused("Give since as a time (ISO 8601), or back in seconds.", "since")
        return StreamingResponse(
            self._frames(start), media_type="text/event-stream", headers={"cache-control": "no-store", "x-accel-buffering": "no"}
        )

    async def _frames(self, since: datetime) -> AsyncIterator[str]:
        yield f"event: hello\ndata: {json.dumps({'boot': self.boot, 'at': self.rack.now.isoformat()})}\n\n"
        rack, last = self.rack, since
        while True:
            fresh = []
            for frame in reversed(rack.frames):
                if datetime.fromisoformat(frame["at"]) <= last:
                    break
                fresh.append(frame)
            fresh.reverse()
            if fresh:
                last = datetime.fromisoformat(fresh[-1]["at"])
                yield f"event: frames\ndata: {json.dumps(fresh)}\n\n"
            elif rack.now < last:
                last = rack.began
            await asyncio.sleep(SEND_S)


def application() -> Starlette:
    """The service as an ASGI application."""
    service = Service()

    @contextlib.asynccontextmanager
    async def lifespan(app: Starlette) -> AsyncIterator[None]:
        keeper = asyncio.create_task(service.keep_time())
        yield
        keeper.cancel()

    return Starlette(
        routes=[
            Route("/v1/probes", service.probes),
            Route("/v1/scene", service.scene, methods=["GET", "POST"]),
            Route("/v1/places", service.places, methods=["PUT"]),
            Route("/v1/probes/{serial}/fault", service.fault, methods=["POST"]),
            Route("/v1/stream", service.stream),
        ],
        lifespan=lifespan,
    )

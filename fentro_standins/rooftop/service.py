"""The simulated units as a network service: plain JSON over HTTP on loopback. See docs/controller.md for the protocol."""

from __future__ import annotations

import asyncio
import contextlib
import time
from collections.abc import AsyncIterator, Awaitable, Callable
from typing import Any

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from fentro_core.economizer.places import PLACES, POINTS, ControllerGone, ControllerRefused
from fentro_standins.answers import given_object, refused
from fentro_standins.rooftop.presets import MODELS, PRESETS, made
from fentro_standins.rooftop.unit import RooftopUnit

TICK_S = 0.1
STEP_S = 1.0
USUAL_SPEED = 10.0
SLOWEST, FASTEST = 0.1, 60.0

Answer = Callable[["Service", Request, RooftopUnit], Awaitable[Response]]


class Service:
    """All units, advanced as real time passes, many times as fast."""

    def __init__(self) -> None:
        self.units = {name: made(model) for name, model in MODELS.items()}
        self.presets = {name: model.preset for name, model in MODELS.items()}
        self.speed = USUAL_SPEED

    async def keep_time(self) -> None:
        """Advance every unit as real time passes."""
        before = time.monotonic()
        while True:
            await asyncio.sleep(TICK_S)
            now = time.monotonic()
            for unit in self.units.values():
                unit.advance(min(now - before, 1.0) * self.speed, STEP_S)
            before = now

    def route(self, path: str, answer: Answer, *methods: str) -> Route:
        """A route about one unit: unknown ones, refusals and silence are answered alike everywhere."""

        async def called(request: Request) -> Response:
            unit = self.units.get(request.path_params["unit"])
            if unit is None:
                return refused(f"There is no such unit. There are: {', '.join(self.units)}.", "unit", 404)
            if unit.gone and not path.endswith("/scene"):
                return refused("The controller does not answer.", "unit", 504)
            try:
                return await answer(self, request, unit)
            except ControllerRefused as reason:
                return refused(str(reason), "value")
            except ControllerGone:
                return refused("The controller does not answer.", "unit", 504)

        return Route(f"/v1/units/{{unit}}{path}", called, methods=list(methods))


async def units(service: Service) -> Response:
    """Every unit and its model."""
    lines = [{"unit": name, "model": unit.build.model, "simulated": True} for name, unit in service.units.items()]
    return JSONResponse({"units": lines})


async def points(service: Service, request: Request, unit: RooftopUnit) -> Response:
    """Every point now; with ``describe`` also its name, kind, role and range."""
    answer: dict[str, Any] = {"points": unit.points()}
    if "describe" in request.query_params:
        answer["described"] = [vars(point) for point in POINTS.values()]
    return JSONResponse(answer)


async def override(service: Service, request: Request, unit: RooftopUnit) -> Response:
    """Hold a point, or let it go."""
    point = request.path_params["point"]
    if request.method == "DELETE":
        unit.release(point)
        return JSONResponse({"released": point})
    given = await given_object(request)
    value = given.get("value")
    if isinstance(value, bool) or not isinstance(value, int | float):
        return refused("Give the value as a number.", "value")
    unit.override(point, float(value))
    return JSONResponse({"held": point, "value": float(value)})


async def release_all(service: Service, request: Request, unit: RooftopUnit) -> Response:
    """Let everything go."""
    held = sorted(unit.held)
    for point in held:
        unit.release(point)
    return JSONResponse({"released": held})


async def alarms(service: Service, request: Request, unit: RooftopUnit) -> Response:
    """Standing alarms."""
    return JSONResponse({"alarms": [dict(each) for each in unit.alarms()]})


async def configuration(service: Service, request: Request, unit: RooftopUnit) -> Response:
    """Save, or load another."""
    if request.method == "PUT":
        unit.load(await given_object(request))
    return JSONResponse(unit.save())


async def hand(service: Service, request: Request, unit: RooftopUnit) -> Response:
    """What a hand at the unit would do. Of simulated units only."""
    given = await given_object(request)
    unit.hand(str(given.get("action", "")), str(given.get("value", "")))
    return JSONResponse({"done": given.get("action")})


async def reference(service: Service, request: Request, unit: RooftopUnit) -> Response:
    """What a good probe shows at every place now [°C]. Of simulated units only."""
    return JSONResponse({"reference_c": {place: unit.reference(place) for place in PLACES}})


async def scene(service: Service, request: Request, unit: RooftopUnit) -> Response:
    """What is simulated; a POST chooses another fault, the speed, or takes the controller out of reach."""
    name = request.path_params["unit"]
    if request.method == "POST":
        given = await given_object(request)
        speed, preset = given.get("speed", service.speed), given.get("preset", "")
        if not isinstance(speed, int | float) or not SLOWEST <= speed <= FASTEST:
            return refused(f"The speed lies between {SLOWEST} and {FASTEST:.0f}.", "speed")
        if preset and preset not in PRESETS:
            return refused(f"There is no such fault. There are: {', '.join(PRESETS)}.", "preset")
        service.speed = float(speed)
        if preset:
            service.units[name] = unit = made(MODELS[name], preset)
            service.presets[name] = preset
        unit.gone = not given.get("reachable", not unit.gone)
        unit.refuses = set(given.get("refuses", unit.refuses))
    return JSONResponse(
        {
            "simulated": True,
            "unit": name,
            "speed": service.speed,
            "preset": service.presets[name],
            "reachable": not unit.gone,
            "presets": [{"key": key, "name": words} for key, (words, _) in PRESETS.items()],
        }
    )


def application() -> Starlette:
    """The service as an ASGI application."""
    service = Service()

    @contextlib.asynccontextmanager
    async def lifespan(app: Starlette) -> AsyncIterator[None]:
        keeper = asyncio.create_task(service.keep_time())
        yield
        keeper.cancel()

    async def listing(request: Request) -> Response:
        return await units(service)

    return Starlette(
        routes=[
            Route("/v1/units", listing),
            service.route("/points", points, "GET"),
            service.route("/overrides", release_all, "DELETE"),
            service.route("/overrides/{point}", override, "PUT", "DELETE"),
            service.route("/alarms", alarms, "GET"),
            service.route("/configuration", configuration, "GET", "PUT"),
            service.route("/hand", hand, "POST"),
            service.route("/reference", reference, "GET"),
            service.route("/scene", scene, "GET", "POST"),
        ],
        lifespan=lifespan,
    )

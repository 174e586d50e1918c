"""The simulated units as a network service: plain JSON over HTTP on loopback. See docs/controller.md for the protocol."""

from __future__ import annotations

from typing import Any

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response

from fentro_core.economizer.places import PLACES, POINTS
from fentro_standins.answers import given_object, refused
from fentro_standins.fleet import Fleet
from fentro_standins.rooftop.presets import MODELS, made
from fentro_standins.rooftop.unit import RooftopUnit


class Units(Fleet[RooftopUnit]):
    """All units."""

    what, plural, title, about = "unit", "units", "controller", "value"

    def __init__(self) -> None:
        super().__init__()
        self.all = {name: made(model) for name, model in MODELS.items()}
        self.presets = {name: model.preset for name, model in MODELS.items()}

    def line(self, name: str) -> dict[str, Any]:
        """The unit and its model."""
        return {"unit": name, "model": self.all[name].build.model}

    def scene(self, name: str) -> dict[str, Any]:
        """The faults that can be chosen."""
        return {"presets": [{"key": key, "name": words} for key, (words, _) in MODELS[name].presets.items()]}

    def change(self, name: str, given: dict[str, Any]) -> Response | None:
        """Build the unit anew where another fault is asked for; in words why not. `refuses`: points it will not be held at."""
        preset = given.get("preset", "")
        there = MODELS[name].presets
        if preset and preset not in there:
            return refused(f"There is no such fault. There are: {', '.join(there)}.", "preset")
        if preset:
            self.all[name], self.presets[name] = made(MODELS[name], preset), preset
        unit = self.all[name]
        unit.refuses = set(given.get("refuses", unit.refuses))
        return None


async def points(units: Units, request: Request, unit: RooftopUnit) -> Response:
    """Every point now; with ``describe`` also its name, kind, role and range."""
    answer: dict[str, Any] = {"points": unit.points()}
    if "describe" in request.query_params:
        answer["described"] = [vars(point) for point in POINTS.values()]
    return JSONResponse(answer)


async def override(units: Units, request: Request, unit: RooftopUnit) -> Response:
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


async def release_all(units: Units, request: Request, unit: RooftopUnit) -> Response:
    """Let everything go."""
    held = sorted(unit.held)
    for point in held:
        unit.release(point)
    return JSONResponse({"released": held})


async def alarms(units: Units, request: Request, unit: RooftopUnit) -> Response:
    """Standing alarms."""
    return JSONResponse({"alarms": [dict(each) for each in unit.alarms()]})


async def configuration(units: Units, request: Request, unit: RooftopUnit) -> Response:
    """Save, or load another."""
    if request.method == "PUT":
        unit.load(await given_object(request))
    return JSONResponse(unit.save())


async def hand(units: Units, request: Request, unit: RooftopUnit) -> Response:
    """What a hand at the unit would do. Of simulated units only."""
    given = await given_object(request)
    unit.hand(str(given.get("action", "")), str(given.get("value", "")))
    return JSONResponse({"done": given.get("action")})


async def reference(units: Units, request: Request, unit: RooftopUnit) -> Response:
    """What a good probe shows at every place now [°C]. Of simulated units only."""
    there = (*PLACES, "after_coil") if unit.build.dries else PLACES
    return JSONResponse({"reference_c": {place: unit.reference(place) for place in there}})


def application() -> Starlette:
    """The service as an ASGI application."""
    units = Units()
    return units.application(
        [
            units.route("/points", points, "GET"),
            units.route("/overrides", release_all, "DELETE"),
            units.route("/overrides/{point}", override, "PUT", "DELETE"),
            units.route("/alarms", alarms, "GET"),
            units.route("/configuration", configuration, "GET", "PUT"),
            units.route("/hand", hand, "POST"),
            units.route("/reference", reference, "GET"),
        ]
    )

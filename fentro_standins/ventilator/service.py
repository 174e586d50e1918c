"""The simulated ventilators as a network service: plain JSON over HTTP on loopback. See docs/ventilator.md for the protocol."""

from __future__ import annotations

from typing import Any

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response

from fentro_core.base.device import DeviceRefused
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import read, write
from fentro_core.system.fresh_air import Ventilator, VentilatorControl
from fentro_standins.answers import given_object, refused
from fentro_standins.fleet import Fleet
from fentro_standins.ventilator.presets import VENTILATORS, ordinary
from fentro_standins.ventilator.unit import FAULTS, SimulatedVentilator


class Ventilators(Fleet[SimulatedVentilator]):
    """All ventilators."""

    what, plural, title, about = "ventilator", "ventilators", "ventilator's control", "value"

    def __init__(self) -> None:
        super().__init__()
        self.all = {name: ordinary(name) for name in VENTILATORS}
        self.presets = dict.fromkeys(VENTILATORS, "")
        self.speed = 60.0

    def line(self, name: str) -> dict[str, Any]:
        """The ventilator and what it moves."""
        return {"name": name, "kind": self.all[name].ventilator.kind}

    def scene(self, name: str) -> dict[str, Any]:
        """The ventilator behind it, and the faults that can be chosen."""
        return {
            "ventilator": write(self.all[name].ventilator),
            "presets": [{"key": key, "name": words} for key, words in FAULTS.items()],
        }

    def change(self, name: str, given: dict[str, Any]) -> Response | None:
        """Build it anew where another fault, ventilator or setting is asked for; in words why not."""
        if not {"preset", "ventilator", "control"} & set(given):
            return None
        known = self.all[name]
        preset = given.get("preset", self.presets[name])
        if preset not in FAULTS:
            return refused(f"There is no such fault. There are: {', '.join(FAULTS)}.", "preset")
        try:
            ventilator = read(given["ventilator"], Ventilator) if "ventilator" in given else known.ventilator
            control = read(given["control"], VentilatorControl) if "control" in given else known.control
            ventilator.check()
            control.check()
        except Refused as reason:
            return refused(reason.sentence.say(), reason.path)
        self.presets[name] = preset
        self.all[name] = SimulatedVentilator(ventilator, control, known.seed + 1, (preset,) if preset else ())
        return None


async def points(ventilators: Ventilators, request: Request, one: SimulatedVentilator) -> Response:
    """What its control shows now."""
    return JSONResponse(one.points())


async def settings(ventilators: Ventilators, request: Request, one: SimulatedVentilator) -> Response:
    """What it is set to; a PUT enters something else."""
    if request.method == "PUT":
        try:
            one.enter(read(await given_object(request), VentilatorControl))
        except Refused as reason:
            return refused(reason.sentence.say(), reason.path)
    return JSONResponse(write(one.settings()))


async def hold(ventilators: Ventilators, request: Request, one: SimulatedVentilator) -> Response:
    """Hold a point, or let it go."""
    point = request.path_params["point"]
    if request.method == "DELETE":
        one.release(point)
        return JSONResponse({"released": point})
    value = (await given_object(request)).get("value")
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise DeviceRefused("Give the value as a number.")
    one.hold(point, float(value))
    return JSONResponse({"held": point, "value": float(value)})


async def boost(ventilators: Ventilators, request: Request, one: SimulatedVentilator) -> Response:
    """Start a boost."""
    one.boost()
    return JSONResponse(one.points())


async def look(ventilators: Ventilators, request: Request, one: SimulatedVentilator) -> Response:
    """What a walk to grilles, damper, filters and hood would find now. Of simulated ones only."""
    return JSONResponse(one.look())


def application() -> Starlette:
    """The service as an ASGI application."""
    ventilators = Ventilators()
    return ventilators.application(
        [
            ventilators.route("/points", points, "GET"),
            ventilators.route("/settings", settings, "GET", "PUT"),
            ventilators.route("/holds/{point}", hold, "PUT", "DELETE"),
            ventilators.route("/boost", boost, "POST"),
            ventilators.route("/look", look, "GET"),
        ]
    )

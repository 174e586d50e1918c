"""The seam to a ventilator's control: JSON over HTTP as docs/ventilator.md says; and the ledger of what is held there."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from fentro_core.base import units
from fentro_core.base.device import DeviceRefused
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import Json, read, write
from fentro_core.system.fresh_air import Ventilator, VentilatorControl
from fentro_core.ventilation.control import HELD
from fentro_server.accounts.models import Person
from fentro_server.controllers.overrides import ledger_first, new_entry, open_points, write_down
from fentro_server.controllers.wire import Wire, named, wired
from fentro_server.gateways.models import Kind
from fentro_server.visits.models import Visit

PREFIX = "ventilator/"
"""Begins the name under which the ledger knows what is held at a ventilator's control."""

NAMES: Mapping[str, str] = {
    "run": "Ventilator",
    "outdoor_c": "Ventilator's outdoor temperature",
    "dew_point_c": "Ventilator's outdoor dew point",
    "indoor_rh": "Ventilator's indoor humidity",
}


class HttpVentilator(Wire):
    """One ventilator's control behind the gateway; answers the core's `VentilatorGateway` protocol."""

    kind, plural = Kind.VENTILATORS, "ventilators"

    def points(self) -> Mapping[str, Any]:
        """What the control shows now."""
        return self.asked("GET", "/points")

    def settings(self) -> VentilatorControl:
        """What it is set to."""
        return read(self.asked("GET", "/settings"), VentilatorControl)

    def enter(self, control: VentilatorControl) -> None:
        """Set it to something else."""
        self.asked("PUT", "/settings", write(control))

    def hold(self, point: str, value: float) -> None:
        """Hold a point."""
        self.asked("PUT", f"/holds/{named(point)}", {"value": value})

    def release(self, point: str) -> None:
        """Let it go."""
        self.asked("DELETE", f"/holds/{named(point)}")

    def boost(self) -> None:
        """Start a boost."""
        self.asked("POST", "/boost", {})

    def built_as(self, ventilator: Ventilator, control: VentilatorControl) -> Json | None:
        """The scene of a simulated one, with the visit's ventilator behind it; None for a real one."""
        scene = self.scene()
        if scene is None or not scene.get("reachable") or scene["ventilator"] == write(ventilator):
            return scene
        return self.scene({"ventilator": write(ventilator), "control": write(control), "preset": ""})

    def look(self) -> Json:
        """What a walk around a simulated one would find now."""
        return self.asked("GET", "/look")


def connected_ventilator(visit: Visit, name: str) -> HttpVentilator | None:
    """The control of that name at the gateway of the visit's company and site, or None.

    Raises
    ------
    Refused
        The gateway's address is not allowed, or a name that is no control's.
    """
    return wired(HttpVentilator, visit, name, Refused("A control's name is more than dots.", "control_name"))


def held_words(point: str, value: float) -> str:
    """What is held, in both systems of units."""
    if point == "run":
        return f"Ventilator {'called' if value >= 0.5 else 'kept from running'} at its control"
    shown = [units.show(value, HELD[point][2], system) for system in ("SI", "US")]
    return f"{NAMES[point]} held at {shown[0] if shown[0] == shown[1] else f'{shown[0]} ({shown[1]})'}"


def hold_points(visit: Visit, person: Person, ventilator: HttpVentilator, wanted: Mapping[str, float]) -> None:
    """Hold points: each stands in the ledger before the control is told.

    Raises
    ------
    DeviceRefused, DeviceGone
        See `overrides.ledger_first`.
    """
    bodies = {
        f"{PREFIX}{point}": {"what": held_words(point, value), "undo": "Let it go at the ventilator's control", "value": value}
        for point, value in wanted.items()
    }

    def hold_one(point: str) -> None:
        name = point.removeprefix(PREFIX)
        ventilator.hold(name, wanted[name])

    ledger_first(visit, person, bodies, hold_one, DeviceRefused, "refused by the control")


def let_go(visit: Visit, person: Person, ventilator: HttpVentilator) -> list[str]:
    """Release everything, and close in the ledger what the control confirms. Answers what it still holds.

    Raises
    ------
    DeviceGone
        It does not answer: the ledger stays open.
    """
    for point in HELD:
        ventilator.release(point)
    still = [str(point) for point in ventilator.points()["held"]]
    undone = [
        new_entry("undone", {"change": entry, "how": "let go, confirmed by the control"})
        for point, entries in open_points(visit).items()
        if point.startswith(PREFIX) and point.removeprefix(PREFIX) not in still
        for entry in entries
    ]
    if undone:
        write_down(visit, person, undone)
    return still

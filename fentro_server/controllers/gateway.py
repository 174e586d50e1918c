"""The seam to a controller: JSON over HTTP as docs/controller.md says. A stand-in answers it; a real gateway can."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import Json
from fentro_core.economizer.places import ControllerGone, ControllerRefused
from fentro_server.controllers.wire import Wire, named
from fentro_server.gateways.addresses import Reached, reach
from fentro_server.gateways.models import Kind, gateway_of
from fentro_server.visits.models import Visit


class HttpController:
    """One unit's controller behind the gateway; answers the core's `Controller` protocol."""

    def __init__(self, gateway: str, reached: Reached, unit: str) -> None:
        self.gateway = gateway
        self.unit = unit
        self._wire = Wire(reached, f"/v1/units/{named(unit)}", ControllerGone, ControllerRefused)
        self._asked = self._wire.asked

    def close(self) -> None:
        """Give the connection back."""
        self._wire.close()

    def points(self) -> Mapping[str, Any]:
        """Every point's value by key."""
        return dict(self._asked("GET", "/points")["points"])

    def override(self, point: str, value: float) -> None:
        """Hold a point at a value."""
        self._asked("PUT", f"/overrides/{named(point)}", {"value": value})

    def release(self, point: str) -> None:
        """Let it go."""
        self._asked("DELETE", f"/overrides/{named(point)}")

    def alarms(self) -> list[Mapping[str, Any]]:
        """Standing alarms."""
        return list(self._asked("GET", "/alarms")["alarms"])

    def save(self) -> Json:
        """The configuration that runs now."""
        return self._asked("GET", "/configuration")

    def load(self, configuration: Json) -> None:
        """Run another configuration."""
        self._asked("PUT", "/configuration", configuration)

    def scene(self, change: Mapping[str, Any] | None = None) -> Json | None:
        """What is simulated, after a change if one is given; None for a real controller."""
        try:
            return self._asked("POST", "/scene", dict(change)) if change else self._asked("GET", "/scene")
        except ControllerGone:
            return None

    def hand(self, action: str, value: str) -> None:
        """Have the simulated unit's hand do something. A real one refuses."""
        self._asked("POST", "/hand", {"action": action, "value": value})

    def reference(self) -> dict[str, float]:
        """What a good probe shows at every place of a simulated unit [°C]."""
        return dict(self._asked("GET", "/reference")["reference_c"])


def controller(visit: Visit, unit: str) -> HttpController | None:
    """The controller of that name at the gateway of the visit's company and site, or None.

    Raises
    ------
    Refused
        The gateway's address is not allowed, or a name that is no unit's.
    """
    found = gateway_of(Kind.CONTROLLERS, visit.company_id, visit.system.site_id)
    if found is None or not unit:
        return None
    if unit.strip(".") == "":
        raise Refused("A unit's name is more than dots. A lead corrects it on the nameplate.", "controller")
    return HttpController(str(found.pk), reach(found.address, found.token), unit)

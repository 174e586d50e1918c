"""The seam to a controller: JSON over HTTP as docs/controller.md says. A stand-in answers it; a real gateway can."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from fentro_core.base.device import DeviceGone
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import Json
from fentro_core.economizer.answers import read_alarms, read_points
from fentro_server.controllers.wire import Wire, named, wired
from fentro_server.gateways.models import Kind
from fentro_server.visits.models import Visit


class HttpController(Wire):
    """One unit's controller behind the gateway; answers the core's `Controller` protocol."""

    kind, plural = Kind.CONTROLLERS, "units"

    def points(self) -> Mapping[str, Any]:
        """Every point's value by key, read and checked."""
        return read_points(self.asked("GET", "/points").get("points"))

    def override(self, point: str, value: float) -> None:
        """Hold a point at a value."""
        self.asked("PUT", f"/overrides/{named(point)}", {"value": value})

    def release(self, point: str) -> None:
        """Let it go."""
        self.asked("DELETE", f"/overrides/{named(point)}")

    def alarms(self) -> list[Mapping[str, Any]]:
        """Standing alarms."""
        return read_alarms(self.asked("GET", "/alarms").get("alarms"))

    def save(self) -> Json:
        """The configuration that runs now."""
        found = self.asked("GET", "/configuration")
        if "format" not in found:
            raise DeviceGone("The gateway's configuration is not in the open form that docs/controller.md names.")
        return found

    def load(self, configuration: Json) -> None:
        """Run another configuration."""
        self.asked("PUT", "/configuration", configuration)

    def hand(self, action: str, value: str) -> None:
        """Have the simulated unit's hand do something. A real one refuses."""
        self.asked("POST", "/hand", {"action": action, "value": value})

    def reference(self) -> dict[str, float]:
        """What a good probe shows at every place of a simulated unit [°C]."""
        return dict(self.asked("GET", "/reference")["reference_c"])


def controller(visit: Visit, unit: str) -> HttpController | None:
    """The controller of that name at the gateway of the visit's company and site, or None.

    Raises
    ------
    Refused
        The gateway's address is not allowed, or a name that is no unit's.
    """
    dots = Refused("A unit's name is more than dots. A lead corrects it on the nameplate.", "controller")
    return wired(HttpController, visit, unit, dots)

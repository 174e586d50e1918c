"""One device behind a gateway: JSON over HTTP, with silence and refusals told apart."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator, Mapping
from typing import Any, ClassVar, TypeVar
from urllib.parse import quote

import httpx

from fentro_core.base.device import DeviceGone, DeviceRefused
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import Json
from fentro_server.gateways.addresses import Reached, reach
from fentro_server.gateways.models import Kind, gateway_of
from fentro_server.visits.models import Visit

ANSWERS_WITHIN_S = 3.0


class Wire:
    """Asks a device; a gateway's protocol is a subclass.

    Attributes
    ----------
    gateway
        Its key.
    name
        As the gateway calls the device.
    kind, plural
        What its gateway leads to, and what all of them are called in a path.
    """

    kind: ClassVar[Kind]
    plural: ClassVar[str]

    def __init__(self, gateway: str, reached: Reached, name: str) -> None:
        self.gateway, self.name = gateway, name
        self._extensions = reached.extensions
        self._client = httpx.Client(
            base_url=f"{reached.base}/v1/{self.plural}/{named(name)}",
            headers=reached.headers,
            timeout=ANSWERS_WITHIN_S,
            trust_env=False,
            follow_redirects=False,
        )

    def close(self) -> None:
        """Give the connection back."""
        self._client.close()

    def asked(self, method: str, path: str, given: object = None) -> Json:
        """Its answer, a JSON object.

        Raises
        ------
        DeviceGone
            It does not answer, or not in this protocol.
        DeviceRefused
            It will not.
        """
        try:
            answer = self._client.request(method, path, json=given, extensions=self._extensions)
        except httpx.HTTPError as error:
            raise DeviceGone from error
        try:
            found = answer.json()
        except ValueError as error:
            raise DeviceGone from error
        if answer.status_code in (httpx.codes.UNPROCESSABLE_ENTITY, httpx.codes.CONFLICT):
            words = found.get("detail") if isinstance(found, dict) else None
            raise DeviceRefused(str(words or "The device refuses this."))
        if not answer.is_success or not isinstance(found, dict):
            raise DeviceGone
        return found

    def scene(self, change: Mapping[str, Any] | None = None) -> Json | None:
        """What is simulated, after a change if one is given; None for a real device."""
        try:
            return self.asked("POST", "/scene", dict(change)) if change else self.asked("GET", "/scene")
        except DeviceGone:
            return None


Device = TypeVar("Device", bound=Wire)


def named(name: str) -> str:
    """A device's name as a part of a path."""
    return quote(name, safe="")


def wired(made: type[Device], visit: Visit, name: str, dots: Refused) -> Device | None:
    """The device of that name at the gateway of the visit's company and site; None without a gateway or a name.

    Raises
    ------
    Refused
        The gateway's address is not allowed; `dots`: a name that is none.
    """
    found = gateway_of(made.kind, visit.company_id, visit.system.site_id)
    if found is None or not name:
        return None
    if name.strip(".") == "":
        raise dots
    return made(str(found.pk), reach(found.address, found.token), name)


@contextlib.contextmanager
def talking(device: Wire, silent: str, about: str, refused_at: str = "") -> Iterator[None]:
    """Talk to a device and hang up. Its silence (`silent`), its refusals, and answers in no known form become sentences."""
    try:
        yield
    except Refused:
        raise
    except (DeviceGone, KeyError, TypeError, ValueError):
        # Whatever answers there and does not speak this protocol is no such device.
        raise Refused(silent, about) from None
    except DeviceRefused as refused:
        raise Refused(str(refused).replace("{", "(").replace("}", ")"), refused_at or about) from None
    finally:
        device.close()


def scene_of(device: Wire | None) -> dict[str, Any]:
    """Of a simulated device, what its page shows of the simulation, asked while it is silent too; then hang up."""
    if device is None:
        return {}
    try:
        return shown_scene(device.scene())
    except DeviceRefused:
        return {}
    finally:
        device.close()


def shown_scene(scene: Mapping[str, Any] | None) -> dict[str, Any]:
    """What a page shows of a scene; nothing of a real device."""
    return {key: scene[key] for key in ("simulated", "speed", "preset", "presets", "reachable")} if scene else {}

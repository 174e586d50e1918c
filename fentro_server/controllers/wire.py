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
REFUSALS = (httpx.codes.BAD_REQUEST, httpx.codes.CONFLICT, httpx.codes.UNPROCESSABLE_ENTITY)
BUSY = (httpx.codes.TOO_MANY_REQUESTS, httpx.codes.SERVICE_UNAVAILABLE)


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

    @property
    def single(self) -> str:
        """What one of them is called."""
        return self.plural[:-1]

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
            It does not answer, or not in this protocol: in words what is wrong, where that is known.
        DeviceRefused
            It will not.
        """
        try:
            answer = self._client.request(method, path, json=given, extensions=self._extensions)
        except httpx.HTTPError as error:
            raise DeviceGone from error
        try:
            found = answer.json() if answer.content else None
        except ValueError:
            found = None
        if answer.status_code in REFUSALS:
            words = found.get("detail") if isinstance(found, dict) else None
            raise DeviceRefused(words if isinstance(words, str) and words.strip() else "The device refuses this.")
        if not answer.is_success:
            raise DeviceGone(self._wrong(answer.status_code))
        if isinstance(found, dict):
            return found
        if method in ("PUT", "DELETE") and not answer.content:
            return {}
        raise DeviceGone("What answers at the gateway's address does not speak this protocol. A lead looks at the address.")

    def _wrong(self, status: int) -> str:
        """An answer that is none, in words; nothing where a device behind the gateway is silent."""
        if status == httpx.codes.NOT_FOUND:
            return f"The gateway knows no {self.single} “{self.name}”. A lead corrects the name on the nameplate, or the gateway."
        if status in (httpx.codes.UNAUTHORIZED, httpx.codes.FORBIDDEN):
            return "The gateway does not let us in. A lead enters its token anew."
        if status in BUSY:
            return "The gateway has too much to do. Wait a minute, then try again."
        if status == httpx.codes.GATEWAY_TIMEOUT:
            return ""
        return f"The gateway fails with error {status}. Whoever keeps it looks at it."

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


UNREADABLE = "The gateway's answer can't be read. Its maker must look at it."


def _plain(said: Exception) -> str:
    """A device's words, fit to be shown."""
    return str(said).replace("{", "(").replace("}", ")")[:400]


@contextlib.contextmanager
def talking(device: Wire, silent: str, about: str, refused_at: str = "") -> Iterator[None]:
    """Talk to a device and hang up. Its silence (`silent`), its refusals, and answers in no known form become sentences."""
    try:
        yield
    except Refused:
        raise
    except DeviceGone as gone:
        raise Refused(_plain(gone) or silent, about) from None
    except (KeyError, TypeError, ValueError):
        raise Refused(UNREADABLE, about) from None
    except DeviceRefused as refused:
        raise Refused(_plain(refused), refused_at or about) from None
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

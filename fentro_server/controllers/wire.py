"""One device behind a gateway: JSON over HTTP, with silence and refusals told apart."""

from __future__ import annotations

from urllib.parse import quote

import httpx

from fentro_core.base.typed_json import Json
from fentro_server.gateways.addresses import Reached

ANSWERS_WITHIN_S = 3.0


class Wire:
    """Asks a device. `gone` and `refused`: what is raised when it does not answer, and when it will not."""

    def __init__(self, reached: Reached, path: str, gone: type[Exception], refused: type[Exception]) -> None:
        self._gone, self._refused = gone, refused
        self._extensions = reached.extensions
        self._client = httpx.Client(
            base_url=f"{reached.base}{path}",
            headers=reached.headers,
            timeout=ANSWERS_WITHIN_S,
            trust_env=False,
            follow_redirects=False,
        )

    def close(self) -> None:
        """Give the connection back."""
        self._client.close()

    def asked(self, method: str, path: str, given: object = None) -> Json:
        """Its answer, a JSON object."""
        try:
            answer = self._client.request(method, path, json=given, extensions=self._extensions)
        except httpx.HTTPError as error:
            raise self._gone from error
        try:
            found = answer.json()
        except ValueError as error:
            raise self._gone from error
        if answer.status_code in (httpx.codes.UNPROCESSABLE_ENTITY, httpx.codes.CONFLICT):
            words = found.get("detail") if isinstance(found, dict) else None
            raise self._refused(str(words or "The device refuses this."))
        if not answer.is_success or not isinstance(found, dict):
            raise self._gone
        return found


def named(name: str) -> str:
    """A device's name as a part of a path."""
    return quote(name, safe="")

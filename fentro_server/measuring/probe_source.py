"""The seam to live probes: what Fentro asks of any probe gateway, and the one over HTTP that ships with it."""

from __future__ import annotations

import json
from collections.abc import AsyncIterator, Awaitable, Callable, Mapping
from contextlib import asynccontextmanager
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, Protocol
from uuid import UUID

import httpx
from asgiref.sync import sync_to_async

from fentro_core.base.refusal import Refused
from fentro_server.gateways.addresses import Reached, reach
from fentro_server.gateways.models import Kind, gateway_of


@dataclass(frozen=True)
class Frame:
    """What all probes showed at one moment: values by serial and quantity (SI), who was out of reach, batteries 0 to 1."""

    at: datetime
    values: Mapping[str, Mapping[str, float]]
    lost: frozenset[str] = frozenset()
    battery: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class SystemPlace:
    """A system and the probes that hang in it; a gateway of real probes may use it as labels, or not at all."""

    system: str
    kind: str
    pressure_pa: float
    running_since: str | None
    places: Mapping[str, Mapping[str, Any]]


class SourceGone(Exception):
    """The probes' gateway does not answer."""


class ProbeSource(Protocol):
    """A gateway to live probes. Probes are known by serial number alone. `name`: by which one gateway is told from another."""

    name: str

    async def probes(self) -> list[dict[str, Any]]:
        """Every probe: serial, name, quantities, battery, reachable."""

    async def place(self, where: SystemPlace) -> None:
        """Tell where the probes of one system hang."""

    def frames(self, since: datetime | None, back_s: float) -> AsyncIterator[list[Frame]]:
        """Frames from a moment on, or, not knowing one, from so many seconds ago: first what was missed, then as they come."""

    async def scene(self, change: Mapping[str, Any] | None = None) -> dict[str, Any] | None:
        """What is simulated, after a change if one is given; None for real probes."""


class HttpProbes:
    """Probes that speak the open protocol of docs/probes.md."""

    def __init__(self, name: str, reach: Callable[[], Reached]) -> None:
        self.name = name
        self.reach = reach

    @asynccontextmanager
    async def _client(self, timeout: float | None = 3.0) -> AsyncIterator[httpx.AsyncClient]:
        limits = httpx.Timeout(3.0, read=timeout)
        try:
            reached = await sync_to_async(self.reach, thread_sensitive=False)()
            where = {"base_url": reached.base, "headers": reached.headers}
            async with httpx.AsyncClient(**where, timeout=limits, trust_env=False, follow_redirects=False) as client:
                client.event_hooks["request"] = [_with(reached)]
                yield client
        except (httpx.HTTPError, Refused) as error:
            raise SourceGone from error

    async def probes(self) -> list[dict[str, Any]]:
        async with self._client() as client:
            answer = (await client.get("/v1/probes")).raise_for_status().json()
        return list(answer["probes"])

    async def place(self, where: SystemPlace) -> None:
        async with self._client() as client:
            (await client.put("/v1/places", json=vars(where))).raise_for_status()

    async def scene(self, change: Mapping[str, Any] | None = None) -> dict[str, Any] | None:
        async with self._client() as client:
            answer = await (client.post("/v1/scene", json=dict(change)) if change else client.get("/v1/scene"))
        if answer.status_code == httpx.codes.NOT_FOUND:
            return None
        if not answer.is_success and answer.status_code != httpx.codes.UNPROCESSABLE_ENTITY:
            raise SourceGone
        return dict(answer.json())

    async def frames(self, since: datetime | None, back_s: float) -> AsyncIterator[list[Frame]]:
        parameters = {"since": since.isoformat()} if since else {"back": f"{back_s:.0f}"}
        async with self._client(timeout=SILENCE_S) as client, client.stream("GET", "/v1/stream", params=parameters) as answer:
            answer.raise_for_status()
            event = ""
            async for line in answer.aiter_lines():
                if line.startswith("event: "):
                    event = line[7:]
                elif line.startswith("data: ") and event == "frames":
                    yield [_frame(each) for each in json.loads(line[6:])]
        raise SourceGone


SILENCE_S = 30.0
"""A stream that is silent for longer is taken for dead."""


def _frame(given: Mapping[str, Any]) -> Frame:
    return Frame(datetime.fromisoformat(given["at"]), given["values"], frozenset(given.get("lost", ())), given.get("battery", {}))


def _with(reached: Reached) -> Callable[[httpx.Request], Awaitable[None]]:
    """Every request goes to the machine that was looked up, by its name."""

    async def add(request: httpx.Request) -> None:
        request.extensions.update(reached.extensions)

    return add


def source(company_id: UUID, site_id: UUID | None = None) -> ProbeSource | None:
    """The company's gateway of probes at a site, or None."""
    found = gateway_of(Kind.PROBES, company_id, site_id)
    if found is None:
        return None
    return HttpProbes(str(found.pk), lambda: reach(found.address, found.token))

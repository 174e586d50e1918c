"""How much a request may bring, by route: looked at before anything else is, signed in or not."""

from __future__ import annotations

import json
import re
from collections.abc import Awaitable, Callable
from typing import Any

from django.conf import settings

Scope = dict[str, Any]
Message = dict[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
App = Callable[[Scope, Receive, Send], Awaitable[None]]

KB = 1024
MB = 1024 * KB

ORDINARY = 64 * KB
BY_ROUTE: tuple[tuple[re.Pattern[str], int], ...] = (
    (re.compile(r"/api/v1/visits/[^/]+/logger-files(/look)?"), 64 * MB),
    (re.compile(r"/api/v1/visits/[^/]+/entries"), 4 * MB),
    (re.compile(r"/api/v1/visits/[^/]+/photos/[^/]+"), 3 * MB),
    (re.compile(r"/api/v1/visits/[^/]+/year-hours"), 4 * MB),
    (re.compile(r"/api/v1/visits/[^/]+/controller/load"), MB),
    (re.compile(r"/api/v1/points/look"), 4 * MB),
    (re.compile(r"/api/v1/ducts/look"), MB),
    (re.compile(r"/api/v1/calculations/[^/]+"), 2 * MB),
    (re.compile(r"/admin/.*"), MB),
)
"""The most that a request's body may have. What is not named here may have 64 kB."""


def most_of(scope: Scope) -> int:
    """The most that this request may bring [bytes]; without a session's cookie no more than the ordinary."""
    path = str(scope.get("path", ""))
    most = next((most for route, most in BY_ROUTE if route.fullmatch(path)), ORDINARY)
    cookies = [value for name, value in scope.get("headers", ()) if name == b"cookie"]
    named = f"{settings.SESSION_COOKIE_NAME}=".encode()
    return most if any(named in value for value in cookies) else min(most, ORDINARY)


class _TooLarge(Exception):
    """More came than was said."""


class Bounded:
    """An ASGI application that reads no more of a request than its route may bring."""

    def __init__(self, inner: App) -> None:
        self.inner = inner

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer 413 with a sentence for what is too large, the rest as the inner application does."""
        if scope["type"] != "http":
            await self.inner(scope, receive, send)
            return
        most, come = most_of(scope), 0
        said = next((value for name, value in scope["headers"] if name == b"content-length"), b"0")
        if not said.isdigit() or int(said[:18]) > most or len(said) > 18:
            await _refuse(send, most)
            return

        async def counted() -> Message:
            nonlocal come
            message = await receive()
            come += len(message.get("body", b"")) if message["type"] == "http.request" else 0
            if come > most:
                raise _TooLarge
            return message

        try:
            await self.inner(scope, counted, send)
        except _TooLarge:
            await _refuse(send, most)


async def _refuse(send: Send, most: int) -> None:
    much = f"{most // MB} MB" if most >= MB else f"{most // KB} kB"
    words = f"This is too large: at most {much} are taken here."
    problem = {"detail": words, "refusals": [{"path": "", "sentence": {"text": words, "numbers": {}}}]}
    body = json.dumps(problem).encode()
    headers = [
        (b"content-type", b"application/json"),
        (b"content-length", str(len(body)).encode()),
        (b"connection", b"close"),
        (b"cache-control", b"no-store"),
    ]
    await send({"type": "http.response.start", "status": 413, "headers": headers})
    await send({"type": "http.response.body", "body": body})

"""The ASGI application.

Views and middleware here are synchronous (they talk to the database), while answers may be streams. Django's own handler
hops to a thread and back several times for each request, and makes a thread for each; this one runs the whole of a request, with
its signals, in one thread of a few that stay, and streams from the event loop. Measured by ``bin/bench server``.
"""

from __future__ import annotations

import asyncio
import contextlib
import contextvars
import os
import sys
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import django
from asgiref.sync import sync_to_async
from django.core import signals
from django.core.exceptions import RequestAborted
from django.core.handlers.asgi import ASGIHandler, ASGIRequest, get_script_prefix
from django.db import connections
from django.http.response import HttpResponseBase
from django.urls import get_resolver, set_script_prefix

from fentro_server.bounds import Bounded
from fentro_server.tidying import tidy_up, tidy_when_idle

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fentro_server.settings.production")


THREADS = 8
"""Requests worked on at the same time by one process; each has a database connection while it is."""
IDLE_S = 0.01
"""After an answer; if no request is worked on then, the process tidies up."""


class OneThreadHandler(ASGIHandler):
    """Django's ASGI handler with its middleware loaded for one thread."""

    def __init__(self) -> None:
        super().__init__()
        self._threads = ThreadPoolExecutor(THREADS, thread_name_prefix="request")
        self._inside = 0

    def load_middleware(self, is_async: bool = False) -> None:
        """Always for synchronous use."""
        super().load_middleware(is_async=False)

    async def handle(self, scope: Any, receive: Any, send: Any) -> None:
        """Read the request, answer it in a thread, send the answer; stop when the other side hangs up."""
        try:
            body = await self.read_body(receive)
        except RequestAborted:
            return
        try:
            request, refused = self.create_request(scope, body)
            if request is None:
                await self.send_response(refused, send)
                return
            answering = asyncio.create_task(self._answer(request, scope, send))
            gone = asyncio.create_task(self._hung_up(receive))
            await asyncio.wait([answering, gone], return_when=asyncio.FIRST_COMPLETED)
            for task in (gone, answering):
                if not task.done():
                    task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await answering
        finally:
            body.close()

    async def _hung_up(self, receive: Any) -> None:
        while (await receive())["type"] != "http.disconnect":
            pass

    async def _answer(self, request: ASGIRequest, scope: Any, send: Any) -> None:
        call, loop = contextvars.copy_context().run, asyncio.get_running_loop()
        self._inside += 1
        try:
            response = await loop.run_in_executor(self._threads, call, self._answered, request, scope)
        finally:
            self._inside -= 1
            loop.call_later(IDLE_S, self._tidied)
        try:
            await self.send_response(response, send)
        finally:
            if response.streaming:
                await asyncio.shield(sync_to_async(response.close, thread_sensitive=True)())

    def _tidied(self) -> None:
        if not self._inside:
            tidy_up()

    def _answered(self, request: ASGIRequest, scope: Any) -> HttpResponseBase:
        """In the thread: the answer, whole unless it is a stream. The database connection is given back before it is sent."""
        set_script_prefix(get_script_prefix(scope))
        signals.request_started.send(sender=type(self), scope=scope)
        response = self.get_response(request)
        response._handler_class = type(self)
        if response.streaming:
            connections.close_all()
        else:
            response.close()
        return response


django.setup(set_prefix=False)
application = Bounded(OneThreadHandler())

# Routes, and with them everything that answers, are read now: else the first request of each worker waits for it.
routes = get_resolver().url_patterns

tidy_when_idle()

# A stream sends hundreds of times a second, and waits after each for its turn beside whoever works a visit out: shorter turns.
sys.setswitchinterval(0.0005)

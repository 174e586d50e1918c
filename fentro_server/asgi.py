"""The ASGI application.

Views and middleware here are synchronous (they talk to the database), while answers may be streams. Django's own handler
would run the middleware on the event loop and hop to a thread and back for each; this one runs the whole of a request in
one thread, and streams from the event loop. Measured by ``bin/bench server``.
"""

from __future__ import annotations

import gc
import os

import django
from asgiref.sync import sync_to_async
from django.core.handlers.asgi import ASGIHandler, ASGIRequest
from django.db import connections
from django.http.response import HttpResponseBase

from fentro_server.bounds import Bounded

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fentro_server.settings.production")


class OneThreadHandler(ASGIHandler):
    """Django's ASGI handler with its middleware loaded for one thread."""

    def load_middleware(self, is_async: bool = False) -> None:
        """Always for synchronous use."""
        super().load_middleware(is_async=False)

    async def get_response_async(self, request: ASGIRequest) -> HttpResponseBase:
        """The whole request in the request's own thread."""
        return await sync_to_async(self._answered, thread_sensitive=True)(request)

    def _answered(self, request: ASGIRequest) -> HttpResponseBase:
        """A stream gives its database connection back before it begins: it may go on for hours."""
        response = self.get_response(request)
        if response.streaming:
            connections.close_all()
        return response


django.setup(set_prefix=False)
application = Bounded(OneThreadHandler())

# What was made at start lives as long as the process: without this, the collector walks it all again every few requests.
gc.collect()
gc.freeze()
# Requests make much that lives shortly and is freed by itself; walking what is kept of visits at each turn would hold up every tenth.
gc.set_threshold(50_000, 20, 50)

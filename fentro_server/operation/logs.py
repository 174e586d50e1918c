"""Logs as one JSON object a line, each with the id of its request; never a name, an address, a body or a question's words."""

from __future__ import annotations

import logging
import re
import time
import uuid
from collections.abc import Callable
from contextvars import ContextVar

from django.http import HttpRequest, HttpResponse

from fentro_server.operation import numbers

request_id: ContextVar[str] = ContextVar("request_id", default="")

requests = logging.getLogger("fentro.requests")

_GOOD_ID = re.compile(r"[A-Za-z0-9._-]{8,64}")


class WithRequestId(logging.Filter):
    """Puts the id of the request that is answered on every line."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Always true."""
        record.request_id = request_id.get()
        return True


class Requests:
    """Middleware: an id for each request, one line when it is answered, and its time by route."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, and say how it went. An id that the proxy gave is kept."""
        given = request.headers.get("X-Request-ID", "")
        own = given if _GOOD_ID.fullmatch(given) else uuid.uuid4().hex
        token = request_id.set(own)
        begun = time.perf_counter()
        try:
            response = self.get_response(request)
            took = time.perf_counter() - begun
            route = route_of(request)
            numbers.answered(request.method or "", route, response.status_code, took)
            requests.info(
                "answered",
                extra={
                    "method": request.method,
                    "route": route,
                    "status": response.status_code,
                    "ms": round(took * 1000, 1),
                },
            )
        finally:
            request_id.reset(token)
        response["X-Request-ID"] = own
        return response


def route_of(request: HttpRequest) -> str:
    """The route's pattern, so that neither logs nor numbers hold ids; what is no route of ours stands together."""
    match = request.resolver_match
    if match is None:
        return "none"
    return "page" if match.url_name is None and not match.namespaces else f"/{match.route.lstrip('^')}"

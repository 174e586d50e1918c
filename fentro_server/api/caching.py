"""What the API answers belongs to who asked: nothing between here and there keeps it."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse


class NotKept:
    """Middleware: every answer of the API says that it is not to be kept."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """The answer, with the word on it."""
        response = self.get_response(request)
        if request.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response

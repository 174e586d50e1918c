"""Answers of the API are compressed: a visit is large, and the way to a roof is narrow."""

from __future__ import annotations

import gzip
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.utils.cache import patch_vary_headers

LEAST = 1_000
"""Bytes; less is not worth the work."""

LEVEL = 4
"""Of gzip: half the time of its usual level, and a tenth larger."""


class Smaller:
    """Compresses what is JSON and whole; a stream goes out as it comes.

    No answer holds a secret together with words of the asker, so its length tells nothing that is not its asker's own.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer, smaller where that is worth it and asked for."""
        response = self.get_response(request)
        if not isinstance(response, HttpResponse) or response.has_header("Content-Encoding"):
            return response
        if len(response.content) < LEAST or not response.get("Content-Type", "").startswith("application/json"):
            return response
        patch_vary_headers(response, ("Accept-Encoding",))
        if "gzip" in request.headers.get("Accept-Encoding", ""):
            response.content = gzip.compress(response.content, LEVEL, mtime=0)
            response["Content-Encoding"] = "gzip"
            response["Content-Length"] = str(len(response.content))
        return response

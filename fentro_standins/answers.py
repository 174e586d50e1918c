"""How the simulated services read a request's JSON and refuse in words."""

from __future__ import annotations

from typing import Any

from starlette.requests import Request
from starlette.responses import JSONResponse, Response


async def given_object(request: Request) -> dict[str, Any]:
    """The request's JSON object; an empty one when it is none."""
    try:
        given = await request.json()
    except ValueError:
        return {}
    return given if isinstance(given, dict) else {}


def refused(words: str, path: str, status: int = 422) -> Response:
    """A refusal: the sentence, and the field it is about."""
    return JSONResponse({"detail": words, "path": path}, status_code=status)

"""Serves the one page of the built interface; its files are WhiteNoise's."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe


@require_safe
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The interface's page, never cached: it names the current build's files."""
    built = settings.WEB_BUILD / "index.html"
    if not built.is_file():
        return HttpResponse("The interface is not built yet. Run bin/demo, or npm run build in web/.", status=503)
    response = HttpResponse(built.read_bytes(), content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response

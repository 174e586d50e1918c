"""The API under /api/v1: routers, and how every kind of failure is answered."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.db import connection
from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, ValidationError

from fentro_core.base.refusal import Refused
from fentro_server.api import calculations, controller, economizer, history, instruments, measuring, session, temporary, work
from fentro_server.api.access import SignedIn
from fentro_server.api.errors import NotAllowed, Problem, plain, refusal_of

api = NinjaAPI(title="Fentro", version="1", auth=SignedIn(), docs_url=None, urls_namespace="fentro")
api.add_router("/session", session.router)
api.add_router("/calculations", calculations.router)
api.add_router("", work.router)
api.add_router("", history.router)
api.add_router("", temporary.router)
api.add_router("", instruments.router)
api.add_router("", measuring.router)
api.add_router("", economizer.router)
api.add_router("", controller.router)

if "fentro_server.demo" in settings.INSTALLED_APPS:
    from fentro_server.demo.api import router as demo_router

    api.add_router("/demo", demo_router)


@api.get("/health", auth=None, response=dict[str, str], tags=["health"])
def health(request: HttpRequest) -> dict[str, str]:
    """Answers when the server and its database do."""
    with connection.cursor() as cursor:
        cursor.execute("select 1")
    return {"state": "ready"}


@api.exception_handler(Refused)
def on_refused(request: HttpRequest, refused: Refused) -> HttpResponse:
    """422 with the field's path and the sentence."""
    problem = Problem(detail=refused.sentence.say(), refusals=[refusal_of(refused)])
    return api.create_response(request, problem.model_dump(), status=422)


@api.exception_handler(ValidationError)
def on_invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    """422 for a request that has not the expected form."""
    first: Any = error.errors[0] if error.errors else {"loc": (), "msg": "not the expected form"}
    path = ".".join(str(part) for part in first["loc"] if part not in ("body", "given", "path"))
    return api.create_response(request, plain(f"This can't be read: {first['msg']}.", path), status=422)


@api.exception_handler(NotAllowed)
def on_not_allowed(request: HttpRequest, error: NotAllowed) -> HttpResponse:
    """403 with who may."""
    return api.create_response(request, plain(str(error)), status=403)


@api.exception_handler(AuthenticationError)
def on_signed_out(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
    """401: sign in first."""
    return api.create_response(request, plain("Sign in first."), status=401)


@api.exception_handler(Http404)
def on_missing(request: HttpRequest, error: Http404) -> HttpResponse:
    """404, the same for what does not exist and what belongs to another company."""
    return api.create_response(request, plain("There is no such thing here."), status=404)

"""The API under /api/v1: routers, and how every kind of failure is answered."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.conf import settings
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.template.loader import render_to_string
from ninja import NinjaAPI, Status
from ninja.errors import AuthenticationError, HttpError, ValidationError

from fentro_core.base.refusal import Refused
from fentro_server.api import (
    audit,
    calculations,
    company,
    controller,
    ducts,
    economizer,
    gateways,
    history,
    instruments,
    invitations,
    measuring,
    people,
    photos,
    places,
    planning,
    practice,
    records,
    search,
    session,
    temporary,
    tokens,
    ventilation,
    ventilator,
    work,
    zone_board,
)
from fentro_server.api.access import ByToken, SignedIn
from fentro_server.api.errors import NotAllowed, Problem, plain, refusal_of
from fentro_server.api.parser import ODD_LETTER, CarefulParser, OddLetter
from fentro_server.operation import numbers


def for_the_signed_in(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """The API's description: for whoever is signed in, or for all where the operator says so."""

    @wraps(view)
    def seen(request: HttpRequest, *given: Any, **named: Any) -> HttpResponse:
        if settings.FENTRO_OPEN_SCHEMA or request.user.is_authenticated:
            return view(request, *given, **named)
        return JsonResponse(plain("Sign in first."), status=401)

    return seen


CHANGES = ("post", "put", "patch", "delete")


class Described(NinjaAPI):
    """Every operation also tells what any of them may answer: signed out, page out of date, not to be read, too large."""

    def get_openapi_schema(self, **words: Any) -> Any:
        """The API's description."""
        schema = super().get_openapi_schema(**words)
        said = {"content": {"application/json": {"schema": {"$ref": "#/components/schemas/Problem"}}}}
        for operations in schema["paths"].values():
            for method, operation in operations.items():
                may = {422: "It can't be read, or can't be used"}
                if operation.get("security"):
                    may[401] = "Sign in first"
                if method in CHANGES:
                    may |= {400: "No JSON", 403: "The page is out of date, or the person may not", 413: "Too large"}
                for status, words_of in may.items():
                    operation["responses"].setdefault(status, {"description": words_of, **said})
        return schema


api = Described(
    title="Fentro",
    version="1",
    auth=[ByToken(), SignedIn()],
    docs_url=None,
    docs_decorator=for_the_signed_in,
    urls_namespace="fentro",
    parser=CarefulParser(),
)
api.add_router("/session", session.router)
api.add_router("/calculations", calculations.router)
api.add_router("", work.router)
api.add_router("", places.router)
api.add_router("/people", people.router)
api.add_router("", photos.router)
api.add_router("", records.router)
api.add_router("", audit.router)
api.add_router("", search.router)
api.add_router("", tokens.router)
api.add_router("", company.router)
api.add_router("", invitations.router)
api.add_router("", planning.router)
api.add_router("", practice.router)
api.add_router("", history.router)
api.add_router("", temporary.router)
api.add_router("", instruments.router)
api.add_router("", measuring.router)
api.add_router("", economizer.router)
api.add_router("", controller.router)
api.add_router("", zone_board.router)
api.add_router("", ventilator.router)
api.add_router("", ducts.router)
api.add_router("", ventilation.router)
api.add_router("", gateways.router)

if "fentro_server.demo" in settings.INSTALLED_APPS:
    from fentro_server.demo.api import router as demo_router

    api.add_router("/demo", demo_router)


@api.get("/health", auth=None, response=dict[str, str], tags=["health"])
def health(request: HttpRequest) -> dict[str, str]:
    """Answers when the server does, whatever its database says."""
    return {"state": "up"}


@api.get("/ready", auth=None, response={200: dict[str, str], 503: Problem}, tags=["health"])
def ready(request: HttpRequest) -> Any:
    """Answers when the server's database does, and is of this version."""
    try:
        executor = MigrationExecutor(connection)
        behind = executor.migration_plan(executor.loader.graph.leaf_nodes())
    except DatabaseError:
        return Status(503, plain("The database does not answer."))
    if behind:
        return Status(503, plain("The database is not of this version yet: bring it up to date."))
    return {"state": "ready"}


@api.get("/reference", auth=None, include_in_schema=False)
def reference(request: HttpRequest) -> HttpResponse:
    """The API's description as a page: without a script, and without anything from elsewhere."""
    return for_the_signed_in(_reference)(request)


def _reference(request: HttpRequest) -> HttpResponse:
    schema = api.get_openapi_schema()
    groups: dict[str, list[Any]] = {}
    for path, operations in schema["paths"].items():
        for method, operation in operations.items():
            said = {
                "method": method.upper(),
                "path": path,
                "summary": operation.get("description") or operation.get("summary"),
                "parameters": operation.get("parameters", []),
                "answers": sorted(map(str, operation["responses"])),
                "body": _body_of(operation),
            }
            groups.setdefault((operation.get("tags") or ["other"])[0], []).append(said)
    context = {"groups": sorted(groups.items()), "version": schema["info"]["version"]}
    return HttpResponse(render_to_string("api/reference.html", context), content_type="text/html; charset=utf-8")


def _body_of(operation: dict[str, Any]) -> str:
    """Name of the shape that the request's body has; "" where there is none or it has no name."""
    content = operation.get("requestBody", {}).get("content", {})
    named = [each.get("schema", {}).get("$ref", "") for each in content.values()]
    return next((name.rpartition("/")[2] for name in named if name), "")


@api.get("/metrics", auth=None, include_in_schema=False)
def metrics(request: HttpRequest) -> HttpResponse:
    """Numbers to watch, for the operator's tools."""
    return numbers.show(request)


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


@api.exception_handler(HttpError)
def on_error(request: HttpRequest, error: HttpError) -> HttpResponse:
    """A body that is no JSON, a text that can't be kept, or a page whose token is out of date.

    A device renews a token by itself, and knows that it must by the answer's having no refusals.
    """
    if error.status_code == 403:
        return api.create_response(request, {"detail": session.CSRF_MISSING}, status=403)
    if isinstance(error.__cause__, OddLetter):
        return api.create_response(request, plain(ODD_LETTER), status=422)
    words = "This is not JSON." if error.status_code == 400 else str(error)
    return api.create_response(request, plain(words), status=error.status_code)


@api.exception_handler(ValueError)
def on_odd_value(request: HttpRequest, error: ValueError) -> HttpResponse:
    """422 for a letter in an address that the database can't be asked for; anything else is a fault of ours."""
    if isinstance(error, UnicodeError) or "NUL" in str(error):
        return api.create_response(request, plain(ODD_LETTER), status=422)
    raise error


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

"""The core's calculations over HTTP, the same as on the command line."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Body, Router
from pydantic import BaseModel

from fentro_core import catalogue
from fentro_core.base import calculation
from fentro_core.base.working import Line
from fentro_core.logbook.snapshot import snapshot_schema
from fentro_server.api.errors import Problem
from fentro_server.api.timed import in_time

router = Router(tags=["calculations"])


class CalculationLine(BaseModel):
    """A calculation's name and title."""

    name: str
    title: str


class Calculated(BaseModel):
    """Result with half-widths, share of variance by source, working."""

    calculation: str
    result: dict[str, Any]
    shares: dict[str, dict[str, float]]
    working: list[Line]


@router.get("", response=list[CalculationLine])
def listing(request: HttpRequest) -> list[dict[str, str]]:
    """Every calculation."""
    assert catalogue.MODULES
    return [{"name": each.name, "title": each.title} for each in calculation.REGISTRY.values()]


@router.get("/schema/visit", response=dict)
def visit_schema(request: HttpRequest) -> dict[str, Any]:
    """JSON Schema of a visit's snapshot."""
    return snapshot_schema()


@router.get("/{name}", response={200: dict, 422: Problem})
def description(request: HttpRequest, name: str) -> dict[str, Any]:
    """JSON Schemas of a calculation's input and output."""
    return calculation.describe(name)


@router.post("/{name}", response={200: Calculated, 422: Problem})
def run(request: HttpRequest, name: str, given: dict[str, Any] = Body(...)) -> dict[str, Any]:  # noqa: B008
    """Run a calculation on JSON; at most five seconds."""
    with in_time():
        return calculation.run(name, given)

"""Gateways of live probes, controllers and zone boards: registered, checked and removed by a lead, each for the own company."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from django.db import IntegrityError, transaction
from django.http import Http404, HttpRequest
from ninja import Router
from pydantic import BaseModel, Field

from fentro_core.base.refusal import Refused
from fentro_server.accounts.models import Person, Role
from fentro_server.api.access import person_of
from fentro_server.api.errors import NotAllowed, Problem
from fentro_server.gateways.addresses import reach
from fentro_server.gateways.checking import check_connection
from fentro_server.gateways.models import Gateway, Kind
from fentro_server.places.models import Site

router = Router(tags=["gateways"])


class GatewayLine(BaseModel):
    """A gateway, and what came of the last look at it. `site`: None for all sites of the company."""

    id: UUID
    kind: str
    kind_name: str
    name: str
    address: str
    site: UUID | None
    site_name: str
    has_token: bool
    answered: bool | None
    words: str
    checked_at: datetime | None


class SiteChoice(BaseModel):
    """A site that a gateway may be of."""

    id: UUID
    name: str


class GatewayList(BaseModel):
    """The company's gateways, and the sites to choose from."""

    gateways: list[GatewayLine]
    sites: list[SiteChoice]


class NewGateway(BaseModel):
    """A gateway to register."""

    kind: Literal["probes", "controllers", "zone_boards", "ventilators"]
    name: str = Field(..., min_length=1, max_length=80)
    address: str = Field(..., min_length=1, max_length=200)
    site: UUID | None = None
    token: str = Field("", max_length=200)


def _lead(request: HttpRequest) -> Person:
    person = person_of(request)
    if person.role != Role.LEAD:
        raise NotAllowed("Only a lead registers gateways.")
    return person


def _line(row: Gateway) -> GatewayLine:
    return GatewayLine(
        id=row.pk,
        kind=row.kind,
        kind_name=Kind(row.kind).label,
        name=row.name,
        address=row.address,
        site=row.site_id,
        site_name=row.site.name if row.site else "",
        has_token=bool(row.token),
        answered=row.answered,
        words=row.words,
        checked_at=row.checked_at,
    )


def _owned(person: Person, gateway_id: UUID) -> Gateway:
    found = Gateway.objects.of(person.company_id).select_related("site").filter(pk=gateway_id).first()
    if found is None:
        raise Http404
    return found


@router.get("/gateways", response={200: GatewayList, 403: Problem})
def gateways(request: HttpRequest) -> GatewayList:
    """Every gateway of the company."""
    person = _lead(request)
    rows = Gateway.objects.of(person.company_id).select_related("site")
    sites = Site.objects.of(person.company_id).filter(practice=False).order_by("name")[:500]
    return GatewayList(gateways=[_line(row) for row in rows], sites=[SiteChoice(id=each.pk, name=each.name) for each in sites])


@router.post("/gateways", response={200: GatewayLine, 403: Problem, 422: Problem})
def add_gateway(request: HttpRequest, given: NewGateway) -> GatewayLine:
    """Register a gateway, and look whether it answers. One that does not is registered all the same: it may be switched off."""
    person = _lead(request)
    if not given.name.strip():
        raise Refused("Give it a name.", "name")
    site = Site.objects.of(person.company_id).filter(pk=given.site, practice=False).first() if given.site else None
    if given.site and site is None:
        raise Refused("There is no such site.", "site")
    if not given.token.isascii() or not (given.token.isprintable() or not given.token):
        raise Refused("A token is plain letters and digits.", "token")
    reach(given.address.strip())
    fresh = {"kind": given.kind, "name": given.name.strip(), "address": given.address.strip(), "site": site, "token": given.token}
    try:
        with transaction.atomic():
            row = Gateway.objects.create(company_id=person.company_id, **fresh)
    except IntegrityError:
        raise Refused("There is a gateway of this name already.", "name") from None
    check_connection(row)
    return _line(row)


@router.post("/gateways/{gateway_id}/check", response={200: GatewayLine, 403: Problem, 404: Problem})
def check_gateway(request: HttpRequest, gateway_id: UUID) -> GatewayLine:
    """Look whether it answers now, and say why not."""
    row = _owned(_lead(request), gateway_id)
    check_connection(row)
    return _line(row)


@router.delete("/gateways/{gateway_id}", response={200: dict[str, Any], 403: Problem, 404: Problem})
def remove_gateway(request: HttpRequest, gateway_id: UUID) -> dict[str, Any]:
    """Forget a gateway. What it measured stays."""
    _owned(_lead(request), gateway_id).delete()
    return {"removed": True}

"""Sites and systems made on the spot, by whoever records: what a device made without signal comes in later, under its own id."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar
from uuid import UUID

from django.db import IntegrityError, transaction
from django.http import Http404, HttpRequest
from ninja import Router, Status
from pydantic import BaseModel, Field

from fentro_core.base.refusal import Refused
from fentro_core.logbook import snapshot as core
from fentro_core.system.kinds import read_nameplate
from fentro_server.accounts.models import Person
from fentro_server.api.access import may_record, person_of
from fentro_server.api.errors import Problem, plain
from fentro_server.places.models import Site, System

router = Router(tags=["places"])

Row = TypeVar("Row")

MOST_NAMESAKES = 50


class NewSite(BaseModel):
    """A site: its name; elevation [m] or a barometer reading [Pa]; climate zone. The id is made by the device."""

    id: UUID
    name: str = Field(..., min_length=1, max_length=100)
    elevation_m: float = 0.0
    barometer_pa: float | None = None
    climate_zone: str = Field("", max_length=2)


class NewSystem(BaseModel):
    """A system: kind, and what its nameplate says (SI; what is not known is left out). The id is made by the device."""

    id: UUID
    name: str = Field(..., min_length=1, max_length=100)
    kind: str = Field(..., max_length=30)
    location: str = Field("", max_length=200)
    nameplate: dict[str, Any] = {}


class Made(BaseModel):
    """What was made, under the name it has now: another of the same name may have been there first."""

    id: UUID
    name: str


USED = "This number is already used. Start again."


@router.post("/sites", response={200: Made, 403: Problem, 409: Problem, 422: Problem})
def make_site(request: HttpRequest, given: NewSite) -> Any:
    """Make a site. Repeating the same request makes it once; a name already taken gets a number behind it."""
    person = person_of(request)
    may_record(person)
    name = name_of(given.name)
    site = core.Site(name, given.elevation_m, given.barometer_pa, given.climate_zone)
    try:
        core.check_site(site)
    except Refused as refused:
        raise refused.at(refused.path.removeprefix("site.")) from refused
    known = Site.objects.filter(pk=given.id).first()
    if known is not None:
        return _again(known, person)
    fields = {"elevation_m": site.elevation_m, "barometer_pa": site.barometer_pa, "climate_zone": site.climate_zone}
    found = under_a_free_name(
        lambda called: Site.objects.create(pk=given.id, company_id=person.company_id, name=called, **fields), name
    )
    return Made(id=found.pk, name=found.name)


@router.post("/sites/{site_id}/systems", response={200: Made, 403: Problem, 404: Problem, 409: Problem, 422: Problem})
def make_system(request: HttpRequest, site_id: UUID, given: NewSystem) -> Any:
    """Make a system at a site. Repeating the same request makes it once; a name already taken there gets a number behind it."""
    person = person_of(request)
    may_record(person)
    name = name_of(given.name)
    read_nameplate(given.kind, given.nameplate)
    site = Site.objects.of(person.company_id).filter(pk=site_id).first()
    if site is None:
        raise Http404
    known = System.objects.filter(pk=given.id).first()
    if known is not None:
        return _again(known, person)
    fields = {"kind": given.kind, "location": given.location.strip(), "nameplate": given.nameplate}
    found = under_a_free_name(
        lambda called: System.objects.create(pk=given.id, company_id=person.company_id, site=site, name=called, **fields), name
    )
    return Made(id=found.pk, name=found.name)


def name_of(given: str) -> str:
    """A name without blanks around it; refused when nothing is left."""
    name = " ".join(given.split())
    if not name:
        raise Refused("Give it a name.", "name")
    return name


def _again(known: Site | System, person: Person) -> Any:
    if known.company_id != person.company_id:
        return Status(409, plain(USED, "id"))
    return Made(id=known.pk, name=known.name)


def under_a_free_name(make: Callable[[str], Row], name: str) -> Row:
    """Made under its name, or under the first that is free: two who met the same unit without signal both keep theirs."""
    for number in range(1, MOST_NAMESAKES):
        try:
            with transaction.atomic():
                return make(name if number == 1 else f"{name} ({number})")
        except IntegrityError:
            continue
    raise Refused("There are too many of this name. Give it another.", "name")

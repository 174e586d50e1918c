"""Sites and systems: made on the spot by whoever records, also without signal, then under the device's id; set right by leads."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.http import Http404, HttpRequest
from ninja import Router, Status
from pydantic import BaseModel, Field

from fentro_core.base.refusal import Refused
from fentro_core.logbook import snapshot as core
from fentro_core.logbook.corrections import CorrectedSite, CorrectedSystem
from fentro_core.system.kinds import read_nameplate
from fentro_server.accounts.models import Person
from fentro_server.api.access import lead_of, may_record, person_of
from fentro_server.api.errors import Problem, plain
from fentro_server.places.correcting import correct_site, correct_system
from fentro_server.places.models import Site, System
from fentro_server.places.naming import name_of, under_a_free_name

router = Router(tags=["places"])


class SiteAsItIs(BaseModel):
    """A site: its name; elevation [m] or a barometer reading [Pa]; climate zone."""

    name: str = Field(..., min_length=1, max_length=100)
    elevation_m: float = 0.0
    barometer_pa: float | None = None
    climate_zone: str = Field("", max_length=2)


class NewSite(SiteAsItIs):
    """One that is made. The id is made by the device."""

    id: UUID


class SystemAsItIs(BaseModel):
    """A system: name, kind, where it stands, and what its nameplate says (SI; what is not known is left out)."""

    name: str = Field(..., min_length=1, max_length=100)
    kind: str = Field(..., max_length=30)
    location: str = Field("", max_length=200)
    nameplate: dict[str, Any] = {}


class NewSystem(SystemAsItIs):
    """One that is made. The id is made by the device."""

    id: UUID


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
    _check_site(site)
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
    if site.practice:
        raise Refused("This site is made up, to practise on, and can be deleted. Choose another.", "site")
    known = System.objects.filter(pk=given.id).first()
    if known is not None:
        return _again(known, person)
    fields = {"kind": given.kind, "location": given.location.strip(), "nameplate": given.nameplate}
    found = under_a_free_name(
        lambda called: System.objects.create(pk=given.id, company_id=person.company_id, site=site, name=called, **fields), name
    )
    return Made(id=found.pk, name=found.name)


def _again(known: Site | System, person: Person) -> Any:
    if known.company_id != person.company_id:
        return Status(409, plain(USED, "id"))
    return Made(id=known.pk, name=known.name)


@router.put("/systems/{system_id}/nameplate", response={200: Made, 403: Problem, 404: Problem, 422: Problem})
def set_system_right(request: HttpRequest, system_id: UUID, given: SystemAsItIs) -> Any:
    """Set right what is known of a system, on every visit. A technician does it within a visit, by an entry."""
    person = lead_of(request)
    system = System.objects.of(person.company_id).filter(pk=system_id).first()
    if system is None:
        raise Http404
    read_nameplate(given.kind, given.nameplate)
    correct_system(system, CorrectedSystem(given.name, given.kind, given.location, given.nameplate))
    return Made(id=system.pk, name=system.name)


@router.put("/sites/{site_id}", response={200: Made, 403: Problem, 404: Problem, 422: Problem})
def set_site_right(request: HttpRequest, site_id: UUID, given: SiteAsItIs) -> Any:
    """Set right what is known of a site, for every system on it."""
    person = lead_of(request)
    site = Site.objects.of(person.company_id).filter(pk=site_id).first()
    if site is None:
        raise Http404
    to = CorrectedSite(given.name, given.elevation_m, given.barometer_pa, given.climate_zone)
    _check_site(to.site())
    correct_site(site, to)
    return Made(id=site.pk, name=site.name)


def _check_site(site: core.Site) -> None:
    try:
        core.check_site(site)
    except Refused as refused:
        raise refused.at(refused.path.removeprefix("site.")) from refused

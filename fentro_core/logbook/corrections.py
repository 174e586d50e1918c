"""What is known of a system and its site, set right on the spot, and which system it is: on every visit from then on."""

from __future__ import annotations

import json
from dataclasses import dataclass, field
from typing import Any
from uuid import UUID

from fentro_core.base.refusal import Refused
from fentro_core.logbook.kinds import EntryKind, register
from fentro_core.logbook.snapshot import Site, check_site
from fentro_core.system.kinds import read_nameplate

LONGEST_NAME = 100
LONGEST_LOCATION = 200
LONGEST_BEFORE = 400_000
"""A nameplate with all ducts."""


@dataclass(frozen=True)
class CorrectedSystem:
    """A system as it is: name, kind, where it stands, nameplate (SI; not known: left out); `was`: as it stood before."""

    name: str
    kind: str
    location: str = ""
    nameplate: dict[str, Any] = field(default_factory=dict)
    was: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class CorrectedSite:
    """A site as it is: elevation [m] or barometer [Pa], climate zone; `was`: as it stood before."""

    name: str
    elevation_m: float = 0.0
    barometer_pa: float | None = None
    climate_zone: str = ""
    was: dict[str, Any] = field(default_factory=dict)

    def site(self) -> Site:
        """As a visit knows it."""
        return Site(self.name, self.elevation_m, self.barometer_pa, self.climate_zone)


@dataclass(frozen=True)
class KnownSystem:
    """The visit is at this system, known to the company, and not at the one it was begun at.

    `was`: that one's name and site; `same`: it was only made for this visit, and is to be in no list any more.
    """

    system_id: str
    name: str
    site: str
    was: str = ""
    same: bool = False


def _check_name(name: str) -> None:
    """Refuse a name that is none, or longer than a list can show."""
    if not name.strip():
        raise Refused("Give it a name.", "name")
    if len(name) > LONGEST_NAME:
        raise Refused("This name is too long. Keep it under 100 letters.", "name")


def _check_before(was: dict[str, Any]) -> None:
    if len(json.dumps(was, default=str)) > LONGEST_BEFORE:
        raise Refused("What stood there before is too long.", "was")


def _check_system(body: CorrectedSystem) -> None:
    _check_name(body.name)
    if len(body.location) > LONGEST_LOCATION:
        raise Refused("Say in fewer words where it stands.", "location")
    read_nameplate(body.kind, body.nameplate)
    _check_before(body.was)


def _check_site(body: CorrectedSite) -> None:
    _check_name(body.name)
    try:
        check_site(body.site())
    except Refused as refused:
        raise refused.at(refused.path.removeprefix("site.")) from refused
    _check_before(body.was)


def _check_known(body: KnownSystem) -> None:
    try:
        UUID(body.system_id)
    except ValueError:
        raise Refused("Choose the system from the list.", "system_id") from None
    for name, text in (("name", body.name), ("site", body.site), ("was", body.was)):
        if len(text) > 2 * LONGEST_NAME + 2:
            raise Refused("This name is too long. Keep it under 100 letters.", name)


register(
    EntryKind(key="known_system", body=KnownSystem, name="Moved to a known system", check=_check_known, final=True),
    EntryKind(key="corrected_system", body=CorrectedSystem, name="System corrected", check=_check_system, final=True),
    EntryKind(key="corrected_site", body=CorrectedSite, name="Site corrected", check=_check_site, final=True),
)

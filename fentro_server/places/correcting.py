"""Setting right what is known of a site or a system, on every visit from then on."""

from __future__ import annotations

from fentro_core.base.refusal import Refused
from fentro_core.logbook.corrections import CorrectedSite, CorrectedSystem
from fentro_server.places.models import Site, System
from fentro_server.places.naming import name_of, under_a_free_name


def correct_system(system: System, to: CorrectedSystem) -> None:
    """Name (with a number behind it where it is taken there), kind, location and nameplate."""
    system.kind, system.location, system.nameplate = to.kind, to.location.strip(), to.nameplate
    _save(system, to.name, ["kind", "location", "nameplate"])


def correct_site(site: Site, to: CorrectedSite) -> None:
    """Name (with a number behind it where it is taken), elevation or barometer, and climate zone."""
    site.elevation_m, site.barometer_pa, site.climate_zone = to.elevation_m, to.barometer_pa, to.climate_zone
    _save(site, to.name, ["elevation_m", "barometer_pa", "climate_zone"])


def _save(row: Site | System, name: str, fields: list[str]) -> None:
    """What was set right counts, also where no name like this is free any more: then the old one stays."""
    before = row.name

    def save(free: str) -> None:
        row.name = free
        row.save(update_fields=["name", *fields])

    try:
        under_a_free_name(save, name_of(name))
    except Refused:
        row.name = before
        row.save(update_fields=fields)

"""Setting right what is known of a site or a system, on every visit from then on."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import read, write
from fentro_core.ducts.calibrate import turned
from fentro_core.ducts.entries import OF_DUCTS, DamperTurned
from fentro_core.ducts.walked import laid_over
from fentro_core.logbook.corrections import CorrectedSite, CorrectedSystem
from fentro_core.logbook.entry import Entry
from fentro_core.system.ducts import DuctTree
from fentro_core.system.fresh_air import FreshAir
from fentro_core.system.night_setup import NightPlanned, NightSetup
from fentro_core.ventilation.kept import left_by
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


def keep_ducts(system: System, walked: DuctTree | None) -> None:
    """The ducts as a visit that was closed left them: the next visit begins with them."""
    if walked is not None:
        system.nameplate = {**system.nameplate, "ducts": write(walked)}
        system.save(update_fields=["nameplate"])


def keep_fresh_air(system: System, entries: Iterable[Entry]) -> None:
    """Dwelling, ventilator and control as a visit that was closed left them."""
    known = system.nameplate.get("fresh_air")
    left = left_by(read(known, FreshAir) if known else None, entries)
    if left is not None:
        system.nameplate = {**system.nameplate, "fresh_air": write(left)}
        system.save(update_fields=["nameplate"])


def keep_night(system: System, entries: Iterable[Entry]) -> None:
    """What a night's plan needs, and the last one, as a visit that was closed left them."""
    last = {type(entry.body): entry.body for entry in entries if isinstance(entry.body, NightSetup | NightPlanned)}
    kept = {name: write(last[kind]) for name, kind in (("night", NightSetup), ("night_plan", NightPlanned)) if kind in last}
    if kept:
        system.nameplate = {**system.nameplate, **kept}
        system.save(update_fields=["nameplate"])


def ducts_walked(known: Any, entries: Iterable[Entry]) -> DuctTree | None:
    """The tree with what a visit said of it, handles where they stand now; None where it said nothing."""
    said = [entry for entry in entries if entry.kind in OF_DUCTS]
    if not said:
        return None
    tree = laid_over(read(known, DuctTree) if known else DuctTree(), said)
    places = {entry.body.branch: entry.body for entry in said if isinstance(entry.body, DamperTurned)}
    return turned(tree, tuple((each.branch, each.damper_deg, each.register_open) for each in places.values()))


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

"""Who holds a unit: one visit at a time. What another visit holds is shown with its name, and let go by nobody unasked."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.refusal import Refused
from fentro_core.economizer.places import POINTS
from fentro_server.controllers.overrides import open_points
from fentro_server.places.models import System
from fentro_server.visits.models import Entry, Visit


@dataclass(frozen=True)
class Holder:
    """Another visit that holds points of this unit."""

    visit: Visit
    points: tuple[str, ...]

    @property
    def words(self) -> str:
        """Who, since when he was there, and what."""
        names = ", ".join(POINTS[point].name.lower() for point in self.points)
        begun = f"{self.visit.opened_at:%Y-%m-%d}"
        return f"{self.visit.technician.name} holds this unit on the visit of {begun}: {names}."


def holders(visit: Visit, unit: str) -> list[Holder]:
    """Other visits of the company at the same site whose ledger has open overrides of this unit."""
    others = Visit.objects.of(visit.company_id).filter(
        system__nameplate__controller=unit,
        system__site_id=visit.system.site_id,
        system__site__practice=visit.system.site.practice,
    )
    return _holding(others.exclude(pk=visit.pk))


def holders_at(system: System) -> list[Holder]:
    """Visits whose ledger has open overrides of this system's controller."""
    return _holding(Visit.objects.of(system.company_id).filter(system=system)) if system.nameplate.get("controller") else []


def _holding(visits: object) -> list[Holder]:
    opened = Entry.objects.filter(kind="temporary", body__kind="override", visit__in=visits).values_list("visit_id", flat=True)
    rows = Visit.objects.filter(pk__in=set(opened)).select_related("technician", "system__site")
    found = [Holder(row, tuple(sorted(set(open_points(row)) & set(POINTS)))) for row in rows]
    return [each for each in found if each.points]


def alone(visit: Visit, unit: str) -> None:
    """Refuses while another visit holds the unit."""
    found = holders(visit, unit)
    if found:
        raise Refused(f"{found[0].words} Ask before you go on; its page lets it be released in your own name.", "controller")

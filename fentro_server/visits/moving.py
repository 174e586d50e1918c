"""A visit begun at a system made on the spot, or at a wrong one, is moved to the one it is at."""

from __future__ import annotations

from fentro_core.base.refusal import Refused
from fentro_core.logbook.corrections import KnownSystem
from fentro_server.places.models import System
from fentro_server.visits.models import Visit


def known_system(visit: Visit, to: KnownSystem) -> System:
    """The system that a visit is moved to.

    Raises
    ------
    Refused
        The company has no such system, or it is of another kind: readings would lose their places.
    """
    found = System.objects.of(visit.company_id).select_related("site", "same_as__site").filter(pk=to.system_id).first()
    if found is None:
        raise Refused("There is no such system in this company.", "body.system_id")
    found = found.same_as or found
    if found.site.practice or visit.practice:
        raise Refused("Practice is made up: no visit is moved to it, and none from it.", "body.system_id")
    if found.kind != visit.system.kind:
        raise Refused(
            "That is another kind of system: readings would lose their places. Set the kind right first.", "body.system_id"
        )
    return found


def move_to(visit: Visit, system: System, *, same: bool) -> None:
    """From now on the visit is at this system. `same`: the one before is in no list any more, if no other visit is at it."""
    before, visit.system = visit.system, system
    if same and before.pk != system.pk and not before.visits.exclude(pk=visit.pk).exists():
        System.objects.filter(pk=before.pk).update(same_as=system)
        System.objects.filter(same_as=before.pk).update(same_as=system)

"""Fresh air as a visit knows it: what was kept with the system, and what was said on the visit laid over it."""

from __future__ import annotations

from collections.abc import Iterable

from fentro_core.logbook.entry import Entry
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.fresh_air import FreshAir, Ventilator
from fentro_core.ventilation.entries import OF_FRESH_AIR, ControlSaid, DwellingSaid


def fresh_air_of(visit: VisitContext) -> FreshAir:
    """Kept with the system, with the visit's entries over it."""
    return laid_over(visit.snapshot.system.nameplate.fresh_air_kept or FreshAir(), visit.others)


def laid_over(known: FreshAir, entries: Iterable[Entry]) -> FreshAir:
    """The last word on each counts; of the control, what it was left at, or found at where nobody changed it."""
    for entry in entries:
        match entry.body:
            case DwellingSaid(dwelling, edition):
                known = known.but(dwelling=dwelling, edition=edition)
            case Ventilator():
                known = known.but(ventilator=entry.body)
            case ControlSaid("left" | "found", control):
                known = known.but(control=control)
    return known


def left_by(known: FreshAir | None, entries: Iterable[Entry]) -> FreshAir | None:
    """What a closed visit leaves to the next; None where it said nothing of it."""
    said = [entry for entry in entries if entry.kind in OF_FRESH_AIR]
    return laid_over(known or FreshAir(), said) if said else None

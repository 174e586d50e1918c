"""Every measured duct of a visit: where to hold the probe, what was read so far, and what follows."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from fentro_core.airflow.entries import Plane
from fentro_core.airflow.page import TraversePage
from fentro_core.airflow.traverse import Duct, plan, profile_flags, traverse_flow
from fentro_core.base.quantity import quantity
from fentro_core.phase.context import PartContext
from fentro_core.phase.visit_context import VisitContext


def planes(visit: VisitContext) -> Mapping[str, tuple[str, Duct]]:
    """Entry and duct of every traverse station that was measured."""
    return {body.station: (entry.id, body.duct) for entry, body in visit.entries_of(Plane)}


def traverses(context: PartContext[Any]) -> Iterator[TraversePage]:
    """The page of each; the flow so far is used for nothing until all points are read."""
    for station, (entry, duct) in planes(context.visit).items():
        reads = context.readings.at(station, "velocity")
        average = context.readings.average(station, "velocity")
        velocities = [read.value for read in reads]
        flow = traverse_flow(duct, velocities, f"{context.phase}/{station}") if velocities else None
        yield TraversePage(
            station=station,
            entry=entry,
            plan=plan(duct),
            velocities={read.reading.point: quantity(read.value, "velocity") for read in reads},
            mean=quantity(average, "velocity") if average else None,
            airflow=quantity(flow, "airflow") if flow else None,
            flags=profile_flags(duct, tuple(velocity.value for velocity in velocities)) if velocities else (),
        )

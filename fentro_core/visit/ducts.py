"""The ducts of a visit on their own page: with the airflow as the visit knows it."""

from __future__ import annotations

from fentro_core.airflow.ways import Airflow
from fentro_core.ducts.page import ducts_page
from fentro_core.ducts.results import DuctPage
from fentro_core.logbook.snapshot import Snapshot
from fentro_core.phase.visit_context import VisitContext
from fentro_core.visit.phase_work import phase_work


def ducts_of(snapshot: Snapshot) -> DuctPage:
    """Everything of the ducts that follows from a visit. Pure: same snapshot, same answer.

    Raises
    ------
    Refused
        The system has no ducts of this kind.
    """
    visit = VisitContext(snapshot)
    return ducts_page(visit, airflow_of_visit(visit))


def airflow_of_visit(visit: VisitContext) -> Airflow | None:
    """The airflow as found, by every way that readings allow; None where the system has none."""
    done = phase_work(visit, "as_found").context.done.get("airflow")
    return done.gives if done and isinstance(done.gives, Airflow) else None

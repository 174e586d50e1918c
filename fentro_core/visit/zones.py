"""The zones of a visit on their own page: with the airflow as the visit knows it."""

from __future__ import annotations

from fentro_core.logbook.snapshot import Snapshot
from fentro_core.phase.visit_context import VisitContext
from fentro_core.visit.ducts import airflow_of_visit
from fentro_core.zoning.page import zoning_page
from fentro_core.zoning.results import ZoningPage


def zones_of(snapshot: Snapshot) -> ZoningPage:
    """Everything of the zones that follows from a visit. Pure: same snapshot, same answer.

    Raises
    ------
    Refused
        The system has no ducts of this kind.
    """
    visit = VisitContext(snapshot)
    return zoning_page(visit, airflow_of_visit(visit))

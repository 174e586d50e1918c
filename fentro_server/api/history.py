"""A system over its visits, with its sister systems on the same axes."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from django.http import Http404, HttpRequest
from ninja import Router
from pydantic import BaseModel

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.base.typed_json import Json
from fentro_core.history.drift import HistoryPoint
from fentro_core.history.followed import drifting
from fentro_core.phase.numbers import NUMBERS
from fentro_server.api.access import person_of
from fentro_server.api.errors import Problem
from fentro_server.instruments.models import Instrument
from fentro_server.places.models import System
from fentro_server.visits.lines import brought_up_to_date
from fentro_server.visits.models import Visit

router = Router(tags=["history"])

MOST_VISITS = 24
MOST_SISTERS = 4
SISTER_VISITS = 8


class HistoryVisit(BaseModel):
    """One phase of a visit: the followed numbers, and its place on the four-way drawing."""

    visit: UUID
    phase: str
    purpose: str
    at: datetime
    values: dict[str, Quantity]
    split: Quantity | None = None
    capacity: Quantity | None = None


class HistorySystem(BaseModel):
    """A system's visits, oldest first."""

    id: UUID
    name: str
    site: str
    visits: list[HistoryVisit]


class HistoryIndex(BaseModel):
    """A followed number: limits where it has some, and what the visits together say."""

    key: str
    name: str
    kind: str
    low: float | None
    high: float | None
    mark: str | None
    sentence: Sentence


class History(BaseModel):
    """The system itself, its sisters (same maker and model), and every index that has values."""

    system: HistorySystem
    sisters: list[HistorySystem]
    indices: list[HistoryIndex]


@router.get("/systems/{system_id}/history", response={200: History, 404: Problem})
def history(request: HttpRequest, system_id: UUID) -> History:
    """What was found on every visit, as found and as left, with half-widths."""
    person = person_of(request)
    own = System.objects.of(person.company_id).select_related("site").filter(pk=system_id).first()
    if own is None:
        raise Http404
    instruments = list(Instrument.objects.of(person.company_id))
    main = _system(own, instruments, MOST_VISITS)
    return History(
        system=main,
        sisters=[_system(sister, instruments, SISTER_VISITS) for sister in _sisters(own)],
        indices=_indices(main),
    )


def _sisters(own: System) -> list[System]:
    """Systems of the same maker and model, wherever they stand."""
    maker, model = (own.nameplate.get(key, "") for key in ("maker", "model"))
    if not maker or not model:
        return []
    rows = System.objects.of(own.company_id).listed().filter(kind=own.kind, nameplate__maker=maker, nameplate__model=model)
    return list(rows.exclude(pk=own.pk).select_related("site").order_by("name")[:MOST_SISTERS])


def _system(system: System, instruments: list[Instrument], most: int) -> HistorySystem:
    rows = Visit.objects.of(system.company_id).filter(system=system).select_related("system__site", "technician")
    latest = brought_up_to_date(rows.order_by("-opened_at")[:most], instruments)
    visits = [_phase(visit, phase) for visit in reversed(latest) for phase in visit.line["phases"]]
    return HistorySystem(id=system.pk, name=system.name, site=system.site.name, visits=visits)


def _phase(visit: Visit, phase: Json) -> HistoryVisit:
    return HistoryVisit(visit=visit.pk, purpose=visit.purpose, at=visit.opened_at, **phase)


def _indices(main: HistorySystem) -> list[HistoryIndex]:
    """Drift by the state each visit left behind: as left where there is one."""
    last = {each.visit: each for each in main.visits}
    found = []
    for number in NUMBERS.values():
        how = number.followed
        points = [
            HistoryPoint(each.at.timestamp() / 86_400, value.value, value.plus_minus)
            for each in last.values()
            if (value := each.values.get(number.key)) is not None
        ]
        if how and points:
            said = drifting(number, tuple(points))
            found.append(
                HistoryIndex(
                    key=number.key,
                    name=how.name or number.name,
                    kind=number.kind,
                    low=how.low,
                    high=how.high,
                    mark=said.mark,
                    sentence=said.sentence,
                )
            )
    return found

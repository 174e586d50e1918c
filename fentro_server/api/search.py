"""Finding anything of a company by words: sites, systems, visits, people, notes. By PostgreSQL's full text."""

from __future__ import annotations

import re
from datetime import date, datetime
from typing import Any, Literal
from uuid import UUID

from django.contrib.postgres.search import SearchQuery, SearchVector
from django.db.models import Q, QuerySet
from django.http import HttpRequest
from ninja import Query, Router
from pydantic import BaseModel, Field

from fentro_core.base.refusal import Refused
from fentro_core.system.kinds import KIND_NAMES
from fentro_server.accounts.models import PERSON_WORDS, Person
from fentro_server.api.access import person_of
from fentro_server.api.errors import Problem
from fentro_server.places.models import SITE_WORDS, SYSTEM_WORDS, Site, System
from fentro_server.visits.models import NOTE_KINDS, NOTE_WORDS, VISIT_WORDS, Entry, Visit

router = Router(tags=["search"])

PAGE = 20
MOST = 2_000
"""Nobody looks further down a list: more words find it sooner."""

NEWEST = 4_000
"""So many of the newest visits are looked through for a word before the index is asked: what many have is found there at once."""

MOST_FOUND = 50_000
"""So many rows the index gives at most, before they are put in order."""

KINDS: dict[str, str] = {
    "systems": "Systems",
    "sites": "Sites",
    "visits": "Visits",
    "notes": "Notes and last words",
    "people": "People",
}


class Hit(BaseModel):
    """Something found: what it is called, where it belongs, the words around. `open`: id of the page that shows it."""

    kind: str
    title: str
    where: str
    words: str
    at: datetime | None
    open: UUID | None


class Hits(BaseModel):
    """Hits of one kind; `more`: there are more, from this place on."""

    kind: str
    name: str
    hits: list[Hit]
    more: int | None


class Searched(BaseModel):
    """What was found, kind by kind."""

    found: list[Hits]


class Asked(BaseModel):
    """What is looked for. `kind`: of one kind only; `place`: from there on; `since`, `until`: visits and notes of these days."""

    words: str = Field("", max_length=200)
    kind: str = ""
    place: int = Field(0, ge=0, le=MOST)
    site: UUID | None = None
    person: UUID | None = None
    since: date | None = None
    until: date | None = None
    state: Literal["", "open", "closed"] = ""


@router.get("/search", response={200: Searched, 422: Problem})
def search(request: HttpRequest, asked: Query[Asked]) -> Searched:
    """Whatever has all the words, each as a whole word or as its beginning; without words whatever the filters let through."""
    person = person_of(request)
    if asked.kind and asked.kind not in KINDS:
        raise Refused("There is no such kind of thing to find.", "kind")
    wanted = [asked.kind] if asked.kind else list(KINDS)
    looked = [_looked(kind, person, asked) for kind in wanted]
    return Searched(found=[each for each in looked if each.hits or asked.kind])


def words_of(text: str) -> list[str]:
    """Words of what was typed, a dozen at most.

    >>> words_of(" RTU-2, wren ")
    ['rtu', '2', 'wren']
    """
    return re.findall(r"\w+", text.lower())[:12]


def beginning(words: list[str]) -> SearchQuery:
    """All the words, each by its beginning."""
    return SearchQuery(" & ".join(f"{word}:*" for word in words), config="simple", search_type="raw")


def _sites(person: Person, asked: Asked, words: list[str]) -> QuerySet[Any]:
    rows = Site.objects.of(person.company_id)
    rows = rows.filter(pk=asked.site) if asked.site else rows
    return _having(rows, SITE_WORDS, words).order_by("name", "pk")


def _systems(person: Person, asked: Asked, words: list[str]) -> QuerySet[Any]:
    """Each word may be the system's own or its site's."""
    own, sites = System.objects.of(person.company_id), Site.objects.of(person.company_id)
    rows = own.listed().select_related("site")
    rows = rows.filter(site=asked.site) if asked.site else rows
    for word in words:
        there = _having(sites, SITE_WORDS, [word]).values("pk")
        rows = rows.filter(Q(pk__in=_having(own, SYSTEM_WORDS, [word]).order_by().values("pk")) | Q(site__in=there))
    return rows.order_by("site__name", "name", "pk")


def _visits(person: Person, asked: Asked, words: list[str]) -> QuerySet[Any]:
    """A word of many visits is found among the newest ones, which are looked through; a rare one by the index."""
    rows = Visit.objects.of(person.company_id).filter(_of_visits(asked)).select_related("system__site", "technician")
    rows = rows.order_by("-opened_at", "-pk")
    if not words:
        return rows
    newest = Visit.objects.of(person.company_id).filter(_of_visits(asked)).order_by("-opened_at", "-pk").values("pk")[:NEWEST]
    recent = _having(rows.filter(pk__in=newest), VISIT_WORDS, words)
    if len(recent[asked.place : asked.place + PAGE + 1]) > PAGE:
        return recent
    indexed = _having(Visit.objects.of(person.company_id), VISIT_WORDS, words).order_by().values("pk")[:MOST_FOUND]
    return rows.filter(pk__in=indexed)


def _notes(person: Person, asked: Asked, words: list[str]) -> QuerySet[Any]:
    """Notes and last words that still stand."""
    rows = Entry.objects.filter(visit__company_id=person.company_id, kind__in=NOTE_KINDS, replaced_by__isnull=True)
    rows = rows.filter(_of_visits(asked, "visit__")).select_related("visit__system__site", "by").order_by("-at", "-pk")
    if not words:
        return rows
    indexed = _having(Entry.objects.filter(kind__in=NOTE_KINDS), NOTE_WORDS, words).order_by().values("pk")[:MOST_FOUND]
    return rows.filter(pk__in=indexed)


def _people(person: Person, asked: Asked, words: list[str]) -> QuerySet[Any]:
    return _having(Person.objects.of(person.company_id), PERSON_WORDS, words).order_by("-is_active", "name", "pk")


def _having(rows: QuerySet[Any], said: SearchVector, words: list[str]) -> QuerySet[Any]:
    return rows.annotate(said=said).filter(said=beginning(words)) if words else rows


def _of_visits(asked: Asked, under: str = "") -> Q:
    """The filters that stand for visits, and for what was noted on them."""
    found = Q()
    if asked.site:
        found &= Q(**{f"{under}system__site": asked.site})
    if asked.person:
        found &= Q(**{f"{under}technician": asked.person})
    if asked.since:
        found &= Q(**{f"{under}opened_at__date__gte": asked.since})
    if asked.until:
        found &= Q(**{f"{under}opened_at__date__lte": asked.until})
    if asked.state:
        found &= Q(**{f"{under}closed_at__isnull": asked.state == "open"})
    return found


def _when(visit: Visit) -> str:
    return f"{visit.system.site.name}, {visit.system.name}"


def _hit(kind: str, row: Any) -> Hit:
    match row:
        case Site():
            return Hit(kind=kind, title=row.name, where="", words="", at=None, open=None)
        case System():
            plate = row.nameplate if isinstance(row.nameplate, dict) else {}
            words = " ".join(str(plate[name]) for name in ("maker", "model", "serial") if plate.get(name))
            where = ", ".join(each for each in (row.site.name, row.location) if each)
            return Hit(kind=kind, title=row.name, where=where, words=f"{KIND_NAMES[row.kind]} {words}", at=None, open=row.pk)
        case Visit():
            state = "open" if row.closed_at is None else "closed"
            words = f"{row.technician.name}, {state}"
            return Hit(kind=kind, title=row.purpose or "Visit", where=_when(row), words=words, at=row.opened_at, open=row.pk)
        case Entry():
            said = str(row.body.get("text") or row.body.get("summary") or "")
            where, words = _when(row.visit), row.by.name
            return Hit(kind=kind, title=said[:240], where=where, words=words, at=row.at, open=row.visit_id)
    words = row.get_role_display() if row.is_active else f"{row.get_role_display()}, can't sign in"
    return Hit(kind=kind, title=row.name, where="", words=words, at=None, open=row.pk)


_ROWS = {"sites": _sites, "systems": _systems, "visits": _visits, "notes": _notes, "people": _people}


def _looked(kind: str, person: Person, asked: Asked) -> Hits:
    words = words_of(asked.words)
    if not words and (asked.words.strip() or not asked.kind):
        return Hits(kind=kind, name=KINDS[kind], hits=[], more=None)
    found = list(_ROWS[kind](person, asked, words)[asked.place : asked.place + PAGE + 1])
    further = asked.place + PAGE
    more = further if len(found) > PAGE and further <= MOST else None
    return Hits(kind=kind, name=KINDS[kind], hits=[_hit(kind, row) for row in found[:PAGE]], more=more)

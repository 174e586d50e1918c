"""Photos of a visit: brought once by their hash, shown to the company."""

from __future__ import annotations

from hashlib import sha256
from typing import Any
from uuid import UUID

from django.http import Http404, HttpRequest, HttpResponse
from ninja import Router
from pydantic import BaseModel

from fentro_core.base.refusal import Refused
from fentro_core.logbook.entries import SHA256
from fentro_server.api.access import may_write_in, person_of, visit_of
from fentro_server.api.errors import Problem
from fentro_server.photos.looking import MOST_BYTES, media_type_of
from fentro_server.photos.models import Photo

router = Router(tags=["photos"])

MOST_OF_A_VISIT = 100


class Kept(BaseModel):
    """The photo is kept under its hash."""

    sha256: str


@router.put("/visits/{visit_id}/photos/{digest}", response={200: Kept, 403: Problem, 404: Problem, 422: Problem})
def keep_photo(request: HttpRequest, visit_id: UUID, digest: str) -> Any:
    """Keep a photo, the request's whole body. Sending it again keeps it once."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    may_write_in(person, visit)
    if not SHA256.fullmatch(digest):
        raise Refused("A photo is named by its SHA-256.", "digest")
    if Photo.objects.of(person.company_id).filter(sha256=digest).exists():
        return Kept(sha256=digest)
    content = request.body
    if len(content) > MOST_BYTES:
        raise Refused("This photo is too large: at most 3 MB.", "photo")
    if sha256(content).hexdigest() != digest:
        raise Refused("The photo did not arrive whole. Send it again.", "digest")
    if Photo.objects.filter(visit=visit).count() >= MOST_OF_A_VISIT:
        raise Refused("This visit has a hundred photos: that is all that one visit takes.", "photo")
    fields = {"visit": visit, "media_type": media_type_of(content), "content": content, "by": person}
    Photo.objects.get_or_create(company_id=person.company_id, sha256=digest, defaults=fields)
    return Kept(sha256=digest)


@router.get("/photos/{digest}", response={200: Any, 404: Problem})
def photo(request: HttpRequest, digest: str) -> HttpResponse:
    """A photo of the company."""
    found = Photo.objects.of(person_of(request).company_id).filter(sha256=digest).first() if SHA256.fullmatch(digest) else None
    if found is None:
        raise Http404
    response = HttpResponse(bytes(found.content), content_type=found.media_type)
    response["Content-Disposition"] = "inline"
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response

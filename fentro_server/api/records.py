"""Reports of visits on page and paper, signing them, and holding a file against its fingerprint."""

from __future__ import annotations

import logging
import re
from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from django.db import DataError, IntegrityError
from django.http import Http404, HttpRequest, HttpResponse
from ninja import Router
from pydantic import BaseModel, Field

from fentro_core.base.refusal import Refused
from fentro_core.report.edition import FORMAT, fingerprint, read_edition
from fentro_core.report.writing import report_of
from fentro_core.visit.worked import Unworkable
from fentro_server.accounts.models import Person
from fentro_server.api.access import lead_of, person_of, visit_of
from fentro_server.api.errors import NotAllowed, Problem, refusal_of
from fentro_server.api.parser import read_file
from fentro_server.api.shapes import RefusedEntry
from fentro_server.api.work import UNWORKABLE
from fentro_server.audit.models import What
from fentro_server.audit.noting import note
from fentro_server.instruments.models import Instrument
from fentro_server.photos.models import Photo
from fentro_server.places.models import Site, System
from fentro_server.records import labels, paper
from fentro_server.records.bringing import bring_in
from fentro_server.records.models import Edition, Signature, SignedAs
from fentro_server.records.signing import MayNot, current_edition, sign, why_not
from fentro_server.visits.kept import committed
from fentro_server.visits.models import Visit
from fentro_server.visits.snapshots import full_snapshot, worked

router = Router(tags=["records"])

log = logging.getLogger(__name__)

NOT_KEPT = "Something in this file can't be kept here: a name too long, or days of calibration that are none."

LARGEST_FILE = 4 * 1024 * 1024


class SignatureLine(BaseModel):
    """Who signed, in what, when."""

    signed_as: str
    name: str
    signed_at: datetime


class EditionLine(BaseModel):
    """A signed report. `current`: nothing was added to the visit since."""

    number: int
    fingerprint: str
    core: str
    entries_number: int
    made_at: datetime
    current: bool
    signatures: list[SignatureLine]


class ReportHead(BaseModel):
    """What a report's page needs besides the report. `technician`, `lead`: why this person can't sign so now; empty: they can."""

    visit: UUID
    system: str
    site: str
    purpose: str
    number: int
    closed: bool
    editions: list[EditionLine]
    technician: str
    lead: str


class NewSignature(BaseModel):
    """A name under the report. `seen`: number of the last entry in it when it was read; `strokes`: as drawn."""

    signed_as: Literal["technician", "lead"]
    name: str = Field(..., max_length=120)
    seen: int = Field(..., ge=0, le=10**9)
    strokes: list[list[list[float]]] = []


class Verified(BaseModel):
    """What a fingerprint or a file is here. `words`: as a sentence."""

    holds: bool
    words: str
    fingerprint: str
    visit: UUID | None = None
    edition: int | None = None


class BroughtIn(BaseModel):
    """What became of a visit's file. `refused`: entries that could not be kept, by position, with the reason."""

    visit: UUID
    added: int
    here_already: int
    made: list[str]
    refused: list[RefusedEntry]
    words: str


class Asked(BaseModel):
    """A fingerprint, as it stands on a report."""

    fingerprint: str = Field(..., max_length=200)


@router.get("/visits/{visit_id}/report", response={200: ReportHead, 404: Problem})
def report_head(request: HttpRequest, visit_id: UUID) -> ReportHead:
    """Editions that were signed, and what this person may do."""
    person = person_of(request)
    return _head(person, visit_of(person, visit_id))


def _head(person: Person, visit: Visit) -> ReportHead:
    current = current_edition(visit)
    return ReportHead(
        visit=visit.pk,
        system=visit.system.name,
        site=visit.system.site.name,
        purpose=visit.purpose,
        number=visit.entries_number,
        closed=visit.closed_at is not None,
        editions=[_edition(row, visit) for row in visit.editions.prefetch_related("signatures")],
        technician=why_not(person, visit, SignedAs.TECHNICIAN, current),
        lead=why_not(person, visit, SignedAs.LEAD, current),
    )


def _edition(row: Edition, visit: Visit) -> EditionLine:
    return EditionLine(
        number=row.number,
        fingerprint=row.fingerprint,
        core=row.core,
        entries_number=row.entries_number,
        made_at=row.made_at,
        current=row.entries_number == visit.entries_number,
        signatures=[
            SignatureLine(signed_as=each.signed_as, name=each.name, signed_at=each.signed_at) for each in row.signatures.all()
        ],
    )


@router.get("/visits/{visit_id}/report/page", response={200: Any, 404: Problem, 422: Problem})
def report_page(request: HttpRequest, visit_id: UUID, edition: int = 0, units: str = "SI", zone: str = "") -> HttpResponse:
    """The report as a page that prints: of an edition, or (0) as the visit is now."""
    person = person_of(request)
    response = HttpResponse(paper.page(_shown(person, visit_id, edition, units, zone)), content_type="text/html; charset=utf-8")
    response["X-Frame-Options"] = "SAMEORIGIN"
    response._csp_replace = {"frame-ancestors": ["'self'"]}  # type: ignore[attr-defined]
    return response


@router.get("/visits/{visit_id}/report/pdf", response={200: Any, 404: Problem, 422: Problem})
def report_pdf(request: HttpRequest, visit_id: UUID, edition: int = 0, units: str = "SI", zone: str = "") -> HttpResponse:
    """The same report as PDF."""
    person = person_of(request)
    shown = _shown(person, visit_id, edition, units, zone)
    try:
        from fentro_server.records import pdf
    except OSError:
        raise Refused("This server can't make a PDF: Pango is missing there (docs/install.md). Print the page instead.") from None
    response = HttpResponse(pdf.pdf(shown, person.company_id), content_type="application/pdf")
    note(person, What.TOOK_REPORT, "PDF" if not edition else f"PDF, edition {edition}", visit_of(person, visit_id))
    name = re.sub(r"[^A-Za-z0-9]+", "-", f"report {shown.report.system} {shown.report.opened_at[:10]}").strip("-").lower()
    response["Content-Disposition"] = f'attachment; filename="{name}.pdf"'
    return response


def _shown(person: Person, visit_id: UUID, number: int, units: str, zone: str) -> paper.Shown:
    visit = visit_of(person, visit_id)
    reader = paper.Reader.of(units, zone[:60])
    photos = frozenset(Photo.objects.of(person.company_id).filter(visit=visit).values_list("sha256", flat=True))
    if number:
        row = visit.editions.filter(number=number).prefetch_related("signatures").first()
        if row is None:
            raise Http404
        document = row.read()
        report = read_edition(document)
        return paper.Shown(report, document["company"], document["letterhead"], reader, row, list(row.signatures.all()), photos)
    logbook = committed(visit.pk, visit.entries_number)
    instruments = list(Instrument.objects.of(person.company_id))
    try:
        found = report_of(full_snapshot(visit, logbook, instruments), worked(visit, logbook, instruments))
    except Unworkable:
        raise Refused(UNWORKABLE) from None
    current = current_edition(visit)
    signatures: list[Signature] = list(current.signatures.all()) if current else []
    return paper.Shown(found, person.company.name, person.company.letterhead, reader, current, signatures, photos)


@router.post("/visits/{visit_id}/signatures", response={200: ReportHead, 403: Problem, 404: Problem, 422: Problem})
def add_signature(request: HttpRequest, visit_id: UUID, given: NewSignature) -> ReportHead:
    """Sign the report as it is now. The first signature freezes it: from then on it is an edition that never changes."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    try:
        sign(visit, person, given.signed_as, given.name, given.strokes, given.seen)
    except MayNot as why:
        raise NotAllowed(str(why)) from why
    except Unworkable:
        raise Refused(UNWORKABLE) from None
    note(person, What.SIGNED, f"as {given.signed_as}", visit)
    return _head(person, visit_of(person, visit_id))


@router.get("/visits/{visit_id}/editions/{number}", response={200: Any, 404: Problem})
def edition_file(request: HttpRequest, visit_id: UUID, number: int) -> HttpResponse:
    """A signed report as the file whose SHA-256 is its fingerprint: snapshot, report, core."""
    person = person_of(request)
    row = Edition.objects.of(person.company_id).filter(visit=visit_id, number=min(number, 10**9)).first()
    if row is None:
        raise Http404
    note(person, What.TOOK_REPORT, f"Signed file, edition {row.number}", row.visit)
    response = HttpResponse(row.document.encode(), content_type="application/json")
    response["Content-Disposition"] = f'attachment; filename="report-{str(row.visit_id)[:8]}-edition-{row.number}.json"'
    return response


@router.post("/records/verify", response={200: Verified, 422: Problem})
def verify(request: HttpRequest, given: Asked) -> Verified:
    """Whether a fingerprint is that of a signed report of this company."""
    said = "".join(given.fingerprint.split()).lower()
    if not re.fullmatch(r"[0-9a-f]{64}", said):
        raise Refused("A fingerprint is 64 letters and digits, 0 to 9 and a to f.", "fingerprint")
    row = _found(person_of(request), said)
    if row is None:
        return Verified(holds=False, words="No report that was signed here has this fingerprint.", fingerprint=said)
    return _holds(row, "Signed here")


def _found(person: Person, said: str) -> Edition | None:
    rows = Edition.objects.of(person.company_id).filter(fingerprint=said)
    return rows.select_related("visit__system__site").prefetch_related("signatures").first()


def _holds(row: Edition, words: str) -> Verified:
    who = ", ".join(f"{each.name} ({each.get_signed_as_display().lower()})" for each in row.signatures.all())
    system = row.visit.system
    what = f"{system.site.name}, {system.name}, visit of {row.visit.opened_at:%-d %b %Y}, edition {row.number}"
    said = f"{words}: {what}, by {who}. Nothing in it was changed since."
    return Verified(holds=True, words=said, fingerprint=row.fingerprint, visit=row.visit_id, edition=row.number)


@router.post("/records/verify-file", response={200: Verified, 413: Problem, 422: Problem})
def verify_file(request: HttpRequest) -> Verified:
    """Whether a signed report's file, the request's whole body, is as it was signed here."""
    person = person_of(request)
    document = _read(request.body)
    said = fingerprint(document)
    row = _found(person, said)
    if row is not None:
        return _holds(row, "This is the file that was signed")
    known = _claimed(person, document)
    if known is not None:
        words = (
            f"This is not the file that was signed: edition {known.number} of this visit has another fingerprint. "
            "Something in it was changed."
        )
        return Verified(holds=False, words=words, fingerprint=said, visit=known.visit_id, edition=known.number)
    return Verified(holds=False, words="No report that was signed here is this file.", fingerprint=said)


def _read(body: bytes) -> Any:
    if len(body) > LARGEST_FILE:
        raise Refused("This file is too large for a signed report: at most 4 MB.", "file")
    document = read_file(body, "This file is no JSON, or was cut off. Take the report's file as it was saved.")
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise Refused("This file is not a signed report.", "file")
    return document


def _claimed(person: Person, document: Any) -> Edition | None:
    """The edition that the file says it is."""
    try:
        visit, number = UUID(document["snapshot"]["visit"]["id"]), int(document["edition"])
    except (KeyError, TypeError, ValueError):
        return None
    return Edition.objects.of(person.company_id).filter(visit=visit, number=min(number, 10**9)).first()


@router.post("/records/bring-in", response={200: BroughtIn, 403: Problem, 413: Problem, 422: Problem})
def bring_visit_in(request: HttpRequest) -> BroughtIn:
    """A visit from its JSON, the request's whole body: of this installation or of another. Doing it again adds nothing."""
    lead = lead_of(request)
    if len(request.body) > LARGEST_FILE:
        raise Refused("This file is too large for a visit: at most 4 MB.", "file")
    document = read_file(request.body, "This file is no JSON, or was cut off. Take the visit's file as it was saved.")
    try:
        done = bring_in(lead, document)
    except (DataError, IntegrityError) as why:
        log.warning("a visit can't be brought in: %s", type(why).__name__)
        raise Refused(
            "Something in this file can't be kept here: a name too long, or days of calibration that are none.", "file"
        ) from why
    if done.added:
        note(lead, What.BROUGHT_IN, f"{done.added} entries", done.visit)
    words = f"{done.added} entries came in" + (f", {done.here_already} were here already" if done.here_already else "")
    words += f". New here: {', '.join(done.made)}." if done.made else "."
    return BroughtIn(
        visit=done.visit.pk,
        added=done.added,
        here_already=done.here_already,
        made=done.made,
        refused=[RefusedEntry(index=index, id="", refusal=refusal_of(why), closed=False) for index, why in done.refused[:100]],
        words=words,
    )


@router.get("/systems/{system_id}/label.svg", response={200: Any, 404: Problem})
def label(request: HttpRequest, system_id: UUID) -> HttpResponse:
    """A system's label as SVG: whoever scans it gets to the system once they have signed in."""
    row = System.objects.of(person_of(request).company_id).select_related("site").filter(pk=system_id).first()
    if row is None:
        raise Http404
    return HttpResponse(labels.svg(labels.address_of(request, row)), content_type="image/svg+xml")


@router.get("/labels", response={200: Any, 404: Problem})
def label_sheet(request: HttpRequest, site: UUID) -> HttpResponse:
    """Labels of every system of a site, to be printed on one sheet."""
    company = person_of(request).company_id
    found = Site.objects.of(company).filter(pk=site).first()
    if found is None:
        raise Http404
    rows = list(System.objects.of(company).listed().select_related("site").filter(site=found).order_by("name")[:200])
    return HttpResponse(labels.sheet(request, found, rows), content_type="text/html; charset=utf-8")

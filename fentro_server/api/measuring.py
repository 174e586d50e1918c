"""Live probes, logger files and exports."""

from __future__ import annotations

import asyncio
import contextlib
import json
import threading
from collections.abc import AsyncIterator, Iterator
from datetime import datetime
from itertools import islice
from typing import Any, Literal
from uuid import UUID

from asgiref.sync import async_to_sync, sync_to_async
from django.http import Http404, HttpRequest, HttpResponse, StreamingHttpResponse
from ninja import File, Form, Query, Router
from ninja.files import UploadedFile
from pydantic import BaseModel, Field

from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import read
from fentro_core.measuring.logger_file import FileMapping, check_places
from fentro_core.measuring.logger_layout import Layout
from fentro_core.phase.visit_context import VisitContext
from fentro_server.api.access import may_record, may_write_in, person_of, visit_of, writes_in
from fentro_server.api.errors import Problem
from fentro_server.audit.models import What
from fentro_server.audit.noting import note
from fentro_server.instruments.models import Instrument
from fentro_server.measuring import exports, logger_files, samples
from fentro_server.measuring.live import Who, events
from fentro_server.measuring.models import Series
from fentro_server.measuring.probe_source import SourceGone, source
from fentro_server.visits.kept import committed
from fentro_server.visits.models import Visit
from fentro_server.visits.snapshots import full_snapshot

router = Router(tags=["measuring"])


# probes


class ProbeLine(BaseModel):
    """A live probe: known when an instrument of the company has its serial number."""

    serial: str
    name: str
    quantities: list[str]
    battery: float
    reachable: bool
    instrument: UUID | None


class SceneOut(BaseModel):
    """What is simulated; scenarios to choose from."""

    scenario: str
    seed: int
    speed: float
    scenarios: list[dict[str, str]]


class Probes(BaseModel):
    """Live probes within reach. `reachable` false: there is no gateway, or it does not answer."""

    reachable: bool
    probes: list[ProbeLine]
    scene: SceneOut | None


class SceneChange(BaseModel):
    """Another scenario, seed or speed of the simulated probes."""

    scenario: str
    seed: int = Field(1, ge=0, lt=10**9)
    speed: float = Field(1.0, ge=0.1, le=240.0)


@router.get("/probes", response=Probes)
def probes(request: HttpRequest) -> Probes:
    """Which probes are within reach, and which of our instruments they are."""
    person = person_of(request)
    gateway = source(person.company_id)
    if gateway is None:
        return Probes(reachable=False, probes=[], scene=None)
    try:
        lines, scene = async_to_sync(_asked)(gateway)
    except SourceGone:
        return Probes(reachable=False, probes=[], scene=None)
    known = {row.serial: row.pk for row in Instrument.objects.of(person.company_id).filter(in_use=True) if row.serial}
    return Probes(
        reachable=True,
        probes=[
            ProbeLine(
                serial=line["serial"],
                name=line["name"],
                quantities=line["quantities"],
                battery=line["battery"],
                reachable=line["reachable"],
                instrument=known.get(line["serial"]),
            )
            for line in lines
        ],
        scene=SceneOut(**{key: scene[key] for key in ("scenario", "seed", "speed", "scenarios")}) if scene else None,
    )


async def _asked(gateway: Any) -> tuple[list[dict[str, Any]], dict[str, Any] | None]:
    return await gateway.probes(), await gateway.scene()


@router.post("/probes/scene", response={200: Probes, 403: Problem, 422: Problem})
def change_scene(request: HttpRequest, given: SceneChange) -> Any:
    """Choose what the simulated probes show. Real probes have no scene."""
    person = person_of(request)
    may_record(person)
    gateway = source(person.company_id)
    if gateway is None:
        raise Refused("There are no probes here.")
    try:
        answer = async_to_sync(gateway.scene)(given.model_dump())
    except SourceGone:
        raise Refused("The probes do not answer.") from None
    if answer is None or "detail" in answer:
        words = answer["detail"] if answer else "Real probes have no scene to choose."
        raise Refused(words, answer.get("path", "") if answer else "")
    return probes(request)


@router.get("/visits/{visit_id}/live", response={200: Any, 404: Problem})
def live(request: HttpRequest, visit_id: UUID) -> HttpResponse | StreamingHttpResponse:
    """Live values as server-sent events: ``kept`` once, then ``picture`` up to 2.5 times a second."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    gateway = source(person.company_id, visit.system.site_id)
    if gateway is None:
        return HttpResponse(status=204)
    who = Who(person.pk, person.session_epoch, writes_in(person, visit))
    response = StreamingHttpResponse(events(visit.pk, gateway, who), content_type="text/event-stream")
    response["Cache-Control"] = "no-store"
    response["X-Accel-Buffering"] = "no"
    return response


# logger files


class LoggerFile(BaseModel):
    """A file just looked at: its layout, and how files like it were read last time."""

    layout: Layout
    mapping: FileMapping | None
    size: int


@router.post("/visits/{visit_id}/logger-files/look", response={200: LoggerFile, 403: Problem, 404: Problem, 422: Problem})
def look_at_file(request: HttpRequest, visit_id: UUID, file: File[UploadedFile]) -> Any:
    """Look at a file: nothing is stored."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    may_write_in(person, visit)
    found = logger_files.opened(file.file)
    return LoggerFile(layout=found.layout, mapping=logger_files.remembered(visit, found.layout), size=file.size or 0)


class HowToRead(BaseModel):
    """How to read a file, and what to do: only check it, bring in all or nothing, or the good lines."""

    mapping: str
    utc_offset_min: int = Field(0, ge=-14 * 60, le=14 * 60)
    mode: Literal["check", "all", "good"] = "check"


@router.post("/visits/{visit_id}/logger-files", response={200: Any, 403: Problem, 404: Problem, 422: Problem})
def bring_in_file(request: HttpRequest, visit_id: UUID, file: File[UploadedFile], how: Form[HowToRead]) -> StreamingHttpResponse:
    """Check or bring in a file; progress comes as one JSON object a line. Hanging up stops it, and nothing stays."""
    person = person_of(request)
    visit = visit_of(person, visit_id)
    may_write_in(person, visit)
    if visit.closed_at is not None and how.mode != "check":
        raise Refused("This visit is closed. Reopen it to go on.")
    found = logger_files.opened(file.file)
    try:
        mapping = read(json.loads(how.mapping), FileMapping)
    except Refused as refused:
        raise refused.under("mapping") from refused
    except ValueError:
        raise Refused("The mapping can't be read.", "mapping") from None
    rows = list(Instrument.objects.of(person.company_id))
    path = VisitContext(full_snapshot(visit, committed(visit.pk), rows)).path
    check_places(mapping, found.layout, path, {str(row.pk) for row in rows})
    bringing = logger_files.Bringing(visit, found, mapping, how.utc_offset_min, how.mode)
    response = StreamingHttpResponse(_progress(bringing, file), content_type="application/x-ndjson")
    response["Cache-Control"] = "no-store"
    response["X-Accel-Buffering"] = "no"
    return response


async def _progress(bringing: logger_files.Bringing, file: UploadedFile) -> AsyncIterator[str]:
    """Lines from the worker's queue. The file is held until the worker is done; a reader who hangs up stops the worker."""
    worker = threading.Thread(target=bringing.run, daemon=True)
    worker.start()
    try:
        while True:
            event = await asyncio.to_thread(bringing.events.get)
            if event is None:
                return
            yield json.dumps(event) + "\n"
    finally:
        bringing.stop.set()
        with contextlib.suppress(asyncio.CancelledError):
            await asyncio.shield(asyncio.to_thread(worker.join, 10))
        file.close()


class LoggedSeries(BaseModel):
    """Samples kept with a visit at one place: their span, and their course, thinned: moment [s since 1970] and value (SI)."""

    id: int
    station: str
    point: int
    quantity: str
    instrument: str
    instrument_id: UUID | None
    origin: str
    count: int
    first: datetime
    last: datetime
    course: list[tuple[float, float]]


class LoggedWindow(BaseModel):
    """Samples from one moment to another: moments [s since 1970] and values (SI)."""

    times_s: list[float]
    values: list[float]


@router.get("/visits/{visit_id}/logged", response={200: list[LoggedSeries], 404: Problem})
def logged_data(request: HttpRequest, visit_id: UUID) -> list[LoggedSeries]:
    """What was logged on the visit, live or in files, at each place."""
    visit = visit_of(person_of(request), visit_id)
    return [
        LoggedSeries(
            id=each.series.pk,
            station=each.series.station,
            point=each.series.point,
            quantity=each.series.quantity,
            instrument=each.series.instrument.name if each.series.instrument else "",
            instrument_id=each.series.instrument_id,
            origin=each.series.origin,
            count=each.count,
            first=each.first,
            last=each.last,
            course=each.course,
        )
        for each in samples.logged(visit)
    ]


@router.get("/visits/{visit_id}/logged/{series_id}", response={200: LoggedWindow, 404: Problem, 422: Problem})
def logged_window(request: HttpRequest, visit_id: UUID, series_id: int, first: datetime, last: datetime) -> LoggedWindow:
    """Samples of a series from one moment to another, both with their offset; of very many every so many-th."""
    visit = visit_of(person_of(request), visit_id)
    for name, moment in (("first", first), ("last", last)):
        if moment.tzinfo is None:
            raise Refused("Give the moment with its offset.", name)
    series = Series.objects.filter(visit=visit, pk=series_id).first() if series_id < 2**63 else None
    if series is None:
        raise Http404
    found = samples.window(series, first, last)
    return LoggedWindow(times_s=[at for at, _ in found], values=[value for _, value in found])


# exports

LINES_AT_ONCE = 500


class AsRead(BaseModel):
    """How the reader reads: units in use, and how far the clock there is ahead of UTC [min]."""

    units: Literal["SI", "US"] = "SI"
    offset_min: int = Field(0, ge=-14 * 60, le=14 * 60)


@router.get("/visits/{visit_id}/readings.csv", response={200: Any, 404: Problem, 422: Problem})
def readings_csv(request: HttpRequest, visit_id: UUID, how: Query[AsRead]) -> StreamingHttpResponse:
    """Readings as CSV, also those replaced or taken back."""
    visit = visit_of(person_of(request), visit_id)
    note(person_of(request), What.TOOK_READINGS, "CSV", visit)
    return _csv(visit, exports.readings(visit, exports.Reader(how.units, how.offset_min)), "readings")


@router.get("/visits/{visit_id}/samples.csv", response={200: Any, 404: Problem, 422: Problem})
def samples_csv(request: HttpRequest, visit_id: UUID, how: Query[AsRead]) -> StreamingHttpResponse:
    """Samples as CSV."""
    visit = visit_of(person_of(request), visit_id)
    note(person_of(request), What.TOOK_READINGS, "CSV of the samples", visit)
    return _csv(visit, exports.sample_lines(visit, exports.Reader(how.units, how.offset_min)), "samples")


def _csv(visit: Visit, lines: Iterator[str], what: str) -> StreamingHttpResponse:
    async def chunks() -> AsyncIterator[str]:
        def some() -> str:
            return "".join(islice(lines, LINES_AT_ONCE))

        ask = sync_to_async(some, thread_sensitive=True)
        while chunk := await ask():
            yield chunk

    response = StreamingHttpResponse(chunks(), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{what}-{visit.opened_at:%Y-%m-%d}-{str(visit.pk)[:8]}.csv"'
    return response

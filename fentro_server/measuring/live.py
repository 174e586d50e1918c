"""The live stream of a visit: one reader of the probes and one writer to the browser, never waiting for each other."""

from __future__ import annotations

import asyncio
import contextlib
import json
from collections.abc import AsyncIterator
from datetime import datetime
from typing import Any
from uuid import UUID

from asgiref.sync import sync_to_async
from django.db import close_old_connections, connection

from fentro_core.base.typed_json import read
from fentro_core.instruments.instrument import Instrument
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.phase.visit_context import VisitContext
from fentro_server.instruments.models import Instrument as InstrumentRow
from fentro_server.measuring import samples
from fentro_server.measuring.live_state import KEPT_S, LiveState, Place, Situation
from fentro_server.measuring.probe_source import ProbeSource, SourceGone, SystemPlace
from fentro_server.visits.models import Entry, Visit
from fentro_server.visits.snapshots import instrument_json, snapshot_json

SEND_S = 0.4
"""Between two pictures: 2.5 a second, and fewer to a browser that does not take them."""

LOOK_S = 1.5
"""Between two looks at the visit: where probes hang, whether it runs; and between two writes of samples."""

AGAIN_S = 1.0
"""Before the probes are asked again when they went away."""


def situation_of(visit_id: UUID) -> tuple[Situation, SystemPlace]:
    """What the visit says of its probes, from its logbook."""
    visit = Visit.objects.select_related("system__site", "technician").get(pk=visit_id)
    rows = list(InstrumentRow.objects.of(visit.company_id).filter(in_use=True))
    document = snapshot_json(visit, Entry.objects.filter(visit=visit).in_order(), rows)
    context = VisitContext(read_snapshot(document))
    known = {row.serial: read(instrument_json(row), Instrument) for row in rows if row.serial}
    serials = {str(row.pk): row.serial for row in rows}
    places = {hung.instrument: Place(hung.station, hung.point, datetime.fromisoformat(hung.at)) for hung in context.assigned}
    running = context.runs.since
    situation = Situation(
        known,
        places,
        {station.id: station.name for station in context.path.stations},
        running,
        visit.closed_at is not None,
    )
    where = SystemPlace(
        str(visit.pk),
        visit.system.kind,
        context.pressure_pa,
        running.isoformat() if running else None,
        {
            serials[instrument]: {"station": place.station, "point": place.point}
            for instrument, place in places.items()
            if serials.get(instrument)
        },
    )
    return situation, where


def _in_a_thread(function: Any) -> Any:
    """A database call off the event loop, its connection given back at once."""

    def called(*given: Any) -> Any:
        close_old_connections()
        try:
            return function(*given)
        finally:
            connection.close()

    return sync_to_async(called, thread_sensitive=False)


class Live:
    """One browser's view of one visit."""

    def __init__(self, visit_id: UUID, source: ProbeSource) -> None:
        self.visit_id = visit_id
        self.source = source
        self.state: LiveState | None = None
        self.where: SystemPlace | None = None
        self.series: dict[samples.Channel, int] = {}

    async def events(self) -> AsyncIterator[str]:
        """Server-sent events: what was kept, then the present picture again and again."""
        situation, self.where = await _in_a_thread(situation_of)(self.visit_id)
        self.state = LiveState(situation)
        yield _event("kept", await _in_a_thread(self._recent)())
        tasks = [asyncio.create_task(self._listen()), asyncio.create_task(self._look())]
        try:
            while True:
                yield _event("picture", self.state.picture())
                await asyncio.sleep(SEND_S)
        finally:
            for task in tasks:
                task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await asyncio.gather(*tasks, return_exceptions=True)

    async def _listen(self) -> None:
        """Take frames as they come; when the probes go away say so, and ask again from where they left off."""
        assert self.state is not None
        while True:
            try:
                if self.where is not None:
                    await self.source.place(self.where)
                async for frames in self.source.frames(self.state.heard_at, KEPT_S):
                    self.state.connected = True
                    self.state.take(frames)
            except (SourceGone, ValueError, KeyError):
                pass
            self.state.connected = False
            await asyncio.sleep(AGAIN_S)

    async def _look(self) -> None:
        """Keep samples, and follow what the logbook says."""
        assert self.state is not None
        while True:
            await asyncio.sleep(LOOK_S)
            await _in_a_thread(self._keep)(self.state.keep())
            situation, where = await _in_a_thread(situation_of)(self.visit_id)
            self.state.move(situation)
            if where != self.where:
                self.where = where
                with contextlib.suppress(SourceGone):
                    await self.source.place(where)

    def _keep(self, kept: list[tuple[samples.Channel, Any, float]]) -> None:
        visit = Visit(pk=self.visit_id)
        for channel in {channel for channel, _, _ in kept} - set(self.series):
            self.series[channel] = samples.series_of(visit, channel)
        if kept:
            samples.add((self.series[channel], at, value) for channel, at, value in kept)

    def _recent(self) -> dict[str, list[tuple[float, float]]]:
        return samples.recent(Visit(pk=self.visit_id))


def _event(name: str, data: Any) -> str:
    return f"event: {name}\ndata: {json.dumps(data)}\n\n"

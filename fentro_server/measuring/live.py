"""Live streams: in each process one feed for all probes of a gateway, one state for a visit, one viewer for a browser.

A viewer that is slow holds up nobody: what it has not taken is put together. Nothing here holds a database connection between
two looks, and a database that is away is asked again; samples wait meanwhile.
"""

from __future__ import annotations

import asyncio
import contextlib
import logging
from collections import deque
from collections.abc import AsyncIterator, Iterable
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from functools import cached_property, reduce
from operator import or_
from typing import Any
from uuid import UUID
from weakref import WeakKeyDictionary

from asgiref.sync import sync_to_async
from django.db import DatabaseError, close_old_connections, connection
from django.db.models import Q
from pydantic_core import to_json

from fentro_core.base.typed_json import read
from fentro_core.instruments.instrument import Instrument
from fentro_core.phase.visit_context import VisitContext
from fentro_server.accounts.models import Person
from fentro_server.instruments.models import Instrument as InstrumentRow
from fentro_server.measuring import samples
from fentro_server.measuring.live_state import KEPT_S, UNSENT, LiveState, Place, Situation
from fentro_server.measuring.probe_source import Frame, ProbeSource, SourceGone, SystemPlace
from fentro_server.operation import numbers
from fentro_server.visits.kept import committed
from fentro_server.visits.models import Entry, Visit
from fentro_server.visits.snapshots import full_snapshot, instrument_json

log = logging.getLogger(__name__)

SEND_S = 0.4
"""Between two pictures: 2.5 a second, and fewer to a browser that does not take them."""

LOOK_S = 1.5
"""Between two looks at the visits: where probes hang, whether it runs; and between two writes of samples."""

LOOK_WHOLE_S = 30.0
"""Between two looks that ask for everything, changed or not: instruments and plates change without an entry."""

AGAIN_S = 1.0
"""Before the probes are asked again when they went away."""

QUIET = ("reading", "note", "check")
"""Kinds of entry that say nothing of probes: where they hang, whether it runs."""

MOST_WAITING = 200_000
"""Samples of a visit that wait for a database that is away; then the oldest go."""


def situation_of(visit_id: UUID) -> tuple[Situation, SystemPlace]:
    """What the visit says of its probes, from its logbook."""
    visit = Visit.objects.select_related("system__site", "technician").get(pk=visit_id)
    rows = list(InstrumentRow.objects.of(visit.company_id).filter(in_use=True))
    context = VisitContext(full_snapshot(visit, committed(visit.pk), rows))
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


@dataclass(frozen=True)
class Who:
    """Who watches, as far as a stream must know: it ends when any of it changes. Only who may write makes samples stay."""

    person: UUID
    signed: int
    may_write: bool


class Picture:
    """What a visit's probes show at one moment, written once for all who look."""

    def __init__(self, data: dict[str, Any]) -> None:
        self.data = data

    @cached_property
    def text(self) -> bytes:
        """As it is sent."""
        return _event("picture", self.data)

    def after(self, earlier: Picture) -> Picture:
        """This one with the samples of one that was not sent."""
        before = {channel["key"]: channel["samples"] for channel in earlier.data["channels"]}
        channels = [
            {**channel, "samples": [*before.get(channel["key"], ()), *channel["samples"]][-UNSENT:]}
            for channel in self.data["channels"]
        ]
        return Picture({**self.data, "channels": channels})


class Viewer:
    """One browser."""

    def __init__(self, who: Who) -> None:
        self.who = who
        self._waiting: Picture | None = None
        self._news = asyncio.Event()
        self._ended = False

    def show(self, picture: Picture) -> None:
        """The next picture; one that was not taken yet gives its samples to this one."""
        self._waiting = picture.after(self._waiting) if self._waiting else picture
        self._news.set()

    def end(self) -> None:
        """No more pictures."""
        self._ended = True
        self._news.set()

    async def pictures(self) -> AsyncIterator[Picture]:
        """Each picture as it comes, until the end."""
        while True:
            await self._news.wait()
            self._news.clear()
            picture, self._waiting = self._waiting, None
            if self._ended:
                return
            if picture is not None:
                yield picture


@dataclass(eq=False)
class Watch:
    """One visit that is looked at in this process."""

    visit_id: UUID
    feed: Feed
    state: LiveState
    where: SystemPlace
    number: int
    viewers: set[Viewer] = field(default_factory=set)
    series: dict[samples.Channel, int] = field(default_factory=dict)
    looked_at: float = 0.0

    @property
    def keeps(self) -> bool:
        """Somebody who may write watches: then samples of hung probes stay with the visit."""
        return any(viewer.who.may_write for viewer in self.viewers)

    def take(self, frames: Iterable[Frame]) -> None:
        """Frames as they come. Without anybody who may write nothing is kept."""
        self.state.take(frames)
        if not self.keeps:
            self.state.keep()
        elif len(self.state.to_keep) > MOST_WAITING:
            del self.state.to_keep[:-MOST_WAITING]


class Feed:
    """All frames of one gateway, for every visit that listens to it in this process."""

    def __init__(self, source: ProbeSource) -> None:
        self.source = source
        self.watches: set[Watch] = set()
        self.connected = False
        self.recent: deque[Frame] = deque()

    async def run(self) -> None:
        """Take frames as they come; when the probes go away say so, and ask again from where they left off."""
        while True:
            try:
                for watch in list(self.watches):
                    await self.source.place(watch.where)
                async for frames in self.source.frames(self.recent[-1].at if self.recent else None, KEPT_S):
                    self.connected = True
                    self._take(frames)
            except (SourceGone, ValueError, KeyError):
                pass
            except Exception:
                log.exception("frames can't be taken")
            self.connected = False
            await asyncio.sleep(AGAIN_S)

    def _take(self, frames: list[Frame]) -> None:
        last = self.recent[-1].at if self.recent else None
        fresh = [frame for frame in frames if last is None or frame.at > last]
        self.recent.extend(fresh)
        while self.recent and self.recent[-1].at - self.recent[0].at > timedelta(seconds=KEPT_S):
            self.recent.popleft()
        for watch in self.watches:
            watch.take(fresh)


class Desk:
    """Everything that is watched in this process; works while anybody looks."""

    def __init__(self) -> None:
        self.feeds: dict[str, Feed] = {}
        self.watches: dict[UUID, Watch] = {}
        self.tasks: dict[str, asyncio.Task[None]] = {}
        self._joining = asyncio.Lock()

    async def join(self, visit_id: UUID, source: ProbeSource, who: Who) -> tuple[Watch, Viewer]:
        """A browser begins to look at a visit."""
        async with self._joining:
            watch = self.watches.get(visit_id)
            if watch is None:
                watch = await self._begun(visit_id, source)
            viewer, kept_before = Viewer(who), watch.keeps
            watch.viewers.add(viewer)
            numbers.streams(1)
            if watch.keeps and not kept_before:
                watch.take(watch.feed.recent)
            for name, work in (("pictures", self._show), ("look", self._look)):
                if name not in self.tasks:
                    self.tasks[name] = asyncio.create_task(work())
        return watch, viewer

    async def _begun(self, visit_id: UUID, source: ProbeSource) -> Watch:
        situation, where = await _in_a_thread(situation_of)(visit_id)
        feed = self.feeds.get(source.name)
        fresh = feed is None
        if feed is None:
            feed = self.feeds[source.name] = Feed(source)
        watch = Watch(visit_id, feed, LiveState(situation), where, 0, looked_at=_now())
        feed.watches.add(watch)
        self.watches[visit_id] = watch
        if fresh:
            self.tasks[f"feed {source.name}"] = asyncio.create_task(feed.run())
        else:
            watch.take(feed.recent)
            with contextlib.suppress(SourceGone):
                await feed.source.place(where)
        return watch

    async def leave(self, watch: Watch, viewer: Viewer) -> None:
        """It looks no more; with the last one everything ends, and what was measured is kept before."""
        watch.viewers.discard(viewer)
        numbers.streams(-1)
        if watch.viewers:
            return
        if viewer.who.may_write:
            with contextlib.suppress(DatabaseError):
                await _in_a_thread(_keep)(watch, watch.state.keep())
        if watch.viewers:
            return
        self.watches.pop(watch.visit_id, None)
        watch.feed.watches.discard(watch)
        if not watch.feed.watches:
            self._stop(f"feed {watch.feed.source.name}")
            self.feeds.pop(watch.feed.source.name, None)
        if not self.watches:
            for name in list(self.tasks):
                self._stop(name)

    def _stop(self, name: str) -> None:
        task = self.tasks.pop(name, None)
        if task is not None:
            task.cancel()

    async def _show(self) -> None:
        """One visit after the other, spread over the time between two pictures: an entry waits for one of them at most."""
        due = _now()
        while True:
            watches = list(self.watches.values())
            for watch in watches:
                watch.state.connected = watch.feed.connected
                try:
                    picture = Picture(watch.state.picture())
                except Exception:
                    log.exception("no picture of a visit")
                else:
                    for viewer in watch.viewers:
                        viewer.show(picture)
                due = max(due + SEND_S / len(watches), _now() - SEND_S)
                await asyncio.sleep(max(due - _now(), 0.0))
            if not watches:
                await asyncio.sleep(SEND_S)

    async def _look(self) -> None:
        """Keep samples, follow what the logbooks say, end what may not go on. A database that is away is asked again."""
        while True:
            await asyncio.sleep(LOOK_S)
            for watch in list(self.watches.values()):
                kept = watch.state.keep()
                try:
                    if kept:
                        await _in_a_thread(_keep)(watch, kept)
                except DatabaseError:
                    watch.state.to_keep[:0] = kept
                    log.warning("samples wait: the database is away")
            numbers.waiting(sum(len(watch.state.to_keep) for watch in self.watches.values()))
            try:
                await self._follow()
            except DatabaseError:
                log.warning("visits are not followed: the database is away")
            except Exception:
                log.exception("visits are not followed")

    async def _follow(self) -> None:
        watched = list(self.watches.values())
        people = {viewer.who.person for watch in watched for viewer in watch.viewers}
        numbers, saying, signed = await _in_a_thread(_standing)({watch.visit_id: watch.number for watch in watched}, people)
        for watch in watched:
            for viewer in watch.viewers:
                if signed.get(viewer.who.person) != viewer.who.signed:
                    viewer.end()
            number = numbers.get(watch.visit_id, -1)
            if watch.visit_id not in saying and _now() - watch.looked_at < LOOK_WHOLE_S:
                watch.number = number
                continue
            situation, where = await _in_a_thread(situation_of)(watch.visit_id)
            watch.number, watch.looked_at = number, _now()
            watch.state.move(situation)
            if where != watch.where:
                watch.where = where
                with contextlib.suppress(SourceGone):
                    await watch.feed.source.place(where)


def _now() -> float:
    return asyncio.get_running_loop().time()


def _standing(seen: dict[UUID, int], people: set[UUID]) -> tuple[dict[UUID, int], set[UUID], dict[UUID, int]]:
    """The last entry's number of visits, which of them say something of their probes since the number that was seen, and the
    session counter of people who may still look.
    """
    numbers = dict(Visit.objects.filter(pk__in=seen).values_list("pk", "entries_number"))
    since = [Q(visit=visit, number__gt=number) for visit, number in seen.items() if numbers.get(visit, number) != number]
    fresh = Entry.objects.filter(reduce(or_, since)).exclude(kind__in=QUIET) if since else Entry.objects.none()
    saying = set(fresh.values_list("visit_id", flat=True))
    signed = Person.objects.filter(pk__in=people, is_active=True, company__is_active=True).values_list("pk", "session_epoch")
    return numbers, saying, dict(signed)


def _keep(watch: Watch, kept: list[tuple[samples.Channel, Any, float]]) -> None:
    if not kept:
        return
    visit = Visit(pk=watch.visit_id)
    for channel in {channel for channel, _, _ in kept} - set(watch.series):
        watch.series[channel] = samples.series_of(visit, channel)
    samples.add((watch.series[channel], at, value) for channel, at, value in kept)


def _recent(visit_id: UUID) -> dict[str, list[tuple[float, float]]]:
    return samples.recent(Visit(pk=visit_id))


_desks: WeakKeyDictionary[asyncio.AbstractEventLoop, Desk] = WeakKeyDictionary()


def desk() -> Desk:
    """This process's desk."""
    loop = asyncio.get_running_loop()
    found = _desks.get(loop)
    if found is None:
        found = _desks[loop] = Desk()
    return found


async def events(visit_id: UUID, source: ProbeSource, who: Who) -> AsyncIterator[bytes]:
    """Server-sent events: what was kept, then the present picture again and again."""
    here = desk()
    watch, viewer = await here.join(visit_id, source, who)
    try:
        yield _event("kept", await _in_a_thread(_recent)(visit_id))
        async for picture in viewer.pictures():
            yield picture.text
    finally:
        await asyncio.shield(here.leave(watch, viewer))


def _event(name: str, data: Any) -> bytes:
    return b"event: %s\ndata: %s\n\n" % (name.encode(), to_json(data))

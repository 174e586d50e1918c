"""Logger files into a visit: looked at, checked, brought in as one transaction, stopped without a trace."""

from __future__ import annotations

import io
import threading
from collections.abc import Iterator
from dataclasses import dataclass
from queue import Queue
from typing import Any, BinaryIO

from django.db import connection, transaction
from django.utils import timezone

from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import read, write
from fentro_core.measuring.logger_file import LONGEST_LINE, FileMapping, Tally, read_rows
from fentro_core.measuring.logger_layout import LOOKED_AT, Layout, decode, layout_of
from fentro_server.measuring.models import ColumnMapping
from fentro_server.measuring.samples import Channel, add, series_of
from fentro_server.visits.models import Visit

PROGRESS_LINES = 5_000
HEAD_BYTES = 64 * 1024


@dataclass(frozen=True)
class Opened:
    """A file with its encoding and layout."""

    file: BinaryIO
    encoding: str
    layout: Layout

    def lines(self) -> Iterator[str]:
        """The file's lines from the first, read as they are asked for; of one too long for a logger only the beginning."""
        self.file.seek(0)
        text = io.TextIOWrapper(self.file, encoding=self.encoding, errors="replace", newline="")
        try:
            while line := text.readline(LONGEST_LINE + 1):
                yield line
                while len(line) > LONGEST_LINE and not line.endswith("\n"):
                    line = text.readline(LONGEST_LINE + 1)
        finally:
            text.detach()


def opened(file: BinaryIO) -> Opened:
    """Look at a file's first lines.

    Raises
    ------
    Refused
        It holds no table with times.
    """
    file.seek(0)
    head = file.read(HEAD_BYTES)
    encoding = decode(head)
    text = head.decode(encoding, errors="replace")
    return Opened(file, encoding, layout_of(text.splitlines()[:LOOKED_AT]))


def remembered(visit: Visit, layout: Layout) -> FileMapping | None:
    """How files with this header were read last time."""
    found = ColumnMapping.objects.of(visit.company_id).filter(header=layout.header).first()
    return read(found.mapping, FileMapping) if found else None


class Stopped(Exception):
    """The reader went away: nothing is kept."""


class Bringing:
    """One pass over a file in a thread of its own; what happens comes out of a queue."""

    def __init__(self, visit: Visit, found: Opened, mapping: FileMapping, offset_min: int, mode: str) -> None:
        self.visit = visit
        self.found = found
        self.mapping = mapping
        self.offset_min = offset_min
        self.mode = mode
        self.stop = threading.Event()
        self.events: Queue[dict[str, Any] | None] = Queue()

    def run(self) -> None:
        """The whole pass; ends the queue with None, whatever happens."""
        try:
            self._pass()
        except Stopped:
            self.events.put({"event": "stopped"})
        except Refused as refused:
            self.events.put({"event": "refused", "detail": refused.sentence.say(), "path": refused.path})
        except Exception:
            self.events.put({"event": "refused", "detail": "Something went wrong here. Nothing was brought in.", "path": ""})
            raise
        finally:
            connection.close()
            self.events.put(None)

    def _pass(self) -> None:
        tally = Tally()
        if self.mode == "check":
            for line in self._read(tally):
                del line
            self._done(tally, 0)
            return
        with transaction.atomic():
            series = [
                series_of(self.visit, Channel(each.station, each.point, each.quantity, each.instrument, "file"))
                for each in self.mapping.columns
            ]
            rows = (
                (number, row.at, value)
                for row in self._read(tally)
                for number, value in zip(series, row.values, strict=True)
                if value is not None
            )
            added = add(rows, lambda: self._all_read(tally))
            if self.stop.is_set():
                raise Stopped
            ColumnMapping.objects.update_or_create(
                company_id=self.visit.company_id,
                header=self.found.layout.header,
                defaults={"mapping": write(self.mapping), "used_at": timezone.now()},
            )
        self._done(tally, added)

    def _all_read(self, tally: Tally) -> None:
        """All or nothing is decided once every line was read."""
        if self.mode == "all" and tally.bad:
            raise Refused(f"{tally.bad} lines can't be read, so nothing was brought in. Mend them, or take the good ones.")
        self.events.put({"event": "writing"})

    def _read(self, tally: Tally) -> Iterator[Any]:
        for line in read_rows(self.found.lines(), self.found.layout, self.mapping, self.offset_min):
            if tally.take(line):
                yield line
            if (tally.rows + tally.bad) % PROGRESS_LINES == 0:
                if self.stop.is_set():
                    raise Stopped
                self.events.put({"event": "progress", "lines": tally.rows + tally.bad, "bad": tally.bad})

    def _done(self, tally: Tally, added: int) -> None:
        self.events.put(tally.told(self.mode, added))

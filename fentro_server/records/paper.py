"""A report on a page, and the same page on paper: one template, in the reader's units and hours."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import UTC, datetime, tzinfo
from zoneinfo import ZoneInfo

from django.template.loader import render_to_string

from fentro_core.report.content import Report
from fentro_core.report.drawings import PHASES, drawings
from fentro_server.records.models import Edition, Signature


@dataclass(frozen=True)
class Reader:
    """Who reads: their system of units and their hours."""

    system: str = "SI"
    zone: tzinfo = UTC

    @classmethod
    def of(cls, units: str, zone: str) -> Reader:
        """From what the browser says; an unknown zone is UTC."""
        try:
            found: tzinfo = ZoneInfo(zone) if zone else UTC
        except (ValueError, OSError, LookupError):
            found = UTC
        return cls("US" if units == "US" else "SI", found)

    def moment(self, at: str | datetime | None) -> str:
        """A time as one reads it: 27 Nov 2026, 10:04."""
        if not at:
            return ""
        moment = datetime.fromisoformat(at) if isinstance(at, str) else at
        return f"{moment.astimezone(self.zone):%-d %b %Y, %H:%M}"

    @property
    def zone_name(self) -> str:
        """As it stands on the report."""
        return str(self.zone)


@dataclass(frozen=True)
class Shown:
    """What a page is made of."""

    report: Report
    company: str
    letterhead: str
    reader: Reader
    edition: Edition | None = None
    signatures: Iterable[Signature] = ()
    photos: frozenset[str] = field(default_factory=frozenset)


def page(shown: Shown) -> str:
    """The report as one page of HTML."""
    context = {
        "report": shown.report,
        "company": shown.company,
        "letterhead": [line for line in shown.letterhead.splitlines() if line.strip()],
        "reader": shown.reader,
        "system": shown.reader.system,
        "edition": shown.edition,
        "signatures": shown.signatures,
        "photos": shown.photos,
        "drawings": drawings(shown.report, shown.reader.system),
        "phases": PHASES,
        "two": len(shown.report.pictures) > 1,
    }
    return render_to_string("records/report.html", context)

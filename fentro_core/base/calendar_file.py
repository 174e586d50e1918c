"""Calendar files (iCalendar, RFC 5545): one event that comes again, or a list of appointments."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta


def event(uid: str, on: date, rule: str, summary: str, words: str, today: date, maker: str = "Fentro") -> str:
    """The whole file; the event lasts the day `on` and comes again by `rule`.

    >>> text = event("1", date(2027, 2, 1), "FREQ=MONTHLY;INTERVAL=3", "Filters, north", "Look.", date(2026, 11, 26))
    >>> [line for line in text.split("\\r\\n") if line.startswith(("DTSTART", "RRULE", "SUMMARY"))]
    ['DTSTART;VALUE=DATE:20270201', 'RRULE:FREQ=MONTHLY;INTERVAL=3', 'SUMMARY:Filters\\\\, north']
    """
    lines = [
        "BEGIN:VCALENDAR",
        "VERSION:2.0",
        f"PRODID:-//Fentro//{maker}//EN",
        "BEGIN:VEVENT",
        f"UID:{_text(uid)}",
        f"DTSTAMP:{today:%Y%m%d}T000000Z",
        f"DTSTART;VALUE=DATE:{on:%Y%m%d}",
        f"DTEND;VALUE=DATE:{on + timedelta(days=1):%Y%m%d}",
        f"RRULE:{rule}",
        f"SUMMARY:{_text(summary)}",
        f"DESCRIPTION:{_text(words)}",
        "END:VEVENT",
        "END:VCALENDAR",
    ]
    return "\r\n".join(folded for line in lines for folded in _folded(line)) + "\r\n"


@dataclass(frozen=True)
class Appointed:
    """One appointment. `revision`: how often it was changed; `cancelled`: a calendar that has it takes it out."""

    uid: str
    starts_at: datetime
    minutes: int
    summary: str
    words: str
    place: str
    changed_at: datetime
    revision: int = 0
    cancelled: bool = False


def appointments(found: Iterable[Appointed]) -> str:
    """The whole file.

    >>> at = datetime(2026, 11, 27, 10, 0, tzinfo=UTC)
    >>> text = appointments([Appointed("1", at, 90, "Wren, Heat pump", "Filters; belt", "Roof", at, cancelled=True)])
    >>> [line for line in text.split("\\r\\n") if line.startswith(("DTSTART", "DTEND", "SUMMARY", "STATUS"))]
    ['DTSTART:20261127T100000Z', 'DTEND:20261127T113000Z', 'SUMMARY:Wren\\\\, Heat pump', 'STATUS:CANCELLED']
    """
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//Fentro//Fentro//EN", "METHOD:PUBLISH"]
    for each in found:
        lines += [
            "BEGIN:VEVENT",
            f"UID:{_text(each.uid)}",
            f"DTSTAMP:{_moment(each.changed_at)}",
            f"DTSTART:{_moment(each.starts_at)}",
            f"DTEND:{_moment(each.starts_at + timedelta(minutes=each.minutes))}",
            f"SEQUENCE:{each.revision}",
            f"SUMMARY:{_text(each.summary)}",
            f"LOCATION:{_text(each.place)}",
            f"DESCRIPTION:{_text(each.words)}",
            f"STATUS:{'CANCELLED' if each.cancelled else 'CONFIRMED'}",
            "END:VEVENT",
        ]
    lines.append("END:VCALENDAR")
    return "\r\n".join(folded for line in lines for folded in _folded(line)) + "\r\n"


def _moment(at: datetime) -> str:
    return f"{at.astimezone(UTC):%Y%m%dT%H%M%SZ}"


def _text(words: str) -> str:
    """Text as a calendar file writes it."""
    escaped = words.replace("\\", "\\\\").replace(";", "\\;").replace(",", "\\,")
    return escaped.replace("\r", "").replace("\n", "\\n")


def _folded(line: str) -> Iterable[str]:
    """No line is longer than 75 bytes; what goes on begins with a blank."""
    rest, room, begin = line, 75, ""
    while len(rest.encode()) > room:
        at = room
        while len(rest[:at].encode()) > room:
            at -= 1
        yield begin + rest[:at]
        rest, begin, room = rest[at:], " ", 74
    yield begin + rest

"""A calendar file (iCalendar, RFC 5545) with one event that comes again."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta


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

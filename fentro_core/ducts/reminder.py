"""A reminder at the change of season: turn the handles to the other set of marks. As a calendar file (iCalendar, RFC 5545)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import date

from fentro_core.base.calendar_file import event
from fentro_core.ducts.design import Season

CHANGES: Mapping[Season, tuple[int, int]] = {"heating": (10, 1), "cooling": (5, 1)}
"""Month and day on which each season's marks are turned to. Ours; the calendar moves it."""

NAMES: Mapping[Season, str] = {"heating": "heating", "cooling": "cooling"}


def next_change(season: Season, today: date) -> date:
    """When the marks of a season are due next.

    >>> next_change("heating", date(2026, 11, 26)), next_change("cooling", date(2026, 3, 1))
    (datetime.date(2027, 10, 1), datetime.date(2026, 5, 1))
    """
    month, day = CHANGES[season]
    this_year = date(today.year, month, day)
    return this_year if this_year > today else date(today.year + 1, month, day)


def reminder(system: str, site: str, season: Season, marks: Iterable[tuple[str, str]], today: date, uid: str) -> str:
    """A calendar file that asks, each year, for the marks of a season; `marks`: rooms with the words of their handle.

    >>> "RRULE:FREQ=YEARLY" in reminder("Furnace", "Mill", "heating", [("Den", "22° from open")], date(2026, 11, 26), "1")
    True
    """
    when = next_change(season, today)
    words = "\n".join(f"{room}: {mark}" for room, mark in marks)
    summary = f"Dampers to the {NAMES[season]} marks: {system}, {site}"
    return event(uid, when, "FREQ=YEARLY", summary, words, today, "Balance")

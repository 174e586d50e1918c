"""A reminder to look at a ventilator's filters, as a calendar file."""

from __future__ import annotations

from calendar import monthrange
from datetime import date

from fentro_core.base.calendar_file import event

WORDS = "Switch it off first. Clean or change both filters, wipe the outdoor screen, see that the flap moves. Switch it on."


def first_look(today: date, months: int) -> date:
    """The same day of the month, so many months on; the month's last day where it has no such day.

    >>> first_look(date(2026, 11, 30), 3), first_look(date(2026, 12, 15), 12)
    (datetime.date(2027, 2, 28), datetime.date(2027, 12, 15))
    """
    year, month = divmod(today.month - 1 + months, 12)
    year, month = today.year + year, month + 1
    return date(year, month, min(today.day, monthrange(year, month)[1]))


def filter_reminder(system: str, site: str, months: int, today: date, uid: str) -> str:
    """A calendar file that asks for a look at the filters every so many months.

    >>> "INTERVAL=3" in filter_reminder("Ventilator", "Mill", 3, date(2026, 11, 26), "1")
    True
    """
    rule = f"FREQ=MONTHLY;INTERVAL={months}"
    return event(uid, first_look(today, months), rule, f"Filters: {system}, {site}", WORDS, today, "Filters")

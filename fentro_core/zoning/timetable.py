"""A zone's week and its overrides: what it is wanted at, at a moment. An override ends by itself."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from fentro_core.zoning.entries import WEEK_MIN, Slot, ZoneOverride, ZoneTimetable


@dataclass(frozen=True)
class Wanted:
    """Setpoints [°C], and until when they hold by an override; "" by the timetable."""

    cooling_setpoint_c: float | None = None
    heating_setpoint_c: float | None = None
    until: str = ""


def minute_of_week(moment: datetime) -> int:
    """Minutes since Monday 00:00, by the moment's own clock.

    >>> minute_of_week(datetime(2026, 11, 24, 6, 30))
    1830
    """
    return moment.weekday() * 1440 + moment.hour * 60 + moment.minute


def slot_at(timetable: ZoneTimetable, minute: int) -> Slot:
    """The slot that holds at a minute of the week: the last one that began, or the week's last.

    >>> week = ZoneTimetable("z", (Slot(360, 24.0), Slot(1200, 28.0)))
    >>> slot_at(week, 400).cooling_setpoint_c, slot_at(week, 100).cooling_setpoint_c
    (24.0, 28.0)
    """
    begun = [slot for slot in timetable.slots if slot.from_min <= minute % WEEK_MIN]
    return begun[-1] if begun else timetable.slots[-1]


def wanted_at(timetable: ZoneTimetable | None, overrides: Iterable[ZoneOverride], moment: datetime) -> Wanted:
    """What a zone is wanted at: by its latest override while that holds, else by its week.

    `moment` must know its offset from UTC; the week goes by its own clock.
    """
    slot = slot_at(timetable, minute_of_week(moment)) if timetable else Slot(0)
    holding = [each for each in overrides if datetime.fromisoformat(each.until) > moment]
    if not holding:
        return Wanted(slot.cooling_setpoint_c, slot.heating_setpoint_c)
    last = holding[-1]
    cooling = slot.cooling_setpoint_c if last.cooling_setpoint_c is None else last.cooling_setpoint_c
    heating = slot.heating_setpoint_c if last.heating_setpoint_c is None else last.heating_setpoint_c
    return Wanted(cooling, heating, last.until)

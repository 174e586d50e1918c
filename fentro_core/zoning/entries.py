"""What is said of zones on a visit: a zone, its timetable, an override, what the hardware is."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from fentro_core.base.limits import within
from fentro_core.base.refusal import Refused
from fentro_core.logbook.kinds import EntryKind, register
from fentro_core.zoning.proof.step import ZoneTestSeen

WEEK_MIN = 7 * 24 * 60
MOST_SLOTS = 60
SETPOINT_C = (5.0, 40.0)


@dataclass(frozen=True)
class Slot:
    """From a minute of the week on (0: Monday 00:00) a zone is wanted at these [°C]; None: not conditioned."""

    from_min: int
    cooling_setpoint_c: float | None = None
    heating_setpoint_c: float | None = None


@dataclass(frozen=True)
class ZoneTimetable:
    """A zone's week: each slot holds until the next; the last of the week goes on into Monday."""

    zone: str
    slots: tuple[Slot, ...]


@dataclass(frozen=True)
class ZoneOverride:
    """Another setpoint until a moment, when it ends by itself (ISO 8601 with its offset)."""

    zone: str
    until: str
    cooling_setpoint_c: float | None = None
    heating_setpoint_c: float | None = None
    why: str = ""


def _check_timetable(body: ZoneTimetable) -> None:
    if not body.slots:
        raise Refused("A timetable needs at least one slot.", "slots")
    if len(body.slots) > MOST_SLOTS:
        raise Refused("At most 60 slots a week.", "slots")
    for index, slot in enumerate(body.slots):
        if not 0 <= slot.from_min < WEEK_MIN:
            raise Refused("A slot begins within the week.", f"slots.{index}.from_min")
        if index and slot.from_min <= body.slots[index - 1].from_min:
            raise Refused("Slots stand in their order, each later than the one before.", f"slots.{index}.from_min")
        _check_setpoints(slot.cooling_setpoint_c, slot.heating_setpoint_c, f"slots.{index}.")


def _check_setpoints(cooling: float | None, heating: float | None, path: str) -> None:
    for value, name in ((cooling, "cooling_setpoint_c"), (heating, "heating_setpoint_c")):
        if value is not None:
            within(value, SETPOINT_C, f"{path}{name}", "temperature")
    if cooling is not None and heating is not None and heating >= cooling:
        raise Refused("Heating must lie below cooling, or the unit does both in turn.", f"{path}heating_setpoint_c")


def _check_override(body: ZoneOverride) -> None:
    try:
        until = datetime.fromisoformat(body.until)
    except ValueError:
        raise Refused("Say until when it holds.", "until") from None
    if until.tzinfo is None:
        raise Refused("Say until when it holds, with the offset from UTC.", "until")
    if body.cooling_setpoint_c is None and body.heating_setpoint_c is None:
        raise Refused("Give a setpoint.", "cooling_setpoint_c")
    _check_setpoints(body.cooling_setpoint_c, body.heating_setpoint_c, "")
    if len(body.why) > 200:
        raise Refused("Keep it under 200 letters.", "why")


TEST_KINDS = ("control", "alone", "all", "bypass", "hold")
MOST_SEEN = 300
READ: dict[str, tuple[float, float, str]] = {
    "static_pa": (-500.0, 2000.0, "pressure"),
    "supply_c": (-40.0, 120.0, "temperature"),
    "volts": (0.0, 300.0, "voltage"),
}
"""What a gauge, a probe and a meter may show at a test: least, most, kind."""


def _check_test(body: ZoneTestSeen) -> None:
    if body.test.split(":", 1)[0] not in TEST_KINDS or len(body.test) > 120:
        raise Refused("Say which test.", "test")
    for name, (low, high, kind) in READ.items():
        value = getattr(body, name)
        if value is not None:
            within(value, (low, high), name, kind)
    for name in ("air", "indicators", "held", "called"):
        if len(getattr(body, name) or ()) > MOST_SEEN:
            raise Refused("At most 300 looks in one test.", name)
    if len(body.note) > 400:
        raise Refused("Keep it under 400 letters.", "note")


register(
    EntryKind(key="zone_test", body=ZoneTestSeen, name="Zones proved", check=_check_test),
    EntryKind(key="zone_timetable", body=ZoneTimetable, name="Zone's timetable", check=_check_timetable),
    EntryKind(key="zone_override", body=ZoneOverride, name="Zone overridden", check=_check_override),
)

OF_ZONES = ("zone_timetable", "zone_override", "zone_test")
"""Every kind of entry about zones besides the zones themselves, which belong to the ducts."""

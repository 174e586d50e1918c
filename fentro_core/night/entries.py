"""What is said of night cooling on a visit: the setup, a plan that was taken over, the occupant's override."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.limits import WEATHER_C, within
from fentro_core.base.refusal import Refused
from fentro_core.logbook.kinds import EntryKind, register
from fentro_core.system.night_setup import NightSetup


@dataclass(frozen=True)
class NightPlanned:
    """A plan that was taken over into the control.

    Attributes
    ----------
    high_c, low_c, dew_point_c, room_c
        The forecast's high and low, its dew point where it is known, and the rooms at the beginning [°C].
    target_c
        Air down to which it blows.
    start_hour, stop_hour
        Of the day.
    speeds
        Of full flow, hour by hour from the start on.
    saved_j
        Electricity that it should save [J].
    """

    high_c: float
    low_c: float
    room_c: float
    target_c: float
    start_hour: int
    stop_hour: int
    speeds: tuple[float, ...] = ()
    dew_point_c: float | None = None
    saved_j: float | None = None


@dataclass(frozen=True)
class OutdoorAirNow:
    """The occupant's override: outdoor air for some hours, then back by itself."""

    hours: int
    why: str = ""


def _check_planned(body: NightPlanned) -> None:
    for name in ("high_c", "low_c", "room_c", "target_c"):
        within(getattr(body, name), WEATHER_C, name, "temperature")
    if body.low_c > body.high_c:
        raise Refused("The night's low can't lie above the day's high.", "low_c")
    if body.dew_point_c is not None:
        within(body.dew_point_c, WEATHER_C, "dew_point_c", "temperature")
    for name in ("start_hour", "stop_hour"):
        if not 0 <= getattr(body, name) <= 23:
            raise Refused("An hour of the day lies between 0 and 23.", name)
    if len(body.speeds) > 24 or any(not 0.0 <= speed <= 1.0 for speed in body.speeds):
        raise Refused("At most 24 speeds, each 0 to 100 %.", "speeds")
    if body.saved_j is not None and not abs(body.saved_j) <= 1e10:
        raise Refused("No night saves that much.", "saved_j")


def _check_now(body: OutdoorAirNow) -> None:
    if not 1 <= body.hours <= 12:
        raise Refused("Outdoor air for 1 to 12 hours; then it returns by itself.", "hours")
    if len(body.why) > 200:
        raise Refused("Keep it under 200 letters.", "why")


register(
    EntryKind(key="night_setup", body=NightSetup, name="Night cooling", check=NightSetup.check),
    EntryKind(key="night_planned", body=NightPlanned, name="Night planned", check=_check_planned),
    EntryKind(key="outdoor_air_now", body=OutdoorAirNow, name="Outdoor air now", check=_check_now),
)

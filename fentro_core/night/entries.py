"""What is said of night cooling on a visit: setup, plan, the night's samples, the damper's tests, the occupant's override."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.limits import within
from fentro_core.base.refusal import Refused
from fentro_core.logbook.kinds import EntryKind, register
from fentro_core.night.after import NightSamples
from fentro_core.night.proof import NightTestSeen
from fentro_core.system.night_setup import NightPlanned, NightSetup

MOST_NOTE = 400


@dataclass(frozen=True)
class OutdoorAirNow:
    """The occupant's override: outdoor air for some hours, then back by itself."""

    hours: int
    why: str = ""


def _check_now(body: OutdoorAirNow) -> None:
    if not 1 <= body.hours <= 12:
        raise Refused("Outdoor air for 1 to 12 hours; then it returns by itself.", "hours")
    if len(body.why) > 200:
        raise Refused("Keep it under 200 letters.", "why")


def _check_test(body: NightTestSeen) -> None:
    for name in ("shown_c", "probe_c"):
        value = getattr(body, name)
        if value is not None:
            within(value, (-60.0, 90.0), name, "temperature")
    if len(body.note) > MOST_NOTE:
        raise Refused("Keep it under 400 letters.", "note")


register(
    EntryKind(key="night_seen", body=NightSamples, name="Night's samples", check=NightSamples.check),
    EntryKind(key="night_test", body=NightTestSeen, name="Night damper proved", check=_check_test),
    EntryKind(key="night_setup", body=NightSetup, name="Night cooling", check=NightSetup.check),
    EntryKind(key="night_planned", body=NightPlanned, name="Night planned", check=NightPlanned.check),
    EntryKind(key="outdoor_air_now", body=OutdoorAirNow, name="Outdoor air now", check=_check_now),
)

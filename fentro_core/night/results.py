"""What the page Tonight stands on."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.night.entries import NightPlanned
from fentro_core.system.night_setup import NightSetup


@dataclass(frozen=True)
class NightPage:
    """The setup as it was last said, kept with the system or on this visit; the last plan; what is known where nothing was said.

    `room_c`: the rooms as last read; `capacity_w`: by the nameplate; `floor_area_m2`: as the dwelling was noted.
    """

    setup: NightSetup | None = None
    setup_entry: str = ""
    planned: NightPlanned | None = None
    planned_entry: str = ""
    room_c: float | None = None
    capacity_w: float | None = None
    floor_area_m2: float | None = None
    full_m3s: float | None = None

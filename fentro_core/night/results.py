"""What the page Tonight stands on."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.night.after import NightAfter, NightSamples
from fentro_core.night.entries import OutdoorAirNow
from fentro_core.night.proof import NightTestKind, NightTestSeen
from fentro_core.system.night_setup import NightPlanned, NightSetup


@dataclass(frozen=True)
class NightTestLine:
    """A test of the damper with its last verdict."""

    key: NightTestKind
    title: str
    do: Sentence
    asks: tuple[str, ...]
    mark: Mark
    words: Sentence
    seen: NightTestSeen | None = None
    entry: str = ""


@dataclass(frozen=True)
class NightProof:
    """Tests of the damper, and what they say together."""

    tests: tuple[NightTestLine, ...]
    mark: Mark
    words: Sentence
    done: int


@dataclass(frozen=True)
class NightPage:
    """The setup as it was last said, kept with the system or on this visit; the last plan; what is known where nothing was said.

    `room_c`: the rooms as last read; `capacity_w`: by the nameplate; `floor_area_m2`: as the dwelling was noted.
    `seen`, `after`: the night's samples and what they say; `after_words`: why they say nothing. `override_until`: when
    outdoor air goes back by itself, by the clock of who pressed it.
    """

    setup: NightSetup | None = None
    setup_entry: str = ""
    planned: NightPlanned | None = None
    planned_entry: str = ""
    room_c: float | None = None
    capacity_w: float | None = None
    floor_area_m2: float | None = None
    full_m3s: float | None = None
    seen: NightSamples | None = None
    seen_entry: str = ""
    after: NightAfter | None = None
    after_words: Sentence | None = None
    override: OutdoorAirNow | None = None
    override_until: str = ""
    override_entry: str = ""
    proof: NightProof | None = None

"""What a functional test is: stimulus, what is due, within what time, with which hazards; and what was seen of it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark

SHARE = "outdoor_share"
ALARMING = "alarming"
OVERRIDES = "overrides"
CHANGE = "damper_change"
RISE = "supply_rise"
MODE = "mode_as_found"
"""Worked out from a controller's points besides those it shows."""

NAMES: dict[str, tuple[str, str]] = {
    "damper_position": ("Outdoor damper", "share"),
    "damper_command": ("Damper command", "share"),
    SHARE: ("Outdoor-air share by temperature", "share"),
    "compressor": ("Compressor", "share"),
    "heating": ("Heating", "share"),
    "fan": ("Fan", "share"),
    "relief": ("Relief", "share"),
    "building_pressure": ("Building pressure", "pressure"),
    "outdoor_temperature": ("Outdoor sensor", "temperature"),
    "return_temperature": ("Return sensor", "temperature"),
    "mixed_temperature": ("Mixed-air sensor", "temperature"),
    "after_coil_temperature": ("Sensor after the coil", "temperature"),
    "supply_temperature": ("Supply sensor", "temperature"),
    "room_temperature": ("Room sensor", "temperature"),
    ALARMING: ("Alarm shown", "share"),
    OVERRIDES: ("Overrides left", "ratio"),
    CHANGE: ("Damper command moved by", "share"),
    RISE: ("Supply above mixed air", "temperature_difference"),
    "occupied": ("Schedule: occupied", "share"),
    MODE: ("Runs by itself as it was found", "share"),
    "mode_free": ("Cooling with outdoor air", "share"),
}

SHOWN_AS = {ALARMING: "yes", OVERRIDES: "count", "occupied": "yes", MODE: "yes"}
"""Points that are said as yes or no, or counted, rather than in a unit."""

BY_EYE = ("damper_position", "compressor", "fan", "relief", "building_pressure", ALARMING, SHARE, MODE)
"""What a technician can see at the unit and type."""

ON_OFF = ("compressor", "fan", ALARMING, MODE)
"""Seen as on or off."""

HALF_WIDTHS: dict[str, float] = {
    "damper_position": 0.02,
    "damper_command": 0.005,
    "building_pressure": 1.0,
    "outdoor_temperature": 0.4,
    "return_temperature": 0.4,
    "mixed_temperature": 0.4,
    "after_coil_temperature": 0.4,
    "supply_temperature": 0.4,
}
EYE_HALF_WIDTHS: dict[str, float] = {"damper_position": 0.05, "building_pressure": 1.5}


@dataclass(frozen=True)
class Due:
    """What one point must show. SI; a limit left out is no limit."""

    point: str
    low: float | None = None
    high: float | None = None


@dataclass(frozen=True)
class Stimulus:
    """An override: a point held at a value, SI."""

    point: str
    value: float


@dataclass(frozen=True)
class Hand:
    """Something done by hand at the unit, its undoing, and how it stands in the ledger."""

    action: str
    value: str
    words: str
    undo: str
    kind: Literal["wire", "sensor"] = "wire"


@dataclass(frozen=True)
class Step:
    """One test. `first`: overrides that bring about the starting condition `ready`, which is not judged; it
    must stand after `ready_after_s`.

    `allowed_s`: the response is due by then; `hold_s`: it must stay so for this long; `throughout`: it must be so from
    `settle_s` on, all the time. `moves`: what must be seen once, or the test proves nothing. `mode`: the controller's mode as
    found, to which it must come back. `not_today`: why it can't be run.
    """

    key: str
    title: str
    purpose: str
    do: Sentence
    stimulus: tuple[Stimulus, ...] = ()
    expected: tuple[Due, ...] = ()
    allowed_s: float = 300.0
    hold_s: float = 30.0
    throughout: bool = False
    settle_s: float = 0.0
    first: tuple[Stimulus, ...] = ()
    ready: tuple[Due, ...] = ()
    ready_after_s: float = 10.0
    hand: Hand | None = None
    hazards: tuple[str, ...] = ()
    by_hand_only: bool = False
    look: tuple[str, ...] = ()
    not_today: Sentence | None = None
    moves: tuple[Due, ...] = ()
    mode: str = ""


@dataclass(frozen=True)
class Sample:
    """What the controller showed at a time since the test began [s]."""

    at_s: float
    values: dict[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class TestRun:
    """What was seen of a test. `values`: at its end, `plus_minus`: their half-widths, SI.

    `reached_s`: when all that is due was so first; None: never. `ended`: ``done``, ``stopped`` by the technician, ``gone``
    when the controller stopped answering, ``not_ready`` when the starting condition never came, ``refused`` when the
    controller refused an override, ``tripped`` when freeze protection stopped the unit, ``not_held`` when an override was let go,
    or never took. `unmoved`: points that had to move for the test to count, and did not. `before`: fan and schedule as they
    stood before the test, not held; `mode_before`: the controller's mode then.
    """

    test: str
    how: Literal["watched", "controller"]
    values: dict[str, float] = field(default_factory=dict)
    plus_minus: dict[str, float] = field(default_factory=dict)
    expected: tuple[Due, ...] = ()
    seconds: float = 0.0
    reached_s: float | None = None
    allowed_s: float = 0.0
    ended: Literal["done", "stopped", "gone", "not_ready", "refused", "tripped", "not_held"] = "done"
    trace: tuple[Sample, ...] = ()
    note: str = ""
    asked: tuple[str, ...] = ()
    looks: dict[str, bool] = field(default_factory=dict)
    unmoved: tuple[str, ...] = ()
    before: dict[str, float] = field(default_factory=dict)
    mode_before: str = ""

    __test__ = False


@dataclass(frozen=True)
class Judged:
    """One point's verdict: what is due, what was seen."""

    point: str
    name: str
    kind: str
    low: float | None
    high: float | None
    value: float | None
    plus_minus: float
    mark: Mark
    side: str = ""


@dataclass(frozen=True)
class StepVerdict:
    """A test's verdict: the gravest of its points. Nothing holds that was not observed."""

    mark: Mark
    points: tuple[Judged, ...]
    sentence: Sentence

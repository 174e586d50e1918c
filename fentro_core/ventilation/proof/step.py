"""What a test of a ventilator is, and what was seen of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from fentro_core.base.sentence import Sentence
from fentro_core.system.fresh_air import Stream

TestKind = Literal["settings", "sensor", "run", "stop", "low", "high", "dew", "humid", "hour", "boost", "filters"]
Runs = Literal["runs", "stands"]
Air = Literal["right", "wrong", "little", "none"]
Blade = Literal["open", "shut"]
Filters = Literal["clean", "dirty", "blocked"]
Screen = Literal["clear", "clogged", "missing"]
Ended = Literal["done", "stopped", "gone", "refused"]
Ask = Literal["as_card", "sensor", "fan", "damper", "air", "blower", "again", "minutes", "filters", "screen"]

LOCKOUTS: tuple[TestKind, ...] = ("low", "high", "dew", "humid")
"""Tests of a limit: the control is made to believe that it is past it."""

TRAVEL_S = 120.0
"""Longest a ventilator's damper and fan take to come or go; look no sooner. Ours, from ordinary actuators."""


@dataclass(frozen=True)
class VentilatorTest:
    """One test: what to do, what is due, what to look at.

    Attributes
    ----------
    key, kind
        The kind is the key: every test is there once.
    due
        By what is looked at.
    asks
        What is looked at.
    hold, then
        What a connected control is held at; and for the second look, after it came back.
    """

    kind: TestKind
    title: str
    do: Sentence
    asks: tuple[Ask, ...]
    due: Mapping[str, str] = field(default_factory=dict)
    hold: Mapping[str, float] = field(default_factory=dict)
    then: Mapping[str, float] = field(default_factory=dict)

    @property
    def key(self) -> str:
        """Its name in entries."""
        return self.kind


@dataclass(frozen=True)
class VentilatorTestSeen:
    """What was seen of a test; what was not looked at is left out.

    Attributes
    ----------
    test
        Key of the test.
    how
        By hand at its control, or by the app through a gateway.
    as_card
        Whether every value at the control is as it was left.
    shown_c, probe_c
        Outdoor temperature that the control shows; by a probe in the shade beside its sensor [°C].
    fan, blower
        The ventilator's fan, the system's blower.
    damper
        The outdoor-air damper's blade.
    air
        By stream, at its grille: the right way, the wrong way, little, none.
    again
        The fan, after the simulated value was taken back; after a boost: whether it went back to rest.
    minutes
        That it ran within one hour [min].
    filters, screen
        Looked at.
    """

    test: TestKind
    how: Literal["watched", "control"] = "watched"
    as_card: bool | None = None
    shown_c: float | None = None
    probe_c: float | None = None
    fan: Literal["", Runs] = ""
    blower: Literal["", Runs] = ""
    damper: Literal["", Blade] = ""
    air: dict[Stream, Air] = field(default_factory=dict)
    again: Literal["", Runs] = ""
    minutes: float | None = None
    filters: Literal["", Filters] = ""
    screen: Literal["", Screen] = ""
    ended: Ended = "done"
    note: str = ""

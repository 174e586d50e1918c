"""What a test of zones is, and what was seen of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from fentro_core.base.sentence import Sentence
from fentro_core.zoning.board import ControlState, Indicator

TestKind = Literal["control", "alone", "all", "bypass", "hold"]
Air = Literal["air", "little", "none"]
Due = Literal["open", "least", "shut"]
Lever = Literal["shut", "part", "open"]
Noise = Literal["quiet", "noticeable", "loud"]
Ended = Literal["done", "stopped", "gone", "refused"]

AIR: Mapping[str, str] = {"air": "air", "little": "a little", "none": "none"}
NOISES: Mapping[str, str] = {"quiet": "quiet", "noticeable": "noticeable", "loud": "loud"}
LEVERS: Mapping[str, str] = {"shut": "shut", "part": "part open", "open": "open"}

LOW_VOLTS = 0.85
"""Share of the nominal voltage under which a zone damper may not finish its stroke. Ordinary actuators are rated so."""


@dataclass(frozen=True)
class ZoneTest:
    """One test: zones that are called, what is due at every register, what to look at.

    Attributes
    ----------
    key
        ``kind:zone``, ``all`` or ``bypass``.
    calling
        Ids of the zones that call; the others must not.
    rooms
        By branch: open, kept a little open, or shut.
    faint
        Branches that are due open and so weak by the model that a hand may feel nothing.
    asks
        What is looked at: ``air``, ``indicators``, ``called``, ``control``, ``static_pa``, ``noise``, ``bypass``, ``volts``,
        ``held``.
    """

    key: str
    kind: TestKind
    title: str
    do: Sentence
    zone: str = ""
    calling: tuple[str, ...] = ()
    rooms: Mapping[str, Due] = field(default_factory=dict)
    faint: frozenset[str] = frozenset()
    asks: tuple[str, ...] = ()


@dataclass(frozen=True)
class ZoneTestSeen:
    """What was seen of a test; what was not looked at is left out.

    Attributes
    ----------
    test
        Key of the test.
    how
        Called at the board by hand, or by the app through a gateway.
    air
        By branch, at its register.
    indicators
        By zone, at the board.
    called
        Zones that the board shows as calling, in a test of a control point.
    control
        Of that control point.
    static_pa, supply_c, volts
        External static [Pa], supply air [°C], transformer [V] while the dampers move.
    bypass, noise
        The bypass's lever; how loud it is where people sit.
    held
        By branch: whether its bladder held its pressure for a minute.
    """

    test: str
    how: Literal["watched", "board"] = "watched"
    air: dict[str, Air] = field(default_factory=dict)
    indicators: dict[str, Indicator] = field(default_factory=dict)
    called: tuple[str, ...] | None = None
    control: Literal["", ControlState] = ""
    static_pa: float | None = None
    supply_c: float | None = None
    volts: float | None = None
    bypass: Literal["", Lever] = ""
    noise: Literal["", Noise] = ""
    held: dict[str, bool] = field(default_factory=dict)
    ended: Ended = "done"
    note: str = ""

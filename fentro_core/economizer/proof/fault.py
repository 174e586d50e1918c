"""What a fault of a controlled economizer is: which signs it upsets, and how surely. Names of signs that several tests share."""

from __future__ import annotations

from collections.abc import Mapping, Set
from dataclasses import dataclass

STANDS, BACKWARDS = "damper.stands", "damper.backwards"
"""Over the tests that drive it: the actuator's answer is the same at every command, or goes the other way."""

AIR_STANDS, AIR_BACKWARDS = "air.stands", "air.backwards"
"""The share of outdoor air, at both ends of the stroke, likewise."""

TRUE_AIR_STANDS, TRUE_AIR_BACKWARDS = "audit.air_stands", "audit.air_backwards"
"""The same by a probe, with the damper shut and part open: no sensor of the unit has a say in it."""

TRUE_AIR_SHUT, TRUE_AIR_SHORT = "audit.open_when_shut", "audit.opens_short"
"""A probe found much outdoor air with the damper shut, or too little with it open."""

TRUE_AIR = (TRUE_AIR_STANDS, TRUE_AIR_BACKWARDS, TRUE_AIR_SHUT, TRUE_AIR_SHORT)

NO_COOLING = "audit.no_cooling"
"""A probe found the supply air no colder than the mixed air with the compressor on."""

CERTAINLY, SURELY, USUALLY, MAYBE, SELDOM = 0.995, 0.93, 0.8, 0.35, 0.1
"""How surely a fault upsets a test. Ours. Usually: of five wrong settings one is not in what the controller shows, but a screw or
a jumper at the module."""


@dataclass(frozen=True, kw_only=True)
class Upsets:
    """What one variant of a fault upsets: ``test.point.side``, ``test.not_ready``, ``audit.swapped`` ..."""

    certainly: Set[str] = frozenset()
    surely: Set[str] = frozenset()
    usually: Set[str] = frozenset()
    maybe: Set[str] = frozenset()
    seldom: Set[str] = frozenset()

    def chances(self) -> Mapping[str, float]:
        """How likely each sign is, by sign."""
        return {
            **dict.fromkeys(self.seldom, SELDOM),
            **dict.fromkeys(self.maybe, MAYBE),
            **dict.fromkeys(self.usually, USUALLY),
            **dict.fromkeys(self.surely, SURELY),
            **dict.fromkeys(self.certainly, CERTAINLY),
        }


@dataclass(frozen=True)
class ControlFault:
    """Something that may be wrong, what to do and who may; each variant shows in its own way.

    `hides`: signs of other faults that can't be seen while this one is there.
    """

    key: str
    name: str
    do: str
    who: str
    variants: tuple[Upsets, ...]
    hides: Set[str] = frozenset()

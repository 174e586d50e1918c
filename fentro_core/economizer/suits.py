"""Whether a changeover as it runs suits the climate: that the unit does what is set is not enough."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.economizer.changeover import CAP_F, FIXED_LIMIT_F, NOT_DIFFERENTIAL_DRY_BULB
from fentro_core.economizer.configuration import Configuration

LIMIT_WITHIN_K = 0.6
"""A limit so near to the zone's is the zone's, rounded. Ours."""

WASTED_FROM_K = 2.5
"""So far under the zone's limit, hours of free cooling are given away. Ours."""


@dataclass(frozen=True)
class Unsuited:
    """What does not suit, by the setting's key."""

    setting: str
    mark: Mark
    words: Sentence


def unsuited(setting: Configuration, zone: str) -> Iterator[Unsuited]:
    """What of the changeover does not suit the climate zone, after the usual energy standard (2019); local code rules.

    Nothing where the zone is not known.

    >>> [each.mark for each in unsuited(Configuration(changeover="fixed_dry_bulb", high_limit_c=30.0), "3A")]
    ['off']
    """
    if zone not in FIXED_LIMIT_F:
        return
    if setting.changeover == "differential_dry_bulb":
        if zone in NOT_DIFFERENTIAL_DRY_BULB:
            words = f"Changeover by differential dry bulb is not for climate zone {zone}: cool, wet outdoor air is let in."
            yield Unsuited("changeover", "off", Sentence(words))
        return
    by_dry_bulb = setting.changeover == "fixed_dry_bulb"
    most = ((FIXED_LIMIT_F[zone] if by_dry_bulb else CAP_F) - 32) / 1.8
    numbers = {"limit": (setting.high_limit_c, "temperature"), "most": (most, "temperature")}
    if setting.high_limit_c > most + LIMIT_WITHIN_K:
        words = f"High limit {{limit}}: climate zone {zone} allows {{most}}. Outdoor air that costs more than it saves is let in."
        yield Unsuited("high_limit_c", "off", Sentence.of(words, **numbers))
    elif by_dry_bulb and setting.high_limit_c < most - WASTED_FROM_K:
        words = f"High limit {{limit}}: climate zone {zone} allows {{most}}. Hours of free cooling are given away."
        yield Unsuited("high_limit_c", "watch", Sentence.of(words, **numbers))

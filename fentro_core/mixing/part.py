"""Outdoor air in the mixed air, by temperature."""

from __future__ import annotations

from collections.abc import Iterator
from math import hypot
from typing import Any

from fentro_core.base.measured import Measured, propagate
from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.working import Working
from fentro_core.diagnosis.signs import Sign
from fentro_core.mixing import outdoor_share as formula
from fentro_core.mixing.causes import CAUSES
from fentro_core.mixing.outdoor_share import outdoor_share
from fentro_core.mixing.symptoms import SYMPTOMS
from fentro_core.phase.context import PartContext, missing, said
from fentro_core.phase.declaration import Part, PartResult
from fentro_core.phase.numbers import Number
from fentro_core.phase.results import Result, VerdictLine
from fentro_core.system.nameplate import Nameplate

Context = PartContext[Any]

USABLE_SHARE_HALF_WIDTH = 0.10
"""An outdoor-air share known to no better than this says nothing about a minimum position."""

LARGE_OUTDOOR_SHARE = 0.40

MIXED_FROM = ("return", "outdoor", "mixed")


def applies(nameplate: Nameplate) -> bool:
    """Where a damper can mix outdoor air in."""
    return nameplate.takes_outdoor


def work(context: Context) -> PartResult:
    """The share with its verdict."""
    return PartResult(results=(_share(context),), verdicts=tuple(_verdicts(context)), symptoms=tuple(_signs(context)))


def _share(context: Context) -> Result:
    airs = context.readings.matched_airs
    lacking = [f"{name.title()} dry bulb" for name in MIXED_FROM if name not in airs]
    if lacking:
        return missing("outdoor_share", lacking)
    inputs = {f"{name}_dry_bulb_c": airs[name].dry_bulb for name in MIXED_FROM}
    working = Working()
    try:
        outdoor_share(**{name: given.value for name, given in inputs.items()}, work=working)
        share = propagate(lambda **given: {"x": outdoor_share(**given)}, inputs)["x"]
    except Refused as refusal:
        return said("outdoor_share", refusal.sentence)
    return context.keep("outdoor_share", share, working)


def _verdicts(context: Context) -> Iterator[VerdictLine]:
    key, share = "outdoor_share", context.number("outdoor_share")
    if share is None:
        return
    number = (share.value, "share")
    if share.high < 0 or share.low > 1:
        text = "Outdoor-air share comes out at {share}: mixed air must lie between return and outdoor. Check the three probes."
        yield VerdictLine(key, "off", Sentence.of(text, share=number), key)
    elif share.plus_minus > USABLE_SHARE_HALF_WIDTH:
        words = Sentence.of("Outdoor-air share can't be told today: outdoor and return air are too much alike.")
        if _by_layers(share):
            text = "Outdoor-air share is known to no better than {width}: read mixed and return air at several points."
            words = Sentence.of(text, width=(share.plus_minus, "share"))
        yield VerdictLine(key, None, words, key)
    else:
        yield VerdictLine(key, None, Sentence.of("Outdoor air is {share} of the mixed air.", share=number), key)


def _by_layers(share: Measured) -> bool:
    """Without the doubt of where in a duct was read it would be usable: more points help, another day is not needed."""
    rest = [part for source, part in share.parts.items() if "layers" not in source and "spread" not in source]
    return hypot(*rest) <= USABLE_SHARE_HALF_WIDTH


def _signs(context: Context) -> Iterator[Sign]:
    share = context.number("outdoor_share")
    if share is not None:
        names = {"right": "ordinary", "high": "large"}
        yield from context.judge("outdoor_share", share, None, LARGE_OUTDOOR_SHARE, names)


PART = Part(
    key="mixing",
    name="Outdoor air",
    work=work,
    calculations=(formula,),
    applies=applies,
    numbers=(Number(key="outdoor_share", name="Outdoor-air share", kind="share", compared=True, optional=True, headline=True),),
    symptoms=SYMPTOMS,
    causes=CAUSES,
    subjects={
        "outdoor_share": "Share of outdoor air",
    },
)

"""What a visit that is about moisture says to the table of causes."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from fentro_core.base.measured import Measured
from fentro_core.diagnosis.signs import Sign
from fentro_core.moisture.causes import SHOWN_BY
from fentro_core.moisture.page import MoisturePage
from fentro_core.moisture.proving import diagnosed
from fentro_core.phase.context import PartContext

ABOUT = frozenset({"condensate", "moisture_aim", "water_sources", "drying_test"})
"""Entries that make a visit one about moisture: on any other a damp day is no complaint."""

DAMP_RH = 0.60
"""A room more humid than this is damp. Ours, within the usual limits of comfort."""

OUTDOOR = ("outdoor", "gaps")
"""Sources that are outdoor air, by their line on the page."""


def signs(context: PartContext[Any], page: MoisturePage) -> Iterator[Sign]:
    """Room, coil, bucket and sources as the page says them; the proof where it says something for sure."""
    if not any(entry.kind in ABOUT for entry in context.visit.others):
        return
    return_ = context.air("return")
    humidity = return_.properties.get("relative_humidity") if return_ else None
    if humidity is not None:
        yield from context.judge("damp_room", humidity, None, DAMP_RH, {"high": "damp"})
    water = context.number("coil_water")
    if water is not None and not context.early:
        yield from context.sign("coil_dries", _dries(context, water))
    weighed = context.number("bucket_water")
    if weighed is not None and water is not None and page.condensate and page.condensate.settled:
        apart = weighed - water
        told = "agrees" if abs(apart.value) <= apart.plus_minus else "less" if apart.value < 0 else "more"
        yield from context.sign("bucket", told)
    yield from _sources(context, page)
    yield from _proved(context, page)


def _dries(context: PartContext[Any], water: Measured) -> str:
    """By the water, or because the coil leaves its air clearly above the dew point; "" where neither tells."""
    leaving, dew_point = context.number("coil_leaving"), context.number("coil_dew_point")
    if water.low > 0:
        return "dries"
    above = leaving is not None and dew_point is not None and (leaving - dew_point).low > 0
    return "dry" if above or water.high <= 0 else ""


def _sources(context: PartContext[Any], page: MoisturePage) -> Iterator[Sign]:
    """Only what lies beyond the half-width of the balance; "explained" only where water does come in."""
    brings = {line.key: line.brings for line in page.brought}
    rest = brings.pop("unexplained", None)
    whole = sum(each.value for each in brings.values())
    if rest is None or whole <= 0 or rest.value + rest.plus_minus < 0:
        return
    outdoor = [brings[key] for key in OUTDOOR if key in brings]
    if rest.value > rest.plus_minus:
        yield from context.sign("water_in", "unexplained")
    elif sum(each.value - each.plus_minus for each in outdoor) > whole / 2:
        yield from context.sign("water_in", "outdoor")
    else:
        yield from context.sign("water_in", "explained")


def _proved(context: PartContext[Any], page: MoisturePage) -> Iterator[Sign]:
    """Faults that two runs agree on; nothing is called right before every test of it holds."""
    if page.proof is None or not page.proof.done:
        return
    named = {fault.key for fault in diagnosed(context.visit).found}
    told = {SHOWN_BY[key][0]: SHOWN_BY[key][1] for key in named}
    for symptom, kinds in TESTS.items():
        lines = [line for line in page.proof.tests if line.key in kinds]
        if symptom in told:
            yield from context.sign(symptom, told[symptom])
        elif lines and all(line.mark == "holds" for line in lines):
            yield from context.sign(symptom, "right")


TESTS = {
    "reheat_proof": {"cooling", "reheat", "back"},
    "bypass_proof": {"bypass_shut", "bypass_open"},
    "dry_call_proof": {"dehumidify"},
}
"""Tests that must hold before it is called right."""

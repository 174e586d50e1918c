"""The walk to the minimum position: every read share, and the next position."""

from __future__ import annotations

from math import sqrt

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.economizer.entries import (
    DamperRead,
    OutdoorNeed,
)
from fentro_core.economizer.minimum_position import PositionRead, next_position
from fentro_core.economizer.proof.day import Day
from fentro_core.economizer.results import (
    Walk,
    WalkLine,
)
from fentro_core.logbook.entry import Entry


def damper_reads(entries: list[Entry]) -> tuple[tuple[PositionRead, ...], tuple[WalkLine, ...]]:
    """Shares by temperature at each damper position, with half-widths; those that can't be told are lines alone."""
    reads, lines = [], []
    for entry in entries:
        body = entry.body
        if not isinstance(body, DamperRead):
            continue
        contrast = body.outdoor_c - body.return_c
        if abs(contrast) < 1.0:
            words = Sentence.of(
                "Outdoor and return air are only {contrast} apart: nothing can be told. Come back when they differ by {least}.",
                contrast=(abs(contrast), "temperature_difference"),
                least=(10.0, "temperature_difference"),
            )
            lines.append(WalkLine(entry.id, body.position, None, words))
            continue
        share = (body.mixed_c - body.return_c) / contrast
        width = body.plus_minus_k * sqrt(1 + share * share + (1 - share) ** 2) / abs(contrast)
        weak = None
        if width > 0.1:
            weak = Sentence.of(
                "Known to no better than {width}: wait for a larger difference than {contrast}, or match the probes.",
                width=(width, "share"),
                contrast=(abs(contrast), "temperature_difference"),
            )
        lines.append(WalkLine(entry.id, body.position, Quantity(share, width, "share"), weak))
        if 0 <= share <= 1.05:
            reads.append(PositionRead(body.position, min(share, 1.0), width))
    return tuple(reads), tuple(lines)


def walk_of(need: OutdoorNeed | None, reads: tuple[PositionRead, ...], lines: tuple[WalkLine, ...], day: Day) -> Walk:
    """What is wanted, what was read, and where the damper goes next."""
    if need is None:
        return Walk(None, lines, None, Sentence.of("First say how much outdoor air is required, of how much supply air."))
    wanted = need.required_m3s / need.supply_m3s
    following = next_position(reads, need.required_m3s, need.supply_m3s, day.return_c, day.outdoor_c)
    return Walk(wanted, lines, following, None, _ADVICE.get(following.advice))


_ADVICE = {
    "read_apart": Sentence.of(
        "The readings so far are too much alike to tell how this damper opens. Read it once more here, a step from the others."
    ),
    "too_coarse": Sentence.of(
        "The share is about right, but known too coarsely to settle on. Match the probes, or come back when outdoor and "
        "return air differ more."
    ),
    "leaks_shut": Sentence.of(
        "More outdoor air than wanted comes in with the damper shut: its blades or seals leak. Mend them before setting it."
    ),
    "opens_short": Sentence.of(
        "Less outdoor air than wanted comes in with the damper fully open. Look for a blocked intake, a slipped linkage, or a "
        "return damper that does not shut."
    ),
}

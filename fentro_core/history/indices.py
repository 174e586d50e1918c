"""The numbers that are followed over visits: what each is, what it should be, and what its drift says."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.history.drift import HistoryPoint, drift
from fentro_core.sentence import Sentence
from fentro_core.verdict import Mark


@dataclass(frozen=True)
class Index:
    """A followed number. `low`, `high`: where it should lie, None where it depends on the plate; `worse`: the bad way."""

    key: str
    name: str
    kind: str
    low: float | None
    high: float | None
    worse: str
    says: str


INDICES: dict[str, Index] = {
    index.key: index
    for index in (
        Index("capacity_share", "Cooling against target", "share", 0.9, 1.1, "down",
              "Less cooling from visit to visit: coil, charge or compressor is going."),
        Index("split_residual", "Split less target", "temperature_difference", -3 / 1.8, 3 / 1.8, "down",
              "The split falls behind its target: look for charge and for heat leaking in."),
        Index("heat_share", "Heat against expected", "share", 0.9, 1.1, "down", "Less heat from visit to visit."),
        Index("rise", "Temperature rise", "temperature_difference", None, None, "up",
              "The rise climbs: the air gets less. Filter, coil, blower."),
        Index("airflow", "Airflow", "airflow", None, None, "down", "The air gets less: filter, coil, blower, closed registers."),
        Index("leak_share", "Drawn in on the return side", "share", None, 0.05, "up", "The return leaks more: a seam opens."),
        Index("external_static", "External static", "pressure", None, None, "up",
              "External static climbs: something in the way of the air fills up."),
        Index("drop_filter_at_rated", "Filter's drop at rated flow", "pressure", None, None, "up",
              "The filter fills up between visits."),
    )
}  # fmt: skip
"""By key, in the order they are shown."""

LEADS = {"up": "Rising", "down": "Falling", "none": "No drift larger than the visits' own half-widths.",
         "too_few": "Three visits or more tell a drift."}  # fmt: skip


@dataclass(frozen=True)
class Followed:
    """What the visits together say of one index."""

    mark: Mark | None
    sentence: Sentence


def followed(key: str, points: tuple[HistoryPoint, ...]) -> Followed:
    """The drift of an index in words; only a drift the bad way is "watch".

    >>> falling = tuple(HistoryPoint(90.0 * n, 1.0 - 0.06 * n, 0.05) for n in range(5))
    >>> followed("capacity_share", falling).mark
    'watch'
    """
    index, found = INDICES[key], drift(points)
    if found.direction in ("none", "too_few"):
        return Followed(None, Sentence.of(LEADS[found.direction]))
    kind = {"temperature": "temperature_difference"}.get(index.kind, index.kind)
    words = f"{LEADS[found.direction]}: {{change}} ±{{width}} over the time shown."
    bad = found.direction == index.worse
    text = f"{words} {index.says}" if bad else words
    return Followed(
        "watch" if bad else None, Sentence.of(text, change=(found.change, kind), width=(found.change_plus_minus, kind))
    )

"""What the cooling page shows: the split against its targets, and the four-way drawing."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark


@dataclass(frozen=True)
class SplitTarget:
    """One way to a target for the split: the target, its verdict, and whether it is the one judged by."""

    key: str
    name: str
    reason: str
    target: Quantity | None
    mark: Mark
    used: bool


@dataclass(frozen=True)
class FourWay:
    """Split and cooling against the targets at the plate's airflow; `reading`: what the pair says, when both are clear.

    `tolerance_split` [K] and `tolerance_capacity` (a share) are the edges of the middle field.
    """

    split: Quantity
    capacity: Quantity
    tolerance_split: float
    tolerance_capacity: float
    reading: Sentence | None


@dataclass(frozen=True)
class CoolingPage:
    """The split by every way to a target, and the point on the four-way drawing once it is known."""

    targets: tuple[SplitTarget, ...]
    four_way: FourWay | None

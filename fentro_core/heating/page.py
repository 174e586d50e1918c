"""What the heating page shows."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.quantity import Quantity
from fentro_core.base.verdict import Mark


@dataclass(frozen=True)
class WhoMay:
    """Who may do what about a rise that is off."""

    who: str
    what: str


@dataclass(frozen=True)
class HeatingPage:
    """Rise against the plate's range, supply air against its most; who may act; the words about carbon monoxide."""

    rise: Quantity | None
    low: Quantity | None
    high: Quantity | None
    outlet: Quantity | None
    most_outlet: Quantity | None
    mark: Mark
    who: tuple[WhoMay, ...]
    carbon_monoxide: str = ""

"""The numbers that parts of the job work out: declared once, with all that is ever said of them."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, kw_only=True)
class Followed:
    """How a number is followed over visits.

    `low`, `high`: where it should lie, None where it depends on the nameplate; `worse`: the bad way; `says`: what a drift that
    way says; `name`: its name in the history, where it differs. A nominal value is never followed.
    """

    worse: str
    says: str
    low: float | None = None
    high: float | None = None
    name: str = ""


@dataclass(frozen=True, kw_only=True)
class Number:
    """One number.

    `kind`: see `units.KINDS`. `name`: what a technician calls it; without one it is only worked with. `compared`: as left
    against as found. `optional`: a visit can do without. `headline`: it stands for the visit in lists.
    """

    key: str
    name: str = ""
    kind: str
    compared: bool = False
    optional: bool = False
    headline: bool = False
    followed: Followed | None = None


NUMBERS: dict[str, Number] = {}
"""Every number by key, filled from the parts (`fentro_core.parts`)."""

"""A number as it goes out: SI value, 95 % half-width, kind."""

from __future__ import annotations

from dataclasses import dataclass
from math import floor, log10

from fentro_core.base import units
from fentro_core.base.measured import Measured
from fentro_core.base.quick import quick


@quick
@dataclass(frozen=True)
class Quantity:
    """A result: SI value, 95 % half-width, kind (see `units.KINDS`)."""

    value: float
    plus_minus: float
    kind: str


def quantity(measured: Measured, kind: str) -> Quantity:
    """A measured value as it goes out."""
    return Quantity(measured.value, measured.plus_minus, kind)


DIFFERENCE_KINDS = {"temperature": "temperature_difference", "enthalpy": "enthalpy_difference"}


def difference_kind(kind: str) -> str:
    """The kind of a difference of two such numbers.

    >>> difference_kind("temperature"), difference_kind("airflow")
    ('temperature_difference', 'airflow')
    """
    return DIFFERENCE_KINDS.get(kind, kind)


def say(quantity: Quantity, system: str = "SI") -> str:
    """A result in words of one system, with its half-width: as the browser shows it (`units.ts`).

    No more digits than the half-width supports (two of its own), no more than the unit's; a half-width too small for the
    unit's decimals gets one more.

    >>> say(Quantity(10.82, 1.66, "temperature_difference")), say(Quantity(1.8, 0.0, "airflow"), "US")
    ('10.8 K ± 1.7', '3,814 cfm')
    >>> say(Quantity(1.2345, 0.123, "airflow"), "SI")
    '1,230 L/s ± 120'
    """
    unit = units.KINDS[quantity.kind].unit(system)
    value, width = unit.from_si(quantity.value), quantity.plus_minus / unit.factor
    if not width > 0:
        return units.show(quantity.value, quantity.kind, system)
    decimals = min(unit.decimals, 1 - floor(log10(width)))
    small = 1 if width < 0.5 * 10**-unit.decimals else 0
    label = f" {unit.label}" if unit.label else ""
    return f"{_rounded(value, decimals)}{label} ± {_rounded(width, decimals + small)}"


def _rounded(value: float, decimals: int) -> str:
    return units.number(round(value, decimals), max(decimals, 0))

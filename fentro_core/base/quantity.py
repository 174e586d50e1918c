"""A number as it goes out: SI value, 95 % half-width, kind."""

from __future__ import annotations

from dataclasses import dataclass

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

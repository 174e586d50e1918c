"""Instruments: accuracy by quantity, calibration, and the doubt a reading carries because of them."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from typing import Literal

from fentro_core.measured import Measured
from fentro_core.measuring.quantities import READABLE, to_si
from fentro_core.refusal import Refused
from fentro_core.units import UNITS

InstrumentKind = Literal["thermo_hygrometer", "psychrometer", "thermometer", "flow_hood", "anemometer", "other"]

OVERDUE_FACTOR = 2.0
"""A reading by an instrument whose calibration is overdue has twice the half-width."""


@dataclass(frozen=True)
class Accuracy:
    """How good an instrument is for one quantity, 95 %, SI.

    Attributes
    ----------
    plus_minus : float
        Common to all its readings, so it cancels in a difference taken with one instrument.
    share : float
        Added to `plus_minus` as a share of the reading (flow: ±3 % ±0.02 m³/s).
    resolution : float
        Last digit shown; half of it counts for each reading by itself.
    repeatability : float
        How far repeated readings of the same air scatter; counts for each reading by itself.
    """

    plus_minus: float
    share: float = 0.0
    resolution: float = 0.0
    repeatability: float = 0.0


@dataclass(frozen=True)
class Instrument:
    """A probe or meter of the company."""

    id: str
    name: str
    kind: InstrumentKind = "other"
    serial: str = ""
    accuracy: dict[str, Accuracy] = field(default_factory=dict)
    calibrated_on: str | None = None
    calibration_due_on: str | None = None

    def overdue_at(self, moment: str) -> bool:
        """True when the calibration was due before the day of `moment` (ISO 8601)."""
        if not self.calibration_due_on:
            return False
        return date.fromisoformat(self.calibration_due_on) < date.fromisoformat(moment[:10])


def check_accuracy(accuracy: dict[str, Accuracy]) -> None:
    """Refuse an accuracy table with unknown quantities or figures below zero."""
    for quantity, figure in accuracy.items():
        if quantity not in READABLE:
            raise Refused(f"An instrument can't read this. Use: {', '.join(READABLE)}.", f"accuracy.{quantity}")
        for name in ("plus_minus", "share", "resolution", "repeatability"):
            if getattr(figure, name) < 0:
                raise Refused("Accuracy can't be below zero.", f"accuracy.{quantity}.{name}")


def measured_reading(
    quantity: str,
    value: float,
    unit: str,
    own_source: str,
    instrument: Instrument | None,
    at: str,
    typed_width: float | None,
) -> Measured:
    """A reading with its doubt: the instrument's common part and the reading's own part.

    Parameters
    ----------
    value, unit
        As typed.
    own_source : str
        Name of the source that belongs to this reading alone.
    typed_width : float or None
        Half-width typed with the reading, in the same unit as the value; replaces the instrument's.
    """
    si = to_si(quantity, value, unit)
    readable = READABLE[quantity]
    if typed_width is not None:
        width = abs(to_si_difference(quantity, typed_width, unit))
        return Measured(si, {own_source: width})
    figure = instrument.accuracy.get(quantity) if instrument else None
    if instrument is None or figure is None:
        return Measured(si, {own_source: assumed_width(quantity, si)})
    factor = OVERDUE_FACTOR if instrument.overdue_at(at) else 1.0
    common = factor * (figure.plus_minus + figure.share * abs(si))
    alone = factor * ((figure.resolution / 2) ** 2 + figure.repeatability**2) ** 0.5
    parts = {f"instrument:{instrument.id}:{readable.key}": common}
    if alone:
        parts[own_source] = alone
    return Measured(si, parts)


def to_si_difference(quantity: str, width: float, unit: str) -> float:
    """A half-width in SI: the unit's factor without its zero."""
    return width * UNITS[READABLE[quantity].kind][unit].factor


def assumed_width(quantity: str, si: float) -> float:
    """The half-width taken when no instrument is named. Airflow: ±10 %, an ordinary field traverse at best."""
    return 0.10 * si if quantity == "airflow" else READABLE[quantity].assumed_plus_minus

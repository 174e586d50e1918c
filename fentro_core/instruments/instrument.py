"""Instruments: accuracy by quantity, calibration, and the doubt a reading carries because of them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date
from typing import Literal

from fentro_core.base.measured import Measured
from fentro_core.base.refusal import Refused
from fentro_core.base.units import UNITS
from fentro_core.instruments.quantities import READABLE, to_si

InstrumentKind = Literal[
    "thermo_hygrometer",
    "psychrometer",
    "thermometer",
    "pipe_clamp",
    "manometer",
    "flow_hood",
    "anemometer",
    "power_meter",
    "gauges",
    "other",
]

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

    def check_dates(self) -> None:
        """Refuse days of calibration that are none."""
        for name in ("calibrated_on", "calibration_due_on"):
            value = getattr(self, name)
            try:
                date.fromisoformat(value or "2000-01-01")
            except ValueError:
                raise Refused("Write a day as 2026-11-26.", name) from None

    def overdue_at(self, moment: str) -> bool:
        """True when the calibration was due before the day of `moment` (ISO 8601)."""
        if not self.calibration_due_on:
            return False
        return date.fromisoformat(self.calibration_due_on) < date.fromisoformat(moment[:10])


MADE_FOR: dict[str, tuple[InstrumentKind, ...]] = {
    "dry_bulb": ("thermo_hygrometer", "psychrometer", "thermometer"),
    "wet_bulb": ("psychrometer", "thermo_hygrometer"),
    "airflow": ("flow_hood",),
    "velocity": ("anemometer",),
    "static_pressure": ("manometer",),
    "pipe_temperature": ("pipe_clamp",),
    "gauge_pressure": ("gauges",),
}
"""Kinds of instrument made for a quantity, the first choice first; any other that reads it comes after."""


@dataclass(frozen=True)
class Candidate:
    """An instrument that may be read with: what it reads, whether its calibration is overdue, whether the reader holds it."""

    id: str
    kind: str
    quantities: tuple[str, ...]
    overdue: bool
    held: bool


def first_choice(quantity: str, candidates: Iterable[Candidate]) -> str:
    """The instrument to read a quantity with, by id; "" where none can.

    One in the reader's own hands goes first, then one that is not overdue, then the kind made for it.

    >>> hood, probe = Candidate("h", "flow_hood", ("airflow",), True, True), Candidate("p", "other", ("airflow",), False, True)
    >>> first_choice("airflow", (hood, probe)), first_choice("voltage", (hood, probe))
    ('p', '')
    """
    kinds = MADE_FOR.get(quantity, ())

    def rank(each: Candidate) -> tuple[bool, bool, int]:
        return not each.held, each.overdue, kinds.index(each.kind) if each.kind in kinds else len(kinds)

    return min((each for each in candidates if quantity in each.quantities), key=rank, default=_NONE).id


_NONE = Candidate("", "other", (), False, False)

ACCURACY_CLASSES: dict[str, tuple[str, InstrumentKind, dict[str, Accuracy]]] = {
    "air_fine": (
        "Air probe, fine",
        "thermo_hygrometer",
        {
            "dry_bulb": Accuracy(0.2, 0.0, 0.1, 0.1),
            "relative_humidity": Accuracy(0.015, 0.0, 0.001, 0.005),
            "wet_bulb": Accuracy(0.3, 0.0, 0.1, 0.1),
            "dew_point": Accuracy(0.5, 0.0, 0.1, 0.2),
        },
    ),
    "air_field": (
        "Air probe, field",
        "thermo_hygrometer",
        {
            "dry_bulb": Accuracy(0.3, 0.0, 0.1, 0.1),
            "relative_humidity": Accuracy(0.02, 0.0, 0.01, 0.005),
            "wet_bulb": Accuracy(0.4, 0.0, 0.1, 0.1),
            "dew_point": Accuracy(0.6, 0.0, 0.1, 0.2),
        },
    ),
    "air_plain": (
        "Air probe, plain",
        "thermo_hygrometer",
        {
            "dry_bulb": Accuracy(0.5, 0.0, 0.1, 0.2),
            "relative_humidity": Accuracy(0.03, 0.0, 0.01, 0.01),
            "wet_bulb": Accuracy(0.6, 0.0, 0.1, 0.2),
            "dew_point": Accuracy(0.9, 0.0, 0.1, 0.3),
        },
    ),
    "sling": (
        "Sling psychrometer",
        "psychrometer",
        {"dry_bulb": Accuracy(0.3, 0.0, 0.5, 0.2), "wet_bulb": Accuracy(0.3, 0.0, 0.5, 0.2)},
    ),
    "clamp": ("Pipe clamp", "pipe_clamp", {"pipe_temperature": Accuracy(0.5, 0.0, 0.1, 0.2)}),
    "manometer": (
        "Manometer",
        "manometer",
        {"static_pressure": Accuracy(1.0, 0.01, 0.1, 2.0)},
    ),
    "gauges": (
        "Refrigerant gauges",
        "gauges",
        {"gauge_pressure": Accuracy(7e3, 0.01, 1e3, 3e3)},
    ),
    "hood": ("Flow hood", "flow_hood", {"airflow": Accuracy(0.02, 0.03, 0.001, 0.0)}),
    "register_hood": ("Register hood", "flow_hood", {"airflow": Accuracy(0.0015, 0.03, 0.0001, 0.0)}),
    "vane": ("Vane anemometer", "anemometer", {"velocity": Accuracy(0.1, 0.03, 0.01, 0.3)}),
    "power": (
        "Power meter",
        "power_meter",
        {
            "electric_power": Accuracy(5.0, 0.02, 1.0, 40.0),
            "voltage": Accuracy(1.0, 0.01, 0.1, 0.5),
            "current": Accuracy(0.1, 0.02, 0.1, 0.1),
        },
    ),
}
"""Ordinary accuracy classes of field instruments, to start from: name, kind, figures by quantity (SI, 95 %).

The maker's certificate goes before them. Figures are ours, of the size usually printed on such instruments.
"""


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
    """The half-width taken when no instrument is named. Airflow and power: ±10 %."""
    return 0.10 * si if quantity in ("airflow", "electric_power") else READABLE[quantity].assumed_plus_minus

"""What can be read at a station: units, what is possible, what is usual. The reading pad is driven by this table."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.refusal import Refused
from fentro_core.base.units import CFM_M3S, UNITS


@dataclass(frozen=True)
class Readable:
    """A thing to read. `possible` and `usual` are SI; outside `possible` is refused, outside `usual` is asked about.

    `assumed_plus_minus` is the 95 % half-width taken when no instrument is named.
    `not_above` names another quantity of the same point which this one can't exceed.
    `steady_per_10min`: a slope within this is steady; for temperatures 0.3 K, for the others ours, of like size.
    `short`: its name on a narrow key, where that differs.
    `repeatability`: how far (95 %) readings of steady air scatter when the instrument does not say.
    """

    key: str
    name: str
    kind: str
    possible: tuple[float, float]
    usual: tuple[float, float]
    assumed_plus_minus: float
    humidity: bool = False
    not_above: str = ""
    steady_per_10min: float = 0.0
    repeatability: float = 0.0
    short: str = ""

    @property
    def on_a_key(self) -> str:
        """As it stands on a narrow key."""
        return self.short or self.name


READABLE: dict[str, Readable] = {
    quantity.key: quantity
    for quantity in (
        Readable("dry_bulb", "Dry bulb", "temperature", (-60.0, 90.0), (-30.0, 60.0), 0.5, False, "", 0.3, 0.15),
        Readable(
            "relative_humidity",
            "Relative humidity",
            "relative_humidity",
            (0.0, 1.0),
            (0.05, 0.99),
            0.03,
            True,
            "",
            0.02,
            0.01,
            short="RH",
        ),
        Readable("wet_bulb", "Wet bulb", "temperature", (-60.0, 60.0), (-30.0, 32.0), 0.5, True, "dry_bulb", 0.3, 0.2),
        Readable("dew_point", "Dew point", "temperature", (-80.0, 60.0), (-40.0, 29.0), 0.8, True, "dry_bulb", 0.4, 0.3),
        Readable("airflow", "Airflow", "airflow", (1.0 * CFM_M3S, 60.0), (8 * CFM_M3S, 15.0), 0.0),
        Readable("velocity", "Velocity", "velocity", (-30.0, 40.0), (0.3, 20.0), 0.2, False, "", 0.2, 0.4),
        Readable(
            "static_pressure",
            "Static pressure",
            "pressure",
            (-2500.0, 2500.0),
            (-1000.0, 1000.0),
            5.0,
            False,
            "",
            5.0,
            3.0,
            short="Static",
        ),
        Readable(
            "pipe_temperature",
            "Pipe temperature",
            "temperature",
            (-60.0, 120.0),
            (-20.0, 90.0),
            1.0,
            False,
            "",
            0.6,
            0.3,
            short="Pipe",
        ),
        Readable(
            "electric_power",
            "Electric power",
            "electric_power",
            (0.0, 500_000.0),
            (20.0, 60_000.0),
            0.0,
            False,
            "",
            60.0,
            60.0,
            short="Power",
        ),
        Readable(
            "gauge_pressure",
            "Gauge pressure",
            "refrigerant_pressure",
            (-1e5, 5e6),
            (50e3, 4.2e6),
            14e3,
            False,
            "",
            20e3,
            7e3,
            short="Gauge",
        ),
        Readable(
            "air_pressure", "Air pressure", "barometric_pressure", (50e3, 110e3), (65e3, 106e3), 300.0, False, "", 200.0, 50.0
        ),
        Readable("voltage", "Voltage", "voltage", (0.0, 700.0), (20.0, 500.0), 3.0, short="Volts"),
        Readable("current", "Current", "current", (0.0, 1000.0), (0.1, 200.0), 0.3, short="Amps"),
    )
}

USUAL_DRY_BULB_C: dict[str, tuple[float, float]] = {
    "return": (12.0, 36.0),
    "mixed": (2.0, 42.0),
    "supply": (3.0, 65.0),
    "outdoor": (-35.0, 48.0),
    "extract": (12.0, 36.0),
    "exhaust": (-20.0, 40.0),
    "return_grille": (12.0, 36.0),
    "after_coil": (0.0, 65.0),
    "condenser_in": (-35.0, 48.0),
    "condenser_out": (-30.0, 70.0),
}
"""Usual dry bulb by place [°C]: tighter than "usual" above, so that a slipped decimal point is noticed."""

HUMIDITY_CHOICES = ("relative_humidity", "wet_bulb", "dew_point")


def named_at(station: str, quantity: str) -> str:
    """A quantity at a station as one would say it; a tap's name says already what is read there.

    >>> named_at("Supply", "dry_bulb"), named_at("Supply static", "static_pressure")
    ('Supply dry bulb', 'Supply static')
    """
    return station if quantity == "static_pressure" else f"{station} {READABLE[quantity].name.lower()}"


def to_si(quantity: str, value: float, unit: str) -> float:
    """A typed value in SI, refused when it is not possible.

    Raises
    ------
    Refused
        Unknown quantity (path ``quantity``), unit (``unit``) or impossible value (``value``).
    """
    readable = READABLE.get(quantity)
    if readable is None:
        raise Refused("This can't be read here. Choose one of the pad's quantities.", "quantity")
    units = UNITS[readable.kind]
    if unit not in units:
        raise Refused(f"{readable.name} can't be in this unit. Use {' or '.join(u.label for u in units.values())}.", "unit")
    si = units[unit].to_si(value)
    low, high = readable.possible
    slack = 1e-9 * max(abs(low), abs(high))
    if not low - slack <= si <= high + slack:
        raise Refused(
            f"{readable.name} must be between {{low}} and {{high}}. Check the decimal point and the unit.",
            "value",
            low=(low, readable.kind),
            high=(high, readable.kind),
        )
    return min(max(si, low), high)

"""One table of the kinds of quantity and the units people read and write them in.

Inside everything is SI. A unit converts by ``si = shown * factor + offset``. The browser uses the same table
(exported by ``python -m fentro_core units``), so a number is converted by one rule everywhere.

Sources: exact definitions (1 ft = 0.3048 m, 1 lb = 0.45359237 kg, 1 Btu/lb = 2326 J/kg, 1 Btu = 1055.05585262 J,
1 inHg = 3386.389 Pa, 1 in. w.c. = 249.08891 Pa, 1 psi = 6894.757 Pa, 1 ton = 12,000 Btu/h).
"""

from __future__ import annotations

from dataclasses import dataclass

FOOT_M = 0.3048
POUND_KG = 0.45359237
BTU_J = 1055.05585262
CFM_M3S = FOOT_M**3 / 60
TON_W = 12_000 * BTU_J / 3600

BTU_PER_LB_J_PER_KG = 2326.0
ENTHALPY_ZERO_SHIFT_J_PER_KG = 0.240 * 32 * BTU_PER_LB_J_PER_KG
"""Customary enthalpy counts from 0 °F, SI from 0 °C: values differ by 0.240 x 32 = 7.68 Btu/lb, differences do not."""


WORKED_WITHIN, WORKED_MORE = 2e-6, 6
"""How near its own value a number of a working is shown, and with how many decimals more at most."""


@dataclass(frozen=True)
class Unit:
    """A unit people read: ``si = shown * factor + offset``; `decimals` as shown."""

    key: str
    label: str
    factor: float
    offset: float = 0.0
    decimals: int = 1

    def digits(self, shown: float, within: float = 0.05, more: int = 3) -> int:
        """Decimals to show a number of this unit with: the unit's own, and up to so many more where rounding would change it by
        more than this share of itself; none more for what is nothing even then. As the browser does it (`units.ts`).

        >>> KINDS["length"].si.digits(1.6), KINDS["length"].si.digits(2.0), KINDS["length"].si.digits(1655.4)
        (1, 0, 0)
        """
        for decimals in range(self.decimals, self.decimals + more):
            if abs(round(shown, decimals) - shown) <= within * abs(shown):
                return decimals
        return self.decimals + more if round(shown, self.decimals + more) else self.decimals

    def worked(self, shown: float) -> int:
        """The same for the numbers of a working, so near that each line can be worked out again by hand."""
        return self.digits(shown, WORKED_WITHIN, WORKED_MORE)

    def to_si(self, shown: float) -> float:
        """The SI value of a shown one."""
        return shown * self.factor + self.offset

    def from_si(self, value: float) -> float:
        """The shown value of an SI one."""
        return (value - self.offset) / self.factor


@dataclass(frozen=True)
class Kind:
    """A kind of quantity: its unit in each system and others that may be typed."""

    key: str
    si: Unit
    us: Unit
    others: tuple[Unit, ...] = ()

    @property
    def most(self) -> float:
        """Beyond this, SI, on either side, no number of this kind is met in the trade."""
        return MOST.get(self.key, 1e12)

    def unit(self, system: str) -> Unit:
        """The unit shown in ``"SI"`` or ``"US"``."""
        return self.us if system == "US" else self.si

    @property
    def units(self) -> tuple[Unit, ...]:
        """Every unit of this kind, each once."""
        return tuple({unit.key: unit for unit in (self.si, self.us, *self.others)}.values())


_CELSIUS = Unit("degC", "°C", 1.0)
_FAHRENHEIT = Unit("degF", "°F", 5 / 9, -160 / 9)
_PERCENT = Unit("percent", "%", 0.01, decimals=0)
_KW = Unit("kW", "kW", 1000.0, decimals=2)
_WATT = Unit("W", "W", 1.0, decimals=0)
_BTUH = Unit("Btu/h", "Btu/h", BTU_J / 3600, decimals=0)
_TON = Unit("ton", "ton", TON_W, decimals=2)
_SECOND = Unit("s", "s", 1.0, decimals=0)
_MINUTE = Unit("min", "min", 60.0, decimals=0)

KINDS: dict[str, Kind] = {
    kind.key: kind
    for kind in (
        Kind("temperature", _CELSIUS, _FAHRENHEIT),
        Kind("temperature_difference", Unit("K", "K", 1.0), Unit("degF_diff", "°F", 5 / 9)),
        Kind("relative_humidity", _PERCENT, _PERCENT),
        Kind("share", _PERCENT, _PERCENT),
        Kind("ratio", Unit("1", "", 1.0, decimals=3), Unit("1", "", 1.0, decimals=3)),
        Kind("as_given", Unit("given", "", 1.0, decimals=3), Unit("given", "", 1.0, decimals=3)),
        Kind(
            "humidity_ratio",
            Unit("g/kg", "g/kg", 1e-3, decimals=2),
            Unit("gr/lb", "gr/lb", 1 / 7000, decimals=1),
        ),
        Kind(
            "enthalpy",
            Unit("kJ/kg", "kJ/kg", 1000.0, decimals=2),
            Unit("Btu/lb", "Btu/lb", BTU_PER_LB_J_PER_KG, -ENTHALPY_ZERO_SHIFT_J_PER_KG, decimals=2),
        ),
        Kind(
            "enthalpy_difference",
            Unit("kJ/kg", "kJ/kg", 1000.0, decimals=2),
            Unit("Btu/lb", "Btu/lb", BTU_PER_LB_J_PER_KG, decimals=2),
        ),
        Kind(
            "specific_volume",
            Unit("m3/kg", "m³/kg", 1.0, decimals=4),
            Unit("ft3/lb", "ft³/lb", FOOT_M**3 / POUND_KG, decimals=3),
        ),
        Kind(
            "density",
            Unit("kg/m3", "kg/m³", 1.0, decimals=4),
            Unit("lb/ft3", "lb/ft³", POUND_KG / FOOT_M**3, decimals=5),
        ),
        Kind(
            "airflow",
            Unit("L/s", "L/s", 1e-3, decimals=0),
            Unit("cfm", "cfm", CFM_M3S, decimals=0),
            (Unit("m3/s", "m³/s", 1.0, decimals=3), Unit("m3/h", "m³/h", 1 / 3600, decimals=0)),
        ),
        Kind(
            "mass_flow",
            Unit("kg/s", "kg/s", 1.0, decimals=4),
            Unit("lb/min", "lb/min", POUND_KG / 60, decimals=2),
        ),
        Kind(
            "water_rate",
            Unit("kg/h", "kg/h", 1 / 3600, decimals=2),
            Unit("lb/h", "lb/h", POUND_KG / 3600, decimals=2),
        ),
        Kind(
            "volume",
            Unit("m3", "m³", 1.0, decimals=0),
            Unit("ft3", "cu ft", FOOT_M**3, decimals=0),
        ),
        Kind(
            "water_mass",
            Unit("kg", "kg", 1.0, decimals=2),
            Unit("lb", "lb", POUND_KG, decimals=2),
        ),
        Kind(
            "water_per_day",
            Unit("L/day", "L/day", 1 / 86400, decimals=0),
            Unit("gal/day", "gal/day", 3.785411784 / 86400, decimals=0),
        ),
        Kind("power", _KW, _BTUH, (_TON, _WATT)),
        Kind("tonnage", _KW, _TON),
        Kind("electric_power", _WATT, _WATT, (_KW,)),
        Kind(
            "pressure",
            Unit("Pa", "Pa", 1.0, decimals=0),
            Unit("inwc", "in. w.c.", 249.08891, decimals=2),
        ),
        Kind(
            "refrigerant_pressure",
            Unit("kPa", "kPa", 1000.0, decimals=0),
            Unit("psi", "psi", 6894.757293168, decimals=1),
            (Unit("bar", "bar", 1e5, decimals=2),),
        ),
        Kind(
            "heat_per_kelvin",
            Unit("W/K", "W/K", 1.0, decimals=1),
            Unit("Btu/h/degF", "Btu/h°F", BTU_J / 3600 * 1.8, decimals=1),
        ),
        Kind(
            "thermal_resistance",
            Unit("m2K/W", "m²K/W", 1.0, decimals=2),
            Unit("R", "R", FOOT_M**2 * 5 / 9 / (BTU_J / 3600), decimals=1),
        ),
        Kind(
            "barometric_pressure",
            Unit("kPa", "kPa", 1000.0, decimals=2),
            Unit("inHg", "inHg", 3386.389, decimals=2),
            (Unit("hPa", "hPa", 100.0, decimals=0),),
        ),
        Kind("length", Unit("m", "m", 1.0, decimals=0), Unit("ft", "ft", FOOT_M, decimals=0)),
        Kind("diameter", Unit("mm", "mm", 1e-3, decimals=0), Unit("in", "in", 0.0254, decimals=0)),
        Kind("depth", Unit("mm", "mm", 1e-3, decimals=0), Unit("in", "in", 0.0254, decimals=2)),
        Kind("velocity", Unit("m/s", "m/s", 1.0, decimals=2), Unit("fpm", "fpm", FOOT_M / 60, decimals=0)),
        Kind("door", Unit("m", "m", 1.0, decimals=2), Unit("ft", "ft", FOOT_M, decimals=2)),
        Kind("force", Unit("N", "N", 1.0, decimals=1), Unit("lbf", "lbf", POUND_KG * 9.80665, decimals=1)),
        Kind("resistance", Unit("ohm", "Ω", 1.0, decimals=0), Unit("ohm", "Ω", 1.0, decimals=0)),
        Kind("voltage", Unit("V", "V", 1.0, decimals=0), Unit("V", "V", 1.0, decimals=0)),
        Kind("apparent_power", Unit("VA", "VA", 1.0, decimals=1), Unit("VA", "VA", 1.0, decimals=1)),
        Kind("current", Unit("A", "A", 1.0, decimals=1), Unit("A", "A", 1.0, decimals=1)),
        Kind("area", Unit("m2", "m²", 1.0, decimals=1), Unit("ft2", "sq ft", FOOT_M**2, decimals=0)),
        Kind("duct_area", Unit("m2", "m²", 1.0, decimals=4), Unit("ft2", "sq ft", FOOT_M**2, decimals=3)),
        Kind("opening", Unit("cm2", "cm²", 1e-4, decimals=0), Unit("in2", "sq in", 0.0254**2, decimals=1)),
        Kind(
            "leakage_rate",
            Unit("L/s/100m2", "L/s per 100 m²", 1e-5, decimals=1),
            Unit("cfm/100ft2", "cfm per 100 sq ft", CFM_M3S / (100 * FOOT_M**2), decimals=1),
        ),
        Kind("duration", _MINUTE, _MINUTE),
        Kind("hours", Unit("h", "h", 3600.0, decimals=1), Unit("h", "h", 3600.0, decimals=1)),
        Kind("energy", Unit("kWh", "kWh", 3.6e6, decimals=1), Unit("kWh", "kWh", 3.6e6, decimals=1)),
        Kind(
            "heat_capacity",
            Unit("kJ/K", "kJ/K", 1000.0, decimals=0),
            Unit("Btu/degF", "Btu/°F", BTU_J * 1.8, decimals=0),
        ),
        Kind("seconds", _SECOND, _SECOND),
    )
}

MOST = {
    "temperature": 2e3,
    "temperature_difference": 2e3,
    "relative_humidity": 100.0,
    "share": 1e4,
    "humidity_ratio": 1e3,
    "airflow": 1e4,
    "mass_flow": 1e4,
    "water_mass": 1e6,
    "power": 1e9,
    "electric_power": 1e9,
    "pressure": 1e6,
    "refrigerant_pressure": 1e8,
    "barometric_pressure": 1e6,
    "length": 1e5,
    "diameter": 1e4,
    "depth": 1e4,
    "door": 1e3,
    "velocity": 1e4,
    "area": 1e7,
    "duct_area": 1e5,
    "opening": 1e4,
    "force": 1e6,
    "resistance": 1e9,
    "voltage": 1e6,
    "apparent_power": 1e6,
    "current": 1e6,
    "thermal_resistance": 1e4,
}
"""Generous: a slip of units or of places is caught by the ranges of each formula, this only what nothing could be."""

UNITS: dict[str, dict[str, Unit]] = {kind.key: {unit.key: unit for unit in kind.units} for kind in KINDS.values()}


def number(value: float, decimals: int) -> str:
    """A number as people write it: thousands apart, a real minus sign.

    >>> number(-1234.56, 1)
    '−1,234.6'
    """
    text = f"{value:,.{decimals}f}"
    if float(text.replace(",", "")) == 0:
        text = text.lstrip("-")
    return text.replace("-", "\N{MINUS SIGN}")


def show(value: float, kind: str, system: str = "SI") -> str:
    """An SI value in words of one system.

    >>> show(20.0, "temperature", "US"), show(1.8, "airflow", "US"), show(51777.0, "enthalpy", "US")
    ('68.0 °F', '3,814 cfm', '29.94 Btu/lb')
    """
    unit = KINDS[kind].unit(system)
    shown = unit.from_si(value)
    return f"{number(shown, unit.digits(shown))} {unit.label}".rstrip()

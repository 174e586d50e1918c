"""What a nameplate says, whatever the kind of system. Numbers are SI; each kind's own nameplate stands in its file."""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, ClassVar, Literal

from fentro_core.base import fields
from fentro_core.base.refusal import Refused, inside
from fentro_core.base.sentence import Number
from fentro_core.system.branch import Branch
from fentro_core.system.ducts import DuctTree
from fentro_core.system.fresh_air import FreshAir

Refrigerant = Literal["R-410A", "R-32", "R-454B", "R-22", "R-134a"]
Metering = Literal["restrictor", "valve"]
ReheatSource = Literal["hot_gas", "electric", "hot_water"]
ChangeoverMethod = Literal["fixed_dry_bulb", "differential_dry_bulb", "fixed_enthalpy", "differential_enthalpy"]


@dataclass(frozen=True)
class FanPoint:
    """One line of a maker's fan table: speed tap, external static [Pa], flow [m³/s]."""

    tap: str
    external_static_pa: float
    airflow_m3s: float


@dataclass(frozen=True)
class DropPoint:
    """One point of a component's curve: pressure drop [Pa] at a flow [m³/s]."""

    drop_pa: float
    airflow_m3s: float


@dataclass(frozen=True)
class Nameplate:
    """What every nameplate says, and what parts of the job ask of any; a kind that has it says so."""

    maker: str = ""
    model: str = ""
    serial: str = ""

    MOST: ClassVar[Mapping[str, float]] = {"rated_airflow_m3s": 60.0}
    """The most that each number of the nameplate may be; all lie above zero."""

    def check(self) -> None:
        """Refuse numbers that no nameplate says; the path names the field."""
        for name, high in self.MOST.items():
            value = getattr(self, name, None)
            if value is not None and not 0 < value <= high:
                raise Refused("This must be above zero and at most {high}.", name, high=(high, fields.kind_of(name)))

    @property
    def has_coil(self) -> bool:
        """It has a cooling coil in the air."""
        return False

    @property
    def reheats(self) -> bool:
        """A reheat coil stands after the cooling coil."""
        return False

    @property
    def bypasses(self) -> bool:
        """Return air can pass around the coil."""
        return False

    @property
    def takes_outdoor(self) -> bool:
        """A damper can mix outdoor air into the return."""
        return False

    @property
    def has_economizer(self) -> bool:
        """Outdoor-air dampers with a changeover of their own."""
        return False

    @property
    def heats(self) -> bool:
        """The nameplate says something about heating."""
        return False

    @property
    def has_electric_heater(self) -> bool:
        """Electric heat stands in the air."""
        return False

    @property
    def electric_heater_w(self) -> float | None:
        """What it draws with every element on [W]."""
        return None

    @property
    def all_branches(self) -> tuple[Branch, ...]:
        """Ducts to rooms that the nameplate lists."""
        return ()

    @property
    def duct_tree(self) -> DuctTree | None:
        """All ducts, where somebody walked them."""
        return None

    @property
    def fresh_air_kept(self) -> FreshAir | None:
        """Dwelling, ventilator and its control, where a visit left them."""
        return None

    @property
    def speed_taps(self) -> tuple[str, ...]:
        """Speed taps of the fan table, in its order."""
        return ()


@dataclass(frozen=True)
class CoolingNameplate(Nameplate):
    """A unit that cools: rated at 80/67 °F entering, 95 °F outdoor, sea level.

    `fan_table`: the blower's flow by speed tap and external static; `coil_curve`: the coil's drop when clean and dry.
    `ducts`: the whole tree, where somebody walked it; it goes before the list of branches. `fresh_air`: dwelling, ventilator and
    control, where there is one beside it.
    `subcooling_k`: what an expansion valve's unit should show; `filter_change_pa`: the filter's drop at which it is changed.
    `reheat`: a coil after the cooling coil that warms the air again, its full heat, and whether it can be turned down;
    `return_bypass`: a damper lets return air pass around the coil.
    """

    rated_total_w: float | None = None
    rated_airflow_m3s: float | None = None
    rated_sensible_heat_ratio: float | None = None
    max_external_static_pa: float | None = None
    branches: tuple[Branch, ...] = ()
    ducts: DuctTree | None = None
    fresh_air: FreshAir | None = None
    fan_table: tuple[FanPoint, ...] = ()
    coil_curve: tuple[DropPoint, ...] = ()
    refrigerant: Refrigerant | None = None
    metering: Metering | None = None
    subcooling_k: float | None = None
    compressor_current_a: float | None = None
    filter_change_pa: float | None = None
    reheat: ReheatSource | None = None
    reheat_w: float | None = None
    reheat_modulates: bool | None = None
    return_bypass: bool | None = None

    MOST: ClassVar[Mapping[str, float]] = {
        "rated_total_w": 2_000_000.0,
        "rated_airflow_m3s": 60.0,
        "rated_sensible_heat_ratio": 1.0,
        "max_external_static_pa": 2500.0,
        "subcooling_k": 25.0,
        "compressor_current_a": 1000.0,
        "filter_change_pa": 1000.0,
        "reheat_w": 2_000_000.0,
    }

    def check(self) -> None:
        """As every nameplate; besides, tables that no blower or coil has: figures below zero, the same point twice."""
        super().check()
        for index, row in enumerate(self.fan_table):
            if row.airflow_m3s <= 0 or not -2500 <= row.external_static_pa <= 2500:
                raise Refused("A fan table's line needs a flow above zero and a static pressure.", f"fan_table.{index}")
        if len({(row.tap, row.external_static_pa) for row in self.fan_table}) < len(self.fan_table):
            raise Refused("The fan table has the same line twice.", "fan_table")
        for index, point in enumerate(self.coil_curve):
            if point.airflow_m3s <= 0 or not 0 < point.drop_pa <= 2500:
                raise Refused("A coil's curve needs flows and drops above zero.", f"coil_curve.{index}")
        if len({point.drop_pa for point in self.coil_curve}) < len(self.coil_curve):
            raise Refused("The coil's curve has the same drop twice.", "coil_curve")
        if self.ducts:
            with inside("ducts"):
                self.ducts.check()
        if self.fresh_air:
            with inside("fresh_air"):
                self.fresh_air.check()

    @property
    def has_coil(self) -> bool:
        """A unit that cools has one."""
        return True

    @property
    def reheats(self) -> bool:
        """As the nameplate says."""
        return self.reheat is not None

    @property
    def bypasses(self) -> bool:
        """As the nameplate says."""
        return bool(self.return_bypass)

    @property
    def all_branches(self) -> tuple[Branch, ...]:
        """Those of the ducts as they were walked, else as listed."""
        return tuple(branch.branch for branch in self.ducts.branches) if self.ducts else self.branches

    @property
    def duct_tree(self) -> DuctTree | None:
        """As it was kept."""
        return self.ducts

    @property
    def fresh_air_kept(self) -> FreshAir | None:
        """As it was kept."""
        return self.fresh_air

    @property
    def speed_taps(self) -> tuple[str, ...]:
        """As listed."""
        return tuple(dict.fromkeys(row.tap for row in self.fan_table))

    @property
    def blower_after_coil(self) -> bool:
        """The blower's heat goes into the supply air; before the coil it only warms what the coil sees."""
        return True

    @property
    def burns_gas(self) -> bool:
        """Heat comes from a flame."""
        return False

    @property
    def gas_input_w(self) -> float | None:
        """Gas input, where heat comes from a flame."""
        return None

    @property
    def gas_efficiency(self) -> float | None:
        """Share of the gas input that becomes heat, where the nameplate says one."""
        return None

    @property
    def gas_derated(self) -> bool | None:
        """Whether the gas input was lowered for the altitude; None where nobody found out."""
        return None

    @property
    def gas_derate_share(self) -> float | None:
        """What the nameplate takes off the gas input for each 305 m (1,000 ft)."""
        return None

    @property
    def rise_ends_k(self) -> tuple[float | None, float | None]:
        """Least and most temperature rise that the nameplate allows, as far as it says them."""
        return None, None

    @property
    def rise_range_k(self) -> tuple[float, float] | None:
        """Both ends, or nothing."""
        low, high = self.rise_ends_k
        return (low, high) if low and high else None

    @property
    def most_outlet_c(self) -> float | None:
        """The most that the supply air may be."""
        return None

    @property
    def rated_pump_heat_w(self) -> float | None:
        """Rated heating of a heat pump."""
        return None

    @property
    def is_heat_pump(self) -> bool:
        """Heat comes from outdoor air, by the compressor."""
        return False


@dataclass(frozen=True)
class NameplateLine:
    """One line of a nameplate in words: a label with a text or a number."""

    label: str
    text: str = ""
    number: Number | None = None


MODEL_SOURCE = "How far a unit of this nameplate lies from its rating"
"""The doubt of what a nameplate foretells, in words."""

NAMEPLATE_LABELS = {
    "maker": "Maker",
    "model": "Model",
    "serial": "Serial number",
    "rated_total_w": "Rated cooling, total",
    "rated_airflow_m3s": "Rated airflow",
    "rated_sensible_heat_ratio": "Rated sensible heat ratio",
    "max_external_static_pa": "External static, most",
    "heating_input_w": "Gas input",
    "heating_efficiency": "Heating efficiency",
    "input_derated": "Gas input lowered for the altitude",
    "derate_share": "Gas input less by, each 305 m (1,000 ft)",
    "rise_low_k": "Temperature rise, least",
    "rise_high_k": "Temperature rise, most",
    "max_outlet_c": "Outlet air, most",
    "rated_heating_w": "Rated heating",
    "heater_w": "Electric heater, all elements",
    "cooling_coil": "Cooling coil",
    "refrigerant": "Refrigerant",
    "metering": "Metering device",
    "subcooling_k": "Subcooling",
    "compressor_current_a": "Compressor current",
    "filter_change_pa": "Change the filter at",
    "reheat": "Reheat coil",
    "reheat_w": "Reheat, full heat",
    "reheat_modulates": "Reheat can be turned down",
    "return_bypass": "Return bypass around the coil",
    "branches": "Branches",
    "fan_table": "Fan table",
    "coil_curve": "Coil's pressure drop",
    "economizer": "Economizer",
    "changeover": "Changeover",
    "controller": "Controller",
    "night_cooling": "Night cooling damper",
    "heat_recovery": "Heat recovery",
}

NAMEPLATE_GIVES = {
    "rated_total_w": "Without it: no target to hold the cooling against.",
    "rated_airflow_m3s": "Without it: an ordinary flow is assumed, and the target split is less sure.",
    "rated_sensible_heat_ratio": "Without it: an ordinary ratio is assumed.",
    "max_external_static_pa": "Without it: no verdict on the external static.",
    "heating_input_w": "Without it: no airflow from the temperature rise.",
    "heating_efficiency": "Without it: an ordinary efficiency is assumed.",
    "rise_low_k": "Without it: no verdict on the temperature rise.",
    "rise_high_k": "Without it: no verdict on the temperature rise.",
    "rated_heating_w": "Without it: no target for heating.",
    "heater_w": "Without it: a dead element of the heater can't be told by its power.",
    "refrigerant": "Without it: no superheat or subcooling from gauge pressures.",
    "metering": "Without it: no target superheat.",
    "subcooling_k": "Without it: an ordinary subcooling is assumed.",
    "economizer": "Without it: no page for outdoor air.",
}
"""What a visit lacks where the nameplate does not say it."""

WORDS = {
    "restrictor": "fixed restrictor",
    "valve": "expansion valve",
    "hot_gas": "hot refrigerant gas",
    "electric": "electric",
    "hot_water": "hot water",
}

OWN_KIND = {"rated_total_w": "tonnage", "heating_efficiency": "share"}


def nameplate_words(nameplate: Nameplate) -> tuple[NameplateLine, ...]:
    """The nameplate as labelled lines, only what it says.

    >>> [line.label for line in nameplate_words(CoolingNameplate(maker="Harrow", rated_total_w=35000.0))]
    ['Maker', 'Rated cooling, total']
    """
    lines = []
    for each in dataclasses.fields(nameplate):
        value: Any = getattr(nameplate, each.name)
        label = NAMEPLATE_LABELS.get(each.name)
        if label is None or value is None or value == "" or isinstance(value, tuple):
            continue
        if isinstance(value, bool):
            lines.append(NameplateLine(label, "yes" if value else "no"))
        elif isinstance(value, str):
            words = value.replace("_", " ") if each.name == "changeover" else value
            lines.append(NameplateLine(label, WORDS.get(value, words)))
        else:
            kind = OWN_KIND.get(each.name, fields.kind_of(each.name))
            lines.append(NameplateLine(label, number=Number(value, kind)))
    return (*lines, *_table_words(nameplate))


def _table_words(nameplate: Nameplate) -> list[NameplateLine]:
    lines = []
    if nameplate.speed_taps:
        lines.append(NameplateLine("Fan table", f"taps {', '.join(nameplate.speed_taps)}"))
    curve = getattr(nameplate, "coil_curve", ())
    if curve:
        lines.append(NameplateLine("Coil's pressure drop", f"{len(curve)} points"))
    branches = nameplate.all_branches
    if branches:
        floors = sorted({branch.floor for branch in branches if branch.floor})
        lines.append(NameplateLine("Branches", f"{len(branches)}" + (f" on {len(floors)} floors" if len(floors) > 1 else "")))
    return lines

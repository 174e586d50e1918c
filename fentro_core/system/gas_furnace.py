"""The gas furnace, with a cooling coil after it or without."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import ClassVar, Literal

from fentro_core.system.air_path import AirPath, Element
from fentro_core.system.ducted import BLOWER, COIL, ducted_path
from fentro_core.system.kind import DUCTED_PARTS, SystemKind
from fentro_core.system.nameplate import CoolingNameplate
from fentro_core.system.stations import SUPPLY_STATIC, static_tap


@dataclass(frozen=True)
class FurnaceNameplate(CoolingNameplate):
    """Gas furnace, with a cooling coil after it or without (`cooling_coil`)."""

    cooling_coil: bool = True

    heating_input_w: float | None = None
    heating_efficiency: float | None = None
    input_derated: Literal["", "yes", "no"] = ""
    derate_share: float | None = None
    rise_low_k: float | None = None
    rise_high_k: float | None = None
    max_outlet_c: float | None = None

    MOST: ClassVar[Mapping[str, float]] = {
        **CoolingNameplate.MOST,
        "heating_input_w": 2_000_000.0,
        "heating_efficiency": 1.0,
        "derate_share": 0.1,
        "rise_low_k": 100.0,
        "rise_high_k": 100.0,
        "max_outlet_c": 120.0,
    }

    @property
    def has_coil(self) -> bool:
        """As the nameplate says."""
        return self.cooling_coil

    @property
    def heats(self) -> bool:
        """Once its gas input or rise is known."""
        return bool(self.heating_input_w or self.rise_high_k)

    @property
    def blower_after_coil(self) -> bool:
        """The blower stands before the furnace, and so before the coil."""
        return False

    @property
    def burns_gas(self) -> bool:
        """A flame."""
        return True

    @property
    def gas_input_w(self) -> float | None:
        """As the nameplate says."""
        return self.heating_input_w

    @property
    def gas_efficiency(self) -> float | None:
        """As the nameplate says."""
        return self.heating_efficiency

    @property
    def gas_derated(self) -> bool | None:
        """As was found out."""
        return {"yes": True, "no": False}.get(self.input_derated)

    @property
    def gas_derate_share(self) -> float | None:
        """As the nameplate says."""
        return self.derate_share

    @property
    def rise_ends_k(self) -> tuple[float | None, float | None]:
        """As the nameplate says."""
        return self.rise_low_k, self.rise_high_k

    @property
    def most_outlet_c(self) -> float | None:
        """As the nameplate says."""
        return self.max_outlet_c or None


_FURNACE = Element("heat_exchanger", "Heat exchanger", "heat_exchanger")
_BEFORE_COIL = static_tap("supply_static", "Supply static", "Between the furnace and the coil.", "heat_exchanger", 30)
_AFTER_COIL = static_tap("coil_out_static", "Static after the coil", "In the supply duct, after the coil.", "coil", 32)
_ALONE = replace(SUPPLY_STATIC, element="heat_exchanger", along=30)


def _path(nameplate: FurnaceNameplate) -> AirPath:
    """A furnace blows into its coil. Its rating ends before the coil, and begins after the filter."""
    coil = nameplate.cooling_coil
    return ducted_path(
        nameplate,
        (BLOWER, _FURNACE, COIL) if coil else (BLOWER, _FURNACE),
        taps=(_BEFORE_COIL, _AFTER_COIL) if coil else (_ALONE,),
        external_taps=("filter_static", "supply_static"),
        coil_taps=("supply_static", "coil_out_static") if coil else (),
    )


KIND = SystemKind("furnace_with_coil", "Gas furnace", FurnaceNameplate, _path, (*DUCTED_PARTS, "heating", "ventilation"))

"""The split heat pump, with night cooling or without."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from fentro_core.base.refusal import inside
from fentro_core.system.air_path import AirPath
from fentro_core.system.ducted import BLOWER, COIL, ducted_path
from fentro_core.system.kind import DUCTED_PARTS, SystemKind
from fentro_core.system.nameplate import CoolingNameplate
from fentro_core.system.night_setup import NightPlanned, NightSetup


@dataclass(frozen=True)
class HeatPumpNameplate(CoolingNameplate):
    """Split heat pump; `night_cooling` when a damper can bring in outdoor air; rated heating at 47 °F outdoor.

    `heater_w`: what all elements of the electric heater beside the compressor draw together.
    `night`, `night_plan`: what a night's plan needs, and the last one, as a visit left them.
    """

    rated_heating_w: float | None = None
    heater_w: float | None = None
    night_cooling: bool = False
    night: NightSetup | None = None
    night_plan: NightPlanned | None = None

    MOST: ClassVar[Mapping[str, float]] = {**CoolingNameplate.MOST, "rated_heating_w": 2_000_000.0, "heater_w": 200_000.0}

    def check(self) -> None:
        """As every cooling nameplate, and what was kept of its night cooling."""
        super().check()
        if self.night:
            with inside("night"):
                self.night.check()
        if self.night_plan:
            with inside("night_plan"):
                self.night_plan.check()

    @property
    def takes_outdoor(self) -> bool:
        """Through the night cooling damper."""
        return self.night_cooling

    @property
    def heats(self) -> bool:
        """Always."""
        return True

    @property
    def has_electric_heater(self) -> bool:
        """Beside the compressor."""
        return True

    @property
    def electric_heater_w(self) -> float | None:
        """As the nameplate says."""
        return self.heater_w

    @property
    def rated_pump_heat_w(self) -> float | None:
        """As the nameplate says."""
        return self.rated_heating_w

    @property
    def is_heat_pump(self) -> bool:
        """It is one."""
        return True


def _path(nameplate: HeatPumpNameplate) -> AirPath:
    return ducted_path(nameplate, (COIL, BLOWER))


KIND = SystemKind(
    "split_heat_pump", "Split heat pump", HeatPumpNameplate, _path, (*DUCTED_PARTS, "heating", "ventilation", "night")
)

"""The packaged rooftop unit, with an economizer or without."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.system.air_path import AirPath
from fentro_core.system.ducted import BLOWER, COIL, ducted_path
from fentro_core.system.kind import DUCTED_PARTS, SystemKind
from fentro_core.system.nameplate import ChangeoverMethod, CoolingNameplate


@dataclass(frozen=True)
class RooftopNameplate(CoolingNameplate):
    """Packaged rooftop unit, with or without an economizer; `controller`: the name its controller answers to at the gateway."""

    economizer: bool = False
    changeover: ChangeoverMethod | None = None
    controller: str = ""

    @property
    def has_economizer(self) -> bool:
        """As the nameplate says."""
        return self.economizer

    @property
    def takes_outdoor(self) -> bool:
        """Through the economizer's dampers."""
        return self.economizer


def _path(nameplate: RooftopNameplate) -> AirPath:
    return ducted_path(nameplate, (COIL, BLOWER))


KIND = SystemKind(
    "packaged_rooftop",
    "Packaged rooftop unit",
    RooftopNameplate,
    _path,
    (*DUCTED_PARTS, "economizer"),
    usual=RooftopNameplate(economizer=True),
)

"""The dwelling ventilator: one fan in, one fan out, two bands."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.refusal import inside
from fentro_core.system.air_path import AirPath, Band, Element
from fentro_core.system.fresh_air import FreshAir
from fentro_core.system.kind import SystemKind
from fentro_core.system.nameplate import Nameplate
from fentro_core.system.stations import DUCT_QUANTITIES, Station, static_tap, traverse_plane


@dataclass(frozen=True)
class VentilatorNameplate(Nameplate):
    """Dwelling ventilator: one fan in, one fan out."""

    rated_airflow_m3s: float | None = None
    heat_recovery: bool = False
    fresh_air: FreshAir | None = None

    def check(self) -> None:
        """As every nameplate, and what was kept of the dwelling."""
        super().check()
        if self.fresh_air:
            with inside("fresh_air"):
                self.fresh_air.check()

    @property
    def fresh_air_kept(self) -> FreshAir | None:
        """As it was kept."""
        return self.fresh_air


def _own(station_id: str, name: str, where: str, avoid: str, element: str, needed: bool = True) -> Station:
    return Station(station_id, name, where, avoid, DUCT_QUANTITIES, needed=needed, core=True, element=element)


_STATIONS = (
    _own("outdoor", "Outdoor", "In the intake duct, before the filter.", "Rain and sun.", "intake"),
    _own("supply", "Fresh air", "In the duct to the rooms, after the fan.", "The fan's own motor heat.", "rooms"),
    _own("extract", "Extract", "In the duct from the rooms, before the filter.", "Kitchen grease.", "extract_grille"),
    _own("exhaust", "Exhaust", "In the duct to outside, after the fan.", "The outside hood.", "hood", needed=False),
    traverse_plane("supply_traverse", "Fresh-air traverse", "duct to the rooms", "rooms"),
    traverse_plane("extract_traverse", "Extract traverse", "duct from the rooms", "extract_grille"),
    static_tap("outdoor_static", "Intake static", "In the intake duct, before the filter.", "intake"),
    static_tap("supply_static", "Fresh-air static", "In the duct to the rooms, after the fan.", "rooms"),
    static_tap("extract_static", "Extract static", "In the duct from the rooms, before the filter.", "extract_grille"),
    static_tap("exhaust_static", "Exhaust static", "In the duct to outside, after the fan.", "hood"),
)


def _path(nameplate: VentilatorNameplate) -> AirPath:
    core = (Element("core", "Heat recovery", "core"),) if nameplate.heat_recovery else ()
    inward = (
        Element("intake", "Intake", "outside", "outdoor"),
        Element("filter_in", "Filter", "filter"),
        *core,
        Element("fan_in", "Fan", "blower"),
        Element("rooms", "To the rooms", "register", "supply"),
    )
    outward = (
        Element("extract_grille", "From the rooms", "grille", "extract"),
        Element("filter_out", "Filter", "filter"),
        *core,
        Element("fan_out", "Fan", "blower"),
        Element("hood", "Outside hood", "outside", "exhaust"),
    )
    bands = (Band("fresh", "Fresh air in", inward), Band("stale", "Stale air out", outward))
    return AirPath(bands, _STATIONS, (), ())


KIND = SystemKind(
    "dwelling_ventilator", "Dwelling ventilator", VentilatorNameplate, _path, ("measuring", "ventilation"), diagnosed=False
)

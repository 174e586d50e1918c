"""One phase's bench: its readings, what is worked out so far, and how a number becomes a result that can be shown."""

from __future__ import annotations

from collections.abc import Iterable

from fentro_core.measured import Measured
from fentro_core.measuring.stations import StationAir
from fentro_core.performance.airflow import climate_of, nominal_airflow
from fentro_core.sentence import Sentence
from fentro_core.visit.flows import Flows, Method, tightest
from fentro_core.visit.nameplate import CoolingPlate, FurnacePlate, HeatPumpPlate, Plate
from fentro_core.visit.readings import Readings, quantity
from fentro_core.visit.results import Contribution, Result
from fentro_core.visit.scene import Scene
from fentro_core.working import Working

RESULT_NAMES = {
    "split": "Split",
    "rise": "Temperature rise",
    "airflow": "Airflow",
    "total": "Total cooling",
    "sensible": "Sensible cooling",
    "latent": "Latent cooling",
    "shr": "Sensible heat ratio",
    "water": "Water removed",
    "water_per_day": "Water removed in a day",
    "rated_share": "Share of the plate's rated cooling",
    "target_split": "Target split of this unit now",
    "humidity_target": "Target split by return humidity",
    "target_total": "Target cooling of this unit now",
    "heat_total": "Heat given to the air",
    "target_rise": "Rise expected now",
    "target_heat": "Heat expected now",
    "external_static": "Total external static",
    "drop_return": "Drop over the return duct",
    "drop_filter": "Drop over the filter",
    "drop_coil": "Drop over the coil",
    "drop_supply": "Drop over the supply duct",
    "superheat": "Superheat",
    "target_superheat": "Target superheat",
    "subcooling": "Subcooling",
    "leak_by_heat": "Leak share by heat",
    "leak_by_moisture": "Leak share by moisture",
    "leak_share": "Share drawn in from around the duct",
    "leak_flow": "Air drawn in",
    "leak_at_25pa": "Leak at 25 Pa",
    "leak_opening": "Opening it would take",
    "capacity_lost": "Cooling or heat lost to the return run",
    "lost_to_leak": "Lost to air drawn in",
    "lost_to_wall": "Lost through the duct's wall",
    "outdoor_share": "Outdoor-air share",
    "flow_supply": "Fresh-air flow",
    "flow_extract": "Extract flow",
}
"""The results in the order they are shown."""

CHANGES_FROM_K = 1.5
"""Supply this far from return: the unit cools, or heats. Nearer than that it does nothing."""


class Bench:
    """What one phase is worked out on; `measured` keeps every result with its sources."""

    def __init__(self, scene: Scene, phase: str) -> None:
        self.scene = scene
        self.phase = phase
        self.path = scene.path
        self.pressure_pa = scene.pressure_pa
        self.plate: Plate = scene.snapshot.system.nameplate
        self.kind: str = scene.snapshot.system.kind
        entries = [entry for entry in scene.entries if entry.phase == phase]
        self.readings = Readings(
            phase, entries, scene.snapshot.instruments, self.path.stations, scene.runs, scene.matches, self.pressure_pa
        )
        self.stations = tuple(self.readings.station(station) for station in self.path.stations)
        self.measured: dict[str, Measured] = {}
        self.flows = self._flows()
        self.methods: list[Method] = self.flows.methods() if isinstance(self.plate, CoolingPlate) else []
        self.flow: Method | None = tightest(self.methods)

    def _flows(self) -> Flows:
        return Flows(
            self.plate if isinstance(self.plate, CoolingPlate) else CoolingPlate(),
            self.path,
            self.readings,
            self.scene.planes,
            self.scene.fan_tap(self.phase),
            climate_of(self.scene.snapshot.site.climate_zone),
            self.readings.early(("return", "supply")),
        )

    @property
    def rated_airflow_m3s(self) -> float | None:
        """The plate's airflow, or the nominal one of its cooling."""
        if not isinstance(self.plate, CoolingPlate):
            return None
        if self.plate.rated_airflow_m3s:
            return self.plate.rated_airflow_m3s
        if self.plate.rated_total_w:
            return nominal_airflow(self.plate.rated_total_w, climate_of(self.scene.snapshot.site.climate_zone))
        return None

    @property
    def measured_flow(self) -> Method | None:
        """The flow in use, unless it is only nominal."""
        return self.flow if self.flow and self.flow.flow and not self.flow.nominal else None

    @property
    def flow_apart_from_heat(self) -> Method | None:
        """The tightest measured flow that was not itself worked out from the heat it would judge."""
        found = tightest([method for method in self.methods if method.key != "airflow_rise" and not method.nominal])
        return found if found and found.flow else None

    def air(self, station: str) -> StationAir | None:
        """A station's air as differences use it (probes matched)."""
        return self.readings.matched_airs.get(station)

    @property
    def mode(self) -> str:
        """``cooling``, ``heating`` or "" when the unit does nothing, or it is not known. Only what can heat is seen heating."""
        return_, supply = self.air("return"), self.air("supply")
        if return_ is None or supply is None:
            return ""
        difference = supply.dry_bulb.value - return_.dry_bulb.value
        if difference >= CHANGES_FROM_K and self.heats:
            return "heating"
        return "cooling" if difference <= -CHANGES_FROM_K else ""

    @property
    def heats(self) -> bool:
        """The plate says something about heating."""
        plate = self.plate
        if isinstance(plate, FurnacePlate):
            return bool(plate.heating_input_w or plate.rise_high_k)
        return isinstance(plate, HeatPumpPlate)

    def keep(
        self,
        key: str,
        measured: Measured,
        kind: str,
        work: Working | None = None,
        remark: Sentence | None = None,
        nominal: bool = False,
    ) -> Result:
        """Remember a number under its key, and make it a result."""
        self.measured[key] = measured
        return self.result(key, RESULT_NAMES[key], measured, kind, work, remark, nominal)

    def result(
        self,
        key: str,
        name: str,
        measured: Measured,
        kind: str,
        work: Working | None = None,
        remark: Sentence | None = None,
        nominal: bool = False,
    ) -> Result:
        """A number with its half-width, working, and where its doubt comes from."""
        contributions = tuple(
            Contribution(self.readings.labels.get(source, source), share)
            for source, share in measured.shares().items()
            if share >= 0.005
        )
        lines = tuple(work.lines) if work else ()
        return Result(key, name, quantity(measured, kind), lines, contributions, remark, nominal=nominal)

    def method_result(self, method: Method) -> Result:
        """One way to the airflow as a result."""
        if method.flow is None:
            return Result(method.key, method.name, None, remark=method.remark, missing=method.missing)
        return self.result(method.key, method.name, method.flow, "airflow", method.work, method.remark, method.nominal)


def missing(key: str, what: Iterable[str]) -> Result:
    """A result that can't be had yet, and what it lacks."""
    return Result(key, RESULT_NAMES[key], None, missing=tuple(what))


def said(key: str, remark: Sentence) -> Result:
    """A result that is withheld, with the reason."""
    return Result(key, RESULT_NAMES[key], None, remark=remark)

"""What is given on this visit: nameplate, place, weather, and what was read, each with its doubt by source."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from fentro_core.airflow.heat_input import heater_power
from fentro_core.base.measured import Measured, weighted_sum
from fentro_core.base.refusal import Refused
from fentro_core.phase.context import PhaseContext
from fentro_core.phase.known import Known
from fentro_core.refrigerant.circuit import BUBBLE, DEW, saturation_temperature
from fentro_core.system.nameplate import CoolingNameplate

DWELLING_PA = {"r_return": 25.0, "r_filter": 28.0, "r_coil": 50.0, "r_supply": 33.0}
ROOF_PA = {"r_return": 45.0, "r_filter": 36.0, "r_coil": 60.0, "r_supply": 75.0}
"""Ordinary drops at rated flow. Ours, after ordinary duct work."""

ORDINARY_FLOW = 5.2e-5
"""Rated airflow per watt of rated cooling [m³/s W], where the plate says none: some 390 cfm a ton."""

COOLS_FROM_C, UNCLEAR_K, WARMS_BY_K = 18.0, 4.0, 1.5
"""Outdoor air at or above this: a unit is called to cool. Near it, or not known, the supply air tells. Ours."""

ROOM = {True: (24.5, 0.0095), False: (20.5, 0.006)}
"""A room's air where it was not read, cooling or heating: °C and humidity ratio."""


@dataclass(frozen=True)
class Site:
    """A machine in its place. `read`: what was observed, by name; `given`: what the model starts from."""

    cooling: bool
    gas: bool
    pump: bool
    roof: bool
    metering: str
    plated_subcooling: bool
    total_w: float
    rated_m3s: float
    sensible_share: float
    input_w: float
    efficiency: float
    pump_heat_w: float
    subcooling_k: float
    amps: float
    drops: Mapping[str, float]
    pressure_pa: float
    takes_outdoor: bool
    inlet: str
    given: Mapping[str, Measured]
    read: Mapping[str, Measured]
    probe_at: Mapping[str, frozenset[str]] = field(default_factory=dict)
    stage: str = ""
    heater_w: float = 0.0
    auxiliary: str = ""

    @property
    def knows_cooling(self) -> bool:
        """The plate says how much it cools."""
        return self.total_w > 0


AIRS = ("return", "mixed", "supply", "condenser_in", "condenser_out")


def site_of(phase: PhaseContext) -> Site | None:
    """What this phase gives; None where too little was read for a machine to be worked out at all."""
    plate = phase.nameplate
    if not isinstance(plate, CoolingNameplate):
        return None
    airs = phase.readings.airs
    inlet = "return_grille" if "return_grille" in airs else "return"
    given = _given(phase, inlet)
    total = plate.rated_total_w or 0.0
    flow = plate.rated_airflow_m3s or (total * ORDINARY_FLOW if total else 0.6)
    outdoor = given["outdoor_t"].value
    heats = plate.heats
    roof = phase.kind == "packaged_rooftop"
    warms = "supply" in airs and airs["supply"].dry_bulb.value >= given["room_t"].value + WARMS_BY_K
    cooling = not heats or outdoor >= COOLS_FROM_C
    if "outdoor" not in airs or abs(outdoor - COOLS_FROM_C) < UNCLEAR_K:
        cooling = not (heats and warms)
    gas = float(getattr(plate, "heating_input_w", None) or 0.0)
    return Site(
        cooling=cooling,
        gas=gas > 0,
        pump=phase.kind == "split_heat_pump",
        roof=roof,
        metering=plate.metering or "",
        plated_subcooling=plate.subcooling_k is not None,
        total_w=total or flow / ORDINARY_FLOW,
        rated_m3s=flow,
        sensible_share=plate.rated_sensible_heat_ratio or 0.75,
        input_w=gas,
        efficiency=float(getattr(plate, "heating_efficiency", None) or 0.8),
        pump_heat_w=float(getattr(plate, "rated_heating_w", None) or total or flow / ORDINARY_FLOW),
        subcooling_k=plate.subcooling_k or 5.8,
        amps=plate.compressor_current_a or 0.0,
        drops=ROOF_PA if roof else DWELLING_PA,
        pressure_pa=phase.pressure_pa,
        takes_outdoor=plate.takes_outdoor,
        inlet=inlet,
        given=given,
        read=_read(phase, inlet, plate),
        probe_at=_probes(phase),
        stage=phase.visit.item("stage", phase.phase),
        heater_w=plate.electric_heater_w or 0.0,
        auxiliary=phase.auxiliary,
    )


def _given(phase: PhaseContext, inlet: str) -> dict[str, Measured]:
    airs = phase.readings.airs
    entering, supply = airs.get(inlet), airs.get("supply")
    outdoor = airs.get("outdoor") or airs.get("condenser_in")
    warm = outdoor is None or outdoor.dry_bulb.value >= COOLS_FROM_C
    room_c, room_ratio = ROOM[warm]
    given = {
        "room_t": entering.dry_bulb if entering else Measured(room_c, {"guess:room": 6.0}),
        "room_w": (entering and entering.humidity_ratio) or Measured(room_ratio, {"guess:room humidity": 0.005}),
    }
    if outdoor is not None:
        given["outdoor_t"] = outdoor.dry_bulb
        given["outdoor_w"] = outdoor.humidity_ratio or Measured(0.011, {"guess:outdoor humidity": 0.008})
    else:
        warm = supply is None or supply.dry_bulb.value < given["room_t"].value + WARMS_BY_K
        given["outdoor_t"] = Measured(30.0 if warm else 3.0, {"guess:outdoor": 12.0})
        given["outdoor_w"] = Measured(0.011 if warm else 0.004, {"guess:outdoor humidity": 0.008})
    around = airs.get("surroundings")
    if around is not None:
        given["around_t"] = around.dry_bulb
        given["around_w"] = around.humidity_ratio or given["outdoor_w"]
    else:
        given["around_t"] = weighted_sum([(1.0, given["outdoor_t"]), (1.0, Measured(5.0, {"guess:around": 12.0}))])
        given["around_w"] = weighted_sum([(1.0, given["outdoor_w"]), (1.0, Measured(0.0, {"guess:around humidity": 0.004}))])
    return given


def _read(phase: PhaseContext, inlet: str, plate: CoolingNameplate) -> dict[str, Measured]:
    readings, found = phase.readings, dict[str, Measured]()
    for station in AIRS:
        air = readings.airs.get(station)
        if air is None or station == inlet:
            continue
        found[f"{station}_t"] = air.dry_bulb
        if air.humidity_ratio is not None and station in ("return", "mixed", "supply"):
            found[f"{station}_w"] = air.humidity_ratio
    for station in ("return_static", "filter_static", "coil_out_static", "supply_static"):
        if (pascal := readings.average(station, "static_pressure")) is not None:
            found[station] = pascal
    if (flow := readings.average("return", "airflow")) is not None:
        found["flow"] = flow
    _registers(phase, found)
    for station, name in (("suction_line", "suction"), ("liquid_line", "liquid")):
        if (pipe := readings.average(station, "pipe_temperature")) is not None:
            found[f"{name}_t"] = pipe
        gauge = readings.average(station, "gauge_pressure")
        if gauge is not None and plate.refrigerant:
            side = DEW if name == "suction" else BUBBLE
            saturated = _saturated(plate, gauge, phase.pressure_pa, side)
            if saturated is not None:
                found["evaporating_t" if name == "suction" else "condensing_t"] = saturated
    if (amps := readings.average("outdoor_unit", "current")) is not None and plate.compressor_current_a:
        found["amps"] = amps
    if plate.has_electric_heater and isinstance(heater := heater_power(readings), Known):
        found["heater_w"] = heater.value
    return found


def _registers(phase: PhaseContext, found: dict[str, Measured]) -> None:
    """The registers' sum, where every one was read."""
    share = phase.measured.get("register_share")
    whole = phase.measured.get("airflow")
    if share is not None and whole is not None and "flow" in found:
        found["registers"] = Measured(share.value, share.parts)


def _saturated(plate: CoolingNameplate, gauge: Measured, pressure_pa: float, side: int) -> Measured | None:
    assert plate.refrigerant is not None
    try:
        middle = saturation_temperature(plate.refrigerant, gauge.value + pressure_pa, side)
        more = saturation_temperature(plate.refrigerant, gauge.value * 1.01 + 100.0 + pressure_pa, side)
    except Refused:
        return None
    slope = (more - middle) / (gauge.value * 0.01 + 100.0)
    return Measured(middle, {source: slope * part for source, part in gauge.parts.items()})


def _probes(phase: PhaseContext) -> dict[str, frozenset[str]]:
    """At which stations each air probe was read."""
    found: dict[str, set[str]] = {}
    for read in phase.readings.reads:
        if read.reading.quantity == "dry_bulb" and read.instrument is not None:
            found.setdefault(read.instrument.id, set()).add(read.reading.station)
    return {probe: frozenset(stations) for probe, stations in found.items()}

"""A steady unit: blower against ducts, coil against compressor against condenser, burner, leaks. No claim to be any make.

It shares nothing with the core's targets but the properties of air and the saturation tables: its capacity comes from the
balance of coil, compressor and condenser, not from the curves that judge it.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from math import exp, log

from fentro_core.air.constants import CP_DRY_AIR as CP
from fentro_core.air.constants import heat_capacity
from fentro_core.air.pressure import SEA_LEVEL_PA
from fentro_core.air.state import AirState
from fentro_core.refrigerant.circuit import saturation_pressure, target_superheat
from fentro_core.system.nameplate import Metering, Refrigerant

RATED_OUTDOOR_C = 35.0
RATED_EVAPORATING_C = 7.5
RATED_CONDENSING_C = 47.5
TRIPS_AT_C = 63.0
"""The high-pressure switch would stop it a little above."""

RATED_POWER_SHARE = 0.30
"""Compressor power at rating as a share of its cooling."""


@dataclass(frozen=True)
class Design:
    """A unit as built. Drops are those at rated flow, clean [Pa]; `fan_spare`: how far the blower can push past them."""

    kind: str
    total_w: float
    airflow_m3s: float
    bypass: float = 0.11
    refrigerant: Refrigerant = "R-410A"
    metering: Metering = "valve"
    subcooling_k: float = 6.0
    current_a: float = 16.0
    drops: dict[str, float] = field(default_factory=lambda: {"return": 25.0, "filter": 30.0, "coil": 48.0, "supply": 32.0})
    fan_spare: float = 0.6
    heating_w: float = 0.0
    efficiency: float = 0.8
    return_length_m: float = 7.0
    return_perimeter_m: float = 1.4
    return_resistance: float = 1.06


@dataclass(frozen=True)
class Conditions:
    """The day and the place. `pressure_pa` is the true one."""

    outdoor_c: float = 33.0
    outdoor_rh: float = 0.45
    room_c: float = 24.5
    room_rh: float = 0.50
    around_c: float = 42.0
    around_ratio: float = 0.012
    pressure_pa: float = SEA_LEVEL_PA
    heating: bool = False


@dataclass(frozen=True)
class Faults:
    """What is wrong with the unit: factors of 1 and shares of 0 are a sound one."""

    filter_factor: float = 1.0
    coil_factor: float = 1.0
    coil_area: float = 1.0
    return_factor: float = 1.0
    supply_factor: float = 1.0
    fan_speed: float = 1.0
    charge: float = 1.0
    condenser: float = 1.0
    compressor: float = 1.0
    return_leak: float = 0.0
    supply_leak: float = 0.0
    fire: float = 1.0


@dataclass(frozen=True)
class Running:
    """Everything true of a unit that runs steadily."""

    airflow_m3s: float
    statics_pa: dict[str, float]
    grille: AirState
    return_: AirState
    layer_k: float
    supply: AirState
    after_coil: AirState
    registers_m3s: float
    condenser_out_c: float
    suction_line_c: float
    liquid_line_c: float
    suction_gauge_pa: float
    liquid_gauge_pa: float
    current_a: float
    total_w: float
    leak_share: float


def flow_balance(design: Design, faults: Faults, density_share: float) -> tuple[float, dict[str, float]]:
    """Where blower and ducts meet: airflow [m³/s] and the drop over each part [Pa], by halving."""
    factors = {
        "return": faults.return_factor,
        "filter": faults.filter_factor,
        "coil": faults.coil_factor,
        "supply": faults.supply_factor,
    }
    rated = sum(design.drops.values())
    most = rated * (1 + design.fan_spare)
    free = float(design.airflow_m3s * ((1 + design.fan_spare) / design.fan_spare) ** 0.5)

    def spare(flow: float) -> float:
        speed = faults.fan_speed
        push = density_share * most * (speed * speed - (flow / free) ** 2)
        pull = density_share * sum(drop * factors[part] * (flow / design.airflow_m3s) ** 2 for part, drop in design.drops.items())
        return push - pull

    low, high = 0.0, free * 1.5
    for _ in range(50):
        middle = (low + high) / 2
        low, high = (middle, high) if spare(middle) > 0 else (low, middle)
    flow = (low + high) / 2
    through = density_share * (flow / design.airflow_m3s) ** 2
    return flow, {part: drop * factors[part] * through for part, drop in design.drops.items()}


def taps(design: Design, drops: dict[str, float]) -> dict[str, float]:
    """Static pressure at every tap [Pa] from the drops, by where the blower sits."""
    before = -drops["return"]
    after_filter = before - drops["filter"]
    if design.kind == "furnace_with_coil":
        into_duct = drops["supply"]
        return {
            "return_static": before,
            "filter_static": after_filter,
            "supply_static": into_duct + drops["coil"],
            "coil_out_static": into_duct,
        }
    return {
        "return_static": before,
        "filter_static": after_filter,
        "coil_out_static": after_filter - drops["coil"],
        "supply_static": drops["supply"],
    }


def run(design: Design, day: Conditions, faults: Faults) -> Running:
    """The unit after it has settled."""
    pressure = day.pressure_pa
    flow, drops = flow_balance(design, faults, pressure / SEA_LEVEL_PA)
    room = AirState.from_rh(day.room_c, day.room_rh, pressure)
    around = AirState(day.around_c, day.around_ratio, pressure)
    suction = max(drops["return"], 1.0)
    leak = faults.return_leak * (suction / (2 * 25.0)) ** 0.6 * (design.airflow_m3s / flow)
    mass = flow / room.specific_volume_m3_per_kg
    wall = design.return_length_m * design.return_perimeter_m / design.return_resistance * (day.around_c - day.room_c)
    mixed_c = (1 - leak) * day.room_c + leak * day.around_c + wall / (mass * CP)
    mixed_w = (1 - leak) * room.humidity_ratio + leak * around.humidity_ratio
    return_ = AirState(mixed_c, mixed_w, pressure)
    mass = flow / return_.specific_volume_m3_per_kg
    static = taps(design, drops)
    layer = 0.65 * leak * (day.around_c - day.room_c)
    common = {"airflow_m3s": flow, "statics_pa": static, "grille": room, "return_": return_, "layer_k": layer}
    common |= {"registers_m3s": flow * (1 - faults.supply_leak), "leak_share": leak}
    if day.heating:
        return Running(**common, **_heated(design, day, faults, return_, mass))  # type: ignore[arg-type]
    return Running(**common, **_cooled(design, day, faults, return_, mass, flow, drops))  # type: ignore[arg-type]


def _heated(design: Design, day: Conditions, faults: Faults, return_: AirState, mass: float) -> dict[str, object]:
    heat = design.heating_w * design.efficiency * faults.fire
    supply = AirState(
        return_.dry_bulb_c + heat / (mass * heat_capacity(return_.humidity_ratio)), return_.humidity_ratio, day.pressure_pa
    )
    idle = day.outdoor_c
    return {
        "supply": supply,
        "after_coil": supply,
        "condenser_out_c": idle,
        "suction_line_c": idle,
        "liquid_line_c": idle,
        "suction_gauge_pa": 0.0,
        "liquid_gauge_pa": 0.0,
        "current_a": 0.0,
        "total_w": heat,
    }


def _coil(entering: AirState, mass: float, area: float, surface_c: float) -> tuple[float, AirState]:
    """Heat taken [W] and leaving air by a coil of this mean surface temperature: bypass factor ``exp(-area/mass)``."""
    bypass = exp(-area / mass)
    saturated = AirState.from_rh(surface_c, 1.0, entering.pressure_pa)
    ratio = min(saturated.humidity_ratio, entering.humidity_ratio)
    leaving_c = surface_c + bypass * (entering.dry_bulb_c - surface_c)
    leaving_w = ratio + bypass * (entering.humidity_ratio - ratio)
    leaving = AirState(leaving_c, leaving_w, entering.pressure_pa)
    return mass * (entering.enthalpy_j_per_kg - leaving.enthalpy_j_per_kg), leaving


def _rated_surface(design: Design) -> tuple[float, float]:
    """Coil area (kg/s of NTU) and surface temperature that give the rated cooling at rating."""
    from_plate = AirState.from_wet_bulb((80 - 32) / 1.8, (67 - 32) / 1.8)
    mass = design.airflow_m3s / from_plate.specific_volume_m3_per_kg
    area = -mass * log(design.bypass)
    low, high = -10.0, 20.0
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (middle, high) if _coil(from_plate, mass, area, middle)[0] > design.total_w else (low, middle)
    return area, (low + high) / 2


def _cooled(
    design: Design, day: Conditions, faults: Faults, return_: AirState, mass: float, flow: float, drops: dict[str, float]
) -> dict[str, object]:
    area, rated_surface = _rated_surface(design)
    film = (rated_surface - RATED_EVAPORATING_C) / design.total_w
    low_charge, high_charge = max(1 - faults.charge, 0.0), max(faults.charge - 1, 0.0)
    area *= faults.coil_area * max(1 - 1.9 * low_charge, 0.2)
    pump = faults.compressor * (1 - 0.25 * low_charge)
    rated_reject = design.total_w * (1 + RATED_POWER_SHARE)
    reject_per_k = rated_reject / (RATED_CONDENSING_C - RATED_OUTDOOR_C) * faults.condenser * (1 - 0.9 * high_charge)

    def compressor(evaporating: float) -> tuple[float, float, float]:
        """Cooling it makes room for [W], its power [W], and condensing temperature [°C], at an evaporating temperature."""
        condensing = RATED_CONDENSING_C
        cooling = power = 0.0
        for _ in range(25):
            over = condensing - RATED_CONDENSING_C
            cooling = design.total_w * pump * (1 + 0.031 * (evaporating - RATED_EVAPORATING_C) - 0.0088 * over)
            power = (
                design.total_w * RATED_POWER_SHARE * pump**0.6 * (1 + 0.004 * (evaporating - RATED_EVAPORATING_C) + 0.019 * over)
            )
            condensing = min(0.5 * condensing + 0.5 * (day.outdoor_c + (cooling + power) / reject_per_k), TRIPS_AT_C)
        return cooling, power, condensing

    low, high = -15.0, 25.0
    for _ in range(40):
        evaporating = (low + high) / 2
        made = compressor(evaporating)[0]
        taken = _coil(return_, mass, area, evaporating + film * made)[0]
        low, high = (evaporating, high) if taken > made else (low, evaporating)
    made, power, condensing = compressor(evaporating)
    _, after_coil = _coil(return_, mass, area, evaporating + film * made)
    fan_w = flow * sum(drops.values()) / 0.45
    warmer = fan_w / (mass * CP) if design.kind != "furnace_with_coil" else 0.0
    supply = AirState(after_coil.dry_bulb_c + warmer + 0.15, after_coil.humidity_ratio, day.pressure_pa)
    superheat = _superheat(design, day, return_, low_charge, high_charge)
    subcooling = max(design.subcooling_k - 26.0 * low_charge + 32.0 * high_charge, 0.3)
    rejected = made + power
    air_rise = rejected / (rated_reject / 10.5 * (0.35 + 0.65 * faults.condenser))
    return {
        "supply": supply,
        "after_coil": after_coil,
        "condenser_out_c": day.outdoor_c + air_rise,
        "suction_line_c": evaporating + superheat,
        "liquid_line_c": condensing - subcooling,
        "suction_gauge_pa": saturation_pressure(design.refrigerant, evaporating) - day.pressure_pa,
        "liquid_gauge_pa": saturation_pressure(design.refrigerant, condensing, 1) - day.pressure_pa,
        "current_a": design.current_a * 0.8 * power / (design.total_w * RATED_POWER_SHARE),
        "total_w": mass * (return_.enthalpy_j_per_kg - supply.enthalpy_j_per_kg),
    }


def _superheat(design: Design, day: Conditions, return_: AirState, low_charge: float, high_charge: float) -> float:
    if design.metering == "valve":
        return min(6.0 + 55.0 * max(low_charge - 0.08, 0.0), 25.0) - 6.0 * min(high_charge, 0.4)
    sound = max(target_superheat(return_.wet_bulb_c, day.outdoor_c).superheat_k, 1.5)
    return max(min(sound + 60.0 * low_charge, 28.0) - 30.0 * high_charge, 0.2)

"""A machine by rating curves and published fault trends, where `fentro_standins.plant` balances coil, compressor and condenser.

Capacity over weather: the residential curve of DOE-2.1E in entering wet bulb and outdoor dry bulb. Sensible share: apparatus
dew point and bypass factor. What faults do to it follows the trends of published single-fault tests, drawn anew for each machine
by up to a third: charge with a restrictor and with a valve (Farzad and O'Neal, ASHRAE Transactions 99(1), 1993), condenser and
evaporator fouling, liquid line restriction, leaking compressor valves (Breuker and Braun, HVAC&R Research 4(3), 1998), the same
on a heat pump (Kim, Payne, Domanski, Yoon and Hermes, Applied Thermal Engineering 29, 2009). Nothing but the properties of air
and of refrigerants is shared with the core.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from math import exp, log
from random import Random

from fentro_core.air.state import AirState
from fentro_core.refrigerant.circuit import saturation_pressure
from fentro_core.system.nameplate import Metering, Refrigerant

CP = 1006.0


@dataclass(frozen=True)
class Machine:
    """What it is as built, sound. Pressure drops at rated flow [Pa]; `approach_k`: condensing over outdoor air at rating."""

    kind: str
    total_w: float
    rated_m3s: float
    sensible_share: float
    refrigerant: Refrigerant
    metering: Metering
    steady_flow: bool
    drops: dict[str, float]
    fan_most_pa: float
    approach_k: float
    condenser_rise_k: float
    evaporator_k: float
    superheat_k: float
    subcooling_k: float
    amps: float
    input_w: float = 0.0
    efficiency: float = 0.8
    pump_heat_w: float = 0.0
    element_w: float = 0.0
    stages: int = 1
    wall_w_per_k: float = 3.0
    filter_thick: bool = False
    heating_power: float = 0.8


@dataclass(frozen=True)
class Day:
    """Weather and place. `outdoor_share`: the part of the coil's air that comes from outside, as meant."""

    mode: str
    outdoor_c: float
    outdoor_ratio: float
    room_c: float
    room_ratio: float
    around_c: float
    around_ratio: float
    pressure_pa: float
    stage: float = 1.0
    auxiliary: bool = False
    outdoor_share: float = 0.0
    derate: float = 1.0


@dataclass
class Wrong:
    """What is wrong with it, and how much: 0 or 1 is sound. `trend`: this machine's own share of the published trends.

    `defrosts`: nothing wrong; while it is read it takes this share of its rated cooling out of the rooms to melt the ice outside.
    """

    resistances: dict[str, float] = field(default_factory=dict)
    fan: float = 1.0
    surface: float = 1.0
    charge: float = 1.0
    foreign_k: float = 0.0
    restricted: float = 0.0
    starved: float = 0.0
    flooded: float = 0.0
    pumping: float = 1.0
    valve_leak: float = 0.0
    off: bool = False
    condenser_air: float = 1.0
    condenser_fouled: float = 0.0
    drawn_back_k: float = 0.0
    heater_w: float = 0.0
    water: float = 0.0
    damper_share: float = 0.0
    return_leak: float = 0.0
    bare: float = 0.0
    supply_leak: float = 0.0
    bypass: float = 0.0
    fire: float = 1.0
    limit: float = 1.0
    element: float = 1.0
    iced: float = 1.0
    defrosts: float = 0.0
    trend: float = 1.0


@dataclass(frozen=True)
class State:
    """What is true of it, settled."""

    flow_m3s: float
    statics: dict[str, float]
    grille: AirState
    return_: AirState
    mixed: AirState
    supply: AirState
    registers_m3s: float
    outdoor: AirState
    condenser_in_c: float = 0.0
    condenser_out_c: float = 0.0
    suction_c: float = 0.0
    liquid_c: float = 0.0
    suction_gauge_pa: float = 0.0
    liquid_gauge_pa: float = 0.0
    amps: float = 0.0
    heater_w: float = 0.0


def saturated(celsius: float, pressure_pa: float) -> AirState:
    """Air at this temperature that can hold no more."""
    return AirState.from_rh(celsius, 1.0, pressure_pa)


def mix(one: AirState, other: AirState, share: float) -> AirState:
    """A share of the other in the one."""
    return AirState(
        (1 - share) * one.dry_bulb_c + share * other.dry_bulb_c,
        (1 - share) * one.humidity_ratio + share * other.humidity_ratio,
        one.pressure_pa,
    )


def warmed(air: AirState, kelvin: float, ratio: float = 0.0) -> AirState:
    """Warmer by so much, and moister, as far as it can be."""
    celsius = min(air.dry_bulb_c + kelvin, 95.0)
    if kelvin >= 0 and not ratio:
        return AirState(celsius, air.humidity_ratio, air.pressure_pa)
    most = AirState.from_rh(celsius, 0.985, air.pressure_pa).humidity_ratio
    return AirState(celsius, min(air.humidity_ratio + ratio, most), air.pressure_pa)


def run(machine: Machine, day: Day, wrong: Wrong) -> State:
    """Blower and ducts, return duct and dampers, then cooling or heating."""
    dense = day.pressure_pa / 101_325.0
    flow, drops = _flow(machine, day, wrong, dense)
    room = AirState(day.room_c, day.room_ratio, day.pressure_pa)
    around = AirState(day.around_c, day.around_ratio, day.pressure_pa)
    outdoor = AirState(day.outdoor_c, day.outdoor_ratio, day.pressure_pa)
    mass = flow / room.specific_volume_m3_per_kg
    suction = max(drops["return"], 2.0)
    leak = min(wrong.return_leak * (suction / 25.0) ** 0.65 * machine.rated_m3s / flow, 0.6)
    return_ = mix(room, around, leak)
    wall = machine.wall_w_per_k * (1 + 14 * wrong.bare)
    return_ = warmed(return_, (day.around_c - return_.dry_bulb_c) * (1 - exp(-wall / (mass * CP))))
    share = min(day.outdoor_share + wrong.damper_share, 0.95)
    mixed = mix(return_, outdoor, share)
    through = mass * (1 - wrong.bypass)
    fan_k = flow * sum(drops.values()) / (0.4 if machine.steady_flow else 0.28) / (mass * CP)
    more: dict[str, float] = {}
    if day.mode == "heating":
        supply = warmed(mixed, _heat(machine, day, wrong) / (mass * CP) + (0.0 if machine.input_w else fan_k))
        more = {} if machine.input_w else _draws(machine, day, wrong)
    elif wrong.off:
        supply = warmed(mixed, fan_k + wrong.heater_w / (mass * CP))
        more = _idle(machine, day)
    else:
        leaving, more = _cool(machine, day, wrong, mixed, through, flow)
        supply = mix(leaving, mixed, wrong.bypass)
        blown = wrong.water * max(saturated(supply.dry_bulb_c, day.pressure_pa).humidity_ratio - supply.humidity_ratio, 0.0)
        supply = warmed(supply, fan_k * (machine.input_w == 0) + wrong.heater_w / (mass * CP) - 2500.0 * blown, blown)
    if wrong.bypass:  # cold air comes back into the return plenum
        return_ = mixed = mix(return_, supply, wrong.bypass)
    return State(flow, _taps(machine, drops), room, return_, mixed, supply, flow * (1 - wrong.supply_leak), outdoor, **more)


def _flow(machine: Machine, day: Day, wrong: Wrong, dense: float) -> tuple[float, dict[str, float]]:
    """Flow [m³/s] and the drop of each stretch: resistances by the power 1.9; a blower that keeps its flow, or yields."""
    worse = {name: wrong.resistances.get(name, 1.0) for name in machine.drops}

    def drops(flow: float) -> dict[str, float]:
        return {
            name: dense * worse[name] * drop * (flow / machine.rated_m3s) ** (1.3 if name == "filter" else 1.9)
            for name, drop in machine.drops.items()
        }

    wanted = machine.rated_m3s * (0.75 if day.stage < 1 else 1.0) * wrong.fan
    low, high = 0.02 * machine.rated_m3s, 2.0 * machine.rated_m3s
    for _ in range(40):
        flow = (low + high) / 2
        pull = sum(drops(flow).values())
        if machine.steady_flow:
            push = machine.fan_most_pa * wrong.fan * dense * min(1.0, max((wanted * 1.06 - flow) / (0.06 * wanted), 0.0))
        else:
            push = machine.fan_most_pa * dense * (wrong.fan**2 - (flow / (1.75 * machine.rated_m3s)) ** 1.6)
            push *= 0.72 if day.stage < 1 else 1.0
        low, high = (flow, high) if push > pull else (low, flow)
    return flow, drops(flow)


def _taps(machine: Machine, drops: dict[str, float]) -> dict[str, float]:
    before = -drops["return"]
    filtered = before - drops["filter"]
    if machine.kind == "furnace_with_coil":
        out, last = drops["supply"] + drops["coil"], drops["supply"]
        return {"return_static": before, "filter_static": filtered, "supply_static": out, "coil_out_static": last}
    return {
        "return_static": before,
        "filter_static": filtered,
        "coil_out_static": filtered - drops["coil"],
        "supply_static": drops["supply"],
    }


def _heat(machine: Machine, day: Day, wrong: Wrong) -> float:
    """Heat into the air [W]."""
    if machine.input_w:
        return machine.input_w * machine.efficiency * wrong.fire * wrong.limit * day.derate * (0.65 if day.stage < 1 else 1.0)
    pump = machine.pump_heat_w * (1 + 0.0235 * (day.outdoor_c - 8.3)) * wrong.iced * (1 - wrong.valve_leak) * wrong.pumping
    pump *= 1 - 1.1 * max(0.92 - wrong.charge, 0.0)
    if wrong.defrosts:
        pump = -wrong.defrosts * machine.total_w
    if wrong.off:
        pump = 0.0
    return pump + (machine.element_w * wrong.element if day.auxiliary else 0.0)


def _draws(machine: Machine, day: Day, wrong: Wrong) -> dict[str, float]:
    """Current of the compressor and watts of the heater while a heat pump heats.

    A fault takes less power, as it does in heating by Kim, Payne, Domanski, Yoon and Hermes (2009).
    """
    t = wrong.trend
    power = machine.heating_power * (1 + 0.0085 * (day.outdoor_c - 8.3))
    power *= 1 - t * 0.35 * max(1 - wrong.charge, 0.0)
    power *= (1 - 0.5 * (1 - wrong.pumping)) * (1 - 0.45 * wrong.valve_leak) * (1 - t * 0.3 * (1 - wrong.iced))
    if wrong.defrosts:  # little to lift against, and the outdoor fan stands still
        power = machine.heating_power * (0.45 + 0.3 * wrong.defrosts)
    heater = machine.element_w * wrong.element if day.auxiliary else 0.0
    return {"amps": 0.0 if wrong.off else machine.amps * (0.1 + 0.72 * power), "heater_w": heater}


def _idle(machine: Machine, day: Day) -> dict[str, float]:
    pressure = saturation_pressure(machine.refrigerant, day.outdoor_c) - day.pressure_pa
    fan = 0.08 * machine.amps
    return {
        "condenser_in_c": day.outdoor_c,
        "condenser_out_c": day.outdoor_c + 0.4,
        "suction_c": day.outdoor_c - 2.0,
        "liquid_c": day.outdoor_c,
        "suction_gauge_pa": pressure,
        "liquid_gauge_pa": pressure,
        "amps": fan,
    }


def capacity_over_weather(wet_bulb_c: float, outdoor_c: float) -> float:
    """Share of the rated cooling: DOE-2.1E, residential air conditioner, in °F."""
    inside, outside = wet_bulb_c * 1.8 + 32, outdoor_c * 1.8 + 32
    return (
        0.60034040
        + 0.00228726 * inside
        - 0.0000128 * inside**2
        + 0.00138975 * outside
        - 0.0000806 * outside**2
        + 0.00014125 * inside * outside
    )


def _cool(
    machine: Machine, day: Day, wrong: Wrong, entering: AirState, mass: float, flow: float
) -> tuple[AirState, dict[str, float]]:
    t = wrong.trend
    inlet_c = day.outdoor_c + wrong.drawn_back_k
    flows = flow / machine.rated_m3s
    under, over = max(1 - wrong.charge, 0.0), max(wrong.charge - 1, 0.0)
    share = capacity_over_weather(entering.wet_bulb_c, inlet_c) * (0.8 + 0.2 * min(flows, 1.3))
    stage = 0.68 if day.stage < 1 else 1.0
    share *= stage
    superheat, subcooling = _superheat(machine, entering, inlet_c), machine.subcooling_k
    power, evaporating_k, approach = 1.0, machine.evaporator_k, machine.approach_k
    if machine.metering == "restrictor":
        share *= 1 - t * (0.6 * under + 1.6 * max(under - 0.1, 0.0)) - t * 0.3 * over
        superheat += t * 75 * under - 45 * over
        subcooling += -t * 22 * under + t * 24 * over
    else:
        late = max(under - 0.15, 0.0)
        share *= 1 - t * (0.1 * under + 1.1 * late) - t * 0.18 * over
        superheat += t * 60 * late
        subcooling += -t * 30 * under + t * 30 * over
    power *= 1 - 0.3 * under + 0.35 * over
    approach *= 1 - 0.6 * under + 0.9 * over
    evaporating_k += t * 22 * under
    share *= 1 - t * wrong.restricted * 0.6
    superheat += t * 26 * wrong.restricted * (0.6 if machine.metering == "valve" else 1.0)
    subcooling += 6 * wrong.restricted
    evaporating_k += 14 * wrong.restricted
    power *= 1 - 0.2 * wrong.restricted
    share *= 1 - t * 0.6 * wrong.starved
    superheat += t * 28 * wrong.starved
    subcooling += 3 * wrong.starved
    evaporating_k += 14 * wrong.starved
    superheat -= t * 9 * wrong.flooded
    share *= 1 - 0.08 * wrong.flooded
    subcooling -= 2 * wrong.flooded
    evaporating_k -= 1.5 * wrong.flooded
    weak = (1 - wrong.pumping) + 0.8 * wrong.valve_leak
    share *= 1 - weak
    evaporating_k -= 9 * weak
    power *= 1 - 0.55 * weak
    superheat += (-4 if machine.metering == "restrictor" else 0.5) * weak + 26 * wrong.valve_leak
    subcooling -= 3 * weak
    blocked = 1 - wrong.condenser_air
    approach *= (1 + 1.25 * t * blocked + 0.9 * wrong.condenser_fouled) * share / stage if share > 0.3 else 1.0
    hotter = approach - machine.approach_k * min(share / stage, 1.3)
    share *= 1 - 0.009 * max(hotter, 0.0)
    power *= (1 + 0.014 * (inlet_c - 35.0)) * (1 + 0.02 * max(hotter, -6.0)) * (0.62 if day.stage < 1 else 1.0)
    share *= 1 - 0.006 * wrong.foreign_k
    power *= 1 + 0.017 * wrong.foreign_k
    share *= 0.35 + 0.65 * wrong.surface
    heat = machine.total_w * max(share, 0.05)
    leaving, dew_c = _coil(machine, entering, mass, heat, flows, wrong.surface)
    suction_c = dew_c - evaporating_k * (heat / machine.total_w) ** 0.6
    condensing = inlet_c + approach * (stage**0.7)
    rejected = heat + 0.28 * machine.total_w * power
    rise = machine.condenser_rise_k * rejected / (1.28 * machine.total_w) / (1 - 0.8 * blocked)
    superheat, subcooling = max(superheat, 0.3), max(subcooling, 0.2)
    return leaving, {
        "condenser_in_c": inlet_c,
        "condenser_out_c": inlet_c + rise,
        "suction_c": min(suction_c + superheat, day.outdoor_c + 2.0),
        "liquid_c": max(condensing - subcooling, inlet_c + 0.5),
        "suction_gauge_pa": saturation_pressure(machine.refrigerant, suction_c) - day.pressure_pa,
        "liquid_gauge_pa": saturation_pressure(machine.refrigerant, min(condensing + wrong.foreign_k, 63.9), 1) - day.pressure_pa,
        "amps": machine.amps * (0.1 + 0.72 * power),
    }


def _superheat(machine: Machine, entering: AirState, outdoor_c: float) -> float:
    """Of a sound circuit: a valve holds it; a restrictor follows wet bulb and outdoor air."""
    if machine.metering == "valve":
        return machine.superheat_k
    return max(6.5 + 1.45 * (entering.wet_bulb_c - 19.4) - 0.52 * (outdoor_c - 35.0), 1.2)


def _coil(machine: Machine, entering: AirState, mass: float, heat: float, flows: float, surface: float) -> tuple[AirState, float]:
    """Air after the coil and the coil's dew point [°C], by the bypass factor at this flow."""
    rated = 0.10 + 0.25 * max(machine.sensible_share - 0.70, 0.0)
    bypass = exp(log(rated) * surface / flows**0.35)
    fall = heat / mass / (1 - bypass)
    low, high = -25.0, entering.dry_bulb_c
    for _ in range(40):
        dew = (low + high) / 2
        at = saturated(dew, entering.pressure_pa)
        dry = at.humidity_ratio >= entering.humidity_ratio
        there = AirState(dew, entering.humidity_ratio, entering.pressure_pa) if dry else at
        low, high = (low, dew) if entering.enthalpy_j_per_kg - there.enthalpy_j_per_kg < fall else (dew, high)
    return mix(there, entering, bypass), dew


def a_machine(kind: str, draw: Random) -> Machine:
    """Any of its kind, as they are built and sold."""
    roof = kind == "packaged_rooftop"
    tons = draw.choice((5.0, 7.5, 10.0, 15.0) if roof else (1.5, 2.0, 2.5, 3.0, 3.5, 4.0, 5.0))
    total = tons * 3517.0 * draw.uniform(0.96, 1.04)
    flow = tons * draw.uniform(0.165, 0.2)
    steady = draw.random() < (0.2 if roof else 0.5)
    clean = {
        "return": draw.uniform(12, 40),
        "filter": draw.uniform(18, 45),
        "coil": draw.uniform(35, 70),
        "supply": draw.uniform(15, 55),
    }
    if roof:
        clean = {
            "return": draw.uniform(20, 70),
            "filter": draw.uniform(20, 55),
            "coil": draw.uniform(45, 75),
            "supply": draw.uniform(40, 110),
        }
    whole = sum(clean.values())
    most = whole * draw.uniform(1.35, 2.1) if steady else whole / (1 - (1 / 1.75) ** 1.6)
    gas = draw.uniform(1.7, 2.3) * total if kind == "furnace_with_coil" else 0.0
    return Machine(
        kind=kind,
        total_w=total,
        rated_m3s=flow,
        sensible_share=draw.uniform(0.70, 0.80),
        refrigerant=draw.choice(("R-410A", "R-410A", "R-22", "R-32", "R-454B")),
        metering="valve" if roof or draw.random() < 0.6 else "restrictor",
        steady_flow=steady,
        drops=clean,
        fan_most_pa=most,
        approach_k=draw.uniform(9.0, 15.0),
        condenser_rise_k=draw.uniform(8.0, 13.0),
        evaporator_k=draw.uniform(2.0, 6.0),
        superheat_k=draw.uniform(4.5, 8.5),
        subcooling_k=draw.uniform(4.0, 7.5),
        amps=total / 3517.0 * draw.uniform(4.2, 6.0),
        input_w=gas,
        efficiency=draw.choice((0.8, 0.8, 0.92, 0.95)),
        pump_heat_w=total * draw.uniform(0.92, 1.08) if kind == "split_heat_pump" else 0.0,
        element_w=draw.choice((5_000.0, 10_000.0)),
        stages=draw.choice((1, 1, 2)),
        wall_w_per_k=draw.uniform(2.0, 12.0),
        heating_power=draw.uniform(0.68, 0.92),
    )

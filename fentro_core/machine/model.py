"""A whole machine in closed form: what every place would read, for one setting of its knobs.

Made to be run a few hundred times for one visit. It is no balance of coil and compressor: capacity follows ordinary rating tables
(2.6 % by kelvin of entering wet bulb, 0.85 % by kelvin outdoors), air leaves the coil by apparatus dew point and bypass factor,
the circuit's temperatures lie by ordinary distances from air and coil. What faults do to it are trends of the trade and of
published single-fault tests (docs/method.md, "Findings"); how far a machine may lie off is said in `weigh.UNSURE`.
"""

from __future__ import annotations

from collections.abc import Mapping
from math import exp, log

from fentro_core.machine.knobs import Knobs
from fentro_core.machine.site import Site

CP = 1006.0
RATED_WET_BULB_C = 19.44
RATED_OUTDOOR_C = 35.0
APPROACH_K = 12.0
WARMING_K = 10.5
EVAPORATING_K = 4.0
SUPERHEAT_K = 6.5
WALL_W_PER_K = 6.0
FAN_EFFICIENCY = 0.35
POWER_SHARE = 0.28
HEATING_POWER = 0.8
"""What a compressor draws while it heats at 8.3 °C outside, over what it draws at the cooling's rating."""

DEFROST_POWER = 0.5
"""What it draws while it melts the ice on its outdoor coil: it lifts heat by little, and the outdoor fan stands still."""

STAGE_FAN, STAGE_POWER = 0.7, 1.2
"""On a lower stage, of what it gives less: how much less air it moves, and how much less it draws."""


def vapour_pressure(celsius: float) -> float:
    """Saturated [Pa], after Magnus with the constants of Alduchov and Eskridge (1996)."""
    return 610.94 * exp(17.625 * celsius / (celsius + 243.04))


def saturated_ratio(celsius: float, pressure_pa: float) -> float:
    """Humidity ratio of saturated air."""
    vapour = vapour_pressure(celsius)
    return 0.62195 * vapour / (pressure_pa - vapour)


def enthalpy(celsius: float, ratio: float) -> float:
    """Of moist air [J/kg dry air]."""
    return 1006.0 * celsius + ratio * (2_501_000.0 + 1860.0 * celsius)


def wet_bulb(celsius: float, ratio: float, pressure_pa: float) -> float:
    """By three steps of Newton on the enthalpy of saturated air: within 0.1 K, which is enough here."""
    wanted = enthalpy(celsius, ratio)
    at = celsius - 6.0
    for _ in range(3):
        saturated = saturated_ratio(at, pressure_pa)
        slope = 1006.0 + 2_501_000.0 * saturated * 17.625 * 243.04 / (at + 243.04) ** 2 * 1.02
        at += (wanted - enthalpy(at, saturated)) / slope
    return at


def flow_share(site: Site, k: Knobs) -> float:
    """Airflow over the rated one: what blower and resistances leave of it."""
    drops = site.drops
    whole = (
        drops["r_return"] * k.r_return
        + drops["r_filter"] * k.r_filter
        + drops["r_coil"] * k.r_coil
        + drops["r_supply"] * k.r_supply
    ) / sum(drops.values())
    return k.flow * k.fan * (1.0 - STAGE_FAN * (1.0 - k.stage)) * float(whole**-k.yields)


def shows(site: Site, k: Knobs, off_at: frozenset[str] = frozenset()) -> dict[str, float]:
    """What would be read at every place, by name. `off_at`: where the culprit probe was used."""
    given = {name: each.value for name, each in site.given.items()}
    room_t, room_w = given["room_t"], given["room_w"]
    if k.off_k and site.inlet in off_at:
        room_w *= exp(-0.062 * k.off_k)
        room_t -= k.off_k
    if k.layered_k:
        room_t += 0.35 * k.layered_k
    out_t, out_w = given["outdoor_t"] - k.sunlit_k, given["outdoor_w"] * exp(-0.058 * k.sunlit_k)
    if k.off_k and "outdoor" in off_at:
        out_t -= k.off_k
    pressure = site.pressure_pa
    dense = pressure / 101_325.0
    share = flow_share(site, k)
    rated_m3s = site.rated_m3s / k.plate
    flow = share * rated_m3s
    mass = flow * dense * 1.19 * 297.0 / (273.15 + room_t)
    part = {name: dense * drop * getattr(k, name) * share**1.85 for name, drop in site.drops.items()}
    return_t, return_w = room_t, room_w
    found: dict[str, float] = {}
    taken_in = min(k.leak * k.r_return**0.4, 0.6)
    changed = taken_in + (1 - taken_in) * (1 - exp(-WALL_W_PER_K * k.wall / (mass * CP)))
    if site.inlet == "return_grille":
        return_t += (given["around_t"] - room_t) * changed
        return_w += (given["around_w"] - room_w) * taken_in
    else:
        found["pickup_k"] = (given["around_t"] - room_t) * changed / (1 - min(changed, 0.8))
    mixed_t = return_t + k.outdoor * (out_t - return_t)
    mixed_w = return_w + k.outdoor * (out_w - return_w)
    fan_k = sum(part.values()) / (FAN_EFFICIENCY * 1190.0 * dense)
    if not site.cooling:
        supply_t, supply_w = mixed_t + _heated(site, k, out_t, found) / (mass * CP) + (0.0 if site.gas else fan_k), mixed_w
    else:
        supply_t, supply_w = _cooled(site, k, mixed_t, mixed_w, out_t, mass, share, found)
        supply_t += fan_k + k.heater * site.total_w / (mass * CP)
        found["heater_w"] = k.heater * site.total_w
    if k.bypassed:
        return_t += k.bypassed * (supply_t - return_t)
        return_w += k.bypassed * (supply_w - return_w)
        mixed_t += k.bypassed * (supply_t - mixed_t)
        mixed_w += k.bypassed * (supply_w - mixed_w)
    if k.settled < 1:
        supply_t = mixed_t + k.settled * (supply_t - mixed_t)
        supply_w = mixed_w + k.settled**1.5 * (supply_w - mixed_w)
    supply_t += k.sees_k + k.touches_k + k.layered_k
    found |= {"return_t": return_t, "return_w": return_w, "mixed_t": mixed_t, "mixed_w": mixed_w}
    found |= {"supply_t": supply_t, "supply_w": supply_w, "flow": flow * k.hood}
    found["registers"] = (1 - k.lost) / k.hood
    _statics(site, part, found)
    if k.off_k:
        for station in off_at:
            if f"{station}_t" in found:
                found[f"{station}_t"] += k.off_k
            if f"{station}_w" in found:
                found[f"{station}_w"] *= exp(0.062 * k.off_k)
    return found


def _statics(site: Site, part: Mapping[str, float], found: dict[str, float]) -> None:
    """Static pressure at each tap, by where the blower sits."""
    before = -part["r_return"]
    filtered = before - part["r_filter"]
    found["return_static"], found["filter_static"] = before, filtered
    if site.gas:
        found["supply_static"], found["coil_out_static"] = part["r_supply"] + part["r_coil"], part["r_supply"]
    else:
        found["supply_static"], found["coil_out_static"] = part["r_supply"], filtered - part["r_coil"]


def _heated(site: Site, k: Knobs, out_t: float, found: dict[str, float]) -> float:
    """Heat into the air [W]; what compressor and heater draw into `found`."""
    if site.gas:
        return site.input_w / k.plate * site.efficiency * k.fire * k.stage
    pump = site.pump_heat_w / k.plate * (1 + 0.022 * (min(out_t, 15.0) - 8.3)) * k.iced * k.cooling
    weak = (1 - k.pumping) + 0.8 * k.valve_leak
    power = HEATING_POWER * (1 + 0.01 * (min(out_t, 15.0) - 8.3)) * (1.0 - STAGE_POWER * (1.0 - k.stage))
    power *= (1 - 0.3 * max(1 - k.charge, 0.0)) * (1 - 0.55 * weak) * (1 - 0.3 * (1 - k.iced))
    found["amps"] = site.amps * k.current * (0.1 + 0.72 * power) * k.running
    found["heater_w"] = k.auxiliary_w * k.element
    if k.defrosts:
        found["amps"] = site.amps * k.current * (0.1 + 0.72 * DEFROST_POWER)
        return found["heater_w"] - k.defrosts * site.total_w
    pump *= max(k.pumping * (1 - k.valve_leak) * (1 - 1.1 * max(0.93 - k.charge, 0.0)), 0.1) * k.running
    return pump * k.stage + found["heater_w"]


def _cooled(
    site: Site,
    k: Knobs,
    entering_t: float,
    entering_w: float,
    out_t: float,
    mass: float,
    flows: float,
    found: dict[str, float],
) -> tuple[float, float]:
    """Air after the coil, and the circuit's temperatures into `found`."""
    pressure = site.pressure_pa
    inlet = out_t + k.drawn_back_k
    found["condenser_in_t"] = inlet
    if not k.running:
        found |= {"condenser_out_t": inlet + 0.3, "suction_t": out_t - 2.0, "liquid_t": out_t, "amps": 0.1 * site.amps}
        found |= {"evaporating_t": out_t, "condensing_t": out_t}
        return entering_t, entering_w
    under, over = max(1 - k.charge, 0.0), max(k.charge - 1, 0.0)
    entering_wb = wet_bulb(entering_t, entering_w, pressure)
    capacity = k.cooling * k.stage * (1 + 0.026 * (entering_wb - RATED_WET_BULB_C) - 0.0085 * (inlet - RATED_OUTDOOR_C))
    capacity *= min(flows, 1.35) ** 0.25 / k.plate
    weak = (1 - k.pumping) + 0.8 * k.valve_leak
    superheat, subcooling = SUPERHEAT_K, site.subcooling_k
    if not k.restrictor:
        late = max(under - 0.15, 0.0)
        capacity *= 1 - 0.12 * under - 1.1 * late - 0.2 * over
        superheat += 58.0 * late
        subcooling += -30.0 * under + 30.0 * over
    else:
        superheat = max(6.5 + 1.5 * (entering_wb - RATED_WET_BULB_C) - 0.5 * (inlet - RATED_OUTDOOR_C), 1.5)
        capacity *= 1 - 0.6 * under - 1.5 * max(under - 0.1, 0.0) - 0.3 * over
        superheat += 75.0 * under - 45.0 * over - 6.0 * weak
        subcooling += -22.0 * under + 24.0 * over
        superheat += 14.0 * k.piston
        subcooling += 5.0 * k.piston
        capacity *= 1 - 0.25 * abs(k.piston)
    choked = k.restricted + k.starved
    capacity *= (1 - 0.6 * choked) * (1 - weak) * (1 - 0.08 * k.flooded) * (0.35 + 0.65 * k.surface)
    superheat += 26.0 * k.restricted * (1.0 if k.restrictor else 0.65) + 27.0 * k.starved - 8.0 * k.flooded + 24.0 * k.valve_leak
    subcooling += 6.0 * k.restricted + 3.0 * k.starved - 2.0 * k.flooded - 3.0 * weak
    blocked = 1 - k.condenser
    approach = APPROACH_K * k.approach * (1 + 1.3 * blocked) * (1 - 0.6 * under + 0.9 * over) * max(capacity, 0.25)
    hotter = approach - APPROACH_K * k.approach * min(max(capacity, 0.25), 1.3)
    capacity *= (1 - 0.008 * max(hotter, 0.0)) * (1 - 0.006 * k.foreign_k)
    power = (1 + 0.015 * (inlet - RATED_OUTDOOR_C)) * (1 + 0.02 * max(hotter, -6.0)) * (1.0 - STAGE_POWER * (1.0 - k.stage))
    power *= (1 - 0.3 * under + 0.25 * over) * (1 - 0.55 * weak) * (1 + 0.017 * k.foreign_k) * (1 - 0.2 * choked)
    capacity = max(capacity, 0.05)
    heat = capacity * site.total_w
    through = mass * (1 - k.bypassed)
    bypass = exp(log(0.11) * k.moist * k.surface / max(flows, 0.2) ** 0.35)
    leaving_t, leaving_w, dew_t = _after_coil(entering_t, entering_w, heat / through, bypass, pressure)
    if k.bypassed:
        leaving_t += k.bypassed * (entering_t - leaving_t)
        leaving_w += k.bypassed * (entering_w - leaving_w)
    if k.water:
        blown = k.water * max(saturated_ratio(leaving_t, pressure) - leaving_w, 0.0)
        leaving_w += blown
        leaving_t -= 2500.0 * blown
    falls = EVAPORATING_K + k.evaporating_k + 20.0 * under + 14.0 * choked - 1.5 * k.flooded - 9.0 * weak
    evaporating = dew_t - falls * max(capacity, 0.2) ** 0.6
    condensing = inlet + approach
    rejected = (heat + POWER_SHARE * site.total_w * power) / ((1 + POWER_SHARE) * site.total_w)
    found["condenser_out_t"] = inlet + WARMING_K * k.warming * rejected * k.plate / max(1 - 0.8 * blocked, 0.15)
    found["evaporating_t"] = evaporating
    found["condensing_t"] = condensing + k.foreign_k
    found["suction_t"] = min(evaporating + max(superheat + k.superheat_k, 0.3), out_t + 3.0)
    found["liquid_t"] = max(condensing - max(subcooling + k.subcooling_k, 0.2), inlet + 0.5)
    found["amps"] = site.amps * k.current * (0.1 + 0.72 * power)
    return leaving_t, leaving_w


def _after_coil(celsius: float, ratio: float, fall: float, bypass: float, pressure_pa: float) -> tuple[float, float, float]:
    """Leaving air, and the coil's dew point: the coil takes `fall` [J/kg] out of air that passes by it for a share `bypass`."""
    wanted = enthalpy(celsius, ratio) - fall / (1 - bypass)
    dew = celsius - fall / (1 - bypass) / 2200.0
    for _ in range(4):
        at = saturated_ratio(dew, pressure_pa)
        slope = 1006.0 + 2_501_000.0 * at * 4283.0 / (dew + 243.04) ** 2
        dew += (wanted - enthalpy(dew, at)) / slope
        dew = max(min(dew, celsius), -40.0)
    wet = saturated_ratio(dew, pressure_pa)
    if wet >= ratio:
        dew = celsius - fall / (1 - bypass) / (1006.0 + 1860.0 * ratio)
        wet = ratio
    return dew + bypass * (celsius - dew), wet + bypass * (ratio - wet), dew

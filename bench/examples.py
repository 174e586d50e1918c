"""Two disjoint sets of synthetic visits with a known fault: one the rules were tuned on, one held back.

They share no unit, no place, no weather and no severity. Nothing in the core knows of either.
"""

from __future__ import annotations

from dataclasses import replace

from fentro_core.air.pressure import standard_pressure
from fentro_standins.plant.unit import Conditions, Design, Faults
from fentro_standins.plant.visit import Case, Mistake

DWELLING = {"return": 25.0, "filter": 30.0, "coil": 48.0, "supply": 32.0}
ROOF = {"return": 55.0, "filter": 45.0, "coil": 60.0, "supply": 75.0}

LOW_FLOW = ("blower_low", "wheel_dirty", "motor_weak", "belt_slips")
FILTER = ("filter_clogged", "filter_thick")
CLOSED = ("registers_closed", "zones_shut", "duct_crushed")
PROBE = ("one_probe_off",)
PLACE = ("probe_touches", "probe_sees")


def _cases(
    units: dict[str, tuple[Design, Conditions, float]],
    heated: dict[str, tuple[Design, Conditions, float]],
    degree: dict[str, tuple[float, ...]],
) -> tuple[list[Case], list[Case]]:
    """Faulty and sound visits: every fault on two units or more, at this set's own degrees."""
    faulty: list[Case] = []
    sound: list[Case] = []

    def put(name: str, unit: str, truth: tuple[str, ...], faults: Faults | None = None, mistake: Mistake | None = None) -> None:
        design, day, height = (heated if unit in heated else units)[unit]
        case = Case(f"{name}/{unit}", truth, design, day, faults or Faults(), mistake or Mistake(), height)
        (faulty if truth else sound).append(case)

    names, warm = list(units), list(heated)
    for index, unit in enumerate(names):
        d = {key: values[index % len(values)] for key, values in degree.items()}
        put("sound", unit, ())
        put("low flow", unit, LOW_FLOW, Faults(fan_speed=d["fan"]))
        put("dirty filter", unit, FILTER, Faults(filter_factor=d["filter"]))
        put("low charge", unit, ("low_charge",), Faults(charge=d["low"]))
    for index, unit in enumerate(names[:3]):
        d = {key: values[index % len(values)] for key, values in degree.items()}
        put("high charge", unit, ("high_charge", "foreign_gas"), Faults(charge=d["high"]))
        put("dirty coil", unit, ("coil_dirty",), Faults(coil_factor=d["coil"], coil_area=0.75))
        put("leaky return", unit, ("return_leak",), Faults(return_leak=d["leak"]))
        put("closed registers", unit, CLOSED, Faults(supply_factor=d["shut"]))
        put("one probe off", unit, PROBE, mistake=Mistake(probe_off_k=d["off"], probe_off=("air_2", "air_1")[index % 2]))
    for index, unit in enumerate(names[:2]):
        d = {key: values[index % len(values)] for key, values in degree.items()}
        put("undersized return", unit, ("return_small",), Faults(return_factor=d["return"]))
        put("supply leak", unit, ("supply_leak",), Faults(supply_leak=d["lost"]))
        put("dirty condenser", unit, ("condenser_dirty", "condenser_fan"), Faults(condenser=d["condenser"]))
        put("supply probe in the wrong place", unit, (*PLACE, *PROBE), mistake=Mistake(touches_k=d["touch"]))
        put("unsteady", unit, ("too_early",), mistake=Mistake(too_early=d["early"]))
    high = next(unit for unit in names if units[unit][2] > 1000)
    put("height left out", high, ("altitude_ignored",), mistake=Mistake(height_left_out=True))
    for index, unit in enumerate(warm):
        d = {key: values[index % len(values)] for key, values in degree.items()}
        put("sound, heating", unit, ())
        put("sound, heating, warm crawl space", unit, ())
        put("over-firing", unit, ("over_fired",), Faults(fire=d["fire"]))
        put("leaky return, heating", unit, ("return_leak",), Faults(return_leak=d["leak"]))
        put("dirty filter, heating", unit, FILTER, Faults(filter_factor=d["filter"]))
        put("closed registers, heating", unit, CLOSED, Faults(supply_factor=d["shut"]))
        put("probe sees metal", unit, ("probe_sees",), mistake=Mistake(sees_metal_k=d["sees"]))
    return faulty, sound


def _day(elevation_m: float, **more: float) -> Conditions:
    return Conditions(pressure_pa=standard_pressure(elevation_m), **more)  # type: ignore[arg-type]


_A = {
    "furnace 3 t": (
        Design("furnace_with_coil", 10_550.0, 0.566, drops=DWELLING, heating_w=23_500.0),
        _day(0.0, outdoor_c=33.0, room_c=24.5, room_rh=0.52, around_c=44.0, around_ratio=0.013),
        0.0,
    ),
    "heat pump 2.5 t": (
        Design("split_heat_pump", 8_790.0, 0.45, refrigerant="R-22", metering="restrictor", drops=DWELLING),
        _day(420.0, outdoor_c=30.0, room_c=25.0, room_rh=0.55, around_c=41.0, around_ratio=0.012),
        420.0,
    ),
    "furnace, high": (
        Design("furnace_with_coil", 10_550.0, 0.60, refrigerant="R-410A", drops=DWELLING, heating_w=23_000.0),
        _day(1655.0, outdoor_c=34.0, room_c=25.0, room_rh=0.36, around_c=46.0, around_ratio=0.007),
        1655.0,
    ),
    "rooftop 10 t": (
        Design("packaged_rooftop", 35_200.0, 1.89, drops=ROOF, current_a=34.0, return_length_m=4.0, return_perimeter_m=2.4),
        _day(5.0, outdoor_c=31.5, room_c=24.0, room_rh=0.58, around_c=38.0, around_ratio=0.016),
        5.0,
    ),
}
_A_WARM = {
    "furnace, winter": (
        Design("furnace_with_coil", 10_550.0, 0.566, drops=DWELLING, heating_w=23_500.0),
        _day(0.0, outdoor_c=-2.0, room_c=20.5, room_rh=0.34, around_c=4.0, around_ratio=0.003, heating=True),
        0.0,
    ),
    "furnace, high winter": (
        Design("furnace_with_coil", 10_550.0, 0.60, drops=DWELLING, heating_w=20_500.0),
        _day(1655.0, outdoor_c=-8.0, room_c=21.0, room_rh=0.28, around_c=0.0, around_ratio=0.002, heating=True),
        1655.0,
    ),
}
_A_DEGREE = {
    "fan": (0.74, 0.7, 0.72, 0.76),
    "filter": (4.5, 6.0, 5.0, 5.5),
    "low": (0.74, 0.7, 0.78, 0.72),
    "high": (1.3, 1.35, 1.28),
    "coil": (3.2, 3.8, 3.5),
    "leak": (0.16, 0.2, 0.18),
    "shut": (5.0, 6.0, 5.5),
    "off": (3.2, -3.5, 4.0),
    "return": (5.5, 6.5),
    "lost": (0.22, 0.28),
    "condenser": (0.5, 0.45),
    "touch": (-4.0, 4.5),
    "early": (0.6, 0.68),
    "fire": (1.32, 1.4),
    "sees": (12.0, 14.0),
}

_B = {
    "furnace 4 t": (
        Design("furnace_with_coil", 14_070.0, 0.755, refrigerant="R-454B", drops=DWELLING, current_a=20.0, heating_w=31_000.0),
        _day(230.0, outdoor_c=35.5, room_c=25.5, room_rh=0.48, around_c=48.0, around_ratio=0.015),
        230.0,
    ),
    "heat pump 3.5 t": (
        Design("split_heat_pump", 12_300.0, 0.66, refrigerant="R-32", drops={**DWELLING, "filter": 26.0}, current_a=18.0),
        _day(90.0, outdoor_c=31.0, room_c=24.0, room_rh=0.50, around_c=39.0, around_ratio=0.014),
        90.0,
    ),
    "heat pump, high": (
        Design("split_heat_pump", 8_790.0, 0.48, refrigerant="R-134a", metering="restrictor", drops=DWELLING, fan_spare=0.7),
        _day(1900.0, outdoor_c=29.0, room_c=25.5, room_rh=0.42, around_c=42.0, around_ratio=0.006),
        1900.0,
    ),
    "rooftop 15 t": (
        Design(
            "packaged_rooftop",
            52_750.0,
            2.83,
            drops={**ROOF, "supply": 85.0},
            current_a=52.0,
            return_length_m=5.0,
            return_perimeter_m=2.8,
        ),
        _day(310.0, outdoor_c=36.0, room_c=25.0, room_rh=0.51, around_c=45.0, around_ratio=0.014),
        310.0,
    ),
    "furnace 2.5 t": (
        Design(
            "furnace_with_coil",
            8_790.0,
            0.472,
            refrigerant="R-22",
            metering="restrictor",
            drops=DWELLING,
            current_a=12.0,
            heating_w=19_500.0,
        ),
        _day(700.0, outdoor_c=28.0, room_c=23.5, room_rh=0.57, around_c=37.0, around_ratio=0.013),
        700.0,
    ),
}
_B_WARM = {
    "furnace 4 t, winter": (
        Design("furnace_with_coil", 14_070.0, 0.755, drops=DWELLING, heating_w=31_000.0),
        _day(230.0, outdoor_c=2.0, room_c=21.5, room_rh=0.38, around_c=7.0, around_ratio=0.004, heating=True),
        230.0,
    ),
    "furnace 2.5 t, winter": (
        Design("furnace_with_coil", 8_790.0, 0.472, drops=DWELLING, heating_w=18_700.0),
        _day(700.0, outdoor_c=-5.0, room_c=20.0, room_rh=0.30, around_c=2.0, around_ratio=0.003, heating=True),
        700.0,
    ),
}
_B_DEGREE = {
    "fan": (0.71, 0.75, 0.69, 0.73, 0.77),
    "filter": (5.2, 4.8, 6.5, 5.8, 4.6),
    "low": (0.71, 0.76, 0.73, 0.69, 0.75),
    "high": (1.33, 1.27, 1.38),
    "coil": (3.4, 3.0, 4.0),
    "leak": (0.15, 0.19, 0.22),
    "shut": (5.8, 5.2, 6.5),
    "off": (-3.4, 3.8, -3.0),
    "return": (6.0, 7.0),
    "lost": (0.25, 0.2),
    "condenser": (0.42, 0.52),
    "touch": (-4.6, 3.8),
    "early": (0.65, 0.55),
    "fire": (1.36, 1.3),
    "sees": (13.0, 11.0),
}

TUNED = _cases(_A, _A_WARM, _A_DEGREE)
HELD = _cases(_B, _B_WARM, _B_DEGREE)
"""Faulty and sound visits of each set."""


def thorough(case: Case) -> Case:
    """The same visit with every reading taken: the best a technician can do."""
    everything = dict.fromkeys(
        (
            "grille",
            "statics",
            "surroundings",
            "gauges",
            "condenser",
            "suction",
            "amps",
            "registers",
            "two_supply_points",
            "barometer",
            "match",
        ),
        1.0,
    )
    return replace(case, takes=everything)

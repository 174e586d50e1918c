"""The demo company: invented people, places, makers, models and numbers. Times count back from the day it is loaded."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from fentro_core.base.typed_json import write
from fentro_core.instruments.instrument import ACCURACY_CLASSES
from fentro_server.demo import ducts, fresh_air, moisture, night

COMPANY = "Saltbox Air Care"
LETTERHEAD = "Slipway 3, Old Harbour\nTelephone 555 0142\nMechanical licence M-20417"
SIGNED = {"furnace-leak": ("jomar", "tova"), "rooftop-filter": ("oona",)}
"""Visits whose report was signed: by the technician, then by a lead."""

PEOPLE = (
    ("oona", "Oona Lindahl", "technician"),
    ("jomar", "Jomar Vance", "technician"),
    ("tova", "Tova Brandt", "lead"),
    ("edwin", "Edwin Pell", "viewer"),
)

GATEWAYS = {
    "probes": "Van, probe receiver",
    "controllers": "Rooftop units",
    "zone_boards": "Zone boards",
    "ventilators": "Ventilators",
}
"""Simulated gateways of the demo's company, by kind."""

SITES: dict[str, dict[str, Any]] = {
    "tidemark": {"name": "Tidemark Marine Field Station", "elevation_m": 3.0, "climate_zone": "3A"},
    "foxglove": {"name": "Foxglove Printworks", "elevation_m": 1655.0, "climate_zone": "5B"},
    "wren": {"name": "Wren Street No. 9", "elevation_m": 420.0, "climate_zone": "4B"},
}


def _fan_table(*taps: tuple[str, tuple[tuple[float, float], ...]]) -> list[dict[str, Any]]:
    return [{"tap": tap, "external_static_pa": pa, "airflow_m3s": flow} for tap, rows in taps for pa, flow in rows]


def _curve(*points: tuple[float, float]) -> list[dict[str, float]]:
    return [{"drop_pa": pa, "airflow_m3s": flow} for pa, flow in points]


_NR_120: dict[str, Any] = {
    "rated_total_w": 35169.0,
    "rated_airflow_m3s": 1.888,
    "rated_sensible_heat_ratio": 0.72,
    "max_external_static_pa": 250.0,
    "economizer": True,
    "changeover": "differential_enthalpy",
    "fan_table": _fan_table(
        ("2", ((100.0, 1.98), (160.0, 1.83), (220.0, 1.62), (280.0, 1.36))),
        ("1", ((100.0, 1.70), (160.0, 1.51), (220.0, 1.27))),
    ),
    "coil_curve": _curve((25.0, 1.15), (40.0, 1.50), (57.0, 1.80), (75.0, 2.07)),
    "refrigerant": "R-410A",
    "metering": "valve",
    "subcooling_k": 6.0,
    "compressor_current_a": 34.0,
    "filter_change_pa": 120.0,
}

SYSTEMS: dict[str, dict[str, Any]] = {
    "rooftop": {
        "site": "tidemark",
        "name": "Rooftop unit 1",
        "kind": "packaged_rooftop",
        "location": "Roof, above the specimen hall",
        "nameplate": {
            "maker": "Norrand",
            "model": "NR-120E",
            "serial": "NR12-40417",
            "controller": "RTU-1",
            **_NR_120,
        },
    },
    "rooftop_2": {
        "site": "tidemark",
        "name": "Rooftop unit 2",
        "kind": "packaged_rooftop",
        "location": "Roof, above the workshops",
        "nameplate": {
            "maker": "Norrand",
            "model": "NR-120E",
            "serial": "NR12-40421",
            "controller": "RTU-2",
            **_NR_120,
            "reheat": "hot_gas",
            "reheat_w": 16_000.0,
            "reheat_modulates": False,
            "return_bypass": True,
        },
    },
    "furnace": {
        "site": "foxglove",
        "name": "Furnace and coil",
        "kind": "furnace_with_coil",
        "location": "Mechanical room behind the bindery",
        "nameplate": {
            "maker": "Pellwick",
            "model": "GF-90/36",
            "serial": "P90-22806",
            "rated_total_w": 10551.0,
            "rated_airflow_m3s": 0.566,
            "heating_input_w": 26376.4,
            "heating_efficiency": 0.80,
            "input_derated": "yes",
            "fan_table": _fan_table(
                ("high", ((75.0, 0.62), (125.0, 0.56), (175.0, 0.48), (225.0, 0.38))),
                ("medium", ((75.0, 0.54), (125.0, 0.48), (175.0, 0.40))),
            ),
            "coil_curve": _curve((20.0, 0.34), (35.0, 0.46), (47.0, 0.545), (62.0, 0.63)),
            "rise_low_k": 19.444,
            "rise_high_k": 36.111,
            "max_outlet_c": 79.444,
            "max_external_static_pa": 150.0,
            "refrigerant": "R-410A",
            "metering": "valve",
            "subcooling_k": 6.0,
            "compressor_current_a": 15.0,
            "branches": [
                {"room": room, "floor": floor, "diameter_m": diameter, "run_m": run}
                for _, _, room, floor, diameter, run, *_ in ducts.BRANCHES
            ],
        },
    },
    "heat_pump": {
        "site": "wren",
        "name": "Heat pump",
        "kind": "split_heat_pump",
        "location": "Hall closet; outdoor half in the courtyard",
        "nameplate": {
            "maker": "Ostermoor",
            "model": "HP-30S",
            "serial": "OM-30-7719",
            "rated_total_w": 8792.0,
            "rated_heating_w": 8500.0,
            "max_external_static_pa": 125.0,
            "fan_table": _fan_table(("3", ((40.0, 0.47), (80.0, 0.41), (125.0, 0.33))), ("2", ((40.0, 0.41), (80.0, 0.35)))),
            "coil_curve": _curve((18.0, 0.30), (32.0, 0.42), (45.0, 0.51)),
            "night_cooling": True,
            "refrigerant": "R-32",
            "metering": "restrictor",
            "compressor_current_a": 11.0,
        },
    },
    "ventilator": {
        "site": "wren",
        "name": "Fresh-air ventilator",
        "kind": "dwelling_ventilator",
        "location": "Laundry ceiling",
        "nameplate": {
            "maker": "Ostermoor",
            "model": "FV-60",
            "serial": "OM-FV-1183",
            "rated_airflow_m3s": 0.0566,
            "heat_recovery": True,
        },
    },
}

_HYGRO = {
    "dry_bulb": {"plus_minus": 0.3, "resolution": 0.1, "repeatability": 0.1},
    "relative_humidity": {"plus_minus": 0.02, "resolution": 0.01, "repeatability": 0.005},
    "dew_point": {"plus_minus": 0.6, "resolution": 0.1, "repeatability": 0.2},
    "wet_bulb": {"plus_minus": 0.4, "resolution": 0.1, "repeatability": 0.1},
}


def _of_class(key: str) -> dict[str, Any]:
    return {quantity: write(figure) for quantity, figure in ACCURACY_CLASSES[key][2].items()}


INSTRUMENTS: dict[str, dict[str, Any]] = {
    "probe_a": {
        "name": "Probe A",
        "kind": "thermo_hygrometer",
        "serial": "TH-2041",
        "accuracy": _HYGRO,
        "due": 190,
        "by": "oona",
    },
    "probe_b": {
        "name": "Probe B",
        "kind": "thermo_hygrometer",
        "serial": "TH-2042",
        "accuracy": _HYGRO,
        "due": 190,
        "by": "oona",
    },
    "probe_c": {
        "name": "Probe C",
        "kind": "thermo_hygrometer",
        "serial": "TH-1807",
        "accuracy": _HYGRO,
        "due": -41,
        "by": "jomar",
    },
    "hood": {
        "name": "Flow hood",
        "kind": "flow_hood",
        "serial": "FH-311",
        "accuracy": {"airflow": {"plus_minus": 0.02, "share": 0.03, "resolution": 0.001}},
        "due": 75,
        "by": "tova",
    },
    "register_hood": {
        "name": "Register hood",
        "kind": "flow_hood",
        "serial": "RH-058",
        "accuracy": _of_class("register_hood"),
        "due": 210,
        "by": "oona",
    },
    "probe_d": {"name": "Probe D", "kind": "thermo_hygrometer", "serial": "TH-2060", "accuracy": _HYGRO, "due": 22, "by": "oona"},
    "clamp": {
        "name": "Pipe clamp",
        "kind": "pipe_clamp",
        "serial": "PC-118",
        "accuracy": _of_class("clamp"),
        "due": 140,
        "by": "oona",
    },
    "manometer_1": {
        "name": "Manometer 1",
        "kind": "manometer",
        "serial": "MN-507",
        "accuracy": _of_class("manometer"),
        "due": 118,
        "by": "oona",
    },
    "manometer_2": {
        "name": "Manometer 2",
        "kind": "manometer",
        "serial": "MN-508",
        "accuracy": _of_class("manometer"),
        "due": 118,
        "by": "oona",
    },
    "gauges": {
        "name": "Gauges",
        "kind": "gauges",
        "serial": "RG-077",
        "accuracy": _of_class("gauges"),
        "due": 96,
        "by": "oona",
    },
    "vane": {
        "name": "Vane",
        "kind": "anemometer",
        "serial": "VA-220",
        "accuracy": {**_of_class("vane"), **_of_class("hood")},
        "due": 60,
        "by": "oona",
    },
    "power": {
        "name": "Power meter",
        "kind": "power_meter",
        "serial": "PM-034",
        "accuracy": _of_class("power"),
        "due": 201,
        "by": "tova",
    },
}
"""Serial numbers are those of the simulated probes, where there is one."""


@dataclass(frozen=True)
class DemoVisit:
    """A visit as a list of steps: each (minute, kind, body, phase)."""

    key: str
    system: str
    by: str
    days_ago: float
    purpose: str
    steps: tuple[tuple[int, str, dict[str, Any], str], ...] = field(default=())


def air(
    minute: int, station: str, dry_bulb: float, rh: float | None, probe: str, phase: str = "as_found", point: int = 1
) -> list[Any]:
    """A dry bulb and a relative humidity at one point."""
    common = {"station": station, "point": point, "instrument": probe}
    readings = [(minute, "reading", {**common, "quantity": "dry_bulb", "value": dry_bulb, "unit": "degC"}, phase)]
    if rh is not None:
        body = {**common, "quantity": "relative_humidity", "value": rh, "unit": "percent"}
        readings.append((minute, "reading", body, phase))
    return readings


def flow(minute: int, m3s: float, phase: str = "as_found", station: str = "return") -> list[Any]:
    """A flow by the hood."""
    body = {"station": station, "quantity": "airflow", "value": m3s, "unit": "m3/s", "instrument": "hood"}
    return [(minute, "reading", body, phase)]


def statics(minute: int, phase: str = "as_found", **pascal: float) -> list[Any]:
    """Static pressures by tap."""
    common = {"quantity": "static_pressure", "unit": "Pa", "instrument": "manometer_1"}
    return [(minute, "reading", {"station": tap, "value": value, **common}, phase) for tap, value in pascal.items()]


def circuit(minute: int, suction: tuple[float, float], liquid: tuple[float, float], amps: float) -> list[Any]:
    """Pipes [°C] and gauges [kPa] of both lines, and the outdoor unit's current, by a certified person."""
    found: list[Any] = []
    for station, (pipe, gauge) in (("suction_line", suction), ("liquid_line", liquid)):
        clamp = {"station": station, "quantity": "pipe_temperature", "value": pipe, "unit": "degC", "instrument": "clamp"}
        shown = {"station": station, "quantity": "gauge_pressure", "value": gauge, "unit": "kPa", "instrument": "gauges"}
        found += [(minute, "reading", clamp, "as_found"), (minute, "reading", shown, "as_found")]
    current = {"station": "outdoor_unit", "quantity": "current", "value": amps, "unit": "A", "instrument": "power"}
    return [*found, (minute, "reading", current, "as_found")]


def yearly(
    key: str, system: str, by: str, days_ago: float, numbers: tuple[float, ...], last: str, *more: tuple[Any, ...]
) -> DemoVisit:
    """A plain yearly check: return, supply, outdoor, flow, statics, and what was read besides; nothing changed."""
    return_c, return_rh, supply_c, supply_rh, outdoor_c, m3s, filter_pa = numbers
    return DemoVisit(
        key,
        system,
        by,
        days_ago,
        "Yearly check",
        (
            *_ARRIVED,
            *_SETTLED,
            *air(24, "return", return_c, return_rh, "probe_a"),
            *air(25, "return", return_c + 0.2, return_rh, "probe_a", point=2),
            *air(26, "supply", supply_c, supply_rh, "probe_a"),
            *air(28, "outdoor", outdoor_c, 60, "probe_a"),
            *flow(35, m3s),
            *statics(38, return_static=-70, filter_static=-70 - filter_pa, coil_out_static=-128 - filter_pa, supply_static=95),
            *more,
            *ticks(40, "nothing_to_change"),
            *_RESTORED,
            *close(60, last),
        ),
    )


def planned(minute: int, setting: str, value: float | str, reason: str) -> list[Any]:
    """A setting of the economizer's plan."""
    said = {"text": value} if isinstance(value, str) else {"number": value}
    return [(minute, "plan_setting", {"setting": setting, "stage": "planned", "reason": reason, **said}, "as_found")]


def damper(minute: int, position: float, mixed_c: float, return_c: float = 24.4, outdoor_c: float = 13.2) -> list[Any]:
    """A reading of the walk to the minimum position."""
    body = {"position": position, "return_c": return_c, "outdoor_c": outdoor_c, "mixed_c": mixed_c, "plus_minus_k": 0.15}
    return [(minute, "damper_read", body, "as_found")]


def watched(minute: int, key: str, title: str, due: list[tuple[str, float | None, float | None]], **seen: float) -> list[Any]:
    """A functional test as a watcher saw it."""
    expected = [{"point": point, "low": low, "high": high} for point, low, high in due]
    body = {"test": key, "how": "watched", "values": seen, "expected": expected, "seconds": 180.0, "allowed_s": 300.0}
    return [(minute, "test_seen", {"title": title, "seen": body}, "as_found")]


def compared(minute: int, condition: str, phase: str = "as_found", **readings: tuple[float, float]) -> list[Any]:
    """Sensors (by terminal, without its dash) against a reference at their places [°C]: shown, reference."""
    return [
        (
            minute,
            "point_read",
            {
                "terminal": f"AI-{key[2:]}",
                "shown_c": shown,
                "reference_c": reference,
                "plus_minus_k": 0.3,
                "condition": condition,
            },
            phase,
        )
        for key, (shown, reference) in readings.items()
    ]


def ticks(minute: int, *items: str) -> list[Any]:
    """Checks seen and done."""
    return [(minute, "check", {"item": item, "done": True}, "as_found") for item in items]


_ARRIVED = ticks(2, "reported_heard", "plate_agrees", "hazards_looked_for", "air_traced")
_SETTLED = [*ticks(8, "filter_in", "registers_open", "doors_on", "unit_calling"), (9, "run", {"event": "started"}, "as_found")]
_RESTORED = ticks(75, "overrides_released", "wires_back", "holes_plugged", "running_normally")


def note(minute: int, step: str, text: str) -> list[Any]:
    """A note at a step."""
    return [(minute, "note", {"step": step, "text": text}, "as_found")]


def close(minute: int, summary: str) -> list[Any]:
    """The last word."""
    return [(minute, "closing", {"summary": summary}, "as_found")]


VISITS = (
    DemoVisit(
        "rooftop-spring",
        "rooftop",
        "oona",
        96.2,
        "Yearly check before summer",
        (
            *_ARRIVED,
            *_SETTLED,
            *air(24, "return", 24.6, 58, "probe_a"),
            *air(26, "supply", 14.5, 89, "probe_a"),
            *air(27, "supply", 14.7, 88, "probe_a", point=2),
            *air(28, "outdoor", 31.4, 66, "probe_a"),
            *air(30, "mixed", 25.1, 58, "probe_a"),
            *flow(35, 1.80),
            *ticks(40, "nothing_to_change"),
            *_RESTORED,
            *close(80, "Cooling well. Filters half loaded: change within two months."),
        ),
    ),
    DemoVisit(
        "rooftop-filter",
        "rooftop",
        "oona",
        20.1,
        "Specimen hall warm and damp in the afternoon",
        (
            *_ARRIVED,
            *_SETTLED,
            *air(22, "return", 25.4, 55, "probe_a"),
            *air(24, "supply", 11.2, 94, "probe_a"),
            *air(25, "outdoor", 30.2, 70, "probe_a"),
            *flow(30, 1.17),
            *statics(32, return_static=-38, filter_static=-182, coil_out_static=-207, supply_static=38),
            *note(33, "work_out", "Both filters packed with salt dust. Coil face clean."),
            (
                40,
                "setting",
                {"what": "Filters", "was": "clogged", "now": "new set, six pieces", "why": "flow far below the nameplate"},
                "as_found",
            ),
            *air(62, "return", 25.0, 56, "probe_a", "as_left"),
            *air(64, "supply", 14.3, 90, "probe_a", "as_left"),
            *flow(68, 1.79, "as_left"),
            *statics(70, "as_left", return_static=-66, filter_static=-112, coil_out_static=-167, supply_static=87),
            *_RESTORED,
            *close(82, "New filters. Flow is back; hall to be looked at again for damp."),
        ),
    ),
    DemoVisit(
        "rooftop-damp",
        "rooftop",
        "oona",
        6.2,
        "Hall damp, with new filters and full airflow",
        (
            *_ARRIVED,
            *_SETTLED,
            *moisture.hall(air, flow),
            *_RESTORED,
            *close(140, "The unit is in order. Half of the water came with outdoor air, half from tanks and the side door."),
        ),
    ),
    DemoVisit(
        "rooftop-now",
        "rooftop",
        "oona",
        0.03,
        "Hall still damp after the filters were changed",
        (
            *ticks(2, "reported_heard", "plate_agrees", "hazards_looked_for", "air_traced"),
            *ticks(6, "filter_in", "registers_open", "doors_on", "unit_calling"),
            (7, "run", {"event": "started"}, "as_found"),
            *air(20, "return", 24.4, 63, "probe_a"),
            *air(21, "outdoor", 13.2, 71, "probe_a"),
            *air(22, "mixed", 22.6, 64, "probe_a"),
            *air(23, "mixed", 21.7, 65, "probe_a", point=2),
            (
                26,
                "outdoor_need",
                {"required_m3s": 0.38, "supply_m3s": 1.8, "why": "Specimen hall, by people and floor area"},
                "as_found",
            ),
            *planned(27, "changeover", "fixed_enthalpy", "Humid coast: keep wet air out, and one humidity sensor fewer to drift"),
            *planned(27, "minimum_position", 0.14, "By the measured share, not by the damper's scale"),
            *damper(29, 0.20, 20.9),
            *damper(31, 0.10, 22.55),
            *watched(
                33,
                "closed",
                "Damper closed",
                [("damper_position", None, 0.05), ("outdoor_share", None, 0.12)],
                damper_position=0.0,
                outdoor_share=0.04,
            ),
            *watched(
                34,
                "full",
                "Damper fully open",
                [("damper_position", 0.95, None), ("outdoor_share", 0.72, None)],
                damper_position=1.0,
                outdoor_share=0.93,
            ),
        ),
    ),
    yearly("rooftop-1-first", "rooftop", "tova", 470.3, (24.4, 57, 13.9, 91, 29.5, 1.86, 52), "As on the nameplate."),
    yearly("rooftop-1-second", "rooftop", "oona", 283.4, (24.7, 57, 14.2, 91, 32.0, 1.85, 60), "As it should be."),
    yearly("rooftop-2-first", "rooftop_2", "tova", 470.4, (24.5, 57, 14.0, 91, 30.0, 1.88, 50), "As on the nameplate."),
    yearly("rooftop-2-second", "rooftop_2", "oona", 283.5, (24.6, 57, 14.8, 90, 31.5, 1.87, 58), "Within tolerance."),
    yearly("rooftop-2-third", "rooftop_2", "jomar", 96.4, (24.5, 57, 15.6, 89, 31.0, 1.88, 66), "A little less than in spring."),
    yearly(
        "rooftop-2-fourth",
        "rooftop_2",
        "oona",
        19.2,
        (24.6, 57, 16.3, 87, 30.0, 1.87, 74),
        "Weaker again, and the circuit is short of liquid. Look for the leak next.",
        *circuit(39, (20.0, 772.0), (35.6, 2090.0), 29.0),
    ),
    DemoVisit(
        "rooftop-2-sensors",
        "rooftop_2",
        "oona",
        12.3,
        "Controller shows odd mixed air",
        (
            *_ARRIVED,
            *_SETTLED,
            *air(24, "return", 24.2, 55, "probe_a"),
            *air(26, "supply", 14.9, 88, "probe_a"),
            *air(28, "outdoor", 27.5, 60, "probe_a"),
            *flow(35, 1.87),
            *compared(40, "damper shut", AI1=(27.6, 27.4), AI2=(24.4, 24.3), AI3=(25.0, 24.4), AI4=(24.5, 25.3)),
            *compared(48, "compressor on", AI1=(27.9, 27.6), AI2=(24.0, 24.1), AI3=(14.6, 24.8), AI4=(24.7, 14.8)),
            (
                52,
                "setting",
                {
                    "what": "Wires of AI-3 and AI-4",
                    "was": "swapped",
                    "now": "each at its sensor",
                    "why": "mixed and supply sensor showed each other's air",
                },
                "as_found",
            ),
            *compared(60, "after the swap", "as_left", AI1=(27.8, 27.6), AI2=(24.1, 24.1), AI3=(24.9, 24.8), AI4=(14.7, 14.8)),
            *_RESTORED,
            *close(80, "Two sensors swapped at the terminals. Look at unit 1 as well."),
        ),
    ),
    DemoVisit(
        "furnace-winter",
        "furnace",
        "jomar",
        306.4,
        "Press room slow to warm in the morning",
        (
            *_ARRIVED,
            *_SETTLED,
            *air(24, "return", 20.4, 31, "probe_c"),
            *air(25, "return", 20.2, 31, "probe_c", point=2),
            *air(27, "supply", 64.6, None, "probe_c"),
            *air(28, "supply", 64.1, None, "probe_c", point=2),
            *air(30, "outdoor", -4.2, 55, "probe_c"),
            *flow(33, 0.38),
            *statics(36, return_static=-10, filter_static=-98, supply_static=42, coil_out_static=17),
            note(40, "work_out", "Filter grey and bowed in.")[0],
            (44, "observation", {"item": "filter_seen", "value": "yes"}, "as_found"),
            (
                46,
                "setting",
                {"what": "Filter", "was": "clogged", "now": "new, same kind", "why": "rise over the nameplate's range"},
                "as_found",
            ),
            *air(66, "return", 20.3, 31, "probe_c", "as_left"),
            *air(67, "return", 20.5, 31, "probe_c", "as_left", point=2),
            *air(69, "supply", 53.8, None, "probe_c", "as_left"),
            *air(70, "supply", 53.4, None, "probe_c", "as_left", point=2),
            *flow(73, 0.50, "as_left"),
            *statics(75, "as_left", return_static=-18, filter_static=-45, supply_static=66, coil_out_static=25),
            *_RESTORED,
            *close(95, "New filter. Rise is in the nameplate's range. Filters every eight weeks here."),
        ),
    ),
    DemoVisit(
        "furnace-now",
        "furnace",
        "oona",
        0.06,
        "Shop and bindery warm in the afternoon",
        (
            *ticks(2, "reported_heard", "plate_agrees", "hazards_looked_for"),
            (3, "observation", {"item": "filter_arrow", "value": "agrees"}, "as_found"),
            *ticks(6, "filter_in", "registers_open", "doors_on", "unit_calling"),
            (7, "run", {"event": "started"}, "as_found"),
            *air(22, "return", 25.3, 33, "probe_a"),
            *air(23, "return", 25.5, 33, "probe_a", point=2),
            *air(26, "supply", 12.4, 75, "probe_a"),
            *air(27, "supply", 12.6, 75, "probe_a", point=2),
            *air(28, "outdoor", 33.5, 20, "probe_a"),
            *air(31, "return_grille", 25.0, 34, "probe_a"),
            *flow(35, 0.565),
            *statics(38, return_static=-24, filter_static=-55, supply_static=66, coil_out_static=22),
            *air(44, "condenser_in", 33.8, 20, "probe_a"),
            *air(45, "condenser_out", 40.6, None, "probe_a"),
            (
                48,
                "reading",
                {"station": "suction_line", "quantity": "pipe_temperature", "value": 24.4, "unit": "degC", "instrument": "clamp"},
                "as_found",
            ),
        ),
    ),
    DemoVisit(
        "furnace-leak",
        "furnace",
        "jomar",
        118.4,
        "Bindery hot, unit runs all day",
        (
            *_ARRIVED,
            *_SETTLED,
            *air(22, "return", 27.6, 29, "probe_c"),
            *air(23, "return", 29.2, 27, "probe_c", point=2),
            *air(24, "return", 27.9, 29, "probe_c", point=3),
            *air(25, "return", 28.9, 27, "probe_c", point=4),
            *air(26, "supply", 11.6, 74, "probe_c"),
            *air(27, "outdoor", 34.8, 18, "probe_c"),
            *flow(33, 0.565),
            *air(29, "return_grille", 25.0, 33, "probe_c"),
            *air(31, "surroundings", 47.5, 9, "probe_c"),
            *statics(34, return_static=-24, filter_static=-52, supply_static=66, coil_out_static=22),
            (
                35,
                "return_duct",
                {"length_m": 7.0, "perimeter_m": 1.4, "resistance_m2k_per_w": 1.06, "floor_area_m2": 260.0},
                "as_found",
            ),
            *note(
                38, "work_out", "Right side of the return plenum is warmer than the left: air is leaking in from the roof space."
            ),
            (
                52,
                "setting",
                {
                    "what": "Return plenum, right seam",
                    "was": "open along 40 cm",
                    "now": "sealed with mastic",
                    "why": "drew in roof-space air",
                },
                "as_found",
            ),
            *air(70, "return", 25.1, 33, "probe_c", "as_left"),
            *air(71, "return", 25.5, 33, "probe_c", "as_left", point=2),
            *air(72, "return", 25.2, 33, "probe_c", "as_left", point=3),
            *air(73, "supply", 9.4, 88, "probe_c", "as_left"),
            *flow(74, 0.565, "as_left"),
            *air(75, "return_grille", 25.0, 33, "probe_c", "as_left"),
            *air(76, "surroundings", 47.0, 9, "probe_c", "as_left"),
            *statics(77, "as_left", return_static=-24, filter_static=-52, supply_static=66, coil_out_static=22),
            *_RESTORED,
            *close(95, "Seam sealed. Look at the rest of the return run next time."),
        ),
    ),
    DemoVisit(
        "furnace-check",
        "furnace",
        "oona",
        62.3,
        "Check after the return was sealed",
        (
            *_ARRIVED,
            *_SETTLED,
            *air(22, "return", 25.1, 33, "probe_a"),
            *air(24, "supply", 9.2, 89, "probe_a"),
            *air(25, "outdoor", 31.0, 22, "probe_a"),
            *flow(30, 0.565),
            *statics(32, return_static=-24, filter_static=-55, supply_static=66, coil_out_static=22),
            *ticks(34, "nothing_to_change"),
            *_RESTORED,
            *close(50, "As it should be for this height and dry air."),
        ),
    ),
    DemoVisit(
        "furnace-balance",
        "furnace",
        "oona",
        12.3,
        "Office never cools, press room too cold",
        (
            *_ARRIVED,
            *_SETTLED,
            *air(22, "return", 24.4, 34, "probe_a"),
            *air(24, "supply", 8.1, 92, "probe_a"),
            *air(25, "outdoor", 30.2, 24, "probe_a"),
            *ducts.walked(30),
            *statics(46, return_static=-24, filter_static=-55, supply_static=66, coil_out_static=16),
            *ducts.registers(48),
            *ducts.surveyed(60),
            *ducts.turned(70),
            *ducts.zoned(82),
            *note(
                80,
                "set_up",
                "Two handles set and marked. The office's flexible run looks crushed behind the beam: open it first.",
            ),
            *_RESTORED,
            *close(95, "Balance begun. Next time: free the office's run, read again, the other handles."),
        ),
    ),
    DemoVisit(
        "heat-pump-close",
        "heat_pump",
        "oona",
        41.2,
        "Bedrooms slow to cool",
        (
            *_ARRIVED,
            *_SETTLED,
            *air(22, "return", 24.2, 52, "probe_a"),
            *air(24, "supply", 15.2, 82, "probe_b"),
            *air(25, "outdoor", 29.4, 40, "probe_b"),
            *note(30, "work_out", "Too close to call with two probes. Come back with one probe, or match them."),
            *ticks(34, "nothing_to_change"),
            *_RESTORED,
            *close(45, "No verdict yet. Flow not measured."),
        ),
    ),
    DemoVisit(
        "ventilator-first",
        "ventilator",
        "oona",
        41.1,
        "First measurement after installation",
        (
            *_ARRIVED,
            *ticks(8, "filter_in", "registers_open", "doors_on"),
            (9, "run", {"event": "started"}, "as_found"),
            *air(12, "outdoor", 28.8, 41, "probe_a"),
            *air(14, "supply", 25.1, 50, "probe_a"),
            *air(16, "extract", 24.0, 52, "probe_a"),
            *air(18, "exhaust", 27.8, 43, "probe_a"),
            *flow(22, 0.054, station="supply"),
            *flow(24, 0.052, station="extract"),
            *ticks(30, "nothing_to_change"),
            *_RESTORED,
            *close(78, "Flows near the nameplate."),
        ),
    ),
    DemoVisit(
        "heat-pump-night",
        "heat_pump",
        "oona",
        8.2,
        "Compressor runs from noon to midnight",
        (
            *_ARRIVED,
            *_SETTLED,
            *air(22, "return", 24.8, 44, "probe_a"),
            *air(24, "outdoor", 29.0, 33, "probe_a"),
            *night.planned(28),
            *note(36, "set_up", "Night damper moves freely. Owner will say tomorrow how the night was."),
            *_RESTORED,
            *close(45, "Night cooling set for one hot day. Look next time what it saved."),
        ),
    ),
    DemoVisit(
        "ventilator-setting",
        "ventilator",
        "oona",
        8.4,
        "Bedrooms stuffy in the morning",
        (
            *_ARRIVED,
            *ticks(8, "filter_in", "registers_open", "doors_on"),
            (9, "run", {"event": "started"}, "as_found"),
            *fresh_air.measured(12),
            *note(30, "set_up", "The control asks for the installer's code. Owner will find it: then set it as planned."),
            *_RESTORED,
            *close(40, "Flow is good; the control gives too few minutes and stays off on cold nights. Set it next time."),
        ),
    ),
)

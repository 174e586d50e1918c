"""The demo's sites and systems: invented makers, models and numbers."""

from __future__ import annotations

from typing import Any

from fentro_server.demo import ducts

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

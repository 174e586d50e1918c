"""The registry and the command line: JSON in, JSON out, every complaint with its field."""

import json
import math
import re
import subprocess
import sys

import pytest

from fentro_core import catalogue
from fentro_core.base import calculation, units
from fentro_core.base.refusal import Refused

STATE = {"dry_bulb_c": {"value": 24.0, "plus_minus": 0.3}, "relative_humidity": {"value": 0.5, "plus_minus": 0.02}}

DUCTS = {
    "tree": {
        "trunks": [{"id": "t", "width_m": 0.4, "height_m": 0.25, "length_m": 3.0}],
        "branches": [
            {"id": "a", "after": "t", "room": "Den", "diameter_m": 0.15, "length_m": 4.0, "damper": "blade"},
            {"id": "b", "after": "t", "room": "Hall", "diameter_m": 0.15, "length_m": 9.0, "wall": "flexible", "compressed": 0.1},
        ],
    },
    "driven": {"drop_pa": 110, "at_m3s": 0.3, "held_m3s": {"value": 0.12, "plus_minus": 0.01}},
}

HOUSE = {"air_j_per_k": 450_000.0, "mass_j_per_k": 24e6, "coupling_w_per_k": 650.0, "outside_w_per_k": 190.0}

NIGHT_SETUP = {
    "floor_area_m2": 161.65,
    "cooling": {"setpoint_c": 24.5, "capacity_w": 8000},
    "flush": {"full_m3s": 0.5, "full_w": 250},
}

EXAMPLES = {
    "ventilation.dwelling": {
        "dwelling": {"floor_area_m2": 161.65, "bedrooms": 3, "blower_door_m3s": {"value": 0.5, "plus_minus": 0.03}}
        | {"height_m": 2.6, "weather_factor": 0.6},
    },
    "ventilation.port_flow": {
        "chart": [{"port_pa": 20, "airflow_m3s": 0.041}, {"port_pa": 80, "airflow_m3s": 0.084}],
        "port_pa": {"value": 62.0, "plus_minus": 3.0},
    },
    "ventilation.runtime": {"required_m3s": 0.0241, "measured_m3s": {"value": 0.068, "plus_minus": 0.004}},
    "ventilation.year": {
        "running": {"required_m3s": 0.024, "measured_m3s": 0.068, "set_minutes": 25},
        "lockouts": {"low_c": -10, "high_c": 35},
        "climate_zone": "5A",
    },
    "ventilation.spaces": {
        "spaces": [{"name": "Office", "use": "office", "floor_area_m2": 167.0, "people": 9, "effectiveness": 0.8}],
    },
    "ventilation.fit_house": {
        "floor_area_m2": 161.65,
        "first_hour": 20,
        "outdoor_c": [20.0 + 8.0 * math.cos(math.pi * (hour - 19) / 12) for hour in range(48)],
        "room_c": [24.0 + 1.5 * math.cos(math.pi * (hour - 22) / 12) for hour in range(48)],
    },
    "ventilation.read_samples": {
        "text": "time,outdoor (°F),room (°F)\n"
        + "\n".join(f"2026-07-{1 + hour // 24:02d}T{hour % 24:02d}:00,{68 + hour % 7},{75 + hour % 3}" for hour in range(30)),
    },
    "ventilation.tonight": {
        "setup": NIGHT_SETUP,
        "forecast": {"high_c": {"value": 34.0, "plus_minus": 2.0}, "low_c": 16.0, "room_c": 24.5},
        "target_c": 20.5,
    },
    "ventilation.season": {
        "setup": NIGHT_SETUP,
    },
    "ventilation.read_forecast": {
        "text": "time,temperature\n"
        + "\n".join(f"2026-07-{1 + hour // 24:02d}T{hour % 24:02d}:00,{18 + hour % 24 / 2}" for hour in range(60)),
    },
    "ventilation.night_after": {
        "setup": NIGHT_SETUP,
        "planned": {
            "high_c": {"value": 34.0, "plus_minus": 1.0},
            "low_c": 16.0,
            "room_c": 24.5,
            "target_c": 20.5,
            "start_hour": 22,
            "stop_hour": 7,
        },
        "samples": {
            "first_hour": 20,
            "outdoor_c": [18.0 + 6.0 * math.cos(math.pi * (hour - 19) / 12) for hour in range(16)],
            "room_c": [24.5 - 0.25 * hour for hour in range(16)],
        },
    },
    "ventilation.balance": {"outdoor_m3s": 0.5, "exhaust_m3s": {"value": 0.45, "plus_minus": 0.02}},
    "ventilation.night": {
        "house": HOUSE,
        "cooling": {"setpoint_c": 24.5, "capacity_w": 8000},
        "flush": {"full_m3s": 0.5, "full_w": 400},
        "tonight": {
            "first_hour": 20,
            "weather": {"outdoor_c": [20.0] * 12 + [33.0] * 12, "gains_w": [400.0] * 24},
            "air_c": 25.0,
            "mass_c": 25.0,
        },
    },
    "zoning.bypass_mixing": {
        "blower_m3s": 0.5,
        "taken_m3s": {"value": 0.22, "plus_minus": 0.01},
        "supply_c": 12.5,
        "return_c": 24.0,
    },
    "zoning.transformer": {"dampers": 5, "damper_va": 6.5, "board_va": 4.0, "controls": 2, "control_va": 2.0},
    "zoning.wire": {"load_va": {"value": 40.0, "plus_minus": 2.0}, "one_way_m": 30.0, "gauge": "18"},
    "ducts.loss": {
        "piece": {"id": "1", "diameter_m": 0.15, "length_m": 5.0, "wall": "flexible", "compressed": 0.1, "fittings": ["bend_90"]},
        "airflow_m3s": {"value": 0.05, "plus_minus": 0.003},
    },
    "ducts.solve": DUCTS,
    "ducts.calibrate": {**DUCTS, "readings": [{"what": "register", "value": 0.05, "branch": "a"}]},
    "ducts.balance": {
        **DUCTS,
        "design": [{"branch": "a", "airflow_m3s": 0.06}, {"branch": "b", "airflow_m3s": 0.06}],
    },
    "air.standard_pressure": {"elevation_m": 1655},
    "air.state": {"air": STATE},
    "air.mix": {"streams": [{"air": STATE, "dry_air_kg_per_s": 1.5}, {"air": STATE, "dry_air_kg_per_s": 0.5}]},
    "air.outdoor_share": {"return_dry_bulb_c": 24, "outdoor_dry_bulb_c": 4, "mixed_dry_bulb_c": 19},
    "airflow.nominal": {"rated_total_w": 10550},
    "cooling.split": {"return_dry_bulb_c": 24.6, "supply_dry_bulb_c": 13.8},
    "cooling.capacity": {
        "entering": STATE,
        "leaving": {"dry_bulb_c": 13.0, "wet_bulb_c": 12.4},
        "airflow_m3s": {"value": 0.6, "plus_minus": 0.03},
    },
    "air.chart": {"system": "US"},
    "measuring.average": {"values": [24.0, 25.0, 26.2]},
    "measuring.steadiness": {"times_s": list(range(200)), "values": [24.0 + 0.02 * (n % 3) for n in range(200)]},
    "measuring.traverse_plan": {"duct": {"shape": "rectangular", "width_m": 0.6, "height_m": 0.4}},
    "measuring.traverse": {"duct": {"shape": "round", "diameter_m": 0.2}, "velocities_m_per_s": [4.0, 5.0, 6.0]},
    "measuring.probe_match": {
        "first": [24.5] * 30,
        "second": [24.1] * 30,
        "first_accuracy": 0.3,
        "second_accuracy": 0.3,
    },
    "measuring.match_by_hand": {"series": {"a": [24.2, 24.3, 24.2], "b": [24.0, 24.0, 24.1]}, "last_digit": 0.1},
    "measuring.match_summary": {"series": {"a": [24.2] * 60, "b": [24.0] * 60}, "seconds": 120},
    "cooling.expected": {
        "entering": STATE,
        "outdoor_dry_bulb_c": {"value": 33.0, "plus_minus": 0.5},
        "airflow_m3s": {"value": 0.56, "plus_minus": 0.03},
        "rated_total_w": 10550,
        "rated_airflow_m3s": 0.566,
    },
    "cooling.humidity_target": {"dry_bulb_c": 25.0, "wet_bulb_c": {"value": 18.0, "plus_minus": 0.4}},
    "heating.rise": {"return_dry_bulb_c": 20.0, "supply_dry_bulb_c": {"value": 48.0, "plus_minus": 0.5}},
    "heating.output": {"airflow_m3s": 0.58, "return_dry_bulb_c": 20.0, "supply_dry_bulb_c": {"value": 48.0, "plus_minus": 0.5}},
    "heating.electric_rise": {"heat_w": {"value": 9600, "plus_minus": 200}, "airflow_m3s": 0.45, "return_dry_bulb_c": 20.0},
    "heating.heat_pump": {
        "return_dry_bulb_c": 21.0,
        "outdoor_dry_bulb_c": {"value": 5.0, "plus_minus": 0.5},
        "airflow_m3s": 0.42,
        "rated_heating_w": 8500,
        "rated_airflow_m3s": 0.42,
    },
    "statics.wet_coil_drop": {
        "curve": [{"drop_pa": 30, "airflow_m3s": 0.4}, {"drop_pa": 60, "airflow_m3s": 0.57}],
        "airflow_m3s": {"value": 0.5, "plus_minus": 0.02},
    },
    "airflow.drop_at_rated": {"drop_pa": {"value": 40, "plus_minus": 2}, "airflow_m3s": 0.4, "rated_airflow_m3s": 0.56},
    "refrigerant.superheat": {
        "refrigerant": "R-454B",
        "suction_gauge_pa": {"value": 800e3, "plus_minus": 10e3},
        "suction_line_c": {"value": 12.0, "plus_minus": 0.5},
    },
    "refrigerant.subcooling": {
        "refrigerant": "R-32",
        "liquid_gauge_pa": 2.6e6,
        "liquid_line_c": {"value": 36.0, "plus_minus": 0.5},
    },
    "economizer.changeover": {
        "method": "differential_enthalpy",
        "climate_zone": "3A",
        "outdoor": {"dry_bulb_c": {"value": 18.0, "plus_minus": 0.5}, "relative_humidity": {"value": 0.7, "plus_minus": 0.03}},
        "return_": STATE,
    },
    "economizer.next_position": {
        "reads": [{"position": 0.2, "outdoor_share": 0.31}, {"position": 0.12, "outdoor_share": 0.22}],
        "required_m3s": 0.4,
        "supply_m3s": {"value": 2.0, "plus_minus": 0.06},
        "return_c": 24.0,
        "outdoor_c": 4.0,
    },
    "economizer.relief_area": {"airflow_m3s": {"value": 1.2, "plus_minus": 0.05}, "drop_pa": 12.5},
    "economizer.door_force": {"door_width_m": 0.91, "door_height_m": 2.13, "drop_pa": {"value": 12.5, "plus_minus": 1}},
    "economizer.sensor_curve": {
        "curve": "10k type II",
        "resistance_ohm": {"value": 18091, "plus_minus": 50},
        "reference_c": {"value": 12.0, "plus_minus": 0.3},
    },
    "history.drift": {"points": [{"days": 90.0 * n, "value": 1 - 0.05 * n, "plus_minus": 0.04} for n in range(4)]},
    "refrigerant.target_superheat": {"return_wet_bulb_c": 17.0, "outdoor_dry_bulb_c": 30.0},
    "leakage.return_side": {
        "grille": {"dry_bulb_c": 24.5, "humidity_ratio": 0.0096},
        "mixed": {"dry_bulb_c": {"value": 26.5, "plus_minus": 0.3}, "humidity_ratio": 0.0099},
        "around": {"dry_bulb_c": 46.0, "humidity_ratio": 0.0135},
        "supply": {"dry_bulb_c": 13.5, "relative_humidity": 0.92},
        "airflow_m3s": 0.66,
    },
    "airflow.rise": {
        "heat_w": {"value": 21101, "plus_minus": 1000},
        "return_dry_bulb_c": 20,
        "supply_dry_bulb_c": {"value": 50, "plus_minus": 0.5},
    },
    "airflow.gas_input": {"plate_input_w": 26_376, "elevation_m": 1655},
    "airflow.fan_table": {
        "table": [
            {"tap": "high", "external_static_pa": 50, "airflow_m3s": 0.62},
            {"tap": "high", "external_static_pa": 200, "airflow_m3s": 0.4},
        ],
        "tap": "high",
        "external_static_pa": {"value": 125, "plus_minus": 5},
    },
    "airflow.pressure_drop": {
        "curve": [{"drop_pa": 30, "airflow_m3s": 0.4}, {"drop_pa": 90, "airflow_m3s": 0.7}],
        "drop_pa": {"value": 60, "plus_minus": 3},
    },
    "airflow.registers": {"registers_m3s": [0.05, 0.07]},
    "airflow.external_static": {"supply_static_pa": 62, "return_static_pa": -48},
}


ROOM, OUTSIDE = STATE, {"dry_bulb_c": 31.0, "relative_humidity": 0.7}
COLD = {"dry_bulb_c": {"value": 11.0, "plus_minus": 0.3}, "relative_humidity": 0.95}
FLOW = {"value": 1.2, "plus_minus": 0.05}
DAMP = {"dry_bulb_c": 24.0, "relative_humidity": {"value": 0.62, "plus_minus": 0.02}}

CYCLES = "time,supply temp,supply rh,return temp,return rh" + "".join(
    f"\n2026-07-01T10:{minute:02d},{'13.0,92' if minute % 15 < 8 else '21.0,78' if minute % 15 < 13 else '23.0,60'},24.0,55"
    for minute in range(60)
)

EXAMPLES |= {
    "moisture.coil": {"entering": DAMP, "supply": COLD, "airflow_m3s": FLOW, "fan_w": 900.0},
    "moisture.bucket": {"condensate_kg": {"value": 1.5, "plus_minus": 0.05}, "minutes": 10.0},
    "moisture.reheat": {"entering": DAMP, "leaving": COLD, "airflow_m3s": FLOW, "wanted_c": 15.0, "rejected_w": 45_000.0},
    "moisture.bypass": {"entering": DAMP, "supply_c": 15.0, "airflow_m3s": FLOW, "bypass_share": 0.2},
    "moisture.bypass_share": {
        "return_c": {"value": 24.0, "plus_minus": 0.2},
        "leaving_dry_bulb_c": {"value": 12.0, "plus_minus": 0.2},
        "supply_c": {"value": 15.5, "plus_minus": 0.2},
        "fan_k": 0.5,
    },
    "moisture.choose": {"room": DAMP, "airflow_m3s": FLOW, "room_sensible_w": 12_700.0, "room_water_kg_per_s": 0.0033},
    "moisture.part_load": {"run_share": 0.4, "water_kg_per_s": 0.0025, "holds_kg": 1.2, "fan_runs_on": True},
    "moisture.after_stops": {"text": CYCLES},
    "moisture.sources": {
        "room": ROOM,
        "outdoor": OUTSIDE,
        "removed_kg_per_s": {"value": 0.004, "plus_minus": 0.0004},
        "outdoor_m3s": {"value": 0.3, "plus_minus": 0.03},
        "occupants": 8.0,
        "wet_area_m2": 6.0,
    },
}

EXAMPLES |= {
    "economizer.mode_map": {"configuration": {}, "today_c": 14.0},
    "economizer.retrofit": {"call": "first", "outdoor_c": 14.0, "setpoint_c": 24.0},
    "airflow.intake": {"distances": {"flue_m": 2.0, "cooking_m": 6.0}},
    "economizer.sensor_resistance": {"curve": "10k type III", "temperature_c": {"value": 21.0, "plus_minus": 0.3}},
    "economizer.sensor_identity": {
        "conditions": [
            {
                "name": "shut",
                "shown_c": {"A": 22.0, "B": 5.0},
                "known": {"return": {"value_c": 22.1}, "outdoor": {"value_c": 5.2}},
            }
        ],
        "claimed": {"A": "return", "B": "outdoor"},
    },
}


def test_every_calculation_has_an_example_here() -> None:
    assert catalogue.MODULES
    assert set(EXAMPLES) == set(calculation.REGISTRY)


@pytest.mark.parametrize("name", sorted(EXAMPLES))
def test_every_calculation_runs_describes_itself_and_shows_its_working(name: str) -> None:
    ran = calculation.run(name, EXAMPLES[name])
    json.dumps(ran, allow_nan=False)
    quantities = [value for value in ran["result"].values() if isinstance(value, dict) and "kind" in value]
    assert quantities
    assert all(set(value) == {"value", "plus_minus", "kind"} for value in quantities)
    assert ran["working"]
    described = calculation.describe(name)
    assert set(EXAMPLES[name]) <= set(described["input"]["properties"])
    assert described["description"]


NOT_BY_HAND = set(["table", "curve", "model", "count", "sum", "mean", "least", "given", "measured", "first", "n", "b"])
"""Words in a formula that stand for a table, a model, a count or a whole method: no line to put numbers into."""


@pytest.mark.parametrize("system", ["SI", "US"])
@pytest.mark.parametrize("name", sorted(EXAMPLES))
def test_every_line_of_working_follows_from_the_numbers_beside_it(name: str, system: str) -> None:
    """In either system: the numbers as shown, put into the formula as shown, give the result as shown, to its last digit."""
    for line in calculation.run(name, EXAMPLES[name])["working"]:
        formula = (line["formula_us"] if system == "US" else line["formula"]).replace("^", "**")
        words = set(re.findall(r"[A-Za-z_]\w*", re.sub(r"\de[-\d]+", "", formula))) - {"sqrt", "pi"}
        if words & NOT_BY_HAND:
            continue
        assert words <= set(line["numbers"]), f"{line['name']}: {formula}"
        numbers = {}
        for symbol, number in line["numbers"].items():
            unit = units.KINDS[number["kind"]].unit(system)
            own = unit.from_si(number["value"])
            numbers[symbol] = round(own, unit.worked(own))
        by_hand = eval(formula, {"__builtins__": {}, "sqrt": math.sqrt, "pi": math.pi}, numbers)
        unit = units.KINDS[line["result"]["kind"]].unit(system)
        result = unit.from_si(line["result"]["value"])
        decimals = unit.digits(result)
        assert round(result, decimals) == pytest.approx(by_hand, abs=1.001 * 10**-decimals), line["name"]


@pytest.mark.parametrize(
    ("value", "kind", "system", "words"),
    [
        (1.6, "length", "SI", "1.6 m"),
        (2.0, "length", "SI", "2 m"),
        (1655.4, "length", "SI", "1,655 m"),
        (0.004, "share", "SI", "0.4 %"),
        (0.31, "share", "SI", "31 %"),
        (0.0003, "share", "SI", "0.03 %"),
        (1.2, "pressure", "SI", "1.2 Pa"),
        (1.2, "pressure", "US", "0.005 in. w.c."),
        (24.04, "temperature", "SI", "24.0 °C"),
        (0.0, "temperature_difference", "US", "0.0 °F"),
        (1e-9, "temperature_difference", "SI", "0.0 K"),
        (0.0566, "airflow", "US", "120 cfm"),
        (0.0002, "airflow", "SI", "0.2 L/s"),
    ],
)
def test_a_number_has_digits_that_say_something(value: float, kind: str, system: str, words: str) -> None:
    assert units.show(value, kind, system) == words


@pytest.mark.parametrize(
    ("name", "given", "path"),
    [
        ("cooling.split", {"return_dry_bulb_c": 20}, "supply_dry_bulb_c"),
        ("cooling.split", {"return_dry_bulb_c": "warm", "supply_dry_bulb_c": 12}, "return_dry_bulb_c"),
        ("cooling.split", {"return_dry_bulb_c": True, "supply_dry_bulb_c": 12}, "return_dry_bulb_c"),
        ("cooling.split", {"return_dry_bulb_c": float("nan"), "supply_dry_bulb_c": 12}, "return_dry_bulb_c"),
        ("cooling.split", {"return_dry_bulb_c": 20, "supply_dry_bulb_c": 12, "extra": 1}, "extra"),
        (
            "cooling.split",
            {"return_dry_bulb_c": {"value": 20, "plus_minus": -1}, "supply_dry_bulb_c": 1},
            "return_dry_bulb_c.plus_minus",
        ),
        ("air.state", {"air": {"dry_bulb_c": 20, "relative_humidity": 1.5}}, "air.relative_humidity"),
        ("air.state", {"air": {"dry_bulb_c": 20}}, "air.relative_humidity"),
        ("air.state", {"air": {"relative_humidity": 0.5}}, "air.dry_bulb_c"),
        (
            "air.mix",
            {"streams": [{"air": {"dry_bulb_c": 20, "wet_bulb_c": 30}, "dry_air_kg_per_s": 1}]},
            "streams.0.air.wet_bulb_c",
        ),
        ("air.mix", {"streams": [{"air": {"dry_bulb_c": 20, "wet_bulb_c": 12}}]}, "streams.0.dry_air_kg_per_s"),
        ("cooling.capacity", {**EXAMPLES["cooling.capacity"], "flow_measured_at": "roof"}, "flow_measured_at"),
        ("no.such", {}, "calculation"),
        ("cooling.split", [], ""),
    ],
)
def test_a_refusal_names_the_field(name: str, given: object, path: str) -> None:
    with pytest.raises(Refused) as refused:
        calculation.run(name, given)
    assert refused.value.path == path
    assert refused.value.sentence.say().endswith((".", "?"))


def test_inputs_of_one_source_share_their_error() -> None:
    def ran(first: str, second: str) -> float:
        given = {
            "return_dry_bulb_c": {"value": 24.6, "plus_minus": 0.3, "source": first},
            "supply_dry_bulb_c": {"value": 13.8, "plus_minus": 0.3, "source": second},
        }
        return calculation.run("cooling.split", given)["result"]["split_k"]["plus_minus"]

    assert ran("A", "A") == pytest.approx(0, abs=1e-9)
    assert ran("A", "B") == pytest.approx(0.3 * 2**0.5)


def command(*words: str, given: str = "") -> subprocess.CompletedProcess[str]:
    return subprocess.run([sys.executable, "-m", "fentro_core", *words], input=given, capture_output=True, text=True, check=False)


def test_the_command_line() -> None:
    assert "cooling.capacity" in command("list").stdout
    assert json.loads(command("describe", "air.state").stdout)["name"] == "air.state"
    assert json.loads(command("schema").stdout)["title"] == "Snapshot"
    ran = command("run", "air.standard_pressure", given='{"elevation_m": 500}')
    assert json.loads(ran.stdout)["result"]["pressure_pa"]["value"] == pytest.approx(95460.8, abs=0.5)
    refused = command("run", "air.standard_pressure", given='{"elevation_m": 99999}')
    assert refused.returncode == 1
    assert json.loads(refused.stderr)["refused"]["path"] == "elevation_m"
    broken = command("workup", given="{not json")
    assert broken.returncode == 1
    assert "line 1" in json.loads(broken.stderr)["refused"]["sentence"]

"""One good body of every kind of entry, with every field filled; and how far each of its numbers may go."""

from __future__ import annotations

import copy
from collections.abc import Callable, Iterator
from math import copysign, inf, isinf
from typing import Any

from fentro_core.base import typed_json
from fentro_core.economizer.configuration import Configuration
from tests.core.visits import new_id

Json = Any

HELD = {"seconds": 200.0, "samples": 200, "slope_per_10min": 0.05, "slope_plus_minus": 0.02, "scatter": 0.05}
PROBES = [{"instrument": name, "mean": 24.0, "scatter": 0.05, "samples": 120} for name in "AB"]
DUE = [{"point": "damper_position", "low": 0.15, "high": 0.25}]
SAMPLE = {"at_s": 4.0, "values": {"damper_position": 0.2}}

BODIES: dict[str, dict[str, Any]] = {
    "alarm": {"alarm": "sensor_mixed", "words": "Mixed air sensor open"},
    "alarm_check": {
        "alarm": "sensor_mixed",
        "check": 0,
        "found": "reads open",
        "good": False,
        "curve": "10k type II",
        "resistance_ohm": 12_000.0,
        "reference_c": 21.0,
    },
    "alarm_closed": {"alarm": "sensor_mixed", "cause": "wire off", "found": True},
    "assignment": {"instrument": "A", "station": "return", "point": 2},
    "branch": {"room": "Loft", "floor": "2", "diameter_m": 0.15, "run_m": 7.0},
    "check": {"item": "filter_in", "done": True},
    "closing": {"summary": "done"},
    "configuration": {"document": typed_json.write(Configuration()), "reason": "as found", "source": "controller"},
    "corrected_site": {
        "name": "Mill",
        "elevation_m": 420.0,
        "barometer_pa": 96_000.0,
        "climate_zone": "5B",
        "was": {"name": "Mil", "elevation_m": 42.0},
    },
    "known_system": {
        "system_id": "3f0c1a52-8f1e-4e0b-9c1d-2b7a54d5a001",
        "name": "Rooftop unit 1",
        "site": "Tidemark Marine Field Station",
        "was": "Unit, not named yet",
        "same": True,
    },
    "corrected_system": {
        "name": "Roof unit",
        "kind": "furnace_with_coil",
        "location": "attic",
        "nameplate": {"heating_input_w": 23_000.0},
        "was": {"name": "Unit"},
    },
    "balance_season": {"season": "heating"},
    "damper_turned": {"branch": "b1", "damper_deg": 22.5, "register_open": 0.8, "was_deg": 5.0, "was_open": 1.0},
    "duct_branch": {
        "id": "b1",
        "after": "t1",
        "room": "Bindery",
        "floor": "Upper",
        "diameter_m": 0.1524,
        "length_m": 6.0,
        "wall": "flexible",
        "compressed": 0.1,
        "fittings": ["takeoff_shoe", "boot_turning"],
        "more_loss": 0.4,
        "damper": "blade",
        "damper_deg": 10.0,
        "register_pa": 12.0,
        "register_m3s": 0.07,
        "register_open": 0.9,
        "quiet": True,
        "face_area_m2": 0.02,
        "cooling_design_m3s": 0.06,
        "heating_design_m3s": 0.05,
        "room_load_w": 1200.0,
        "floor_area_m2": 18.0,
    },
    "duct_gone": {"id": "b1"},
    "duct_trunk": {
        "id": "t1",
        "name": "Trunk 1",
        "width_m": 0.4,
        "height_m": 0.25,
        "length_m": 3.0,
        "fittings": ["plenum_entry"],
    },
    "duct_unit": {"tap": "high", "held_m3s": 0.5, "drop_pa": 110.0, "at_m3s": 0.5, "leak_at_25pa_m3s": 0.01},
    "ducts_taken": {
        "tree": {
            "trunks": [{"id": "t1", "diameter_m": 0.3, "length_m": 2.0}],
            "branches": [{"id": "b1", "after": "t1", "room": "Den", "diameter_m": 0.15, "length_m": 4.0}],
        },
        "source": "sister system",
    },
    "zone": {
        "id": "z1",
        "name": "Press",
        "rooms": ["b1"],
        "damper": "power",
        "least_open": 0.1,
        "dump": False,
        "control": "inner wall",
        "wireless": True,
        "cable_m": 20.0,
        "damper_va": 6.5,
    },
    "zone_gone": {"id": "z1"},
    "zone_hardware": {
        "school": "bypass",
        "board_va": 4.0,
        "control_va": 2.0,
        "rated_va": 75.0,
        "supply_v": 24.0,
        "ports": 16,
        "supply_limit_c": 6.0,
        "costs": {"merge": 200.0},
        "board": "ZB-1",
    },
    "zone_test": {
        "test": "alone:z1",
        "how": "board",
        "air": {"b1": "air"},
        "indicators": {"z1": "open"},
        "called": ["z1"],
        "control": "answers",
        "static_pa": 120.0,
        "supply_c": 13.0,
        "volts": 24.1,
        "bypass": "part",
        "noise": "quiet",
        "held": {"b1": True},
        "ended": "done",
        "note": "by the stairs",
    },
    "zone_override": {
        "zone": "z1",
        "until": "2026-07-01T18:00:00+00:00",
        "cooling_setpoint_c": 26.0,
        "heating_setpoint_c": 19.0,
        "why": "stocktaking",
    },
    "zone_timetable": {
        "zone": "z1",
        "slots": [
            {"from_min": 360, "cooling_setpoint_c": 24.0, "heating_setpoint_c": 20.0},
            {"from_min": 1200, "cooling_setpoint_c": 28.0, "heating_setpoint_c": 16.0},
        ],
    },
    "room_surveyed": {"branch": "b1", "room_c": 24.5, "wanted_c": 23.0},
    "damper_read": {"position": 0.2, "return_c": 22.0, "outdoor_c": 5.0, "mixed_c": 18.0, "plus_minus_k": 0.3},
    "handed_on": {"change": "", "to": "7", "to_name": "Dana", "reason": "no ladder today"},
    "intake": {
        "distances": {"flue_m": 4.0, "plumbing_vent_m": 4.0, "exhaust_m": 4.0, "cooking_m": 6.0},
        "shaded": True,
        "screened": True,
    },
    "match": {"quantity": "dry_bulb", "seconds": 130.0, "probes": PROBES},
    "note": {"text": "Belt squeals", "step": "trace"},
    "observation": {"item": "filter_arrow", "value": "agrees"},
    "outdoor_need": {"required_m3s": 0.4, "supply_m3s": 2.0, "why": "by floor area"},
    "photo": {"sha256": "0f" * 32, "of": "station", "station": "return", "words": "Filter rack"},
    "placement": {"station": "return", "where": "left side"},
    "plan_setting": {"setting": "minimum_position", "stage": "planned", "number": 0.25, "reason": "outdoor air"},
    "plane": {
        "station": "return_traverse",
        "duct": {
            "shape": "rectangular",
            "width_m": 0.5,
            "height_m": 0.3,
            "wall_m": 0.02,
            "after_m": 3.0,
            "before_m": 1.0,
        },
    },
    "point_list": {"lines": [{"terminal": "AI-1", "name": "Mixed air", "place": "mixed"}], "name": "list.csv"},
    "point_read": {"terminal": "AI-1", "shown_c": 18.0, "reference_c": 18.2, "plus_minus_k": 0.3, "condition": "damper shut"},
    "reading": {
        "station": "return",
        "quantity": "dry_bulb",
        "value": 24.6,
        "unit": "degC",
        "point": 2,
        "instrument": "A",
        "plus_minus": 0.4,
        "held": HELD,
    },
    "condensate": {"condensate_kg": 1.6, "minutes": 12.0, "plus_minus_kg": 0.05, "settled": True},
    "moisture_aim": {
        "wanted_c": 24.0,
        "wanted_rh": 0.5,
        "room_sensible_w": 9_000.0,
        "room_water_kg_per_s": 0.0026,
        "reheat_source": "hot_gas",
        "most_bypass": 0.3,
        "least_air": 0.7,
        "cop": 3.2,
        "room_m3": 1800.0,
        "drift_ratio": 0.0002,
    },
    "drying_test": {"test": "reheat", "return_c": 24.2, "after_c": 12.1, "supply_c": 19.4, "compressor": "", "note": ""},
    "water_sources": {
        "outdoor_m3s": 0.38,
        "infiltration_m3s": 0.05,
        "occupants": 8.0,
        "wet_area_m2": 6.0,
        "water_c": 18.0,
        "process_kg_per_s": 0.0002,
        "blower_door_m3s": 1.2,
        "building_pa": -3.0,
    },
    "rejection": {"cause": "filter_clogged", "why": "it is new"},
    "reopening": {},
    "return_duct": {
        "length_m": 8.0,
        "perimeter_m": 1.8,
        "resistance_m2k_per_w": 0.7,
        "where": "spread",
        "floor_area_m2": 180.0,
        "limit_m3s_per_m2": 0.0002,
    },
    "run": {"event": "started", "already_s": 900.0},
    "setting": {"what": "Minimum position", "was": "20 %", "now": "25 %", "why": "outdoor air"},
    "temporary": {"what": "Damper held", "kind": "override", "undo": "release", "point": "damper_command", "value": 0.4},
    "test_seen": {
        "title": "Minimum position",
        "seen": {
            "test": "minimum",
            "how": "controller",
            "values": {"damper_position": 0.2},
            "plus_minus": {"damper_position": 0.01},
            "expected": DUE,
            "seconds": 60.0,
            "reached_s": 8.0,
            "allowed_s": 240.0,
            "ended": "done",
            "trace": [SAMPLE],
            "note": "",
            "asked": [],
            "looks": {},
        },
    },
    "dwelling": {
        "dwelling": {
            "floor_area_m2": 161.65,
            "bedrooms": 3,
            "people": 4,
            "blower_door_m3s": 0.6,
            "height_m": 2.6,
            "weather_factor": 0.6,
        },
        "edition": "2013",
    },
    "ventilator": {
        "kind": "balanced",
        "model": "FV-80",
        "chart": [{"port_pa": 20.0, "airflow_m3s": 0.041}, {"port_pa": 120.0, "airflow_m3s": 0.103}],
        "stale_chart": [{"port_pa": 22.0, "airflow_m3s": 0.041}, {"port_pa": 130.0, "airflow_m3s": 0.103}],
        "step_min": 5.0,
        "cycle_h": 1.0,
        "fan_power_w": 80.0,
        "recovered_share": 0.7,
        "interlock_w": 300.0,
    },
    "ventilator_control": {
        "stage": "found",
        "control": {
            "minutes_per_hour": 20.0,
            "low_c": -12.0,
            "high_c": 35.0,
            "dew_point_c": 16.0,
            "indoor_rh": 0.6,
            "boost_min": 60.0,
            "interlock": True,
            "filter_months": 3,
        },
    },
    "ventilator_test": {
        "test": "run",
        "how": "control",
        "fan": "runs",
        "damper": "open",
        "air": {"fresh": "right"},
        "shown_c": 12.0,
        "minutes": 20.0,
    },
    "ventilator_flow": {
        "stream": "fresh",
        "way": "ports",
        "port_pa": 62.0,
        "plus_minus_pa": 1.0,
        "airflow_m3s": 0.07,
        "plus_minus_m3s": 0.004,
    },
    "night_seen": {"first_hour": 21, "outdoor_c": [20.0] * 10, "room_c": [24.0] * 10},
    "night_test": {"test": "outdoor", "damper": "outdoors", "relief": "open", "blower": "runs", "shown_c": 18.0, "probe_c": 17.6},
    "night_setup": {
        "flush": {
            "full_m3s": 0.5,
            "full_w": 300.0,
            "floor_c": 20.0,
            "wake_hour": 7,
            "from_hour": 20,
            "until_hour": 9,
            "dew_point_limit_c": 15.0,
            "hold": "",
        },
        "cooling": {"setpoint_c": 24.5, "capacity_w": 8000.0, "cop_at_35": 3.2, "better_per_k": 0.02},
        "floor_area_m2": 161.65,
    },
    "night_planned": {
        "high_c": 34.0,
        "low_c": 17.0,
        "room_c": 25.0,
        "target_c": 20.5,
        "start_hour": 22,
        "stop_hour": 7,
        "speeds": [0.3, 0.4],
        "dew_point_c": 12.0,
        "saved_j": 4e6,
    },
    "spaces": {
        "spaces": [
            {"name": "Office", "use": "office", "floor_area_m2": 167.0, "people": 9, "effectiveness": 0.8},
            {
                "name": "Kiln",
                "use": "other",
                "floor_area_m2": 40.0,
                "people": 2,
                "effectiveness": 1.0,
                "per_person_m3s": 0.005,
                "area_rate_m3s_per_m2": 0.001,
            },
        ],
        "people_at_once": 8,
        "exhaust_m3s": 0.1,
        "natural_draft_flue": True,
    },
    "outdoor_air_now": {"hours": 3, "why": "guests"},
    "undone": {"change": "", "how": "released"},
    "withdrawal": {},
}


def of_kind(kind: str, body: Json) -> Json:
    """An entry of this kind, as a device sends it."""
    replaces = {"replaces": new_id()} if kind == "withdrawal" else {}
    body = {**body, "change": body["change"] or new_id()} if "change" in body else body
    return {"id": new_id(), "kind": kind, "at": "2026-07-01T10:20:00+00:00", "body": body, **replaces}


def number_paths(given: Json, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Where numbers stand."""
    if isinstance(given, dict):
        for key, inner in given.items():
            yield from number_paths(inner, (*path, key))
    elif isinstance(given, list):
        for index, inner in enumerate(given[:4]):
            yield from number_paths(inner, (*path, index))
    elif type(given) in (int, float):
        yield path


def put(given: Json, path: tuple[Any, ...], value: Any) -> Json:
    """A copy with one number replaced."""
    other = copy.deepcopy(given)
    at = other
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = value
    return other


FAR = 1e7


def reach(takes: Callable[[float], bool], start: float, far: float) -> float:
    """How far from a good number towards a far one is still taken; endless when the far one is."""
    if takes(far):
        return inf if far > 0 else -inf
    good, bad = start, far
    for _ in range(60):
        middle = (good + bad) / 2
        if takes(middle):
            good = middle
        else:
            bad = middle
        if abs(good - bad) < 1e-5 * max(abs(good), 1e-3):
            break
    return float(f"{good:.4g}")


Takes = Callable[[Json], bool]
"""Whether an input is taken."""


def each_number(takes: Takes, given: Json) -> Iterator[tuple[str, float, Callable[[float], bool]]]:
    """Every number of an input: its place, what it is, and whether another in its stead is taken."""
    for path in number_paths(given):
        at: Any = given
        for key in path:
            at = at[key]
        whole = type(at) is int

        def one(value: float, path: tuple[Any, ...] = path, whole: bool = whole) -> bool:
            return takes(put(given, path, round(value) if whole else value))

        yield ".".join(map(str, path)), float(at), one


def reaches(takes: Takes, given: Json) -> dict[str, list[str]]:
    """By number: the least and the most that is taken, all others as they are."""
    return {path: [f"{reach(one, at, far):g}" for far in (-FAR, FAR)] for path, at, one in each_number(takes, given)}


BESIDE = 1e-3
"""A kept limit has four figures: just inside it is taken, just outside it is not."""


def moved(takes: Takes, given: Json, kept: dict[str, list[str]]) -> Iterator[str]:
    """Every limit that is not where it was kept: two tries each, where finding it takes fifty."""
    seen = set()
    for path, at, one in each_number(takes, given):
        seen.add(path)
        for far, limit in zip((-FAR, FAR), map(float, kept.get(path, ("nan", "nan"))), strict=True):
            if isinf(limit):
                stays = one(far)
            else:
                room = max(BESIDE * abs(limit), 1e-7)
                stays = not one(limit + copysign(room, far)) and (abs(limit - at) <= room or one(limit - copysign(room, far)))
            if not stays:
                yield f"{path}: {reach(one, at, far):g}, was {limit:g}"
    yield from (f"{path}: is no number any more" for path in sorted(kept.keys() - seen))

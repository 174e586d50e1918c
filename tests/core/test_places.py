"""What may be noted where: stations, instruments and replacements of every kind of entry."""

from __future__ import annotations

from typing import Any

import pytest

from fentro_core.base.refusal import Refused
from fentro_core.logbook.accept import branches_noted, check_place, check_replacement
from fentro_core.logbook.entry import read_entry, standing
from fentro_core.logbook.kinds import all_kinds
from fentro_core.system.gas_furnace import FurnaceNameplate
from fentro_core.system.heat_pump import HeatPumpNameplate
from fentro_core.system.kinds import air_path
from tests.core.bodies import BODIES
from tests.core.visits import entry, reading

PATH = air_path("furnace_with_coil", FurnaceNameplate())
KNOWN = {"A", "B"}
STAYING = (
    *("withdrawal", "closing", "reopening", "temporary", "undone", "handed_on"),
    *("corrected_system", "corrected_site", "known_system"),
)
DUCT = {"shape": "round", "diameter_m": 0.2}
PROBES = [{"instrument": name, "mean": 24.0, "scatter": 0.05, "samples": 120} for name in "AB"]


@pytest.mark.parametrize(
    ("kind", "body"),
    [
        ("reading", {"station": "return", "quantity": "velocity", "value": 3.0, "unit": "m/s"}),
        ("reading", {"station": "suction_line", "quantity": "pipe_temperature", "value": 52.0, "unit": "degF"}),
        (
            "reading",
            {"station": "coil_out_static", "quantity": "static_pressure", "value": 0.1, "unit": "inwc", "instrument": "B"},
        ),
        ("placement", {"station": "surroundings"}),
        ("plane", {"station": "supply_traverse", "duct": DUCT}),
        ("assignment", {"instrument": "A", "station": "supply"}),
        ("assignment", {"instrument": "A"}),
        ("match", {"quantity": "dry_bulb", "seconds": 120.0, "probes": PROBES}),
        ("observation", {"item": "fan_tap", "value": "medium"}),
        ("branch", {"room": "Loft"}),
    ],
)
def test_what_belongs_here_is_taken(kind: str, body: dict[str, Any]) -> None:
    check_place(read_entry(entry(kind, body)), PATH, KNOWN)


@pytest.mark.parametrize(
    ("kind", "body", "path", "words"),
    [
        ("reading", {"station": "mixed", "quantity": "dry_bulb", "value": 20, "unit": "degC"}, "body.station", "no such station"),
        ("reading", {"station": "heater", "quantity": "voltage", "value": 240, "unit": "V"}, "body.station", "no such station"),
        (
            "reading",
            {"station": "supply_static", "quantity": "dry_bulb", "value": 20, "unit": "degC"},
            "body.quantity",
            "can't be read",
        ),
        (
            "reading",
            {"station": "condenser_out", "quantity": "wet_bulb", "value": 20, "unit": "degC"},
            "body.quantity",
            "can't be read",
        ),
        ("placement", {"station": "moon"}, "body.station", "It has: Return, Supply, Outdoor and more"),
        ("plane", {"station": "return", "duct": DUCT}, "body.station", "traverse station"),
        ("assignment", {"instrument": "Z", "station": "supply"}, "body.instrument", "not on the list"),
        ("assignment", {"instrument": "A", "station": "moon"}, "body.station", "no such station"),
        (
            "match",
            {"quantity": "dry_bulb", "seconds": 120.0, "probes": [*PROBES[:1], {**PROBES[1], "instrument": "Z"}]},
            "body.probes.1.instrument",
            "not on the list",
        ),
    ],
)
def test_what_does_not_is_refused_at_its_field(kind: str, body: dict[str, Any], path: str, words: str) -> None:
    with pytest.raises(Refused, match=words) as refused:
        check_place(read_entry(entry(kind, body)), PATH, KNOWN)
    assert refused.value.path == path


def test_a_heat_pump_may_read_its_heater() -> None:
    path = air_path("split_heat_pump", HeatPumpNameplate())
    check_place(read_entry(reading("heater", "current", 21.0, "A", instrument=None)), path, KNOWN)


def test_a_branch_taken_back_is_gone() -> None:
    loft, attic = entry("branch", {"room": " Loft ", "floor": "Up"}), entry("branch", {"room": "Attic", "run_m": 4.0})
    back = entry("withdrawal", {}, replaces=loft["id"])
    found = branches_noted(standing([read_entry(each) for each in (loft, attic, back)]))
    assert [(each.room, each.run_m) for each in found] == [("Attic", 4.0)]
    assert branches_noted([read_entry(loft)])[0].room == "Loft"


@pytest.mark.parametrize("kind", [kind for kind in all_kinds() if kind not in STAYING])
def test_each_kind_is_corrected_by_its_own_or_taken_back(kind: str) -> None:
    bodies: dict[str, dict[str, Any]] = {
        **BODIES,
        "reading": {"station": "return", "quantity": "dry_bulb", "value": 20, "unit": "degC"},
        "note": {"text": "x"},
        "photo": {"sha256": "0f" * 32},
        "setting": {"what": "a", "was": "b", "now": "c"},
        "check": {"item": "filter_in"},
        "run": {"event": "started"},
        "observation": {"item": "fan_tap", "value": "low"},
        "placement": {"station": "return"},
        "branch": {"room": "Loft"},
        "plane": {"station": "supply_traverse", "duct": DUCT},
        "assignment": {"instrument": "A"},
        "match": {"quantity": "dry_bulb", "seconds": 120.0, "probes": PROBES},
        "return_duct": {"length_m": 7, "perimeter_m": 1.4, "resistance_m2k_per_w": 1.0},
        "rejection": {"cause": "low_charge", "why": "weighed in last week"},
        "plan_setting": {"setting": "minimum_position", "stage": "planned", "number": 0.2, "reason": "measured"},
        "outdoor_need": {"required_m3s": 0.4, "supply_m3s": 2.0},
        "damper_read": {"position": 0.2, "return_c": 24.0, "outdoor_c": 8.0, "mixed_c": 20.0},
        "test_seen": {"title": "Damper closed", "seen": {"test": "closed", "how": "watched"}},
        "point_list": {"lines": [{"terminal": "AI-1", "name": "Outdoor", "place": "outdoor"}]},
        "point_read": {"terminal": "AI-1", "shown_c": 8.0, "reference_c": 8.1},
        "configuration": {"document": {}, "reason": "As found"},
        "alarm": {"alarm": "freeze_trip"},
        "alarm_check": {"alarm": "x", "check": 0, "found": "corroded pin"},
        "alarm_closed": {"alarm": "x", "cause": "pin pushed back"},
        "intake": {"distances": {"flue_m": 4.0}},
    }
    first = read_entry(entry(kind, bodies[kind]))
    again = read_entry(entry(kind, bodies[kind], replaces=first.id))
    check_replacement(again, {first.id: first})
    check_replacement(read_entry(entry("withdrawal", {}, replaces=first.id)), {first.id: first})
    other = "note" if kind != "note" else "run"
    with pytest.raises(Refused, match="same kind"):
        check_replacement(again, {first.id: read_entry(entry(other, bodies[other]))})
    with pytest.raises(Refused, match="already corrected"):
        check_replacement(read_entry(entry(kind, bodies[kind], replaces=first.id)), {first.id: first, again.id: again})
    with pytest.raises(Refused, match="not in this visit"):
        check_replacement(again, {})

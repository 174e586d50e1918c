"""What can hurt somebody is said beside the cause, the look and the verdict, and at full strength."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from fentro_core.diagnosis.cause import CAUSES
from fentro_core.diagnosis.findings import caution
from fentro_core.diagnosis.people import CIRCUIT, FLAME, LIVE
from fentro_core.diagnosis.symptom import SYMPTOMS
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.phase.results import VerdictLine
from fentro_core.system.gas_furnace import FurnaceNameplate
from fentro_core.system.heat_pump import HeatPumpNameplate
from fentro_core.system.nameplate import Nameplate
from fentro_core.visit.work_up import work_up
from tests.core.visits import air, entry, flow, reading, snapshot, started

FURNACE: Nameplate = FurnaceNameplate(heating_input_w=26_376.0, cooling_coil=True)
PUMP: Nameplate = HeatPumpNameplate()
PLATE = {
    "rated_total_w": 10_551,
    "rated_airflow_m3s": 0.57,
    "heating_input_w": 26_376.0,
    "rise_low_k": 17.0,
    "rise_high_k": 33.0,
    "max_outlet_c": 68.0,
    "cooling_coil": True,
}


def phase_of(*entries: dict[str, Any], kind: str = "furnace_with_coil", **plate: Any) -> Any:
    return work_up(read_snapshot(snapshot([started(), *entries], kind, **{**PLATE, **plate}))).phases[0]


def line_of(phase: Any, key: str) -> VerdictLine:
    return next(line for line in phase.verdicts if line.key == key)


@pytest.mark.parametrize("key", ["return_leak", "supply_leak", "return_small"])
def test_suction_beside_a_flame_brings_carbon_monoxide_words(key: str) -> None:
    assert "carbon monoxide" in caution(CAUSES[key], FURNACE)
    assert "carbon monoxide" not in caution(CAUSES[key], PUMP)


@pytest.mark.parametrize("key", ["leak", "seam_open", "supply_open", "return_whistles"])
def test_so_do_the_looks_for_it(key: str) -> None:
    assert "carbon monoxide" in caution(SYMPTOMS[key], FURNACE)
    assert "carbon monoxide" not in caution(SYMPTOMS[key], PUMP)


def test_hot_metal_beside_the_probe_is_the_heat_exchanger() -> None:
    for of in (CAUSES["probe_sees"], SYMPTOMS["probe_sees"]):
        assert "heat exchanger" in caution(of, FURNACE)
        assert FLAME in caution(of, FURNACE)
        assert caution(of, PUMP) == of.caution


@pytest.mark.parametrize(("refrigerant", "burns"), [("R-32", True), ("R-454B", True), ("R-410A", False), (None, False)])
def test_a_refrigerant_that_can_burn_says_so_wherever_the_circuit_is_opened(refrigerant: Any, burns: bool) -> None:
    plate = replace(PUMP, refrigerant=refrigerant)
    opened = [each for each in (*CAUSES.values(), *SYMPTOMS.values()) if each.caution == CIRCUIT]
    assert len(opened) > 8
    for each in opened:
        assert ("can burn" in caution(each, plate)) is burns, each.key
    assert "can burn" not in caution(CAUSES["filter_clogged"], plate)


@pytest.mark.parametrize("key", ["amps", "element_dead", "reheat_no_power", "dry_call_lost"])
def test_live_parts_are_for_whoever_is_qualified(key: str) -> None:
    assert SYMPTOMS[key].caution == LIVE


def test_a_supply_over_its_limit_is_said_at_full_strength_however_early() -> None:
    early = [*air("return", 21.0, 40, minute=3), reading("supply", "dry_bulb", 82.0, "degC", minute=4), flow(0.4)]
    phase = phase_of(*early)
    assert line_of(phase, "outlet").mark == "off"
    assert line_of(phase, "rise").mark == "watch"
    assert line_of(phase, "rise").early


def test_a_suspected_return_leak_near_a_flame_says_what_it_can_draw() -> None:
    warm = [*air("return_grille", 24.0, 50), *air("return", 28.0, 45), *air("supply", 15.0, 90), *air("outdoor", 35.0, 40)]
    told = [note.say() for note in line_of(phase_of(*warm), "leak").notes]
    assert any("carbon monoxide" in note for note in told)
    pump = work_up(read_snapshot(snapshot([started(), *warm], "split_heat_pump", rated_total_w=10_551))).phases[0]
    assert not any("carbon monoxide" in note.say() for note in line_of(pump, "leak").notes)


def test_a_little_warmer_on_a_warm_day_is_not_heating() -> None:
    def mode(supply: float, outdoor: float) -> str:
        return str(phase_of(*air("return", 25.0, 50), *air("supply", supply, 45), *air("outdoor", outdoor, 40)).mode)

    assert mode(28.0, 33.0) == ""
    assert mode(28.0, 4.0) == "heating"
    assert mode(50.0, 33.0) == "heating"
    assert mode(15.0, 33.0) == "cooling"


def test_on_a_lower_stage_nothing_is_judged_by_the_full_ones_plate() -> None:
    cool = [*air("return", 25.0, 50), *air("supply", 19.0, 70), *air("outdoor", 33.0, 40), flow(0.45)]
    lower = entry("observation", {"item": "stage", "value": "first"})
    assert line_of(phase_of(*cool), "split").mark == "off"
    told = phase_of(*cool, lower)
    assert line_of(told, "split").mark is None
    assert told.pages.cooling.four_way is None
    assert not any(finding.likely for finding in told.findings)
    heats = [*air("return", 20.0, 35), *air("supply", 34.0, 20), *air("outdoor", 2.0, 60), flow(0.57)]
    assert line_of(phase_of(*heats), "heat").mark == "off"
    there = phase_of(*heats, lower)
    assert not any(line.key == "heat" for line in there.verdicts)
    assert next(each for each in there.results if each.key == "target_heat").missing == ("The burner on its full stage",)

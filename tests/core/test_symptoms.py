"""From numbers to signs: each thing looked at, through whole visits, in each of its states."""

from __future__ import annotations

from typing import Any

import pytest

from fentro_core.diagnosis.entries import ITEMS
from fentro_core.diagnosis.signs import Sign
from fentro_core.diagnosis.symptom import SYMPTOMS
from fentro_core.refrigerant.circuit import saturation_pressure
from tests.core.visits import air, entry, flow, reading, signs_of, snapshot, started

FURNACE = {
    "rated_total_w": 10_550.0,
    "rated_airflow_m3s": 0.566,
    "rated_sensible_heat_ratio": 0.76,
    "max_external_static_pa": 130.0,
    "refrigerant": "R-410A",
    "metering": "valve",
    "subcooling_k": 6.0,
    "compressor_current_a": 16.0,
    "heating_input_w": 23_500.0,
    "heating_efficiency": 0.8,
    "rise_low_k": 19.4,
    "rise_high_k": 36.1,
    "max_outlet_c": 60.0,
}


def observed(
    *entries: dict[str, Any], kind: str = "furnace_with_coil", elevation_m: float = 3.0, **plate: Any
) -> dict[str, Sign]:
    """Every symptom of one phase."""
    given = {**FURNACE, **plate} if kind == "furnace_with_coil" else plate
    return signs_of(snapshot([started(), *entries], kind, elevation_m, **given))


def cooling_air(supply: float = 12.9, rh: float = 88) -> list[dict[str, Any]]:
    return [*air("return", 25.0, 50), *air("supply", supply, rh), *air("outdoor", 33.0, 40)]


def warm_air(supply: float) -> list[dict[str, Any]]:
    return [*air("return", 20.0, 35), reading("supply", "dry_bulb", supply, "degC")]


def gauge(station: str, celsius: float, line: float, side: int = 2) -> list[dict[str, Any]]:
    pascal = saturation_pressure("R-410A", celsius, side) - 101_290
    return [reading(station, "gauge_pressure", pascal / 1000, "kPa"), reading(station, "pipe_temperature", line, "degC")]


def tap(station: str, pascal: float) -> dict[str, Any]:
    return reading(station, "static_pressure", pascal, "Pa", instrument=None)


SUNK = [tap("return_static", -24), tap("filter_static", -52)]


@pytest.mark.parametrize(
    ("look", "state", "entries"),
    [
        ("change", "cools", cooling_air()),
        ("change", "nothing", cooling_air(24.4, 52)),
        ("change", "heats", warm_air(48)),
        ("split", "right", [*cooling_air(), flow(0.566)]),
        ("split", "low", [*cooling_air(19.0, 70), flow(0.566)]),
        ("split", "high", [*cooling_air(8.0, 95), flow(0.40)]),
        ("capacity", "right", [*cooling_air(), flow(0.566)]),
        ("capacity", "low", [*cooling_air(19.0, 70), flow(0.566)]),
        ("capacity", "high", [*cooling_air(), flow(0.75)]),
        ("shr", "low", [*cooling_air(15.0, 50), flow(0.566)]),
        ("moisture", "wetter", [*cooling_air(19.0, 95), flow(0.566)]),
        ("moisture", "drier", [*cooling_air(), flow(0.566)]),
        ("airflow", "low", [*cooling_air(), flow(0.42)]),
        ("airflow", "right", [*cooling_air(), flow(0.56)]),
        ("airflow", "high", [*cooling_air(), flow(0.75)]),
        ("static", "high", [flow(0.5), tap("filter_static", -90), tap("supply_static", 80)]),
        ("static", "right", [flow(0.5), tap("filter_static", -40), tap("supply_static", 40)]),
        ("static", "right", [flow(0.5), tap("filter_static", -8), tap("supply_static", 8)]),
        ("filter_drop", "right", [flow(0.566), *SUNK]),
        ("filter_drop", "high", [flow(0.566), tap("return_static", -24), tap("filter_static", -130)]),
        ("filter_drop", "low", [flow(0.566), tap("return_static", -24.0), tap("filter_static", -24.5)]),
        ("return_drop", "high", [flow(0.566), tap("return_static", -90)]),
        ("coil_drop", "high", [flow(0.566), tap("supply_static", 160), tap("coil_out_static", 20)]),
        ("supply_drop", "high", [flow(0.566), tap("coil_out_static", 110)]),
        ("pickup", "same", [*air("return", 25.2, 50), *air("return_grille", 25.0, 50)]),
        ("pickup", "changed", [*air("return", 28.2, 45), *air("return_grille", 25.0, 50)]),
        ("layers", "apart", [*air("return", 25.2, 50), *air("return", 28.0, 45, point=2)]),
        ("layers", "even", [*air("return", 25.2, 50), *air("return", 25.4, 50, point=2)]),
        ("supply_layers", "apart", [*air("supply", 13.0, 90), *air("supply", 16.0, 80, point=2)]),
        ("superheat", "right", [*cooling_air(), *gauge("suction_line", 7.0, 14.0)]),
        ("superheat", "high", [*cooling_air(), *gauge("suction_line", 3.0, 22.0)]),
        ("superheat", "low", [*cooling_air(), *gauge("suction_line", 9.0, 9.3)]),
        ("subcooling", "right", [*cooling_air(), *gauge("liquid_line", 46.0, 40.0, 1)]),
        ("subcooling", "low", [*cooling_air(), *gauge("liquid_line", 42.0, 41.0, 1)]),
        ("subcooling", "high", [*cooling_air(), *gauge("liquid_line", 50.0, 36.0, 1)]),
        ("condensing", "high", [*cooling_air(), *gauge("liquid_line", 56.0, 50.0, 1)]),
        ("condensing", "right", [*cooling_air(), *gauge("liquid_line", 45.0, 40.0, 1)]),
        (
            "condenser_air",
            "high",
            [*cooling_air(), *air("condenser_in", 33.2, 40), reading("condenser_out", "dry_bulb", 52, "degC")],
        ),
        (
            "condenser_air",
            "low",
            [*cooling_air(), *air("condenser_in", 33.2, 40), reading("condenser_out", "dry_bulb", 35, "degC")],
        ),
        ("recirculation", "warmer", [*cooling_air(), *air("condenser_in", 38.0, 30)]),
        ("recirculation", "same", [*cooling_air(), *air("condenser_in", 33.4, 40)]),
        ("suction", "warm", [*cooling_air(), reading("suction_line", "pipe_temperature", 25, "degC")]),
        ("suction", "cold", [*cooling_air(), reading("suction_line", "pipe_temperature", -2, "degC")]),
        ("suction", "cool", [*cooling_air(), reading("suction_line", "pipe_temperature", 11, "degC")]),
        ("amps", "high", [*cooling_air(), reading("outdoor_unit", "current", 19, "A")]),
        ("amps", "right", [*cooling_air(), reading("outdoor_unit", "current", 12, "A")]),
        ("amps", "low", [*cooling_air(), reading("outdoor_unit", "current", 5, "A")]),
        ("rise", "right", [*warm_air(47), flow(0.566)]),
        ("rise", "high", [*warm_air(62), flow(0.37)]),
        ("rise", "low", [*warm_air(34), flow(0.9)]),
        ("outlet", "over", [*warm_air(64), flow(0.37)]),
        ("outlet", "under", [*warm_air(47), flow(0.566)]),
        ("heat", "high", [*warm_air(58), flow(0.62)]),
        ("heat", "right", [*warm_air(47), flow(0.566)]),
        ("heat", "low", [*warm_air(38), flow(0.566)]),
        ("flows", "apart", [*warm_air(47), flow(0.9)]),
        ("flows", "agree", [*warm_air(47), flow(0.57)]),
        ("steadiness", "steady", cooling_air()),
        ("arrow", "against", [entry("observation", {"item": "filter_arrow", "value": "against"})]),
        ("arrow", "agrees", [entry("observation", {"item": "filter_arrow", "value": "agrees"})]),
        ("pressure_known", "known", []),
        ("air_pressure", "agrees", [reading("outdoor", "air_pressure", 1012, "hPa")]),
        ("air_pressure", "differs", [reading("outdoor", "air_pressure", 840, "hPa")]),
        ("calibration", "valid", cooling_air()),
        ("frost", "yes", [entry("observation", {"item": "frost", "value": "yes"})]),
    ],
    ids=lambda value: value if isinstance(value, str) else "",
)
def test_every_look_takes_its_state(look: str, state: str, entries: list[dict[str, Any]]) -> None:
    found = observed(*entries)
    assert found[look].state == state
    assert found[look].words.say("SI")
    assert found[look].words.say("US")


def test_a_site_at_zero_without_a_barometer_may_be_one_that_nobody_set() -> None:
    assert observed(elevation_m=0.0)["pressure_known"].state == "unset"


def test_a_rooftop_unit_shows_its_outdoor_air() -> None:
    readings = [*air("return", 24, 50), *air("outdoor", 4, 60), *air("mixed", 12, 55)]
    assert observed(*readings, kind="packaged_rooftop", rated_total_w=35_000.0, economizer=True)["outdoor_share"].state == "large"


def test_registers_are_held_against_the_flow_at_the_unit() -> None:
    rooms = {"branches": [{"room": "A"}, {"room": "B"}]}
    each = [reading(f"register-{room}", "airflow", 0.2, "m3/s", instrument=None) for room in "ab"]
    for made in each:
        made["body"]["plus_minus"] = 0.006
    found = observed(*cooling_air(), flow(0.566), *each, **rooms)
    assert found["registers"].state == "low"
    assert observed(*cooling_air(), *each, **rooms).get("registers") is None, "nothing to hold them against"


def test_probes_a_little_apart_are_corrected_and_far_apart_are_a_sign() -> None:
    def match(apart: float) -> dict[str, Any]:
        probes = [
            {"instrument": name, "mean": 24.0 + shift, "scatter": 0.05, "samples": 60}
            for name, shift in (("A", 0.0), ("B", apart))
        ]
        return entry("match", {"quantity": "dry_bulb", "seconds": 120.0, "probes": probes})

    assert observed(match(0.2))["match"].state == "agree"
    assert observed(match(0.6)).get("match") is None, "too far for both, too near to condemn one"
    assert observed(match(3.0))["match"].state == "apart"


def test_what_is_too_close_to_call_is_not_known_or_leans() -> None:
    close = observed(*cooling_air(), flow(0.475))
    assert "airflow" not in close or (close["airflow"].state in ("low", "right") and close["airflow"].sure < 1.0)


def test_no_state_is_unknown_to_the_table() -> None:
    found = observed(*cooling_air(), flow(0.566), *SUNK, *gauge("suction_line", 7.0, 14.0))
    assert len(found) > 10
    assert all(sign.state in SYMPTOMS[key].states for key, sign in found.items())


def test_what_is_answered_instead_of_a_look_has_answers_of_its_own() -> None:
    instead = [each for each in SYMPTOMS.values() if each.item]
    assert instead
    for each in instead:
        assert len(ITEMS[each.item]) > 1
        assert not each.by_eye

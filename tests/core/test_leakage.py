"""The return leak test of a visit: what opens it, both answers together, when to come back, what it costs in parts."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.air import AirState
from fentro_core.base.calculation import run
from fentro_core.base.measured import Measured
from fentro_core.base.refusal import Refused
from fentro_core.base.units import CFM_M3S
from fentro_core.leakage.combined import combine, come_back, limit_at_25pa
from fentro_core.leakage.page import LeakPage
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.visit.work_up import work_up
from tests.core.visits import air, entry, flow, reading, snapshot, started, worked

DUCT = {"length_m": 7.0, "perimeter_m": 1.45, "resistance_m2k_per_w": 1.06}


def rh_of(dry_bulb: float, ratio: float) -> float:
    return 100 * AirState(dry_bulb, ratio).relative_humidity


def leaky(share: float, around_c: float = 46.0, around_w: float = 0.0200, room_w: float = 0.0096, m3s: float = 0.66) -> list[Any]:
    """Readings of a return that draws in this share, without anything through its wall."""
    mixed_c, mixed_w = (1 - share) * 24.5 + share * around_c, (1 - share) * room_w + share * around_w
    return [
        started(),
        *air("return_grille", 24.5, rh_of(24.5, room_w)),
        *(each for point in (1, 2) for each in air("return", mixed_c, rh_of(mixed_c, mixed_w), point=point)),
        *air("surroundings", around_c, rh_of(around_c, around_w)),
        *air("supply", 13.5, 92),
        *air("outdoor", 34.0, 40),
        flow(m3s),
        reading("return_static", "static_pressure", -62.0, "Pa"),
    ]


def page(entries: list[Any], **plate: Any) -> LeakPage:
    found = (
        work_up(read_snapshot(snapshot(entries, "furnace_with_coil", **{"rated_total_w": 12_000.0, **plate})))
        .phases[0]
        .pages.leakage
    )
    assert found
    return found


def number(found: LeakPage, key: str) -> Any:
    return next(each for each in found.results if each.key == key).quantity


def test_both_answers_find_the_share_and_agree() -> None:
    found = page(leaky(0.10))
    assert number(found, "leak_by_heat").value == pytest.approx(0.10, abs=0.003)
    assert number(found, "leak_by_moisture").value == pytest.approx(0.10, abs=0.003)
    assert number(found, "leak_share").value == pytest.approx(0.10, abs=0.003)
    widths = [number(found, key).plus_minus for key in ("leak_by_heat", "leak_by_moisture")]
    assert number(found, "leak_share").plus_minus < 1.1 * min(widths), "one probe read everything: its error is in both"
    assert found.mark == "off"
    assert found.disagreement is None
    assert number(found, "leak_flow").value == pytest.approx(0.066, rel=0.03)
    assert number(found, "leak_at_25pa").value == pytest.approx(0.066 * (25 / 31) ** 0.6, rel=0.03)


def test_a_tight_return_holds_and_below_zero_is_a_mistake() -> None:
    assert page(leaky(0.0)).mark == "holds"
    wrong = page(leaky(-0.12))
    assert wrong.mark == "off"
    assert "below zero" in wrong.verdict.say()


def test_what_comes_through_the_wall_is_taken_off_and_costs_apart() -> None:
    bare, noted = page(leaky(0.10)), page([*leaky(0.10), entry("return_duct", DUCT)])
    wall = 7.0 * 1.45 / 1.06 * (46.0 - (24.5 + 26.65) / 2)
    mass = 0.66 / AirState(26.65, 0.0106).specific_volume_m3_per_kg
    taken = wall / (mass * 1023) / 21.5
    assert number(bare, "leak_by_heat").value - number(noted, "leak_by_heat").value == pytest.approx(taken, rel=0.03)
    parts = number(noted, "lost_to_leak").value + number(noted, "lost_to_wall").value
    assert parts == pytest.approx(number(noted, "capacity_lost").value)
    assert number(noted, "lost_to_wall").value > 0
    assert number(bare, "lost_to_wall").value == pytest.approx(0.0, abs=1e-9)


def test_answers_further_apart_than_both_can_explain_are_said_with_reasons() -> None:
    wet = leaky(0.10)
    wet = [each for each in wet if each["body"].get("station") != "return"]
    mixed = [*air("return", 26.65, rh_of(26.65, 0.0120)), *air("return", 26.65, rh_of(26.65, 0.0120), point=2)]
    found = page([*wet, *mixed])
    assert found.disagreement
    assert any("insulation" in each.say() for each in found.explains)


@given(
    st.floats(-0.1, 0.5),
    st.floats(0.005, 0.1),
    st.floats(-0.1, 0.5),
    st.floats(0.005, 0.1),
)
def test_together_they_lie_between_and_are_surer_than_either(one: float, w1: float, other: float, w2: float) -> None:
    both = combine(Measured(one, {"a": w1}), Measured(other, {"b": w2}))
    assert both
    assert min(one, other) - 1e-9 <= both.share.value <= max(one, other) + 1e-9
    assert both.agree == (abs(one - other) <= (w1**2 + w2**2) ** 0.5)
    if both.agree:
        assert both.share.plus_minus <= min(w1, w2) + 1e-12
    else:
        assert both.share.low <= min(one, other) + 1e-9
        assert both.share.high >= max(one, other) - 1e-9
    alone = combine(None, Measured(other, {"b": w2}))
    assert alone
    assert alone.share.value == other


def test_when_it_is_too_much_alike_it_says_when_to_come_back() -> None:
    found = page(leaky(0.1, around_c=28.0, around_w=0.0100))
    assert not found.results
    words = found.come_back.say()
    assert "32.5 °C" in words
    assert "16.5 °C" in words
    assert come_back(AirState.from_rh(24, 0.5), AirState.from_rh(27, 0.4)).numbers["warm"].value == 32.0


def test_moisture_alone_where_it_is_as_warm_around() -> None:
    found = page(leaky(0.10, around_c=27.0, around_w=0.016))
    assert [each.key for each in found.results][:2] == ["leak_share", "leak_by_moisture"]
    assert number(found, "leak_share").value == pytest.approx(0.10, abs=0.01)


def opened(*more: Any, supply: float = 13.5) -> str:
    readings = [started(), *air("return", 26.6, 47), *air("supply", supply, 92), *air("outdoor", 34, 40), flow(0.566), *more]
    return " ".join(each.say() for each in page(readings, rated_total_w=10_550.0, rated_airflow_m3s=0.566).opened)


def test_four_quick_signs_open_the_test_by_themselves() -> None:
    assert opened() == ""
    assert "from the grille" in opened(*air("return_grille", 24.0, 50))
    assert "Points across" in opened(*air("return", 29.9, 40, point=2))
    assert "right airflow" in opened(supply=19.0)
    assert "better when it is cool" in opened(entry("observation", {"item": "better_when_cool", "value": "yes"}))


def test_an_opened_test_says_what_is_still_to_read_and_stands_in_the_verdicts() -> None:
    readings = [started(), *air("return", 26.6, 47), *air("supply", 13.5, 92), *air("return_grille", 24.0, 50), flow(0.6)]
    phase = work_up(read_snapshot(snapshot(readings, rated_total_w=12_000.0))).phases[0]
    assert phase.pages.leakage.begun
    assert [(each.words, each.station) for each in phase.pages.leakage.missing] == [
        ("Air around the duct: dry bulb and humidity", "surroundings")
    ]
    line = next(each for each in phase.verdicts if each.key == "leak")
    assert line.opens == "leakage"


def test_the_limit_is_the_users_by_floor() -> None:
    assert limit_at_25pa(1000 * 0.3048**2) == pytest.approx(40 * CFM_M3S)
    small = page([*leaky(0.10), entry("return_duct", {**DUCT, "floor_area_m2": 90.0})])
    assert "over your limit" in small.limit.say()
    assert "does not certify" in small.limit.say()
    strict = page([*leaky(0.10), entry("return_duct", {**DUCT, "floor_area_m2": 2000.0, "limit_m3s_per_m2": 1e-5})])
    assert "over your limit" in strict.limit.say()
    large = page([*leaky(0.10), entry("return_duct", {**DUCT, "floor_area_m2": 2000.0})])
    assert "under your limit" in large.limit.say()


def test_in_heating_the_signs_turn() -> None:
    cold = [
        started(),
        *air("return_grille", 20.5, 35),
        *air("return", 18.0, 38),
        *air("return", 18.0, 38, point=2),
        *air("surroundings", 0.0, 60),
        *air("supply", 48.0, 7),
        flow(0.55),
        reading("return_static", "static_pressure", -40, "Pa"),
    ]
    found = page(cold, heating_input_w=23_500.0, rise_low_k=19.4, rise_high_k=36.1)
    assert number(found, "leak_by_heat").value == pytest.approx(2.5 / 20.5, rel=0.02)
    assert number(found, "capacity_lost").value > 0


def test_two_stories_are_not_averaged_into_a_sure_one() -> None:
    """4 ±1 and 16 ±3 is not 5 ±1."""
    both = combine(Measured(0.04, {"heat": 0.01}), Measured(0.16, {"moisture": 0.03}))
    assert both
    assert not both.agree
    assert both.share.value == pytest.approx(0.10)
    assert 0.06 < both.share.plus_minus < 0.07


def test_the_loss_beside_a_share_is_the_loss_of_that_share() -> None:
    """Share drawn in times what that air brings, and the wall, over what the unit gives."""
    worked_out = worked(snapshot(leaky(0.15)))
    values = {key: worked_out.measured[key].value for key in ("leak_share", "capacity_lost", "lost_to_leak", "lost_to_wall")}
    assert values["capacity_lost"] == pytest.approx(values["lost_to_leak"] + values["lost_to_wall"])
    grille, around, supply = AirState(24.5, 0.0096), AirState(46.0, 0.02), AirState.from_rh(13.5, 0.92)
    mixed = AirState(0.85 * 24.5 + 0.15 * 46.0, 0.85 * 0.0096 + 0.15 * 0.02)
    brought = around.enthalpy_j_per_kg - grille.enthalpy_j_per_kg
    given = mixed.enthalpy_j_per_kg - supply.enthalpy_j_per_kg
    assert values["lost_to_leak"] == pytest.approx(values["leak_share"] * brought / given, rel=0.01)


STATES: dict[str, Any] = {
    "grille": {"dry_bulb_c": 24.5, "humidity_ratio": 0.0096},
    "mixed": {"dry_bulb_c": 26.5, "humidity_ratio": 0.0099},
    "around": {"dry_bulb_c": 46.0, "humidity_ratio": 0.0135},
    "supply": {"dry_bulb_c": 13.5, "relative_humidity": 0.92},
    "airflow_m3s": 0.66,
}


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"duct": {**DUCT, "resistance_m2k_per_w": 0}}, "duct.resistance_m2k_per_w"),
        ({"duct": {**DUCT, "length_m": -1}}, "duct.length_m"),
        ({"duct": {**DUCT, "perimeter_m": 0.0}}, "duct.perimeter_m"),
        ({"around": {**STATES["around"], "pressure_pa": 83_000}}, "around.pressure_pa"),
        ({"around": {"dry_bulb_c": 25.0, "humidity_ratio": 0.0097}}, "around"),
        ({"static_pa": 9_000}, "static_pa"),
        ({"airflow_m3s": -0.1}, "airflow_m3s"),
    ],
)
def test_a_leak_test_that_cannot_be_is_refused_at_its_field(change: dict[str, Any], path: str) -> None:
    with pytest.raises(Refused) as refused:
        run("leakage.return_side", {**STATES, **change})
    assert refused.value.path == path


def test_what_cannot_be_told_is_left_out_not_made_up() -> None:
    """Equal temperatures, or a supply like the mixed air, gave shares of a thousand million."""
    alike = run("leakage.return_side", {**STATES, "around": {"dry_bulb_c": 24.5, "humidity_ratio": 0.0135}})["result"]
    assert alike["share_by_heat"] is None
    assert alike["share_by_moisture"]["value"] == pytest.approx(0.077, abs=0.001)
    resting = run("leakage.return_side", {**STATES, "supply": STATES["mixed"]})["result"]
    assert resting["capacity_share_lost"] is None
    assert resting["leak_at_25pa_m3s"] is None
    assert resting["share_by_heat"]["value"] == pytest.approx(0.093, abs=0.001)


def test_opening_is_that_of_the_air_drawn_in() -> None:
    """By hand: share of the mass, at the attic's density, through a hole of 0.6 at half of the static."""
    found = run("leakage.return_side", {**STATES, "duct": DUCT, "static_pa": -62.0})["result"]
    assert found["opening_area_m2"]["kind"] == "opening"
    assert 0.008 < found["opening_area_m2"]["value"] < 0.013

"""The table of causes and its engine: what ranks first, what is never accused, which look is proposed, what is remembered."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.base.measured import Measured
from fentro_core.base.refusal import Refused
from fentro_core.diagnosis.cause import AREAS, CAUSES
from fentro_core.diagnosis.engine import expected, fits, next_look, out_of_order, rank
from fentro_core.diagnosis.signs import state_of
from fentro_core.diagnosis.symptom import SYMPTOMS
from fentro_core.logbook.entry import read_entry
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.visit.results import PhaseResult
from fentro_core.visit.work_up import work_up
from tests.core.visits import air, entry, flow, reading, snapshot, started

STATIONS = {
    "return",
    "supply",
    "outdoor",
    "return_static",
    "filter_static",
    "coil_out_static",
    "supply_static",
    "return_grille",
    "surroundings",
    "suction_line",
    "liquid_line",
    "condenser_in",
    "condenser_out",
    "outdoor_unit",
    "return_traverse",
}
SOUND = {"change": "cools", "split": "target", "capacity": "right"}


def test_there_are_forty_causes_over_every_part() -> None:
    assert len(CAUSES) >= 40
    assert {cause.area for cause in CAUSES.values()} == set(AREAS)


@pytest.mark.parametrize("key", CAUSES)
def test_every_cause_is_whole(key: str) -> None:
    cause = CAUSES[key]
    assert cause.why.endswith(".")
    assert cause.do.endswith(".")
    assert cause.who
    assert cause.proof in cause.shows, "what proves it best is among what it shows"
    assert len(cause.shows) >= 2, "never one sign alone"
    for look, states in expected(key).items():
        assert states <= set(SYMPTOMS[look].states), look
    shows = {look: sorted(states)[0] for look, states in expected(key).items() if SYMPTOMS[look].ordinary not in states}
    assert shows, "a cause leaves something out of order"
    kind = cause.kinds[0] if cause.kinds else "split_heat_pump"
    assert key in [each.cause.key for each in rank(shows, cause.mode, kind)[:4]], "it is found by its own signs"


def test_every_look_says_how_and_who() -> None:
    for look in SYMPTOMS.values():
        assert look.ask
        assert look.who
        assert look.minutes > 0
        assert look.ordinary in look.states or look.ordinary == ""
    assert {"filter_seen", "better_when_cool"} <= {look.key for look in SYMPTOMS.values() if look.by_eye}


@given(st.lists(st.sampled_from(sorted(SYMPTOMS)), max_size=30), st.sampled_from(["cooling", "heating", ""]))
def test_a_sound_system_is_never_accused(looks: list[str], mode: str) -> None:
    states = {key: SYMPTOMS[key].ordinary for key in looks if SYMPTOMS[key].ordinary}
    assert out_of_order(states) == []
    assert rank(states, mode, "furnace_with_coil") == []


@given(st.dictionaries(st.sampled_from(sorted(SYMPTOMS)), st.integers(0, 2), max_size=12))
def test_signs_for_add_and_signs_against_take_away(given_: dict[str, int]) -> None:
    states = {key: sorted(SYMPTOMS[key].states)[which % len(SYMPTOMS[key].states)] for key, which in given_.items()}
    for ranked in rank(states, "", "split_heat_pump"):
        shown = {*ranked.seen, *ranked.ordinary, *ranked.against, *ranked.unexplained}
        assert shown <= set(states)
        for key in ranked.against:
            without = fits(ranked.cause, {each: state for each, state in states.items() if each != key})
            assert without.fit > ranked.fit
        for key in ranked.seen:
            without = fits(ranked.cause, {each: state for each, state in states.items() if each != key})
            assert without.fit < ranked.fit


def test_one_sign_alone_is_no_likely_cause() -> None:
    ranked = rank({"airflow": "low", "filter_drop": "right"}, "cooling", "furnace_with_coil")
    assert ranked
    assert not any(each.likely for each in ranked)
    assert rank({"airflow": "low", "filter_drop": "high"}, "cooling", "furnace_with_coil")[0].likely


def test_order_is_by_fit_and_then_by_the_cost_of_the_check() -> None:
    ranked = rank({"airflow": "low"}, "cooling", "furnace_with_coil")
    keys = [(-each.fit, SYMPTOMS[each.cause.proof].minutes) for each in ranked]
    assert keys == sorted(keys)
    assert len({each.fit for each in ranked}) < len(ranked), "some fit alike, so the cost decides"


def test_a_sign_that_only_leans_accuses_nobody_but_counts_beside_a_clear_one() -> None:
    states = {"split": "low", "capacity": "low"}
    assert rank(states, "cooling", "split_heat_pump", {"split": 0.6, "capacity": 0.5}) == []
    both, one = (rank(given_, "cooling", "split_heat_pump", {"capacity": 0.5})[0] for given_ in (states, {"split": "low"}))
    assert both.fit > one.fit


def test_the_next_look_separates_the_leading_causes() -> None:
    states = {"airflow": "low", "split": "high", "static": "high"}
    ranked = rank(states, "cooling", "furnace_with_coil")
    look = next_look(ranked, states, "cooling", "furnace_with_coil", STATIONS)
    assert look
    assert look.bits > 0
    assert look.look.key not in states
    told = {each.cause.key: expected(each.cause.key).get(look.look.key) for each in ranked[:5]}
    assert len({tuple(sorted(each)) if each else () for each in told.values()}) > 1, "they do not all show the same"


def test_a_look_that_is_answered_is_not_asked_again_and_moves_the_ranking() -> None:
    states = {"airflow": "low", "split": "high"}
    first = next_look(rank(states, "cooling", "furnace_with_coil"), states, "cooling", "furnace_with_coil", STATIONS)
    assert first
    for _ in range(8):
        ranked = rank(states, "cooling", "furnace_with_coil")
        look = next_look(ranked, states, "cooling", "furnace_with_coil", STATIONS)
        if look is None:
            break
        assert look.look.key not in states
        states[look.look.key] = "yes" if look.look.key == "wheel_dirty" else look.look.ordinary
    answered = {**states, "wheel_dirty": "yes"}
    assert rank(answered, "cooling", "furnace_with_coil")[0].cause.key == "wheel_dirty"


def test_without_a_station_its_look_is_not_proposed() -> None:
    states = {"split": "low", "capacity": "low", "airflow": "right"}
    ranked = rank(states, "cooling", "furnace_with_coil")
    look = next_look(ranked, states, "cooling", "furnace_with_coil", ())
    assert look is None or not look.look.stations


@pytest.mark.parametrize(
    ("value", "width", "state"), [(3.0, 0.5, "high"), (-3.0, 0.5, "low"), (0.0, 0.5, "right"), (1.7, 1.0, None)]
)
def test_a_state_is_as_sure_as_its_number(value: float, width: float, state: str | None) -> None:
    found, sure = state_of(Measured(value, {"a": width}), -1.7, 1.7)
    if state is None:
        assert 0.45 < sure < 0.55
    else:
        assert (found, sure > 0.95) == (state, True)


# through whole visits

PLATE = {
    "rated_total_w": 10_550.0,
    "rated_airflow_m3s": 0.566,
    "rated_sensible_heat_ratio": 0.76,
    "max_external_static_pa": 130.0,
    "refrigerant": "R-410A",
    "metering": "valve",
    "subcooling_k": 6.0,
}
LOW_CHARGE = [
    started(),
    *air("return", 25.0, 50, minute=20),
    *air("supply", 16.0, 85, minute=22),
    *air("outdoor", 33.0, 40, minute=23),
    flow(0.566),
    reading("suction_line", "pipe_temperature", 25.0, "degC"),
    reading("suction_line", "gauge_pressure", 700, "kPa"),
    reading("liquid_line", "pipe_temperature", 41.5, "degC"),
    reading("liquid_line", "gauge_pressure", 2450, "kPa"),
]


def worked(entries: list[dict[str, Any]], **plate: Any) -> PhaseResult:
    return work_up(read_snapshot(snapshot(entries, **{**PLATE, **plate}))).phases[0]


def test_a_visit_gets_its_leading_cause_with_signs_and_numbers() -> None:
    phase = worked(LOW_CHARGE)
    first = phase.findings[0]
    assert first.key == "low_charge"
    assert first.likely
    assert any("Suction line warm" in each.say() and "25.0 °C" in each.say() for each in first.seen)
    assert first.who == "Certified refrigerant technician"
    assert "certified" in first.caution
    assert first.chance > 0.9
    assert len(phase.findings) <= 6
    line = phase.verdicts[0]
    assert (line.key, line.opens) == ("finding", "causes")


def test_a_sound_visit_gets_none() -> None:
    phase = worked([started(), *air("return", 25.0, 50), *air("supply", 12.9, 88), *air("outdoor", 33.0, 40), flow(0.566)])
    assert all(each.faint and not each.likely for each in phase.findings)
    assert phase.sound > 0.4
    assert not any(line.key == "finding" for line in phase.verdicts)


def test_a_rejected_cause_is_remembered_with_its_reason_and_can_come_back() -> None:
    rejection = entry("rejection", {"cause": "low_charge", "why": "weighed in last week"}, 30)
    phase = worked([*LOW_CHARGE, rejection])
    assert phase.findings[0].key != "low_charge"
    last = phase.findings[-1]
    assert (last.key, last.why_not, last.rejection) == ("low_charge", "weighed in last week", rejection["id"])
    back = worked([*LOW_CHARGE, rejection, entry("withdrawal", {}, 31, replaces=rejection["id"])])
    assert back.findings[0].key == "low_charge"


def test_what_is_answered_by_eye_becomes_a_sign() -> None:
    phase = worked([*LOW_CHARGE[:-4], entry("observation", {"item": "compressor_silent", "value": "yes"}, 30)])
    assert any("Compressor stands still: yes" in each.say() for finding in phase.findings for each in finding.unexplained)


def test_a_visit_read_too_early_blames_that_first() -> None:
    early = [{**each, "at": "2026-07-01T10:04:00+00:00"} if each["kind"] == "reading" else each for each in LOW_CHARGE[:-4]]
    assert worked(early).findings[0].key == "too_early"


@pytest.mark.parametrize(
    ("kind", "body", "path"),
    [
        ("rejection", {"cause": "gremlins", "why": "x"}, "body.cause"),
        ("rejection", {"cause": "low_charge", "why": " "}, "body.why"),
        ("observation", {"item": "frost", "value": "maybe"}, "body.value"),
        ("observation", {"item": "smell", "value": "yes"}, "body.item"),
        ("return_duct", {"length_m": 0, "perimeter_m": 1.4, "resistance_m2k_per_w": 1.0}, "body.length_m"),
        ("return_duct", {"length_m": 7, "perimeter_m": 1.4, "resistance_m2k_per_w": 1.0, "where": "moon"}, "body.where"),
    ],
)
def test_what_can_not_be_noted_is_refused_at_its_field(kind: str, body: dict[str, Any], path: str) -> None:
    with pytest.raises(Refused) as refused:
        read_entry(entry(kind, body))
    assert refused.value.path == path


def test_schools_stand_side_by_side_and_the_units_own_is_used() -> None:
    schools = {school.key: school for school in worked(LOW_CHARGE).pages.cooling.targets}
    assert list(schools) == ["band", "humidity", "own"]
    assert [school.used for school in schools.values()] == [False, False, True]
    assert schools["own"].mark == "off"
    assert all(school.reason for school in schools.values())
    without = {school.key: school for school in worked([*air("return", 25, 50), *air("supply", 13, 88)]).pages.cooling.targets}
    assert without["band"].used
    assert not without["own"].used


def test_the_four_way_point_carries_its_half_widths() -> None:
    four = worked(LOW_CHARGE).pages.cooling.four_way
    assert four
    assert four.split.value < -four.tolerance_split
    assert four.capacity.value < 1 - four.tolerance_capacity
    assert min(four.split.plus_minus, four.capacity.plus_minus) > 0
    assert "Small split and little cooling" in four.reading.say()


def test_the_blowers_heat_makes_the_expected_split_smaller() -> None:
    plain = [started(), *air("return", 25.0, 50), *air("supply", 13.0, 88), *air("outdoor", 33.0, 40), flow(0.566)]
    power = reading("blower_feed", "electric_power", 480, "W", instrument=None)

    def target(entries: list[Any], kind: str) -> float:
        phase = work_up(read_snapshot(snapshot(entries, kind, **PLATE))).phases[0]
        return next(each for each in phase.results if each.key == "target_split").quantity.value

    assert target(plain, "split_heat_pump") - target([*plain, power], "split_heat_pump") == pytest.approx(
        480 / (0.566 * 1.17 * 1020), rel=0.05
    )
    assert target(plain, "furnace_with_coil") == target([*plain, power], "furnace_with_coil"), "before the coil it does not count"

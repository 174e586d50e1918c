"""The next look: what it is worth, what one place answers at once, and what is not asked for."""

from __future__ import annotations

from math import log2
from typing import Any

import pytest

from fentro_core.diagnosis.findings import check
from fentro_core.diagnosis.people import ANYONE, DRAFT, HEIGHT, POWER_OFF, TECHNICIAN
from fentro_core.diagnosis.places import AT, BLOWER, EACH_MORE_MINUTES
from fentro_core.diagnosis.symptom import SYMPTOMS
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.machine.findings import SHOWN_FROM
from fentro_core.machine.looks import FEW, NEARER_BITS, NO_TAPS_FROM, TAPS, Worth, _in_mixture, _told
from fentro_core.visit.results import PhaseResult
from fentro_core.visit.work_up import work_up
from tests.core.visits import air, entry, flow, reading, snapshot, started

STATICS = (("return", -13), ("filter", -27), ("supply", 42), ("coil_out", 17))


def low_flow(*more: Any, taps: bool = True) -> PhaseResult:
    """Little air: several causes are alike; without `taps` even more."""
    plate = {"rated_total_w": 10_550.0, "rated_airflow_m3s": 0.566, "refrigerant": "R-410A", "metering": "valve"}
    entries = [
        started(),
        *air("return", 25.0, 50, minute=20),
        *air("supply", 10.2, 93, minute=22),
        *air("outdoor", 33.0, 40, minute=23),
        flow(0.40),
        *(reading(f"{tap}_static", "static_pressure", pascal, "Pa") for tap, pascal in (STATICS if taps else ())),
        *more,
    ]
    return work_up(read_snapshot(snapshot(entries, **plate))).phases[0]


def test_little_air_at_little_resistance_is_the_blower_and_no_filter() -> None:
    phase = low_flow()
    blower, told = {"blower_low", "wheel_dirty", "motor_weak", "belt_slips"}, [each.key for each in phase.findings[:3]]
    assert told[0] in blower
    assert len(blower & set(told)) >= 2
    assert not {"filter_clogged", "filter_thick"} & set(told)
    assert not phase.findings[0].likely, "they are alike"
    assert phase.next_check
    assert phase.next_check.between


def test_an_answer_decides_and_what_cant_be_seen_is_not_asked_again() -> None:
    asked: set[str] = set()
    seen: list[Any] = []
    for minute in range(30, 36):
        check = low_flow(*seen).next_check
        assert check
        assert check.key not in asked
        asked.add(check.key)
        seen.append(entry("observation", {"item": check.key, "value": "cant"}, minute))
    told = low_flow(*seen[:1], entry("observation", {"item": "wheel_dirty", "value": "yes"}, 50))
    assert told.findings[0].key == "wheel_dirty"
    assert told.findings[0].chance > 0.5


def taps_asked_for(*read: Any) -> list[str]:
    """Looks at pressures that are asked for, one after the other, where nothing that is asked for can be had."""
    asked: list[str] = []
    seen = list(read)
    for minute in range(30, 45):
        check = low_flow(*seen, taps=False).next_check
        if check is None:
            break
        asked.append(check.key)
        seen.append(entry("observation", {"item": check.key, "value": "cant"}, minute))
    return [key for key in asked if key in TAPS]


def test_without_a_manometer_pressures_are_asked_for_twice_and_with_one_at_every_tap() -> None:
    assert len(taps_asked_for()) == NO_TAPS_FROM
    assert len(taps_asked_for(reading("supply_static", "static_pressure", 60.0, "Pa"))) > NO_TAPS_FROM


def test_the_arrow_is_not_asked_for_where_the_air_changes_the_right_way() -> None:
    asked: set[str] = set()
    seen: list[Any] = []
    for minute in range(30, 60):
        check_ = low_flow(*seen).next_check
        if check_ is None:
            break
        keys = [each.key for each in check_.choices] or [check_.key]
        asked |= set(keys)
        seen += [entry("observation", {"item": key, "value": "cant"}, minute) for key in keys]
    assert len(asked) > 8
    assert "arrow" not in asked
    assert "air_backwards" not in {each.key for each in low_flow().findings}


@pytest.mark.parametrize(("arrow", "asked", "likely"), [("", True, False), ("against", False, False), ("agrees", False, True)])
def test_where_air_gets_warmer_in_a_unit_that_cools_its_way_is_asked_for_before_anything_is_likely(
    arrow: str, asked: bool, likely: bool
) -> None:
    seen = [entry("observation", {"item": "filter_arrow", "value": arrow}, 25)] if arrow else []
    airs = [*air("return", 12.0, 93), *air("supply", 25.0, 50), *air("outdoor", 33.0, 40)]
    phase = work_up(read_snapshot(snapshot([started(), *airs, *seen], rated_total_w=10_550.0, rated_airflow_m3s=0.566))).phases[0]
    assert phase.next_check is not None
    assert (phase.next_check.key == "arrow") is asked
    assert (phase.next_check.item == "filter_arrow") is asked
    first = "No cause is sure yet. First: Look at the arrow on the filter's frame."
    assert (first in {line.sentence.text for line in phase.verdicts}) is asked
    assert any(each.likely for each in phase.findings) is likely


def test_whoever_opens_the_blower_is_asked_for_all_that_is_seen_there() -> None:
    seen: list[Any] = []
    for minute in range(30, 40):
        check = low_flow(*seen).next_check
        assert check
        if check.choices and SYMPTOMS[check.key].place == BLOWER:
            break
        seen += [
            entry("observation", {"item": key, "value": "cant"}, minute)
            for key in (each.key for each in check.choices or (check,))  # type: ignore[attr-defined]
        ]
    keys = [each.key for each in check.choices]
    assert keys[0] == check.key
    assert {"tap_low", "wheel_dirty"} <= set(keys), "what a roof's belt does is asked of a roof alone"
    assert "belt_slips" not in keys
    assert check.ask == AT[BLOWER]
    assert check.minutes == 12 + EACH_MORE_MINUTES * (len(keys) - 1), "the wheel takes twelve"
    assert check.caution == POWER_OFF
    answered = [entry("observation", {"item": keys[0], "value": "no"}, 50)]
    again = low_flow(*seen, *answered).next_check
    assert again
    assert keys[0] not in {again.key, *(each.key for each in again.choices)}, (
        "what is left open may be asked for, what is not isn't"
    )


def test_a_place_is_named_by_what_it_takes_most_of_all_it_answers() -> None:
    plate = read_snapshot(snapshot([], kind="furnace_with_coil", heating_input_w=23_000.0)).system.nameplate
    ask = check(SYMPTOMS["filter_seen"], plate, (), 0.5, (SYMPTOMS["filter_thick"],))
    assert (SYMPTOMS["filter_seen"].who, ask.who) == (ANYONE, TECHNICIAN)
    ask = check(SYMPTOMS["duct_crushed"], plate, (), 0.5, (SYMPTOMS["supply_open"],))
    assert DRAFT in ask.caution, "one of both stands near a flame"
    assert HEIGHT in ask.caution
    alone = check(SYMPTOMS["duct_crushed"], plate, (), 0.5)
    assert (alone.choices, alone.ask) == ((), SYMPTOMS["duct_crushed"].ask)
    assert DRAFT not in alone.caution


def test_places_answer_more_than_one_question_each_by_eye() -> None:
    found: dict[str, list[str]] = {}
    for look in SYMPTOMS.values():
        if look.place:
            assert look.by_eye, look.key
            assert not look.apart, look.key
            found.setdefault(look.place, []).append(look.key)
    assert set(found) == set(AT)
    assert all(len(keys) > 1 for keys in found.values()), found


def test_an_answer_is_worth_its_bits_and_that_it_brings_the_true_cause_among_the_first_three() -> None:
    alike = {"a": 0.2, "b": 0.2, "c": 0.2, "d": 0.2, "": 0.2}
    fourth = {key: {"yes": float(key == "d"), "no": float(key != "d")} for key in alike}
    worth = _told(fourth, alike)
    assert worth.bits == pytest.approx(-0.2 * log2(0.2) - 0.8 * log2(0.8))
    assert worth.nearer == pytest.approx(0.2), "yes: the fourth alone; no: three of three"
    assert worth.value == pytest.approx(worth.bits + NEARER_BITS * 0.2)
    sound = {key: {"yes": float(key == ""), "no": float(key != "")} for key in alike}
    assert _told(sound, alike).nearer == pytest.approx(0.0), "that a machine is sound moves no cause"
    assert _told(sound, alike).bits > 0.5
    same = {key: {"yes": 0.3, "no": 0.7} for key in alike}
    assert _told(same, alike) == pytest.approx((0.0, 0.0))


def test_a_reading_that_puts_the_fourth_elsewhere_brings_it_nearer() -> None:
    shown = [(0.0, 0.2, True), (0.0, 0.2, True), (0.0, 0.2, True), (9.0, 0.2, True), (0.0, 0.2, False)]
    worth = _in_mixture(shown)
    assert worth.nearer == pytest.approx(0.2, abs=0.01)
    assert worth.bits == pytest.approx(-0.2 * log2(0.2) - 0.8 * log2(0.8), abs=0.02)
    assert _in_mixture([(0.0, 0.5, True), (0.0, 0.5, False)]) == Worth()


def test_behind_a_likely_cause_the_list_is_filled_up_faintly() -> None:
    told = low_flow(entry("observation", {"item": "wheel_dirty", "value": "yes"}, 50)).findings
    assert len(told) >= FEW
    assert not told[0].faint
    assert [each.faint for each in told] == [each.chance < SHOWN_FROM for each in told]

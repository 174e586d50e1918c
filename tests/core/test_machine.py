"""The machine's model and its chances: what a cause moves, which way; what is never said; what the next look is worth."""

from __future__ import annotations

import os
import subprocess
import sys
from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench.stranger.coverage import coverage
from bench.stranger.faults import FAULTS, SOUNDS, all_cases, drawn, pairs
from bench.stranger.score import visited
from bench.stranger.technician import Technician
from fentro_core.air.saturation import saturated_ratio as exact_ratio
from fentro_core.air.state import AirState
from fentro_core.base.measured import Measured
from fentro_core.diagnosis.cause import CAUSES
from fentro_core.diagnosis.engine import rank
from fentro_core.diagnosis.symptom import SYMPTOMS
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.machine.findings import APART, shared
from fentro_core.machine.judge import SOUND_BEFOREHAND, Judging, operations
from fentro_core.machine.judge import settings as settings_of
from fentro_core.machine.knobs import NAMES, Knobs
from fentro_core.machine.looks import FEW, next_look
from fentro_core.machine.model import saturated_ratio, shows, wet_bulb
from fentro_core.machine.site import DWELLING_PA, ROOF_PA, Site
from fentro_core.machine.weigh import chance, misses, weights
from fentro_core.visit.work_up import work_up
from tests.core.visits import air, flow, reading, snapshot, started

ROOM, OUT = AirState.from_rh(25.0, 0.5), AirState.from_rh(35.0, 0.4)


def a_site(**more: Any) -> Site:
    given_ = {
        "room_t": Measured(25.0, {"probe": 0.5}),
        "room_w": Measured(ROOM.humidity_ratio, {"probe": 0.0006}),
        "outdoor_t": Measured(35.0, {"probe": 0.5}),
        "outdoor_w": Measured(OUT.humidity_ratio, {"probe": 0.0006}),
        "around_t": Measured(45.0, {"probe": 0.5}),
        "around_w": Measured(0.014, {"probe": 0.0006}),
    }
    plain = Site(
        cooling=True,
        gas=False,
        pump=True,
        roof=False,
        metering="valve",
        plated_subcooling=True,
        total_w=10_550.0,
        rated_m3s=0.566,
        sensible_share=0.75,
        input_w=0.0,
        efficiency=0.8,
        pump_heat_w=10_550.0,
        subcooling_k=6.0,
        amps=16.0,
        drops=DWELLING_PA,
        pressure_pa=101_325.0,
        takes_outdoor=False,
        inlet="return_grille",
        given=given_,
        read={},
    )
    return replace(plain, **more)


def moved(site: Site | None = None, **knobs: float) -> dict[str, float]:
    """By how much each place reads more, with these knobs turned."""
    site = site or a_site()
    sound, turned = shows(site, Knobs()), shows(site, Knobs().turned(**knobs))
    return {name: turned[name] - sound[name] for name in sound}


@pytest.mark.parametrize("celsius", [0.5, 12.0, 24.0, 40.0])
def test_quick_saturation_is_that_of_the_air_itself(celsius: float) -> None:
    assert saturated_ratio(celsius, 101_325.0) == pytest.approx(exact_ratio(celsius, 101_325.0), rel=0.005)


@pytest.mark.parametrize(("celsius", "rh"), [(24.0, 0.5), (27.0, 0.3), (20.0, 0.9), (35.0, 0.2)])
def test_quick_wet_bulb_is_near_enough(celsius: float, rh: float) -> None:
    exact = AirState.from_rh(celsius, rh)
    assert wet_bulb(celsius, exact.humidity_ratio, 101_325.0) == pytest.approx(exact.wet_bulb_c, abs=0.15)


def test_a_sound_machine_at_rating_gives_its_rating() -> None:
    rated = AirState.from_wet_bulb(26.7, 19.44)
    given_ = {**a_site().given, "room_t": Measured(26.7), "room_w": Measured(rated.humidity_ratio)}
    site = a_site(given=given_, inlet="return")
    found = shows(site, Knobs().turned(yields=0.0))
    supply = AirState(found["supply_t"], found["supply_w"])
    mass = found["flow"] * 1.19
    cooled = mass * (rated.enthalpy_j_per_kg - supply.enthalpy_j_per_kg)
    fan = sum(DWELLING_PA.values()) * found["flow"] / 0.35
    assert cooled + fan == pytest.approx(10_550.0, rel=0.04)
    assert found["condensing_t"] - found["liquid_t"] == pytest.approx(6.0)
    assert found["suction_t"] - found["evaporating_t"] == pytest.approx(6.5)


@pytest.mark.parametrize(
    ("knobs", "more", "less"),
    [
        ({"r_filter": 6.0}, ["return_static"], ["flow", "supply_t", "filter_static", "supply_static"]),
        ({"r_supply": 6.0}, ["supply_static", "return_static"], ["flow", "supply_t"]),
        ({"fan": 0.7}, ["return_static"], ["flow", "supply_t", "supply_static"]),
        ({"charge": 0.7}, ["supply_t", "suction_t", "liquid_t"], ["evaporating_t", "condensing_t", "amps", "condenser_out_t"]),
        ({"charge": 1.3}, ["condensing_t", "amps", "supply_t"], ["liquid_t"]),
        ({"foreign_k": 8.0}, ["condensing_t", "amps"], []),
        ({"restricted": 0.6}, ["supply_t", "suction_t"], ["evaporating_t", "amps", "liquid_t"]),
        ({"pumping": 0.7}, ["supply_t", "evaporating_t"], ["amps", "condensing_t", "condenser_out_t"]),
        ({"condenser": 0.5}, ["condensing_t", "amps", "condenser_out_t"], []),
        ({"drawn_back_k": 6.0}, ["condenser_in_t", "condensing_t", "amps"], []),
        ({"leak": 0.2}, ["return_t", "return_w", "supply_t"], []),
        ({"wall": 12.0}, ["return_t", "supply_t"], []),
        ({"bypassed": 0.25}, [], ["return_t", "registers_never"]),
        ({"lost": 0.25}, [], ["registers"]),
        ({"hood": 0.7}, ["registers"], ["flow"]),
        ({"settled": 0.6}, ["supply_t", "supply_w"], []),
        ({"heater": 0.4}, ["supply_t"], []),
        ({"stage": 0.68}, ["supply_t"], ["flow", "amps"]),
    ],
)
def test_a_fault_moves_its_readings_its_way(knobs: dict[str, float], more: list[str], less: list[str]) -> None:
    found = moved(**knobs)
    for name in more:
        assert found[name] > 0, name
    for name in less:
        assert found.get(name, -1.0) < 0, name


def test_a_compressor_that_stands_still_moves_no_heat() -> None:
    found = shows(a_site(), Knobs().turned(running=0.0))
    assert found["supply_t"] >= found["mixed_t"]
    assert abs(found["condenser_out_t"] - found["condenser_in_t"]) < 1.0


def test_heating_is_by_gas_or_by_the_pump_with_its_element() -> None:
    given_ = {**a_site().given, "room_t": Measured(20.0), "outdoor_t": Measured(2.0), "around_t": Measured(5.0)}
    gas = a_site(cooling=False, gas=True, pump=False, input_w=23_400.0, given=given_)
    assert shows(gas, Knobs())["supply_t"] - shows(gas, Knobs())["mixed_t"] == pytest.approx(27.0, abs=3.0)
    assert moved(gas, fire=1.3)["supply_t"] > 5
    assert moved(gas, fan=0.7)["supply_t"] > 5
    pump = a_site(cooling=False, given=given_)
    assert moved(pump, auxiliary_w=7_500.0)["supply_t"] > 5
    assert moved(pump, auxiliary_w=7_500.0, element=0.0)["supply_t"] == pytest.approx(0.0)
    assert moved(pump, iced=0.5)["supply_t"] < -3


def test_the_probe_that_is_off_shifts_what_it_read_and_nothing_else() -> None:
    site = a_site(inlet="return")
    shifted = shows(site, Knobs().turned(off_k=3.0), frozenset({"supply"}))
    assert shifted["supply_t"] - shows(site, Knobs())["supply_t"] == pytest.approx(3.0)
    both = shows(site, Knobs().turned(off_k=3.0), frozenset({"return", "supply"}))
    assert both["supply_t"] - shows(site, Knobs())["supply_t"] == pytest.approx(0.0, abs=0.8), "a difference keeps"


def test_every_cause_turns_knobs_that_exist_and_says_something_by_them() -> None:
    for cause in CAUSES.values():
        assert set(cause.does) <= set(NAMES), cause.key
        assert set(cause.often) <= set(cause.shows), cause.key
        assert all(SYMPTOMS[key].by_eye for key in cause.often), cause.key
        if cause.apart:
            assert not cause.does, "matters of rooms are weighed by signs"
    silent = {cause.key for cause in CAUSES.values() if not cause.does and not cause.apart}
    assert silent == {"altitude_ignored", "air_backwards"}, "told by what was seen alone"


# doubt


def test_what_was_read_with_the_same_probe_cancels() -> None:
    supply = shows(a_site(inlet="return"), Knobs())["supply_t"]
    same = a_site(inlet="return", read={"supply_t": Measured(supply, {"probe": 2.0})})
    other = a_site(inlet="return", read={"supply_t": Measured(supply, {"another": 2.0})})
    far = {"supply_t": supply + 3.0}
    first, second = weights(same, Knobs()), weights(other, Knobs())
    assert first
    assert second
    assert misses(first.apart(far)) > misses(second.apart(far)), "its own error is no excuse for a difference"


def test_one_reading_typed_wrong_does_not_decide_alone() -> None:
    assert chance([10.0, 0.1, 0.2, 0.1]) > chance([3.0, 3.0, 3.0, 3.0])
    assert chance([0.0, 0.0]) > chance([1.0, 1.0]) > chance([4.0, 1.0])
    assert misses([100.0]) == misses([50.0])


def test_without_any_reading_nobody_is_accused() -> None:
    judged = Judging(None, [cause for cause in CAUSES.values() if not cause.apart], {}).judged()
    assert sum(judged.chances.values()) == pytest.approx(1.0)
    assert judged.sound > SOUND_BEFOREHAND
    assert max(chance for keys, chance in judged.chances.items() if keys) < judged.sound / 5


@pytest.mark.parametrize(("metering", "never"), [("valve", "wrong_piston"), ("restrictor", "valve_starves")])
def test_a_cause_of_another_metering_device_is_none(metering: str, never: str) -> None:
    judging = Judging(a_site(metering=metering), CAUSES.values(), {})
    assert never not in {cause.key for cause in judging.causes}
    assert never in {cause.key for cause in Judging(a_site(metering=""), CAUSES.values(), {}).causes}


def test_a_furnace_that_heats_has_no_refrigerant_cause() -> None:
    case = next(drawn(kind, 5) for kind in FAULTS if kind.key == "under-fired")
    assert work_up(read_snapshot(Technician(case).snapshot())).phases[0].findings
    heats = a_site(cooling=False, gas=True, pump=False, input_w=23_400.0)
    assert not {cause.area for cause in Judging(heats, CAUSES.values(), {}).causes} & {"Cooling"}


def test_how_it_may_be_run_depends_on_what_it_is() -> None:
    assert any(way.get("stage", 1.0) < 1 for way, _ in operations(a_site()))
    assert {way.get("restrictor", 0.0) for way, _ in operations(a_site(metering=""))} == {0.0, 1.0}
    assert {way.get("restrictor") for way, _ in operations(a_site(metering="restrictor"))} == {1.0}
    high = a_site(cooling=False, gas=True, input_w=20_000.0, pressure_pa=82_000.0)
    assert any(way.get("fire", 1.0) < 0.85 for way, _ in operations(high)), "gas lowered for the altitude"
    assert any("auxiliary_w" in way for way, _ in operations(a_site(cooling=False)))
    assert operations(a_site(roof=True, takes_outdoor=True, drops=ROOF_PA))[0][0]["outdoor"] > 0


def test_every_severity_of_a_cause_is_tried() -> None:
    assert len(settings_of(CAUSES["low_charge"])) == 4
    assert settings_of(CAUSES["coil_dirty"])[0] == {"r_coil": 2.5, "surface": 0.88}


ALIKE = """
from bench.stranger.faults import FAULTS, drawn
from bench.stranger.technician import Technician
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.visit.work_up import work_up
for kind in FAULTS[::6]:
    phase = work_up(read_snapshot(Technician(drawn(kind, 3)).snapshot())).phases[0]
    print([(each.key, each.chance) for each in phase.findings], phase.next_check)
"""


def test_every_process_says_the_same() -> None:
    """Server and device are two processes: the order of sets must not reach an answer."""
    said = [
        subprocess.run(
            [sys.executable, "-c", ALIKE], check=True, capture_output=True, env={**os.environ, "PYTHONHASHSEED": seed}
        ).stdout
        for seed in ("1", "2")
    ]
    assert said[0]
    assert said[0] == said[1]


@pytest.mark.parametrize(("value", "more"), [("yes", True), ("no", False)])
def test_yes_and_no_weigh_by_how_often_they_are_true(value: str, more: bool) -> None:
    causes = [cause for cause in CAUSES.values() if not cause.apart]

    def of(key: str, states: dict[str, str]) -> float:
        return Judging(None, causes, states).judged().of(key)

    before, after = of("low_charge", {}), of("low_charge", {"oil_stain": value})
    assert (after > before) is more
    if not more:
        assert after > 0.45 * before, "half of low charges show no oil"
        assert of("filter_clogged", {"filter_seen": "no"}) < 0.3 * of("filter_clogged", {})


def test_no_look_is_asked_where_all_is_plain() -> None:
    judged = Judging(None, [CAUSES["filter_missing"]], {"filter_missing": "yes", "filter_seen": "no"}).judged()
    sure = replace(judged, chances={("filter_missing",): 0.99, (): 0.01})
    assert next_look(sure, {}, (), mode="cooling", kind="furnace_with_coil", stations=()) is None
    assert next_look(replace(judged, chances={(): 1.0}), {}, (), mode="cooling", kind="", stations=()) is None


# a stranger's machines: seeds of this test alone


def test_a_strangers_sound_machines_are_not_accused() -> None:
    """One in fifty at the most: a technician's mistaken yes can name a probe that sits right."""
    visits = [(kind.key, visited(drawn(kind, seed)).likely) for kind in SOUNDS for seed in range(7000, 7010)]
    accused = [each for each in visits if each[1]]
    assert len(accused) <= len(visits) / 50, accused


@settings(max_examples=12, deadline=None)
@given(st.sampled_from(FAULTS), st.integers(20_000, 20_400))
def test_chances_of_any_visit_are_chances(kind: Any, seed: int) -> None:
    outcome = visited(drawn(kind, seed), looks=2)
    assert len(set(outcome.named)) == len(outcome.named)
    assert 0.0 <= outcome.chance <= 1.0
    assert len(outcome.likely) <= 2, "never six likely causes at once"


def test_most_of_a_strangers_plain_faults_are_found() -> None:
    plain = [kind for kind in FAULTS if kind.key in PLAIN]
    assert len(plain) == len(PLAIN)
    outcomes = [visited(drawn(kind, seed)) for kind in plain for seed in range(8000, 8003)]
    assert sum(each.first for each in outcomes) >= 0.85 * len(outcomes), [
        (each.case.kind, each.named[:2]) for each in outcomes if not each.first
    ]


def test_a_look_that_is_answered_truly_helps_on_the_mean() -> None:
    """Once with what was read, once with three looks answered as they are."""
    cases = [drawn(kind, seed) for kind in FAULTS for seed in (9000, 9001)]
    before, after = ([visited(case, looks) for case in cases] for looks in (0, 3))
    assert sum(each.first for each in after) > sum(each.first for each in before)
    assert sum(each.in_three for each in after) >= sum(each.in_three for each in before)


@pytest.mark.parametrize(("amps", "odd"), [(14.0, False), (61.0, True)])
def test_a_digit_typed_wrong_is_to_be_read_again_and_accuses_nobody(amps: float, odd: bool) -> None:
    plate = {
        "rated_total_w": 10_550.0,
        "rated_airflow_m3s": 0.566,
        "refrigerant": "R-410A",
        "metering": "valve",
        "compressor_current_a": 18.0,
    }
    entries = [
        started(),
        *air("return", 25.0, 50, minute=20),
        *air("supply", 13.0, 88, minute=22),
        *air("outdoor", 33.0, 40, minute=23),
        flow(0.566),
        reading("outdoor_unit", "current", amps, "A"),
        reading("suction_line", "pipe_temperature", 15.0, "degC"),
    ]
    phase = work_up(read_snapshot(snapshot(entries, **plate))).phases[0]
    assert bool(phase.odd) is odd
    assert not any(each.likely for each in phase.findings)
    if odd:
        assert phase.odd[0].text.startswith("Read again: Outdoor unit's feed, current.")
        assert phase.verdicts[0].key == "odd"


PLAIN = {
    "filter clogged",
    "return small",
    "blower low",
    "compressor off",
    "condenser dirty",
    "low charge, valve",
    "outdoor probe in the sun",
    "read too early",
    "one probe off",
    "coil frozen",
}


def test_verdicts_come_without_causes_where_they_are_not_asked_for() -> None:
    case = next(drawn(kind, 5) for kind in FAULTS if kind.key == "compressor off")
    read = read_snapshot(Technician(case).snapshot())
    quick, whole = work_up(read, causes=False), work_up(read)
    assert (quick.weighed, whole.weighed) == (False, True)
    assert whole.phases[0].findings
    assert not quick.phases[0].findings
    assert quick.phases[0].results == whole.phases[0].results
    assert [line for line in whole.phases[0].verdicts if line.key not in ("finding", "first_look")] == list(
        quick.phases[0].verdicts
    )


def test_half_widths_hold_what_they_say_of_a_strangers_machines() -> None:
    """A part of what `bin/bench stranger` prints."""
    found = coverage(all_cases(91, 0, 4 * len(SOUNDS))[1])
    for key, least in (("split", 0.93), ("rise", 0.8), ("sensible", 0.8)):
        lines = found[key]
        assert len(lines) > 8
        assert sum(off <= width for off, width in lines) >= least * len(lines), key


def test_probes_that_were_matched_are_not_asked_for_again() -> None:
    """Also where the match says neither that they agree nor that they are far apart."""
    technician = Technician(drawn(next(kind for kind in FAULTS if kind.key == "plate wrong"), 500))
    asked = []
    for _ in range(4):
        check = work_up(read_snapshot(technician.snapshot())).phases[0].next_check
        if check is None:
            break
        asked.append(check.key)
        technician.look(check)
    assert asked.count("match") <= 1


def test_two_faults_are_both_named_where_a_sound_machine_is_unlikely() -> None:
    outcomes = [visited(case) for case in pairs(91, 12)]
    assert sum(each.first for each in outcomes) >= 9
    assert any(set(each.case.truths) <= set(each.named[:3]) for each in outcomes)


def test_on_a_sound_machine_causes_are_faint_and_stand_in_no_verdict() -> None:
    faintly = 0
    for case in all_cases(92, 0, len(SOUNDS))[1]:
        phase = work_up(read_snapshot(Technician(case).snapshot())).phases[0]
        told = [each for each in phase.findings if not each.by_signs]
        if all(each.faint for each in told):
            faintly += 1
            assert phase.sound > max(each.chance for each in told)
            assert 1 <= len(told) <= FEW, "where to begin, should there be a complaint all the same"
            assert not any(each.likely for each in told)
            by_rooms = any(each.by_signs for each in phase.findings)
            assert by_rooms or not {"first_look", "finding"} & {line.key for line in phase.verdicts}
    assert faintly > len(SOUNDS) / 2


def test_before_anything_is_read_no_cause_is_told() -> None:
    plate = {"rated_total_w": 10_550.0, "rated_airflow_m3s": 0.566}
    for entries in ([], [started()], air("return", 25.0, 50), air("outdoor", 33.0, 40)):
        assert not work_up(read_snapshot(snapshot(list(entries), **plate))).phases[0].findings


HEATS = {
    "cooling": False,
    "given": {**a_site().given, "room_t": Measured(20.0), "outdoor_t": Measured(2.0), "around_t": Measured(5.0)},
}


@pytest.mark.parametrize("knobs", [{"charge": 0.65}, {"pumping": 0.7}, {"valve_leak": 0.3}, {"iced": 0.5}])
def test_a_heat_pump_that_gives_less_heat_draws_less(knobs: dict[str, float]) -> None:
    by = moved(a_site(**HEATS), **knobs)
    assert by["supply_t"] < -1.0
    assert by["amps"] < -0.3


@pytest.mark.parametrize(
    ("auxiliary", "heater_w", "watts"),
    [
        ("off", 9_600.0, {0.0}),
        ("on", 9_600.0, {9_600.0, 4_800.0}),
        ("alone", 9_600.0, {9_600.0, 4_800.0}),
        ("on", 0.0, {4_800.0, 7_500.0, 10_000.0}),
        ("", 9_600.0, {0.0, 9_600.0, 4_800.0}),
    ],
)
def test_the_electric_heater_is_as_somebody_said(auxiliary: str, heater_w: float, watts: set[float]) -> None:
    ways = operations(a_site(**HEATS, auxiliary=auxiliary, heater_w=heater_w))
    assert {way.get("auxiliary_w", 0.0) for way, _ in ways} == watts
    assert all((way.get("running") == 0.0) is (auxiliary == "alone") for way, _ in ways)
    if auxiliary:
        assert sum(share for _, share in ways) == pytest.approx(1.0)


def heats_with(watts: float, auxiliary: str = "on") -> dict[str, float]:
    """Chances of a heat pump whose heater draws so much of 9,600 W, while it gives what that and the compressor give."""
    site = a_site(**HEATS, auxiliary=auxiliary, heater_w=9_600.0)
    warm = shows(site, Knobs().turned(auxiliary_w=watts))["supply_t"]
    read = {"supply_t": Measured(warm, {"probe": 0.5}), "heater_w": Measured(watts, {"meter": 60.0})}
    judged = Judging(replace(site, read=read), CAUSES.values(), {}).judged()
    return {"dead": judged.of("element_dead"), "sound": judged.sound}


def test_a_dead_element_is_told_by_its_watts() -> None:
    none, half, whole = heats_with(0.0), heats_with(4_800.0), heats_with(9_600.0)
    assert none["dead"] > 0.9
    assert 0.01 < half["dead"] < half["sound"], "half of it may be all that is called"
    assert whole["dead"] < 0.01 < whole["sound"]
    assert heats_with(0.0, "off")["dead"] == 0.0


def test_a_heat_pump_that_defrosts_takes_heat_out_of_the_air_and_draws_little() -> None:
    site = a_site(**HEATS)
    by = [moved(site, defrosts=share) for share in (0.3, 0.6)]
    assert by[1]["supply_t"] < by[0]["supply_t"] < -10.0
    assert by[0]["amps"] == by[1]["amps"] < -1.0
    beside = shows(site, Knobs().turned(defrosts=0.5, auxiliary_w=9_600.0))["supply_t"]
    assert beside > shows(site, Knobs().turned(defrosts=0.5))["supply_t"] + 10.0, "the electric heater warms it all the same"


def test_what_the_return_duct_takes_up_is_worth_a_look_where_only_the_plenum_was_read() -> None:
    site = a_site(inlet="return")
    leaks, sound = (shows(site, Knobs().turned(leak=leak))["pickup_k"] for leak in (0.2, 0.02))
    assert leaks - sound > 3.0
    assert "pickup_k" not in shows(a_site(), Knobs()), "the grille was read: the plenum's reading itself tells"


def test_causes_that_explain_the_same_thing_seen_share_its_chance() -> None:
    alone = rank({"worst_room_far": "yes"}, "cooling", "furnace_with_coil")
    apart = [each for each in alone if each.cause.apart]
    assert len(apart) > 1
    assert {each.seen for each in apart} == {("worst_room_far",)}
    told = shared(apart)
    best = max(each.fit for each in apart)
    assert sum(part for part, _ in told) == pytest.approx(best / (best + APART))
    assert [part for part, _ in told] == sorted((part for part, _ in told), reverse=True), (
        "the better it fits, the larger its part"
    )

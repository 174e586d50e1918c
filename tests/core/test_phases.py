"""Stations, run times, early readings, matches, ribbon and route, through whole small visits and by their properties."""

from __future__ import annotations

import itertools
from datetime import UTC, datetime, timedelta
from math import hypot
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fentro_core.base import typed_json
from fentro_core.base.measured import Measured
from fentro_core.base.refusal import Refused
from fentro_core.base.student import t_95
from fentro_core.base.verdict import judge
from fentro_core.instruments.instrument import ACCURACY_CLASSES, check_accuracy
from fentro_core.instruments.quantities import READABLE, named_at
from fentro_core.instruments.steadiness import Evidence, judge_evidence
from fentro_core.logbook.entry import read_entry, standing
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.phase.results import StationResult
from fentro_core.phase.run_times import NOBODY_NOTED, STILL_MOVING, TOO_SOON, UNQUIET, WATCHED_TOO_SHORT, RunTimes
from fentro_core.system.branch import Branch
from fentro_core.system.dwelling_ventilator import VentilatorNameplate
from fentro_core.system.gas_furnace import FurnaceNameplate
from fentro_core.system.heat_pump import HeatPumpNameplate
from fentro_core.system.kinds import air_path, read_nameplate
from fentro_core.system.packaged_rooftop import RooftopNameplate
from fentro_core.system.stations import register_station
from fentro_core.visit.results import PhaseResult, WorkUp
from fentro_core.visit.work_up import work_up
from tests.core.visits import INSTRUMENTS, across, air, entry, flow, reading, snapshot, started

STILL = {"seconds": 180.0, "samples": 180, "slope_per_10min": 0.02, "slope_plus_minus": 0.03, "scatter": 0.05}
PLATES = {
    "packaged_rooftop": RooftopNameplate(economizer=True),
    "furnace_with_coil": FurnaceNameplate(),
    "split_heat_pump": HeatPumpNameplate(night_cooling=True),
    "dwelling_ventilator": VentilatorNameplate(heat_recovery=True),
}


def worked(entries: list[dict[str, Any]], kind: str = "furnace_with_coil", **plate: Any) -> WorkUp:
    return work_up(read_snapshot(snapshot(entries, kind, **plate)))


def first(entries: list[dict[str, Any]], kind: str = "furnace_with_coil", **plate: Any) -> PhaseResult:
    return worked(entries, kind, **plate).phases[0]


def station(phase: PhaseResult, name: str) -> StationResult:
    return next(each for each in phase.stations if each.station == name)


# stations


@pytest.mark.parametrize(
    ("kind", "core", "more"),
    [
        (
            "packaged_rooftop",
            {"return", "outdoor", "mixed", "supply"},
            {"after_coil", "suction_line", "condenser_out", "return_static"},
        ),
        (
            "furnace_with_coil",
            {"return", "supply", "outdoor"},
            {"surroundings", "return_grille", "coil_out_static", "filter_static"},
        ),
        ("split_heat_pump", {"return", "outdoor", "mixed", "supply"}, {"heater", "condenser_in", "supply_traverse"}),
        (
            "dwelling_ventilator",
            {"outdoor", "supply", "extract", "exhaust"},
            {"supply_traverse", "extract_traverse", "exhaust_static"},
        ),
    ],
)
def test_each_kind_has_its_stations(kind: str, core: set[str], more: set[str]) -> None:
    path = air_path(kind, PLATES[kind])
    assert {each.id for each in path.stations if each.core} == core
    assert more <= {each.id for each in path.stations if not each.core}
    elements = {element.id for band in path.bands for element in band.elements} | {"outdoor"}
    assert {each.element for each in path.stations} <= elements | {"grille", "coil"}
    assert all(set(each.quantities) <= set(READABLE) for each in path.stations)


def test_only_a_heat_pump_has_an_electric_heater() -> None:
    having = [kind for kind, plate in PLATES.items() if air_path(kind, plate).station("heater")]
    assert having == ["split_heat_pump"]


def test_a_furnaces_rating_ends_before_the_coil() -> None:
    furnace, rooftop = (air_path(kind, PLATES[kind]) for kind in ("furnace_with_coil", "packaged_rooftop"))
    assert furnace.external_taps == ("filter_static", "supply_static")
    assert furnace.coil_taps == ("supply_static", "coil_out_static")
    assert rooftop.external_taps == ("return_static", "supply_static")
    assert all(furnace.station(tap) for tap in (*furnace.external_taps, *furnace.coil_taps))


@given(st.lists(st.tuples(st.text(min_size=1, max_size=20), st.sampled_from(["", "Ground", "Upper"])), max_size=8))
def test_rooms_of_any_name_get_stations_of_their_own(rooms: list[tuple[str, str]]) -> None:
    plate = FurnaceNameplate(branches=tuple(Branch(room, floor) for room, floor in rooms))
    ids = [each.id for each in air_path("furnace_with_coil", plate).stations]
    assert len(ids) == len(set(ids))
    assert all(len(each) < 120 for each in ids)


def test_a_branch_found_goes_before_that_of_the_plate() -> None:
    plate = FurnaceNameplate(branches=(Branch("North", "Up", 0.15, 6.0), Branch("South", "", 0.2, 4.0)))
    path = air_path("furnace_with_coil", plate, (Branch("North", "Up", 0.2, 9.0), Branch("Loft")))
    assert [(each.room, each.diameter_m) for each in path.branches] == [("North", 0.2), ("South", 0.2), ("Loft", None)]
    assert register_station(path.branches[0]).id == "register-north-up"


def test_a_tap_is_named_once() -> None:
    assert named_at("Return static", "static_pressure") == "Return static"
    assert named_at("Return", "wet_bulb") == "Return wet bulb"


# run times and early readings


@given(st.lists(st.tuples(st.integers(0, 500), st.booleans()), max_size=8), st.integers(0, 600))
def test_run_time_counts_from_the_last_start_before(events: list[tuple[int, bool]], minute: int) -> None:
    begin = datetime(2026, 7, 1, tzinfo=UTC)
    runs = RunTimes(tuple(sorted((begin + timedelta(minutes=at), on) for at, on in events)))
    found = runs.running_s((begin + timedelta(minutes=minute)).isoformat())
    before = [(at, on) for at, on in sorted(events) if at <= minute]
    if not before or not before[-1][1]:
        assert found is None
    else:
        assert found == (minute - before[-1][0]) * 60


def reason(minute: int, held: dict[str, Any] | None = None, runs: tuple[dict[str, Any], ...] = ()) -> Any:
    made = reading("return", "dry_bulb", 24.0, "degC", minute=minute)
    made["body"]["held"] = held
    snap = read_snapshot(snapshot([*runs, made]))
    entries = standing(snap.entries)
    return RunTimes.of(entries).early(entries[-1], entries[-1].body, None)


def test_why_a_reading_came_too_early() -> None:
    begun = (started(),)
    assert reason(20, runs=begun) is None
    assert reason(9, runs=begun) is TOO_SOON
    assert reason(20) is NOBODY_NOTED
    assert reason(20, {**STILL, "slope_per_10min": 1.0}, begun) is STILL_MOVING
    assert reason(20, {**STILL, "scatter": 1.0}, begun) is UNQUIET
    assert reason(20, {**STILL, "seconds": 60.0}, begun) is WATCHED_TOO_SHORT
    assert reason(5, STILL, begun) is TOO_SOON, "steady or not, ten minutes are needed"
    assert reason(20, STILL, begun) is None


def test_a_stop_in_between_makes_the_next_readings_early_again() -> None:
    stops = (started(), entry("run", {"event": "stopped"}, 25), entry("run", {"event": "started"}, 30))
    assert reason(20, runs=stops) is None
    assert reason(28, runs=stops) is NOBODY_NOTED
    assert reason(35, runs=stops) is TOO_SOON
    assert reason(41, runs=stops) is None


def test_a_unit_found_running_counts_from_before_the_note() -> None:
    noted = (entry("run", {"event": "started", "already_s": 1200}, 5),)
    assert reason(6, runs=noted) is None
    result = worked([*noted, *air("return", 24.6, 50, minute=7), *air("supply", 13.6, 90, minute=8)])
    assert result.running_since == "2026-07-01T09:45:00+00:00"
    assert not next(line for line in result.phases[0].verdicts if line.key == "split").early
    with pytest.raises(Refused) as refused:
        read_snapshot(snapshot([entry("run", {"event": "started", "already_s": -5})]))
    assert refused.value.path == "entries.0.body.already_s"


@pytest.mark.parametrize(
    ("supply", "late", "early"),
    [(14.0, "holds", "watch"), (20.0, "off", "watch"), (15.7, "too_close", "too_close")],
)
def test_early_verdicts_are_softened_and_nothing_else(supply: float, late: str, early: str) -> None:
    def mark(minute: int) -> str | None:
        readings = [*air("return", 24.6, 50, minute=minute), *air("supply", supply, 80, minute=minute)]
        return next(line.mark for line in first([started(), *readings]).verdicts if line.key == "split")

    assert (mark(20), mark(4)) == (late, early)


def test_settled_lines_stand_before_early_ones_of_the_same_mark() -> None:
    readings = [*air("return", 24.6, 50, minute=4), *air("supply", 20.0, 80, minute=4)]
    overdue = {**INSTRUMENTS[0], "calibration_due_on": "2026-01-01"}
    snap = {**snapshot([started(), *readings]), "instruments": [overdue, INSTRUMENTS[1]]}
    lines = work_up(read_snapshot(snap)).phases[0].verdicts
    watched = [line for line in lines if line.mark == "watch"]
    assert [line.early for line in watched] == [False, True]


# averages and what stands at a station


def test_statics_are_averaged_with_their_spread() -> None:
    taps = [
        reading("return_static", "static_pressure", pa, "Pa", point=n, instrument=None) for n, pa in enumerate((-40, -44, -48), 1)
    ]
    found = station(first(taps), "return_static")
    assert found.values["static_pressure"].value == pytest.approx(-44)
    alone = station(first(taps[:1]), "return_static").values["static_pressure"]
    pooled = (2 * (5.0 / 1.96) ** 2 + 2 * 4.0**2) / 4
    assert found.values["static_pressure"].plus_minus == pytest.approx(hypot(5.0 / 3**0.5, t_95(4) * (pooled / 3) ** 0.5))
    assert alone.plus_minus == pytest.approx(5.0)


def test_an_unread_station_beyond_the_core_is_left_out() -> None:
    phase = first([*air("after_coil", 12.0, 95)])
    assert {each.station for each in phase.stations} == {"return", "supply", "outdoor", "after_coil"}
    assert phase.ribbon.more == ("after_coil",)


def test_a_placed_station_or_one_with_a_probe_stands_in_the_ribbon() -> None:
    made = [
        entry("placement", {"station": "surroundings", "where": "above the lid"}),
        entry("assignment", {"instrument": "A", "station": "return_grille"}),
        entry("assignment", {"instrument": "B", "station": "after_coil"}),
        entry("assignment", {"instrument": "B"}),
    ]
    result = worked(made)
    assert result.phases[0].ribbon.more == ("return_grille", "surroundings")
    assert [(each.instrument, each.station) for each in result.assigned] == [("A", "return_grille")]
    assert [(each.station, each.where) for each in result.placed] == [("surroundings", "above the lid")]


def test_what_was_seen_last_counts_and_can_be_taken_back() -> None:
    one, two = (entry("observation", {"item": "fan_tap", "value": tap}) for tap in ("low", "high"))
    assert worked([one, two]).seen[0].value == "high"
    back = entry("withdrawal", {}, replaces=two["id"])
    assert worked([one, two, back]).seen[0].value == "low"
    left = entry("observation", {"item": "fan_tap", "value": "mid"}, phase="as_left")
    assert worked([one, left]).seen[0].value == "mid"


def test_as_left_keeps_the_tap_found_until_another_is_seen() -> None:
    table = [
        {"tap": tap, "external_static_pa": pa, "airflow_m3s": v}
        for tap, v in (("low", 0.4), ("high", 0.6))
        for pa in (50.0, 150.0)
    ]
    statics = [
        reading(tap, "static_pressure", pa, "Pa", phase="as_left", instrument=None)
        for tap, pa in (("filter_static", -50), ("supply_static", 50))
    ]
    found = entry("observation", {"item": "fan_tap", "value": "low"})
    changed = entry("observation", {"item": "fan_tap", "value": "high"}, phase="as_left")

    def flow_of(entries: list[dict[str, Any]]) -> float:
        phase = worked(entries, fan_table=table).phases[-1]
        method = next(each for each in phase.pages.airflow.methods if each.key == "airflow_fan_table")
        assert method.quantity is not None
        return method.quantity.value

    assert flow_of([found, *statics]) == pytest.approx(0.4)
    assert flow_of([found, changed, *statics]) == pytest.approx(0.6)


def test_a_ventilators_flows_come_from_hood_or_traverse_the_tighter_one() -> None:
    hood = {"station": "supply", "quantity": "airflow", "value": 0.054, "unit": "m3/s", "plus_minus": 0.01}
    duct = {"shape": "round", "diameter_m": 0.125, "after_m": 2.0, "before_m": 0.5}
    points = [reading("supply_traverse", "velocity", 4.4, "m/s", point=n, instrument=None) for n in range(1, 19)]
    made = [entry("reading", hood), entry("plane", {"station": "supply_traverse", "duct": duct}), *points]
    phase = first(made, "dwelling_ventilator")
    result = next(each for each in phase.results if each.key == "flow_supply")
    assert result.quantity is not None
    assert result.quantity.value == pytest.approx(4.4 * 3.14159265 / 4 * 0.125**2)
    missing = next(each for each in phase.results if each.key == "flow_extract")
    assert missing.missing == ("Airflow at extract",)


# verdicts and steadiness, by property


@given(st.floats(5, 16), st.floats(0.05, 2.0), st.floats(0.05, 2.0))
def test_what_would_settle_it_does_settle_it(value: float, first_part: float, second_part: float) -> None:
    low, high = 8.9, 12.2
    verdict = judge(Measured(value, {"a": first_part, "b": second_part}), low, high)
    if verdict.mark != "too_close" or verdict.settle is None or verdict.settle.needed is None:
        return
    parts = {"a": first_part, "b": second_part, verdict.settle.source: verdict.settle.needed * 0.999}
    again = judge(Measured(value, parts), low, high)
    limit = low if verdict.side == "low" else high
    still_open = again.mark == "too_close" and again.side == verdict.side
    assert not still_open, (limit, again)


@given(st.floats(-2, 2), st.floats(0, 1), st.floats(0, 0.5))
@settings(max_examples=80)
def test_a_wider_doubt_never_makes_a_stream_steady(slope: float, doubt: float, scatter: float) -> None:
    states = [judge_evidence(Evidence(180, 180, slope, doubt * factor, scatter), "dry_bulb", 0.1) for factor in (1.0, 1.5, 3.0)]
    steady = [state == "steady" for state in states]
    assert steady == sorted(steady, reverse=True)


def test_the_ordinary_accuracy_classes_can_be_used() -> None:
    for name, kind, accuracy in ACCURACY_CLASSES.values():
        check_accuracy(accuracy)
        assert name
        assert kind
        assert accuracy


# entries and plates


NEW_ENTRIES = [
    ("observation", {"item": "filter_arrow", "value": "agrees"}),
    ("placement", {"station": "return", "where": "left side"}),
    ("branch", {"room": "Loft", "floor": "", "diameter_m": 0.15, "run_m": 7.0}),
    ("plane", {"station": "return_traverse", "duct": {"shape": "rectangular", "width_m": 0.5, "height_m": 0.3}}),
    ("assignment", {"instrument": "A", "station": "return", "point": 2}),
    (
        "match",
        {
            "quantity": "dry_bulb",
            "seconds": 120.0,
            "probes": [{"instrument": name, "mean": 24.0, "scatter": 0.05, "samples": 120} for name in "AB"],
        },
    ),
    ("reading", {"station": "return", "quantity": "static_pressure", "value": -0.2, "unit": "inwc", "held": STILL}),
]


@pytest.mark.parametrize(("kind", "body"), NEW_ENTRIES, ids=[kind for kind, _ in NEW_ENTRIES])
def test_entries_come_back_as_they_were_written(kind: str, body: dict[str, Any]) -> None:
    made = read_entry(entry(kind, body))
    again = read_entry({**entry(kind, typed_json.write(made.body)), "id": made.id})
    assert again.body == made.body


def test_tables_that_no_blower_or_coil_has_are_refused() -> None:
    row = {"tap": "high", "external_static_pa": 100.0, "airflow_m3s": 0.5}
    for plate, path in (
        ({"fan_table": [{**row, "airflow_m3s": 0.0}]}, "fan_table.0"),
        ({"fan_table": [row, row]}, "fan_table"),
        ({"coil_curve": [{"drop_pa": -1.0, "airflow_m3s": 0.4}]}, "coil_curve.0"),
        ({"coil_curve": [{"drop_pa": 30.0, "airflow_m3s": 0.4}, {"drop_pa": 30.0, "airflow_m3s": 0.5}]}, "coil_curve"),
        ({"heating_efficiency": 1.2}, "heating_efficiency"),
    ):
        with pytest.raises(Refused) as refused:
            read_nameplate("furnace_with_coil", plate)
        assert refused.value.path == f"nameplate.{path}"


def test_every_pair_of_ways_that_disagree_is_named() -> None:
    branches = [{"room": "One"}]
    low = reading("register-one", "airflow", 0.3, "m3/s", instrument=None)
    statics = [
        reading(tap, "static_pressure", pa, "Pa", instrument=None) for tap, pa in (("supply_static", 80), ("coil_out_static", 30))
    ]
    curve = [{"drop_pa": 25.0, "airflow_m3s": 0.4}, {"drop_pa": 80.0, "airflow_m3s": 0.72}]
    phase = first([flow(0.9), low, *statics], branches=branches, coil_curve=curve)
    pairs = [line.key for line in phase.verdicts if line.key.startswith("flows:")]
    measured = [each.name for each in phase.pages.airflow.methods if each.quantity and not each.nominal]
    assert len(pairs) == len(list(itertools.combinations(measured, 2))) == 3
    assert all("One of them is wrong" in line.sentence.say("US") for line in phase.verdicts if line.key in pairs)


# the unit's own target

UNIT = {"rated_total_w": 10_550.0, "rated_airflow_m3s": 0.566, "rated_sensible_heat_ratio": 0.76}


def cooled(supply: float, flow_m3s: float | None = 0.566, outdoor: float | None = 31.0, rh: float = 85.0) -> PhaseResult:
    """Return air of 24.0/17.0 °C, of which this unit should make a split of 12.1 K."""
    made = [started(), *across("return", 24.0, 49.5), *across("supply", supply, rh)]
    made += air("outdoor", outdoor, 50) if outdoor is not None else []
    if flow_m3s:
        made.append(flow(flow_m3s))
    return first(made, **UNIT)


def split_line(phase: PhaseResult) -> Any:
    return next(line for line in phase.verdicts if line.key == "split")


def test_the_split_is_judged_by_what_this_unit_should_show() -> None:
    target = next(each for each in cooled(11.9).results if each.key == "target_split")
    assert target.quantity is not None
    assert target.quantity.value == pytest.approx(12.1, abs=0.3)
    assert target.lines
    assert split_line(cooled(11.9)).mark == "holds"
    assert "this unit should show now" in split_line(cooled(11.9)).sentence.say()
    assert split_line(cooled(16.0)).mark == "off", "inside the fixed band's reach, but not for this unit now"
    split = next(each for each in cooled(11.9).results if each.key == "split")
    assert split.remark is not None
    assert "what this unit should show" in split.remark.say()


def test_without_outdoor_air_the_fixed_band_judges_and_it_is_said() -> None:
    phase = cooled(13.4, outdoor=None)
    assert "fixed band" in split_line(phase).sentence.say()
    target = next(each for each in phase.results if each.key == "target_split")
    assert target.missing == ("Outdoor dry bulb",)


def test_outside_the_model_no_verdict_comes_from_it() -> None:
    phase = cooled(13.4, outdoor=14.0)
    assert "fixed band" in split_line(phase).sentence.say()
    target = next(each for each in phase.results if each.key == "target_split")
    assert target.remark is not None
    assert "outdoor temperature" in target.remark.say()


@pytest.mark.parametrize(
    ("supply", "rh", "flow_m3s", "words"),
    [
        (9.4, 96.0, 0.35, "too little air"),
        (16.5, 78.0, 0.566, "charge, compressor, or heat leaking in"),
        (11.9, 88.0, 0.566, "what this unit should give now"),
    ],
)
def test_split_and_capacity_are_read_together(supply: float, rh: float, flow_m3s: float, words: str) -> None:
    line = split_line(cooled(supply, flow_m3s, rh=rh))
    assert any(words in note.say() for note in line.notes), [note.say() for note in line.notes]


def test_a_nominal_flow_gives_no_reading_of_split_and_capacity_together() -> None:
    line = split_line(cooled(16.5, None, rh=78.0))
    assert not any("heat leaking in" in note.say() for note in line.notes)


def test_too_close_by_the_target_names_what_decides_it() -> None:
    line = split_line(cooled(13.6, None))
    assert line.mark == "too_close"
    assert any("decides" in note.say() or "alone can't settle" in note.say() for note in line.notes)


def test_an_assumed_ratio_is_said() -> None:
    made = [started(), *air("return", 24.0, 49.5), *air("supply", 11.9, 88), *air("outdoor", 31.0, 50), flow(0.566)]
    phase = first(made, rated_total_w=10_550.0, rated_airflow_m3s=0.566)
    target = next(each for each in phase.results if each.key == "target_split")
    assert target.remark is not None
    assert "0.76" in target.remark.say()

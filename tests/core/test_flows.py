"""The airflow by every way, matches, early readings, statics: through whole small visits."""

from __future__ import annotations

import math
import random
from typing import Any

import pytest

from fentro_core.air.chart import chart
from fentro_core.air.state import AirState
from fentro_core.airflow import airflow
from fentro_core.airflow.heat_input import gas_input
from fentro_core.base import typed_json
from fentro_core.base.refusal import Refused
from fentro_core.base.working import Working
from fentro_core.instruments.matching import match_by_hand, offsets
from fentro_core.logbook.entry import read_entry
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.phase.results import Result
from fentro_core.visit.results import PhaseResult, WorkUp
from fentro_core.visit.work_up import work_up
from tests.core.visits import air, entry, flow, reading, snapshot, started

FAN_TABLE = [
    {"tap": "high", "external_static_pa": 50.0, "airflow_m3s": 0.70},
    {"tap": "high", "external_static_pa": 125.0, "airflow_m3s": 0.60},
    {"tap": "high", "external_static_pa": 200.0, "airflow_m3s": 0.45},
    {"tap": "low", "external_static_pa": 50.0, "airflow_m3s": 0.50},
    {"tap": "low", "external_static_pa": 125.0, "airflow_m3s": 0.42},
]
CURVE = [{"drop_pa": 25.0, "airflow_m3s": 0.4}, {"drop_pa": 50.0, "airflow_m3s": 0.57}, {"drop_pa": 80.0, "airflow_m3s": 0.72}]
STILL = {"seconds": 180.0, "samples": 180, "slope_per_10min": 0.02, "slope_plus_minus": 0.03, "scatter": 0.05}
MOVES = {**STILL, "slope_per_10min": -2.5}


def worked(entries: list[dict[str, Any]], kind: str = "furnace_with_coil", **plate: Any) -> WorkUp:
    return work_up(read_snapshot(snapshot(entries, kind, **plate)))


def found(entries: list[dict[str, Any]], kind: str = "furnace_with_coil", **plate: Any) -> PhaseResult:
    return worked(entries, kind, **plate).phases[0]


def method(phase: PhaseResult, key: str) -> Result:
    return next(each for each in phase.pages.airflow.methods if each.key == key)


def static(station: str, pa: float, **more: Any) -> dict[str, Any]:
    return reading(station, "static_pressure", pa, "Pa", **more)


def value(result: Result) -> float:
    assert result.quantity is not None, result
    return result.quantity.value


def test_the_flow_from_a_rise_is_the_balance_of_heat() -> None:
    """26.38 kW at 80 %, from 20 to 47 °C: checked by hand at sea level."""
    heating = [started(), *air("return", 20, 40), *air("supply", 47, 10)]
    phase = found(heating, heating_input_w=26376.0, heating_efficiency=0.80)
    w = AirState.from_rh(20, 0.40).humidity_ratio
    by_hand = 26376 * 0.8 / ((1006 + 1860 * w) * 27) * AirState.from_rh(20, 0.40).specific_volume_m3_per_kg
    assert value(method(phase, "airflow_rise")) == pytest.approx(by_hand, rel=1e-9)
    assert phase.pages.airflow.chosen == "airflow_rise"
    plate = {"heating_input_w": 26376.0, "heating_efficiency": 0.8}
    high = {
        said: work_up(read_snapshot(snapshot(heating, elevation_m=1655, **plate, input_derated=said)))
        for said in ("no", "yes", "")
    }
    thin = {said: value(method(each.phases[0], "airflow_rise")) for said, each in high.items()}
    assert thin["no"] == pytest.approx(by_hand * 101325 / high["no"].pressure.value, rel=0.003), "thin air takes a larger volume"
    assert thin["yes"] / thin["no"] == pytest.approx(1 - 0.04 * 1655 / 304.8, rel=1e-3), "and less gas needs less"
    assert thin[""] == pytest.approx((thin["yes"] + thin["no"]) / 2, rel=1e-3)
    unsure = method(high[""].phases[0], "airflow_rise").quantity
    assert unsure is not None
    assert unsure.plus_minus > (thin["no"] - thin["yes"]) / 2


@pytest.mark.parametrize(
    ("elevation", "derated", "share", "input_w"),
    [(0.0, True, 0.04, 26_376), (609.0, True, 0.04, 26_376), (610.0, True, 0.04, 24_265), (1655.0, True, 0.02, 23_512)],
)
def test_gas_input_by_hand(elevation: float, derated: bool, share: float, input_w: float) -> None:
    """4 % for each 1,000 ft above the sea, from 2,000 ft on; or the plate's own."""
    work = Working()
    assert gas_input(26_376.0, elevation, derated, share, work) == pytest.approx(input_w, abs=1.0)
    assert work.lines


@pytest.mark.parametrize(
    ("change", "path"),
    [({"plate_input_w": 0}, "plate_input_w"), ({"elevation_m": 9_000}, "elevation_m"), ({"derate_share": 0.5}, "derate_share")],
)
def test_a_gas_input_that_cannot_be(change: dict[str, float], path: str) -> None:
    with pytest.raises(Refused) as refused:
        gas_input(**{"plate_input_w": 26_376.0, "elevation_m": 1655.0, **change})
    assert refused.value.path == path


def test_no_flow_from_the_rise_while_readings_move() -> None:
    heating = [started(), *air("return", 20, 40), *air("supply", 47, 10)]
    for each in heating[3:]:
        each["body"]["held"] = MOVES
    unsteady = method(found(heating, heating_input_w=26376.0), "airflow_rise")
    assert unsteady.quantity is None
    assert unsteady.missing == ("Steady readings",)
    cooling = [started(), *air("return", 24, 50), *air("supply", 13, 90)]
    assert "while heating" in method(found(cooling, heating_input_w=26376.0), "airflow_rise").missing[0]


def test_electric_heat_gives_a_flow_by_volts_and_amps() -> None:
    heating = [
        started(),
        *air("return", 20, 40),
        *air("supply", 40, 12),
        reading("heater", "voltage", 240, "V"),
        reading("heater", "current", 30, "A"),
    ]
    phase = found(heating, "split_heat_pump")
    assert value(method(phase, "airflow_rise")) == pytest.approx(7200 / (1006 + 1860 * 0.0058) / 20 * 0.838, rel=0.01)


def test_the_fan_table_needs_a_tap_and_is_not_carried_on() -> None:
    statics = [static("filter_static", -60), static("supply_static", 65)]
    plate: dict[str, Any] = {"fan_table": FAN_TABLE, "max_external_static_pa": 125.0}
    assert method(found(statics, **plate), "airflow_fan_table").missing == ("The blower's speed tap",)
    tapped = [*statics, entry("observation", {"item": "fan_tap", "value": "high"})]
    phase = found(tapped, **plate)
    assert value(method(phase, "airflow_fan_table")) == pytest.approx(0.60)
    beyond = [static("filter_static", -150), static("supply_static", 165), tapped[-1]]
    refused = method(found(beyond, **plate), "airflow_fan_table")
    assert refused.quantity is None
    assert refused.remark is not None
    assert "outside" in refused.remark.say()


def test_external_static_stands_against_the_plate() -> None:
    def mark(return_pa: float, supply_pa: float) -> str | None:
        lines = found(
            [static("filter_static", return_pa), static("supply_static", supply_pa)], max_external_static_pa=125.0
        ).verdicts
        return next(line.mark for line in lines if line.key == "external_static")

    assert mark(-30, 40) == "holds"
    assert mark(-60, 62) == "too_close"
    assert mark(-90, 95) == "off"
    assert mark(40, -30) == "off", "swapped hoses"


def test_too_close_names_the_reading_that_decides_and_the_width_it_needs() -> None:
    wide = static("filter_static", -60)
    wide["body"]["plus_minus"] = 8.0
    lines = found([wide, static("supply_static", 60)], max_external_static_pa=125.0).verdicts
    line = next(line for line in lines if line.key == "external_static")
    assert line.mark == "too_close"
    words = line.notes[0].say()
    assert words.startswith("Static after the filter, this reading decides")
    assert "instead of ±8 Pa" in words


def test_registers_count_only_when_each_is_read() -> None:
    branches = [{"room": "North", "floor": "Up"}, {"room": "South"}]
    one = [reading("register-north-up", "airflow", 0.05, "m3/s", instrument=None)]
    assert method(found(one, branches=branches), "airflow_registers").missing == ("1 of 2 registers",)
    both = [*one, reading("register-south", "airflow", 0.07, "m3/s", instrument=None)]
    phase = found(both, branches=branches)
    assert value(method(phase, "airflow_registers")) == pytest.approx(0.12)
    assert [branch.share for branch in phase.ribbon.branches] == pytest.approx([5 / 12, 7 / 12])


def test_a_branch_found_on_the_visit_gets_a_register_to_read() -> None:
    noted = entry("branch", {"room": "Darkroom", "floor": "Upper", "run_m": 8.0})
    path = worked([noted]).path
    assert path.station("register-darkroom-upper") is not None
    assert [branch.room for branch in path.branches] == ["Darkroom"]


def test_the_drop_over_the_coil_gives_a_flow() -> None:
    statics = [static("supply_static", 70), static("coil_out_static", 20)]
    phase = found(statics, coil_curve=CURVE)
    assert value(method(phase, "airflow_drop")) == pytest.approx(0.57)


def test_the_tightest_is_used_and_disagreement_is_said() -> None:
    statics = [static("filter_static", -60), static("supply_static", 65)]
    tap = entry("observation", {"item": "fan_tap", "value": "high"})
    agreeing = found([*statics, tap, flow(0.61)], fan_table=FAN_TABLE)
    assert agreeing.pages.airflow.chosen == "airflow_direct_return"
    assert not [line for line in agreeing.verdicts if line.key.startswith("flows:")]
    disagreeing = found([*statics, tap, flow(0.40)], fan_table=FAN_TABLE)
    lines = [line for line in disagreeing.verdicts if line.key.startswith("flows:")]
    assert [line.mark for line in lines] == ["off"]
    assert value(method(disagreeing, "airflow_nominal")) > 0
    assert disagreeing.pages.airflow.chosen != "airflow_nominal"


def test_nominal_follows_the_climate() -> None:
    def nominal(zone: str) -> float:
        given = snapshot([])
        given["site"]["climate_zone"] = zone
        phase = work_up(read_snapshot(given)).phases[0]
        return value(method(phase, "airflow_nominal"))

    assert nominal("3C") == nominal("")
    assert round(nominal("3A") / nominal("") * 400) == 350
    assert round(nominal("5B") / nominal("") * 400) == 450


def test_a_traverse_point_by_point_becomes_the_flow() -> None:
    duct = {"shape": "round", "diameter_m": 0.3, "after_m": 4.0, "before_m": 1.0}
    points = [reading("return_traverse", "velocity", 8.0, "m/s", point=n, instrument=None) for n in range(1, 25)]
    phase = found([entry("plane", {"station": "return_traverse", "duct": duct}), *points])
    page = phase.pages.airflow.traverses[0]
    assert len(page.velocities) == 24
    assert not page.flags
    assert page.airflow is not None
    assert page.airflow.value == pytest.approx(8 * math.pi / 4 * 0.09)
    assert phase.pages.airflow.chosen == "airflow_traverse_return"
    partly = found([entry("plane", {"station": "return_traverse", "duct": duct}), *points[:7]])
    assert "7 of 24" in partly.pages.airflow.traverses[0].flags[0].say()
    assert method(partly, "airflow_traverse_return").missing == ("17 of 24 points",), "not used before it is whole"
    assert partly.pages.airflow.chosen == "airflow_nominal"


def test_a_match_narrows_the_split_and_not_the_readings() -> None:
    apart = [*air("return", 24.2, 52), *air("supply", 15.2, 82, instrument="B")]
    matched = entry(
        "match",
        {
            "quantity": "dry_bulb",
            "seconds": 120,
            "probes": [
                {"instrument": "A", "mean": 24.30, "scatter": 0.06, "samples": 120},
                {"instrument": "B", "mean": 24.10, "scatter": 0.06, "samples": 120},
            ],
        },
        minute=15,
    )
    before, after = worked([started(), *apart]), worked([started(), matched, *apart])
    split = {name: next(r for r in each.phases[0].results if r.key == "split") for name, each in (("b", before), ("a", after))}
    assert value(split["b"]) == pytest.approx(9.0)
    assert value(split["a"]) == pytest.approx(8.8)
    widths = {name: each.quantity.plus_minus for name, each in split.items() if each.quantity}
    assert widths["a"] ** 2 < widths["b"] ** 2 - 0.15, "two accuracies of 0.3 K less, the layers stay"
    shown = {each.station: each.dry_bulb for each in after.phases[0].stations}
    assert shown["return"] is not None
    assert shown["return"].value == pytest.approx(24.2), "a value by itself stays as read"
    notes = next(line for line in after.phases[0].verdicts if line.key == "split").notes
    assert any(note.say().startswith("Probes matched") for note in notes)
    result = after.matches[0]
    assert result.trouble is None
    assert result.after.value < result.before.value


def test_probes_read_by_eye_match_and_their_half_width_holds() -> None:
    draw = random.Random(20261126)
    held = 0
    for _ in range(400):
        true = [draw.gauss(0, 0.3) for _ in range(3)]
        series = {
            name: tuple(round(24 + at + draw.gauss(0, 0.1), 1) for _ in range(3)) for name, at in zip("abc", true, strict=True)
        }
        first, second, _ = offsets(match_by_hand(series, 0.1).probes)
        apart = (first.offset - second.offset) - (true[0] - true[1])
        held += abs(apart) <= (first.plus_minus**2 + second.plus_minus**2) ** 0.5
    assert held >= 0.95 * 400


def test_a_match_by_hand_takes_three_rounds_of_two_probes_and_narrows_the_split_too() -> None:
    probes = match_by_hand({"A": (24.3, 24.3, 24.4), "B": (24.0, 24.1, 24.0)}, 0.1).probes
    body = {"quantity": "dry_bulb", "seconds": 120, "probes": [typed_json.write(each) for each in probes]}
    with pytest.raises(Refused, match="Too few samples"):
        read_entry(entry("match", body, minute=15))
    apart = [*air("return", 24.2, 52), *air("supply", 15.2, 82, instrument="B")]
    matched = entry("match", {**body, "by_hand": True}, minute=15)
    splits = [
        next(result for result in worked(entries).phases[0].results if result.key == "split")
        for entries in ([started(), *apart], [started(), matched, *apart])
    ]
    before, after = (each.quantity for each in splits)
    assert before is not None
    assert after is not None
    assert after.plus_minus < before.plus_minus
    assert after.value == pytest.approx(before.value - 0.3)
    with pytest.raises(Refused, match="three times"):
        match_by_hand({"A": (24.3, 24.3), "B": (24.0, 24.1)}, 0.1)
    with pytest.raises(Refused, match="two probes"):
        match_by_hand({"A": (24.3, 24.3, 24.3)}, 0.1)


def test_a_match_with_a_probe_that_was_not_used_changes_nothing() -> None:
    probes = [{"instrument": name, "mean": mean, "scatter": 0.06, "samples": 120} for name, mean in (("A", 24.3), ("C", 24.0))]
    match = entry("match", {"quantity": "dry_bulb", "seconds": 120, "probes": probes}, minute=15)
    readings = [*air("return", 24.2, 52), *air("supply", 15.2, 82, instrument="B")]
    result = found([started(), match, *readings])
    assert value(next(each for each in result.results if each.key == "split")) == pytest.approx(9.0)


def test_a_probe_that_can_not_be_right_is_flagged() -> None:
    far = {"instrument": "B", "mean": 23.0, "scatter": 0.06, "samples": 120}
    near = {"instrument": "A", "mean": 24.3, "scatter": 0.06, "samples": 120}
    match = entry("match", {"quantity": "dry_bulb", "seconds": 120, "probes": [near, far]})
    result = worked([match, *air("return", 24.2, 52)])
    assert result.matches[0].trouble is not None
    assert any(line.key.startswith("match:") and line.mark == "off" for line in result.phases[0].verdicts)


@pytest.mark.parametrize(
    ("minute", "held", "early"), [(20, STILL, False), (20, MOVES, True), (5, STILL, True), (20, None, False)]
)
def test_an_early_reading_never_hardens_a_verdict(minute: int, held: dict[str, Any] | None, early: bool) -> None:
    entries = [*air("return", 24.6, 50, minute=minute), *air("supply", 17.5, 80, minute=minute)]
    for each in entries:
        each["body"] |= {"held": held if each["body"]["quantity"] == "dry_bulb" else None}
    line = next(line for line in found([started(), *entries]).verdicts if line.key == "split")
    assert line.early is early
    assert line.mark == ("watch" if early else "off")


def test_local_velocity_weighs_the_points() -> None:
    points = [
        *air("return", 24.0, 50),
        reading("return", "velocity", 3.0, "m/s"),
        *air("return", 25.0, 48, point=2),
        reading("return", "velocity", 1.0, "m/s", point=2),
    ]
    station = next(each for each in found(points).stations if each.station == "return")
    assert station.dry_bulb is not None
    assert station.dry_bulb.value == pytest.approx(24.25)
    assert -1 < station.correlation < 1


def test_the_filters_arrow_confirms_or_stops() -> None:
    def trace(seen: str) -> Any:
        result = worked([entry("observation", {"item": "filter_arrow", "value": seen})])
        return result, next(step for step in result.route if step.id == "trace")

    assert trace("agrees")[1].state == "done"
    against, step = trace("against")
    assert step.state != "done"
    assert against.phases[0].verdicts[0].key == "filter_arrow"


@pytest.mark.parametrize("kind", ["packaged_rooftop", "furnace_with_coil", "split_heat_pump", "dwelling_ventilator"])
def test_every_station_says_where_and_what_to_avoid(kind: str) -> None:
    path = worked([], kind, **({"economizer": True} if kind == "packaged_rooftop" else {})).path
    ids = [station.id for station in path.stations]
    assert len(ids) == len(set(ids))
    assert all(station.where and station.avoid and station.quantities and station.element for station in path.stations)
    assert {station.kind for station in path.stations} >= {"air", "static", "traverse"}


def test_what_can_not_be_is_refused_at_its_field() -> None:
    for kind, body, path in (
        ("observation", {"item": "filter_arrow", "value": "sideways"}, "value"),
        ("plane", {"station": "return_traverse", "duct": {"shape": "round"}}, "duct.diameter_m"),
        ("branch", {"room": " "}, "room"),
        ("match", {"quantity": "dry_bulb", "seconds": 10, "probes": []}, "probes"),
        ("assignment", {"instrument": "A", "station": "return", "point": 0}, "point"),
    ):
        with pytest.raises(Refused) as refused:
            read_snapshot(snapshot([entry(kind, body)]))
        assert refused.value.path == f"entries.0.body.{path}"


def test_fan_tables_and_curves_are_refused_beyond_their_ends() -> None:
    rows = tuple(airflow.FanPoint(**row) for row in FAN_TABLE)
    with pytest.raises(Refused, match="no such speed tap"):
        airflow.airflow_from_fan_table(rows, "turbo", 100)
    with pytest.raises(Refused, match="at least"):
        airflow.airflow_from_rise(10_000, 20, 21)


def test_the_chart_agrees_with_the_states() -> None:
    found_chart = chart(pressure_pa=83_000.0, system="US")
    for line in found_chart.lines:
        for dry_bulb, ratio in list(zip(line.dry_bulb_c, line.humidity_ratio, strict=True))[1::7]:
            if ratio <= 1e-5 or dry_bulb <= 0.5:
                continue
            state = AirState(dry_bulb, ratio, 83_000.0)
            there = {
                "saturation": state.relative_humidity,
                "relative_humidity": state.relative_humidity,
                "wet_bulb": state.wet_bulb_c,
                "enthalpy": state.enthalpy_j_per_kg,
                "specific_volume": state.specific_volume_m3_per_kg,
            }[line.family]
            assert there == pytest.approx(line.value, rel=2e-3, abs=0.02)
    wet_bulbs = [round(line.value * 9 / 5 + 32, 6) for line in found_chart.lines if line.family == "wet_bulb"]
    assert all(value % 10 == 0 for value in wet_bulbs), "round figures of the system asked for"

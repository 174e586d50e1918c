"""Heating: rise against the plate, heat against fuel and outdoor air, and how a heating phase is judged."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.base.measured import Measured
from fentro_core.base.refusal import Refused
from fentro_core.heating.heat import (
    electric_rise,
    heat_by_flow,
    heat_by_temperature,
    heat_output,
    heat_pump_expected,
    judge_rise,
)
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.system.gas_furnace import FurnaceNameplate
from fentro_core.system.kinds import air_path
from fentro_core.visit.results import PhaseResult
from fentro_core.visit.work_up import work_up
from tests.core.visits import air, entry, flow, reading, signs_of, snapshot, started

FURNACE = {
    "heating_input_w": 23_500.0,
    "heating_efficiency": 0.8,
    "rise_low_k": 19.4,
    "rise_high_k": 36.1,
    "max_outlet_c": 60.0,
    "rated_total_w": 10_550.0,
    "rated_airflow_m3s": 0.566,
}
PUMP = {"rated_total_w": 8_800.0, "rated_heating_w": 8_500.0, "rated_airflow_m3s": 0.42}


def warm(
    supply: float, m3s: float | None = 0.566, *more: dict[str, Any], kind: str = "furnace_with_coil", **plate: Any
) -> PhaseResult:
    """A heating phase: return 20 °C, supply as given."""
    readings = [*air("return", 20.0, 35), reading("supply", "dry_bulb", supply, "degC"), *([flow(m3s)] if m3s else []), *more]
    plate = plate or FURNACE
    return work_up(read_snapshot(snapshot([started(), *readings], kind, **plate))).phases[0]


def number(phase: PhaseResult, key: str) -> float:
    found = next(each for each in phase.results if each.key == key)
    assert found.quantity, found.missing or found.remark
    return found.quantity.value


@given(st.floats(0.1, 3.0), st.floats(10, 25), st.floats(5, 45), st.floats(60_000, 105_000))
def test_heat_and_rise_lead_back_to_each_other(m3s: float, return_c: float, rise: float, pressure: float) -> None:
    heat = heat_output(m3s, return_c, return_c + rise, 0.004, pressure)
    assert electric_rise(heat, m3s, return_c, 0.004, pressure) == pytest.approx(rise, rel=1e-6)


def test_thin_air_gets_warmer_by_the_same_heat() -> None:
    assert electric_rise(9_600, 0.45, 20.0, 0.0, 83_000) == pytest.approx(
        electric_rise(9_600, 0.45, 20.0) * 101_325 / 83_000, rel=1e-3
    )


def test_a_heat_pump_gives_its_rating_at_47_and_less_in_the_cold() -> None:
    assert heat_by_temperature(70, 47) == 1.0
    assert heat_by_flow(1.0) == pytest.approx(1.0, abs=1e-6)
    heats = [heat_pump_expected(20.0, outdoor, 0.42, 8_500, 0.42).heat_w for outdoor in (-10, -5, 0, 5, 10)]
    assert heats == sorted(heats)
    assert heats[1] == pytest.approx(0.704 * 8_500, rel=0.01), "seven tenths at 23 °F, by hand"
    assert heat_pump_expected(20.0, -25.0, 0.42, 8_500, 0.42).outside == ("outdoor temperature",)


@pytest.mark.parametrize(
    ("rise", "mark", "side"), [(28, "holds", ""), (40, "off", "high"), (15, "off", "low"), (36, "too_close", "high")]
)
def test_a_rise_against_the_plate(rise: float, mark: str, side: str) -> None:
    verdict, words = judge_rise(Measured(rise, {"a": 0.5}), 19.4, 36.1)
    assert (verdict.mark, verdict.side) == (mark, side)
    assert "19.4 K" in words.say() or "36.1 K" in words.say()


def test_a_heating_phase_shows_rise_and_heat_and_no_cooling() -> None:
    phase = warm(47.0)
    assert phase.mode == "heating"
    keys = {each.key for each in phase.results}
    assert {"rise", "heat_total", "target_heat", "airflow"} <= keys
    assert not {"split", "total", "latent", "target_split"} & keys
    assert number(phase, "rise") == pytest.approx(27.0)
    assert number(phase, "heat_total") == pytest.approx(0.566 / 0.8355 * 1016 * 27.0, rel=0.02)
    assert number(phase, "target_heat") == pytest.approx(18_800)
    assert next(line for line in phase.verdicts if line.key == "rise").mark == "holds"
    assert phase.pages.heating
    assert phase.pages.heating.mark == "holds"
    assert "carbon monoxide" in phase.pages.heating.carbon_monoxide.lower()
    assert [each.who for each in phase.pages.heating.who][-1].startswith("Licensed")


def test_too_little_air_and_too_hot_an_outlet() -> None:
    phase = warm(65.0, 0.37)
    marks = {line.key: line.mark for line in phase.verdicts}
    assert marks["rise"] == "off"
    assert marks["outlet"] == "off"


def test_heat_is_not_judged_by_a_flow_that_came_from_it() -> None:
    phase = warm(47.0, None)
    assert phase.pages.airflow.chosen == "airflow_rise"
    assert next(each for each in phase.results if each.key == "heat_total").missing
    assert not any(line.key == "heat" for line in phase.verdicts)


def test_an_electric_heaters_rise_from_its_watts() -> None:
    watts = reading("heater", "electric_power", 7_000, "W", instrument=None)
    phase = warm(34.0, 0.42, watts, kind="split_heat_pump", **PUMP)
    assert number(phase, "target_rise") == pytest.approx(7_000 / (0.42 * 1.2 * 1010), rel=0.03)


def test_a_heat_pumps_rise_is_judged_by_the_outdoor_air() -> None:
    mild, cold = (warm(33.0, 0.42, *air("outdoor", outdoor, 60), kind="split_heat_pump", **PUMP) for outdoor in (8.0, -6.0))
    assert number(mild, "target_rise") > number(cold, "target_rise") + 3
    assert mild.pages.heating
    assert not mild.pages.heating.carbon_monoxide
    freezing = warm(33.0, 0.42, *air("outdoor", -25.0, 60), kind="split_heat_pump", **PUMP)
    assert "Outside what the model knows" in next(each for each in freezing.results if each.key == "target_heat").remark.say()


def test_a_rise_taken_early_is_marked() -> None:
    early = [*air("return", 20.0, 35, minute=5), reading("supply", "dry_bulb", 60.0, "degC", minute=6), flow(0.566)]
    phase = work_up(read_snapshot(snapshot([started(), *early], "furnace_with_coil", **FURNACE))).phases[0]
    line = next(each for each in phase.verdicts if each.key == "rise")
    assert line.mark == "watch"
    assert line.early


def test_humidity_is_not_asked_for_while_heating() -> None:
    readings = [started(), reading("return", "dry_bulb", 20, "degC"), reading("supply", "dry_bulb", 46, "degC")]
    route = work_up(read_snapshot(snapshot(readings, "furnace_with_coil", **FURNACE))).route
    assert next(step for step in route if step.id == "measure").state == "done"


def test_a_furnace_without_a_coil_has_no_coil_stations() -> None:
    bare, full = (air_path("furnace_with_coil", FurnaceNameplate(cooling_coil=coil)) for coil in (False, True))
    assert [element.kind for element in bare.bands[0].elements] == ["grille", "filter", "blower", "heat_exchanger", "register"]
    gone = {each.id for each in full.stations} - {each.id for each in bare.stations}
    assert {"after_coil", "coil_out_static", "suction_line", "condenser_in"} <= gone
    assert bare.external_taps == full.external_taps
    elements = {element.id for element in bare.bands[0].elements} | {"outdoor"}
    assert {each.element for each in bare.stations} <= elements


@pytest.mark.parametrize(
    "call", [lambda: heat_output(0, 20, 40), lambda: electric_rise(0, 1, 20), lambda: heat_pump_expected(20, 5, 0.4, 0, 0.4)]
)
def test_what_can_not_be_is_refused(call: Any) -> None:
    with pytest.raises(Refused, match="above zero"):
        call()


def test_as_left_compares_the_rise() -> None:
    left = [
        *air("return", 20.0, 35, phase="as_left", minute=40),
        reading("supply", "dry_bulb", 47.0, "degC", phase="as_left", minute=41),
    ]
    found = [*air("return", 20.0, 35), reading("supply", "dry_bulb", 60.0, "degC")]
    changed = entry("setting", {"what": "Filter", "was": "clogged", "now": "new"}, 30)
    result = work_up(read_snapshot(snapshot([started(), *found, changed, *left], "furnace_with_coil", **FURNACE)))
    change = next(each for each in result.comparison if each.key == "rise")
    assert change.change.value == pytest.approx(-13.0)
    assert change.real
    assert [each.what for each in result.between] == ["Filter"]


def pump_snapshot(auxiliary: str = "", supply: float = 40.0, watts: float | None = None, **plate: Any) -> dict[str, Any]:
    """A heat pump at 2 °C outside, with its electric heater as somebody said; watts read at its feed."""
    more = [entry("observation", {"item": "auxiliary", "value": auxiliary})] if auxiliary else []
    more += [reading("heater", "electric_power", watts, "W")] if watts is not None else []
    readings = [*air("return", 20.0, 35), reading("supply", "dry_bulb", supply, "degC"), flow(0.42), *air("outdoor", 2.0, 70)]
    return snapshot([started(), *readings, *more], "split_heat_pump", **{**PUMP, **plate})


def pump_heats(auxiliary: str = "", supply: float = 40.0, watts: float | None = None, **plate: Any) -> PhaseResult:
    return work_up(read_snapshot(pump_snapshot(auxiliary, supply, watts, **plate))).phases[0]


def test_a_heater_beside_the_compressor_adds_to_what_is_expected() -> None:
    alone = number(pump_heats("off"), "target_heat")
    by_plate, by_meter = pump_heats("on", heater_w=9_600.0), pump_heats("on", watts=9_200.0, heater_w=9_600.0)
    assert number(by_plate, "target_heat") == pytest.approx(alone + 9_600.0, rel=1e-6)
    assert number(by_meter, "target_heat") == pytest.approx(alone + 9_200.0, rel=1e-6)
    rise = electric_rise(alone + 9_200.0, 0.42, 20.0, 0.0, 101_325.0)
    assert number(by_meter, "target_rise") == pytest.approx(rise, rel=0.01)
    lines = next(each for each in by_meter.results if each.key == "target_heat").lines
    assert "with the electric heater" in [line.name for line in lines]


def test_a_heater_whose_watts_nobody_knows_leaves_the_heat_open() -> None:
    found = {each.key: each for each in pump_heats("on").results}
    assert found["target_heat"].quantity is None
    assert found["target_heat"].missing == ("The electric heater's power, or volts and amps",)


@pytest.mark.parametrize(("auxiliary", "known"), [("on", False), ("alone", True), ("", True)])
def test_the_heaters_watts_give_the_airflow_only_where_it_heats_alone(auxiliary: str, known: bool) -> None:
    ways = {way.key: way for way in pump_heats(auxiliary, watts=9_600.0).pages.airflow.methods}
    assert (ways["airflow_rise"].quantity is not None) is known


@pytest.mark.parametrize(("watts", "state"), [(4_800.0, "low"), (9_300.0, "right"), (0.0, "low")])
def test_what_the_heater_draws_is_held_against_its_nameplate_where_it_is_called(watts: float, state: str) -> None:
    called = {"watts": watts, "heater_w": 9_600.0}
    assert signs_of(pump_snapshot("on", **called))["heater"].state == state
    assert signs_of(pump_snapshot("alone", **called))["heater"].state == state
    assert "heater" not in signs_of(pump_snapshot("off", **called))
    assert "heater" not in signs_of(pump_snapshot("on", watts=watts)), "no nameplate, no verdict"


def test_more_heat_than_expected_is_the_heater_only_where_nobody_said_that_it_is_on() -> None:
    unsaid = {line.key: line for line in pump_heats(supply=52.0).verdicts}["heat"]
    said = {line.key: line for line in pump_heats("on", supply=64.0, heater_w=4_800.0).verdicts}["heat"]
    assert unsaid.mark == "watch"
    assert "Settle" in unsaid.sentence.say()
    assert said.mark == "off"


def drawing(answer: str = "", watts: float = 150.0, auxiliary: str = "") -> PhaseResult:
    """A heat pump whose heater draws next to nothing; answered so when asked whether it is called."""
    document = pump_snapshot(auxiliary, watts=watts, supply=33.0, heater_w=9_600.0)
    if answer:
        document["entries"].append(entry("observation", {"item": "heater_called", "value": answer}, 40))
    return work_up(read_snapshot(document)).phases[0]


def test_a_heater_that_draws_nothing_is_asked_for_its_call_before_it_says_anything() -> None:
    asked = drawing().next_check
    assert asked is not None
    assert (asked.key, asked.by_eye, asked.choices) == ("heater_called", True, ())
    called = drawing("yes")
    assert called.findings[0].key == "element_dead"
    assert called.findings[0].likely
    for known in (drawing("no"), drawing(auxiliary="off")):
        assert "element_dead" not in {finding.key for finding in known.findings}
    for answered in (called, drawing("no"), drawing("cant"), drawing(auxiliary="on")):
        assert answered.next_check is None or answered.next_check.key != "heater_called"


def test_the_heaters_call_is_not_asked_for_while_it_cools() -> None:
    airs = [*air("return", 25.0, 50), *air("supply", 15.0, 80), *air("outdoor", 33.0, 40), flow(0.42)]
    watts = reading("heater", "electric_power", 150.0, "W")
    document = snapshot([started(), *airs, watts], "split_heat_pump", **PUMP, heater_w=9_600.0)
    phase = work_up(read_snapshot(document)).phases[0]
    assert phase.next_check is not None
    assert phase.next_check.key != "heater_called"


def test_what_was_said_in_settle_goes_before_what_a_look_was_answered() -> None:
    assert signs_of(pump_snapshot("on", watts=150.0, heater_w=9_600.0))["heater"].state == "low"
    document = pump_snapshot(watts=150.0, heater_w=9_600.0)
    document["entries"].append(entry("observation", {"item": "heater_called", "value": "yes"}, 40))
    assert signs_of(document)["heater"].state == "low"
    document["entries"].append(entry("observation", {"item": "auxiliary", "value": "off"}, 41))
    assert "heater" not in signs_of(document)


def defrost_snapshot(answer: str, supply: float, outdoor: float) -> dict[str, Any]:
    """A sound heat pump that melts the ice outside while it is read; answered so when asked whether it does."""
    airs = [*air("return", 20.0, 35), *air("supply", supply, 48), *air("outdoor", outdoor, 85)]
    more = [entry("observation", {"item": "auxiliary", "value": "off"})]
    more += [entry("observation", {"item": "defrosting", "value": answer})] if answer else []
    return snapshot([started(), *airs, flow(0.42), *more], "split_heat_pump", **PUMP)


def defrosts(answer: str = "", supply: float = 15.0, outdoor: float = 2.0) -> PhaseResult:
    return work_up(read_snapshot(defrost_snapshot(answer, supply, outdoor))).phases[0]


def test_a_heat_pump_that_defrosts_is_asked_for_it_and_accused_of_nothing() -> None:
    asked = defrosts()
    assert asked.next_check is not None
    assert asked.next_check.key == "defrosting"
    assert not any(finding.likely for finding in asked.findings)
    told = defrosts("yes")
    assert told.findings[0].key == "defrosting"
    assert not any(finding.likely for finding in told.findings[1:])
    assert "defrosting" not in {finding.key for finding in defrosts("no").findings[:1]}


@pytest.mark.parametrize(("outdoor", "mode"), [(2.0, ""), (9.9, ""), (10.1, "cooling"), (33.0, "cooling")])
def test_a_heat_pump_that_blows_cold_on_a_cold_day_does_not_cool(outdoor: float, mode: str) -> None:
    phase = defrosts(outdoor=outdoor)
    assert phase.mode == mode
    lines = {line.key: line for line in phase.verdicts}
    assert ("split" in lines) is (mode == "cooling")
    assert ("heat" in lines) is (mode == "")
    assert mode or not any(line.mark == "off" for line in phase.verdicts)
    assert signs_of(defrost_snapshot("", 15.0, outdoor))["change"].state == "cools"


def test_what_was_read_while_it_defrosted_hardens_into_no_verdict() -> None:
    sure, early = (defrosts(answer, supply=24.0) for answer in ("no", "yes"))
    marks = [{line.key: (line.mark, line.early) for line in phase.verdicts}["heat"] for phase in (sure, early)]
    assert marks[0] == ("off", False)
    assert marks[1][0] != "off"
    assert marks[1][1] is True
    line = next(line for line in early.verdicts if line.key == "heat")
    assert [str(note.text) for note in line.notes] == ["Read while it defrosted. Read again ten minutes after that is over."]

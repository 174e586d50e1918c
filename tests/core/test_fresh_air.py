"""The fresh-air page of a visit: need, flow, run time, control, and what is said of them."""

from __future__ import annotations

from typing import Any

import pytest

from fentro_core.base.refusal import Refused
from fentro_core.logbook.entry import read_entry
from fentro_core.system.fresh_air import FreshAir
from fentro_core.system.kinds import read_nameplate
from fentro_core.ventilation.kept import left_by
from fentro_core.ventilation.results import ControlColumn, NeedLine, StreamLine, VentilationPage
from fentro_core.visit.results import PhaseResult
from tests.core.visits import entry, reading, snapshot, worked

Json = dict[str, Any]
CHART = [{"port_pa": pa, "airflow_m3s": ls / 1000} for pa, ls in ((20, 41), (45, 62), (80, 84), (120, 103), (170, 121))]
HOME = entry("dwelling", {"dwelling": {"floor_area_m2": 161.65, "bedrooms": 3}, "edition": "2010"}, phase="as_found")
SUPPLY = entry("ventilator", {"kind": "supply", "model": "FV-60", "chart": CHART}, phase="as_found")
BOTH = entry("ventilator", {"kind": "balanced", "chart": CHART, "stale_chart": CHART, "step_min": 1}, phase="as_found")


def ports(pa: float, stream: str = "fresh", **more: Any) -> Json:
    return entry("ventilator_flow", {"stream": stream, "way": "ports", "port_pa": pa, **more}, phase="as_found")


def hood(m3s: float, stream: str = "fresh", **more: Any) -> Json:
    return entry("ventilator_flow", {"stream": stream, "way": "hood", "airflow_m3s": m3s, **more}, phase="as_found")


def control(stage: str, **said: Any) -> Json:
    phase = "as_left" if stage == "left" else "as_found"
    return entry("ventilator_control", {"stage": stage, "control": said}, phase=phase)


def phase_of(
    *entries: Json, kind: str = "split_heat_pump", phase: str = "as_found", nameplate: Json | None = None
) -> PhaseResult:
    document = snapshot(list(entries), kind=kind)
    document["system"]["nameplate"] = nameplate or {}
    return worked(document, phase).result


def page(*entries: Json, **more: Any) -> VentilationPage:
    found = phase_of(*entries, **more).pages.ventilation
    assert found is not None
    return found


def need(shown: VentilationPage, edition: str) -> NeedLine:
    return next(line for line in shown.needs if line.edition == edition)


def column(shown: VentilationPage, stage: str) -> ControlColumn:
    return next(each for each in shown.controls if each.stage == stage)


def stream(shown: VentilationPage, name: str = "fresh") -> StreamLine:
    return next(each for each in shown.streams if each.stream == name)


def says(shown: PhaseResult) -> dict[str, tuple[str | None, str]]:
    return {line.key: (line.mark, line.sentence.say()) for line in shown.verdicts if line.key.startswith("ventilation")}


def test_a_system_without_a_word_of_fresh_air_has_no_such_page() -> None:
    assert phase_of(reading("return", "dry_bulb", 24.0, "degC", phase="as_found")).pages.ventilation is None


@pytest.mark.parametrize(
    ("entries", "words"),
    [
        ((SUPPLY,), "Say what the dwelling is"),
        ((HOME,), "Say what brings the fresh air in."),
        ((HOME, SUPPLY), "Measure its flow"),
        ((HOME, SUPPLY, ports(62.0)), "Read what its control is set to."),
    ],
)
def test_it_says_what_comes_next(entries: tuple[Json, ...], words: str) -> None:
    shown = page(*entries)
    assert shown.mark == "not_measured"
    assert shown.words is not None
    assert shown.words.say().startswith(words)
    assert says(phase_of(*entries)) == {}


def test_both_editions_stand_side_by_side_with_what_each_asks() -> None:
    shown = page(HOME, SUPPLY, ports(62.0))
    earlier, later = need(shown, "2010"), need(shown, "2013")
    assert earlier.required.value * 1000 == pytest.approx(22.37, abs=0.01)
    assert later.required.value * 1000 == pytest.approx(38.80, abs=0.01)
    assert earlier.chosen
    assert not later.chosen
    assert (earlier.set_minutes, later.set_minutes) == (20.0, 35.0)
    assert earlier.working
    assert "2010" in earlier.name


def test_the_ports_drop_gives_the_flow_with_the_charts_slope() -> None:
    line = stream(page(HOME, SUPPLY, ports(62.0, plus_minus_pa=2.0)))
    assert line.flow is not None
    assert line.flow.value * 1000 == pytest.approx(73.48, rel=0.01)
    by_slope, by_chart = 0.6286 * 2.0, 0.03 * 73.48
    assert line.flow.plus_minus * 1000 == pytest.approx((by_slope**2 + by_chart**2) ** 0.5, rel=0.02)
    assert not line.poor
    steep = stream(page(HOME, SUPPLY, ports(24.0, plus_minus_pa=8.0)))
    assert steep.poor
    assert "finer gauge" in steep.words.say()


def test_outside_the_chart_or_without_one_there_is_no_flow_and_the_reason() -> None:
    out = stream(page(HOME, SUPPLY, ports(15.0)))
    assert out.flow is None
    assert "outside the chart" in out.words.say()
    bare = entry("ventilator", {"kind": "supply"}, phase="as_found")
    assert "chart is missing" in stream(page(HOME, bare, ports(62.0))).words.say()
    assert stream(page(HOME, bare, hood(0.07))).flow is not None


def test_the_last_word_counts() -> None:
    line = stream(page(HOME, SUPPLY, hood(0.05), hood(0.07, plus_minus_m3s=0.002)))
    assert line.flow is not None
    assert (line.flow.value, line.flow.plus_minus) == (0.07, pytest.approx(0.002))


@pytest.mark.parametrize(
    ("minutes", "mark", "words"),
    [
        (10.0, "off", "gives 55 % of the fresh air needed"),
        (20.0, "holds", "gives 109 % of the fresh air needed"),
        (17.5, "too_close", "too close to call"),
        (40.0, "watch", "more than it must"),
    ],
)
def test_a_setting_is_judged_by_what_it_gives(minutes: float, mark: str, words: str) -> None:
    phase = phase_of(HOME, SUPPLY, ports(62.0, plus_minus_pa=1.0), control("found", minutes_per_hour=minutes))
    found, sentence = says(phase)["ventilation:need"]
    assert found == mark
    assert words in sentence
    assert phase.marks.get("ventilation") == (None if mark == "holds" else mark)
    assert phase.followed["fresh_air_share"].value == pytest.approx(73.4 / 1000 * minutes / 60 / 0.02237, rel=0.01)


def test_what_was_left_on_is_said() -> None:
    told = says(phase_of(HOME, SUPPLY, ports(62.0), control("found", minutes_per_hour=60.0)))
    assert told["ventilation:left_on"][0] == "watch"
    assert "20 min" in told["ventilation:left_on"][1]
    small = says(phase_of(HOME, SUPPLY, hood(0.0225), control("found", minutes_per_hour=60.0)))
    assert "ventilation:left_on" not in small, "this one needs the whole hour"


def test_one_that_is_too_small_says_what_it_lacks() -> None:
    shown = page(HOME, SUPPLY, hood(0.015))
    assert shown.mark == "off"
    assert "It can't" in (shown.words.say() if shown.words else "")
    line = need(shown, "2010")
    assert line.enough is False
    assert line.lacks is not None
    assert line.lacks.value == pytest.approx(0.02237 - 0.015, abs=1e-5)


def test_what_is_left_goes_before_what_was_found() -> None:
    entries = (HOME, SUPPLY, ports(62.0), control("found", minutes_per_hour=10.0), control("left", minutes_per_hour=20.0))
    shown = page(*entries)
    assert shown.words is not None
    assert shown.words.say().startswith("As left")
    assert column(shown, "found").mark == "off"
    assert column(shown, "left").mark == "holds"
    assert column(shown, "planned").control is None


def test_the_proposal_gives_what_is_needed_and_keeps_the_rest() -> None:
    shown = page(HOME, SUPPLY, ports(62.0), control("found", minutes_per_hour=10.0, low_c=-12.0, boost_min=30.0))
    assert shown.proposed is not None
    assert shown.proposed.minutes_per_hour == 20.0
    assert shown.proposed.low_c == -12.0
    assert shown.proposed.boost_min == 30.0
    assert shown.proposed.filter_months == 3
    assert page(HOME, SUPPLY).proposed is None


@pytest.mark.parametrize(
    ("fresh", "stale", "mark", "words"),
    [
        (0.050, 0.049, "holds", "differ by 2"),
        (0.060, 0.040, "off", "more comes in than goes out"),
        (0.040, 0.060, "off", "more goes out than comes in"),
        (0.050, 0.0455, "too_close", "differ by 9"),
    ],
)
def test_both_flows_of_a_balanced_one_are_compared(fresh: float, stale: float, mark: str, words: str) -> None:
    pair = (hood(fresh, plus_minus_m3s=0.001), hood(stale, "stale", plus_minus_m3s=0.001))
    phase = phase_of(HOME, BOTH, *pair)
    shown = phase.pages.ventilation
    assert shown.balance_mark == mark
    assert words in shown.balance_words.say()
    assert says(phase)["ventilation:balance"][0] == mark


def test_doubt_of_one_chart_falls_out_of_the_balance() -> None:
    shown = page(HOME, BOTH, ports(62.0, plus_minus_pa=0.0), ports(62.0, "stale", plus_minus_pa=0.0))
    assert shown.balance is not None
    assert (shown.balance.value, shown.balance.plus_minus) == (0.0, 0.0)


def test_a_ventilator_of_its_own_takes_what_was_read_at_its_stations() -> None:
    entries = (HOME, SUPPLY, reading("supply", "airflow", 70.0, "L/s", phase="as_found"))
    shown = page(*entries, kind="dwelling_ventilator")
    line = stream(shown)
    assert line.flow is not None
    assert line.flow.value == pytest.approx(0.07)
    assert line.words.say() == "Read at its station."


def test_what_a_visit_leaves_is_kept_and_the_next_begins_with_it() -> None:
    said = [read_entry(each) for each in (HOME, SUPPLY, ports(62.0), control("found", minutes_per_hour=10.0))]
    left = left_by(None, said)
    assert left is not None
    assert left.dwelling is not None
    assert left.ventilator is not None
    assert left.control is not None
    assert left.control.minutes_per_hour == 10.0, "as it was found, where nobody changed it"
    last = left_by(left, [read_entry(control("left", minutes_per_hour=20.0))])
    assert last is not None
    assert last.control is not None
    assert last.control.minutes_per_hour == 20.0
    assert last.dwelling == left.dwelling
    assert left_by(last, [read_entry(ports(62.0))]) is None


KEPT = {
    "dwelling": {"floor_area_m2": 161.65, "bedrooms": 3},
    "edition": "2010",
    "ventilator": {"kind": "supply", "chart": CHART},
    "control": {"minutes_per_hour": 20.0},
}


def test_the_next_visit_judges_by_what_was_kept() -> None:
    shown = page(ports(62.0), nameplate={"fresh_air": KEPT})
    assert column(shown, "found").control is not None
    assert shown.mark == "holds"
    assert shown.dwelling_entry == ""
    assert page(nameplate={"fresh_air": KEPT}).mark == "not_measured"


@pytest.mark.parametrize(
    ("kind", "body", "path"),
    [
        ("dwelling", {"dwelling": {"floor_area_m2": 0, "bedrooms": 3}}, "body.dwelling.floor_area_m2"),
        ("ventilator", {"kind": "exhaust", "chart": CHART, "stale_chart": CHART}, "body.stale_chart"),
        ("ventilator", {"kind": "supply", "chart": CHART[:1]}, "body.chart"),
        ("ventilator", {"kind": "supply", "step_min": 0}, "body.step_min"),
        ("ventilator_flow", {"stream": "fresh", "way": "ports"}, "body.port_pa"),
        ("ventilator_flow", {"stream": "fresh", "way": "hood"}, "body.airflow_m3s"),
        ("ventilator_flow", {"stream": "fresh", "way": "hood", "airflow_m3s": 0}, "body.airflow_m3s"),
        ("spaces", {"spaces": []}, "body.spaces"),
        (
            "spaces",
            {"spaces": [{"name": "A", "use": "office", "floor_area_m2": 20, "people": 2}], "people_at_once": 3},
            "body.people_at_once",
        ),
        ("spaces", {"spaces": [{"name": "A", "use": "office", "floor_area_m2": 20}], "exhaust_m3s": -1}, "body.exhaust_m3s"),
        ("ventilator_control", {"stage": "found", "control": {"minutes_per_hour": 61}}, "body.control.minutes_per_hour"),
        ("ventilator_control", {"stage": "left", "control": {"low_c": 20, "high_c": 10}}, "body.control.low_c"),
        ("ventilator_control", {"stage": "left", "control": {"boost_min": 0}}, "body.control.boost_min"),
    ],
)
def test_what_can_not_be_is_refused_at_its_field(kind: str, body: Json, path: str) -> None:
    with pytest.raises(Refused) as refused:
        read_entry(entry(kind, body))
    assert refused.value.path == path


def test_a_nameplate_with_wrong_fresh_air_is_refused_at_its_field() -> None:
    for kind in ("split_heat_pump", "dwelling_ventilator"):
        with pytest.raises(Refused) as refused:
            read_nameplate(kind, {"fresh_air": {**KEPT, "control": {"minutes_per_hour": 90}}})
        assert refused.value.path == "nameplate.fresh_air.control.minutes_per_hour"
    assert FreshAir().dwelling is None

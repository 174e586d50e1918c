"""What holds the formulas together: limits, what counts, what is left out, and who may read what."""

from __future__ import annotations

from math import sqrt
from typing import Any

import pytest

from fentro_core.base.measured import Measured
from fentro_core.base.verdict import judge
from fentro_core.diagnosis.cause import CAUSES
from fentro_core.diagnosis.symptom import SYMPTOMS
from fentro_core.economizer.page import economizer_page
from fentro_core.instruments.matching import MatchedProbe, offsets
from fentro_core.logbook.kinds import all_kinds
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.parts import IN_ORDER, PARTS, parts_of
from fentro_core.phase.context import PartContext, Undeclared
from fentro_core.phase.declaration import Part, PartResult, in_order
from fentro_core.phase.numbers import NUMBERS, Number
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.kinds import KINDS
from fentro_core.system.nameplate import Nameplate
from fentro_core.visit.comparison import change
from fentro_core.visit.phase_work import PhaseWork
from fentro_core.visit.results import WorkUp
from fentro_core.visit.work_up import work_up
from tests.core.visits import across, air, entry, flow, reading, snapshot, started


def worked(entries: list[dict[str, Any]], kind: str = "furnace_with_coil", **plate: Any) -> WorkUp:
    return work_up(read_snapshot(snapshot(entries, kind, **plate)))


SPLIT = Number(key="split", name="Split", kind="temperature_difference", compared=True)


@pytest.mark.parametrize(("after", "real"), [(10.5, False), (11.35, False), (11.5, True), (8.5, True), (8.7, False)])
def test_a_change_is_real_only_beyond_its_own_doubt(after: float, real: bool) -> None:
    found = change(SPLIT, Measured(10.0, {"a": 1.0}), Measured(after, {"b": 1.0}))
    assert found.change.plus_minus == pytest.approx(sqrt(2))
    assert found.real is real


def test_what_both_times_shared_does_not_hide_a_small_change() -> None:
    assert change(SPLIT, Measured(10.0, {"probe": 1.0}), Measured(10.2, {"probe": 1.0})).real


@pytest.mark.parametrize(("station", "early"), [("return", True), ("supply", True), ("mixed", True), ("outdoor", False)])
def test_an_early_reading_counts_where_verdicts_stand_on_it(station: str, early: bool) -> None:
    stations = {"return": 24.6, "supply": 13.8, "mixed": 26.0, "outdoor": 35.0}
    entries = [each for name, value in stations.items() for each in air(name, value, 55, minute=5 if name == station else 25)]
    work = PhaseWork(VisitContext(read_snapshot(snapshot([started(), *entries], "packaged_rooftop"))), "as_found")
    assert (work.context.early is not None) is early


FURNACE = {
    "heating_input_w": 23_500.0,
    "heating_efficiency": 0.8,
    "rise_low_k": 19.4,
    "rise_high_k": 36.1,
    "rated_total_w": 10_550.0,
    "rated_airflow_m3s": 0.566,
}


@pytest.mark.parametrize(
    ("share", "mark"), [(0.84, "off"), (0.88, "too_close"), (1.0, "holds"), (1.12, "too_close"), (1.19, "off")]
)
def test_heat_is_judged_within_a_tenth(share: float, mark: str) -> None:
    flow_m3s = 0.566
    rise = share * 23_500 * 0.8 / (flow_m3s * 1.204 * 1013)
    supply = [reading("supply", "dry_bulb", round(20 + rise, 2), "degC", point=point) for point in range(1, 13)]
    found = worked([started(), *across("return", 20.0, 35), *supply, flow(flow_m3s)], **FURNACE).phases[0]
    line = next(each for each in found.verdicts if each.key == "heat")
    assert line.mark == mark, line.sentence


@pytest.mark.parametrize(("mixed", "share"), [(24.0, 0.0), (14.0, 0.5), (20.0, 0.2), (5.0, 0.95)])
def test_the_share_at_a_position_has_the_doubt_of_all_three_readings(mixed: float, share: float) -> None:
    body = {"position": 0.2, "return_c": 24.0, "outdoor_c": 4.0, "mixed_c": mixed, "plus_minus_k": 0.3}
    found = snapshot([entry("damper_read", body)], "packaged_rooftop", economizer=True)
    found["site"]["climate_zone"] = "3A"
    (line,) = economizer_page(read_snapshot(found)).walk.lines
    assert line.share is not None
    assert line.share.value == pytest.approx(share)
    assert line.share.plus_minus == pytest.approx(0.3 * sqrt(1 + share**2 + (1 - share) ** 2) / 20)


def quick_signs(*more: dict[str, Any], supply: float = 12.0, m3s: float = 0.56) -> list[str]:
    readings = [started(), *across("return", 26.0, 50), *air("supply", supply, 90), *air("outdoor", 35, 40), flow(m3s), *more]
    page = worked(readings, rated_total_w=10_550.0, rated_airflow_m3s=0.56).phases[0].pages.leakage
    return [each.text for each in page.opened]


@pytest.mark.parametrize(("grille", "opens"), [(23.7, True), (24.7, False), (26.0, False), (28.3, True)])
def test_the_plenum_against_the_grille_opens_the_leak_test_beyond_its_doubt(grille: float, opens: bool) -> None:
    assert any("from the grille" in each for each in quick_signs(*air("return_grille", grille, 50))) is opens


@pytest.mark.parametrize(("second", "opens"), [(27.4, False), (27.7, True)])
def test_points_across_the_return_open_it_over_one_and_a_half(second: float, opens: bool) -> None:
    assert any("Points across" in each for each in quick_signs(*air("return", second, 50, point=2))) is opens


@pytest.mark.parametrize(("supply", "m3s", "opens"), [(12.0, 0.56, False), (18.5, 0.56, True), (18.5, 0.40, False)])
def test_little_cooling_opens_it_only_at_the_right_airflow(supply: float, m3s: float, opens: bool) -> None:
    assert any("Little cooling" in each for each in quick_signs(supply=supply, m3s=m3s)) is opens


@pytest.mark.parametrize(("answer", "opens"), [("yes", True), ("no", False)])
def test_better_when_it_is_cool_opens_it_when_answered_yes(answer: str, opens: bool) -> None:
    seen = entry("observation", {"item": "better_when_cool", "value": answer})
    assert any("cools better" in each for each in quick_signs(seen)) is opens


def left(found: WorkUp, step: str) -> tuple[str, ...]:
    return next(each.left for each in found.route if each.id == step)


def test_the_route_asks_for_what_every_visit_needs_and_for_nothing_optional() -> None:
    cooling = [started(), *air("return", 24.6, 58), *air("supply", 13.8, 91)]
    assert left(worked([*cooling, flow(1.80)]), "work_out") == ()
    assert left(worked(cooling[:3]), "work_out") != ()
    lacking = worked([*cooling, flow(1.80)]).phases[0].results
    assert any(each.missing for each in lacking if NUMBERS[each.key].optional), "nothing optional is lacking here"


@pytest.mark.parametrize(("value", "mark"), [(9.2, "watch"), (9.35, "holds"), (10.5, "holds"), (11.8, "holds"), (11.95, "watch")])
def test_near_a_limit_is_a_tenth_of_the_band(value: float, mark: str) -> None:
    assert judge(Measured(value, {"a": 0.01}), 8.9, 12.2).mark == mark


@pytest.mark.parametrize(("value", "mark"), [(74.0, "watch"), (67.8, "watch"), (66.0, "holds")])
def test_near_a_single_limit_is_a_tenth_of_its_size(value: float, mark: str) -> None:
    assert judge(Measured(value, {"a": 0.01}), None, 75.0).mark == mark


@pytest.mark.parametrize("count", [2, 3, 5])
def test_a_probes_own_scatter_is_put_back_for_few_probes(count: int) -> None:
    probes = tuple(MatchedProbe(str(each), 24.0, 0.05, 120) for each in range(count))
    assert offsets(probes)[0].plus_minus == pytest.approx(0.05 * sqrt(count / (count - 1)))


def contexts(part: Part) -> PartContext[Any]:
    work = PhaseWork(VisitContext(read_snapshot(snapshot([*air("return", 24.6, 58)]))), "as_found")
    return PartContext(work.context, part)


def nothing(context: PartContext[Any]) -> PartResult:
    return PartResult()


def test_a_part_reads_its_own_numbers_and_those_of_the_parts_it_named() -> None:
    part = Part(key="own", name="Own", work=nothing, needs=("cooling",), numbers=(Number(key="mine", name="Mine", kind="power"),))
    context = contexts(part)
    assert context.number("mine") is None
    assert context.number("split") is None
    context.note("mine", Measured(1.0, {}))
    assert context.number("mine") == Measured(1.0, {})
    for wrong in (
        lambda: context.number("external_static"),
        lambda: context.number("never_heard_of"),
        lambda: context.note("split", Measured(1.0, {})),
        lambda: context.keep("external_static", Measured(1.0, {})),
        lambda: context.given("airflow", object),
        lambda: context.result_of("statics", "external_static"),
    ):
        with pytest.raises(Undeclared):
            wrong()


def test_parts_come_after_what_they_need_whatever_order_they_are_listed_in() -> None:
    for listed in (PARTS, tuple(reversed(PARTS))):
        ordered = [part.key for part in in_order(listed)]
        assert sorted(ordered) == sorted(part.key for part in PARTS)
        for part in PARTS:
            assert all(ordered.index(need) < ordered.index(part.key) for need in part.needs)
    assert [part.key for part in IN_ORDER] == [part.key for part in in_order(PARTS)]


def test_parts_that_need_each_other_are_an_error() -> None:
    with pytest.raises(AssertionError, match="need each other"):
        in_order((Part(key="a", name="", work=nothing, needs=("b",)), Part(key="b", name="", work=nothing, needs=("a",))))


def test_what_the_parts_declare_is_known_once_and_complete() -> None:
    assert set(NUMBERS) == {number.key for part in PARTS for number in part.numbers}
    assert set(SYMPTOMS) == {symptom.key for part in PARTS for symptom in part.symptoms}
    assert set(CAUSES) == {cause.key for part in PARTS for cause in part.causes}
    assert {part.key for part in PARTS} == {key for kind in KINDS.values() for key in kind.parts}
    assert "reading" in all_kinds()
    assert all(name == kind.key for name, kind in all_kinds().items())


@pytest.mark.parametrize(
    ("kind", "has", "lacks"),
    [
        ("furnace_with_coil", {"cooling", "heating", "refrigerant", "leakage", "ventilation"}, {"economizer"}),
        ("packaged_rooftop", {"cooling", "mixing", "economizer"}, {"ventilation"}),
        ("dwelling_ventilator", {"ventilation"}, {"cooling", "heating", "refrigerant", "leakage", "economizer", "airflow"}),
    ],
)
def test_a_system_has_the_parts_of_its_kind(kind: str, has: set[str], lacks: set[str]) -> None:
    plate = snapshot([], kind, **({"economizer": True} if kind == "packaged_rooftop" else {}))
    nameplate: Nameplate = read_snapshot(plate).system.nameplate
    found = {part.key for part in parts_of(kind, nameplate)}
    assert has <= found
    assert not lacks & found

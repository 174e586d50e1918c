"""What must hold for any visit: simulated ones of every fault and kind, worked out whole, in both systems of units."""

from __future__ import annotations

import copy
import json
import math
import re
import subprocess
import sys
from collections.abc import Iterator
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench.examples import HELD, TUNED, thorough
from fentro_core.base import typed_json
from fentro_core.base.measured import Measured
from fentro_core.base.units import KINDS
from fentro_core.cooling.judging import humidity_target_k, judge_split_by_humidity
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.phase.results import Result
from fentro_core.visit.results import PhaseResult, WorkUp
from fentro_core.visit.work_up import work_up
from fentro_standins.plant.visit import Case, visit

CASES = {case.key: case for cases in (TUNED, HELD) for part in cases for case in part}
FEW = sorted(CASES)[::4]


def worked(case: Case, seed: int = 0) -> WorkUp:
    return work_up(read_snapshot(visit(case, seed)))


def shown(phase: PhaseResult) -> Iterator[Result]:
    """Every number of a phase, pages included."""
    yield from phase.results
    yield from phase.pages.airflow.methods
    yield from (phase.pages.leakage.results if phase.pages.leakage else ())
    yield from (drop.drop for drop in phase.pages.statics.drops) if phase.pages.statics else ()


def sentences(given_: Any) -> Iterator[dict[str, Any]]:
    """Every sentence of a JSON document."""
    if isinstance(given_, dict):
        if set(given_) == {"text", "numbers"}:
            yield given_
        for value in given_.values():
            yield from sentences(value)
    elif isinstance(given_, list):
        for value in given_:
            yield from sentences(value)


@pytest.mark.parametrize("key", FEW)
def test_every_number_is_finite_has_a_kind_and_says_where_its_doubt_comes_from(key: str) -> None:
    phase = worked(thorough(CASES[key])).phases[0]
    for result in shown(phase):
        if result.quantity is None:
            assert result.missing or result.remark, result.key
            continue
        assert math.isfinite(result.quantity.value)
        assert math.isfinite(result.quantity.plus_minus)
        assert result.quantity.plus_minus >= 0
        assert result.quantity.kind in KINDS
        total = sum(each.share for each in result.contributions)
        assert total == 0 or 0.9 < total <= 1.0 + 1e-9
        assert not any(re.search(r"(instrument|reading|match):", each.label) for each in result.contributions), "in words"


@pytest.mark.parametrize("key", FEW)
def test_every_sentence_has_its_numbers(key: str) -> None:
    document = json.loads(json.dumps(typed_json.write(worked(CASES[key], 2)), allow_nan=False))
    found = list(sentences(document))
    assert len(found) > 5
    for sentence in found:
        assert set(re.findall(r"\{(\w+)\}", sentence["text"])) <= set(sentence["numbers"]), sentence["text"]
        assert all(number["kind"] in KINDS for number in sentence["numbers"].values())


@pytest.mark.parametrize("key", FEW)
def test_causes_come_best_first_never_two_alike_and_the_rail_names_the_first(key: str) -> None:
    phase = worked(CASES[key], 1).phases[0]
    chances = [each.chance for each in phase.findings]
    assert chances == sorted(chances, reverse=True)
    assert all(0 < chance <= 1 for chance in chances)
    assert len({each.key for each in phase.findings}) == len(phase.findings)
    line = next((each for each in phase.verdicts if each.key == "finding"), None)
    if line:
        assert phase.findings[0].name.lower() in line.sentence.text
        assert phase.findings[0].likely
    if phase.next_check:
        assert phase.next_check.between


@settings(max_examples=15, deadline=None)
@given(st.sampled_from(sorted(CASES)), st.integers(0, 50))
def test_the_same_snapshot_gives_the_same_answer(key: str, seed: int) -> None:
    snapshot = visit(CASES[key], seed)
    first, second = (work_up(read_snapshot(copy.deepcopy(snapshot))) for _ in range(2))
    assert first == second


@settings(max_examples=10, deadline=None)
@given(st.sampled_from(sorted(CASES)), st.integers(0, 50))
def test_the_order_of_untouched_readings_does_not_matter(key: str, seed: int) -> None:
    snapshot = visit(CASES[key], seed)
    turned = {**snapshot, "entries": list(reversed(snapshot["entries"]))}
    first, second = (work_up(read_snapshot(each)).phases[0] for each in (snapshot, turned))
    values = [{each.key: each.quantity.value for each in shown(phase) if each.quantity} for phase in (first, second)]
    assert values[0] == pytest.approx(values[1])


@settings(max_examples=12, deadline=None)
@given(st.sampled_from(sorted(case.key for case in TUNED[0])), st.integers(0, 20), st.floats(1.5, 4.0))
def test_worse_instruments_never_make_a_number_surer(key: str, seed: int, factor: float) -> None:
    snapshot = visit(CASES[key], seed)
    worse = copy.deepcopy(snapshot)
    for instrument in worse["instruments"]:
        for figure in instrument["accuracy"].values():
            figure["plus_minus"] *= factor
            figure["repeatability"] *= factor
    sure, doubtful = (
        {each.key: each.quantity.plus_minus for each in work_up(read_snapshot(each_)).phases[0].results if each.quantity}
        for each_ in (snapshot, worse)
    )
    for result in ("split", "rise", "total", "external_static"):
        if result in sure and result in doubtful:
            assert doubtful[result] >= sure[result] - 1e-9


def test_a_whole_visit_runs_on_the_command_line() -> None:
    snapshot = json.dumps(visit(CASES[FEW[0]], 1))
    done = subprocess.run(
        [sys.executable, "-m", "fentro_core", "workup"], input=snapshot, capture_output=True, text=True, check=True
    )
    assert json.loads(done.stdout)["phases"][0]["findings"] is not None


@given(st.floats(20, 30), st.floats(0.35, 0.95))
def test_humid_return_air_has_a_smaller_target_split(dry: float, share: float) -> None:
    """The second school: by the return air alone."""
    wet = dry - (1 - share) * 8
    drier, wetter = humidity_target_k(dry, wet - 1.0), humidity_target_k(dry, wet)
    assert wetter <= drier + 1e-6
    assert 2 < wetter < 20


def test_the_second_school_judges_within_its_tolerance() -> None:
    target = Measured(12.0, {"a": 0.1})
    marks = [judge_split_by_humidity(Measured(value, {"b": 0.2}), target) for value in (12.0, 13.7, 16.0, 8.0)]
    assert marks == ["holds", "too_close", "off", "off"]

"""The core's answers to a wide set of questions stay as they are; see answers.py for how they are renewed."""

from __future__ import annotations

import json
from collections.abc import Iterator
from itertools import islice
from typing import Any

import pytest

from tests.core.answers import ASKERS, KEPT, limited, of_calculations, questions
from tests.core.bodies import moved
from tests.core.test_calculation import EXAMPLES

ASKED = json.loads(KEPT.read_text())
GROUPS = tuple(group for group in ASKERS if group != "limits")


def changed(was: Any, now: Any, path: str = "") -> Iterator[str]:
    """Every place where two answers differ."""
    if isinstance(was, dict) and isinstance(now, dict):
        for key in sorted({*was, *now}):
            yield from changed(was.get(key), now.get(key), f"{path}/{key}")
    elif was != now:
        yield f"{path}: {was} -> {now}"


@pytest.mark.parametrize("group", GROUPS)
def test_answers_stay(group: str) -> None:
    fresh = {name: json.loads(json.dumps(answer)) for name, answer in questions(group)}
    kept = {name: answer for name, answer in ASKED.items() if name.split("/")[0] == group}
    assert kept
    assert list(islice(changed(kept, fresh), 12)) == []


def test_calculations_stay() -> None:
    assert list(islice(changed(ASKED["calculations"], of_calculations(EXAMPLES)), 12)) == []


def test_limits_stay() -> None:
    kept = {name.removeprefix("limits/"): answer for name, answer in ASKED.items() if name.startswith("limits/")}
    fresh = {name: list(islice(moved(takes, given, kept.pop(name, {})), 12)) for name, takes, given in limited()}
    assert {name: found for name, found in fresh.items() if found} == {}
    assert kept == {}

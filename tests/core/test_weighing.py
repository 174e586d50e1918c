"""How likely each fault is by its signs: what must hold whatever was seen."""

from __future__ import annotations

from collections.abc import Mapping

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fentro_core.economizer.proof.fault import BACKWARDS, STANDS
from fentro_core.economizer.proof.faults import FAULTS, FAULTS_BY_KEY
from fentro_core.economizer.proof.settings import SETTINGS
from fentro_core.economizer.proof.weighing import NEVER_HIDDEN, PATTERNS, STROKE, chances

EVERY_SIGN = sorted({sign for patterns in PATTERNS.values() for pattern in patterns for sign in pattern})

seen = st.dictionaries(st.sampled_from(EVERY_SIGN), st.booleans(), max_size=25)


def of(key: str, signs: Mapping[str, bool]) -> float:
    return sum(chance for keys, chance in chances(signs).items() if key in keys)


@settings(max_examples=60, deadline=None)
@given(seen)
def test_all_chances_add_up_to_one_and_none_is_below_nothing(signs: Mapping[str, bool]) -> None:
    found = chances(signs)
    assert sum(found.values()) == pytest.approx(1.0)
    assert min(found.values()) >= 0.0
    assert set(found) >= {(), *((fault.key,) for fault in FAULTS)}


@settings(max_examples=60, deadline=None)
@given(seen, st.randoms())
def test_the_order_in_which_signs_were_looked_for_changes_nothing(signs: Mapping[str, bool], shuffled: object) -> None:
    items = list(signs.items())
    shuffled.shuffle(items)  # type: ignore[attr-defined]
    assert chances(dict(items)) == chances(signs)


@settings(max_examples=60, deadline=None)
@given(seen)
def test_a_sign_shown_twice_makes_nothing_wrong_less_likely(signs: Mapping[str, bool]) -> None:
    there = frozenset(sign for sign, shown in signs.items() if shown and not sign.startswith("audit."))
    assert chances(signs, there)[()] <= chances(signs)[()] + 1e-12


def test_two_faults_are_weighed_only_where_something_was_seen() -> None:
    nothing = dict.fromkeys(EVERY_SIGN, False)
    assert all(len(keys) < 2 for keys in chances(nothing))
    assert chances(nothing)[()] > 0.9
    two = [keys for keys in chances({**nothing, "relief.building_pressure.high": True}) if len(keys) == 2]
    assert len(set(map(frozenset, two))) == len(two)
    hidden = [set(keys) for keys in two if set(keys) <= STROKE]
    assert hidden == [{"reversed_actuator", "loose_blades"}], "of the stroke one hides the others, but for these"


@pytest.mark.parametrize("key", sorted(FAULTS_BY_KEY))
def test_every_fault_leads_by_the_signs_of_each_of_its_variants(key: str) -> None:
    for variant in FAULTS_BY_KEY[key].variants:
        shown = variant.surely | variant.certainly | variant.usually
        if shown - set(SETTINGS) or variant.usually:
            signs = {sign: sign in shown for sign in EVERY_SIGN}
            leading = max(FAULTS_BY_KEY, key=lambda each, signs=signs: of(each, signs))  # type: ignore[misc]
            assert leading == key, sorted(shown)


@pytest.mark.parametrize("other", sorted(set(FAULTS_BY_KEY) - STROKE))
def test_an_actuator_that_answers_otherwise_is_never_stuck_whatever_else_is_wrong(other: str) -> None:
    """The actuator's own answer is hidden by no fault of a sensor or a setting."""
    assert {STANDS, BACKWARDS} <= set(NEVER_HIDDEN)
    surely = FAULTS_BY_KEY[other].variants[-1]
    signs = {sign: sign in surely.surely | surely.certainly for sign in EVERY_SIGN}
    moves = {**signs, "audit.air_stands": True, "air.stands": True, STANDS: False}
    assert of("stuck_damper", moves) < of("loose_blades", moves)


def test_a_setting_that_was_read_outweighs_what_tests_leave_open() -> None:
    """Far too open above the changeover: by the changeover or by the minimum, and the setting tells which."""
    signs = {"above.damper_position.high": True, "inside.not_ready": True, "below.not_ready": True}
    for sign, key in (("settings.changeover", "wrong_changeover"), ("settings.minimum", "wrong_minimum")):
        read = {**dict.fromkeys(SETTINGS, False), sign: True}
        assert of(key, {**signs, **read}) > 0.95
        assert of(key, {**signs, **read}) > of(key, signs)
        assert of(key, {**signs, **dict.fromkeys(SETTINGS, False)}) < of(key, signs) + 0.2

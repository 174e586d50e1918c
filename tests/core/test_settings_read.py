"""Settings that run, beside the plan: read from the controller or typed at it, they name a wrong one before any test."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from fentro_core.base.device import DeviceGone
from fentro_core.economizer.configuration import Configuration, configuration_json
from fentro_core.economizer.page import to_decide
from fentro_core.economizer.proof.diagnosis import ANOTHER_DAY, READ_SETTINGS, diagnose
from fentro_core.economizer.proof.session import settings_that_run
from fentro_core.economizer.proof.settings import (
    CHANGEOVER,
    DIFFERENTIAL,
    LOW_LIMIT,
    MINIMUM,
    ON_FAILURE,
    SETTINGS,
    settings_signs,
)
from fentro_core.economizer.proof.weighing import chances
from tests.core.proofs import upset
from tests.core.test_economizer_page import page, seen, setting
from tests.core.test_running import Stub
from tests.core.visits import entry

PLANNED = Configuration()
AS_PLANNED = dict.fromkeys(SETTINGS, False)
FINE = {"swapped": False, "drifted": False, "misplaced": False}


@pytest.mark.parametrize(
    ("planned", "runs", "other"),
    [
        ({}, {}, set()),
        ({}, {"minimum_position": 0.24}, set()),
        ({}, {"minimum_position": 0.25}, {MINIMUM}),
        ({}, {"high_limit_c": PLANNED.high_limit_c - 0.9}, set()),
        ({}, {"high_limit_c": PLANNED.high_limit_c - 1.0}, {CHANGEOVER}),
        ({}, {"changeover": "differential_dry_bulb"}, {CHANGEOVER}),
        ({"changeover": "differential_dry_bulb"}, {"high_limit_c": 15.0}, set()),
        ({"changeover": "differential_enthalpy"}, {"high_limit_c": PLANNED.high_limit_c - 2.0}, set()),
        ({"changeover": "fixed_enthalpy"}, {"high_limit_j_per_kg": 50_000.0}, {CHANGEOVER}),
        ({}, {"differential_k": 0.5}, set()),
        ({}, {"differential_k": 0.0}, {DIFFERENTIAL}),
        ({"differential_k": 0.2}, {"differential_k": 0.0}, set()),
        ({}, {"on_sensor_failure": "full"}, {ON_FAILURE}),
        ({}, {"loops": {**PLANNED.loops, "low_limit": "outdoor"}}, {LOW_LIMIT}),
        ({}, {"supply_setpoint_c": 15.0}, set()),
    ],
)
def test_a_setting_is_another_from_where_a_test_would_show_it(
    planned: dict[str, Any], runs: dict[str, Any], other: set[str]
) -> None:
    due = replace(PLANNED, **planned)
    signs = settings_signs(due, replace(due, **runs))
    assert {sign for sign, differs in signs.items() if differs} == other
    assert set(signs) == set(SETTINGS)


def test_what_is_not_known_is_no_sign() -> None:
    assert settings_signs(PLANNED, PLANNED, {"minimum_position"}) == {MINIMUM: False}
    assert settings_signs(PLANNED, PLANNED, {"changeover"}) == {}, "the same way to change over, its limit not known"
    other = replace(PLANNED, changeover="fixed_enthalpy")
    assert settings_signs(PLANNED, other, {"changeover"}) == {CHANGEOVER: True}


@pytest.mark.parametrize(
    ("sign", "fault"),
    [
        (CHANGEOVER, "wrong_changeover"),
        (MINIMUM, "wrong_minimum"),
        (DIFFERENTIAL, "no_differential"),
        (ON_FAILURE, "fail_safe"),
        (LOW_LIMIT, "low_limit_tied"),
    ],
)
def test_a_setting_read_as_another_leads_before_any_test(sign: str, fault: str) -> None:
    found = diagnose([], None, settings={**AS_PLANNED, sign: True})
    assert found.suspects[0].fault.key == fault
    assert found.suspects[0].signs == (sign,)
    assert found.sound < 0.1


def test_settings_as_planned_leave_what_the_tests_show_to_the_rest() -> None:
    """A compressor that runs though outdoor air cools is no wrong changeover where that was read to be right."""
    runs = upset(["cool.compressor.high"])
    unread, read = diagnose(runs, FINE), diagnose(runs, FINE, settings=AS_PLANNED)
    at = {each.fault.key: each.sure for each in unread.suspects}.get("wrong_changeover", 0.0)
    assert {each.fault.key: each.sure for each in read.suspects}.get("wrong_changeover", 0.0) <= at
    assert read.found == "compressor_not_locked"


def test_a_wrong_setting_is_named_though_the_controller_shows_the_planned_one() -> None:
    signs = ["above.damper_position.high", "above.compressor.low", "inside.not_ready", "below.not_ready"]
    assert diagnose(upset(signs), FINE, settings=AS_PLANNED).found == "wrong_changeover"


def test_a_controller_that_shows_the_plan_throughout_counts_once() -> None:
    """Of two wrong settings, both shown as planned, the second is no less likely for that."""
    signs = {"inside.damper_position.high": True, "sensor.damper_position.high": True}
    both = ("no_differential", "fail_safe")
    shown_one = chances({**signs, DIFFERENTIAL: False})
    shown_both = chances({**signs, DIFFERENTIAL: False, ON_FAILURE: False})
    assert shown_both[both] == pytest.approx(shown_one[both], rel=0.15)
    assert chances({**signs, DIFFERENTIAL: True, ON_FAILURE: True})[both] > 0.99


def test_where_the_settings_would_decide_and_nobody_read_them_they_are_asked_for() -> None:
    runs = [run for run in upset(["above.damper_position.high"]) if run.test in ("above", "heating")]
    assert diagnose(runs, FINE).open_between[0] == READ_SETTINGS, "nothing is quicker"
    assert READ_SETTINGS not in diagnose(runs, FINE, settings=AS_PLANNED).open_between


def test_on_a_day_with_airs_alike_another_day_is_asked_for() -> None:
    runs = upset(["any.tripped", "closed.outdoor_share.high"])
    assert ANOTHER_DAY not in diagnose(runs, FINE).open_between
    assert diagnose(runs, {**FINE, "alike": True}).open_between[0] == ANOTHER_DAY
    wide = [replace(run, plus_minus={"outdoor_share": 0.15}) if run.test == "minimum" else run for run in runs]
    assert diagnose(wide, FINE).open_between[0] == ANOTHER_DAY
    assert diagnose(upset([]), {**FINE, "alike": True}).open_between == (), "of a unit that nothing speaks against, no word"


class Gives(Stub):
    """Gives this configuration."""

    given: Any = None

    def save(self) -> dict[str, Any]:
        if self.given is None:
            raise DeviceGone
        return self.given


def test_only_settings_that_the_controller_gives_are_read() -> None:
    unit = Gives()
    assert settings_that_run(unit, PLANNED) is None
    unit.given = {}
    assert settings_that_run(unit, PLANNED) is None, "an empty answer is not the usual settings"
    unit.given = {"minimum_position": 0.6}
    assert settings_that_run(unit, PLANNED) == {MINIMUM: True}
    unit.given = {"minimum_position": 60}
    assert settings_that_run(unit, PLANNED) is None
    unit.given = configuration_json(replace(PLANNED, differential_k=0.0))
    assert settings_that_run(unit, PLANNED) == {**AS_PLANNED, DIFFERENTIAL: True}


TOO_FAR_OPEN = [
    seen("above", {"damper_position": 0.5, "compressor": 0.5}, [("damper_position", 0.14, 0.26), ("compressor", 0.2, None)]),
    seen("heating", {"damper_position": 0.5}, [("damper_position", 0.14, 0.26)]),
]
READ = entry("configuration", {"document": {"minimum_position": 0.5}, "reason": "As found"})


def test_on_the_page_a_setting_read_as_found_speaks_beside_the_tests() -> None:
    planned = setting("minimum_position", 0.2)
    by_tests, read = page(planned, *TOO_FAR_OPEN), page(READ, planned, *TOO_FAR_OPEN)
    words = "The settings that run, beside the plan"
    assert words in by_tests.open_between
    assert read.found == "wrong_minimum"
    assert words in read.suspects[0].tests
    typed = page(setting("minimum_position", 0.5, "as_found"), planned, *TOO_FAR_OPEN)
    assert words in typed.suspects[0].tests
    assert page(READ, planned).suspects == (), "a plan alone accuses nobody"


def test_on_the_page_settings_as_left_end_it() -> None:
    mended = [
        READ,
        setting("minimum_position", 0.2),
        *TOO_FAR_OPEN,
        setting("minimum_position", 0.2, "as_left"),
        *(
            seen(test, {"damper_position": 0.2}, [("damper_position", 0.14, 0.26)], "as_left", reached_s=20)
            for test in ("above", "heating")
        ),
    ]
    found = page(*mended)
    assert (found.found, found.suspects) == ("", ())
    assert all(cause.key == "wrong_minimum" for test in found.tests if test.as_found for cause in test.as_found.causes[:1])


def test_on_the_page_what_was_sent_and_not_confirmed_is_not_known_to_run() -> None:
    sent = entry("configuration", {"document": {"minimum_position": 0.2}, "reason": "As planned", "source": "unconfirmed"})
    again = [seen("above", {"damper_position": 0.5}, [("damper_position", 0.14, 0.26)], "as_left")]
    words = "The settings that run, beside the plan"
    found = page(READ, setting("minimum_position", 0.2), *TOO_FAR_OPEN, sent, *again)
    assert words in found.open_between or not any(words in each.tests for each in found.suspects)
    confirmed = entry("configuration", {"document": {"minimum_position": 0.5}, "reason": "Read again"})
    known = page(READ, setting("minimum_position", 0.2), *TOO_FAR_OPEN, sent, confirmed, *again)
    assert words in known.suspects[0].tests


def test_another_day_is_said_with_its_difference_in_both_systems() -> None:
    assert to_decide(ANOTHER_DAY, {}, set(), None) == "A day on which outdoor and return air differ by 10 K (18 °F) or more"
    assert to_decide(READ_SETTINGS, {}, set(), None) == "The settings that run, beside the plan"

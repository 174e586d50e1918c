"""Causes of a damp room, and faults of reheat and bypass, among the causes of a visit."""

from __future__ import annotations

from typing import Any

import pytest

from tests.core.moist import REHEATS, moisture_phase
from tests.core.test_drying_proof import seen
from tests.core.visits import across, entry, flow

AIM = entry("moisture_aim", {"wanted_c": 24.0, "wanted_rh": 0.5})
DAMP = across("return", 24.0, 70, 12)
DRIES = across("supply", 13.0, 95, 12)
WARM = across("supply", 21.5, 82, 12)


def moist(phase: Any) -> dict[str, bool]:
    """Causes in matters of moisture, and whether each is likely."""
    return {each.key: each.likely for each in phase.findings if each.part == "Moisture"}


def test_a_damp_day_on_a_visit_about_something_else_is_no_complaint() -> None:
    assert moist(moisture_phase(DAMP, WARM, flow(1.2))) == {}
    assert "coil_too_warm" in moist(moisture_phase(DAMP, WARM, flow(1.2), AIM))


def test_a_coil_too_warm_to_dry_is_likely_and_one_that_dries_is_not() -> None:
    warm = moist(moisture_phase(DAMP, WARM, flow(1.2), AIM))
    assert warm["coil_too_warm"]
    assert not any(likely for key, likely in warm.items() if key != "coil_too_warm")
    assert not moist(moisture_phase(DAMP, DRIES, flow(1.2), AIM)).get("coil_too_warm")


def test_a_dry_room_points_to_nothing_whatever_is_noted() -> None:
    bucket = entry("condensate", {"condensate_kg": 1.6, "minutes": 10.0})
    dry = (across("return", 24.0, 50, 12), across("supply", 12.0, 95, 12), flow(1.2))
    assert not any(moist(moisture_phase(*dry, AIM)).values())
    assert not any(moist(moisture_phase(*dry, AIM, bucket)).values())


def test_outdoor_air_or_another_way_in_is_told_by_the_balance() -> None:
    outdoor = across("outdoor", 31.0, 75, 12)
    read = (DAMP, DRIES, outdoor, flow(1.2))
    much = entry("water_sources", {"outdoor_m3s": 0.75})
    assert moist(moisture_phase(*read, much)).get("outdoor_damp")
    little = entry("water_sources", {"occupants": 2})
    unexplained = moist(moisture_phase(*read, little))
    assert unexplained.get("hidden_water")
    assert not unexplained.get("outdoor_damp")


@pytest.mark.parametrize(
    ("rises", "cause"), [({"cooling": 7.0, "back": 6.8}, "drying_reheat_stuck_on"), ({"cooling": 1.0, "back": 1.1}, None)]
)
def test_two_runs_of_the_proof_are_a_likely_cause_and_one_is_none(rises: dict[str, float], cause: str | None) -> None:
    runs = [seen(test, rise) for test, rise in rises.items()]
    found = moist(moisture_phase(*runs, plate=REHEATS))
    assert found == ({cause: True} if cause else {})
    assert moist(moisture_phase(runs[0], plate=REHEATS)) == {}, "one run names nothing"

"""A unit that does what is set, and is set wrong for where it stands."""

from __future__ import annotations

from typing import Any

import pytest

from fentro_core.economizer.changeover import FIXED_LIMIT_F
from fentro_core.economizer.configuration import Configuration, configuration_json
from fentro_core.economizer.suits import unsuited
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.visit.work_up import work_up
from tests.core.visits import entry, snapshot


def marks(method: Any, limit_c: float, zone: str) -> list[tuple[str, str]]:
    return [(each.setting, each.mark) for each in unsuited(Configuration(changeover=method, high_limit_c=limit_c), zone)]


@pytest.mark.parametrize("zone", FIXED_LIMIT_F)
def test_the_zones_own_limit_suits_it(zone: str) -> None:
    assert marks("fixed_dry_bulb", (FIXED_LIMIT_F[zone] - 32) / 1.8, zone) == []
    assert marks("differential_enthalpy", 23.9, zone) == []


def test_what_does_not_suit_is_said() -> None:
    assert marks("differential_dry_bulb", 23.9, "2A") == [("changeover", "off")]
    assert marks("differential_dry_bulb", 23.9, "5B") == []
    assert marks("fixed_dry_bulb", 23.9, "3A") == [("high_limit_c", "off")]
    assert marks("fixed_dry_bulb", 12.8, "5B") == [("high_limit_c", "watch")]
    assert marks("fixed_enthalpy", 30.0, "5B") == [("high_limit_c", "off")]
    assert marks("fixed_dry_bulb", 40.0, "") == [], "no zone, no word"
    assert marks("fixed_dry_bulb", 18.3 + 0.5, "3A") == [], "a rounded limit is the limit"


def lines(*entries: dict[str, Any], zone: str = "3A") -> dict[str, list[str]]:
    document = snapshot(list(entries), "packaged_rooftop", economizer=True)
    document["site"]["climate_zone"] = zone
    phases = work_up(read_snapshot(document)).phases
    return {each.phase: [line.sentence.say() for line in each.verdicts if line.key == "changeover"] for each in phases}


def saved(source: str = "controller", **changes: Any) -> dict[str, Any]:
    document = {**configuration_json(Configuration(changeover="fixed_dry_bulb", high_limit_c=18.3)), **changes}
    return entry("configuration", {"document": document, "reason": "As found", "source": source})


def test_as_found_is_judged_where_it_was_read_or_typed() -> None:
    assert lines()["as_found"] == [], "what is only supposed is not judged"
    assert lines(saved())["as_found"] == []
    told = lines(saved(high_limit_c=26.0))["as_found"]
    assert len(told) == 1
    assert "26.0" in told[0]
    assert "3A" in told[0]
    assert lines(saved(high_limit_c=26.0), zone="")["as_found"] == []
    typed = entry("plan_setting", {"setting": "high_limit_c", "stage": "as_found", "number": 27.0, "reason": "read at the unit"})
    assert "27.0" in lines(typed)["as_found"][0]

"""What ducts and zones say among causes, verdicts and the numbers that are followed: the branch or zone is named, the rest is not accused."""

from __future__ import annotations

import copy
from typing import Any

import pytest

from bench.unchanged import demo_documents
from fentro_core.diagnosis.engine import rank
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.visit.results import PhaseResult
from fentro_core.visit.work_up import work_up
from tests.core.visits import new_id

BALANCE = next(document for name, document in demo_documents() if name == "demo/furnace-balance")
AT = "2026-06-19T03:20:00+00:00"


def visit(*, without: tuple[str, ...] = (), more: tuple[dict[str, Any], ...] = (), **hardware: Any) -> dict[str, Any]:
    """The demo's balancing visit without some kinds of entries, with more of them, its zone hardware changed."""
    document = copy.deepcopy(BALANCE)
    document["entries"] = [each for each in document["entries"] if each["kind"] not in {*without, "closing"}]
    for each in document["entries"]:
        if each["kind"] == "zone_hardware":
            each["body"].update(hardware)
    document["entries"] += [{"id": new_id(), "at": AT, "phase": "as_found", **each} for each in more]
    return document


def registers(document: dict[str, Any], **flows: float) -> dict[str, Any]:
    """Register flows as given [L/s], by branch; the others away."""
    kept = []
    for each in document["entries"]:
        station = each["body"].get("station", "") if each["kind"] == "reading" else ""
        if station.startswith("register-"):
            continue
        kept.append(each)
    document["entries"] = kept
    for station, value in flows.items():
        body = {"station": f"register-{station.replace('_', '-')}", "quantity": "airflow", "value": value, "unit": "L/s"}
        document["entries"].append({"id": new_id(), "kind": "reading", "at": AT, "phase": "as_found", "body": body})
    return document


def smallest(static_pa: float | None, supply_c: float | None, ended: str = "done") -> dict[str, Any]:
    body = {"test": "bypass", "static_pa": static_pa, "supply_c": supply_c, "ended": ended}
    return {"kind": "zone_test", "body": {key: value for key, value in body.items() if value is not None}}


def found(document: dict[str, Any]) -> PhaseResult:
    return work_up(read_snapshot(document)).phases[0]


def named(document: dict[str, Any]) -> dict[str, str]:
    """Causes of ducts and zones by key."""
    return {each.key: each.name for each in found(document).findings if each.part in ("Ducts", "Zones")}


def test_the_crushed_branch_is_named_and_what_is_seen_of_it() -> None:
    phase = found(visit(without=("zone",)))
    first = phase.findings[0]
    assert first.name == "Branch crushed, shut or not as drawn: Office, Upper"
    assert first.likely
    assert [sentence.say() for sentence in first.seen] == [
        "Office, Upper loses 4.4 times as much as drawn (2.8 to 6.9).",
        "Office, Upper gets 37 % of its design airflow.",
    ]
    assert (
        phase.verdicts[0].sentence.say().startswith("Most likely: branch crushed, shut or not as drawn: Office, Upper (2 signs")
    )
    assert phase.followed["most_branch_loss"].value == pytest.approx(4.41, abs=0.01)
    assert phase.followed["least_room_share"].value == pytest.approx(0.371, abs=0.001)


def test_without_a_reading_at_a_register_nothing_is_said_of_branches() -> None:
    document = registers(visit(without=("zone",)))
    assert named(document) == {}
    assert {"most_branch_loss", "least_room_share"}.isdisjoint(found(document).followed)


def test_a_branch_that_is_as_drawn_and_starves_is_too_small() -> None:
    seen = {"branch_loss": "right", "room_share": "low"}
    ranked = rank(seen, "cooling", "furnace_with_coil")
    assert [each.cause.key for each in ranked] == ["branch_too_small"]
    crushed = rank({**seen, "branch_loss": "more"}, "cooling", "furnace_with_coil")
    assert [each.cause.key for each in crushed] == ["branch_held_back"]


def test_ducts_and_refrigerant_are_not_held_against_each_other() -> None:
    unit = {"split": "low", "capacity": "low"}
    ducts = {"branch_loss": "more", "room_share": "low"}
    alone = {each.cause.key: each.fit for seen in (unit, ducts) for each in rank(seen, "cooling", "furnace_with_coil")}
    both = {each.cause.key: each.fit for each in rank({**unit, **ducts}, "cooling", "furnace_with_coil")}
    assert both == alone
    assert {"low_charge", "branch_held_back"} <= set(both)


def test_a_zone_too_small_is_named_where_nothing_takes_what_is_left() -> None:
    assert named(visit())["zone_too_small"] == "Zone too small for the unit: Shop"
    assert "zone_too_small" not in named(visit(school="bypass")), "with a bypass only what is read there can tell"


@pytest.mark.parametrize(
    ("static_pa", "supply_c", "causes"),
    [
        (180.0, 11.0, {"zone_too_small"}),
        (110.0, 3.5, {"bypass_too_much"}),
        (110.0, 11.0, set()),
        (149.0, None, set()),
        (None, 5.2, set()),
    ],
)
def test_what_was_noted_at_the_smallest_zone(static_pa: float | None, supply_c: float | None, causes: set[str]) -> None:
    document = visit(school="bypass", more=(smallest(static_pa, supply_c),))
    told = named(document)
    assert set(told) - {"branch_held_back"} == causes
    assert all(told[key].endswith(": Shop") for key in causes)


def test_static_and_supply_of_the_smallest_zone_are_followed() -> None:
    followed = found(visit(school="bypass", supply_limit_c=7.0, more=(smallest(112.0, 11.0),))).followed
    assert followed["zone_static"].value == pytest.approx(112.0)
    assert followed["zone_supply_margin"].value == pytest.approx(4.0)
    stopped = found(visit(school="bypass", more=(smallest(180.0, 3.0, "stopped"),)))
    assert {"zone_static", "zone_supply_margin"}.isdisjoint(stopped.followed)
    assert "zone_too_small" not in named(visit(school="bypass", more=(smallest(180.0, 3.0, "stopped"),)))


def test_in_heating_the_limit_is_above() -> None:
    season = {"kind": "balance_season", "body": {"season": "heating"}}
    assert "bypass_too_much" in named(visit(school="bypass", more=(season, smallest(110.0, 70.0))))
    assert "bypass_too_much" not in named(visit(school="bypass", more=(season, smallest(110.0, 40.0))))

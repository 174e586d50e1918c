"""Entries and nameplates: what is taken, what is refused and where, and plates in words."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.base import typed_json
from fentro_core.base.refusal import Refused
from fentro_core.base.units import KINDS as UNIT_KINDS
from fentro_core.base.units import UNITS
from fentro_core.instruments.quantities import READABLE, to_si
from fentro_core.logbook.accept import check_place, check_replacement
from fentro_core.logbook.entry import Entry, read_entry, standing
from fentro_core.logbook.snapshot import Site, Snapshot, check_site, read_snapshot
from fentro_core.logbook.steps import CHECKS, STEP_NAMES, cautions_of, checks_of
from fentro_core.system.kinds import KIND_NAMES, KINDS, air_path, read_nameplate
from fentro_core.system.nameplate import nameplate_words
from tests.core.visits import air, entry, reading, snapshot, started

GOOD: list[tuple[str, dict[str, Any]]] = [
    ("reading", {"station": "return", "quantity": "dry_bulb", "value": 24.6, "unit": "degC"}),
    ("reading", {"station": "return", "quantity": "dry_bulb", "value": 76, "unit": "degF", "point": 3, "plus_minus": 0.5}),
    ("note", {"text": "Belt squeals", "step": "trace"}),
    ("setting", {"what": "Minimum position", "was": "20 %", "now": "25 %", "why": "outdoor air"}),
    ("check", {"item": "filter_in"}),
    ("check", {"item": "filter_in", "done": False}),
    ("run", {"event": "started"}),
    ("closing", {"summary": "done"}),
    ("reopening", {}),
]


@pytest.mark.parametrize(("kind", "body"), GOOD)
def test_every_kind_of_entry_comes_back_as_it_was(kind: str, body: dict[str, Any]) -> None:
    made = read_entry(entry(kind, body))
    assert made.kind == kind
    written = typed_json.write(made)
    assert body.items() <= written["body"].items()
    assert read_entry(written) == made


BAD: list[tuple[str, dict[str, Any], str]] = [
    ("reading", {"station": "return", "quantity": "dry_bulb", "value": 24.6}, "body.unit"),
    ("reading", {"station": "return", "quantity": "smell", "value": 1, "unit": "degC"}, "body.quantity"),
    ("reading", {"station": "return", "quantity": "dry_bulb", "value": 24.6, "unit": "K"}, "body.unit"),
    ("reading", {"station": "return", "quantity": "dry_bulb", "value": 246, "unit": "degC"}, "body.value"),
    ("reading", {"station": "return", "quantity": "relative_humidity", "value": 101, "unit": "percent"}, "body.value"),
    ("reading", {"station": "return", "quantity": "airflow", "value": -5, "unit": "cfm"}, "body.value"),
    ("reading", {"station": "return", "quantity": "dry_bulb", "value": 24, "unit": "degC", "point": 0}, "body.point"),
    ("reading", {"station": "return", "quantity": "dry_bulb", "value": 24, "unit": "degC", "point": 1.5}, "body.point"),
    ("reading", {"station": "return", "quantity": "dry_bulb", "value": 24, "unit": "degC", "plus_minus": -1}, "body.plus_minus"),
    ("note", {"text": ""}, "body.text"),
    ("note", {"text": "x" * 4001}, "body.text"),
    ("note", {"text": 7}, "body.text"),
    ("setting", {"what": "Filter", "was": " ", "now": "new"}, "body.was"),
    ("check", {"item": "tea_made"}, "body.item"),
    ("check", {"item": "filter_in", "done": "yes"}, "body.done"),
    ("run", {"event": "jogged"}, "body.event"),
    ("withdrawal", {}, "replaces"),
    ("reopening", {"extra": 1}, "body.extra"),
]


@pytest.mark.parametrize(("kind", "body", "path"), BAD)
def test_a_bad_entry_is_refused_at_its_field(kind: str, body: dict[str, Any], path: str) -> None:
    with pytest.raises(Refused) as refused:
        read_entry(entry(kind, body))
    assert refused.value.path == path


@pytest.mark.parametrize(
    ("at", "good"), [("2026-07-01T10:00:00Z", True), ("2026-07-01T10:00:00+05:30", True), ("1999-01-01T00:00:00Z", False)]
)
def test_the_devices_clock(at: str, good: bool) -> None:
    given_entry = {**entry("reopening", {}), "at": at}
    if good:
        assert read_entry(given_entry).at == at
    else:
        with pytest.raises(Refused, match="clock"):
            read_entry(given_entry)


def test_ids_are_written_one_way() -> None:
    loud = {**entry("reopening", {}), "id": "5B7C6B51-52E0-4F0C-8E1B-6D2F1D3C9A10"}
    assert read_entry(loud).id == "5b7c6b51-52e0-4f0c-8e1b-6d2f1d3c9a10"


@given(st.sampled_from(sorted(READABLE)), st.data())
def test_what_is_possible_is_taken_in_every_unit_and_nothing_else(quantity: str, data: st.DataObject) -> None:
    readable = READABLE[quantity]
    low, high = readable.possible
    unit = UNITS[readable.kind][data.draw(st.sampled_from(sorted(UNITS[readable.kind])))]
    inside = data.draw(st.floats(low, high))
    assert to_si(quantity, unit.from_si(inside), unit.key) == pytest.approx(inside, abs=1e-6, rel=1e-9)
    beyond = high + data.draw(st.floats(0.01, 100)) * (high - low)
    with pytest.raises(Refused):
        to_si(quantity, unit.from_si(beyond), unit.key)


def test_usual_lies_within_possible() -> None:
    for readable in READABLE.values():
        assert readable.possible[0] <= readable.usual[0] < readable.usual[1] <= readable.possible[1]
        assert readable.kind in UNIT_KINDS


def test_places_are_those_of_the_system() -> None:
    path = air_path("furnace_with_coil", read_nameplate("furnace_with_coil", {}))
    check_place(read_entry(reading("return", "dry_bulb", 24, "degC")), path, {"A"})
    for wrong, field in (
        (reading("mixed", "dry_bulb", 24, "degC"), "body.station"),
        (reading("outdoor", "airflow", 500, "cfm"), "body.quantity"),
        (reading("return", "dry_bulb", 24, "degC", instrument="Z"), "body.instrument"),
    ):
        with pytest.raises(Refused) as refused:
            check_place(read_entry(wrong), path, {"A"})
        assert refused.value.path == field


def test_what_may_replace_what() -> None:
    first = read_entry(entry("note", {"text": "y"}))
    note = read_entry(entry("note", {"text": "x"}, replaces=first.id))
    check_replacement(note, {first.id: first})
    check_replacement(read_entry(entry("withdrawal", {}, replaces=first.id)), {first.id: first})
    read, closing = read_entry(reading("return", "dry_bulb", 24, "degC")), read_entry(entry("closing", {}))
    again = read_entry(entry("note", {"text": "z"}, replaces=first.id))
    for logbook in ({}, {first.id: first, again.id: again}, {first.id: read}, {first.id: closing}):
        with pytest.raises(Refused) as refused:
            check_replacement(note, logbook)
        assert refused.value.path == "replaces"


def test_standing_entries_keep_their_order() -> None:
    made = [read_entry(each) for each in air("return", 24, 50) + air("supply", 13, 90)]
    back = read_entry(entry("withdrawal", {}, replaces=made[1].id))
    left: list[Entry] = standing([*made, back])
    assert [each.id for each in left] == [made[0].id, made[2].id, made[3].id]


PLATE: dict[str, dict[str, Any]] = {
    "packaged_rooftop": {"maker": "Norrand", "rated_total_w": 35169.0, "economizer": True, "changeover": "fixed_enthalpy"},
    "furnace_with_coil": {
        "rated_total_w": 10551.0,
        "heating_input_w": 26376.0,
        "branches": [{"room": "A", "floor": "1"}, {"room": "B", "floor": "2"}],
    },
    "split_heat_pump": {"rated_total_w": 8792.0, "rated_heating_w": 8500.0, "night_cooling": True},
    "dwelling_ventilator": {"rated_airflow_m3s": 0.0566, "heat_recovery": True},
}


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_every_kind_of_plate_reads_writes_and_says_itself(kind: str) -> None:
    plate = read_nameplate(kind, PLATE[kind])
    written = typed_json.write(plate)
    assert read_nameplate(kind, written) == plate
    words = {line.label: line.text or (line.number and line.number.kind) for line in nameplate_words(plate)}
    assert all(words.values())
    assert kind in KIND_NAMES


def test_plates_in_words() -> None:
    lines = {line.label: line for line in nameplate_words(read_nameplate("furnace_with_coil", PLATE["furnace_with_coil"]))}
    assert lines["Branches"].text == "2 on 2 floors"
    assert lines["Rated cooling, total"].number is not None
    assert lines["Rated cooling, total"].number.kind == "tonnage"
    roof = {line.label: line.text for line in nameplate_words(read_nameplate("packaged_rooftop", PLATE["packaged_rooftop"]))}
    assert roof["Economizer"] == "yes"
    assert roof["Changeover"] == "fixed enthalpy"


@pytest.mark.parametrize(
    ("kind", "plate", "path"),
    [
        ("toaster", {}, "kind"),
        ("packaged_rooftop", {"rated_total_w": 0}, "nameplate.rated_total_w"),
        ("packaged_rooftop", {"rated_sensible_heat_ratio": 1.2}, "nameplate.rated_sensible_heat_ratio"),
        ("packaged_rooftop", {"changeover": "weather"}, "nameplate.changeover"),
        ("packaged_rooftop", {"night_cooling": True}, "nameplate.night_cooling"),
        ("furnace_with_coil", {"branches": [{"floor": "1"}]}, "nameplate.branches.0.room"),
        ("furnace_with_coil", [], "nameplate"),
        ("dwelling_ventilator", {"rated_airflow_m3s": "much"}, "nameplate.rated_airflow_m3s"),
    ],
)
def test_a_wrong_plate_is_refused_at_its_field(kind: str, plate: Any, path: str) -> None:
    with pytest.raises(Refused) as refused:
        read_nameplate(kind, plate)
    assert refused.value.path == path


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_every_path_is_whole(kind: str) -> None:
    path = air_path(kind, read_nameplate(kind, PLATE[kind]))
    known = {station.id for station in path.stations}
    for band in path.bands:
        ids = [element.id for element in band.elements]
        assert len(ids) == len(set(ids))
        assert {element.station for element in band.elements if element.station} <= known
        assert all(joint.at in ids for joint in band.joints)
    assert set(path.apart) <= known
    assert any(station.needed for station in path.stations)
    assert all(station.where and station.avoid for station in path.stations)


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_each_step_has_its_checks_and_cautions(kind: str) -> None:
    assert {item.step for item in CHECKS.values()} <= set(STEP_NAMES)
    assert checks_of("arrive", kind)
    assert cautions_of("arrive", kind)
    assert any("Lock out power" in caution for caution in cautions_of("settle", kind))
    assert any("carbon monoxide" in caution for caution in cautions_of("arrive", kind)) == (kind == "furnace_with_coil")


def test_a_snapshot_comes_back_as_it_was() -> None:
    made: Snapshot = read_snapshot(snapshot([started(), *air("return", 24.6, 58)], branches=[{"room": "A"}]))
    assert read_snapshot(typed_json.write(made)) == made


@pytest.mark.parametrize(
    ("site", "path"),
    [
        (Site("x", -600.0), "site.elevation_m"),
        (Site("x", 0.0, 20_000.0), "site.barometer_pa"),
        (Site("x", climate_zone="6C"), "site.climate_zone"),
    ],
)
def test_no_such_site(site: Site, path: str) -> None:
    with pytest.raises(Refused) as refused:
        check_site(site)
    assert refused.value.path == path


def test_cautions_are_of_the_place_where_it_is_known() -> None:
    said = " ".join
    assert "Attic" in said(cautions_of("arrive", "furnace_with_coil")), "nobody knows where it stands"
    assert "Attic" not in said(cautions_of("arrive", "furnace_with_coil", "Closet behind the kitchen"))
    assert "Attic" in said(cautions_of("arrive", "packaged_rooftop", "in the ATTIC"))
    assert "Roof" in said(cautions_of("arrive", "split_heat_pump", "Flat roof, north"))
    assert "Crawl space" in said(cautions_of("arrive", "split_heat_pump", "crawl space"))
    assert "Crawl space" not in said(cautions_of("arrive", "split_heat_pump"))
    assert cautions_of("restore", "furnace_with_coil", "closet") == cautions_of("restore", "furnace_with_coil")

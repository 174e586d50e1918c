"""Ducts on the server: the page, the table out and in, the reminder, and what a visit leaves to the next."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest

from fentro_core.base.refusal import Refused
from fentro_core.ducts.reminder import reminder
from fentro_core.ducts.table import read_ducts, read_table, write_json, write_table
from fentro_core.system.ducts import DuctTree
from fentro_server.demo import ducts as demo
from fentro_server.demo.scenario import SYSTEMS
from tests.server.conftest import House, add, new_entry, post, signed_in

TRUNKS = [new_entry("duct_trunk", dict(trunk)) for trunk in demo.TRUNKS]


def branches() -> list[dict[str, Any]]:
    return [new_entry("duct_branch", demo.branch(row)) for row in demo.BRANCHES]


@pytest.fixture
def walked(house: House) -> House:
    """The demo's tree, walked at the house's furnace, its fan table on the nameplate."""
    plate = SYSTEMS["furnace"]["nameplate"]
    house.system.nameplate = {key: plate[key] for key in ("fan_table", "rated_airflow_m3s", "rated_total_w")}
    house.system.save()
    trunks = [{**entry, "id": new_entry()["id"]} for entry in TRUNKS]
    answer = add(signed_in(house.people["technician"]), house.visit, *trunks, *branches()).json()
    assert answer["refused"] == []
    return house


def page_of(house: House) -> Any:
    return signed_in(house.people["technician"]).get(f"/api/v1/visits/{house.visit.pk}/ducts").json()["page"]


def share(page: Any, branch: str) -> float:
    return float(next(line["share"]["value"] for line in page["branches"] if line["piece"]["id"] == branch))


def test_the_page_divides_the_air_and_plans(walked: House) -> None:
    page = page_of(walked)
    assert len(page["branches"]) == 11
    assert page["trouble"] is None
    assert sum(line["airflow"]["value"] for line in page["branches"]) == pytest.approx(page["total"]["value"])
    assert page["plan"]["design_by"] == "entered"
    assert page["plan"]["turns"]
    assert "drawing alone" in page["plan"]["notes"][0]["text"]
    assert page["next"][0]["station"].startswith("register-")


def test_a_reading_at_a_register_counts_at_once_and_a_turned_handle_begins_a_round(walked: House) -> None:
    technician = signed_in(walked.people["technician"])
    body = {"station": "register-office-upper", "quantity": "airflow", "value": 9, "unit": "L/s"}
    add(technician, walked.visit, new_entry(body=body))
    page = page_of(walked)
    office = next(line for line in page["branches"] if line["piece"]["id"] == "office")
    assert office["measured"]["value"] == pytest.approx(0.009)
    assert "crushed" in office["finding"]["text"]
    assert office["mark"] == "off"
    assert any("left out of this plan" in note["text"] for note in page["plan"]["notes"])
    first = page["plan"]["turns"][0]
    turned = {"branch": first["branch"], "damper_deg": first["to"]["damper_deg"], "register_open": first["to"]["register_open"]}
    add(technician, walked.visit, new_entry("damper_turned", turned, phase="as_left"))
    after = page_of(walked)
    assert first["branch"] not in {turn["branch"] for turn in after["plan"]["turns"]}
    line = next(line for line in after["branches"] if line["piece"]["id"] == first["branch"])
    assert line["share"]["value"] < line["share_before"]["value"], "as found stays as found"
    assert next(each for each in after["branches"] if each["piece"]["id"] == "office")["measured"] is None, "read before the turn"


def test_the_verdicts_name_the_starved_room(walked: House) -> None:
    technician = signed_in(walked.people["technician"])
    body = {"station": "register-office-upper", "quantity": "airflow", "value": 9, "unit": "L/s"}
    page = add(technician, walked.visit, new_entry(body=body)).json()["visit"]
    lines = [line for line in page["work_up"]["phases"][0]["verdicts"] if line["key"].startswith("ducts:office")]
    assert {line["mark"] for line in lines} == {"off", "watch"}
    assert {line["opens"] for line in lines} == {"ducts"}


def test_a_closed_visit_leaves_its_ducts_to_the_next(walked: House) -> None:
    technician = signed_in(walked.people["technician"])
    gone = new_entry("duct_gone", {"id": "proof"})
    turned = new_entry("damper_turned", {"branch": "paper-a", "damper_deg": 30.0}, phase="as_left")
    add(technician, walked.visit, gone, turned)
    before = page_of(walked)
    walked.system.refresh_from_db()
    assert "ducts" not in walked.system.nameplate, "not before it is closed"
    add(technician, walked.visit, new_entry("closing", {"summary": "Walked."}))
    walked.system.refresh_from_db()
    kept = {branch["id"]: branch for branch in walked.system.nameplate["ducts"]["branches"]}
    assert len(kept) == 10
    assert kept["paper-a"]["damper_deg"] == 30.0
    again = page_of(walked)
    assert share(again, "office") == pytest.approx(share(before, "office")), "the closed visit itself says the same as before"
    found = {line["piece"]["id"]: line["share_before"]["value"] for line in again["branches"]}
    assert found == pytest.approx({line["piece"]["id"]: line["share_before"]["value"] for line in before["branches"]})


def test_a_cancelled_visit_leaves_nothing(walked: House) -> None:
    closing = new_entry("closing", {"summary": "", "cancelled": True, "reason": "wrong unit"})
    add(signed_in(walked.people["technician"]), walked.visit, closing)
    walked.system.refresh_from_db()
    assert "ducts" not in walked.system.nameplate


def test_what_does_not_hang_together_is_said_and_loses_nothing(house: House) -> None:
    ring = [
        new_entry("duct_trunk", {"id": "1", "after": "2", "name": "East", "diameter_m": 0.3, "length_m": 2.0}),
        new_entry("duct_trunk", {"id": "2", "after": "1", "name": "West", "diameter_m": 0.3, "length_m": 2.0}),
        new_entry("duct_branch", {"id": "3", "after": "1", "room": "Den", "diameter_m": 0.15, "length_m": 2.0}),
    ]
    answer = add(signed_in(house.people["technician"]), house.visit, *ring).json()
    assert answer["refused"] == []
    page = page_of(house)
    assert "round in a ring" in page["troubles"][0]["sentence"]["text"]
    assert len(page["branches"]) == 1
    assert page["total"] is None


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"length_m": 0}, "body.length_m"),
        ({"diameter_m": None}, "body.diameter_m"),
        ({"room": " "}, "body.room"),
        ({"fittings": ["elbow of gold"]}, "body.fittings"),
    ],
)
def test_a_piece_that_can_not_be_is_refused_at_its_field(house: House, change: dict[str, Any], path: str) -> None:
    body = {**demo.branch(demo.BRANCHES[0]), **change}
    refused = add(signed_in(house.people["technician"]), house.visit, new_entry("duct_branch", body)).json()["refused"]
    assert [each["refusal"]["path"] for each in refused] == [path]


def test_the_table_goes_out_and_comes_in_again_the_same(walked: House) -> None:
    technician = signed_in(walked.people["technician"])
    text = technician.get(f"/api/v1/visits/{walked.visit.pk}/ducts.csv").content.decode()
    assert text.splitlines()[0].startswith("piece,id,after")
    looked = post(technician, "/api/v1/ducts/look", {"text": text}).json()["tree"]
    assert len(looked["branches"]) == 11
    tree = read_table(text)
    assert write_table(tree) == text
    shuffled = "\n".join(reversed(text.splitlines()[1:]))
    assert {each.id for each in read_table(text.splitlines()[0] + "\n" + shuffled).pieces} == {each.id for each in tree.pieces}


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "The table is empty"),
        ("room;length (m)\nDen;4", "lacks the columns: piece"),
        ("piece,length (m)\n", "no ducts"),
        ("piece,length (m)\npipe,4", "Line 2: a piece is a trunk or a branch"),
        ("piece,room,diameter (mm),length (m)\nbranch,Den,150,long", "Line 2, length (m): “long” is not a number"),
        ("piece,room,diameter (mm),length (m)\nbranch,Den,150,", "Line 2: give the length"),
        ("piece,room,diameter (mm),length (m)\nbranch,Den,,4", "Line 2, diameter (mm): Give the diameter, or both sides"),
        ("piece,id,room,diameter (mm),length (m)\nbranch,a,Den,150,4\nbranch,a,Hall,150,4", "stands there twice"),
        ("piece,room,diameter (mm),length (m),wall\nbranch,Den,150,4,brick", "wall is one of"),
    ],
)
def test_a_table_that_can_not_be_read_says_where(ours: House, text: str, words: str) -> None:
    answer = post(signed_in(ours.people["technician"]), "/api/v1/ducts/look", {"text": text})
    assert answer.status_code == 422
    assert words in answer.json()["detail"]


def test_a_table_without_end_is_refused_at_once(ours: House) -> None:
    lines = "\n".join(f"branch,Room {number},150,4" for number in range(20_000))
    text = f"piece,room,diameter (mm),length (m)\n{lines}"
    answer = post(signed_in(ours.people["technician"]), "/api/v1/ducts/look", {"text": text})
    assert answer.status_code == 422
    assert "At most 240 pieces" in answer.json()["detail"]


def test_a_spreadsheet_takes_no_room_for_a_formula() -> None:
    tree = read_table("piece,room,diameter (mm),length (m)\nbranch,'=1+1,150,4")
    assert tree.branches[0].room == "=1+1"
    assert "'=1+1" in write_table(tree)
    assert read_table(write_table(tree)) == tree


def test_the_reminder_is_a_yearly_event_with_the_marks(walked: House) -> None:
    answer = signed_in(walked.people["technician"]).get(f"/api/v1/visits/{walked.visit.pk}/season.ics")
    assert answer["Content-Type"].startswith("text/calendar")
    text = answer.content.decode()
    assert "RRULE:FREQ=YEARLY" in text
    assert all(len(line.encode()) <= 75 for line in text.split("\r\n"))
    unfolded = text.replace("\r\n ", "")
    assert "Press room\\, north\\, Ground: damper" in unfolded
    marks = [("Den; hall", "open")]
    said = reminder("Unit", "Mill", "heating", marks, date(2026, 11, 26), "1").replace("\r\n ", "")
    assert "DTSTART;VALUE=DATE:20271001" in said
    assert "Den\\; hall: open" in said


def test_no_plan_no_reminder(house: House) -> None:
    answer = signed_in(house.people["technician"]).get(f"/api/v1/visits/{house.visit.pk}/season.ics")
    assert answer.status_code == 422
    assert "no balance plan yet" in answer.content.decode()


def test_a_tree_taken_over_takes_the_place_of_what_was_known(walked: House) -> None:
    tree = {"trunks": [], "branches": [{"id": "1", "room": "Den", "diameter_m": 0.15, "length_m": 4.0}]}
    add(signed_in(walked.people["technician"]), walked.visit, new_entry("ducts_taken", {"tree": tree, "source": "sister"}))
    assert [line["piece"]["room"] for line in page_of(walked)["branches"]] == ["Den"]
    assert DuctTree().troubles() == ()


# zones


@pytest.fixture
def zoned(walked: House) -> House:
    """Four zones over the walked tree, statics and cooling on the nameplate."""
    walked.system.nameplate |= {"max_external_static_pa": 150.0}
    walked.system.save()
    zones = [new_entry("zone", dict(zone)) for zone in demo.ZONES]
    assert add(signed_in(walked.people["technician"]), walked.visit, *zones).json()["refused"] == []
    return walked


def zones_page(house: House) -> Any:
    return signed_in(house.people["technician"]).get(f"/api/v1/visits/{house.visit.pk}/zones").json()["page"]


def test_every_combination_and_both_schools(zoned: House) -> None:
    page = zones_page(zoned)
    assert len(page["combinations"]) == 15
    assert page["trouble"] is None
    assert {each["key"] for each in page["options"]} == {"as_is", "least_open", "merge", "dump", "turn_down", "bypass"}
    assert [each["proposed"] for each in page["options"]].count(True) == 1
    assert page["combinations"][0]["mark"] == "off"
    assert page["proposal"]["text"]


def test_a_room_moves_to_the_zone_it_was_put_into_last(zoned: House) -> None:
    bindery = next(zone for zone in demo.ZONES if zone["id"] == "zone-bindery")
    taken = {**bindery, "rooms": [*bindery["rooms"], "office"]}
    add(signed_in(zoned.people["technician"]), zoned.visit, new_entry("zone", taken))
    rooms = {room["branch"]: room["zone"] for room in zones_page(zoned)["rooms"]}
    assert rooms["office"] == "zone-bindery"
    add(signed_in(zoned.people["technician"]), zoned.visit, new_entry("zone_gone", {"id": "zone-bindery"}))
    rooms = {room["branch"]: room["zone"] for room in zones_page(zoned)["rooms"]}
    assert rooms["office"] == rooms["bindery-east"] == ""


def test_an_empty_zone_is_said_and_keeps_the_rest_on_screen(zoned: House) -> None:
    add(signed_in(zoned.people["technician"]), zoned.visit, new_entry("zone", {"id": "new", "name": "Yard"}))
    page = zones_page(zoned)
    assert "Yard: put a room into this zone." in page["trouble"]["text"]
    assert len(page["zones"]) == 5
    assert page["combinations"] == []


def test_the_worst_combination_is_among_the_verdicts_and_a_small_transformer(zoned: House) -> None:
    technician = signed_in(zoned.people["technician"])
    add(technician, zoned.visit, new_entry("zone_hardware", {"rated_va": 20.0}))
    phases = technician.get(f"/api/v1/visits/{zoned.visit.pk}").json()["work_up"]["phases"]
    lines = {line["key"]: line for line in phases[0]["verdicts"] if line["key"].startswith("zones:")}
    assert set(lines) == {"zones:worst", "zones:transformer"}
    assert lines["zones:worst"]["opens"] == "zones"
    assert "too little" in lines["zones:transformer"]["sentence"]["text"]


def test_zones_stay_with_the_system(zoned: House) -> None:
    add(signed_in(zoned.people["technician"]), zoned.visit, new_entry("closing", {"summary": "Planned."}))
    zoned.system.refresh_from_db()
    assert [zone["name"] for zone in zoned.system.nameplate["ducts"]["zones"]] == ["Press room", "Bindery", "Shop", "Paper store"]


@pytest.mark.parametrize(
    ("kind", "body", "path"),
    [
        ("zone", {"id": "z", "name": " "}, "body.name"),
        ("zone", {"id": "z", "name": "A", "least_open": 0.9}, "body.least_open"),
        ("zone_timetable", {"zone": "z", "slots": []}, "body.slots"),
        ("zone_override", {"zone": "z", "until": "later", "cooling_setpoint_c": 24.0}, "body.until"),
        ("zone_hardware", {"rated_va": -5.0}, "body.rated_va"),
        ("zone_hardware", {"costs": {"merge": -1.0}}, "body.costs.merge"),
    ],
)
def test_what_no_zone_is_is_refused_at_its_field(house: House, kind: str, body: dict[str, Any], path: str) -> None:
    refused = add(signed_in(house.people["technician"]), house.visit, new_entry(kind, body)).json()["refused"]
    assert [each["refusal"]["path"] for each in refused] == [path]


def test_the_tree_goes_out_as_json_with_zones_and_in_again_the_same(walked: House) -> None:
    technician = signed_in(walked.people["technician"])
    zones = [new_entry("zone", dict(zone)) for zone in demo.ZONES]
    quiet = {**demo.branch(demo.BRANCHES[0]), "quiet": True}
    board = new_entry("zone_hardware", {"board": "ZB-1"})
    assert add(technician, walked.visit, *zones, new_entry("duct_branch", quiet), board).json()["refused"] == []
    answer = technician.get(f"/api/v1/visits/{walked.visit.pk}/ducts.json")
    assert answer["Content-Disposition"].endswith('.json"')
    text = answer.content.decode()
    tree = read_ducts(text)
    assert [zone.name for zone in tree.zones] == [zone["name"] for zone in demo.ZONES]
    assert tree.board is not None
    assert tree.board.board == "ZB-1"
    assert write_json(tree) == text
    again = read_ducts(write_table(tree)).branches
    assert [each.quiet for each in again] == [each.quiet for each in tree.branches], "the table says it, too"
    assert again[0].quiet
    looked = post(technician, "/api/v1/ducts/look", {"text": text}).json()["tree"]
    assert len(looked["branches"]) == 11


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ('{"branches": [', "breaks off at line 1"),
        ("{}", "no ducts"),
        (
            '{"branches": [{"id": "a", "room": "A", "length_m": -1, "diameter_m": 0.1}]}',
            "branches.0.length_m: This must be above zero.",
        ),
        ('{"branches": [{"id": "a", "room": "A", "length_m": 1, "fittings": ["knot"]}]}', "diameter"),
        ('{"twigs": []}', "twigs"),
        ("{" * 100_000, "JSON is incomplete"),
        ("piece,room,diameter (mm),length (m),quiet room\nbranch,A,150,3,perhaps\n", "Line 2, quiet room: yes or no."),
    ],
)
def test_a_file_that_is_no_tree_says_where(text: str, words: str) -> None:
    with pytest.raises(Refused) as refused:
        read_ducts(text)
    assert words in refused.value.sentence.say()


def test_the_room_served_worst_is_followed_over_visits(walked: House) -> None:
    technician = signed_in(walked.people["technician"])
    history = f"/api/v1/systems/{walked.system.pk}/history"
    assert "least_room_share" not in {index["key"] for index in technician.get(history).json()["indices"]}
    body = {"station": "register-office-upper", "quantity": "airflow", "value": 9, "unit": "L/s"}
    add(technician, walked.visit, new_entry(body=body))
    found = technician.get(history).json()
    index = next(index for index in found["indices"] if index["key"] == "least_room_share")
    assert index["name"] == "Room served worst, share of design"
    value = found["system"]["visits"][-1]["values"]["least_room_share"]
    assert value["value"] == pytest.approx(share(page_of(walked), "office"))
    assert value["plus_minus"] > 0

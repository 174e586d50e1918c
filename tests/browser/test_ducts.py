"""The ducts walked, read and balanced through the interface, also without signal."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.conftest import PHONE, all_saved, choose, enter, logbook, start_visit, tap
from tests.browser.test_access import for_
from tests.browser.test_on_the_device import with_core


def open_page(page: Page, name: str) -> None:
    page.goto(f"{page.url.split('?')[0]}?step=set_up")
    page.get_by_role("heading", name="Set up").wait_for()
    page.get_by_role("tab", name=name).click()
    page.wait_for_timeout(1_000)


def open_room(page: Page, room: str) -> None:
    """A room's way, from its row in the tree."""
    page.get_by_role("region", name="Duct tree").get_by_role("button", name=re.compile(room)).click()
    page.get_by_role("region", name=re.compile(f"^{room}")).wait_for()


def note_branch(page: Page, room: str, length: str, diameter: str = "150 mm") -> None:
    page.get_by_role("textbox", name="Room", exact=True).fill(room)
    page.get_by_label("Length, m").fill(length)
    page.get_by_role("button", name=diameter, exact=True).click()
    page.get_by_role("button", name="Note it, and the next").click()
    expect(page.get_by_role("textbox", name="Room", exact=True)).to_have_value("")


@pytest.mark.parametrize("device", [PHONE], indirect=True)
@pytest.mark.away
def test_branches_are_noted_one_after_the_other_without_signal(device: BrowserContext) -> None:
    page = with_core(enter(device))
    start_visit(page, "Heat pump")
    open_page(page, "Ducts")
    device.set_offline(True)
    page.get_by_role("button", name="Branch", exact=True).click()
    page.get_by_role("button", name="Note it, and the next").click()
    expect(page.get_by_text("Say which room it goes to.")).to_be_visible()
    expect(page.get_by_text("How long is it?")).to_be_visible()
    page.get_by_role("button", name="Bend 90°, smooth: 0").click()
    page.get_by_role("button", name="Bend 90°, smooth: 1").click()
    page.get_by_role("button", name="One less: Bend 90°, smooth").click()
    page.get_by_text("Blade", exact=True).click()
    note_branch(page, "Bedroom 1", "4")
    note_branch(page, "Bedroom 2", "11")
    page.get_by_role("textbox", name="Room", exact=True).fill("bedroom 2")
    page.get_by_label("Length, m").fill("3")
    page.get_by_role("button", name="Note it, and the next").click()
    expect(page.get_by_text("There is already a branch to this room")).to_be_visible()
    page.get_by_role("button", name="Done").click()
    tree = page.get_by_role("region", name="Duct tree")
    expect(tree.get_by_role("button", name=re.compile("Bedroom 2"))).to_contain_text("L/s")
    device.set_offline(False)
    all_saved(page)
    noted = [entry["body"] for entry in logbook(page)["entries"] if entry["kind"] == "duct_branch"]
    assert [(each["room"], each["diameter_m"], each["damper"]) for each in noted] == [
        ("Bedroom 1", 0.15, "blade"),
        ("Bedroom 2", 0.15, "blade"),
    ]
    assert all(each["fittings"] == ["takeoff_shoe", "boot_turning", "bend_90"] for each in noted), "the last one's again"
    expect(tree.get_by_role("button", name=re.compile("Bedroom 1"))).to_contain_text("L/s")


def test_a_starved_room_is_explained_and_a_plan_is_carried_out(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    open_page(page, "Ducts")
    open_room(page, "Office")
    detail = page.get_by_role("region", name="Office, Upper")
    expect(detail.get_by_text("Where the pressure goes")).to_be_visible()
    detail.get_by_role("button", name="Read its register").click()
    page.get_by_role("heading", name=re.compile("Register: Office")).or_(
        page.get_by_role("heading", name=re.compile("Office"))
    ).first.wait_for()
    choose(page, "Instrument", "Register hood")
    tap(page, "9")
    expect(page.get_by_test_id("typed")).not_to_contain_text("9")
    all_saved(page)
    open_page(page, "Ducts")
    open_room(page, "Office")
    expect(detail).to_contain_text("Look before you trim")
    detail.get_by_label("Room now, °C").fill("27.3")
    detail.get_by_label("Wanted (optional), °C").fill("23")
    detail.get_by_role("button", name="Keep").click()
    expect(detail).to_contain_text("27.3")
    open_page(page, "Balance")
    expect(page.get_by_text("Office, Upper is left out of this plan")).to_be_visible()
    turn = page.get_by_role("region", name="Turn now")
    first = turn.inner_text()
    turn.get_by_role("button", name="Turned").click()
    expect(turn).not_to_have_text(first)
    all_saved(page)
    turned = [entry for entry in logbook(page)["entries"] if entry["kind"] == "damper_turned"]
    assert len(turned) == 1
    assert turned[0]["phase"] == "as_left"
    assert turned[0]["body"]["damper_deg"] != turned[0]["body"]["was_deg"] or turned[0]["body"]["register_open"] < 1
    expect(page.get_by_role("row", name=re.compile("Office"))).to_contain_text("%")


@pytest.mark.away
def test_a_table_is_taken_and_a_bad_one_says_where(device: BrowserContext) -> None:
    page = with_core(enter(device))
    start_visit(page, "Heat pump")
    open_page(page, "Ducts")
    bad = b"piece,room,diameter (mm),length (m)\nbranch,Den,150,long\n"
    with page.expect_file_chooser() as chosen:
        page.get_by_role("button", name="Take a table or JSON").click()
    chosen.value.set_files({"name": "ducts.csv", "mimeType": "text/csv", "buffer": bad})
    expect(page.get_by_role("alert").filter(has_text="Line 2")).to_be_visible()
    good = b"piece,room,diameter (mm),length (m)\nbranch,Den,150,4\nbranch,Hall,125,9\n"
    with page.expect_file_chooser() as chosen:
        page.get_by_role("button", name="Take a table or JSON").click()
    chosen.value.set_files({"name": "ducts.csv", "mimeType": "text/csv", "buffer": good})
    tree = page.get_by_role("region", name="Duct tree")
    expect(tree.get_by_role("button", name=re.compile("Hall"))).to_be_visible()
    all_saved(page)
    open_room(page, "Hall")
    page.get_by_role("button", name="Take it out").click()
    expect(tree.get_by_role("button", name=re.compile("Hall"))).to_have_count(0)
    all_saved(page)
    assert [entry["kind"] for entry in logbook(page)["entries"]][-2:] == ["ducts_taken", "duct_gone"]


@pytest.mark.away
def test_rooms_are_grouped_and_the_matrix_follows_without_signal(device: BrowserContext) -> None:
    page = with_core(enter(device))
    start_visit(page)
    open_page(page, "Ducts")
    with_core(page)
    page.get_by_role("tab", name="Zones").click()
    cards = page.get_by_role("main")
    expect(cards.get_by_role("button", name=re.compile("^Press room3 rooms|^Press room 3 rooms"))).to_be_visible()
    device.set_offline(True)
    page.get_by_role("button", name=re.compile("^Bindery ?2 rooms")).click()
    page.get_by_role("button", name=re.compile("^Office, Upper")).click()
    expect(page.get_by_role("button", name=re.compile("^Office, Upper ?Bindery"))).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Bindery ?3 rooms"))).to_be_visible()
    page.get_by_role("button", name="Zone", exact=True).click()
    page.get_by_role("button", name="Make the zone").click()
    expect(page.get_by_text("Give the zone a name.")).to_be_visible()
    page.get_by_label("Name", exact=True).fill("Office alone")
    page.get_by_role("button", name="Make the zone").click()
    expect(page.get_by_text("Office alone: put a room into this zone.")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Office, Upper")).click()
    expect(page.get_by_role("heading", name=re.compile("of 31 combinations"))).to_be_visible()
    page.get_by_role("tab", name="Hardware").click()
    expect(page.get_by_role("cell", name=re.compile("^Office alone: 1 damper"))).to_be_visible()
    device.set_offline(False)
    all_saved(page)
    kinds = [entry["kind"] for entry in logbook(page)["entries"]]
    assert kinds == ["zone", "zone", "zone"]


def test_a_week_is_kept_and_an_override_ends_by_itself(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    open_page(page, "Zones")
    week = page.get_by_role("form", name="In use")
    week.get_by_label("From", exact=True).fill("18:00")
    week.get_by_label("To", exact=True).fill("07:00")
    week.get_by_label("Cool to, in use, °C").fill("23.5")
    week.get_by_role("button", name="Keep the week").click()
    expect(week.get_by_role("alert")).to_contain_text("in that order")
    week.get_by_label("From", exact=True).fill("07:00")
    week.get_by_label("To", exact=True).fill("18:00")
    week.get_by_role("button", name="Saturday").click()
    week.get_by_role("button", name="Keep the week").click()
    expect(page.get_by_text("Sat 18:00")).to_be_visible()
    over = page.get_by_role("form", name="Override")
    over.get_by_label("Cool to, for now, °C").fill("21")
    over.get_by_role("button", name="2 h").click()
    over.get_by_role("button", name="Set it; it ends by itself").click()
    expect(page.get_by_text("Then the week holds again")).to_be_visible()
    all_saved(page)
    entries = {entry["kind"]: entry["body"] for entry in logbook(page)["entries"]}
    assert len(entries["zone_timetable"]["slots"]) == 12
    assert entries["zone_override"]["cooling_setpoint_c"] == 21


def test_the_drawing_is_tinted_by_the_survey(device: BrowserContext) -> None:
    page = enter(device)
    page.goto(f"/visits/{for_(page, 'Furnace and coil', 'never cools')}?step=set_up&part=ducts")
    tree = page.get_by_role("region", name="Duct tree")
    strokes = "svg => [...svg.querySelectorAll(':scope > path')].map(each => each.getAttribute('stroke'))"
    drawing = tree.get_by_role("img", name=re.compile("11 branches"))
    drawing.wait_for()
    by_share = drawing.evaluate(strokes)
    tree.get_by_role("radiogroup", name="Tinted by").get_by_text("Room temperature").click()
    expect(tree.get_by_text("warmer than wanted")).to_be_visible()
    assert drawing.evaluate(strokes) != by_share

"""Zones are proved: by hand without signal, and by the simulated board with its ledger until it names what is wrong."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import BrowserContext, Locator, Page, expect

from tests.browser.conftest import PHONE, all_saved, choose, enter, logbook, start_visit
from tests.browser.test_on_the_device import with_core


def open_proof(page: Page) -> None:
    page.goto(f"{page.url.split('?')[0]}?step=prove&part=zone_proof")
    page.get_by_role("list", name="Tests of the zones").wait_for()


def open_test(page: Page, title: str) -> Locator:
    page.get_by_role("list", name="Tests of the zones").get_by_role("button", name=re.compile(re.escape(title))).click()
    form = page.get_by_role("form", name=title)
    form.wait_for()
    return form


def pick(form: Locator, label: str, option: str) -> None:
    """One of a few, by its label's beginning."""
    form.get_by_role("radiogroup", name=re.compile(f"^{re.escape(label)}")).get_by_text(option, exact=True).click()


@pytest.mark.parametrize("device", [PHONE], indirect=True)
@pytest.mark.away
def test_a_control_point_is_proved_by_hand_without_signal(device: BrowserContext) -> None:
    page = with_core(enter(device))
    start_visit(page)
    open_proof(page)
    with_core(page)
    page.get_by_role("region", name="Zone board").wait_for()
    device.set_offline(True)
    form = open_test(page, "Press room: its control point")
    pick(form, "Its control point", "Answers")
    pick(form, "The zone that calls", "Bindery")
    form.get_by_role("button", name="Note what I saw").click()
    tests = page.get_by_role("list", name="Tests of the zones")
    expect(tests.get_by_role("button", name=re.compile("Press room: its control point"))).to_contain_text(
        "Bindery calls instead."
    )
    expect(page.get_by_role("main").get_by_text("Repeat: Press room: its control point.")).to_be_visible()
    form = open_test(page, "Bindery: its control point")
    pick(form, "Its control point", "Answers")
    pick(form, "The zone that calls", "Press room")
    form.get_by_role("button", name="Note what I saw").click()
    expect(page.get_by_role("heading", name="Look here first")).to_be_visible()
    expect(page.get_by_role("region", name="Look here first")).to_contain_text("Control points swapped: Press room and Bindery")
    device.set_offline(False)
    all_saved(page)
    bodies = [entry["body"] for entry in logbook(page)["entries"] if entry["kind"] == "zone_test"]
    assert [body["called"] for body in bodies] == [["zone-bindery"], ["zone-press"]]


def test_a_figure_that_is_none_is_said_and_nothing_is_lost(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    open_proof(page)
    form = open_test(page, "All zones together")
    form.get_by_label("Transformer while they move, V").fill("plenty")
    pick(form, "Indicator: Shop", "Open")
    form.get_by_role("button", name="Note what I saw").click()
    expect(form.get_by_text("This must be a number.")).to_be_visible()
    page.get_by_role("tab", name="Readings").click()
    page.get_by_role("tab", name="Zones").click()
    form = open_test(page, "All zones together")
    expect(form.get_by_label("Transformer while they move, V")).to_have_value("plenty")
    form.get_by_label("Transformer while they move, V").fill("24")
    form.get_by_role("button", name="Note what I saw").click()
    all_saved(page)
    body = next(entry["body"] for entry in logbook(page)["entries"] if entry["kind"] == "zone_test")
    assert body["volts"] == 24
    assert body["indicators"] == {"zone-shop": "open"}


def test_the_simulated_board_is_called_and_let_go_by_the_app(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    open_proof(page)
    board = page.get_by_role("region", name="Zone board")
    board.get_by_text("What the simulated board plays").click()
    choose(board, "What is wrong with it", "A zone turns the wrong way")
    visit = page.url.split("/visits/")[1].split("?")[0]
    form = open_test(page, "Shop alone")
    form.get_by_role("button", name="Call it at the board").click()
    expect(board.get_by_text("held")).to_have_count(4)
    began = page.request.get(f"/api/v1/visits/{visit}/zone-board").json()["time_s"]
    while page.request.get(f"/api/v1/visits/{visit}/zone-board").json()["time_s"] < began + 150:
        page.wait_for_timeout(500)
    form.get_by_role("button", name="Take over the indicators").click()
    form.get_by_role("button", name="Walk the rooms, simulated").click()
    expect(form.get_by_role("radio", checked=True)).to_have_count(4 + 11 + 1)
    form.get_by_role("button", name="Note what I saw").click()
    expect(board.get_by_text("held")).to_have_count(0)
    all_saved(page)
    kinds = [entry["kind"] for entry in logbook(page)["entries"]]
    assert kinds.count("temporary") == kinds.count("undone") == 4
    body = next(entry["body"] for entry in logbook(page)["entries"] if entry["kind"] == "zone_test")
    assert body["how"] == "board"
    assert set(body["air"].values()) <= {"air", "little", "none"}
    choose(board, "What is wrong with it", "Nothing wrong")


def test_the_board_is_named_on_the_hardware_page(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    page.goto(f"{page.url.split('?')[0]}?step=set_up&part=hardware")
    page.get_by_text("The board, and what measures cost").click()
    name = page.get_by_label("The board's name at its gateway")
    expect(name).to_have_value("ZB-1")
    name.fill("ZB-2")
    page.get_by_role("radiogroup", name="What is built").get_by_text("With a bypass").click()
    page.get_by_role("button", name="Keep", exact=True).first.click()
    all_saved(page)
    open_proof(page)
    expect(page.get_by_role("heading", name=re.compile("^Zone board ZB-2"))).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("Bypass at the smallest zone"))).to_be_visible()

"""Temporary changes by hand: noted with a key, always counted, closing held back, handed on, undone from the day sheet."""

from __future__ import annotations

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.conftest import all_saved, choose, close_visit, enter, logbook, start_visit, step


def note(page: Page, what: str) -> None:
    page.get_by_text("Jumper", exact=True).click()
    page.get_by_label("What was changed").fill(what)
    page.get_by_role("button", name="Note it").click()


def test_a_change_is_noted_with_a_key_counted_and_keeps_the_visit_open(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    page.keyboard.press("t")
    expect(page.get_by_role("heading", name="Temporary changes")).to_be_visible()
    page.get_by_role("button", name="Note it").click()
    expect(page.get_by_role("alert")).to_have_text("Say what was changed for the test.")
    note(page, "R to Y at the board")
    all_saved(page)
    expect(page.get_by_test_id("open-changes")).to_have_text("1")
    step(page, "Hand over")
    expect(page.get_by_text("A temporary change is still open")).to_be_visible()
    assert page.get_by_role("button", name="Close the visit").count() == 0
    step(page, "Restore")
    expect(page.get_by_role("list", name="Open temporary changes")).to_contain_text("R to Y at the board")
    page.get_by_role("button", name="Undone").click()
    all_saved(page)
    expect(page.get_by_test_id("open-changes")).to_have_text("0")
    step(page, "Hand over")
    close_visit(page)
    all_saved(page)
    assert logbook(page)["work_up"]["closed"]


def test_a_change_handed_on_tops_the_receivers_day(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    page.keyboard.press("t")
    note(page, "Damper held at half")
    page.get_by_role("button", name="Hand it on").click()
    form = page.get_by_role("listitem").filter(has_text="Damper held at half")
    form.get_by_role("button", name="Hand it on").click()
    expect(form.get_by_role("alert").first).to_have_text("Choose who takes it over.")
    choose(form, "Who takes it over", "Jomar Vance")
    form.get_by_label("Why it stays open").fill("actuator comes tomorrow")
    form.get_by_role("button", name="Hand it on").click()
    all_saved(page)
    expect(page.get_by_text("Handed to Jomar Vance: actuator comes tomorrow")).to_be_visible()
    expect(page.get_by_test_id("open-changes")).to_have_text("0")
    step(page, "Hand over")
    close_visit(page)
    all_saved(page)
    page.get_by_role("button", name="Signed in as Oona Lindahl").click()
    page.get_by_role("button", name="Sign out", exact=True).click()
    page.get_by_role("button", name="Jomar Vance").click()
    mine = page.get_by_role("region", name="Left open, to undo first")
    expect(mine).to_contain_text("Handed to you: actuator comes tomorrow")
    expect(page.get_by_test_id("open-changes")).to_have_text("1")
    mine.get_by_role("button", name="Undone").click()
    expect(mine).to_have_count(0)
    all_saved(page)
    page.reload()
    expect(page.get_by_test_id("open-changes")).to_have_text("0")


@pytest.mark.away
def test_a_change_noted_without_signal_survives_a_reload(device: BrowserContext) -> None:
    page = enter(device)
    page.evaluate("navigator.serviceWorker.ready")
    start_visit(page)
    page.keyboard.press("t")
    expect(page.get_by_role("heading", name="Temporary changes")).to_be_visible()
    device.set_offline(True)
    note(page, "Sensor plug out")
    expect(page.get_by_test_id("open-changes")).to_have_text("1")
    page.reload()
    expect(page.get_by_test_id("open-changes")).to_have_text("1")
    expect(page.get_by_text("Sensor plug out")).to_be_visible()
    device.set_offline(False)
    all_saved(page)
    assert logbook(page)["work_up"]["temporary"][0]["what"] == "Sensor plug out"
    page.get_by_role("button", name="Undone").click()
    all_saved(page)

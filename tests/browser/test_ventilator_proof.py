"""A ventilator is proved: its control read and set, a stuck damper found by the simulated one, by hand without signal."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import BrowserContext, Locator, Page, expect

from tests.browser.conftest import PHONE, all_saved, choose, enter, logbook, start_visit
from tests.browser.test_on_the_device import with_core
from tests.browser.test_zone_proof import pick

SYSTEM = "Fresh-air ventilator"


def open_proof(page: Page) -> None:
    page.goto(f"{page.url.split('?')[0]}?step=prove&part=fresh_air_proof")
    page.get_by_role("list", name="Tests of the ventilator").wait_for()


def open_test(page: Page, title: str) -> Locator:
    page.get_by_role("list", name="Tests of the ventilator").get_by_role("button", name=re.compile(title)).click()
    form = page.get_by_role("form", name=title)
    form.wait_for()
    return form


def looked_around(form: Locator) -> None:
    """Set it up, wait until everything came or went, look."""
    form.get_by_role("button", name="Set it up at its control").click()
    expect(form.get_by_role("status")).to_contain_text("wait")
    form.get_by_role("button", name="Look around, simulated").click()
    expect(form.get_by_role("radio", checked=True).first).to_be_visible()


def test_a_stuck_damper_is_named_after_it_was_seen_twice_and_nothing_stays_held(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page, SYSTEM)
    page.goto(f"{page.url.split('?')[0]}?step=set_up&part=fresh_air")
    card = page.get_by_role("region", name="Control settings")
    card.get_by_role("button", name="Read the control").click()
    expect(card.get_by_role("row", name=re.compile("Runs in an hour"))).to_contain_text("15 min")
    card.get_by_role("button", name="Note what it is left at").click()
    form = page.get_by_role("form", name="Control, left")
    form.get_by_label("Runs in an hour").fill("45")
    form.get_by_role("button", name="Keep").click()
    expect(card.get_by_role("row", name=re.compile("Runs in an hour"))).to_contain_text("45 min")
    open_proof(page)
    control = page.get_by_role("region", name="Its control")
    control.get_by_text("What the simulated ventilator plays").click()
    choose(control, "What is wrong with it", "Damper stuck open")
    form = open_test(page, "Its settings")
    form.get_by_role("button", name="Compare with its control").click()
    expect(form.get_by_role("radio", name="Something differs")).to_be_checked()
    form.get_by_role("button", name="Note what I saw").click()
    tests = page.get_by_role("list", name="Tests of the ventilator")
    expect(tests).to_contain_text("It is not set as the card says.")
    for title in ("Rests when not called", "Off when it is too cold", "Off when it is too hot"):
        form = open_test(page, title)
        looked_around(form)
        expect(form.get_by_role("radiogroup", name="The damper's blade").get_by_role("radio", name="Open")).to_be_checked()
        form.get_by_role("button", name="Note what I saw").click()
        expect(form).to_have_count(0)
        expect(control.get_by_text("held", exact=True)).to_have_count(0)
    expect(page.get_by_role("region", name="Look here first")).to_contain_text("Its damper does not shut")
    expect(page.get_by_role("main")).to_contain_text("Its damper does not shut.")
    all_saved(page)
    entries = logbook(page)["entries"]
    kinds = [entry["kind"] for entry in entries]
    assert kinds.count("temporary") == kinds.count("undone") > 0
    assert {entry["body"]["how"] for entry in entries if entry["kind"] == "ventilator_test"} == {"watched", "control"}
    choose(control, "What is wrong with it", "Nothing wrong")


@pytest.mark.parametrize("device", [PHONE], indirect=True)
@pytest.mark.away
def test_a_fan_that_stands_is_said_by_hand_without_signal_and_an_odd_figure_is_refused(device: BrowserContext) -> None:
    page = with_core(enter(device))
    start_visit(page, SYSTEM)
    open_proof(page)
    with_core(page)
    device.set_offline(True)
    form = open_test(page, "Minutes in an hour")
    form.get_by_label("It ran in that hour").fill("75")
    form.get_by_role("button", name="Note what I saw").click()
    expect(form).to_contain_text("A number from 0 to 60.")
    form.get_by_label("It ran in that hour").fill("0")
    form.get_by_role("button", name="Note what I saw").click()
    tests = page.get_by_role("list", name="Tests of the ventilator")
    expect(tests).to_contain_text("It ran 0 min in the hour: not what it is set to.")
    form = open_test(page, "Runs when called")
    pick(form, "Its fan", "Is stopped")
    pick(form, "The damper's blade", "Open")
    pick(form, "Fresh air, at its grille", "None")
    pick(form, "Stale air, at its grille", "None")
    form.get_by_role("button", name="Note what I saw").click()
    expect(page.get_by_role("region", name="Look here first")).to_contain_text("Its fan does not run")
    device.set_offline(False)
    all_saved(page)
    bodies = [entry["body"] for entry in logbook(page)["entries"] if entry["kind"] == "ventilator_test"]
    assert [body["test"] for body in bodies] == ["hour", "run"]

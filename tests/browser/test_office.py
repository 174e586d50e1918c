"""What is known of a system is set right: on the roof without signal, in the office by a lead; and who may sign in."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Browser, BrowserContext, expect

from tests.browser.conftest import Served, all_saved, choose, enter, logbook, start_visit
from tests.browser.test_on_the_device import with_core


@pytest.mark.away
def test_a_nameplate_and_site_are_set_right_without_signal(device: BrowserContext) -> None:
    page = with_core(enter(device))
    start_visit(page)
    page.wait_for_timeout(1_200)
    device.set_offline(True)
    before = page.get_by_role("main").get_by_text(re.compile("kPa")).first.inner_text()
    page.get_by_role("button", name="Read the nameplate").click()
    page.get_by_role("heading", name="What is known of this system").wait_for()
    page.get_by_label("Rated cooling, total").fill("lots")
    page.get_by_role("button", name="Set it right").click()
    expect(page.get_by_text("This must be a number.")).to_be_visible()
    page.get_by_label("Rated cooling, total").fill("14")
    page.get_by_label("Elevation").fill("99000")
    page.get_by_role("button", name="Set it right").click()
    expect(page.get_by_role("main").get_by_text(re.compile("elevation", re.IGNORECASE)).last).to_be_visible()
    expect(page.get_by_role("heading", name="What is known of this system")).to_be_visible()
    page.get_by_label("Elevation").fill("1500")
    page.get_by_role("button", name="Set it right").click()
    page.get_by_role("heading", name="Arrive", exact=True).wait_for()
    arrive = page.get_by_role("main")
    expect(arrive.get_by_text(re.compile(r"14[.]0+ kW"))).to_be_visible()
    expect(arrive.get_by_text("84.56 kPa").first).to_be_visible()
    assert before != "84.56 kPa"
    page.wait_for_timeout(1_000)
    page.reload()
    expect(arrive.get_by_text(re.compile(r"14[.]0+ kW"))).to_be_visible()
    expect(page.get_by_test_id("queue-state")).to_have_text("2 waiting")
    device.set_offline(False)
    all_saved(page)
    head = logbook(page)["head"]
    assert head["site"]["elevation_m"] == 1500
    assert round(head["system"]["nameplate"]["rated_total_w"]) == 14_000
    corrected = [each["body"]["was"] for each in logbook(page)["entries"] if each["kind"].startswith("corrected")]
    assert all(was and was["name"] for was in corrected)
    assert len(corrected) == 2


def test_a_lead_types_feet_and_feet_are_meant(device: BrowserContext) -> None:
    page = enter(device, "Tova Brandt")
    page.get_by_role("button", name="Signed in as").click()
    page.get_by_role("link", name="Office").click()
    expect(page).to_have_title("Office")
    page.get_by_role("button", name="Units").click()
    page.get_by_role("link", name=re.compile("Set right.*Furnace and coil")).click()
    page.get_by_label("Elevation (0: sea level), ft").fill("830")
    page.get_by_role("button", name="Set it right").click()
    page.get_by_role("heading", name="Furnace and coil", level=1).wait_for()
    expect(page.get_by_text("830 ft")).to_be_visible()


def test_somebody_is_let_in_and_shut_out_again(device: BrowserContext, chromium: Browser, served: Served) -> None:
    page = enter(device, "Tova Brandt")
    page.goto("/office")
    page.get_by_role("button", name="Let in").click()
    expect(page.get_by_text("Give the name.")).to_be_visible()
    page.get_by_label("Name", exact=True).fill("Ida Moss")
    page.get_by_label("User name").fill("ida")
    page.get_by_label("First password").fill("short")
    page.get_by_role("button", name="Let in").click()
    expect(page.get_by_text(re.compile("too short"))).to_be_visible()
    page.get_by_label("First password").fill("copper-elbow-17")
    page.get_by_role("button", name="Let in").click()
    row = page.get_by_role("listitem").filter(has_text="Ida Moss")
    expect(row).to_be_visible()
    theirs = chromium.new_context(base_url=served.url)
    other = theirs.new_page()
    other.goto("/sign-in")
    other.get_by_label("User name").fill("ida")
    other.get_by_label("Password").fill("copper-elbow-17")
    other.get_by_role("button", name="Sign in", exact=True).click()
    other.get_by_role("heading", name="Day sheet").wait_for()
    row.get_by_role("button", name="Change").click()
    choose(row, "May do", "Viewer: looks, records nothing")
    expect(row.get_by_text("ida, viewer")).to_be_visible()
    row.get_by_role("button", name="End signing in").click()
    expect(row.get_by_text("can't sign in")).to_be_visible()
    assert other.request.get("/api/v1/day").status == 401
    theirs.close()
    mine = page.get_by_role("listitem").filter(has_text="(you)")
    mine.get_by_role("button", name="Change").click()
    mine.get_by_role("button", name="End signing in").click()
    expect(mine.get_by_text("Somebody must remain a lead")).to_be_visible()

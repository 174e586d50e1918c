"""A cooling check by hand: start, read by touch and by keyboard, see the numbers, correct, compare, close, come back."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.conftest import (
    PHONE,
    Served,
    all_saved,
    choose,
    close_visit,
    enter,
    logbook,
    open_station,
    start_visit,
    step,
    tap,
    type_in,
    values,
)

VERDICTS = "Results"


def verdicts(page: Page) -> object:
    return page.get_by_role("complementary", name=VERDICTS)


def test_a_cooling_check_from_sign_in_to_the_closed_record(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    page.get_by_label("What was reported").fill("Press room warm")
    page.get_by_role("button", name="Keep").click()
    for check in ("Heard what was reported", "The nameplate on the unit", "Looked for hazards"):
        page.get_by_role("button", name=check).click()
    expect(page.get_by_text("Carbon monoxide can kill", exact=False).or_(page.get_by_text("carbon monoxide"))).to_be_visible()
    step(page, "Settle")
    page.get_by_role("button", name="It starts now").click()
    expect(page.get_by_text("settling")).to_be_visible()

    step(page, "Measure")
    open_station(page, "return")
    tap(page, "25.1")
    tap(page, "33")
    expect(page.get_by_test_id("typed")).to_contain_text("–")
    expect(page.get_by_role("heading", name="Return, point 2")).to_be_visible()

    page.keyboard.press("]")
    page.get_by_role("heading", name=re.compile("Supply, point 1")).wait_for()
    page.keyboard.type("13.2")
    page.keyboard.press("Enter")
    page.keyboard.type("63")
    page.keyboard.press("Enter")
    page.get_by_role("tab", name="Airflow").click()
    page.get_by_label("Known to ±").fill("40")
    tap(page, "665")
    all_saved(page)
    assert logbook(page)["entries"][-1]["body"]["plus_minus"] == 40

    expect(verdicts(page)).to_contain_text("11.9 K")
    step(page, "Work out")
    expect(page.get_by_role("main").get_by_role("button", name=re.compile("^Total cooling"))).to_contain_text("9.3")
    page.keyboard.press("u")
    expect(page.get_by_role("main").get_by_role("button", name=re.compile(r"^Split \d"))).to_contain_text("21.4")
    expect(page.get_by_test_id("tag-return")).to_contain_text("77.2 °F")
    page.keyboard.press("u")

    step(page, "Hand over")
    page.get_by_label("What it does now").fill("As it should be.")
    close_visit(page)
    expect(page.get_by_text("This visit is closed")).to_be_visible()
    url = page.url
    page.goto("/")
    expect(page.get_by_role("heading", name="Closed today")).to_be_visible()
    page.goto(url)
    expect(page.get_by_text("As it should be.").first).to_be_visible()
    assert values(page) == [25.1, 33, 13.2, 63, 665]
    assert logbook(page)["work_up"]["reported"] == "Press room warm"


def test_the_working_opens_from_the_verdicts_and_shows_the_doubt(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    page.keyboard.press("r")
    page.get_by_test_id("typed").wait_for()
    type_in(page, "25", "50")
    page.keyboard.press("]")
    page.get_by_role("heading", name="Supply, point 1").wait_for()
    type_in(page, "14", "85")
    all_saved(page)
    verdicts(page).get_by_role("button", name=re.compile("Total cooling is")).click()
    expect(page.get_by_role("heading", name="Working: Total cooling")).to_be_visible()
    expect(page.get_by_text("Nominal airflow, a guess")).to_be_visible()
    line = page.get_by_role("listitem").filter(has=page.get_by_role("heading", name="Total cooling", exact=True))
    expect(line).to_contain_text("m × (hr − hs)")
    page.keyboard.press("u")
    expect(line).to_contain_text("60 × m × (hr − hs)")
    page.keyboard.press("Escape")
    expect(page.get_by_role("heading", name="Working: Total cooling")).to_be_hidden()


def test_several_points_are_averaged_with_their_spread(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    page.keyboard.press("r")
    page.get_by_test_id("typed").wait_for()
    type_in(page, "24", "50", "27", "45")
    all_saved(page)
    expect(page.get_by_text("Average of 2")).to_be_visible()
    expect(page.get_by_text("Points differ by 3.0 K").first).to_be_visible()


def test_a_wrong_number_is_read_again_and_another_taken_back(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    page.keyboard.press("r")
    page.get_by_test_id("typed").wait_for()
    type_in(page, "26.4", "50")
    page.get_by_role("button", name="Read again: point 1, Dry bulb").click()
    page.keyboard.type("24.6")
    page.get_by_role("button", name="Take instead").click()
    expect(page.get_by_test_id("tag-return")).to_contain_text("24.6 °C")
    page.get_by_role("button", name="Take back: point 1, Relative humidity").click()
    expect(page.get_by_test_id("tag-return")).not_to_contain_text("RH")
    all_saved(page)
    kinds = [(entry["kind"], bool(entry["replaces"])) for entry in logbook(page)["entries"]]
    assert kinds == [("reading", False), ("reading", False), ("reading", True), ("withdrawal", True)]


def test_slips_are_caught_at_the_key(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    page.keyboard.press("r")
    page.get_by_test_id("typed").wait_for()
    page.keyboard.type("240")
    expect(page.get_by_role("alert")).to_contain_text("not possible")
    page.keyboard.press("Enter")
    assert values(page) == []
    page.get_by_role("button", name="I meant 24.0").click()
    page.keyboard.press("Enter")
    choose(page, "Humidity read as", "Wet bulb")
    page.keyboard.type("25")
    expect(page.get_by_role("alert")).to_contain_text("above dry bulb (24.0 °C)")
    page.keyboard.press("Delete")
    page.keyboard.type("17")
    page.keyboard.press("Enter")
    page.keyboard.type("45")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("unusual")
    page.get_by_role("button", name="It is right, take it").click()
    all_saved(page)
    assert values(page) == [24.0, 17, 45]


def test_what_follows_appears_while_typing(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    page.keyboard.press("r")
    page.get_by_test_id("typed").wait_for()
    page.keyboard.type("25.5")
    page.keyboard.press("Enter")
    page.keyboard.type("31")
    expect(page.get_by_test_id("derived-wet_bulb_c")).to_have_text("14.2 °C")
    expect(page.get_by_test_id("derived-enthalpy_j_per_kg")).to_contain_text("45.")


def test_an_impatient_double_tap_takes_one_reading_and_starts_one_visit(device: BrowserContext) -> None:
    page = enter(device)
    page.get_by_role("button", name="Heat pump").click()
    page.get_by_role("button", name="Start visit here").dblclick()
    page.get_by_role("heading", name="Arrive", exact=True).wait_for()
    page.keyboard.press("r")
    page.get_by_test_id("typed").wait_for()
    page.keyboard.type("24")
    page.get_by_role("button", name="Take", exact=True).dblclick(delay=10)
    all_saved(page)
    assert values(page) == [24]
    page.goto("/")
    expect(page.get_by_role("heading", name="Heat pump")).to_have_count(1)


def test_changes_are_written_down_and_as_left_is_compared(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    for phase in ("as_found", "as_left"):
        if phase == "as_left":
            step(page, "Set up")
            page.get_by_role("button", name="Write this change down").click()
            expect(page.get_by_role("alert").first).to_contain_text("what, from and to")
            page.get_by_label("What was changed").fill("Filter")
            page.get_by_label("It was").fill("clogged")
            page.get_by_label("It is now").fill("new")
            page.get_by_role("button", name="Write this change down").click()
            step(page, "Prove")
        else:
            step(page, "Measure")
        for station, dry_bulb in (("return", "25"), ("supply", "13" if phase == "as_found" else "15")):
            open_station(page, station)
            page.keyboard.type(dry_bulb)
            page.keyboard.press("Enter")
            page.keyboard.press("Escape")
    all_saved(page)
    row = page.get_by_role("row").filter(has_text="Split")
    expect(row).to_contain_text("−2.0")


@pytest.mark.parametrize("device", [PHONE], indirect=True)
def test_the_whole_check_fits_a_phone(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    page.get_by_role("button", name="Steps").click()
    page.get_by_role("dialog").get_by_role("button", name="Measure").click()
    page.get_by_role("region", name="Air path").get_by_role("button", name=re.compile("^Return")).click()
    tap(page, "25.1")
    tap(page, "40")
    page.get_by_role("region", name="Air path").get_by_role("button", name=re.compile("^Supply")).click()
    tap(page, "13.2")
    all_saved(page)
    take = page.get_by_role("button", name="Take", exact=True).bounding_box()
    assert take is not None
    assert take["y"] + take["height"] < 844 - 56
    page.get_by_role("button", name="Results").click()
    expect(page.get_by_role("dialog")).to_contain_text("11.9 K")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


@pytest.mark.parametrize("device", [PHONE], indirect=True)
def test_keys_are_large_enough_for_a_gloved_thumb(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    page.keyboard.press("r")
    page.get_by_test_id("typed").wait_for()
    small = page.evaluate(
        """[...document.querySelectorAll('button, select, a')].filter(e => e.offsetParent && !e.closest('.sr-only, [aria-hidden=true]'))
        .map(e => [e.textContent || e.ariaLabel, e.getBoundingClientRect()])
        .filter(([, box]) => box.width > 0 && (box.height < 47.5 || box.width < 47.5)).map(([name]) => name)"""
    )
    assert small == []


def test_sign_in_by_password_and_wrong_password(device: BrowserContext, served: Served) -> None:
    page = device.new_page()
    page.goto("/sign-in")
    page.get_by_label("User name").fill("pat")
    page.get_by_label("Password").fill("wrong")
    page.get_by_role("button", name="Sign in", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("don't go together")
    expect(page.get_by_label("User name")).to_have_value("pat")
    page.get_by_label("Password").fill("correct horse battery")
    page.get_by_role("button", name="Sign in", exact=True).click()
    expect(page.get_by_text("No system yet")).to_be_visible()


def test_a_viewer_looks_and_does_not_record(device: BrowserContext) -> None:
    page = enter(device, "Edwin Pell")
    page.get_by_role("button", name="Furnace and coil").click()
    expect(page.get_by_role("button", name="Start visit here")).to_have_count(0)
    page.get_by_role("link", name="Nameplate and earlier visits").click()
    page.get_by_role("link", name=re.compile("Check after the return was sealed")).click()
    expect(page.get_by_role("heading", name="Work out")).to_be_visible()
    step(page, "Measure")
    expect(page.get_by_role("main").get_by_role("button", name=re.compile(r"^Return \d"))).to_be_disabled()


def test_find_and_keys(device: BrowserContext) -> None:
    page = enter(device)
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("station before, after")
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    page.keyboard.type("vent")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Fresh-air ventilator")).to_be_visible()
    expect(page.get_by_role("heading", name="Nameplate")).to_be_visible()


def test_another_companys_visit_does_not_exist(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    url = page.url
    page.get_by_role("button", name="Signed in as").click()
    page.get_by_role("button", name="Sign out", exact=True).click()
    page.get_by_label("User name").fill("pat")
    page.get_by_label("Password").fill("correct horse battery")
    page.get_by_role("button", name="Sign in", exact=True).click()
    page.get_by_text("No system yet").wait_for()
    page.goto(url)
    expect(page.get_by_text("There is no such thing here")).to_be_visible()

"""The steps of a visit by hand: checks, notes, the clock, closing and reopening, the record as a file, keys, themes."""

from __future__ import annotations

import json
import re
import subprocess
import sys
from pathlib import Path

import pytest
from playwright.sync_api import BrowserContext, Page, Route, expect

from tests.browser.conftest import (
    PHONE,
    air,
    all_saved,
    close_visit,
    enter,
    logbook,
    open_station,
    put,
    start_visit,
    step,
    tap,
    values,
)

ROOT = Path(__file__).resolve().parents[2]
STEPS = ["Arrive", "Trace", "Settle", "Measure", "Work out", "Set up", "Prove", "Restore", "Hand over"]


def test_number_keys_open_the_steps_and_every_step_says_what_to_do(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    for number, name in enumerate(STEPS, 1):
        page.keyboard.press(str(number))
        expect(page.get_by_role("heading", name=name, exact=True, level=1)).to_be_visible()
        assert page.get_by_role("main").inner_text().count("\n") > 1


def test_checks_are_ticked_and_taken_back_and_light_the_next_step(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    checks = ("Heard what was reported", "The nameplate on the unit", "Looked for hazards")
    for check in checks:
        page.get_by_role("button", name=check).click()
    all_saved(page)
    for check in checks:
        expect(page.get_by_role("button", name=check)).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="Next: Trace").click()
    expect(page.get_by_role("heading", name="Trace", exact=True)).to_be_visible()
    step(page, "Arrive")
    page.get_by_role("button", name=checks[0]).click()
    all_saved(page)
    expect(page.get_by_role("button", name=checks[0])).to_have_attribute("aria-pressed", "false")
    assert [entry["body"]["done"] for entry in logbook(page)["entries"]] == [True, True, True, False]


def test_what_is_typed_for_a_note_stays_until_it_is_kept(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Trace")
    page.keyboard.press("n")
    page.keyboard.type("Right side warmer, 7 of them")
    page.reload()
    expect(page.get_by_label("Note", exact=True)).to_have_value("Right side warmer, 7 of them")
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_label("Note", exact=True)).to_have_value("")
    expect(page.get_by_text("Right side warmer, 7 of them")).to_be_visible()
    all_saved(page)
    assert logbook(page)["entries"][0]["body"] == {"text": "Right side warmer, 7 of them", "step": "trace"}


def test_what_a_heat_pump_heats_by_is_asked_and_only_there(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Settle")
    expect(page.get_by_role("heading", name="Which stage does it run on?")).to_be_visible()
    expect(page.get_by_role("group", name="What gives the heat")).to_have_count(0)
    page.goto("/")
    start_visit(page, "Heat pump")
    step(page, "Settle")
    by = page.get_by_role("group", name="What gives the heat")
    by.get_by_role("button", name="The electric heater too").click()
    all_saved(page)
    expect(by.get_by_role("button", pressed=True)).to_have_text("The electric heater too")
    assert logbook(page)["entries"][-1]["body"] == {"item": "auxiliary", "value": "on"}


def test_the_settle_clock_survives_a_reload_and_can_start_again(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Settle")
    page.get_by_role("button", name="It starts now").click()
    all_saved(page)
    page.reload()
    expect(page.get_by_text("settling")).to_be_visible()
    page.get_by_role("button", name="It stopped and started again").click()
    page.get_by_role("button", name="No", exact=True).click()
    page.get_by_role("button", name="It stopped and started again").click()
    page.get_by_role("button", name="Yes, it starts now").click()
    all_saved(page)
    assert [entry["kind"] for entry in logbook(page)["entries"]] == ["run", "run"]


def test_early_readings_are_marked(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Settle")
    page.get_by_role("button", name="It starts now").click()
    for station, number in (("return", "25"), ("supply", "14")):
        page.keyboard.press("4")
        open_station(page, station)
        tap(page, number)
        page.keyboard.press("Escape")
    expect(page.get_by_role("complementary", name="Results")).to_contain_text("Read before the unit had run ten minutes")


def test_a_closed_visit_takes_nothing_and_can_be_reopened(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Hand over")
    expect(page.get_by_role("main")).to_contain_text("Not done yet")
    close_visit(page)
    page.get_by_text("This visit is closed").wait_for()
    step(page, "Measure")
    expect(page.get_by_role("main").get_by_role("button", name=re.compile("^Return"))).to_be_disabled()
    step(page, "Hand over")
    page.get_by_role("button", name="Reopen this visit").click()
    form = page.get_by_role("form", name="Reopen this visit")
    form.get_by_role("button", name="Reopen it").click()
    expect(form.get_by_text("Say why: it stays in the record.")).to_be_visible()
    form.get_by_label("Why it goes on").fill("The supply was read in the sun.")
    form.get_by_role("button", name="Reopen it").click()
    expect(page.get_by_text("This visit is closed")).to_be_hidden()
    step(page, "Measure")
    open_station(page, "return")
    tap(page, "25.1")
    all_saved(page)
    assert values(page) == [25.1]


def test_the_record_downloads_and_the_core_works_it_out_again(device: BrowserContext, tmp_path: Path) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Measure")
    for station, pair in (("return", ("25.1", "33")), ("supply", ("13.2", "63"))):
        open_station(page, station)
        for number in pair:
            tap(page, number)
    all_saved(page)
    page.keyboard.press("Escape")
    step(page, "Hand over")
    with page.expect_download() as download:
        page.get_by_role("link", name="The whole visit as JSON").click()
    saved = tmp_path / "visit.json"
    download.value.save_as(saved)
    worked = subprocess.run(
        [sys.executable, "-m", "fentro_core", "workup"], stdin=saved.open(), cwd=ROOT, capture_output=True, text=True, check=True
    )
    split = json.loads(worked.stdout)["phases"][0]["results"][0]
    assert split["key"] == "split"
    assert split["quantity"]["value"] == pytest.approx(11.9)
    assert logbook(page)["work_up"]["phases"][0]["results"][0]["quantity"]["value"] == pytest.approx(11.9)


def test_units_switch_everywhere_at_once_and_are_kept(device: BrowserContext) -> None:
    page = enter(device)
    page.get_by_role("button", name="Furnace and coil").click()
    page.get_by_role("link", name="Nameplate and earlier visits").click()
    plate = page.get_by_role("region", name="Nameplate")
    expect(plate).to_contain_text("10.55 kW")
    expect(plate).to_contain_text("1,655 m")
    page.get_by_role("button", name=re.compile("^Units")).click()
    expect(plate).to_contain_text("3.00 ton")
    expect(plate).to_contain_text("5,430 ft")
    expect(plate).to_contain_text("24.50 inHg")
    expect(page.get_by_role("region", name="Visits")).to_contain_text("cfm")
    page.reload()
    expect(plate).to_contain_text("3.00 ton")


def test_the_theme_is_kept(device: BrowserContext) -> None:
    page = enter(device)
    assert page.locator("html").get_attribute("data-theme") == "roof"
    page.get_by_role("button", name=re.compile("^Theme: roof")).click()
    page.reload()
    page.get_by_role("heading", name="Start a visit").wait_for()
    assert page.locator("html").get_attribute("data-theme") == "attic"


@pytest.mark.parametrize("device", [PHONE], indirect=True)
def test_on_a_phone_the_theme_is_in_the_persons_menu(device: BrowserContext) -> None:
    page = enter(device)
    page.get_by_role("button", name="Signed in as").click()
    page.get_by_role("button", name=re.compile("Theme")).click()
    assert page.locator("html").get_attribute("data-theme") == "attic"


def ribbon(page: Page) -> str:
    return page.get_by_role("region", name="Air path").inner_text()


@pytest.mark.parametrize(
    ("system", "there", "not_there"),
    [
        ("Rooftop unit 1", ["Mixing", "Relief", "Outdoor air", "Coil", "Blower"], ["Heat exchanger"]),
        ("Furnace and coil", ["Heat exchanger", "Coil", "7 ground", "4 upper"], ["Mixing", "Relief"]),
        ("Heat pump", ["Mixing", "Outdoor air", "Coil"], ["Heat exchanger"]),
        (
            "Fresh-air ventilator",
            ["Intake", "Heat recovery", "To the rooms", "From the rooms", "Outside hood"],
            ["Coil", "Mixing"],
        ),
    ],
)
def test_the_air_path_is_this_systems_own(device: BrowserContext, system: str, there: list[str], not_there: list[str]) -> None:
    page = enter(device)
    start_visit(page, system)
    shown = ribbon(page)
    assert [name for name in there if name not in shown] == []
    assert [name for name in not_there if name in shown] == []


@pytest.mark.parametrize("read", [False, True], ids=["empty", "read early"])
def test_no_two_tags_of_the_air_path_overlap(device: BrowserContext, read: bool) -> None:
    page = enter(device)
    units = ("Rooftop unit 1", "Furnace and coil", "Heat pump")
    for system in (*units, "Fresh-air ventilator"):
        page.goto("/")
        start_visit(page, system)
        if read:
            stations = ("return", "outdoor", "supply") if system in units else ("supply", "outdoor", "extract", "exhaust")
            put(page, *(each for station in stations for each in air(station, 22.5, 45)))
            expect(page.get_by_test_id("tag-outdoor")).to_contain_text("45 % RH")
        boxes = [tag.bounding_box() for tag in page.get_by_test_id(re.compile("^tag-")).all()]
        for index, one in enumerate(boxes):
            for other in boxes[index + 1 :]:
                assert one is not None
                assert other is not None
                apart = one["x"] + one["width"] <= other["x"] or other["x"] + other["width"] <= one["x"]
                below = one["y"] + one["height"] <= other["y"] or other["y"] + other["height"] <= one["y"]
                assert apart or below, system


def test_sign_out_everywhere_ends_the_other_tablet(device: BrowserContext) -> None:
    page = enter(device, "Tova Brandt")
    other = device.browser.new_context(base_url=page.url)
    second = enter(other, "Tova Brandt")
    page.get_by_role("button", name="Signed in as").click()
    page.get_by_role("button", name="Sign out on every device").click()
    page.get_by_role("heading", name="Fentro").wait_for()
    answer = second.evaluate("fetch('/api/v1/day').then(answer => answer.status)")
    other.close()
    assert answer == 401


def test_only_a_lead_finds_the_office(device: BrowserContext) -> None:
    page = enter(device)
    page.get_by_role("button", name="Signed in as").click()
    expect(page.get_by_role("link", name=re.compile("^Office"))).to_have_count(0)
    page.get_by_role("button", name="Sign out", exact=True).click()
    page.get_by_role("button", name="Tova Brandt").click()
    page.get_by_role("button", name="Signed in as").click()
    page.get_by_role("link", name=re.compile("^Office")).click()
    expect(page.get_by_role("heading", name="Office", level=1)).to_be_visible()
    expect(page.get_by_role("link", name="Operator's pages")).to_have_count(0)


def test_an_address_that_does_not_exist_says_so(device: BrowserContext) -> None:
    page = enter(device)
    page.goto("/nowhere/at/all")
    expect(page.get_by_role("heading", name="There is no such page")).to_be_visible()
    page.get_by_role("link", name="To the day sheet").click()
    expect(page.get_by_role("heading", name="Start a visit")).to_be_visible()


def test_tabs_lists_and_questions_work_with_arrow_keys(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Work out")
    page.get_by_role("tab", name="Numbers").focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("tab", name="Causes")).to_be_focused()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    expect(page.get_by_role("tab", name="Split")).to_have_attribute("aria-selected", "true")
    expect(page.get_by_text("Read return and supply air while it cools")).to_be_visible()
    page.keyboard.press("t")
    override = page.get_by_role("radio", name="Override")
    override.focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("radio", name="Jumper")).to_be_checked()
    page.get_by_label("What was changed").fill("R to Y")
    page.keyboard.press("Enter")
    all_saved(page)
    assert logbook(page)["entries"][-1]["body"]["kind"] == "jumper"
    page.get_by_role("button", name="Undone").click()
    all_saved(page)
    page.keyboard.press("Escape")
    step(page, "Measure")
    open_station(page, "return")
    page.get_by_role("button", name="Humidity read as").focus()
    page.keyboard.press("Enter")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_role("tab", name="Wet bulb")).to_be_visible()


def test_keys_before_the_finder_is_here_are_kept_for_it(device: BrowserContext) -> None:
    late: list[Route] = []
    device.route("**/Finder-*.js", lambda route: late.append(route))
    page = enter(device)
    page.keyboard.press("/")
    page.keyboard.type("rooff ventilx")
    page.keyboard.press("Backspace")
    expect(page.get_by_role("dialog")).to_contain_text("rooff ventil")
    for _ in "rooff ventil":
        page.keyboard.press("Backspace")
    page.keyboard.type("ventil")
    page.keyboard.press("Enter")
    expect(page.get_by_role("menuitem")).to_have_count(0)
    assert late, "the finder is loaded when it is opened"
    device.unroute("**/Finder-*.js")  # and what waited goes on
    expect(page.get_by_role("region", name="Nameplate")).to_be_visible()
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_a_system_is_found_by_a_few_letters_without_a_mouse(device: BrowserContext) -> None:
    page = enter(device)
    page.keyboard.press("/")
    page.keyboard.type("ventil")
    expect(page.get_by_role("menuitem")).to_have_count(1)
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_role("region", name="Nameplate")).to_be_visible()
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.press("/")
    page.keyboard.type("zzz")
    expect(page.get_by_role("dialog")).to_contain_text("Nothing matches.")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)

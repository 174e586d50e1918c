"""Fresh air of a dwelling, standing before its control: need, ports, setting, plan; without signal; and the year it costs."""

from __future__ import annotations

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.conftest import PHONE, all_saved, choose, enter, logbook, start_visit
from tests.browser.test_access import for_
from tests.browser.test_measuring import work_up
from tests.browser.test_on_the_device import with_core


def open_page(page: Page) -> None:
    page.goto(f"{page.url.split('?')[0]}?step=set_up&part=fresh_air")
    page.get_by_label("Floor area").wait_for(state="attached")


def say_dwelling_and_ventilator(page: Page) -> None:
    page.get_by_label("Floor area").fill("161.65")
    page.get_by_label("Bedrooms", exact=True).fill("3")
    page.get_by_role("radiogroup", name="Edition").get_by_text("2010 and before").click()
    page.get_by_role("button", name="Keep the dwelling").click()
    expect(page.get_by_role("region", name="Fresh air needed").get_by_role("listitem")).to_have_count(2)
    page.get_by_role("radiogroup", name="What it does").get_by_text("Blows in").click()
    for index, (drop, flow) in enumerate((("20", "41"), ("45", "62"), ("80", "84"))):
        page.get_by_label("Drop, Pa").nth(index).fill(drop)
        page.get_by_label("Flow, L/s").nth(index).fill(flow)
        if index < 2:
            page.get_by_role("button", name="One more point").click()
    page.get_by_role("button", name="Keep the ventilator").click()
    page.get_by_role("region", name="Measured flow").wait_for()


@pytest.mark.parametrize("device", [PHONE], indirect=True)
@pytest.mark.away
def test_a_wrong_setting_is_found_and_left_right_without_signal(device: BrowserContext) -> None:
    page = with_core(enter(device))
    start_visit(page, "Heat pump")
    open_page(page)
    with_core(page)
    device.set_offline(True)
    main = page.get_by_role("main")
    expect(main).to_contain_text("Say what the dwelling is")
    say_dwelling_and_ventilator(page)
    expect(main).to_contain_text("Measure its flow")
    flows = page.get_by_role("region", name="Measured flow")
    flows.get_by_label("Drop across the ports").fill("15")
    flows.get_by_role("button", name="Note this flow").click()
    expect(flows).to_contain_text("This lies outside the chart, 20 Pa to 80 Pa")
    flows.get_by_label("Drop across the ports").fill("62")
    flows.get_by_role("button", name="Note this flow").click()
    expect(flows).to_contain_text("By its ports' drop of 62 Pa")
    page.get_by_role("button", name="Note what it was found at").click()
    form = page.get_by_role("form", name="Control, found")
    form.get_by_label("Runs in an hour").fill("61")
    form.get_by_role("button", name="Keep").click()
    expect(form).to_contain_text("No control goes that far.")
    form.get_by_label("Runs in an hour").fill("10")
    form.get_by_role("button", name="Keep").click()
    expect(main).to_contain_text("As found it runs 10 min an hour and gives 54 % of the fresh air needed.")
    page.get_by_role("button", name="Note what it is left at").click()
    left = page.get_by_role("form", name="Control, left")
    expect(left.get_by_label("Runs in an hour")).to_have_value("20")
    left.get_by_role("button", name="Keep").click()
    expect(main).to_contain_text("As left it gives 1")
    device.set_offline(False)
    all_saved(page)
    kinds = [entry["kind"] for entry in logbook(page)["entries"]]
    assert kinds.count("ventilator_flow") == 2
    shown = work_up(page)["phases"][0]["pages"]["ventilation"]
    assert [each["control"] and each["control"]["minutes_per_hour"] for each in shown["controls"]] == [10.0, None, 20.0]
    assert shown["mark"] == "holds"


def test_a_chart_that_falls_is_refused_in_words_and_nothing_typed_is_lost(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page, "Heat pump")
    open_page(page)
    page.get_by_label("Floor area").fill("161.65")
    page.get_by_label("Bedrooms", exact=True).fill("thirty")
    page.get_by_role("button", name="Keep the dwelling").click()
    expect(page.get_by_text("A whole number, 0 to 20.")).to_be_visible()
    page.get_by_label("Bedrooms", exact=True).fill("3")
    page.get_by_role("button", name="Keep the dwelling").click()
    page.get_by_role("radiogroup", name="What it does").get_by_text("Both").click()
    page.get_by_label("Drop, Pa").first.fill("20")
    page.get_by_label("Flow, L/s").first.fill("41")
    page.get_by_role("button", name="Keep the ventilator").click()
    expect(page.get_by_role("alert")).to_contain_text("A chart needs two points or more.")
    page.get_by_role("button", name="One more point").first.click()
    page.get_by_label("Drop, Pa").nth(1).fill("60")
    page.get_by_label("Flow, L/s").nth(1).fill("40")
    page.get_by_role("button", name="Keep the ventilator").click()
    expect(page.get_by_role("alert")).to_contain_text("A larger drop across the ports is a larger flow")
    expect(page.get_by_label("Drop, Pa").first).to_have_value("20")
    page.get_by_label("Flow, L/s").nth(1).fill("70")
    page.get_by_role("button", name="Keep the ventilator").click()
    expect(page.get_by_role("region", name="Measured flow").get_by_text("Stale air out", exact=True)).to_be_visible()


def test_a_year_shows_what_lockouts_cost_and_the_best_pair_goes_into_the_plan(device: BrowserContext) -> None:
    page = enter(device)
    page.goto(f"/visits/{for_(page, 'Fresh-air ventilator', 'stuffy')}?step=set_up&part=fresh_air")
    year = page.get_by_role("region", name="Lockouts over a year")
    expect(year.get_by_text("Best pair here")).to_be_visible()
    expect(year).to_contain_text("days can't make up for it")
    expect(year.get_by_role("button", name="Put it into the plan")).to_have_count(0)
    page.goto("/")
    start_visit(page, "Fresh-air ventilator")
    open_page(page)
    page.get_by_role("region", name="Measured flow").get_by_label("Drop across the ports").first.fill("36")
    page.get_by_role("button", name="Note this flow").first.click()
    year.get_by_role("button", name="Put it into the plan").click()
    control = page.get_by_role("table", name="Control settings").or_(page.get_by_role("region", name="Control settings"))
    expect(control.first).to_contain_text("−")
    all_saved(page)
    body = next(entry["body"] for entry in logbook(page)["entries"] if entry["kind"] == "ventilator_control")
    assert body["stage"] == "planned"
    assert body["control"]["minutes_per_hour"] == 45.0
    assert body["control"]["low_c"] < 2.0


def test_rooms_and_people_become_the_minimum_with_one_tap_and_a_flue_is_warned_of(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page, "Rooftop unit 1")
    page.goto(f"{page.url.split('?')[0]}?step=set_up&part=spaces")
    panel = page.get_by_role("tabpanel", name="Rooms and people")
    panel.get_by_label("Room", exact=True).fill("Reading hall")
    panel.get_by_label("Floor, m²").fill("167.2")
    panel.get_by_label("People", exact=True).fill("9")
    expect(panel).to_contain_text("Outdoor air that the system must take in")
    expect(panel).to_contain_text("Single zone.")
    panel.get_by_role("button", name="One more room").click()
    choose(panel.get_by_role("group", name="Room 2"), "Used as", "Classroom")
    panel.get_by_label("Floor, m²").nth(1).fill("83.6")
    panel.get_by_label("People in all of them at once").fill("28")
    expect(panel).to_contain_text("Simplified rule: diversity 69 %, system effectiveness 0.75.")
    panel.get_by_label("Exhaust of the building").fill("900")
    panel.get_by_text("A burner in the building has a flue").click()
    expect(panel.get_by_role("alert")).to_contain_text("Flue gas can be pulled in.")
    panel.get_by_role("button", name="Make it the minimum").click()
    all_saved(page)
    bodies = {entry["kind"]: entry["body"] for entry in logbook(page)["entries"]}
    assert [space["use"] for space in bodies["spaces"]["spaces"]] == ["office", "classroom"]
    need = bodies["outdoor_need"]
    assert 0.25 < need["required_m3s"] < 0.5
    assert need["supply_m3s"] >= need["required_m3s"]
    assert "simplified rule" in need["why"]

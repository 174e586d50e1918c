"""A measured visit on the simulated probes, by taps and keys: settle, listen, hold, match, traverse, chart, logger files."""

from __future__ import annotations

import re
from typing import Any

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.conftest import (
    PHONE,
    Served,
    all_saved,
    choose,
    enter,
    hang,
    logbook,
    open_station,
    scene,
    start_visit,
    step,
    tap,
    to_top,
    type_in,
)


def work_up(page: Page) -> dict[str, Any]:
    return logbook(page)["work_up"]


def result(page: Page, key: str) -> dict[str, Any]:
    phase = work_up(page)["phases"][0]
    return next(each for each in [*phase["results"], *phase["pages"]["airflow"]["methods"]] if each["key"] == key)


def hold(page: Page, station: str) -> None:
    """Open a station, see its live values stand still, hold them with the key."""
    page.get_by_test_id(f"tag-{station}").click()
    live = page.get_by_role("region", name="Live")
    expect(live).to_contain_text(re.compile(r"\d"))
    expect(live).not_to_contain_text("marked as early")
    page.keyboard.press("h")
    all_saved(page)


def test_a_whole_visit_measured_with_live_probes(device: BrowserContext) -> None:
    page = enter(device)
    scene(page)
    start_visit(page)
    step(page, "Trace")
    page.get_by_role("button", name="The arrow agrees").click()
    step(page, "Settle")
    for probe, station in (
        ("TH-2041", "Return"),
        ("TH-2042", "Supply"),
        ("MN-507", "Static after the filter"),
        ("MN-508", "Supply static"),
    ):
        hang(page, probe, station)
    all_saved(page)
    to_top(page)
    page.get_by_role("button", name="It starts now").click()
    expect(page.get_by_role("main")).not_to_contain_text("Nobody noted when the unit started")
    expect(page.get_by_role("main")).to_contain_text("Still moving")
    expect(page.get_by_role("main")).to_contain_text("Steady: read now.")
    expect(page.get_by_role("figure", name="Dry bulb over time").locator("canvas")).to_be_visible()
    step(page, "Measure")
    for station in ("return", "supply", "filter_static", "supply_static"):
        hold(page, station)
    page.keyboard.press("Escape")
    step(page, "Work out")
    page.get_by_role("button", name="high", exact=True).click()
    all_saved(page)

    found = work_up(page)["phases"][0]
    split = next(line for line in found["verdicts"] if line["key"] == "split")
    assert not split["early"], "held steady, after ten minutes"
    assert 10 < result(page, "split")["quantity"]["value"] < 20
    assert found["pages"]["airflow"]["chosen"] == "airflow_fan_table"
    assert 0.4 < result(page, "airflow_fan_table")["quantity"]["value"] < 0.7
    held = [entry["body"]["held"] for entry in logbook(page)["entries"] if entry["kind"] == "reading"]
    assert all(each and each["samples"] > 5 for each in held)
    instruments = {entry["body"]["instrument"] for entry in logbook(page)["entries"] if entry["kind"] == "reading"}
    assert len(instruments) == 4
    assert None not in instruments

    chart = page.get_by_role("application", name=re.compile("Psychrometric"))
    chart.focus()
    page.keyboard.press("Enter")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("figure").filter(has=chart)).to_contain_text(re.compile(r"Wet bulb\s*\d"))

    visit = page.url.split("/visits/")[1].split("?")[0]
    samples = page.evaluate("id => fetch(`/api/v1/visits/${id}/samples.csv`).then(answer => answer.text())", visit)
    assert samples.count("\n") > 100, "warm-up kept with the visit"
    page.goto("/instruments")
    expect(page.get_by_role("link", name=re.compile("Settle clock"))).to_be_visible()
    page.reload()
    expect(page.get_by_role("link", name=re.compile("Settle clock"))).to_be_visible()


def test_probes_are_matched_and_the_split_is_told_closer(device: BrowserContext) -> None:
    page = enter(device)
    scene(page, speed=60)
    start_visit(page)
    step(page, "Measure")
    page.get_by_role("button", name="Match probes").click()
    matching = page.get_by_role("region", name="Match", exact=True)
    expect(matching).to_contain_text("Probe A")
    for other in ("Probe C", "Probe D"):
        matching.get_by_text(other, exact=True).click()
    page.get_by_role("button", name="They are together: start").click()
    expect(page.get_by_role("region", name="Matched: Dry bulb")).to_contain_text("instead of")
    all_saved(page)
    match = work_up(page)["matches"][0]
    assert [probe["name"] for probe in match["probes"]].sort() == ["Probe A", "Probe B"].sort()
    assert match["after"]["value"] < 0.5 * match["before"]["value"]


def test_a_value_held_too_early_is_marked(device: BrowserContext) -> None:
    page = enter(device)
    scene(page, speed=1)
    start_visit(page)
    step(page, "Settle")
    hang(page, "TH-2042", "Supply")
    to_top(page)
    page.get_by_role("button", name="It starts now").click()
    step(page, "Measure")
    open_and_hold = page.get_by_test_id("tag-supply")
    open_and_hold.click()
    expect(page.get_by_role("region", name="Live")).to_contain_text("Held now, it is marked as early")
    page.get_by_role("button", name=re.compile("^Hold")).click()
    all_saved(page)
    expect(open_and_hold).to_contain_text("early")
    station = next(each for each in work_up(page)["phases"][0]["stations"] if each["station"] == "supply")
    assert station["early"]


def test_typing_goes_on_beside_a_probe(device: BrowserContext) -> None:
    page = enter(device)
    scene(page, speed=1)
    start_visit(page)
    step(page, "Measure")
    page.get_by_test_id("tag-return").click()
    page.get_by_role("button", name="Assign Probe A here").click()
    expect(page.get_by_role("region", name="Live")).to_be_visible()
    page.get_by_role("button", name="Type a value instead").click()
    tap(page, "24.4")
    all_saved(page)
    assert [entry["body"]["value"] for entry in logbook(page)["entries"] if entry["kind"] == "reading"] == [24.4]


def test_killed_probes_are_said_at_once_and_come_back(device: BrowserContext, served: Served) -> None:
    page = enter(device)
    scene(page, speed=10)
    start_visit(page)
    step(page, "Settle")
    hang(page, "TH-2042", "Supply")
    step(page, "Measure")
    page.get_by_test_id("tag-supply").click()
    value = page.get_by_test_id("live-dry_bulb")
    expect(value).to_contain_text("°C")
    served.kill_probes()
    try:
        expect(page.get_by_role("alert").filter(has_text="do not answer")).to_be_visible()
        expect(value).to_contain_text("out of reach")
        expect(value).not_to_contain_text("°C")
        expect(page.get_by_role("button", name=re.compile("^Hold"))).to_be_disabled()
    finally:
        served.start_probes()
    expect(value).to_contain_text("°C")
    expect(page.get_by_role("alert")).to_be_hidden()


def test_a_traverse_by_keyboard(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Measure")
    page.get_by_role("button", name=re.compile("^More stations")).click()
    page.get_by_role("main").get_by_role("button", name="Supply traverse").click()
    page.get_by_role("button", name="Show where to hold the probe").click()
    expect(page.get_by_text("Measure this inside the duct.").first).to_be_visible()
    page.get_by_text("Round", exact=True).click()
    page.get_by_label("Diameter inside").fill("24 cm")
    page.get_by_role("button", name="Show where to hold the probe").click()
    expect(page.get_by_text("This must be a number")).to_be_visible()
    page.get_by_label("Diameter inside").fill("200")
    page.get_by_label("Straight duct before").fill("3")
    page.get_by_role("button", name="Show where to hold the probe").click()
    expect(page.get_by_role("region", name="Velocity by position")).to_contain_text("Diameter 1, mark 6 at 194 mm")
    type_in(page, *["5"] * 17)
    expect(page.get_by_role("region", name="Plan")).to_contain_text("17 of 18 points read")
    type_in(page, "5")
    expect(page.get_by_text("All points read.")).to_be_visible()
    all_saved(page)
    flow = result(page, "airflow_traverse_supply")["quantity"]["value"]
    assert flow == pytest.approx(5 * 3.14159265 / 4 * 0.04, rel=1e-6)
    assert work_up(page)["phases"][0]["pages"]["airflow"]["chosen"] == "airflow_traverse_supply"


def test_tracing_notes_the_arrow_a_place_and_a_branch(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Trace")
    page.get_by_role("button", name="It points the other way").click()
    expect(page.get_by_role("complementary", name="Results")).to_contain_text("The filter's arrow points against")
    page.get_by_role("button", name="The arrow agrees").click()
    expect(page.get_by_role("complementary", name="Results")).not_to_contain_text("The filter's arrow")
    page.get_by_role("button", name="It is here").first.click()
    page.get_by_label("Where Return lies here").fill("Left of the filter door, 30 cm up")
    page.get_by_role("button", name="Write down").click()
    expect(page.get_by_role("main")).to_contain_text("Left of the filter door")
    page.get_by_role("button", name="Note this branch").click()
    expect(page.get_by_text("Name the room.")).to_be_visible()
    page.get_by_label("Room").fill("Darkroom")
    page.get_by_label("Diameter, mm").fill("150")
    page.get_by_role("button", name="Note this branch").click()
    all_saved(page)
    path = work_up(page)["path"]
    assert "register-darkroom" in [station["id"] for station in path["stations"]]
    assert path["branches"][-1]["diameter_m"] == pytest.approx(0.15)


def test_probes_without_a_radio_are_matched_by_eye(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Measure")
    page.get_by_role("button", name="Match probes").click()
    page.get_by_role("button", name="They are together: start").wait_for()
    page.get_by_text("Probes without a radio").click()
    by_eye = page.get_by_role("region", name="Read by eye")
    write = by_eye.get_by_role("button", name="Write the match down")
    expect(write).to_be_disabled()
    choose(by_eye, "Add a probe", "Probe A")
    choose(by_eye, "Add a probe", "Probe B")
    for label, values in (("First", ("24.3", "24.0")), ("Second", ("24.3", "24.1")), ("Third", ("24.4", "24.0"))):
        for index, value in enumerate(values):
            by_eye.get_by_label(label).nth(index).fill(value)
    by_eye.get_by_label("First").first.fill("warm")
    expect(by_eye.get_by_text("This must be a number.")).to_be_visible()
    by_eye.get_by_label("First").first.fill("24.3")
    write.click()
    expect(page.get_by_role("region", name="Matched: Dry bulb")).to_contain_text("instead of")
    all_saved(page)
    (match,) = work_up(page)["matches"]
    assert [round(probe["offset"]["value"], 2) for probe in match["probes"]] == [0.15, -0.15]


def test_a_lead_writes_down_a_calibration(device: BrowserContext) -> None:
    page = enter(device, "Tova Brandt")
    page.goto("/instruments")
    first = page.get_by_role("listitem").filter(has=page.get_by_role("heading", name="Probe C"))
    expect(first).to_contain_text("Overdue since")
    first.get_by_role("button", name="Calibrated").click()
    first.get_by_label("Calibrated on").fill("2026-06-01")
    first.get_by_label("Next due on").fill("2026-05-01")
    first.get_by_role("button", name="Write down").click()
    expect(first).to_contain_text("must be after the last")
    page.get_by_role("button", name="I have it").first.click()
    expect(page.get_by_text("You have it").first).to_be_visible()
    page.get_by_label("New instrument, name").fill("Probe A")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_text("There is an instrument of this name already.")).to_be_visible()


def test_a_scenario_and_a_seed_are_chosen(device: BrowserContext) -> None:
    page = enter(device)
    page.goto("/instruments")
    choose(page, "What happens", "One probe drops out, one battery is low")
    page.get_by_label("Seed").fill("x")
    expect(page.get_by_text("The seed is a whole number")).to_be_visible()
    page.get_by_label("Seed").fill("42")
    page.get_by_label("Seed").blur()
    expect(page.get_by_label("battery low")).to_be_visible()
    told = page.evaluate("() => fetch('/api/v1/probes').then(answer => answer.json())")["scene"]
    assert (told["scenario"], told["seed"]) == ("weak_signal", 42)
    scene(page, speed=1)


def test_pads_of_statics_and_pipes_ask_for_their_own(device: BrowserContext) -> None:
    page = enter(device)
    scene(page, speed=1)
    start_visit(page)
    step(page, "Measure")
    page.get_by_role("button", name=re.compile("^More stations")).click()
    page.get_by_role("main").get_by_role("button", name="Supply static").click()
    page.get_by_test_id("typed").wait_for()
    expect(page.get_by_role("tab")).to_have_count(1)
    type_in(page, "62", "64")
    all_saved(page)
    open_station(page, "supply_static")
    taken = [(entry["body"]["point"], entry["body"]["value"]) for entry in logbook(page)["entries"]]
    assert taken == [(1, 62), (2, 64)]


def test_heating_gives_a_flow_from_the_rise(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Settle")
    page.get_by_role("button", name="It has run for twenty minutes or more").click()
    step(page, "Measure")
    for station, numbers in (("return", ("20", "40")), ("supply", ("48", "9"))):
        open_station(page, station)
        type_in(page, *numbers)
    all_saved(page)
    rise = result(page, "airflow_rise")
    assert rise["quantity"] is not None
    assert work_up(page)["phases"][0]["pages"]["airflow"]["chosen"] == "airflow_rise"
    page.keyboard.press("Escape")
    step(page, "Work out")
    page.get_by_role("button", name=re.compile("^Heat and rise")).click()
    expect(page.get_by_role("heading", name="Working: Heat and rise")).to_be_visible()
    expect(page.get_by_role("main")).to_contain_text("Gas input and efficiency, not clocked")


@pytest.mark.parametrize("device", [PHONE], indirect=True, ids=["phone"])
def test_holding_and_hanging_on_a_phone(device: BrowserContext) -> None:
    page = enter(device)
    scene(page, speed=1)
    start_visit(page)
    page.get_by_role("button", name="Steps").click()
    page.get_by_role("dialog").get_by_role("button", name="Measure").click()
    page.get_by_role("region", name="Air path").get_by_role("button", name=re.compile("^Supply")).click()
    page.get_by_role("button", name="Assign Probe A here").click()
    button = page.get_by_role("button", name="Hold these values")
    box = button.bounding_box()
    assert box is not None
    assert box["height"] >= 48
    button.click()
    all_saved(page)
    assert {entry["body"]["quantity"] for entry in logbook(page)["entries"] if entry["kind"] == "reading"} == {
        "dry_bulb",
        "relative_humidity",
    }


def test_a_lost_probe_is_said_on_every_step(device: BrowserContext) -> None:
    page = enter(device)
    scene(page, "weak_signal", speed=10)
    start_visit(page)
    step(page, "Settle")
    hang(page, "TH-2042", "Supply")
    step(page, "Arrive")
    expect(page.get_by_role("alert").filter(has_text="Out of reach: Probe B (Supply)")).to_be_visible()
    expect(page.get_by_test_id("tag-supply").get_by_label("probe out of reach")).to_be_visible()
    scene(page, speed=1)


def test_a_traverse_in_a_ventilators_duct(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page, "Fresh-air ventilator")
    step(page, "Measure")
    page.get_by_role("button", name=re.compile("^More stations")).click()
    page.get_by_role("main").get_by_role("button", name="Fresh-air traverse").click()
    page.get_by_text("Round", exact=True).click()
    page.get_by_label("Diameter inside").fill("125")
    page.get_by_role("button", name="Show where to hold the probe").click()
    page.get_by_test_id("typed").wait_for()
    type_in(page, "95")
    expect(page.get_by_role("alert")).to_contain_text("95")
    page.keyboard.press("Backspace")
    page.keyboard.press("Backspace")
    type_in(page, *["4.2"] * 18)
    expect(page.get_by_text("All points read.")).to_be_visible()
    all_saved(page)
    flow = next(each for each in work_up(page)["phases"][0]["results"] if each["key"] == "flow_supply")
    assert flow["quantity"]["value"] == pytest.approx(4.2 * 3.14159265 / 4 * 0.125**2, rel=1e-6)

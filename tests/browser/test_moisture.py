"""Moisture: the coil's water, a bucket beside it, ways to dry, sources and samples; entered without signal, on a phone too."""

from __future__ import annotations

import pytest
from playwright.sync_api import BrowserContext, Locator, Page, expect

from tests.browser.conftest import PHONE, air, all_saved, choose, enter, logbook, put, remember, start_visit
from tests.browser.test_economizer import rooftop_visit, scene
from tests.browser.test_on_the_device import with_core
from tests.core.test_calculation import CYCLES


def opened(page: Page) -> Locator:
    """The page of moisture, after return, supply, outdoor air and flow were read."""
    put(page, *air("return", 24.0, 66), *air("supply", 13.0, 93), *air("outdoor", 30.0, 75), ("return", "airflow", 0.56, "m3/s"))
    page.goto(f"{page.url.split('?')[0]}?step=work_out&part=moisture")
    panel = page.get_by_role("tabpanel", name="Moisture")
    expect(panel).to_contain_text("Water leaves: the coil's surface is at")
    return panel


def form(panel: Locator, opener: str, name: str) -> Locator:
    panel.get_by_text(opener, exact=True).click()
    return panel.get_by_role("form", name=name)


@pytest.mark.parametrize("device", [PHONE], indirect=True)
@pytest.mark.away
def test_a_bucket_is_noted_without_signal_and_held_against_the_air(device: BrowserContext) -> None:
    remember(device, "units", "SI")
    page = with_core(enter(device))
    start_visit(page)
    panel = opened(page)
    with_core(page)
    device.set_offline(True)
    bucket = form(panel, "Note a bucket", "Bucket")
    bucket.get_by_label("Water caught, without the bucket").fill("300")
    bucket.get_by_role("button", name="Keep").click()
    expect(bucket).to_contain_text("Between 0 and 200 kg.")
    bucket.get_by_label("Water caught, without the bucket").fill("0.3")
    bucket.get_by_role("button", name="Keep").click()
    expect(panel).to_contain_text("The bucket has less than the air lost")
    expect(panel).to_contain_text("a trap that is blocked or dry")
    device.set_offline(False)
    all_saved(page)
    bodies = {entry["kind"]: entry["body"] for entry in logbook(page)["entries"]}
    assert bodies["condensate"]["condensate_kg"] == 0.3
    assert bodies["condensate"]["settled"] is True


def test_ways_to_dry_and_sources_follow_what_is_noted(device: BrowserContext) -> None:
    remember(device, "units", "SI")
    page = enter(device)
    start_visit(page)
    panel = opened(page)
    aim = form(panel, "Air wanted, load and means", "Air wanted")
    aim.get_by_label("Relative humidity, wanted").fill("99")
    aim.get_by_role("button", name="Keep").click()
    expect(aim).to_contain_text("20 % to 90 %.")
    aim.get_by_label("Relative humidity, wanted").fill("50")
    aim.get_by_label("Heat that must leave").fill("4")
    aim.get_by_label("Water that must leave").fill("5")
    choose(aim, "Reheat by", "Electric")
    aim.get_by_role("button", name="Keep").click()
    ways = panel.get_by_role("region", name="How to dry this room")
    expect(ways).to_contain_text("least energy")
    expect(ways).to_contain_text("Reheat dries nothing by itself")
    expect(ways).to_contain_text("Supply air with reheat, half an hour.")
    sources = form(panel, "What may bring water in", "Water sources")
    sources.get_by_label("Outdoor air through the unit").fill("5")
    sources.get_by_label("People in the room").fill("3")
    sources.get_by_role("button", name="Keep").click()
    traced = panel.get_by_role("region", name="Where the water comes from")
    expect(traced).to_contain_text("Outdoor air through the unit")
    expect(traced).to_contain_text("there is another way in")
    panel.get_by_role("button", name="Apparatus dew point").click()
    expect(page.get_by_role("main")).to_contain_text("the coil's line drawn on to saturation")
    all_saved(page)
    bodies = {entry["kind"]: entry["body"] for entry in logbook(page)["entries"]}
    assert bodies["moisture_aim"]["room_sensible_w"] == 4000
    assert bodies["moisture_aim"]["room_water_kg_per_s"] == pytest.approx(5 / 3600)
    noted = bodies["water_sources"]
    assert (noted["outdoor_m3s"], noted["occupants"], noted["infiltration_m3s"]) == (0.005, 3, 0)
    assert noted["building_pa"] is None


def test_samples_show_a_fan_that_gives_the_water_back(device: BrowserContext) -> None:
    remember(device, "units", "SI")
    page = enter(device)
    start_visit(page)
    panel = opened(page)
    stops = panel.get_by_role("region", name="After each stop")

    def choose_file(text: str) -> None:
        with page.expect_file_chooser() as chosen:
            stops.get_by_role("button", name="Samples (CSV)").click()
        chosen.value.set_files({"name": "cycles.csv", "mimeType": "text/csv", "buffer": text.encode()})

    choose_file("time,supply temp\n2026-07-01T10:00,13\n")
    expect(stops.get_by_role("alert")).to_contain_text("No column is called")
    choose_file(CYCLES)
    expect(stops).to_contain_text("After 4 of 4 stops the fan blew the coil's water back")
    drift = stops.get_by_role("form", name="Drift of the room")
    drift.get_by_label("The room's volume").fill("one")
    drift.get_by_role("button", name="Count it").click()
    expect(drift).to_contain_text("5 m³ to 500,000 m³.")
    drift.get_by_label("The room's volume").fill("400")
    drift.get_by_role("button", name="Count it").click()
    expect(stops).to_contain_text("Counted into the room's load")
    all_saved(page)
    aim = next(entry["body"] for entry in logbook(page)["entries"] if entry["kind"] == "moisture_aim")
    assert aim["room_m3"] == 400
    assert aim["drift_ratio"] == pytest.approx(0, abs=1e-6), "the return of these samples stands still"


def test_a_reheat_that_does_not_shut_is_named_after_two_runs(device: BrowserContext) -> None:
    remember(device, "units", "SI")
    page = enter(device)
    start_visit(page)
    page.get_by_role("button", name="Read the nameplate").click()
    page.get_by_role("heading", name="What is known of this system").wait_for()
    choose(page, "Reheat coil", "hot refrigerant gas")
    page.get_by_role("button", name="Set it right").click()
    page.get_by_role("heading", name="Arrive", exact=True).wait_for()
    all_saved(page)
    page.goto(f"{page.url.split('?')[0]}?step=prove&part=drying_proof")
    tests = page.get_by_role("list", name="Tests of reheat and bypass")
    for name, supply in (("Cooling without reheat", "19"), ("Reheat off again", "18.6")):
        tests.get_by_role("button", name=name).click()
        form = page.get_by_role("form", name=name)
        form.get_by_label("Return").fill("24")
        form.get_by_label("After the coil").fill("12")
        form.get_by_label("Supply").fill("cold")
        form.get_by_role("button", name="Note what I saw").click()
        expect(form).to_contain_text("This must be a number.")
        form.get_by_label("Supply").fill(supply)
        form.get_by_role("button", name="Note what I saw").click()
        expect(form).to_have_count(0)
    expect(page.get_by_role("region", name="Look here first")).to_contain_text("Reheat does not shut")
    all_saved(page)
    seen = [entry["body"] for entry in logbook(page)["entries"] if entry["kind"] == "drying_test"]
    assert [(each["test"], each["supply_c"]) for each in seen] == [("cooling", 19), ("back", 18.6)]


def test_the_controller_runs_a_test_of_the_bypass_and_everything_is_let_go(device: BrowserContext) -> None:
    remember(device, "units", "SI")
    page = enter(device)
    rooftop_visit(page, "drying_proof", "prove")
    scene(page, preset="bypass_too_far", speed=60)
    page.reload()
    tests = page.get_by_role("list", name="Tests of reheat and bypass")
    tests.get_by_role("button", name="Bypass open").click()
    run = tests.get_by_role("button", name="Run it at the controller RTU-2")
    run.click()
    expect(tests.get_by_text("of the controller's time.")).to_be_visible()
    expect(tests.get_by_role("button", name="Bypass open")).to_contain_text("too little air goes over the coil")
    run.click()
    tests.get_by_role("button", name="Stop and release").click()
    expect(tests.get_by_role("alert")).to_contain_text("What was overridden is released")
    seen = [entry["body"] for entry in logbook(page)["entries"] if entry["kind"] == "drying_test"]
    assert [each["test"] for each in seen] == ["bypass_open"], "one that was stopped keeps nothing"
    scene(page, preset="low_limit_tied", speed=10)

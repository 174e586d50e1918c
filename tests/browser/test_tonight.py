"""Tonight: a plan from a typed forecast, the target moved by hand, holds, a season's table; without signal."""

from __future__ import annotations

from math import cos, pi

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.conftest import PHONE, all_saved, choose, enter, logbook, start_visit
from tests.browser.test_on_the_device import with_core


def set_up(page: Page) -> None:
    page.goto(f"{page.url.split('?')[0]}?step=set_up&part=tonight")
    page.get_by_label("Full flow of night air").wait_for(state="attached")


@pytest.mark.parametrize("device", [PHONE], indirect=True)
def test_a_night_is_planned_without_signal(device: BrowserContext) -> None:
    page = with_core(enter(device))
    start_visit(page, "Heat pump")
    set_up(page)
    with_core(page)
    device.set_offline(True)
    main = page.get_by_role("main")
    page.get_by_text("Blower, damper and limits").click()
    page.get_by_label("The blower draws then").fill("300")
    page.get_by_label("Never colder in the rooms than").fill("26")
    page.get_by_role("tabpanel").get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_text("Below the cooling setpoint.")).to_be_visible()
    page.get_by_label("Never colder in the rooms than").fill("20")
    page.get_by_role("tabpanel").get_by_role("button", name="Keep", exact=True).click()
    page.get_by_label("Tomorrow's high").fill("35")
    page.get_by_label("Tonight's low").fill("36")
    expect(page.get_by_text("Not above the day's high.")).to_be_visible()
    page.get_by_label("Tonight's low").fill("15")
    expect(main).to_contain_text("Open the damper")
    rules = page.get_by_role("region", name="Electricity until tomorrow midnight")
    costs = [float(text.split(" kWh")[0].split()[-1]) for text in rules.get_by_role("listitem").all_inner_texts()]
    assert costs[0] <= min(costs[1:]), "the plan is the cheapest"
    page.get_by_role("slider").fill("23")
    expect(main).to_contain_text("as you chose")
    page.get_by_role("button", name="The cheapest again").click()
    page.get_by_role("button", name="Note this plan").click()
    page.get_by_label("Night's dew point").fill("18")
    expect(main).to_contain_text("Leave it shut tonight: the air outside is too moist.")
    device.set_offline(False)
    all_saved(page)
    bodies = {entry["kind"]: entry["body"] for entry in logbook(page)["entries"]}
    assert bodies["night_setup"]["flush"]["full_w"] == 300.0
    assert bodies["night_planned"]["high_c"] == 35.0
    assert bodies["night_planned"]["low_c"] == 15.0
    assert all(0 < speed <= 1 for speed in bodies["night_planned"]["speeds"])


def test_the_houses_own_samples_take_the_place_of_a_typical_one(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page, "Heat pump")
    set_up(page)
    fit = page.get_by_role("region", name="The house's own samples")
    rows = [
        f"2026-07-{1 + hour // 24:02d}T{hour % 24:02d}:00,{20 + 6 * cos(pi * (hour - 15) / 12):.2f},{24 + cos(pi * (hour - 18) / 12):.2f}"
        for hour in range(60)
    ]

    def choose_file(text: str) -> None:
        with page.expect_file_chooser() as chosen:
            fit.get_by_role("button", name="Samples (CSV)").click()
        chosen.value.set_files({"name": "house.csv", "mimeType": "text/csv", "buffer": text.encode()})

    choose_file("time,outdoor,kitchen\n2026-07-01T00:00,1,2\n")
    expect(fit.get_by_role("alert")).to_contain_text("No column is called room")
    choose_file("\n".join(["time,outdoor,room", *rows]))
    expect(fit).to_contain_text("The model follows 60 h within")
    expect(page.get_by_role("main")).to_contain_text("Reckoned for a typical house")
    fit.get_by_role("button", name="Plan with this house").click()
    expect(fit).to_contain_text("This plan stands on the house's own samples.")
    expect(page.get_by_role("main")).not_to_contain_text("Reckoned for a typical house")
    all_saved(page)
    last = [entry["body"] for entry in logbook(page)["entries"] if entry["kind"] == "night_setup"][-1]
    assert last["house"]["mass_j_per_k"] > 0


def test_smoke_holds_the_night_and_a_season_has_its_table(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page, "Heat pump")
    set_up(page)
    page.get_by_text("Blower, damper and limits").click()
    choose(page, "What holds it shut tonight", "Smoke outside")
    page.get_by_role("tabpanel").get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("main")).to_contain_text("Held shut: smoke outside.")
    page.get_by_role("button", name="Work them out").click()
    table = page.get_by_role("region", name="Settings for a season").get_by_role("table")
    expect(table.get_by_role("row")).to_have_count(8)
    expect(page.get_by_role("region", name="Settings for a season")).to_contain_text("colder than the rooms")

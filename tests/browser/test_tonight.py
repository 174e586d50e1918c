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
@pytest.mark.away
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
    expect(page.get_by_role("main")).to_contain_text("Worked out for a typical house")
    fit.get_by_role("button", name="Plan with this house").click()
    expect(fit).to_contain_text("This plan rests on the house's own samples.")
    expect(page.get_by_role("main")).not_to_contain_text("Worked out for a typical house")
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


def give(page: Page, button: str, text: str, name: str = "night.csv") -> None:
    """Choose a file made on the spot."""
    with page.expect_file_chooser() as chosen:
        page.get_by_role("button", name=button).click()
    chosen.value.set_files({"name": name, "mimeType": "text/csv", "buffer": text.encode()})


def by_the_hour(first: int, count: int, low: float, high: float) -> list[tuple[str, float]]:
    """Times and outdoor air, coldest at 5 h."""
    hours = range(first, first + count)
    middle, half = (low + high) / 2, (high - low) / 2
    return [
        (f"2026-07-{1 + hour // 24:02d}T{hour % 24:02d}:00", middle + half * cos(2 * pi * (hour - 17) / 24)) for hour in hours
    ]


def test_a_forecast_comes_by_the_hour_and_the_night_is_held_against_its_plan(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page, "Heat pump")
    set_up(page)
    forecast = page.get_by_role("region", name="Forecast")
    give(page, "By the hour", "time,temperature\n2026-07-01T21:00,20\n")
    expect(forecast.get_by_role("alert")).to_contain_text("from 8 in the evening to the next midnight")
    rows = [f"{time},{outdoor:.1f}" for time, outdoor in by_the_hour(12, 48, 15.0, 34.0)]
    give(page, "By the hour", "\n".join(["time,temperature", *rows]))
    expect(forecast).to_contain_text("By the hour, from the evening of 2026-07-01.")
    expect(forecast.get_by_label("Tomorrow's high")).to_have_count(0)
    expect(page.get_by_role("main")).to_contain_text("Open the damper")
    page.get_by_role("button", name="Note this plan").click()
    all_saved(page)
    made = [entry["body"] for entry in logbook(page)["entries"] if entry["kind"] == "night_planned"][-1]
    assert len(made["forecast_c"]) == 28
    assert len(made["planned_c"]) == 29
    assert made["low_c"] == pytest.approx(15.0, abs=0.2)
    night = page.get_by_role("region", name="The night afterwards")
    give(page, "The night's samples", "time,outdoor\n2026-07-01T21:00,20\n")
    expect(night.get_by_role("alert")).to_contain_text("No column is called room")
    outdoor = by_the_hour(20, 15, 15.0, 34.0)
    course = [24.0 if at < 2 else made["planned_c"][at] for at in range(15)]
    samples = [f"{time},{air:.2f},{room:.2f}" for (time, air), room in zip(outdoor, course, strict=True)]
    give(page, "The night's samples", "\n".join(["time,outdoor,room", *samples]))
    expect(night).to_contain_text("At wake-up")
    expect(night).to_contain_text("Of the planned air came in")
    night.get_by_role("button", name="Let the plan learn from it").click()
    expect(page.get_by_role("region", name="The house's own samples")).to_contain_text("rests on the house's own samples")
    forecast.get_by_role("button", name="High and low again").click()
    expect(forecast.get_by_label("Tomorrow's high")).to_be_visible()
    override = page.get_by_role("region", name="Outdoor air now")
    override.get_by_role("radiogroup", name="For").get_by_text("2 h").click()
    override.get_by_role("button", name="Note the override").click()
    expect(override.get_by_role("status")).to_contain_text("then back by itself")
    all_saved(page)
    bodies = {entry["kind"]: entry["body"] for entry in logbook(page)["entries"]}
    assert bodies["outdoor_air_now"] == {"hours": 2, "why": ""}
    assert bodies["night_seen"]["first_hour"] == 20
    assert bodies["night_setup"]["house"]["mass_j_per_k"] > 0


@pytest.mark.parametrize("device", [PHONE], indirect=True)
@pytest.mark.away
def test_the_night_damper_is_proved_by_hand_without_signal(device: BrowserContext) -> None:
    page = with_core(enter(device))
    start_visit(page, "Heat pump")
    page.goto(f"{page.url.split('?')[0]}?step=prove&part=night_proof")
    tests = page.get_by_role("list", name="Tests of the night damper")
    tests.wait_for()
    with_core(page)
    device.set_offline(True)
    tests.get_by_role("button", name="At night: outdoor air, relief open").click()
    form = page.get_by_role("form", name="At night: outdoor air, relief open")
    for label, option in (("The damper lets in", "Outdoor air"), ("The relief", "Shut"), ("The blower", "Runs")):
        form.get_by_role("radiogroup", name=label).get_by_text(option, exact=True).click()
    form.get_by_role("button", name="Note what I saw").click()
    expect(tests).to_contain_text("The relief is shut: nothing lets the stale air out")
    tests.get_by_role("button", name="Its outdoor sensor").click()
    form = page.get_by_role("form", name="Its outdoor sensor")
    form.get_by_label("The control shows").fill("warm")
    form.get_by_role("button", name="Note what I saw").click()
    expect(form).to_contain_text("This must be a number.")
    form.get_by_label("The control shows").fill("27")
    form.get_by_label("The probe in the shade").fill("17")
    form.get_by_role("button", name="Note what I saw").click()
    expect(tests).to_contain_text("So it never cools at night.")
    expect(page.get_by_role("main")).to_contain_text("2 of 6 tests done")
    device.set_offline(False)
    all_saved(page)
    assert [entry["body"]["test"] for entry in logbook(page)["entries"] if entry["kind"] == "night_test"] == ["outdoor", "sensor"]

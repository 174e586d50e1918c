"""Work out in its parts by hand: causes answered and ruled out, the leak test, pressures, heating, history."""

from __future__ import annotations

import re
from typing import Any

import pytest
from playwright.sync_api import BrowserContext, expect

from tests.browser.conftest import PHONE, air, all_saved, enter, logbook, part, put, start_visit, step, tap

WEAK = [
    *air("return", 25.2, 33),
    *air("supply", 16.0, 58),
    *air("outdoor", 33.5, 20),
    ("return", "airflow", 0.566, "m3/s"),
    ("suction_line", "pipe_temperature", 28.0, "degC"),
]


def test_a_cause_is_looked_at_answered_ruled_out_and_put_back(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    put(page, *WEAK, ("liquid_line", "pipe_temperature", 39.0, "degC"), seen="oil_stain")
    step(page, "Work out")
    page.get_by_role("complementary", name="Results").get_by_role("button", name="Most likely: refrigerant charge low").click()
    first = page.get_by_role("listitem").filter(has=page.get_by_role("button", name="Refrigerant charge low", exact=False)).first
    expect(first.get_by_text("Suction line warm: 28.0 °C")).to_be_visible()
    expect(first.get_by_text("certified persons only")).to_be_visible()
    expect(first.get_by_text(re.compile(r"^likely, (about \d\d|over 95) %"))).to_be_visible()
    first.get_by_role("button", name="It can't be this").click()
    first.get_by_role("button", name="Rule it out").click()
    expect(page.get_by_role("alert")).to_contain_text("Say why")
    first.get_by_label("Why can't it be this?").fill("weighed in last week")
    first.get_by_role("button", name="Rule it out").click()
    all_saved(page)
    ruled_out = page.get_by_role("region", name="Ruled out")
    expect(ruled_out).to_contain_text("weighed in last week")
    assert logbook(page)["entries"][-1]["body"] == {"cause": "low_charge", "why": "weighed in last week"}
    ruled_out.get_by_role("button", name="Put it back").click()
    all_saved(page)
    expect(ruled_out).to_have_count(0)


def test_the_next_look_is_answered_on_the_spot_and_becomes_a_sign(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    put(page, *WEAK)
    step(page, "Work out")
    part(page, "Causes")
    look = page.get_by_role("region", name="Look at this next")
    for _ in range(6):
        if look.get_by_role("button", name="No", exact=True).count():
            break
        put(page, *air("return_grille", 25.1, 33))
        part(page, "Causes")
    asked = look.locator("p").first.inner_text()
    questions = look.get_by_role("group")
    count = questions.count()
    note = look.get_by_role("button", name=re.compile("^Note"))
    for at in range(count):
        expect(note).to_have_text(f"Note {at} of {count}")
        questions.nth(at).get_by_role("button", name="No", exact=True).click()
    if count:
        note.click()
    else:
        look.get_by_role("button", name="No", exact=True).click()
    expect(look.get_by_text(asked)).to_have_count(0)
    all_saved(page)
    seen = logbook(page)["entries"][-max(count, 1) :]
    assert {(each["kind"], each["body"]["value"]) for each in seen} == {("observation", "no")}
    assert len({each["body"]["item"] for each in seen}) == max(count, 1)
    asked = look.locator("p").first.inner_text()
    look.get_by_role("button", name="Can't be done here").click()
    expect(look.get_by_text(asked)).to_have_count(0)
    all_saved(page)
    assert logbook(page)["entries"][-1]["body"]["value"] == "cant"


def test_a_heat_pump_that_blows_cold_on_a_cold_day_is_asked_whether_it_defrosts(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page, "Heat pump")
    put(page, *air("return", 20.0, 35), *air("supply", 15.0, 48), *air("outdoor", 2.0, 85), ("return", "airflow", 0.42, "m3/s"))
    step(page, "Work out")
    results = page.get_by_role("complementary", name="Results")
    expect(results.get_by_text(re.compile("^No heat on a cold day: it defrosts"))).to_be_visible()
    part(page, "Causes")
    look = page.get_by_role("region", name="Look at this next")
    expect(look.get_by_text("Stand at the outdoor unit while it runs. Look and listen.")).to_be_visible()
    defrosts = look.get_by_role("group", name=re.compile("^Does it defrost"))
    note = look.get_by_role("button", name=re.compile("^Note"))
    expect(note).to_be_disabled()
    defrosts.get_by_role("button", name="No", exact=True).click()
    defrosts.get_by_role("button", name="Yes", exact=True).click()
    expect(defrosts.get_by_role("button", name="Yes", exact=True)).to_have_attribute("aria-pressed", "true")
    expect(defrosts.get_by_role("button", name="No", exact=True)).to_have_attribute("aria-pressed", "false")
    expect(note).to_have_text(re.compile(r"^Note 1 of \d$"))
    before = len(logbook(page)["entries"])
    note.click()
    expect(results.get_by_role("button", name="Most likely: read while it defrosted")).to_be_visible()
    all_saved(page)
    entries = logbook(page)["entries"]
    assert [each["body"] for each in entries[before:]] == [{"item": "defrosting", "value": "yes"}], "what is left open stays open"
    expect(results.get_by_role("button", name="Most likely: read while it defrosted")).to_be_visible()
    expect(results.get_by_text("Read while it defrosted. Read again ten minutes after that is over.")).to_be_visible()


def test_air_that_gets_warmer_in_a_unit_that_cools_is_asked_for_its_way_and_answered_there(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    put(page, *air("return", 12.0, 93), *air("supply", 25.0, 50), *air("outdoor", 33.0, 40))
    step(page, "Work out")
    part(page, "Causes")
    look = page.get_by_role("region", name="Look at this next")
    expect(look.get_by_text("Look at the arrow on the filter's frame.")).to_be_visible()
    look.get_by_role("button", name="It points the other way").click()
    expect(look.get_by_text("Look at the arrow on the filter's frame.")).to_have_count(0)
    all_saved(page)
    assert logbook(page)["entries"][-1]["body"] == {"item": "filter_arrow", "value": "against"}
    results = page.get_by_role("complementary", name="Results")
    expect(results.get_by_text(re.compile("return and supply are mixed up"))).to_be_visible()
    expect(results.get_by_text(re.compile("^Most likely"))).to_have_count(0)


def test_split_stands_by_three_ways_with_the_four_way_drawing(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    put(page, *WEAK)
    step(page, "Work out")
    part(page, "Split")
    ways = page.get_by_role("region", name="Is this split right?")
    for name in ("Fixed band", "By return humidity", "This unit, now"):
        expect(ways.get_by_text(name)).to_be_visible()
    expect(ways.get_by_role("listitem").filter(has_text="This unit, now")).to_contain_text("used")
    expect(page.get_by_role("img", name="Split against target and cooling against target")).to_be_visible()
    expect(page.get_by_text("Only certified persons connect gauges")).to_be_visible()
    part(page, "Heating")
    expect(page.get_by_text("A carbon monoxide alarm belongs in every home")).to_be_visible()
    expect(page.get_by_role("img", name="Return probe before the filter; supply probe after the coil")).to_be_visible()


def test_the_leak_test_opens_itself_says_what_is_missing_and_gives_both_parts(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    put(
        page,
        *air("return", 28.4, 30),
        *air("return_grille", 25.0, 34),
        *air("supply", 12.0, 80),
        ("return", "airflow", 0.56, "m3/s"),
    )
    step(page, "Work out")
    page.get_by_role("complementary", name="Results").get_by_role("button", name="Return leak suspected").click()
    expect(page.get_by_text("Air around the duct: dry bulb and humidity")).to_be_visible()
    page.get_by_role("main").get_by_role("button", name="Around the duct").click()
    tap(page, "46.5")
    tap(page, "12")
    all_saved(page)
    step(page, "Work out")
    part(page, "Return leak")
    expect(page.get_by_role("heading", name="of the air is leaking in from around the duct")).to_be_visible()
    page.get_by_role("button", name="Note the run").click()
    expect(page.get_by_role("alert").first).to_have_text("Fill this in.")
    for label, value in (("Length of the run", "7"), ("All round it", "1.4"), ("Insulation", "1.06"), ("Floor it serves", "200")):
        page.get_by_label(label).fill(value)
    page.get_by_role("button", name="Note the run").click()
    all_saved(page)
    expect(page.get_by_text("Lost through the duct's wall")).to_be_visible()
    assert logbook(page)["entries"][-1]["body"]["resistance_m2k_per_w"] == pytest.approx(1.06)


def test_pressures_are_read_from_their_part_and_the_filter_is_due(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Work out")
    part(page, "Pressures")
    page.get_by_role("main").get_by_role("button", name="Return static").click()
    page.get_by_test_id("typed").wait_for()
    tap(page, "-24")
    all_saved(page)
    step(page, "Work out")
    part(page, "Pressures")
    page.get_by_role("main").get_by_role("button", name="Static after the filter").click()
    page.get_by_test_id("typed").wait_for()
    tap(page, "-130")
    all_saved(page)
    step(page, "Work out")
    part(page, "Pressures")
    expect(page.get_by_text("Change the filter")).to_have_count(2)
    page.get_by_role("main").get_by_role("listitem").filter(has_text="At rated flow").filter(has_text="Filter").get_by_role(
        "button"
    ).click()
    expect(page.get_by_role("heading", name="Working: Drop over the filter")).to_be_visible()


def test_a_systems_history_says_whether_it_drifts(device: BrowserContext) -> None:
    page = enter(device)
    day = page.evaluate("() => fetch('/api/v1/day').then(answer => answer.json())")
    page.goto(f"/systems/{next(each['id'] for each in day['systems'] if each['name'] == 'Rooftop unit 2')}")
    page.get_by_role("link", name="Over its visits").click()
    expect(page.get_by_role("heading", name="Rooftop unit 2, over its visits")).to_be_visible()
    expect(page.get_by_text("Drifting: cooling against target")).to_be_visible()
    drawing = page.get_by_role("img", name="Cooling against target")
    with_sisters = drawing.locator("rect").count()
    page.get_by_text("With sister systems").click()
    assert drawing.locator("rect").count() < with_sisters
    page.get_by_role("link", name="as found").first.click()
    expect(page.get_by_role("heading", name="Work out")).to_be_visible()


@pytest.mark.parametrize("device", [PHONE], indirect=True)
def test_causes_fit_a_phone(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    put(page, *WEAK)
    page.goto(page.url.split("?")[0] + "?step=work_out&part=causes")
    expect(page.get_by_role("heading", name="Look at this next")).to_be_visible()
    main: Any = page.get_by_role("main")
    assert main.evaluate("main => main.scrollWidth <= main.clientWidth + 1")


def test_a_heating_visit_by_hand_as_found_and_as_left(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Settle")
    page.get_by_role("button", name="It ran already").or_(page.get_by_role("button", name="It starts now")).first.click()
    put(page, *air("return", 20.3, 31), ("supply", "dry_bulb", 64.2, "degC"), ("return", "airflow", 0.47, "m3/s"))
    step(page, "Work out")
    expect(page.get_by_role("main").get_by_text("Temperature rise")).to_be_visible()
    expect(page.get_by_role("main").get_by_text("Heat given to the air")).to_be_visible()
    assert page.get_by_role("tab", name="Split").count() == 0
    step(page, "Set up")
    for label, text in (("What was changed", "Filter"), ("It was", "clogged"), ("It is now", "new"), ("Why", "rise too high")):
        page.get_by_label(label, exact=True).fill(text)
    page.get_by_role("button", name="Write this change down").click()
    all_saved(page)
    step(page, "Prove")
    for station, number in (("Return", "20.4"), ("Supply", "53.9")):
        page.get_by_test_id(f"tag-{station.lower()}").click()
        page.get_by_label(f"Read at {station}", exact=True).wait_for()
        tap(page, number)
        all_saved(page)
    step(page, "Work out")
    compared = page.get_by_role("region", name="As found, as left")
    expect(compared.get_by_text("Filter:")).to_be_visible()
    expect(compared.get_by_role("row").filter(has_text="Temperature rise")).to_contain_text("\N{MINUS SIGN}10.4")
    part(page, "Heating")
    expect(page.get_by_text("the nameplate allows at most")).to_be_visible()


def test_gauges_are_typed_in_their_own_unit(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    put(page, *air("return", 25.2, 40), *air("supply", 12.4, 88), *air("outdoor", 33.5, 20))
    page.goto(page.url.split("?")[0] + "?step=measure&station=suction_line")
    page.get_by_test_id("typed").wait_for()
    tap(page, "12.6")
    tap(page, "790")
    all_saved(page)
    read = [entry["body"] for entry in logbook(page)["entries"] if entry["body"].get("station") == "suction_line"]
    assert [(each["quantity"], each["unit"]) for each in read] == [("pipe_temperature", "degC"), ("gauge_pressure", "kPa")]
    step(page, "Work out")
    part(page, "Split")
    expect(page.get_by_role("button", name="Superheat")).to_be_visible()


@pytest.mark.away
def test_a_cause_ruled_out_without_signal_waits_and_is_kept(device: BrowserContext) -> None:
    page = enter(device)
    page.evaluate("navigator.serviceWorker.ready")
    start_visit(page)
    put(page, *WEAK)
    step(page, "Work out")
    part(page, "Causes")
    page.get_by_role("button", name="It can't be this").wait_for()
    device.set_offline(True)
    page.get_by_role("button", name="It can't be this").click()
    page.get_by_label("Why can't it be this?").fill("seen by eye")
    page.get_by_role("button", name="Rule it out").click()
    expect(page.get_by_test_id("queue-state")).to_have_text("1 waiting")
    device.set_offline(False)
    all_saved(page)
    expect(page.get_by_role("region", name="Ruled out")).to_contain_text("seen by eye")

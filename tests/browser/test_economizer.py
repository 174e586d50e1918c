"""The economizer in the browser: a plan, a test run against the simulated unit, a loop mended, a list refused, the ledger right."""

from __future__ import annotations

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.conftest import all_saved, choose, enter, part, start_visit


def scene(page: Page, **change: object) -> None:
    """What the simulated unit of the open visit plays."""
    page.evaluate(
        """async change => {
            const token = decodeURIComponent(/csrftoken=([^;]+)/.exec(document.cookie)[1]);
            const visit = /visits\\/([^?]+)/.exec(location.pathname)[1];
            const headers = {'content-type': 'application/json', 'X-CSRFToken': token};
            const answer = await fetch(`/api/v1/visits/${visit}/controller/scene`, {method: 'POST', headers, body: JSON.stringify(change)});
            if (!answer.ok) throw new Error(await answer.text());
        }""",
        change,
    )


def rooftop_visit(page: Page, part: str, at: str = "set_up") -> None:
    """A fresh visit to the second rooftop unit, at a part of a step."""
    start_visit(page, "Rooftop unit 2")
    page.goto(f"{page.url.split('?')[0]}?step={at}&part={part}")


def test_a_setting_is_planned_with_its_reason_and_the_map_follows(device: BrowserContext) -> None:
    page = enter(device)
    rooftop_visit(page, "plan")
    expect(page.get_by_text("h a year free cooling").first).to_be_visible()
    page.get_by_role("main").get_by_role("button", name="Minimum position").click()
    form = page.get_by_role("form", name="Set: Minimum position")
    form.get_by_label("Set to").fill("15")
    form.get_by_role("button", name="Write it down").click()
    expect(form.get_by_role("alert")).to_have_text("Say why: a plan without a reason is a guess.")
    form.get_by_label("Why").fill("by the measured share")
    form.get_by_role("button", name="Write it down").click()
    all_saved(page)
    expect(page.get_by_role("main").get_by_role("button", name="Minimum position")).to_contain_text("15 %")
    part(page, "Mode map")
    expect(page.get_by_role("img", name="Modes by outdoor temperature")).to_be_visible()
    part(page, "Points")
    page.locator("input[type=file]").set_input_files(
        {"name": "p.csv", "mimeType": "text/csv", "buffer": b"terminal,label\nA,B\n"}
    )
    expect(page.get_by_role("alert")).to_contain_text("The list lacks the columns: name, place.")


@pytest.mark.away
def test_a_mis_tied_loop_is_found_mended_and_proved(device: BrowserContext) -> None:
    page = enter(device)
    rooftop_visit(page, "controller")
    scene(page, preset="low_limit_tied", speed=60)
    page.get_by_role("button", name="Save as found").click()
    expect(page.get_by_text("Revision 0")).to_be_visible()
    page.goto(page.url.split("?")[0] + "?step=prove&part=tests")
    tests = page.get_by_role("list", name="Tests")
    tests.get_by_role("button", name="Cold outside, mild mixed air").click()
    page.get_by_role("button", name="Run it at the controller").click()
    expect(page.get_by_role("figure", name="Damper, compressor, outdoor share over time")).to_be_visible()
    expect(page.get_by_test_id("open-changes")).not_to_have_text("0")
    expect(page.get_by_text("Low limit reads the outdoor sensor").first).to_be_visible()
    expect(page.get_by_test_id("open-changes")).to_have_text("0")
    page.goto(page.url.split("?")[0] + "?step=set_up&part=controller")
    choose(page, "Mixed-air low limit reads", "mixed air")
    page.get_by_label("Why").fill("it read the outdoor air")
    page.get_by_role("button", name="Load this change").click()
    expect(page.get_by_text("Mixed-air low limit reads: was outdoor air, now mixed air")).to_be_visible()
    page.goto(page.url.split("?")[0] + "?step=prove&part=tests")
    tests.get_by_role("button", name="Cold outside, mild mixed air").click()
    expect(page.get_by_role("button", name="As left", pressed=True)).to_be_visible()
    page.get_by_role("button", name="Run it at the controller").click()
    expect(tests.get_by_role("button", name="Cold outside, mild mixed air")).to_contain_text("As expected")


def test_a_silent_controller_is_said_and_the_ledger_keeps_what_it_held(device: BrowserContext) -> None:
    page = enter(device)
    rooftop_visit(page, "controller")
    scene(page, preset="sound", speed=60)
    page.get_by_role("listitem").filter(has_text="Fan").get_by_role("button", name="Override").click()
    form = page.get_by_role("form", name="Override Fan")
    form.get_by_label("Hold fan at").fill("400")
    form.get_by_role("button", name="Hold it").click()
    expect(form.get_by_role("alert")).to_have_text("Between 0 % and 100 %.")
    form.get_by_label("Hold fan at").fill("100")
    form.get_by_role("button", name="Hold it").click()
    expect(page.get_by_test_id("open-changes")).to_have_text("1")
    scene(page, reachable=False)
    page.keyboard.press("t")
    page.get_by_role("button", name="Release all at the controller").click()
    expect(page.get_by_role("alert")).to_contain_text("does not answer")
    expect(page.get_by_role("list", name="Open temporary changes")).to_contain_text("Fan held at 100 %")
    scene(page, reachable=True)
    page.get_by_role("button", name="Release all at the controller").click()
    expect(page.get_by_text("The controller confirms: it holds nothing any more.")).to_be_visible()
    expect(page.get_by_test_id("open-changes")).to_have_text("0")


def test_blades_that_do_not_follow_are_told_by_the_probe_shut_and_open(device: BrowserContext) -> None:
    page = enter(device)
    rooftop_visit(page, "points")
    scene(page, preset="loose_blades", speed=60)
    for condition in ("Damper shut", "Damper open"):
        page.get_by_text(condition, exact=True).click()
        page.get_by_role("button", name="Read all sensors and a simulated probe now").click()
        expect(page.get_by_text(condition.lower()).first).to_be_visible()
        all_saved(page)
    expect(page.get_by_text("the mixed air stayed as it was")).to_be_visible()
    page.goto(page.url.split("?")[0] + "?step=prove&part=tests")
    expect(page.get_by_text("Mixed air by the probe, damper shut and open").first).to_be_visible()

"""Ways through the interface: Back, keys, small screens, paper. What one does without looking must do what one expects."""

from __future__ import annotations

import re
from typing import Any

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.conftest import PHONE, all_saved, enter, start_visit, step, type_in, values
from tests.browser.test_access import for_

LANDSCAPE = {"width": 844, "height": 390}
TWICE_AS_LARGE = {"width": 640, "height": 400}
SMALLEST = {"width": 360, "height": 740}


def pad(page: Page) -> Any:
    return page.get_by_role("region", name=re.compile("^Read at"))


def test_back_closes_what_was_opened_step_by_step(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Measure")
    page.get_by_test_id("tag-return").click()
    page.get_by_test_id("tag-supply").click()
    expect(pad(page)).to_contain_text("Supply")
    page.go_back()
    expect(pad(page)).to_have_count(0)
    expect(page.get_by_role("heading", name="Measure", level=1)).to_be_visible()
    page.go_forward()
    expect(pad(page)).to_contain_text("Supply")
    page.keyboard.press("Escape")
    expect(pad(page)).to_have_count(0)
    page.get_by_role("button", name="Logger file").click()
    page.go_back()
    expect(page.get_by_role("heading", name="Measure", level=1)).to_be_visible()
    page.go_back()
    expect(page.get_by_role("heading", name="Arrive", level=1)).to_be_visible()


def test_after_escape_keys_go_on_and_every_page_says_where_one_is(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Measure")
    expect(page).to_have_title(re.compile("^Measure, Furnace and coil, "))
    page.get_by_test_id("tag-return").click()
    expect(page).to_have_title(re.compile("^Return, Measure, "))
    expect(page.locator("h1")).to_have_text("Return, point 1")
    page.keyboard.press("Escape")
    expect(page.locator("main")).to_be_focused()
    page.keyboard.press("r")
    type_in(page, "25")
    all_saved(page)
    assert values(page) == [25]


def test_the_first_tab_skips_to_the_work(device: BrowserContext) -> None:
    page = enter(device)
    page.goto("/instruments")
    page.get_by_role("heading", name="Instruments and probes").wait_for()
    page.keyboard.press("Tab")
    skip = page.get_by_role("button", name="Skip to the work")
    expect(skip).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.locator("main")).to_be_focused()


def test_the_air_path_folds_when_the_bench_is_scrolled_and_comes_back_at_a_touch(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    step(page, "Trace")
    path = page.get_by_role("region", name="Air path")
    whole = path.bounding_box()
    assert whole is not None
    page.locator("main").evaluate("main => main.scrollTo(0, 300)")
    show = page.get_by_role("button", name="Show the whole air path")
    expect(show).to_be_visible()
    folded = path.bounding_box()
    assert folded is not None
    assert folded["height"] < 64 < whole["height"]
    expect(page.get_by_test_id("tag-supply")).to_be_visible()
    show.click()
    expect(show).to_have_count(0)
    page.locator("main").evaluate("main => main.scrollTo(0, 320)")
    page.wait_for_timeout(200)
    expect(show).to_have_count(0)
    page.locator("main").evaluate("main => main.scrollTo(0, 0)")
    page.wait_for_timeout(100)
    page.locator("main").evaluate("main => main.scrollTo(0, 300)")
    expect(show).to_be_visible()


def test_what_stood_under_the_finger_stays_there_when_the_air_path_folds(device: BrowserContext) -> None:
    """Right down at the bench's end too, where the browser moves a bench that grew by itself."""
    page = enter(device)
    start_visit(page)
    show = page.get_by_role("button", name="Show the whole air path")
    before, room = page.locator("main").evaluate(
        """main => {
            const button = [...main.querySelectorAll('button')].find(each => each.textContent.includes('Read the nameplate'));
            main.scrollTo(0, 1e6);
            return [button.getBoundingClientRect().y, main.scrollHeight - main.clientHeight];
        }"""
    )
    assert room > 250
    expect(show).to_be_visible()
    after = page.get_by_role("button", name="Read the nameplate").bounding_box()
    assert after is not None
    assert abs(after["y"] - before) < 2


@pytest.mark.parametrize("device", [LANDSCAPE, TWICE_AS_LARGE], indirect=True)
def test_take_is_in_reach_on_its_side_and_at_twice_the_size(device: BrowserContext) -> None:
    page = enter(device)
    start_visit(page)
    page.goto(page.url.split("?")[0] + "?step=measure&station=supply")
    page.get_by_role("button", name="Take", exact=True).wait_for()
    page.wait_for_function(
        """() => {
          const named = name => [...document.querySelectorAll('button')].find(each => each.textContent.trim() === name);
          const place = each => each.getBoundingClientRect();
          const bar = [...document.querySelectorAll('button')].find(each => each.getAttribute('aria-label') === 'Steps') ?? named('Steps');
          const take = place(named('Take')), typed = place(document.querySelector('[data-testid=typed]'));
          return take.y >= 48 && take.bottom <= place(bar).y && typed.bottom <= place(bar).y;
        }""",
    )


@pytest.mark.parametrize("device", [SMALLEST], indirect=True)
def test_nothing_goes_sideways_and_letters_in_drawings_can_be_read_at_360_px(device: BrowserContext) -> None:
    page = enter(device)
    day = page.request.get("/api/v1/day").json()
    shown = next(each["id"] for each in day["open"] if each["system"]["kind"] == "furnace_with_coil" and each["numbers"])
    roof = next(each["id"] for each in day["open"] if each["system"]["kind"] == "packaged_rooftop")
    steps = [
        f"/visits/{shown}?step={name}" for name in ("arrive", "trace", "settle", "measure", "work_out", "set_up", "hand_over")
    ]
    parts = [f"/visits/{shown}?step=work_out&part={name}" for name in ("cooling", "statics", "heating", "leakage", "causes")]
    more = ["/", "/instruments", "/systems/new", f"/visits/{shown}?step=measure&station=return", f"/visits/{shown}?tool=right"]
    ducts = for_(page, "Furnace and coil", "never cools")
    pages = [f"/visits/{ducts}?step=set_up&part={name}" for name in ("ducts", "balance", "zones", "hardware")]
    proof = f"/visits/{ducts}?step=prove&part=zone_proof"
    for path in [*more, *steps, *parts, *pages, proof, f"/visits/{roof}?step=set_up&part=map"]:
        page.goto(path)
        page.locator("h1").first.wait_for()
        page.wait_for_timeout(350)
        seen = page.evaluate(
            """() => ({
              page: document.documentElement.scrollWidth,
              main: document.querySelector('main').scrollWidth - document.querySelector('main').clientWidth,
              headings: document.querySelectorAll('h1').length,
              letters: Math.min(99, ...[...document.querySelectorAll('main svg text')]
                .filter(each => each.getBoundingClientRect().width > 0)
                .map(each => [each.getScreenCTM(), parseFloat(getComputedStyle(each).fontSize)])
                .map(([at, size]) => at ? Math.hypot(at.a, at.b) * size : 99)),
            })"""
        )
        assert seen["page"] <= 360, path
        assert seen["main"] <= 0, path
        assert seen["headings"] == 1, path
        assert seen["letters"] >= 10.9, path


@pytest.mark.parametrize("device", [PHONE], indirect=True)
def test_a_first_reading_takes_at_most_eight_taps_on_a_phone(device: BrowserContext) -> None:
    page = enter(device)
    page.get_by_role("button", name="Furnace and coil").click()
    page.get_by_role("button", name="Start visit here").or_(page.get_by_role("button", name="Start another visit")).click()
    page.get_by_role("heading", name="Arrive", level=1).wait_for()
    page.get_by_role("main").get_by_role("button", name="Return", exact=True).click()
    for key in ("2", "5"):
        page.get_by_role("button", name=key, exact=True).click()
    page.get_by_role("button", name="Take", exact=True).click()
    all_saved(page)
    assert values(page) == [25], "four taps besides the digits"


def test_a_page_on_paper_is_whole_and_has_nothing_to_press(device: BrowserContext) -> None:
    page = enter(device)
    day = page.request.get("/api/v1/day").json()
    shown = next(each["id"] for each in day["open"] if each["system"]["kind"] == "furnace_with_coil" and each["numbers"])
    page.goto(f"/visits/{shown}?step=work_out")
    page.get_by_role("heading", name="Work out", level=1).wait_for()
    page.emulate_media(media="print")
    main = page.locator("main")
    assert main.evaluate("main => main.scrollHeight - main.clientHeight") <= 1, "nothing is cut off"
    assert page.evaluate("document.documentElement.scrollHeight") > 1_000
    expect(page.get_by_role("button", name="Keep")).to_have_count(0)
    expect(page.get_by_role("banner")).to_be_hidden()
    box = main.bounding_box()
    assert box is not None
    assert box["width"] > 600, "as wide as the paper"

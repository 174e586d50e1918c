"""Drives the demo in Debian's Chromium and keeps one picture of each main view. Called by bin/screenshots."""

from __future__ import annotations

import re
import sys
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, Page, sync_playwright

PLACE = Path(__file__).resolve().parents[1] / "docs" / "screenshots"
TABLET = {"width": 1280, "height": 800}
PHONE = {"width": 390, "height": 844}


class Camera:
    """One browser; each view gets a context of its own, so that theme and units do not leak."""

    def __init__(self, browser: Browser, base: str) -> None:
        self.browser = browser
        self.base = base

    def enter(self, size: dict[str, int], *, theme: str = "roof", units: str = "US", who: str = "Oona Lindahl") -> Page:
        """A page signed in as one of the demo's people."""
        context = self.browser.new_context(viewport=size, has_touch=size is PHONE, reduced_motion="reduce")
        context.add_init_script(
            f"localStorage.setItem('fentro.theme', '{theme}'); localStorage.setItem('fentro.units', '{units}')"
        )
        page = context.new_page()
        page.goto(self.base)
        page.get_by_role("button", name=who).click()
        page.get_by_role("heading", name="Open visits").wait_for()
        return page

    def keep(self, page: Page, name: str) -> None:
        """Wait until nothing moves, and keep the picture."""
        page.wait_for_load_state("load")
        page.wait_for_timeout(1_200)
        page.evaluate("document.fonts.ready")
        page.screenshot(path=PLACE / f"{name}.png")
        page.context.close()


def asked(page: Page, path: str) -> Any:
    """What the interface's own call answers."""
    return page.evaluate("path => fetch(path).then(answer => answer.json())", path)


def system_named(page: Page, name: str) -> str:
    """The id of a system of the demo."""
    return str(next(each["id"] for each in asked(page, "/api/v1/day")["systems"] if each["name"] == name))


def visit_for(page: Page, system: str, purpose: str) -> str:
    """The id of a system's visit by the words of its purpose."""
    visits = asked(page, f"/api/v1/systems/{system_named(page, system)}")["visits"]
    return str(next(each["id"] for each in visits if purpose in each["purpose"]))


def measured_live(camera: Camera) -> None:
    """A visit begun with live probes. Time runs fast meanwhile."""
    page = camera.enter(TABLET)
    page.evaluate(
        """async given => {
            const token = decodeURIComponent(/csrftoken=([^;]+)/.exec(document.cookie)[1]);
            const headers = {"content-type": "application/json", "X-CSRFToken": token};
            await fetch("/api/v1/probes/scene", {method: "POST", headers, body: JSON.stringify(given)});
        }""",
        {"scenario": "ordinary", "seed": 3, "speed": 60},
    )
    page.get_by_role("button", name="Furnace and coil").click()
    page.get_by_role("button", name="Start another visit").click()
    page.get_by_role("heading", name="Arrive", exact=True).wait_for()
    base = page.url.split("?")[0]
    page.goto(f"{base}?step=trace")
    page.get_by_role("button", name="The arrow agrees").click()
    page.get_by_test_id("queue-state").filter(has_text="All saved").wait_for()
    page.goto(f"{base}?step=settle")
    for probe, station in (("TH-2041", "Return"), ("TH-2042", "Supply"), ("TH-2060", "Outdoor"), ("MN-508", "Supply static")):
        line = page.get_by_role("listitem").filter(has_text=probe)
        line.get_by_role("button", name="Assign to").click()
        page.get_by_role("option", name=station, exact=True).click()
    page.get_by_role("button", name="It starts now").click()
    page.wait_for_timeout(9_000)
    page.goto(f"{base}?step=measure&station=supply")
    page.get_by_role("button", name="Hold these values").wait_for()
    page.wait_for_timeout(2_000)
    snap(page, "measure-live")
    page.goto(f"{base}?step=hand_over")
    page.context.close()


def economizer(camera: Camera, damp: str) -> None:
    """The plan, a test while it runs."""
    page = camera.enter(TABLET)
    page.goto(f"{camera.base}/visits/{damp}?step=set_up&part=plan")
    page.get_by_role("tablist", name="Parts of Set up").evaluate("parts => parts.scrollIntoView()")
    camera.keep(page, "economizer-plan")
    page = camera.enter(TABLET)
    page.goto(f"{camera.base}/visits/{damp}?step=prove&part=tests")
    page.get_by_role("list", name="Tests").get_by_role("button", name="Mixed air made cold").click()
    page.get_by_role("button", name="Run it at the controller").click()
    page.get_by_text("Watching", exact=False).wait_for()
    page.wait_for_timeout(14_000)
    page.get_by_text("Watching", exact=False).evaluate("words => words.scrollIntoView()")
    snap(page, "running-test")
    page.get_by_role("button", name="Stop and release").click()
    page.wait_for_timeout(3_000)
    page.context.close()


def ducts(camera: Camera, uneven: str) -> None:
    """The tree, the balance plan, the combinations of zones."""
    for name, part, place in (
        ("ducts", "ducts", "Duct tree"),
        ("balance", "balance", "Turn now"),
        ("zones", "zones", "All|of .* combinations"),
    ):
        page = camera.enter(TABLET)
        page.goto(f"{camera.base}/visits/{uneven}?step=set_up&part={part}")
        there = page.get_by_role("region", name=re.compile(place)).first
        there.wait_for()
        there.evaluate("part => part.scrollIntoView()")
        camera.keep(page, name)


def dwelling(camera: Camera) -> None:
    """Fresh air with a wrong setting and its year; tonight's plan on a phone."""
    page = camera.enter(TABLET)
    stuffy = visit_for(page, "Fresh-air ventilator", "stuffy")
    page.goto(f"{camera.base}/visits/{stuffy}?step=set_up&part=fresh_air")
    page.get_by_text("Best pair here").wait_for()
    page.get_by_role("region", name="Lockouts over a year").evaluate("part => part.scrollIntoView()")
    camera.keep(page, "fresh-air")
    page = camera.enter(PHONE)
    noon = visit_for(page, "Heat pump", "noon to midnight")
    page.goto(f"{camera.base}/visits/{noon}?step=set_up&part=tonight")
    page.get_by_text("Open the damper").wait_for()
    page.get_by_text("Open the damper").evaluate("part => part.scrollIntoView()")
    camera.keep(page, "phone-tonight")


def record(camera: Camera, leaky: str, filters: str) -> None:
    """A signed report, one that a lead is to countersign (on a phone), and what a word finds."""
    page = camera.enter(TABLET)
    page.goto(f"{camera.base}/visits/{leaky}/report")
    page.frame_locator("iframe").get_by_text("What was asked").wait_for()
    camera.keep(page, "report")
    page = camera.enter(PHONE, who="Tova Brandt")
    page.goto(f"{camera.base}/visits/{filters}/report")
    page.frame_locator("iframe").get_by_text("What was asked").wait_for()
    form = page.get_by_role("form", name="Countersign as lead")
    form.scroll_into_view_if_needed()
    box = form.get_by_role("img").bounding_box()
    if box:
        page.mouse.move(box["x"] + 60, box["y"] + 60)
        page.mouse.down()
        for across, down in ((80, 25), (95, 70), (120, 30), (140, 66), (165, 40), (190, 62), (230, 48)):
            page.mouse.move(box["x"] + across, box["y"] + down, steps=4)
        page.mouse.up()
    camera.keep(page, "phone-sign-off")
    page = camera.enter(TABLET)
    page.goto(f"{camera.base}/search?words=damp")
    page.get_by_role("heading", name="Visits").wait_for()
    camera.keep(page, "search")


def snap(page: Page, name: str) -> None:
    """A picture of a page that goes on living."""
    page.evaluate("document.fonts.ready")
    page.screenshot(path=PLACE / f"{name}.png")


def take_all(camera: Camera) -> None:
    """Every main view once."""
    camera.keep(camera.enter(TABLET), "day-sheet")

    page = camera.enter(TABLET)
    sister = system_named(page, "Rooftop unit 2")
    damp, filters, hall = (visit_for(page, "Rooftop unit 1", words) for words in ("still damp", "warm and damp", "full airflow"))
    weak, leaky, uneven = (
        visit_for(page, "Furnace and coil", words) for words in ("Shop and bindery", "Bindery hot", "Office never cools")
    )
    page = camera.enter(TABLET)
    page.goto(f"{camera.base}/systems/{sister}/history")
    page.get_by_role("heading", name="Visit by visit").wait_for()
    camera.keep(page, "history")

    views: tuple[tuple[str, dict[str, Any], str], ...] = (
        ("visit-roof", {}, f"/visits/{filters}?step=work_out&phase=as_left"),
        ("causes", {}, f"/visits/{weak}?step=work_out&part=causes"),
        ("return-leak", {"theme": "attic", "units": "SI"}, f"/visits/{leaky}?step=work_out&part=leakage&phase=as_found"),
    )
    for name, look, path in views:
        page = camera.enter(TABLET, **look)
        page.goto(camera.base + path)
        page.get_by_role("heading", name="Results").wait_for()
        camera.keep(page, name)

    page = camera.enter(TABLET, units="SI")
    page.goto(f"{camera.base}/visits/{hall}?step=work_out&part=moisture&phase=as_found")
    page.get_by_role("heading", name="How to dry this room").evaluate("heading => heading.scrollIntoView()")
    page.get_by_role("figure").filter(has_text="Bypass and reheat").wait_for()
    camera.keep(page, "moisture")

    measured_live(camera)

    page = camera.enter(TABLET)
    page.goto(f"{camera.base}/visits/{filters}?step=work_out&phase=as_left")
    page.get_by_role("heading", name="Air states on the chart").wait_for()
    page.locator("svg[role=application] circle").first.wait_for()
    page.get_by_role("heading", name="Air states on the chart").evaluate("heading => heading.scrollIntoView()")
    camera.keep(page, "chart")

    economizer(camera, damp)
    ducts(camera, uneven)

    dwelling(camera)
    record(camera, leaky, filters)

    page = camera.enter(PHONE)
    page.goto(f"{camera.base}/visits/{damp}?step=measure&station=supply")
    page.get_by_role("button", name="Results").wait_for()
    camera.keep(page, "phone-reading")


def main() -> int:
    """``pictures.py BASE_URL CHROMIUM``"""
    base, chromium = sys.argv[1:3]
    PLACE.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium, args=["--no-sandbox", "--disable-gpu"])
        take_all(Camera(browser, base))
        browser.close()
    return 0


if __name__ == "__main__":
    raise SystemExit(main())

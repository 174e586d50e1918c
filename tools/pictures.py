"""Drives the demo in Debian's Chromium and keeps one picture of each main view. Called by bin/screenshots."""

from __future__ import annotations

import sys
from collections.abc import Callable
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

    def enter(self, size: dict[str, int], *, theme: str = "roof", units: str = "US") -> Page:
        """A page signed in as the demo's first technician."""
        context = self.browser.new_context(viewport=size, has_touch=size is PHONE, reduced_motion="reduce")
        context.add_init_script(
            f"localStorage.setItem('fentro.theme', '{theme}'); localStorage.setItem('fentro.units', '{units}')"
        )
        page = context.new_page()
        page.goto(self.base)
        page.get_by_role("button", name="Oona Lindahl").click()
        page.get_by_role("heading", name="Open visits").wait_for()
        return page

    def keep(self, page: Page, name: str) -> None:
        """Wait until nothing moves, and keep the picture."""
        page.wait_for_load_state("networkidle")
        page.evaluate("document.fonts.ready")
        page.screenshot(path=PLACE / f"{name}.png")
        page.context.close()


def visits_of(page: Page, kind: str) -> list[dict[str, Any]]:
    """The visits of the demo's system of a kind, newest first, by the interface's own calls."""
    ask: Callable[[str], Any] = lambda path: page.evaluate("path => fetch(path).then(answer => answer.json())", path)  # noqa: E731
    system = next(each for each in ask("/api/v1/day")["systems"] if each["kind"] == kind)
    return ask(f"/api/v1/systems/{system['id']}")["visits"]


def take_all(camera: Camera) -> None:
    """Every main view once."""
    page = camera.browser.new_page(viewport=TABLET)
    page.goto(camera.base)
    page.get_by_role("button", name="Oona Lindahl").wait_for()
    camera.keep(page, "sign-in")

    camera.keep(camera.enter(TABLET), "day-sheet")

    page = camera.enter(TABLET)
    system = visits_of(page, "furnace_with_coil")[0]["system"]["id"]
    rooftop = [visit["id"] for visit in visits_of(page, "packaged_rooftop")]
    furnace = [visit["id"] for visit in visits_of(page, "furnace_with_coil")]
    ventilator = visits_of(page, "dwelling_ventilator")[0]["id"]
    page.goto(f"{camera.base}/systems/{system}")
    page.get_by_role("heading", name="Nameplate").wait_for()
    camera.keep(page, "system-page")

    views: tuple[tuple[str, dict[str, Any], str], ...] = (
        ("visit-roof", {}, f"/visits/{rooftop[1]}?step=work_out&phase=as_left"),
        ("visit-attic", {"theme": "attic", "units": "SI"}, f"/visits/{furnace[1]}?step=work_out&phase=as_found"),
        ("visit-ventilator", {}, f"/visits/{ventilator}?step=measure"),
        ("reading-pad", {}, f"/visits/{rooftop[0]}?step=measure&station=mixed"),
        ("working", {}, f"/visits/{rooftop[2]}?step=work_out&working=total"),
    )
    for name, look, path in views:
        page = camera.enter(TABLET, **look)
        page.goto(camera.base + path)
        page.get_by_role("heading", name="What stands").wait_for()
        camera.keep(page, name)

    for name, path in (
        ("phone-reading", f"/visits/{rooftop[0]}?step=measure&station=supply"),
        ("phone-work-out", f"/visits/{rooftop[2]}?step=work_out"),
    ):
        page = camera.enter(PHONE)
        page.goto(camera.base + path)
        page.get_by_role("button", name="Verdicts").wait_for()
        camera.keep(page, name)


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

"""Drives the demo in Debian's Chromium and keeps one picture of each main view. Called by bin/screenshots."""

from __future__ import annotations

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
    """A visit begun with live probes: tracing, measuring, a traverse, a logger file. Time runs fast meanwhile."""
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
    page.mouse.move(640, 790)
    snap(page, "trace")
    page.goto(f"{base}?step=settle")
    for probe, station in (("TH-2041", "Return"), ("TH-2042", "Supply"), ("TH-2060", "Outdoor"), ("MN-508", "Supply static")):
        line = page.get_by_role("listitem").filter(has_text=probe)
        line.get_by_label("Where it hangs").select_option(label=station)
    page.get_by_role("button", name="It starts now").click()
    page.wait_for_timeout(9_000)
    page.goto(f"{base}?step=measure&station=supply")
    page.get_by_role("button", name="Hold these values").wait_for()
    page.wait_for_timeout(2_000)
    snap(page, "measure-live")
    page.goto(f"{base}?step=measure&station=supply_traverse")
    for label, value in (("Width inside", "20"), ("Height inside", "12"), ("Wall the probe", "1"), ("Straight duct before", "4")):
        page.get_by_label(label).fill(value)
    page.get_by_role("button", name="Show where to hold the probe").click()
    page.get_by_text("point 1 of 25").wait_for()
    for velocity in ("690", "815", "850", "810", "700", "725", "845", "880"):
        page.keyboard.type(velocity)
        page.keyboard.press("Enter")
    page.get_by_text("Average of 8").wait_for()
    page.wait_for_timeout(800)
    snap(page, "traverse")
    page.goto(f"{base}?step=measure&tool=file")
    rows = [f"31.07.2026 10:{n // 60:02d}:{n % 60:02d};{24 + n % 10 / 10:.1f};13,{n % 7};{86 + n % 3};3,1" for n in range(900)]
    rows[5] = "31.07.2026 10:00:05;--;13,1;86;3,1"
    text = "\n".join(
        ["Time;Return temp (°C);Supply temp (°C);Supply RH (%);Battery", *(row.replace(" 24.", " 24,") for row in rows)]
    )
    file = {"name": "roof-logger.csv", "mimeType": "text/csv", "buffer": text.encode("utf-8-sig")}
    page.locator("input[type=file]").set_input_files(files=[file])
    page.get_by_role("button", name="Check the file").click()
    page.get_by_text("899 good lines, 1 bad").wait_for()
    page.get_by_role("main").evaluate("main => main.scrollTo(0, 250)")
    snap(page, "logger-file")
    page.goto(f"{base}?step=hand_over")
    page.context.close()


def snap(page: Page, name: str) -> None:
    """A picture of a page that goes on living."""
    page.evaluate("document.fonts.ready")
    page.screenshot(path=PLACE / f"{name}.png")


def take_all(camera: Camera) -> None:
    """Every main view once."""
    camera.keep(camera.enter(TABLET), "day-sheet")

    page = camera.enter(TABLET)
    system, sister = system_named(page, "Furnace and coil"), system_named(page, "Rooftop unit 2")
    damp, filters = (visit_for(page, "Rooftop unit 1", words) for words in ("still damp", "warm and damp"))
    weak, leaky, winter = (
        visit_for(page, "Furnace and coil", words) for words in ("Shop and bindery", "Bindery hot", "slow to warm")
    )
    ventilator = visit_for(page, "Fresh-air ventilator", "First")
    page.goto(f"{camera.base}/systems/{system}")
    page.get_by_role("heading", name="Nameplate").wait_for()
    camera.keep(page, "system-page")

    page = camera.enter(TABLET)
    page.goto(f"{camera.base}/systems/{sister}/history")
    page.get_by_role("heading", name="Visit by visit").wait_for()
    camera.keep(page, "history")

    views: tuple[tuple[str, dict[str, Any], str], ...] = (
        ("visit-roof", {}, f"/visits/{filters}?step=work_out&phase=as_left"),
        ("causes", {}, f"/visits/{weak}?step=work_out&part=causes"),
        ("split", {}, f"/visits/{weak}?step=work_out&part=split"),
        ("heating", {}, f"/visits/{winter}?step=work_out&part=heating&phase=as_found"),
        ("return-leak", {"theme": "attic", "units": "SI"}, f"/visits/{leaky}?step=work_out&part=leak&phase=as_found"),
        ("visit-ventilator", {}, f"/visits/{ventilator}?step=measure"),
        ("reading-pad", {}, f"/visits/{damp}?step=measure&station=mixed"),
        ("working", {}, f"/visits/{weak}?step=work_out&working=total"),
    )
    for name, look, path in views:
        page = camera.enter(TABLET, **look)
        page.goto(camera.base + path)
        page.get_by_role("heading", name="What stands").wait_for()
        camera.keep(page, name)

    measured_live(camera)

    page = camera.enter(TABLET)
    page.goto(f"{camera.base}/visits/{filters}?step=work_out&phase=as_left")
    page.get_by_role("heading", name="Air states on the chart").wait_for()
    page.locator("svg[role=application] circle").first.wait_for()
    page.get_by_role("heading", name="Air states on the chart").evaluate("heading => heading.scrollIntoView()")
    camera.keep(page, "chart")

    page = camera.enter(TABLET)
    page.goto(f"{camera.base}/instruments")
    page.get_by_text("These probes are simulated").wait_for()
    camera.keep(page, "instruments")

    for name, path in (
        ("phone-reading", f"/visits/{damp}?step=measure&station=supply"),
        ("phone-work-out", f"/visits/{weak}?step=work_out&part=causes"),
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

"""The interface: what the first load weighs, and how soon a typed digit shows what follows from it."""

from __future__ import annotations

import gzip
import os
import re
from collections.abc import Iterator

from playwright.sync_api import Page, sync_playwright

from bench.report import Row
from tools import children, serving
from tools.postgres import Cluster
from tools.setup import DATA, WEB, chromium

FIRST_LOAD_BYTES = 300_000
DIGIT_MS = 100.0

MEASURE = """
() => new Promise(done => {
  const place = document.querySelector('[data-testid=derived-enthalpy_j_per_kg]');
  const begun = performance.now();
  const before = place.textContent;
  const watch = () => {
    const changed = place.textContent !== before && place.textContent !== '…';
    if (changed || performance.now() - begun > 2000) done(performance.now() - begun);
    else requestAnimationFrame(watch);
  };
  document.body.dispatchEvent(new KeyboardEvent('keydown', { key: KEY, bubbles: true, cancelable: true }));
  requestAnimationFrame(watch);
})
"""


def rows() -> Iterator[Row]:
    """All rows of the interface."""
    page = (WEB / "dist" / "index.html").read_text()
    named = re.findall(r"/assets/[\w.-]+\.(?:js|css)", page)
    weight = sum(len(gzip.compress((WEB / "dist" / name.lstrip("/")).read_bytes())) for name in named)
    yield Row("first load, script and style, gzip", weight / FIRST_LOAD_BYTES, 1.0, f"{weight / 1000:.0f} kB of 300 kB")
    with Cluster(f"bench-{os.getpid()}", throwaway=True) as cluster:
        environment = serving.demo_environment(cluster)
        serving.manage(environment, "migrate", "-v", "0")
        serving.manage(environment, "load_demo")
        port = serving.free_port()
        server = serving.start_server(environment, port, DATA / "bench-server.log")
        try:
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(executable_path=chromium(), args=["--no-sandbox", "--disable-gpu"])
                taken = sorted(_digits(browser.new_page(base_url=f"http://127.0.0.1:{port}")))
                browser.close()
        finally:
            children.end(server)
    late = taken[int(0.95 * len(taken))]
    yield Row("typed digit to what follows from it, 95th percentile", late / DIGIT_MS, 1.0, f"{late:.0f} ms of 100 ms")


def _digits(page: Page) -> list[float]:
    page.goto("/")
    page.get_by_role("button", name="Oona Lindahl").click()
    page.get_by_role("link", name=re.compile("Rooftop unit 1")).first.click()
    page.get_by_role("heading", name="What stands").wait_for()
    page.keyboard.press("r")
    page.get_by_test_id("typed").wait_for()
    for key in ("5", "7", "Enter", "9"):
        page.keyboard.press(key)
    page.get_by_test_id("derived-enthalpy_j_per_kg").filter(has_text="Btu").wait_for()
    times = []
    for number in range(40):
        key = "Backspace" if number % 2 else str(1 + number // 2 % 9)
        times.append(float(page.evaluate(MEASURE.replace("KEY", repr(key)))))
    return times

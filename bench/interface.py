"""The interface: what the first load weighs, and how soon a typed digit shows what follows from it."""

from __future__ import annotations

import gzip
import os
import re
from collections.abc import Iterator

from playwright.sync_api import BrowserContext, Page, sync_playwright

from bench.report import Row
from tools import children, serving
from tools.postgres import Cluster
from tools.setup import DATA, WEB, chromium
from tools.standins import Devices

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


def _chunks(name: str) -> list[str]:
    """Files of a page that is loaded when it is opened."""
    files = (WEB / "dist" / "assets").glob(f"{name}-*")
    return [f"/assets/{each.name}" for each in files if each.suffix in (".js", ".css")]


def _with_imports(names: list[str]) -> set[str]:
    """These files and all that they need before they run."""
    found: set[str] = set()
    left = list(names)
    while left:
        name = left.pop()
        if name not in found:
            found.add(name)
            if name.endswith(".js"):
                text = (WEB / "dist" / name.lstrip("/")).read_text()
                left += [f"/assets/{each}" for each in re.findall(r'(?:from|import)\s*"\./([\w.-]+\.js)"', text)]
    return found


def _zipped(name: str) -> int:
    return len(gzip.compress((WEB / "dist" / name.lstrip("/")).read_bytes()))


def rows() -> Iterator[Row]:
    """All rows of the interface."""
    page = (WEB / "dist" / "index.html").read_text()
    named = re.findall(r"/assets/[\w.-]+\.(?:js|css)", page)
    for what, chunk in (("first load: the day sheet", "DaySheet"), ("opening a visit, from nothing", "VisitPage")):
        weight = sum(_zipped(name) for name in _with_imports([*named, *_chunks(chunk)]))
        yield Row(f"{what}, script and style", weight / FIRST_LOAD_BYTES, 1.0, f"{weight / 1000:.0f} kB of 300 kB, gzip")
    with Cluster(f"bench-{os.getpid()}", throwaway=True) as cluster:
        environment = serving.demo_environment(cluster)
        serving.bring_up_to_date(cluster, environment)
        port = serving.free_port()
        devices = Devices(DATA, "bench-")
        environment |= devices.environment
        serving.manage(environment, "load_demo")
        devices.start()
        server = serving.start_server(environment, port, DATA / "bench-server.log")
        try:
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(executable_path=chromium(), args=["--no-sandbox", "--disable-gpu"])
                taken = sorted(_digits(browser.new_page(base_url=f"http://127.0.0.1:{port}")))
                moved = sorted(_moved(browser.new_page(base_url=f"http://127.0.0.1:{port}")))
                still, frames = _frames(browser.new_page(base_url=f"http://127.0.0.1:{port}"))
                ready, judged = _device(browser.new_context(base_url=f"http://127.0.0.1:{port}"))
                calm, running, longest = _running_test(browser.new_page(base_url=f"http://127.0.0.1:{port}"))
                browser.close()
        finally:
            children.end(server)
            devices.end()
    late = taken[int(0.95 * len(taken))]
    yield Row("typed digit to what follows from it, 95th percentile", late / DIGIT_MS, 1.0, f"{late:.0f} ms of 100 ms")

    for what, took, most in zip(("first time", "again"), ready, READY_MS, strict=True):
        said = f"{took:.0f} ms of {most:.0f} ms, the page at a quarter of its speed"
        yield Row(f"core on the device ready, {what}", took / most, 1.0, said)
    judged_late = sorted(judged)[int(0.95 * len(judged))]
    said = f"{judged_late:.0f} ms of {JUDGED_MS:.0f} ms, median {sorted(judged)[len(judged) // 2]:.0f}"
    yield Row("reading to new verdict without signal, 95th percentile", judged_late / JUDGED_MS, 1.0, said)

    moved_late = moved[int(0.95 * len(moved))]
    said = f"{moved_late:.1f} ms of {REDRAW_MS:.0f} ms, all lines drawn"
    yield Row("chart redraw for a moved point, 95th percentile", moved_late / REDRAW_MS, 1.0, said)
    said = f"{frames:.1f} frames a second live, {still:.1f} on a still page"
    yield Row("frames a second, still page / live with 8 probes", still / frames, 1.05, said)
    said = f"{running:.1f} frames a second, {calm:.1f} on a still page; longest gap {longest:.0f} ms"
    yield Row("frames a second, still page / a test running at 10x", calm / running, 1.05, said)


READY_MS = (12_000.0, 4_000.0)
JUDGED_MS = 150.0

JUDGED = """
() => new Promise(done => {
  const place = document.querySelector('aside[aria-label=Results]');
  const before = place.textContent;
  const begun = performance.now();
  const watch = new MutationObserver(() => {
    if (place.textContent === before) return;
    watch.disconnect();
    done(performance.now() - begun);
  });
  watch.observe(place, { childList: true, characterData: true, subtree: true });
  document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }));
  setTimeout(() => done(5000), 5000);
})
"""


def _device(context: BrowserContext) -> tuple[tuple[float, float], list[float]]:
    """How long until the core is ready, the first time and again; from Enter to a changed verdict without signal; all in ms."""
    page = context.new_page()
    context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": 4})
    ready = []
    for _ in range(2):
        page.goto("/")
        page.locator("html[data-core=ready]").wait_for(state="attached", timeout=60_000)
        ready.append(float(page.evaluate("performance.now()")))
        page.wait_for_timeout(3000)
    page.close()
    page = context.new_page()
    _enter(page)
    page.locator("html[data-core=ready]").wait_for(state="attached", timeout=60_000)
    page.get_by_role("link", name=re.compile("Rooftop unit 1")).first.click()
    page.get_by_role("heading", name="Results").wait_for()
    page.keyboard.press("r")
    page.get_by_test_id("typed").wait_for()
    page.get_by_test_id("tag-supply").click()
    page.get_by_test_id("typed").wait_for()
    # Nobody reads a probe sooner than this: meanwhile the device has worked the visit out once.
    page.wait_for_timeout(4000)
    context.set_offline(True)
    times = []
    for number in range(30):
        page.get_by_role("button", name=re.compile("^Read again: point 1, Dry bulb")).click()
        page.keyboard.type(f"{54 + number / 10:.1f}")
        times.append(float(page.evaluate(JUDGED)))
        page.wait_for_timeout(150)
    context.set_offline(False)
    return (ready[0], ready[1]), times


REDRAW_MS = 16.0

REDRAW = """
() => new Promise(done => {
  const chart = document.querySelector('svg[role=application]');
  const times = [];
  const step = left => {
    if (!left) return done(times);
    const begun = performance.now();
    const key = left % 2 ? 'ArrowRight' : 'ArrowUp';
    chart.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    chart.getBoundingClientRect();
    times.push(performance.now() - begun);
    requestAnimationFrame(() => step(left - 1));
  };
  chart.focus();
  step(60);
})
"""
"""Each: the key, React's work and the layout that follows, up to where the frame is painted."""

FRAMES = """
seconds => new Promise(done => {
  let count = 0;
  const begun = performance.now();
  const tick = () => {
    count += 1;
    const passed = performance.now() - begun;
    if (passed < seconds * 1000) requestAnimationFrame(tick);
    else done(count / passed * 1000);
  };
  requestAnimationFrame(tick);
})
"""

HANG = """
async () => {
  const visit = location.pathname.split('/')[2];
  const token = decodeURIComponent(/csrftoken=([^;]+)/.exec(document.cookie)[1]);
  const probes = (await (await fetch('/api/v1/probes')).json()).probes.filter(each => each.instrument);
  const places = ['return', 'supply', 'outdoor', 'return_grille', 'suction_line', 'supply_static', 'filter_static', 'supply'];
  const entry = (kind, body) => ({ id: crypto.randomUUID(), kind, at: new Date().toISOString(), phase: 'as_found', body });
  const hung = (probe, index) => entry('assignment', { instrument: probe.instrument, station: places[index] });
  const entries = probes.slice(0, 8).map(hung);
  entries.push(entry('run', { event: 'started' }));
  const headers = { 'content-type': 'application/json', 'X-CSRFToken': token };
  await fetch(`/api/v1/visits/${visit}/entries`, { method: 'POST', headers, body: JSON.stringify({ entries }) });
  return entries.length;
}
"""


def _enter(page: Page) -> None:
    page.goto("/")
    page.get_by_role("button", name="Oona Lindahl").click()
    page.get_by_role("heading", name="Open visits").wait_for()


def _moved(page: Page) -> list[float]:
    """Redraws of the chart of a visit with two phases, every family of lines shown."""
    _enter(page)
    page.get_by_role("button", name="Rooftop unit 1").click()
    page.get_by_role("link", name="Nameplate and earlier visits").click()
    page.get_by_role("link", name=re.compile("Specimen hall warm")).click()
    page.get_by_role("button", name="Work out").click()
    for family in ("Enthalpy", "Volume"):
        page.get_by_text(family, exact=True).click()
    page.wait_for_timeout(1000)
    return [float(each) for each in page.evaluate(REDRAW)]


def _frames(page: Page) -> tuple[float, float]:
    """Frames a second on a page where nothing happens, and with eight probes live and drawn."""
    _enter(page)
    still = float(page.evaluate(FRAMES, 4))
    page.get_by_role("button", name="Furnace and coil").click()
    page.get_by_role("button", name="Start visit here").or_(page.get_by_role("button", name="Start another visit")).click()
    page.get_by_role("heading", name="Arrive", exact=True).wait_for()
    page.evaluate(HANG)
    page.reload()
    page.get_by_role("button", name="Settle").click()
    page.locator("canvas").first.wait_for()
    page.wait_for_timeout(3000)
    return still, float(page.evaluate(FRAMES, 8))


GAPS = """
seconds => new Promise(done => {
  let count = 0;
  let longest = 0;
  const begun = performance.now();
  let last = begun;
  const tick = () => {
    const now = performance.now();
    longest = Math.max(longest, now - last);
    last = now;
    count += 1;
    if (now - begun < seconds * 1000) requestAnimationFrame(tick);
    else done([count / (now - begun) * 1000, longest]);
  };
  requestAnimationFrame(tick);
})
"""


def _running_test(page: Page) -> tuple[float, float, float]:
    """Frames a second on a still page, and while a functional test runs and is drawn; the longest gap between two frames [ms]."""
    _enter(page)
    still = float(page.evaluate(FRAMES, 4))
    page.get_by_role("button", name="Rooftop unit 2").click()
    page.get_by_role("button", name="Start visit here").or_(page.get_by_role("button", name="Start another visit")).click()
    page.get_by_role("heading", name="Arrive", exact=True).wait_for()
    page.goto(f"{page.url.split('?')[0]}?step=prove&part=tests")
    page.get_by_role("list", name="Tests").get_by_role("button", name="Mixed air made cold").click()
    page.get_by_role("button", name="Run it at the controller").click()
    page.locator("canvas").first.wait_for()
    page.wait_for_timeout(2000)
    frames, longest = page.evaluate(GAPS, 8)
    return still, float(frames), float(longest)


def _digits(page: Page) -> list[float]:
    page.goto("/")
    page.get_by_role("button", name="Oona Lindahl").click()
    page.get_by_role("link", name=re.compile("Rooftop unit 1")).first.click()
    page.get_by_role("heading", name="Results").wait_for()
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

"""The core on the device: judged at once without signal, begun without signal, kept through any number of reloads."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.browser.conftest import (
    TABLET,
    Served,
    all_saved,
    enter,
    logbook,
    open_station,
    part,
    remember,
    start_visit,
    step,
    tap,
    values,
)

pytestmark = pytest.mark.away


def with_core(page: Page) -> Page:
    """The core is loaded and kept on this device."""
    page.locator("html[data-core=ready]").wait_for(state="attached")
    page.evaluate(
        """async () => {
            await navigator.serviceWorker.ready;
            for (let tries = 0; tries < 100; tries++) {
                const kept = await (await caches.open('core')).match('/core.json');
                if (kept) return;
                await new Promise(done => setTimeout(done, 100));
            }
            throw new Error('the core is not kept');
        }"""
    )
    return page


def read_two(page: Page, back: str = "25.0", supply: str = "14.0") -> None:
    """Return and supply, dry bulb and humidity."""
    open_station(page, "return")
    tap(page, back)
    tap(page, "45")
    open_station(page, "supply")
    tap(page, supply)
    tap(page, "88")


def test_what_is_read_without_signal_is_judged_there_and_a_correction_too(device: BrowserContext) -> None:
    page = with_core(enter(device))
    start_visit(page)
    step(page, "Measure")
    device.set_offline(True)
    expect(page.get_by_test_id("no-signal")).to_be_visible()
    read_two(page)
    tag = page.get_by_test_id("tag-supply")
    expect(tag).to_contain_text("waits")
    verdicts = page.get_by_role("complementary", name="Results")
    expect(verdicts).to_contain_text("11.0 K")
    open_station(page, "supply")
    page.get_by_role("button", name=re.compile("Read again: point 1, Dry bulb")).click()
    page.keyboard.type("18")
    open_station(page, "return")
    open_station(page, "supply")
    expect(page.get_by_test_id("typed")).to_contain_text("18")
    page.keyboard.type(".5")
    page.keyboard.press("Enter")
    expect(verdicts).to_contain_text("6.5 K")
    expect(verdicts).not_to_contain_text("11.0 K")
    here = verdicts.inner_text()
    device.set_offline(False)
    all_saved(page)
    assert verdicts.inner_text() == here
    assert values(page) == [25.0, 45, 14.0, 88, 18.5]


def test_the_devices_answer_is_the_servers_for_every_demo_visit(device: BrowserContext) -> None:
    page = with_core(enter(device, "Tova Brandt"))
    found = page.evaluate(
        """async () => {
            const get = path => fetch(`/api/v1/${path}`).then(answer => answer.json());
            const made = await (await fetch('/core.json')).json();
            const source = [...performance.getEntriesByType('resource')].map(each => each.name).find(each => /worker-/.test(each));
            const thread = new Worker(source, {type: 'module'});
            const heard = () => new Promise(done => thread.addEventListener('message', event => done(event.data), {once: true}));
            let next = heard();
            thread.postMessage({files: {python: made.python, memory: made.memory}});
            if (!(await next).ready) throw new Error('not loaded');
            const instruments = await get('instruments');
            const day = await get('day');
            const visits = new Set();
            for (const system of day.systems)
                for (const visit of (await get(`systems/${system.id}`)).visits) visits.add(visit.id);
            const differ = [], times = [];
            const apart = (one, other, path) => {
                if (typeof one === 'number' && typeof other === 'number') {
                    if (Math.abs(one - other) > 1e-9 * Math.max(1, Math.abs(one))) differ.push([path, one, other]);
                } else if (one && other && typeof one === 'object' && typeof other === 'object') {
                    for (const key of new Set([...Object.keys(one), ...Object.keys(other)])) apart(one[key], other[key], `${path}.${key}`);
                } else if (one !== other) differ.push([path, one, other]);
            };
            for (const id of visits) {
                const page = await get(`visits/${id}`);
                const {head, entries} = page;
                const begun = performance.now();
                next = heard();
                thread.postMessage({number: 1, question: JSON.stringify({ask: 'visit', head, entries, instruments})});
                const {answer} = JSON.parse((await next).answer);
                times.push(performance.now() - begun);
                apart(page.work_up, answer.work_up, id);
                apart(page.core, answer.core, `${id}.core`);
            }
            thread.terminate();
            return {visits: visits.size, differ: differ.slice(0, 5), slowest: Math.max(...times)};
        }"""
    )
    assert found["differ"] == []
    assert found["visits"] > 10


def test_a_visit_begins_without_signal_is_reloaded_twice_and_meets_the_server(device: BrowserContext) -> None:
    page = with_core(enter(device))
    page.get_by_role("button", name="Furnace and coil").click()
    page.wait_for_timeout(1_500)
    device.set_offline(True)
    page.get_by_role("button", name="Start visit here").or_(page.get_by_role("button", name="Start another visit")).click()
    page.get_by_role("heading", name="Arrive", exact=True).wait_for()
    step(page, "Measure")
    read_two(page)
    expect(page.get_by_test_id("queue-state")).to_have_text("5 waiting")
    for _ in range(2):
        page.wait_for_timeout(1_200)
        page.reload()
        page.get_by_test_id("typed").wait_for()
        expect(page.get_by_test_id("queue-state")).to_have_text("5 waiting")
        expect(page.get_by_role("complementary", name="Results")).to_contain_text("11.0 K")
    device.set_offline(False)
    all_saved(page)
    assert values(page) == [25.0, 45, 14.0, 88]
    page.goto("/")
    expect(page.get_by_role("heading", name="Furnace and coil").first).to_be_visible()


def test_two_devices_that_begin_the_same_without_signal_lose_nothing(
    device: BrowserContext, chromium: Browser, served: Served
) -> None:
    second = chromium.new_context(viewport=TABLET, base_url=served.url, reduced_motion="reduce")
    remember(second, "units", "SI")
    pages = [with_core(enter(each)) for each in (device, second)]
    for page in pages:
        page.get_by_role("button", name="Furnace and coil").click()
        page.wait_for_timeout(1_000)
        page.context.set_offline(True)
        begin = page.get_by_role("button", name="Start visit here").or_(page.get_by_role("button", name="Start another visit"))
        begin.click()
        page.get_by_role("heading", name="Arrive", exact=True).wait_for()
        step(page, "Measure")
        open_station(page, "return")
        tap(page, "25.0")
    for page in pages:
        page.context.set_offline(False)
        all_saved(page)
        assert values(page) == [25.0]
    one, other = pages
    assert logbook(one)["id"] != logbook(other)["id"]
    second.close()


def test_a_number_is_pasted_and_five_hundred_are_typed_fast_with_a_reload_among_them(device: BrowserContext) -> None:
    page = with_core(enter(device))
    start_visit(page)
    step(page, "Measure")
    open_station(page, "return")
    device.set_offline(True)
    page.evaluate(
        """() => {
            const data = new DataTransfer();
            data.setData('text', ' 24,6 °C');
            window.dispatchEvent(new ClipboardEvent('paste', {clipboardData: data}));
        }"""
    )
    expect(page.get_by_test_id("typed")).to_contain_text("24.6")
    page.keyboard.press("Enter")
    for number in range(59):
        page.keyboard.type("45")
        page.keyboard.press("Enter")
        page.keyboard.type(f"{20 + number / 10:.1f}")
        page.keyboard.press("Enter")
        if number == 30:
            page.reload()
            page.get_by_test_id("typed").wait_for()
    page.keyboard.type("45")
    page.keyboard.press("Enter")
    expect(page.get_by_text("60 points are read here")).to_be_visible()
    expect(page.get_by_test_id("queue-state")).to_have_text("120 waiting")
    device.set_offline(False)
    all_saved(page)
    found = values(page)
    assert found[:3] == [24.6, 45, 20.0]
    assert len(found) == 120


def test_a_plan_is_made_and_the_map_and_the_year_follow_without_signal(device: BrowserContext) -> None:
    page = with_core(enter(device))
    start_visit(page, "Rooftop unit 2")
    page.goto(f"{page.url.split('?')[0]}?step=set_up&part=plan")
    with_core(page)
    expect(page.get_by_text("h a year free cooling").first).to_be_visible()
    device.set_offline(True)
    page.get_by_role("main").get_by_role("button", name="Minimum position").click()
    form = page.get_by_role("form", name="Set: Minimum position")
    form.get_by_label("Set to").fill("15")
    form.get_by_label("Why").fill("by the measured share")
    form.get_by_role("button", name="Write it down").click()
    expect(page.get_by_role("main").get_by_role("button", name="Minimum position")).to_contain_text("15 %")
    form_of = page.get_by_role("main").get_by_label("Sensor's error ±")
    form_of.fill("2")
    expect(page.get_by_text("h a year free cooling").first).to_be_visible()
    part(page, "Mode map")
    expect(page.get_by_role("img", name="Modes by outdoor temperature")).to_be_visible()
    part(page, "Points")
    page.locator("input[type=file]").set_input_files(
        {"name": "p.csv", "mimeType": "text/csv", "buffer": b"terminal,label\nA,B\n"}
    )
    expect(page.get_by_role("alert")).to_contain_text("The list lacks the columns: name, place.")
    device.set_offline(False)
    all_saved(page)
    step(page, "Set up")
    part(page, "Plan")
    expect(page.get_by_role("main").get_by_role("button", name="Minimum position")).to_contain_text("15 %")

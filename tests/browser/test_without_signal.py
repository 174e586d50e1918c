"""A lost network, a reload, a server that goes away: nothing lost, nothing doubled."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.browser.conftest import Served, all_saved, enter, open_station, part, start_visit, step, tap, values

pytestmark = pytest.mark.away


def at_return(device: BrowserContext) -> Page:
    """A fresh visit with the pad open at the return."""
    page = enter(device)
    page.evaluate("navigator.serviceWorker.ready")
    start_visit(page)
    step(page, "Measure")
    open_station(page, "return")
    return page


def waiting(page: Page, count: int) -> None:
    expect(page.get_by_test_id("queue-state")).to_have_text(f"{count} waiting")


def test_reading_on_without_signal_and_coming_back(device: BrowserContext) -> None:
    page = at_return(device)
    tap(page, "25.1")
    all_saved(page)
    device.set_offline(True)
    tap(page, "33")
    tap(page, "25.3")
    waiting(page, 2)
    expect(page.get_by_test_id("tag-return")).to_contain_text("waits")
    device.set_offline(False)
    all_saved(page)
    assert values(page) == [25.1, 33, 25.3]


def test_a_reload_without_signal_keeps_what_waits(device: BrowserContext) -> None:
    page = at_return(device)
    tap(page, "25.1")
    all_saved(page)
    page.reload()
    expect(page.get_by_role("tab", name="RH")).to_have_attribute("aria-selected", "true")
    device.set_offline(True)
    tap(page, "33")
    waiting(page, 1)
    page.reload()
    page.get_by_test_id("typed").wait_for()
    waiting(page, 1)
    expect(page.get_by_role("button", name=re.compile("Read again: point 1, Relative humidity"))).to_be_visible()
    device.set_offline(False)
    all_saved(page)
    assert values(page) == [25.1, 33]


def test_answers_that_get_lost_do_not_double_readings(device: BrowserContext) -> None:
    page = at_return(device)
    lost = 0

    def lose(route: object) -> None:
        nonlocal lost
        if lost < 2:
            lost += 1
            route.fetch()
            route.abort()
        else:
            route.continue_()

    page.route("**/entries", lose)
    tap(page, "25.1")
    tap(page, "33")
    all_saved(page)
    assert lost == 2
    assert values(page) == [25.1, 33]


def test_the_server_dies_and_comes_back(device: BrowserContext, served: Served) -> None:
    page = at_return(device)
    tap(page, "25.1")
    all_saved(page)
    served.kill()
    try:
        tap(page, "33")
        waiting(page, 1)
    finally:
        served.start()
    all_saved(page)
    assert values(page) == [25.1, 33]


def test_signed_out_elsewhere_the_readings_wait_for_their_person(device: BrowserContext) -> None:
    page = at_return(device)
    tap(page, "25.1")
    all_saved(page)
    url = page.url
    device.clear_cookies(name="fentro_demo_session")
    tap(page, "33")
    waiting(page, 1)
    page.get_by_role("button", name=re.compile("1 waiting")).click()
    page.get_by_role("link", name="Sign in to send them").click()
    page.get_by_role("button", name="Oona Lindahl").click()
    page.get_by_role("heading", name="Start a visit").wait_for()
    page.goto(url)
    all_saved(page)
    assert values(page) == [25.1, 33]


def test_a_page_token_gone_stale_is_renewed(device: BrowserContext) -> None:
    page = at_return(device)
    device.clear_cookies(name="csrftoken")
    tap(page, "25.1")
    all_saved(page)
    assert values(page) == [25.1]


def test_a_refused_entry_is_shown_with_its_reason(device: BrowserContext) -> None:
    page = at_return(device)
    visit = page.url.split("/visits/")[1].split("?")[0]
    page.evaluate(
        """async id => {
            const token = /csrftoken=([^;]+)/.exec(document.cookie)[1];
            const entries = [{id: crypto.randomUUID(), kind: 'closing', at: new Date().toISOString(), body: {summary: ''}}];
            await fetch(`/api/v1/visits/${id}/entries`, {method: 'POST', body: JSON.stringify({entries}),
                headers: {'Content-Type': 'application/json', 'X-CSRFToken': token}});
        }""",
        visit,
    )
    tap(page, "25.1")
    page.get_by_role("button", name=re.compile("1 not taken")).click()
    expect(page.get_by_text("This visit is closed. Reopen it to go on.")).to_be_visible()
    page.get_by_role("button", name="Dismiss").click()
    all_saved(page)


def test_a_page_never_opened_before_opens_without_signal(device: BrowserContext) -> None:
    page = enter(device)
    page.evaluate("navigator.serviceWorker.ready")
    start_visit(page)
    step(page, "Work out")
    device.set_offline(True)
    for name, words in (
        ("Pressures", "Read static pressures"),
        ("Return leak", "The return run"),
        ("Heating", "carbon monoxide"),
        ("Split", "Read return and supply air"),
    ):
        part(page, name)
        expect(page.get_by_role("main").get_by_text(words).first).to_be_visible()
    page.reload()
    part(page, "Causes")
    expect(page.get_by_role("heading", name="Work out")).to_be_visible()
    device.set_offline(False)

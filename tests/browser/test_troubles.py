"""What goes wrong is said in its place, and takes nothing else along."""

from __future__ import annotations

import re
import uuid

import psycopg
from playwright.sync_api import BrowserContext, Page, Route, expect

from tests.browser.conftest import Served, all_saved, choose, enter, open_station, start_visit, step, tap, values

CLOSE = """async id => {
    const token = /csrftoken=([^;]+)/.exec(document.cookie)[1];
    const entries = [{id: crypto.randomUUID(), kind: 'closing', at: new Date().toISOString(), body: {summary: ''}}];
    await fetch(`/api/v1/visits/${id}/entries?closing`, {method: 'POST', body: JSON.stringify({entries}),
        headers: {'Content-Type': 'application/json', 'X-CSRFToken': token}});
}"""


def at_return(device: BrowserContext) -> Page:
    page = enter(device)
    start_visit(page)
    step(page, "Measure")
    open_station(page, "return")
    return page


def visit_of(page: Page) -> str:
    return page.url.split("/visits/")[1].split("?")[0]


def test_readings_made_before_another_closed_the_visit_are_added_by_a_reopening(device: BrowserContext) -> None:
    page = at_return(device)
    page.route("**/entries", lambda route: route.abort())
    tap(page, "25.1")
    tap(page, "33")
    page.evaluate(CLOSE, visit_of(page))
    page.unroute("**/entries")
    page.get_by_role("button", name=re.compile("2 not taken")).click()
    page.get_by_role("button", name="Reopen the visit and add all 2").first.click()
    all_saved(page)
    assert values(page) == [25.1, 33]


def test_an_entry_that_the_server_fails_on_is_set_aside_and_the_others_go_on(device: BrowserContext) -> None:
    page = at_return(device)
    failing = True

    def answer(route: Route) -> None:
        entries = (route.request.post_data_json or {}).get("entries", [])
        bad = failing and any(each["body"].get("value") == 25.1 for each in entries)
        route.fulfill(status=500, body="{}") if bad else route.continue_()

    page.route("**/entries", answer)
    tap(page, "25.1")
    tap(page, "33")
    page.get_by_role("button", name=re.compile("1 not taken")).click()
    expect(page.get_by_text("The server fails on this entry.")).to_be_visible()
    assert values(page) == [33]
    failing = False
    page.get_by_role("button", name="Try this again").click()
    all_saved(page)
    assert values(page) == [33, 25.1]


def test_an_entry_that_cant_be_worked_with_is_named_and_taken_back(device: BrowserContext, served: Served) -> None:
    page = at_return(device)
    tap(page, "25.1")
    all_saved(page)
    visit = visit_of(page)
    with psycopg.connect(served.environment["FENTRO_DATABASE_URL"]) as database:
        database.execute(
            "insert into visits_entry (id, visit_id, number, kind, phase, at, received_at, by_id, body, reason, chain, core)"
            " select %s, id, 2, 'reading', 'as_found', now(), now(), technician_id,"
            """ '{"station": "return", "quantity": "dry_bulb", "value": 9000, "unit": "degC"}', '', '', '' """
            "from visits_visit where id = %s",
            [str(uuid.uuid4()), visit],
        )
        database.execute("update visits_visit set entries_number = 2 where id = %s", [visit])
    page.goto("/")
    line = page.get_by_role("listitem").filter(has_text="An entry can't be worked with")
    expect(line).to_have_count(1)
    line.get_by_role("link").click()
    left = page.get_by_role("region", name="Entries that can't be worked with")
    expect(left).to_contain_text("Return, dry bulb: 9000 °C")
    left.get_by_role("button", name="Take it back").click()
    expect(left).to_have_count(0)
    all_saved(page)
    page.goto("/")
    page.get_by_role("heading", name="Open visits").wait_for()
    expect(page.get_by_text("An entry can't be worked with")).to_have_count(0)


def test_a_lead_registers_a_gateway_and_is_told_what_is_wrong_with_it(device: BrowserContext, served: Served) -> None:
    page = enter(device, "Tova Brandt")
    page.goto("/instruments")
    ours = page.get_by_role("region", name="Gateways of probes and controllers")
    known = ours.get_by_role("listitem").filter(has_text="Van, probe receiver")
    known.get_by_role("button", name="Check it").click()
    expect(known).to_contain_text("It answers: 9 probes")
    ours.get_by_label("New gateway, name").fill("Annex")
    ours.get_by_label("Address").fill("http://169.254.169.254")
    ours.get_by_role("button", name="Register").click()
    expect(ours.get_by_role("alert").filter(has_text="not among those that the operator")).to_be_visible()
    ours.get_by_label("Address").fill("http://127.0.0.1:1")
    choose(ours, "Leads to", "Controllers")
    ours.get_by_role("button", name="Register").click()
    made = ours.get_by_role("listitem").filter(has_text="Annex")
    expect(made).to_contain_text("Nothing answers there")
    made.get_by_role("button", name="Remove").click()
    made.get_by_role("button", name="Really remove it").click()
    expect(made).to_have_count(0)

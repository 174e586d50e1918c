"""The real build, served by the real server on its own database, driven in Debian's Chromium."""

from __future__ import annotations

import json
import os
import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit, urlunsplit

import psycopg
import pytest
from playwright.sync_api import Browser, BrowserContext, Locator, Page, expect, sync_playwright

from tests.patience import PATIENCE_S
from tools import children, serving
from tools.standins import Devices

PATIENCE_MS = 1000 * PATIENCE_S

expect.set_options(timeout=PATIENCE_MS)

TABLET = {"width": 1280, "height": 800}
PHONE = {"width": 390, "height": 844}
SET_RIGHT = {
    "places_site": "name, elevation_m, barometer_pa, climate_zone",
    "places_system": "name, kind, location, nameplate",
}
AXE = Path(__file__).resolve().parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Browser tests share one server and one browser: they stay on one worker."""
    here = Path(__file__).parent
    for item in items:
        if here in item.path.parents:
            item.add_marker(pytest.mark.browser)
            item.add_marker(pytest.mark.xdist_group("browser"))


@dataclass
class Served:
    """The running server; it can be taken away and brought back."""

    url: str
    port: int
    environment: dict[str, str]
    log: Path
    process: Any = field(default=None)
    shipped: list[Any] = field(default_factory=list)
    devices: Any = field(default=None)

    def start_probes(self) -> None:
        """The simulated probes, on the same port again."""
        self.devices.named("probes").start()

    def kill_probes(self) -> None:
        """Pull the probes' plug."""
        self.devices.named("probes").kill()

    def start(self) -> None:
        """Serve on the same port again."""
        self.process = serving.start_server(self.environment, self.port, self.log)

    def put_away(self) -> None:
        """Close the visits of earlier tests and set them long ago, and sites and systems right, so that each test finds
        the demo as it ships.
        """
        with psycopg.connect(self.environment["FENTRO_DATABASE_URL"]) as connection:
            if not self.shipped:
                self.shipped = [row[0] for row in connection.execute("select id from visits_visit")]
                for table in SET_RIGHT:
                    connection.execute(f'create table "shipped_{table}" as table "{table}"')
            for table, columns in SET_RIGHT.items():
                connection.execute(
                    f'update "{table}" set ({columns}) = (select {columns} from "shipped_{table}" shipped where shipped.id = "{table}".id)'
                    f' where id in (select id from "shipped_{table}")'
                )
            connection.execute(
                "update visits_visit set opened_at = opened_at - interval '900 days', closed_at = opened_at - interval '902 days'"
                " where id <> all(%s) and opened_at > now() - interval '600 days'",
                [self.shipped],
            )

    def kill(self) -> None:
        """Pull the plug."""
        self.process.kill()
        self.process.wait()


def database_for(name: str) -> str:
    """A fresh database in the test cluster."""
    url = os.environ["FENTRO_DATABASE_URL"]
    with psycopg.connect(url, autocommit=True) as connection:
        connection.execute(f'drop database if exists "{name}" with (force)')
        connection.execute(f'create database "{name}"')
    return urlunsplit(urlsplit(url)._replace(path=f"/{name}"))


@pytest.fixture(scope="session")
def served(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Served]:
    """The demo, and besides it a plain company whose lead signs in by password."""
    environment = {
        **os.environ,
        "DJANGO_SETTINGS_MODULE": "fentro_server.settings.demo",
        "FENTRO_SECRET_KEY": "browser tests only",
        "FENTRO_DATABASE_URL": database_for(f"browser_{os.getpid()}"),
        "FENTRO_FIRST_PASSWORD": "correct horse battery",
    }
    directory = tmp_path_factory.mktemp("server")
    devices = Devices(directory)
    environment |= devices.environment
    serving.manage(environment, "migrate", "-v", "0")
    serving.manage(environment, "load_demo")
    serving.manage(environment, "create_company", "--company", "Plain", "--name", "Pat Plain", "--sign-in", "pat")
    port = serving.free_port()
    server = Served(f"http://127.0.0.1:{port}", port, environment, directory / "log", devices=devices)
    devices.start()
    server.start()
    yield server
    children.end(server.process)
    devices.end()


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    """Debian's Chromium, headless."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path=os.environ.get("FENTRO_CHROMIUM") or "/usr/bin/chromium",
            args=["--no-sandbox", "--disable-gpu", "--disable-quic", "--disable-background-networking", "--disable-sync"],
        )
        yield browser
        browser.close()


@pytest.fixture
def device(chromium: Browser, served: Served, request: pytest.FixtureRequest) -> Iterator[BrowserContext]:
    """A fresh tablet in SI units; anything the console complains about fails the test.

    The pages and the core take seconds to come onto a device. Those of a test marked `away`, which goes without signal, are
    on it; any other has a browser that keeps nothing and runs no threads, and the server answers.
    """
    served.put_away()
    away = request.node.get_closest_marker("away") is not None
    context = chromium.new_context(
        viewport=getattr(request, "param", TABLET),
        base_url=served.url,
        reduced_motion="reduce",
        service_workers="allow" if away else "block",
    )
    if not away:
        context.add_init_script("delete window.Worker;")
    remember(context, "units", "SI")
    context.set_default_timeout(PATIENCE_MS)
    complaints: list[str] = []
    context.on("weberror", lambda error: complaints.append(str(error.error)))
    context.on("console", lambda said: complaints.append(said.text) if "Content Security Policy" in said.text else None)
    yield context
    context.close()
    assert complaints == []


def remember(device: BrowserContext, what: str, value: str) -> None:
    """Set a choice kept on the device, unless it was made already. A blank page has no storage and is passed over."""
    key = f"fentro.{what}"
    device.add_init_script(
        f"if (location.protocol === 'http:') localStorage.getItem('{key}') ?? localStorage.setItem('{key}', '{value}');"
    )


def enter(device: BrowserContext, name: str = "Oona Lindahl") -> Page:
    """Sign in at one tap and come to the day sheet."""
    page = device.new_page()
    page.goto("/")
    page.get_by_role("button", name=name).click()
    page.get_by_role("heading", name="Start a visit").or_(page.get_by_role("heading", name="Systems")).wait_for()
    return page


def start_visit(page: Page, system: str = "Furnace and coil") -> None:
    """Two taps."""
    page.get_by_role("button", name=system).click()
    page.get_by_role("button", name="Start visit here").or_(page.get_by_role("button", name="Start another visit")).click()
    page.get_by_role("heading", name="Arrive", exact=True).wait_for()


def step(page: Page, name: str) -> None:
    """Open a step of the visit from the route."""
    page.get_by_role("navigation", name="Steps of the visit").get_by_role("button", name=name).click()


def part(page: Page, name: str) -> None:
    """Open a page of the step; many are grouped by their part of the job."""
    tab, group = page.get_by_role("tab", name=name), page.get_by_role("tab", name="Economizer", exact=True)
    tab.or_(group).first.wait_for()
    if tab.count() == 0:
        group.click()
    tab.click()


def choose(place: Page | Locator, label: str, option: str) -> None:
    """One of many, in a list that opens."""
    place.get_by_role("button", name=label).click()
    page = place if isinstance(place, Page) else place.page
    page.get_by_role("option", name=option, exact=True).click()


def close_visit(page: Page) -> None:
    """Close the open visit: look at what will stand there, then close."""
    page.get_by_role("button", name="Close the visit").click()
    page.get_by_role("region", name="Before it is closed").get_by_role("button", name=re.compile("^Close it")).click()


def to_top(page: Page) -> None:
    """Back to the bench's top, and wait until the air path is whole again: it moves the bench down when it unfolds."""
    page.get_by_role("main").evaluate("bench => bench.scrollTo(0, 0)")
    expect(page.get_by_role("button", name="Show the whole air path")).to_have_count(0)


def tap(page: Page, number: str) -> None:
    """Type a number on the pad's own keys and take it."""
    names = {".": "decimal point", "-": "minus"}
    for key in number:
        page.get_by_role("button", name=names.get(key, key), exact=True).click()
    page.get_by_role("button", name="Take", exact=True).click()


def type_in(page: Page, *numbers: str) -> None:
    """Type numbers on a keyboard, each taken with Enter."""
    for number in numbers:
        page.keyboard.type(number)
        page.keyboard.press("Enter")


def open_station(page: Page, station: str) -> None:
    """Tap the tag of a station in the air path."""
    page.get_by_test_id(f"tag-{station}").click()
    page.get_by_test_id("typed").wait_for()


def put(page: Page, *readings: tuple[str, str, float, str], seen: str = "") -> None:
    """Readings by the interface's own call, as another device of the same person would send them; `seen`: answered yes."""
    visit = page.url.split("/visits/")[1].split("?")[0]
    status = page.evaluate(
        """async ([visit, rows, seen]) => {
            const token = decodeURIComponent(/csrftoken=([^;]+)/.exec(document.cookie)[1]);
            const entries = rows.map(([station, quantity, value, unit]) => ({
                id: crypto.randomUUID(), kind: "reading", at: new Date().toISOString(), phase: "as_found",
                body: {station, quantity, value, unit},
            }));
            if (seen) entries.push({
                id: crypto.randomUUID(), kind: "observation", at: new Date().toISOString(), phase: "as_found",
                body: {item: seen, value: "yes"},
            });
            const headers = {"content-type": "application/json", "X-CSRFToken": token};
            const answer = await fetch(`/api/v1/visits/${visit}/entries`, {method: "POST", headers, body: JSON.stringify({entries})});
            return (await answer.json()).refused;
        }""",
        [visit, [list(each) for each in readings], seen],
    )
    assert status == [], json.dumps(status)
    page.reload()


def air(station: str, dry_bulb: float, rh: float) -> list[tuple[str, str, float, str]]:
    """Dry bulb and humidity of a station, for `put`."""
    return [(station, "dry_bulb", dry_bulb, "degC"), (station, "relative_humidity", rh, "percent")]


def all_saved(page: Page) -> None:
    """Wait until everything taken is acknowledged."""
    page.get_by_role("status").filter(has_text="All saved").wait_for()


def logbook(page: Page) -> dict[str, Any]:
    """The visit as the server has it."""
    visit = page.url.split("/visits/")[1].split("?")[0]
    return page.evaluate("id => fetch(`/api/v1/visits/${id}`).then(answer => answer.json())", visit)


def values(page: Page) -> list[float]:
    """Every reading's value on the server, in order."""
    return [entry["body"]["value"] for entry in logbook(page)["entries"] if entry["kind"] == "reading"]


def scene(page: Page, scenario: str = "ordinary", seed: int = 3, speed: float = 120) -> None:
    """Choose what the simulated probes show, and how fast their time runs."""
    status = page.evaluate(
        """async given => {
            const token = decodeURIComponent(/csrftoken=([^;]+)/.exec(document.cookie)[1]);
            const headers = {"content-type": "application/json", "X-CSRFToken": token};
            const answer = await fetch("/api/v1/probes/scene", {method: "POST", headers, body: JSON.stringify(given)});
            return answer.status;
        }""",
        {"scenario": scenario, "seed": seed, "speed": speed},
    )
    assert status == 200


def hang(page: Page, probe: str, station: str) -> None:
    """Assign a probe to a station, from the list of probes."""
    line = page.get_by_role("listitem").filter(has_text=probe)
    choose(line, "Assign to", station)

"""The server under 20 technicians and 200 streams, on long visits and with a million of them: against the budgets."""

from __future__ import annotations

import asyncio
import http.client
import json
import os
import random
import re
import threading
import time
import uuid
from collections.abc import Iterator
from multiprocessing import Pipe, Pool, Process
from pathlib import Path
from typing import Any

import psycopg

from bench.report import Row
from tools import children, serving
from tools.postgres import Cluster
from tools.setup import DATA
from tools.standins import Devices

CLIENTS = 20
ENTRIES_EACH = 20
PAUSE_S = (1.0, 3.0)
"""Between two entries of one technician: brisk, quicker than a probe settles."""
BUDGET_MS = 40.0
VISIT = 300
"""Entries that each visit has before it is timed."""
LONG_VISIT = 5_000
KEPT_ALIVE_S = 60.0
"""A connection that was idle for longer is opened anew, sooner than most browsers do."""


class Technician(threading.Thread):
    """One person with a connection of their own, adding readings to a visit of their own."""

    def __init__(self, port: int, seed: int) -> None:
        super().__init__()
        self.connection = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
        self.cookies: dict[str, str] = {}
        self.draw = random.Random(seed)
        self.seconds: list[float] = []
        self.empty: list[float] = []
        self.used = 0.0
        self.visit = ""
        self.known = 0
        self.core = ""

    def ask(self, method: str, path: str, body: object = None) -> dict:
        """One request, its answer read."""
        return json.loads(self.answer(method, path, body))

    def answer(self, method: str, path: str, body: object = None) -> bytes:
        """One request, its answer as it came: reading it takes this process's time, not the server's."""
        headers = {"Cookie": "; ".join(f"{name}={value}" for name, value in self.cookies.items())}
        headers |= {"Content-Type": "application/json", "X-CSRFToken": self.cookies.get("csrftoken", "")}
        sent = None if body is None else json.dumps(body)
        if time.monotonic() - self.used > KEPT_ALIVE_S:
            self.connection.close()
        self.connection.request(method, path, sent, headers)
        answer = self.connection.getresponse()
        self.used = time.monotonic()
        said = answer.read()
        for name, value in answer.getheaders():
            if name.lower() == "set-cookie":
                key, _, rest = value.partition("=")
                self.cookies[key] = rest.split(";")[0]
        if answer.status != 200:
            raise RuntimeError(f"{path}: {answer.status} {said[:200]!r}")
        return said

    def begin(self, entries: int = VISIT) -> Technician:
        """Sign in, start a visit, and have so many entries in it."""
        self.ask("GET", "/api/v1/session")
        people = self.ask("GET", "/api/v1/demo/people")
        self.ask("POST", "/api/v1/demo/session", {"person": next(p["id"] for p in people if p["role"] == "technician")})
        system = next(s["id"] for s in self.ask("GET", "/api/v1/day")["systems"] if s["kind"] == "furnace_with_coil")
        self.visit = str(uuid.uuid4())
        self.ask("POST", "/api/v1/visits", {"id": self.visit, "system": system})
        for first in range(0, entries, 500):
            self.send([self.reading(number) for number in range(first, min(first + 500, entries))])
        return self

    def core_there(self) -> str:
        """The server's core: whoever names it works the visit out itself."""
        return self.ask("GET", f"/api/v1/visits/{self.visit}")["core"]

    def reading(self, number: int) -> dict:
        """The next reading: both temperatures and humidities, at up to twelve points, as found and then as left."""
        place, humid = ("return", "supply")[number // 2 % 2], number % 2
        value = (50 if humid else 25 if place == "return" else 14) + self.draw.random()
        body = {
            "station": place,
            "quantity": "relative_humidity" if humid else "dry_bulb",
            "value": value,
            "unit": "percent" if humid else "degC",
            "point": 1 + number // 4 % 12,
        }
        phase = "as_left" if number > VISIT // 2 else "as_found"
        return {"id": str(uuid.uuid4()), "kind": "reading", "at": "2026-07-01T10:00:00+00:00", "body": body, "phase": phase}

    def send(self, entries: list[dict]) -> float:
        """Seconds until the whole answer is read, as a device asks for it: what came since."""
        begun = time.perf_counter()
        said = self.answer(
            "POST",
            f"/api/v1/visits/{self.visit}/entries",
            {"entries": entries, "after": self.known, "core": self.core, "weigh": False},
        )
        took = time.perf_counter() - begun
        number = re.search(rb'"number":(\d+)', said)
        if b'"refused":[]' not in said or number is None:
            raise RuntimeError(said[:300].decode())
        self.known = int(number[1])
        return took

    def run(self) -> None:
        """Read, with pauses."""
        for number in range(ENTRIES_EACH):
            time.sleep(self.draw.uniform(*PAUSE_S))
            self.seconds.append(self.send([self.reading(number)]))
            self.empty.append(self.timed("GET", "/api/v1/health"))

    def timed(self, method: str, path: str, body: object = None) -> float:
        """Seconds until the whole answer is read."""
        begun = time.perf_counter()
        self.answer(method, path, body)
        return time.perf_counter() - begun


def pace_ms() -> float:
    """A fixed piece of work, best of five [ms]: what the machine gives now. A shared one goes at half its speed for hours."""
    took = []
    for _ in range(5):
        begun = time.perf_counter()
        sum(number * number % 7 for number in range(300_000))
        took.append((time.perf_counter() - begun) * 1000)
    return min(took)


def paces_ms() -> tuple[float, float]:
    """Alone, and the slower of two at once [ms]: two processors that are halves of one give each half the speed then."""
    alone = pace_ms()
    with Pool(2) as pool:
        return alone, max(pool.map(_paced, range(2), chunksize=1))


def _paced(_: int) -> float:
    return pace_ms()


def share(values: list[float], part: float) -> float:
    """A percentile, in ms."""
    return sorted(values)[min(len(values) - 1, int(part * len(values)))] * 1000


IMPORT_S = 3.0
LINES = 100_000


def import_rows(port: int, environment: dict[str, str]) -> Iterator[Row]:
    """A file of 100,000 lines into a visit: seconds, and how the server's memory grows against a file of a tenth."""
    person = Technician(port, 0).begin(0)
    visit = person.visit
    bring_in(person, visit, LINES // 10, 0)
    small = peak_mb(environment)
    seconds, told = bring_in(person, visit, LINES, 1)
    large = peak_mb(environment)
    said = f"{seconds:.2f} s of {IMPORT_S:.0f} s, {told['added']:,} values"
    yield Row("import of a 100,000-line logger file", seconds / IMPORT_S, 1.0, said)
    yield Row("peak memory after 100,000 / after 10,000 lines", large / small, 1.15, f"{large:.0f} MB / {small:.0f} MB")


def bring_in(person: Technician, visit: str, lines: int, day: int) -> tuple[float, dict]:
    """Send a file; seconds until it is in, and what the server said last."""
    rows = ["time,Return temp (C)"]
    rows += [
        f"2026-07-{1 + day + n // 86_400:02d} {n // 3600 % 24:02d}:{n // 60 % 60:02d}:{n % 60:02d},{24 + n % 10 / 10}"
        for n in range(lines)
    ]
    column = {"index": 1, "quantity": "dry_bulb", "unit": "degC", "station": "return"}
    mapping = {"time_columns": [0], "time_format": "iso", "columns": [column]}
    mark = uuid.uuid4().hex
    parts = [
        f'--{mark}\r\nContent-Disposition: form-data; name="{name}"\r\n\r\n{value}\r\n'
        for name, value in (("mapping", json.dumps(mapping)), ("mode", "all"))
    ]
    head = f'--{mark}\r\nContent-Disposition: form-data; name="file"; filename="log.csv"\r\nContent-Type: text/csv\r\n\r\n'
    body = ("".join(parts) + head + "\n".join(rows) + f"\r\n--{mark}--\r\n").encode()
    headers = {
        "Cookie": "; ".join(f"{name}={value}" for name, value in person.cookies.items()),
        "Content-Type": f"multipart/form-data; boundary={mark}",
        "X-CSRFToken": person.cookies["csrftoken"],
    }
    begun = time.perf_counter()
    person.connection.request("POST", f"/api/v1/visits/{visit}/logger-files", body, headers)
    said = person.connection.getresponse().read().decode().strip().splitlines()
    told = json.loads(said[-1])
    if told.get("event") != "done":
        raise RuntimeError(f"import: {told}")
    return time.perf_counter() - begun, told


def peak_mb(environment: dict[str, str]) -> float:
    """The largest memory any of the server's processes ever had, in MB; they are told apart by their database."""
    most = 0.0
    for status in Path("/proc").glob("[0-9]*/status"):
        try:
            if environment["FENTRO_DATABASE_URL"].encode() not in (status.parent / "environ").read_bytes():
                continue
            if (
                b"fentro_server.workers" not in (status.parent / "cmdline").read_bytes()
                and b"spawn_main" not in (status.parent / "cmdline").read_bytes()
            ):
                continue
            line = next(line for line in status.read_text().splitlines() if line.startswith("VmHWM"))
        except (OSError, StopIteration):
            continue
        most = max(most, int(line.split()[1]) / 1024)
    return most


def long_visit_rows(port: int) -> Iterator[Row]:
    """An entry in a visit of 5,000 entries against one in a visit of 300, and the day sheet of sixty open visits."""
    short, long = Technician(port, 101).begin(), Technician(port, 102).begin(LONG_VISIT)
    for person in (short, long):
        person.seconds = [person.send([person.reading(number)]) for number in range(40)]
    few, many = share(short.seconds, 0.5), share(long.seconds, 0.5)
    yield Row("entry in a visit of 5,000 / of 300 entries, medians", many / few, 1.5, f"{many:.1f} ms / {few:.1f} ms")
    for seed in range(200, 260 - CLIENTS):
        Technician(port, seed).begin()
    day = [short.timed("GET", "/api/v1/day") for _ in range(15)]
    said = f"{share(day, 0.5):.0f} ms of {DAY_MS:.0f} ms, {len(short.ask('GET', '/api/v1/day')['open'])} visits"
    yield Row("day sheet of 60 open visits of 300 entries", share(day, 0.5) / DAY_MS, 1.0, said)


REPORT_S = 3.0


def report_rows(port: int) -> Iterator[Row]:
    """The report of a visit of 300 entries, as a page and as PDF; the first PDF of a worker brings the library in."""
    person = Technician(port, 103).begin()
    base = f"/api/v1/visits/{person.visit}/report"
    for _ in range(3):
        person.timed("GET", f"{base}/pdf")
    pdf = share([person.timed("GET", f"{base}/pdf") for _ in range(3)], 0.5) / 1000
    page = share([person.timed("GET", f"{base}/page") for _ in range(3)], 0.5)
    yield Row("PDF of a visit of 300 entries", pdf / REPORT_S, 1.0, f"{pdf:.2f} s of {REPORT_S:.0f} s; the page {page:.0f} ms")


DAY_MS = 150.0
LIST_MS = 250.0
VISITS = 1_000_000

MANY_SYSTEMS = """
insert into places_system (id, company_id, site_id, name, kind, location, nameplate)
select gen_random_uuid(), company_id, site_id, 'Unit ' || n, kind, location, nameplate
from (select * from places_system where kind = 'furnace_with_coil' limit 1) as one, generate_series(1, 20000) as n
"""
MANY_VISITS = """
insert into visits_visit (id, company_id, system_id, technician_id, purpose, practice, opened_at, closed_at, entries_number,
  chain, line, line_number, line_stands_on)
select gen_random_uuid(), one.company_id, systems.id, one.technician_id, 'Yearly', false, now() - n * interval '4 minutes',
  case when n %% 50 = 0 then null else now() - n * interval '3 minutes' end, 0, '', one.line, 0, one.line_stands_on
from (select * from visits_visit where line is not null limit 1) as one, generate_series(1, %(visits)s) as n,
  lateral (select id from places_system where name = 'Unit ' || (1 + n %% 20000)) as systems
"""


def many_visits_row(port: int, cluster: Cluster) -> Iterator[Row]:
    """Every list with a million visits at twenty thousand systems."""
    with psycopg.connect(cluster.url, autocommit=True) as connection:
        connection.execute(MANY_SYSTEMS)
        connection.execute("create index bench_names on places_system (name)")
        connection.execute(MANY_VISITS, {"visits": VISITS})
        connection.execute("drop index bench_names")
        connection.execute("analyze")
        row = connection.execute("select id from places_system where name = 'Unit 7'").fetchone()
    person = Technician(port, 300)
    person.ask("GET", "/api/v1/session")
    people = person.ask("GET", "/api/v1/demo/people")
    person.ask("POST", "/api/v1/demo/session", {"person": next(p["id"] for p in people if p["role"] == "lead")})
    first = person.ask("GET", "/api/v1/day")
    paths = {
        "day": "/api/v1/day",
        "open, next page": f"/api/v1/visits?which=open&before={first['more_open'].replace('+', '%2B')}",
        "systems, next page": f"/api/v1/systems?after={first['more_systems']}",
        "systems by words": "/api/v1/systems?words=unit%20777",
        "system": f"/api/v1/systems/{row[0] if row else ''}",
        "its history": f"/api/v1/systems/{row[0] if row else ''}/history",
        "temporary": "/api/v1/temporary",
        "search, a word of every visit": "/api/v1/search?words=yearly",
        "search, a word of none": "/api/v1/search?words=zebra",
        "search, a unit": "/api/v1/search?words=unit%20777",
        "the week": "/api/v1/week",
        "who did what": "/api/v1/audit",
    }
    took = {}
    for name, path in paths.items():
        person.ask("GET", path)
        took[name] = share([person.timed("GET", path) for _ in range(5)], 0.5)
    worst = max(took, key=lambda name: took[name])
    said = f"{worst}: {took[worst]:.0f} ms of {LIST_MS:.0f} ms; " + ", ".join(f"{name} {ms:.0f}" for name, ms in took.items())
    yield Row("the slowest list with 1,000,000 visits", took[worst] / LIST_MS, 1.0, said)


STREAMS = 200
OPENING_S = 4.0
"""Until all of them are open; pictures count from then on."""
WATCHED_S = 12.0


async def _watched(port: int, asked: list[tuple[str, str]]) -> list[int]:
    """Pictures that came to each stream."""

    async def one(visit: str, cookie: str) -> int:
        reader, writer = await asyncio.open_connection("127.0.0.1", port)
        writer.write(f"GET /api/v1/visits/{visit}/live HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: {cookie}\r\n\r\n".encode())
        count, rest, begun = 0, b"", time.monotonic()
        while (now := time.monotonic()) < begun + OPENING_S + WATCHED_S:
            rest = rest[-14:] + await reader.read(65_536)
            count += rest.count(b"event: picture\n") if now > begun + OPENING_S else 0
        writer.close()
        return count

    return list(await asyncio.gather(*(one(visit, cookie) for visit, cookie in asked)))


def _watch(port: int, asked: list[tuple[str, str]], told: Any) -> None:
    told.send(asyncio.run(_watched(port, asked)))


def stream_rows(port: int, people: list[Technician]) -> Iterator[Row]:
    """Two hundred live streams on two workers, read by another process: pictures a second each, while twenty people enter."""
    cookies = {person: "; ".join(f"{name}={value}" for name, value in person.cookies.items()) for person in people}
    asked = [(people[number % len(people)].visit, cookies[people[number % len(people)]]) for number in range(STREAMS)]
    here, there = Pipe()
    watching = Process(target=_watch, args=(port, asked, there))
    watching.start()
    time.sleep(OPENING_S)
    seconds = []
    for number in range(4):
        for person in people:
            time.sleep(0.08)
            seconds.append(person.send([person.reading(number)]))
    counts = here.recv()
    watching.join()
    slowest, p95 = min(counts) / WATCHED_S, share(seconds, 0.95)
    said = f"{slowest:.1f} a second"
    yield Row("pictures a second asked for / given to the slowest of 200 streams", 2.0 / max(slowest, 0.01), 1.0, said)
    said = f"{p95:.0f} ms of {BUDGET_MS:.0f} ms"
    yield Row("entry, worked out by the device, beside 200 streams, 95th percentile", p95 / BUDGET_MS, 1.0, said)


def _alone(port: int) -> Row:
    """The same for devices that work their visit out themselves, as the interface does once the core runs there."""
    people = [Technician(port, 100 + seed).begin() for seed in range(CLIENTS)]
    for person in people:
        person.core = person.core_there()
        person.start()
    for person in people:
        person.join()
    entries = [value for person in people for value in person.seconds]
    p95, middle = share(entries, 0.95), share(entries, 0.5)
    said = f"p95 {p95:.0f} ms of {BUDGET_MS:.0f} ms, median {middle:.0f} ms: committed and answered with what came"
    return Row("the same where the device works it out itself, 95th percentile", p95 / BUDGET_MS, 1.0, said)


def rows() -> Iterator[Row]:
    """The rows of the server; about five minutes."""
    alone, both = paces_ms()
    with Cluster(f"bench-{os.getpid()}", throwaway=True, durable=True) as cluster:
        devices = Devices(DATA, "bench-")
        environment = serving.demo_environment(cluster, **devices.environment)
        serving.bring_up_to_date(cluster, environment)
        serving.manage(environment, "load_demo")
        port = serving.free_port()
        devices.start()
        server = serving.start_server(environment, port, DATA / "bench-server.log", "--workers", "2")
        lines = serving.start_lines(environment, DATA / "bench-lines.log")
        try:
            people = [Technician(port, seed).begin() for seed in range(CLIENTS)]
            for person in people:
                person.start()
            for person in people:
                person.join()
            entries = [value for person in people for value in person.seconds]
            empty = [value for person in people for value in person.empty]
            yield _alone(port)
            p95, middle, nothing = share(entries, 0.95), share(entries, 0.5), share(empty, 0.5)
            said = f"p95 {p95:.0f} ms of {BUDGET_MS:.0f} ms, median {middle:.0f} ms, {len(entries)} entries of {CLIENTS} people"
            said += f"; the machine's fixed piece of work: {alone:.0f} ms, two at once {both:.0f} ms each"
            yield Row("entry to new work-up, visits of 300 entries, 95th percentile", p95 / BUDGET_MS, 1.0, said)
            yield Row("entry to new work-up / empty view, medians", middle / nothing, 20.0, f"{middle:.1f} ms / {nothing:.1f} ms")
            for person in people:
                person.core = person.core_there()
            yield from stream_rows(port, people)
            yield from long_visit_rows(port)
            yield from report_rows(port)
            yield from import_rows(port, environment)
            yield from many_visits_row(port, cluster)
        finally:
            children.end(server)
            children.end(lines)
            devices.end()

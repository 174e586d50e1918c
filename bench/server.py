"""The server under 20 technicians: time from an entry to its new work-up, against the budget and an empty view."""

from __future__ import annotations

import http.client
import json
import os
import random
import threading
import time
import uuid
from collections.abc import Iterator
from pathlib import Path

from bench.report import Row
from tools import children, serving
from tools.postgres import Cluster
from tools.setup import DATA

CLIENTS = 20
ENTRIES_EACH = 20
PAUSE_S = (1.0, 3.0)
"""Between two entries of one technician: brisk, quicker than a probe settles."""
BUDGET_MS = 60.0


class Technician(threading.Thread):
    """One person with a connection of their own, adding readings to a visit of their own."""

    def __init__(self, port: int, seed: int) -> None:
        super().__init__()
        self.connection = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
        self.cookies: dict[str, str] = {}
        self.draw = random.Random(seed)
        self.seconds: list[float] = []
        self.empty: list[float] = []

    def ask(self, method: str, path: str, body: object = None) -> dict:
        """One request."""
        headers = {"Cookie": "; ".join(f"{name}={value}" for name, value in self.cookies.items())}
        headers |= {"Content-Type": "application/json", "X-CSRFToken": self.cookies.get("csrftoken", "")}
        self.connection.request(method, path, None if body is None else json.dumps(body), headers)
        answer = self.connection.getresponse()
        said = answer.read()
        for name, value in answer.getheaders():
            if name.lower() == "set-cookie":
                key, _, rest = value.partition("=")
                self.cookies[key] = rest.split(";")[0]
        if answer.status != 200:
            raise RuntimeError(f"{path}: {answer.status} {said[:200]!r}")
        return json.loads(said)

    def run(self) -> None:
        """Sign in, start a visit, read."""
        self.ask("GET", "/api/v1/session")
        people = self.ask("GET", "/api/v1/demo/people")
        self.ask("POST", "/api/v1/demo/session", {"person": next(p["id"] for p in people if p["role"] == "technician")})
        system = next(s["id"] for s in self.ask("GET", "/api/v1/day")["systems"] if s["kind"] == "furnace_with_coil")
        visit = str(uuid.uuid4())
        self.ask("POST", "/api/v1/visits", {"id": visit, "system": system})
        for number in range(ENTRIES_EACH):
            time.sleep(self.draw.uniform(*PAUSE_S))
            place, humid = ("return", "supply")[number // 2 % 2], number % 2
            value = (50 if humid else 25 if place == "return" else 14) + self.draw.random()
            body = {
                "station": place,
                "quantity": "relative_humidity" if humid else "dry_bulb",
                "value": value,
                "unit": "percent" if humid else "degC",
                "point": 1 + number // 4,
            }
            entry = {"id": str(uuid.uuid4()), "kind": "reading", "at": "2026-07-01T10:00:00+00:00", "body": body}
            self.seconds.append(self.timed("POST", f"/api/v1/visits/{visit}/entries", {"entries": [entry]}))
            self.empty.append(self.timed("GET", "/api/v1/health"))

    def timed(self, method: str, path: str, body: object = None) -> float:
        """Seconds until the whole answer is read."""
        begun = time.perf_counter()
        self.ask(method, path, body)
        return time.perf_counter() - begun


def share(values: list[float], part: float) -> float:
    """A percentile, in ms."""
    return sorted(values)[min(len(values) - 1, int(part * len(values)))] * 1000


IMPORT_S = 3.0
LINES = 100_000


def import_rows(port: int, environment: dict[str, str]) -> Iterator[Row]:
    """A file of 100,000 lines into a visit: seconds, and how the server's memory grows against a file of a tenth."""
    person = Technician(port, 0)
    person.ask("GET", "/api/v1/session")
    people = person.ask("GET", "/api/v1/demo/people")
    person.ask("POST", "/api/v1/demo/session", {"person": next(p["id"] for p in people if p["role"] == "technician")})
    system = next(s["id"] for s in person.ask("GET", "/api/v1/day")["systems"] if s["kind"] == "furnace_with_coil")
    visit = str(uuid.uuid4())
    person.ask("POST", "/api/v1/visits", {"id": visit, "system": system})
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
                b"fentro_server.asgi" not in (status.parent / "cmdline").read_bytes()
                and b"spawn_main" not in (status.parent / "cmdline").read_bytes()
            ):
                continue
            line = next(line for line in status.read_text().splitlines() if line.startswith("VmHWM"))
        except (OSError, StopIteration):
            continue
        most = max(most, int(line.split()[1]) / 1024)
    return most


def rows() -> Iterator[Row]:
    """The row of the server; about 45 seconds."""
    with Cluster(f"bench-{os.getpid()}", throwaway=True, durable=True) as cluster:
        environment = serving.demo_environment(cluster)
        serving.manage(environment, "migrate", "-v", "0")
        serving.manage(environment, "load_demo")
        port = serving.free_port()
        server = serving.start_server(environment, port, DATA / "bench-server.log", "--workers", "2")
        try:
            people = [Technician(port, seed) for seed in range(CLIENTS)]
            for person in people:
                person.start()
            for person in people:
                person.join()
            yield from import_rows(port, environment)
        finally:
            children.end(server)
    entries = [value for person in people for value in person.seconds]
    empty = [value for person in people for value in person.empty]
    p95, middle, nothing = share(entries, 0.95), share(entries, 0.5), share(empty, 0.5)
    said = f"p95 {p95:.0f} ms of {BUDGET_MS:.0f} ms, median {middle:.0f} ms, {len(entries)} entries of {CLIENTS} people"
    yield Row("entry to new work-up, 95th percentile", p95 / BUDGET_MS, 1.0, said)
    yield Row("entry to new work-up / empty view, medians", middle / nothing, 20.0, f"{middle:.1f} ms / {nothing:.1f} ms")

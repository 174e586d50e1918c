"""kill -9 of the server and of PostgreSQL in the middle of a stream of entries: what was acknowledged is there, once."""

from __future__ import annotations

import http.client
import http.cookiejar
import json
import os
import threading
import time
import urllib.error
import urllib.request
import uuid
from pathlib import Path
from typing import Any

import pytest

from tools import children, serving
from tools.postgres import Cluster

STREAM = 120
"""Entries sent, one by one, while plugs are pulled."""


class Device:
    """Sends entries like the interface does: again and again until acknowledged."""

    def __init__(self) -> None:
        self.base = ""
        jar = http.cookiejar.CookieJar()
        self.cookies = jar
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
        self.acknowledged: list[str] = []

    def ask(self, path: str, body: Any = None) -> Any:
        """One request; the answer as JSON."""
        token = next((cookie.value for cookie in self.cookies if cookie.name == "csrftoken"), "")
        headers = {"Content-Type": "application/json", "X-CSRFToken": token or ""}
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(self.base + path, data=data, headers=headers)
        with self.opener.open(request, timeout=10) as answer:
            return json.load(answer)

    def send_all(self, visit: str) -> None:
        """The stream: every third entry is sent twice although it was acknowledged."""
        for number in range(STREAM):
            body = {"step": "measure", "text": f"entry {number}"}
            entry = {"id": str(uuid.uuid4()), "kind": "note", "at": "2026-07-01T10:00:00+00:00", "body": body}
            self.send(visit, entry)
            if number % 3 == 0:
                self.send(visit, entry)

    def send(self, visit: str, entry: dict[str, Any]) -> None:
        """Until it is acknowledged."""
        deadline = time.monotonic() + 60
        while time.monotonic() < deadline:
            try:
                receipt = self.ask(f"/api/v1/visits/{visit}/entries", {"entries": [entry]})
            except (urllib.error.URLError, OSError, http.client.HTTPException):
                time.sleep(0.05)
                continue
            assert receipt["accepted"] == [entry["id"]]
            self.acknowledged.append(entry["id"])
            return
        raise AssertionError("never acknowledged")


@pytest.mark.xdist_group("plug")
def test_every_acknowledged_entry_survives_and_none_is_doubled(tmp_path: Path) -> None:
    log = tmp_path / "log"
    with Cluster(f"plug-{os.getpid()}", throwaway=True, durable=True) as cluster:
        environment = serving.demo_environment(cluster)
        serving.bring_up_to_date(cluster, environment)
        serving.manage(environment, "load_demo")
        port = serving.free_port()
        server = serving.start_server(environment, port, log)
        try:
            device = Device()
            device.base = f"http://127.0.0.1:{port}"
            device.ask("/api/v1/session")
            oona = next(each for each in device.ask("/api/v1/demo/people") if each["name"].startswith("Oona"))
            device.ask("/api/v1/demo/session", {"person": oona["id"]})
            visit = str(uuid.uuid4())
            device.ask("/api/v1/visits", {"id": visit, "system": device.ask("/api/v1/day")["systems"][0]["id"]})
            stream = threading.Thread(target=device.send_all, args=(visit,))
            stream.start()
            for what in ("server", "database", "both"):
                wait_for(device, len(device.acknowledged) + 15)
                if what != "database":
                    server.kill()
                    server.wait()
                if what != "server":
                    cluster.kill()
                    cluster.start()
                    environment = serving.demo_environment(cluster)
                    children.end(server)
                server = serving.start_server(environment, port, log)
            stream.join(90)
            assert not stream.is_alive()
            entries = device.ask(f"/api/v1/visits/{visit}")["entries"]
        finally:
            children.end(server)
    found = [entry["id"] for entry in entries]
    assert len(found) == len(set(found)) == STREAM
    assert set(device.acknowledged) == set(found)


def wait_for(device: Device, count: int) -> None:
    deadline = time.monotonic() + 30
    while len(device.acknowledged) < min(count, STREAM) and time.monotonic() < deadline:
        time.sleep(0.02)

"""A gateway written from docs/controller.md alone, which can be made to misbehave in every way a real one may."""

from __future__ import annotations

import http.server
import json
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

SHOWN = {
    "outdoor_temperature": 13.5,
    "outdoor_humidity": 0.6,
    "return_temperature": 23.5,
    "return_humidity": 0.5,
    "mixed_temperature": 21.5,
    "supply_temperature": 20.0,
    "room_temperature": 23.0,
    "building_pressure": 2.0,
    "cooling_setpoint": 24.0,
    "heating_setpoint": 20.0,
    "occupied": 1.0,
    "damper_command": 0.2,
    "damper_position": 0.2,
    "compressor": 0.0,
    "heating": 0.0,
    "fan": 1.0,
    "relief": 0.0,
}


SILENCE = 0
"""Instead of a status: the connection closes without an answer."""


class OddGateway:
    """One unit, RTU-1, that stands still. `takes`: held as told; `lets_go`: released as told, the how manieth time it is asked;
    `says`: status and body for a method and path, instead of the right answer.
    """

    def __init__(self) -> None:
        self.held: dict[str, float] = {}
        self.configuration: Any = {"format": "fentro.economizer", "version": 1, "model": "NR-1"}
        self.takes: Callable[[str], bool] = lambda point: True
        self.lets_go_after = 1
        self.says: dict[tuple[str, str], tuple[int, bytes]] = {}
        self.changed: Callable[[dict[str, Any]], Any] = lambda points: points
        self.asked: list[tuple[str, str]] = []
        self.released: dict[str, int] = {}

    def answer(self, method: str, path: str, given: Any) -> tuple[int, bytes]:
        """The protocol, or what a test wants instead."""
        self.asked.append((method, path))
        short = path.removeprefix("/v1/units/RTU-1")
        if (method, short) in self.says:
            return self.says[method, short]
        if path == "/v1/units":
            return said({"units": [{"unit": "RTU-1", "model": "NR-1", "simulated": False}]})
        if not path.startswith("/v1/units/RTU-1/"):
            return 404, b"{}"
        return self._of_unit(method, short, given)

    def _of_unit(self, method: str, short: str, given: Any) -> tuple[int, bytes]:
        if short == "/points":
            points = {
                **SHOWN,
                **self.held,
                "mode": "minimum",
                "alarm": "",
                "time_s": time.monotonic(),
                "overridden": sorted(self.held),
            }
            return said({"points": self.changed(points)})
        if short == "/alarms":
            return said({"alarms": []})
        if short == "/configuration":
            self.configuration = given if method == "PUT" else self.configuration
            return said(self.configuration)
        if short.startswith("/overrides/"):
            return self._override(method, short.removeprefix("/overrides/"), given)
        return 404, b"{}"

    def _override(self, method: str, point: str, given: Any) -> tuple[int, bytes]:
        if method == "DELETE":
            self.released[point] = self.released.get(point, 0) + 1
            if self.released[point] >= self.lets_go_after:
                self.held.pop(point, None)
            return 204, b""
        if point not in SHOWN or not -40 <= given["value"] <= (1 if point == "damper_command" else 60):
            return 422, json.dumps({"detail": "There is no such point or value.", "path": "value"}).encode()
        if self.takes(point):
            self.held[point] = given["value"]
        return said({"held": point})


def said(what: Any, status: int = 200) -> tuple[int, bytes]:
    """An answer in JSON."""
    return status, json.dumps(what).encode()


@contextmanager
def odd_gateway(given: OddGateway | None = None) -> Iterator[tuple[OddGateway, str]]:
    """The gateway and its address."""
    gateway = given or OddGateway()

    class Answers(http.server.BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            size = int(self.headers.get("Content-Length") or 0)
            given = json.loads(self.rfile.read(size)) if size else None
            status, body = gateway.answer(self.command, self.path.partition("?")[0], given)
            if status == SILENCE:
                self.close_connection = True
                return
            self.send_response(status)
            self.send_header("Content-Length", str(len(body)))
            self.end_headers()
            self.wfile.write(body)

        do_PUT = do_POST = do_DELETE = do_GET  # noqa: N815

        def log_message(self, *_: Any) -> None:
            """Quiet."""

    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Answers)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield gateway, f"http://127.0.0.1:{server.server_port}"
    finally:
        server.shutdown()
        server.server_close()

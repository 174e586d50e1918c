"""How much a request may bring: refused by its route before it is read, signed in or not."""

from __future__ import annotations

import gzip
import json
from typing import Any

import pytest

from fentro_server.bounds import MB, ORDINARY, Bounded
from tests.server.apart import in_a_loop
from tests.server.conftest import House, signed_in

SIGNED = [(b"cookie", b"csrftoken=x; sessionid=abc")]


def asked(path: str, parts: list[bytes], headers: list[tuple[bytes, bytes]]) -> tuple[list[dict[str, Any]], int]:
    """What was sent, and how much the application had been given."""
    sent: list[dict[str, Any]] = []
    read = 0

    async def app(scope: Any, receive: Any, send: Any) -> None:
        nonlocal read
        while True:
            message = await receive()
            read += len(message["body"])
            if not message["more_body"]:
                break
        await send({"type": "http.response.start", "status": 200, "headers": []})

    async def run() -> None:
        waiting = [{"type": "http.request", "body": part, "more_body": True} for part in parts]
        waiting.append({"type": "http.request", "body": b"", "more_body": False})

        async def receive() -> Any:
            return waiting.pop(0)

        async def send(message: Any) -> None:
            sent.append(message)

        await Bounded(app)({"type": "http", "path": path, "headers": headers}, receive, send)

    in_a_loop(run)
    return sent, read


def length(much: int) -> tuple[bytes, bytes]:
    return b"content-length", str(much).encode()


VISIT = "/api/v1/visits/5a/"


@pytest.mark.parametrize(
    ("path", "much", "headers", "status"),
    [
        ("/api/v1/session", ORDINARY, [], 200),
        ("/api/v1/session", ORDINARY + 1, [], 413),
        ("/api/v1/session", ORDINARY + 1, SIGNED, 413),
        (f"{VISIT}entries", 4 * MB, SIGNED, 200),
        (f"{VISIT}entries", 4 * MB + 1, SIGNED, 413),
        (f"{VISIT}entries", 4 * MB, [], 413),
        (f"{VISIT}logger-files", 60 * MB, SIGNED, 200),
        (f"{VISIT}logger-files", 65 * MB, SIGNED, 413),
        (f"{VISIT}logger-files/look", 60 * MB, [], 413),
    ],
)
def test_each_route_has_its_own_measure(path: str, much: int, headers: Any, status: int) -> None:
    sent, read = asked(path, [b"x"], [*headers, length(much)])
    assert sent[0]["status"] == status
    if status == 413:
        assert read == 0
        said = json.loads(sent[1]["body"])
        assert "too large" in said["detail"]
        assert said["refusals"][0]["sentence"]["text"] == said["detail"]


def test_what_does_not_say_how_much_it_brings_is_counted() -> None:
    sent, read = asked("/api/v1/session", [b"x" * 1024] * 100, [])
    assert sent[0]["status"] == 413
    assert read <= ORDINARY
    sent, read = asked("/api/v1/session", [b"x" * 1024] * 10, [])
    assert (sent[0]["status"], read) == (200, 10_240)


@pytest.mark.parametrize("said", [b"many", b"-1", b"9" * 30, b""])
def test_a_length_that_is_none_is_refused(said: bytes) -> None:
    sent, _ = asked("/api/v1/session", [], [(b"content-length", said)])
    assert sent[0]["status"] == 413


def test_a_large_answer_is_compressed_where_that_is_taken_and_small_ones_are_not(ours: House) -> None:
    client = signed_in(ours.people["technician"])
    path = f"/api/v1/visits/{ours.visit.pk}"
    plain = client.get(path)
    assert not plain.has_header("Content-Encoding")
    packed = client.get(path, headers={"accept-encoding": "gzip, br"})
    assert packed["Content-Encoding"] == "gzip"
    assert "Accept-Encoding" in packed["Vary"]
    assert int(packed["Content-Length"]) == len(packed.content) < len(plain.content) / 2
    assert json.loads(gzip.decompress(packed.content)) == plain.json()
    assert not client.get("/api/v1/colleagues", headers={"accept-encoding": "gzip"}).has_header("Content-Encoding")

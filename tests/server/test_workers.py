"""Each worker's own socket: connections are dealt out, and a taken address is refused."""

from __future__ import annotations

import contextlib
import select
import socket

import pytest
from uvicorn import Config
from uvicorn.config import STARTUP_FAILURE

from fentro_server import workers
from tools.postgres import free_port

HERE = "127.0.0.1"


def test_the_kernel_deals_connections_out_to_every_socket() -> None:
    port = free_port()
    with contextlib.ExitStack() as stack:
        own = [stack.enter_context(each) for each in workers.sockets(HERE, port, 2)]
        for each in own:
            each.listen(100)
        for _ in range(64):
            stack.enter_context(socket.create_connection((HERE, port)))
        came = dict.fromkeys(own, 0)
        while ready := select.select(own, [], [], 0.2)[0]:
            for each in ready:
                stack.enter_context(each.accept()[0])
                came[each] += 1
    assert sum(came.values()) == 64
    assert min(came.values()) > 8, "by chance under once in ten thousand millions"


@pytest.mark.parametrize("shares", [False, True])
def test_an_address_that_is_taken_is_refused_also_by_one_that_would_share_it(
    shares: bool, capsys: pytest.CaptureFixture[str]
) -> None:
    with socket.socket() as other:
        if shares:
            other.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEPORT, 1)
        other.bind((HERE, 0))
        other.listen()
        port = other.getsockname()[1]
        with pytest.raises(OSError, match="in use"):
            workers.sockets(HERE, port, 2)
        with pytest.raises(SystemExit) as ended:
            workers.main(["--port", str(port), "--workers", "2"])
    assert ended.value.code == STARTUP_FAILURE
    assert f"port {port}: Address already in use" in capsys.readouterr().err


def test_each_worker_is_started_with_its_own_socket(monkeypatch: pytest.MonkeyPatch) -> None:
    given: list[list[socket.socket]] = []

    class Noted:
        def __init__(self, config: Config, own: list[socket.socket]) -> None:
            given.append(own)

        def start(self) -> None:
            pass

    monkeypatch.setattr(workers, "Process", Noted)
    monkeypatch.setattr("signal.signal", lambda *_: None)
    with contextlib.ExitStack() as stack:
        own = [stack.enter_context(each) for each in workers.sockets(HERE, free_port(), 3)]
        workers.Dealt(Config(workers.APPLICATION, workers=3), sockets=own).init_processes()
    assert given == [[each] for each in own]

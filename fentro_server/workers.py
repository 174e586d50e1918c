"""uvicorn with a listening socket for each worker: `python -m fentro_server.workers --port 8000 --workers 2`.

Workers that share one socket take connections as they happen to wake: of twenty technicians nineteen came to the first, and one
processor stood idle. With a socket each the kernel deals connections out by their addresses.
"""

from __future__ import annotations

import argparse
import socket
import sys
from collections.abc import Sequence

from uvicorn import Config, Server
from uvicorn.config import STARTUP_FAILURE
from uvicorn.supervisors import Multiprocess
from uvicorn.supervisors.multiprocess import Process

APPLICATION = "fentro_server.asgi:application"

KEPT_ALIVE_S = 75
"""How long a connection at rest is kept: longer than proxies and most browsers keep theirs, so that none is closed under a
request, and a technician stays with the worker that has the visit read."""


class Dealt(Multiprocess):
    """A worker for each socket. One that takes a dead worker's place listens at all of them: no connection is left waiting."""

    def init_processes(self) -> None:
        """Start them, each with its own."""
        for own in self.sockets:
            process = Process(self.config, [own])
            process.start()
            self.processes.append(process)


def sockets(host: str, port: int, count: int) -> list[socket.socket]:
    """So many sockets at one address, bound.

    Raises
    ------
    OSError
        The address is taken, also by a program that would share it.
    """
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    with socket.socket(family) as alone:
        alone.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        alone.bind((host, port))
    found = []
    for _ in range(count):
        one = socket.socket(family)
        one.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        one.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEPORT, 1)
        one.bind((host, port))
        one.set_inheritable(True)
        found.append(one)
    return found


def main(words: Sequence[str]) -> int:
    """Serve until told to end."""
    parser = argparse.ArgumentParser(prog="fentro_server.workers", description=__doc__)
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--port", type=int, default=8000)
    parser.add_argument("--workers", type=int, default=1)
    parser.add_argument("--log-level", default="info")
    parser.add_argument("--ends-within", type=int, default=5, help="seconds that open requests are given at the end")
    parser.add_argument("--proxies", default="127.0.0.1", help="addresses whose forwarded headers are believed")
    given = parser.parse_args(words)
    config = Config(
        APPLICATION,
        host=given.host,
        port=given.port,
        workers=given.workers,
        log_level=given.log_level,
        server_header=False,
        proxy_headers=True,
        forwarded_allow_ips=given.proxies,
        timeout_keep_alive=KEPT_ALIVE_S,
        timeout_graceful_shutdown=given.ends_within,
    )
    if given.workers > 1:
        try:
            bound = sockets(given.host, given.port, given.workers)
        except OSError as trouble:
            parser.exit(STARTUP_FAILURE, f"{given.host}, port {given.port}: {trouble.strerror}\n")
        Dealt(config, sockets=bound).run()
        return 0
    server = Server(config)
    server.run()
    return 0 if server.started else STARTUP_FAILURE


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))

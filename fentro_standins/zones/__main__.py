"""``python -m fentro_standins.zones --port 8048``: the simulated zone boards, on loopback only."""

from __future__ import annotations

import argparse

import uvicorn

from fentro_standins.zones.service import application


def main() -> None:
    """Serve until ended."""
    parser = argparse.ArgumentParser(prog="python -m fentro_standins.zones", description=__doc__)
    parser.add_argument("--port", type=int, default=8048)
    given = parser.parse_args()
    uvicorn.run(
        application(), host="127.0.0.1", port=given.port, log_level="warning", server_header=False, timeout_graceful_shutdown=1
    )


main()

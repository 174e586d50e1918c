"""Runs the server for the demo and for development."""

from __future__ import annotations

import os
import secrets
import subprocess
import time
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

from tools import children
from tools.postgres import SERVICE, Cluster, free_port
from tools.say import Trouble
from tools.setup import DATA, PYTHON, ROOT

DEFAULT_PORT = 8040


def demo_key() -> str:
    """The demo's secret key, made at first start, never committed."""
    kept = DATA / "demo.key"
    if not kept.exists():
        with os.fdopen(os.open(kept, os.O_WRONLY | os.O_CREAT, 0o600), "w") as handle:
            handle.write(secrets.token_urlsafe(60))
    return kept.read_text().strip()


def demo_environment(cluster: Cluster, **more: str) -> dict[str, str]:
    """What the demo's processes need to know."""
    return {
        **os.environ,
        "DJANGO_SETTINGS_MODULE": "fentro_server.settings.demo",
        "FENTRO_SECRET_KEY": demo_key(),
        "FENTRO_DATABASE_URL": cluster.service_url,
        **more,
    }


def bring_up_to_date(cluster: Cluster, environment: dict[str, str]) -> None:
    """Tables by their owner; then what the role that serves may do with them."""
    as_owner = {**environment, "FENTRO_DATABASE_URL": cluster.url}
    manage(as_owner, "migrate", "-v", "0")
    manage(as_owner, "grant_service", SERVICE)


def manage(environment: dict[str, str], *words: str) -> None:
    """Run one of Django's commands to its end."""
    done = subprocess.run(
        [str(PYTHON), "manage.py", *words], cwd=ROOT, env=environment, capture_output=True, text=True, check=False
    )
    if done.returncode != 0:
        raise Trouble(f"{' '.join(words)} failed:\n\n{(done.stdout + done.stderr).strip()[-2000:]}")


def choose_port(asked: int | None) -> int:
    """The asked-for port or a sentence; otherwise the usual one, or the next free one."""
    if asked is None:
        return free_port(DEFAULT_PORT)
    if free_port(asked) != asked:
        raise Trouble(f"Port {asked} is taken by another program. Choose another with --port, or leave it out.")
    return asked


def answers(url: str, process: subprocess.Popen[Any], seconds: float = 40) -> bool:
    """Wait until a process answers; False when it ended, or does not in time."""
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline and process.poll() is None:
        try:
            with urllib.request.urlopen(url, timeout=2):
                return True
        except (urllib.error.URLError, OSError):
            time.sleep(0.1)
    return False


def start_server(environment: dict[str, str], port: int, log: Path, *words: str) -> subprocess.Popen[Any]:
    """Start uvicorn on loopback and wait until it and its database answer."""
    command = [
        str(PYTHON),
        "-m",
        "fentro_server.workers",
        "--port",
        str(port),
        "--log-level",
        "warning",
        "--ends-within",
        "3",
        *words,
    ]
    with log.open("ab") as output:
        server = children.start(command, cwd=ROOT, env=environment, stdout=output, stderr=output)
    if answers(f"http://127.0.0.1:{port}/api/v1/ready", server):
        return server
    children.end(server)
    raise Trouble(f"The server did not start. Its last words:\n\n{log.read_text(errors='replace')[-1500:]}")


def start_lines(environment: dict[str, str], log: Path) -> subprocess.Popen[Any]:
    """Start working out, beside the server, what lists show of visits that entries come to."""
    with log.open("ab") as output:
        return children.start(
            [str(PYTHON), "manage.py", "work_lines", "--follow"], cwd=ROOT, env=environment, stdout=output, stderr=output
        )

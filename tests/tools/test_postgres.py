"""The project's own cluster: loopback, password, never as root, back after a kill, gone when thrown away."""

from __future__ import annotations

import os
import pwd
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest

from tools import children, postgres
from tools.postgres import Cluster, free_port
from tools.say import Trouble

ROOT = Path(__file__).resolve().parents[2]
pytestmark = pytest.mark.xdist_group("plug")


@pytest.fixture(scope="module")
def cluster() -> Iterator[Cluster]:
    """A cluster of this test module."""
    with Cluster(f"own-{os.getpid()}", throwaway=True, durable=True) as made:
        yield made


def account_of(cluster: Cluster) -> str:
    assert cluster.process is not None
    return pwd.getpwuid(Path(f"/proc/{cluster.process.pid}").stat().st_uid).pw_name


def test_it_runs_as_an_unprivileged_account(cluster: Cluster) -> None:
    assert account_of(cluster) != "root"


def test_it_listens_on_loopback_only_and_has_no_socket_file(cluster: Cluster) -> None:
    with psycopg.connect(cluster.url) as connection:
        shown = {
            name: connection.execute(f"show {name}").fetchone()[0] for name in ("listen_addresses", "unix_socket_directories")
        }
    assert shown == {"listen_addresses": "127.0.0.1", "unix_socket_directories": ""}


def test_it_asks_for_the_password(cluster: Cluster) -> None:
    wrong = cluster.url.replace(cluster.password_file.read_text().strip(), "guess")
    with pytest.raises(psycopg.OperationalError, match="password"):
        psycopg.connect(wrong)
    rules = [line.split() for line in (cluster.home / "pg_hba.conf").read_text().splitlines() if line and line[0] != "#"]
    assert {rule[-1] for rule in rules} == {"scram-sha-256"}


def test_the_password_is_for_its_owner_only(cluster: Cluster) -> None:
    assert cluster.password_file.stat().st_mode & 0o077 == 0


def test_what_was_committed_is_there_after_kill_9_and_a_second_start(cluster: Cluster) -> None:
    with psycopg.connect(cluster.url, autocommit=True) as connection:
        connection.execute("create table kept (word text)")
        connection.execute("insert into kept values ('here')")
    cluster.kill()
    cluster.start()
    with psycopg.connect(cluster.url) as connection:
        assert connection.execute("select word from kept").fetchall() == [("here",)]


def test_a_server_left_over_from_before_is_ended_first(cluster: Cluster) -> None:
    assert cluster.process is not None
    before = cluster.process.pid
    again = Cluster(cluster.home.name, throwaway=True)
    again.start()
    assert not Path(f"/proc/{before}").exists() or "Z" in Path(f"/proc/{before}/stat").read_text().split()[2]
    again.stop()
    cluster.process.wait()
    cluster.start()


def test_thrown_away_it_leaves_nothing() -> None:
    with Cluster(f"gone-{os.getpid()}", throwaway=True) as made:
        home, log = made.home.resolve(), made.log
    assert not home.exists()
    assert not log.exists()
    assert not made.password_file.exists()


@pytest.mark.skipif(os.geteuid() != 0, reason="only root runs it as another account")
def test_a_folder_the_account_cannot_enter_gets_a_link(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    closed = tmp_path / "closed"
    closed.mkdir(mode=0o700)
    monkeypatch.setattr(postgres, "DATA", closed)
    with Cluster("linked", throwaway=True) as made:
        assert made.home.is_symlink()
        assert account_of(made) == postgres.ACCOUNT
        real = made.home.resolve()
    assert not real.exists()


def test_a_taken_port_gives_another() -> None:
    with socket.socket() as holder:
        holder.bind(("127.0.0.1", 0))
        holder.listen()
        taken = holder.getsockname()[1]
        assert free_port(taken) != taken


def test_a_port_asked_for_and_taken_is_said() -> None:
    from tools.serving import choose_port

    with socket.socket() as holder:
        holder.bind(("127.0.0.1", 0))
        holder.listen()
        with pytest.raises(Trouble, match="is taken"):
            choose_port(holder.getsockname()[1])


def lives(process: int) -> bool:
    """It is there, and no dead one that nobody has buried yet."""
    try:
        return "Z" not in Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()[0]
    except FileNotFoundError:
        return False


def test_a_child_dies_with_us_even_by_kill_9() -> None:
    code = (
        "import signal, sys, time; from tools import children;"
        "child = children.start(['sleep', '60']); print(child.pid, flush=True); time.sleep(60)"
    )
    parent = subprocess.Popen([sys.executable, "-c", code], cwd=ROOT, stdout=subprocess.PIPE, text=True)
    assert parent.stdout is not None
    child = int(parent.stdout.readline())
    parent.kill()
    parent.wait()
    deadline = time.monotonic() + 60
    while lives(child) and time.monotonic() < deadline:
        time.sleep(0.05)
    assert not lives(child)


def test_a_child_that_does_not_listen_is_ended_all_the_same() -> None:
    stubborn = children.start([sys.executable, "-c", "import signal, time; signal.signal(15, signal.SIG_IGN); time.sleep(60)"])
    time.sleep(0.5)
    children.end(stubborn, signal.SIGTERM, seconds=0.5)
    assert stubborn.poll() == -signal.SIGKILL

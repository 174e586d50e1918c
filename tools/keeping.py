"""Backing an installation up, and restoring it elsewhere."""

from __future__ import annotations

import os
import shutil
import subprocess
from pathlib import Path

from tools.say import Trouble
from tools.setup import POSTGRES_BIN, PYTHON, ROOT


def owner_url() -> str:
    """The database, as its owner."""
    url = os.environ.get("FENTRO_OWNER_URL") or os.environ.get("FENTRO_DATABASE_URL")
    if not url:
        raise Trouble("Set FENTRO_OWNER_URL, or FENTRO_DATABASE_URL where one role does everything (docs/operating.md).")
    return url


def backup(url: str, file: Path) -> None:
    """Everything into one file, as it stands at one moment, while the server goes on."""
    fresh = file.with_name(f"{file.name}.part")
    words = ["--format=custom", "--no-owner", "--no-privileges", f"--file={fresh}", f"--dbname={url}"]
    _run([_tool("pg_dump"), *words], "The backup failed. Nothing was kept of it.", fresh)
    fresh.replace(file)


def restore(url: str, file: Path) -> None:
    """All of it or nothing, into an empty database; then every chain is followed."""
    if not file.is_file():
        raise Trouble(f"There is no such file: {file}")
    tables = _run([_tool("psql"), "-Xqt", f"--dbname={url}", "-c", "select count(*) from pg_tables where schemaname = 'public'"])
    if tables.strip() != "0":
        raise Trouble("This database is not empty. Make an empty one, and restore into that.")
    words = ["--no-owner", "--no-privileges", "--exit-on-error", "--single-transaction", f"--dbname={url}", str(file)]
    _run([_tool("pg_restore"), *words], "Restoring failed. The database is as it was before: empty.")
    environment = {**os.environ, "FENTRO_DATABASE_URL": url}
    environment.setdefault("DJANGO_SETTINGS_MODULE", "fentro_server.settings.production")
    for command in ("migrate", "verify_chains"):
        done = subprocess.run(
            [str(PYTHON), "manage.py", command], cwd=ROOT, env=environment, capture_output=True, text=True, check=False
        )
        if done.returncode != 0:
            raise Trouble(f"{command} failed after restoring:\n\n{(done.stdout + done.stderr).strip()[-2000:]}")


def _tool(name: str) -> str:
    found = POSTGRES_BIN / name
    known = str(found) if found.exists() else shutil.which(name)
    if known is None:
        raise Trouble(f"{name} is missing. Install with: sudo apt-get install postgresql-client")
    return known


def _run(command: list[str], trouble: str = "The database does not answer.", leftover: Path | None = None) -> str:
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    if done.returncode != 0:
        if leftover is not None:
            leftover.unlink(missing_ok=True)
        raise Trouble(f"{trouble}\n\n{done.stderr.strip()[-2000:]}")
    return done.stdout

"""The command that serves a real installation: what it says before anything runs."""

from __future__ import annotations

import os
import subprocess
import sys

import pytest

from tools.setup import ROOT

NEEDED = ("FENTRO_DATABASE_URL", "FENTRO_SECRET_KEY", "FENTRO_HOSTS")


def serve(*words: str, **environment: str) -> subprocess.CompletedProcess[str]:
    kept = {name: value for name, value in os.environ.items() if name not in NEEDED}
    command = [sys.executable, str(ROOT / "bin" / "serve"), *words]
    return subprocess.run(command, cwd=ROOT, env={**kept, **environment}, capture_output=True, text=True, check=False, timeout=60)


def test_a_new_key_is_long_and_another_each_time() -> None:
    one, other = serve("--new-key"), serve("--new-key")
    assert one.returncode == other.returncode == 0
    assert len(one.stdout.strip()) >= 40
    assert one.stdout != other.stdout


@pytest.mark.parametrize("given", [(), ("FENTRO_DATABASE_URL",), ("FENTRO_DATABASE_URL", "FENTRO_SECRET_KEY")])
def test_what_is_not_set_is_told_by_name_before_anything_is_touched(given: tuple[str, ...]) -> None:
    done = serve(**dict.fromkeys(given, "something"))
    said = done.stdout + done.stderr
    assert done.returncode != 0
    assert "Traceback" not in said
    assert "docs/install.md" in said
    for name in NEEDED:
        assert (f"{name}:" in said) is (name not in given)
    assert "up to date" not in said

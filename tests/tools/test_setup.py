"""Setting up: stamps that notice every change, lock files without addresses, plain words when something is missing."""

from __future__ import annotations

import json
import re
import subprocess
from pathlib import Path
from typing import Any

import pytest

from tools import say, setup
from tools.say import Trouble

ROOT = Path(__file__).resolve().parents[2]


def test_a_stamp_notices_a_changed_a_new_and_a_renamed_file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(setup, "ROOT", tmp_path)
    first, second, stamp = tmp_path / "a", tmp_path / "b", tmp_path / "stamp"
    first.write_text("one")
    setup._stamp(stamp, [first])
    assert setup._stamped(stamp, [first])
    first.write_text("two")
    assert not setup._stamped(stamp, [first])
    first.write_text("one")
    second.write_text("one")
    assert not setup._stamped(stamp, [first, second])
    assert not setup._stamped(stamp, [second])


ROOT_FILES = {"fentro_core/device.py", "requirements/base.txt", "tools/device_core.py", "web/snapshot.mjs"}
"""The core goes with the interface: it runs on the device."""


def test_everything_the_interface_is_built_from_counts() -> None:
    inside = [path for path in setup.web_sources() if setup.WEB in path.parents]
    names = {path.relative_to(setup.WEB).as_posix() for path in inside}
    assert {path.relative_to(setup.ROOT).as_posix() for path in setup.web_sources()} >= ROOT_FILES
    assert {"index.html", "vite.config.ts", "package-lock.json", "src/main.tsx", "src/theme.css", "public/mark.svg"} <= names


def test_missing_packages_are_named_when_we_may_not_install_them(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(setup, "POSTGRES_BIN", Path("/nowhere"))
    monkeypatch.setattr(setup, "chromium", lambda: None)
    monkeypatch.setattr(setup.os, "geteuid", lambda: 1000)
    with pytest.raises(Trouble, match="sudo apt-get install postgresql-15 chromium-headless-shell"):
        setup._debian_packages(browser=True)


@pytest.mark.parametrize(
    ("which", "version", "enough"),
    [
        (lambda name: None, "", False),
        (lambda name: f"/usr/bin/{name}", "v18.4.0\n", False),
        (lambda name: f"/usr/bin/{name}", "v20.18.9\n", False),
        (lambda name: "/usr/bin/node" if name == "node" else None, "v22.1.0\n", False),
        (lambda name: f"/usr/bin/{name}", "v20.19.0\n", True),
        (lambda name: f"/usr/bin/{name}", "v22.1.0\n", True),
    ],
)
def test_the_machines_node_is_used_when_it_is_new_enough(
    monkeypatch: pytest.MonkeyPatch, which: Any, version: str, enough: bool
) -> None:
    monkeypatch.setattr(setup.shutil, "which", which)
    monkeypatch.setattr(setup.subprocess, "check_output", lambda *_, **__: version)
    assert setup._machine_has_node() is enough


def test_without_one_it_is_put_into_the_projects_environment(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    (tmp_path / "bin").mkdir()
    ran: list[list[str]] = []
    monkeypatch.setattr(setup, "VENV", tmp_path)
    monkeypatch.setattr(setup, "_machine_has_node", lambda: False)
    monkeypatch.setattr(setup, "_run", lambda command, *_, **__: ran.append(command))
    monkeypatch.setattr(setup.subprocess, "check_output", lambda *_, **__: "/wheel\n")
    monkeypatch.setenv("PATH", "/usr/bin")
    setup._node()
    setup._node()
    assert len(ran) == 1, "once"
    assert "requirements/node.txt" in ran[0][-1]
    assert (tmp_path / "bin" / "npm").read_text() == (
        '#!/bin/sh\nexec "/wheel/bin/node" "/wheel/lib/node_modules/npm/bin/npm-cli.js" "$@"\n'
    )
    assert setup.os.environ["PATH"].startswith(f"{tmp_path / 'bin'}:")


def test_a_full_disk_is_said_plainly(capsys: pytest.CaptureFixture[str]) -> None:
    def full() -> int:
        raise OSError(28, "No space left on device")

    with pytest.raises(SystemExit) as ended:
        say.plainly(full)
    assert ended.value.code == 1
    assert "The disk is full" in capsys.readouterr().err


def test_a_failing_command_shows_its_last_words() -> None:
    with pytest.raises(Trouble, match=r"It failed\.\n\nwords"):
        setup._run(["sh", "-c", "echo words; exit 3"], "It failed.")


@pytest.mark.parametrize("name", ["base", "dev"])
def test_python_pins_are_hashed_and_name_no_host(name: str) -> None:
    text = (ROOT / "requirements" / f"{name}.txt").read_text()
    assert "://" not in text
    assert not re.search(r"^--?(index|extra|find)", text, re.MULTILINE)
    pins = re.findall(r"^([a-z0-9._-]+)==\S+ \\\n((?:\s+--hash=\S+.*\n)+)", text, re.MULTILINE | re.IGNORECASE)
    assert len(pins) == len(re.findall(r"^[a-z0-9._-]+==", text, re.MULTILINE | re.IGNORECASE)) > 20


def test_the_web_lock_file_names_no_address_and_everything_is_hashed() -> None:
    lock = json.loads((ROOT / "web" / "package-lock.json").read_text())
    packages = {name: row for name, row in lock["packages"].items() if name}
    assert not any("resolved" in row for row in packages.values())
    assert all("integrity" in row for row in packages.values() if not row.get("link") and not row.get("inBundle"))


def test_web_requirements_are_exact() -> None:
    package = json.loads((ROOT / "web" / "package.json").read_text())
    versions = {**package["dependencies"], **package["devDependencies"]}.values()
    assert all(re.fullmatch(r"\d+\.\d+\.\d+", version) for version in versions)


def test_nothing_tracked_carries_a_path_of_some_machine() -> None:
    found = subprocess.run(
        ["git", "grep", "-nE", r"(^|[^a-zA-Z0-9_.])/(home|root|work)/[a-z]", "--", ".", ":!tests/tools"],
        cwd=ROOT,
        capture_output=True,
        text=True,
        check=False,
    )
    assert found.stdout == ""


def test_every_picture_is_linked_from_the_readme() -> None:
    pictures = sorted((ROOT / "docs" / "screenshots").glob("*.png"))
    readme = (ROOT / "README.md").read_text()
    assert 0 < len(pictures) < 20
    assert [picture.name for picture in pictures if picture.name not in readme] == []

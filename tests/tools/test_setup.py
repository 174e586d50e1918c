"""Setting up: stamps that notice every change, lock files without addresses, plain words when something is missing."""

from __future__ import annotations

import json
import re
import subprocess
from pathlib import Path

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


def test_everything_the_interface_is_built_from_counts() -> None:
    names = {path.relative_to(setup.WEB).as_posix() for path in setup.web_sources()}
    assert {"index.html", "vite.config.ts", "package-lock.json", "src/main.tsx", "src/theme.css", "public/mark.svg"} <= names


def test_missing_packages_are_named_when_we_may_not_install_them(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(setup, "POSTGRES_BIN", Path("/nowhere"))
    monkeypatch.setattr(setup, "chromium", lambda: None)
    monkeypatch.setattr(setup.os, "geteuid", lambda: 1000)
    with pytest.raises(Trouble, match="sudo apt-get install postgresql-15 chromium"):
        setup._debian_packages(browser=True)


def test_no_node_is_said_plainly(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(setup.shutil, "which", lambda name: None)
    with pytest.raises(Trouble, match=r"Node\.js 20\.19 or newer"):
        setup._web_packages()


def test_an_old_node_is_said_plainly(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(setup.shutil, "which", lambda name: f"/usr/bin/{name}")
    monkeypatch.setattr(setup.subprocess, "check_output", lambda *_, **__: "v18.4.0\n")
    with pytest.raises(Trouble, match=r"18\.4 is too old"):
        setup._web_packages()


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

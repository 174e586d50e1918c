"""What the documents promise is there."""

from __future__ import annotations

import inspect
import re
from pathlib import Path

import pytest

from fentro_core import catalogue
from fentro_core.base import calculation
from fentro_core.base.units import KINDS

ROOT = Path(__file__).resolve().parents[2]
DOCUMENTS = ["README.md", "CONTRIBUTING.md", "docs/architecture.md", "docs/method.md", "docs/install.md", "docs/controller.md"]


@pytest.mark.parametrize("name", DOCUMENTS)
def test_every_file_a_document_names_exists(name: str) -> None:
    text = (ROOT / name).read_text()
    linked = re.findall(r"\]\((?!http)([^)#]+)\)", text)
    missing = [path for path in linked if not (ROOT / name).parent.joinpath(path).exists() and not (ROOT / path).exists()]
    assert missing == []


def test_every_command_of_the_readme_is_there_and_can_be_run() -> None:
    named = set(re.findall(r"`((?:bin|\.ci)/\w+)", (ROOT / "README.md").read_text()))
    there = {f"bin/{path.name}" for path in (ROOT / "bin").iterdir()} | {".ci/run"}
    assert named == there
    assert all((ROOT / name).stat().st_mode & 0o111 for name in there)


def test_the_method_names_the_file_of_every_calculation() -> None:
    assert catalogue.MODULES
    method = (ROOT / "docs" / "method.md").read_text()
    files = {
        each.function.__module__.removeprefix("fentro_core.").replace(".", "/") + ".py" for each in calculation.REGISTRY.values()
    }
    assert [name for name in sorted(files) if name not in method] == []


def test_every_variable_of_an_installation_is_documented() -> None:
    settings = (ROOT / "fentro_server" / "settings" / "production.py").read_text()
    documented = (ROOT / "docs" / "install.md").read_text()
    used = set(re.findall(r"FENTRO_[A-Z_]+", settings))
    assert [name for name in sorted(used) if name not in documented] == []


def test_the_interfaces_table_is_the_cores() -> None:
    import json

    from fentro_core.reference import tables

    written = (ROOT / "web" / "src" / "units" / "tables.gen.ts").read_text()
    kept = json.loads(written[written.index("= {") + 2 : written.rindex(";")])
    assert kept == json.loads(json.dumps(tables()))
    assert set(kept["kinds"]) == set(KINDS)


@pytest.mark.parametrize("name", ["README.md", "CONTRIBUTING.md", "docs/architecture.md", "docs/method.md"])
def test_every_file_that_a_document_names_is_there(name: str) -> None:
    named = set(re.findall(r"`((?:[a-z_]+/)+[a-z_]+\.py)`", (ROOT / name).read_text()))
    places = (ROOT, ROOT / "fentro_core", ROOT / "fentro_server")
    assert [each for each in sorted(named) if not any((place / each).exists() for place in places)] == []


def test_every_calculation_tells_its_inputs_refusals_and_source() -> None:
    for each in calculation.REGISTRY.values():
        text = inspect.getdoc(each.function) or ""
        assert [part for part in ("Parameters", "Raises", "References") if f"{part}\n---" not in text] == [], each.name
        told = text[text.index("Parameters\n---") : text.index("Raises\n---")]
        assert [name for name in each.inputs if not re.search(rf"^(?:\w+, )*{name}(?:, \w+)* :", told, re.M)] == [], each.name
        assert each.title, each.name

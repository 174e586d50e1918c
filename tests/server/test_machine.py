"""The machine interface as it is documented: the example of docs/machine.md runs as it stands there."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from django.utils import timezone

from fentro_core.logbook.snapshot import read_snapshot
from fentro_server.accounts import tokens
from fentro_server.accounts.models import Role, Scope
from fentro_server.api.root import api
from fentro_server.visits.models import Visit
from tests.server.conftest import House, make_house, signed_in

DOCS = Path(__file__).resolve().parents[2] / "docs"


def example() -> str:
    found = re.search(r"```python\n(.*?)```", (DOCS / "machine.md").read_text(), re.S)
    assert found
    return found[1]


@pytest.mark.django_db(transaction=True)
def test_the_documented_example_runs(live_server: Any, tmp_path: Path) -> None:
    house = make_house("ours")
    _, token = tokens.make(house.people[Role.TECHNICIAN], "example", Scope.RECORD, timezone.localdate() + timedelta(days=1))
    file = tmp_path / "visit.json"
    environment = {**os.environ, "FENTRO_ADDRESS": live_server.url, "FENTRO_TOKEN": token, "FENTRO_FILE": str(file)}
    done = subprocess.run(
        [sys.executable, "-c", example()], env=environment, capture_output=True, text=True, timeout=60, check=False
    )
    assert done.returncode == 0, done.stderr
    assert "Split: 10.70 ±" in done.stdout
    visit = Visit.objects.get(purpose="Logger in the van")
    assert visit.entries_number == 2
    assert len(read_snapshot(json.loads(file.read_text())).entries) == 2


@pytest.mark.django_db(transaction=True)
def test_with_a_token_that_only_fetches_it_ends_at_its_first_change(live_server: Any) -> None:
    house = make_house("ours")
    _, token = tokens.make(house.people[Role.TECHNICIAN], "example", Scope.READ, timezone.localdate())
    environment = {**os.environ, "FENTRO_ADDRESS": live_server.url, "FENTRO_TOKEN": token}
    done = subprocess.run(
        [sys.executable, "-c", example()], env=environment, capture_output=True, text=True, timeout=60, check=False
    )
    assert "403" in done.stderr
    assert Visit.objects.filter(purpose="Logger in the van").count() == 0


def test_the_reference_lists_every_route_and_takes_nothing_from_elsewhere(ours: House) -> None:
    assert signed_in(None).get("/api/v1/reference").status_code == 401
    text = signed_in(ours.people[Role.VIEWER]).get("/api/v1/reference").text
    for path in api.get_openapi_schema()["paths"]:
        assert f"<code>{path}</code>" in text, path
    assert "<script" not in text
    assert not re.search(r"""(src|href)="(?!/)""", text)


def test_documents_name_the_formats_and_commands_that_there_are() -> None:
    from django.core.management import get_commands

    from fentro_core.logbook import snapshot
    from fentro_core.report import edition
    from fentro_server.records import archive

    text = (DOCS / "formats.md").read_text()
    for name in (snapshot.FORMAT, edition.FORMAT, archive.FORMAT):
        assert f"`{name}` version" in text
    for command in re.findall(r"manage\.py (\w+)", text):
        assert command in get_commands()

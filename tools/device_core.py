"""Puts the core together for the device: one archive of it and the packages it needs, from which the build makes what it ships.

python tools/device_core.py      writes core.zip, core.json (which core it is), questions.json into web/.core
"""

from __future__ import annotations

import json
import sys
import zipfile
from collections.abc import Iterator
from hashlib import sha256
from importlib.metadata import distribution
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))
MADE = ROOT / "web" / ".core"

NEEDED = ("cattrs", "attrs", "typing_extensions")
"""Packages of the core; pure Python, pinned with the server's."""

SAMPLE = {"demo/rooftop-now", "demo/rooftop-2-sensors", "demo/furnace-balance", "demo/heat-pump-close", "demo/ventilator-first"}
"""Visits of the demo: one of each kind of system."""

LONG_AGO = (1980, 1, 1, 0, 0, 0)
"""Of every file in the archive, so that the same files make the same archive."""


def files() -> Iterator[tuple[str, bytes]]:
    """Name and content of every file: the core, the packages, and the packages' licences."""
    for file in sorted((ROOT / "fentro_core").rglob("*.py")):
        yield file.relative_to(ROOT).as_posix(), file.read_bytes()
    for name in NEEDED:
        for found in sorted(distribution(name).files or ()):
            path = found.as_posix()
            licence = ".dist-info/" in path and ("licen" in path.lower() or path.endswith("METADATA"))
            if (path.endswith(".py") and not path.startswith("..")) or licence:
                yield path, Path(str(found.locate())).read_bytes()


def questions() -> list[dict[str, Any]]:
    """What is asked once before the core's memory is kept, so that nothing is done for the first time on a device."""
    from bench.unchanged import demo_documents

    asked: list[dict[str, Any]] = [{"ask": "version"}, {"ask": "points", "text": "terminal,name,place\nAI-1,Mixed,mixed\n"}]
    air = {"dry_bulb_c": 24.0, "relative_humidity": 0.5}
    asked += [
        {"ask": "calculation", "name": "air.state", "given": {"air": air}},
        {"ask": "calculation", "name": "air.chart", "given": {}},
    ]
    for name, document in demo_documents():
        if name not in SAMPLE:
            continue
        visit = {"entries": document.pop("entries"), "instruments": document.pop("instruments"), "head": document}
        if name == "demo/rooftop-now":
            # The largest first: what it leaves free serves the others.
            asked.append({"ask": "year_hours", "question": {}, **visit})
        asked.append({"ask": "visit", **visit})
        if document["system"]["kind"] == "packaged_rooftop":
            asked.append({"ask": "economizer", **visit})
        if name == "demo/furnace-balance":
            asked.append({"ask": "ducts", **visit})
        if name == "demo/rooftop-now":
            asked.append({"ask": "accept", "entry": visit["entries"][-1], **visit})
    return asked


def main() -> None:
    """Write the archive, and which core is in it."""
    from fentro_core.base.version import fingerprint

    MADE.mkdir(exist_ok=True)
    with zipfile.ZipFile(MADE / "core.zip", "w", zipfile.ZIP_DEFLATED, compresslevel=9) as archive:
        for name, content in files():
            archive.writestr(zipfile.ZipInfo(name, LONG_AGO), content, zipfile.ZIP_DEFLATED)
    (MADE / "questions.json").write_text(json.dumps(questions()))
    digest = sha256((MADE / "core.zip").read_bytes() + (MADE / "questions.json").read_bytes()).hexdigest()[:12]
    (MADE / "core.json").write_text(json.dumps({"core": fingerprint(), "digest": digest}))


if __name__ == "__main__":
    main()

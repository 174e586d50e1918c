"""``python -m bench`` with the names of parts (`PARTS`, all if none); ``wire``, ``mutants``, ``hostile`` only when asked for."""

from __future__ import annotations

import importlib
import sys

PARTS = (
    "core",
    "findings",
    "stranger",
    "economizer",
    "otherunit",
    "zones",
    "ventilators",
    "drying",
    "night",
    "server",
    "interface",
)


def main() -> int:
    """Print every row; a ratio over what is allowed is named, never a failure."""
    for part in sys.argv[1:] or PARTS:
        print(f"\n{part}", flush=True)
        for row in importlib.import_module(f"bench.{part}").rows():
            print(row.line(), flush=True)
    return 0


if __name__ == "__main__":
    raise SystemExit(main())

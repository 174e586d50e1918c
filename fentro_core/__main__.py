"""The core on the command line: JSON in, JSON out.

python -m fentro_core list
python -m fentro_core describe cooling.capacity
python -m fentro_core run cooling.capacity < input.json
python -m fentro_core workup < snapshot.json
python -m fentro_core schema            JSON Schema of a visit's snapshot
python -m fentro_core units             the table of units and readable quantities
"""

from __future__ import annotations

import argparse
import json
import sys
from typing import Any

from fentro_core import catalogue
from fentro_core.base import calculation, typed_json
from fentro_core.base.refusal import Refused
from fentro_core.logbook.snapshot import read_snapshot, snapshot_schema
from fentro_core.reference import tables
from fentro_core.visit.work_up import work_up


def main(arguments: list[str] | None = None) -> int:
    """Run one command; 0 when it worked, 1 when the input was refused, 2 for a wrong call."""
    parser = argparse.ArgumentParser(prog="python -m fentro_core", description=__doc__.splitlines()[0])
    commands = parser.add_subparsers(dest="command", required=True)
    commands.add_parser("list", help="all calculations")
    for name in ("describe", "run"):
        commands.add_parser(name, help=f"{name} one calculation").add_argument("name")
    commands.add_parser("workup", help="work out a visit's snapshot")
    commands.add_parser("schema", help="JSON Schema of a snapshot")
    commands.add_parser("units", help="units and readable quantities")
    given = parser.parse_args(arguments)
    try:
        answer = _answer(given.command, getattr(given, "name", ""))
    except Refused as refusal:
        said = {"path": refusal.path, "sentence": refusal.sentence.say()}
        print(json.dumps({"refused": said}, ensure_ascii=False), file=sys.stderr)
        return 1
    print(answer if isinstance(answer, str) else json.dumps(answer, indent=1, ensure_ascii=False))
    return 0


def _answer(command: str, name: str) -> Any:
    match command:
        case "list":
            registered = calculation.REGISTRY.values()
            assert catalogue.MODULES
            return "\n".join(f"{each.name:24} {each.title}" for each in sorted(registered, key=lambda c: c.name))
        case "describe":
            return calculation.describe(name)
        case "run":
            return calculation.run(name, _read_input())
        case "workup":
            return typed_json.write(work_up(read_snapshot(_read_input())))
        case "schema":
            return snapshot_schema()
        case _:
            return tables()


def _read_input() -> object:
    try:
        return json.load(sys.stdin)
    except json.JSONDecodeError as error:
        raise Refused(f"The input is not JSON: line {error.lineno}, column {error.colno}.") from error


if __name__ == "__main__":
    raise SystemExit(main())

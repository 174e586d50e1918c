"""A duct tree as a file, out and in again: a table (CSV), one line a piece, in millimetres, metres, litres a second; or JSON."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Mapping
from dataclasses import MISSING, fields
from typing import Any

from fentro_core.base.refusal import Refused
from fentro_core.base.spreadsheet import from_cell, safe_cell
from fentro_core.base.typed_json import read, write
from fentro_core.ducts.loss import check_fittings
from fentro_core.system.ducts import MOST_PIECES, DuctTree, Piece, RoomBranch, Trunk

COLUMNS: Mapping[str, tuple[str, float]] = {
    "diameter_m": ("diameter (mm)", 1000.0),
    "width_m": ("width (mm)", 1000.0),
    "height_m": ("height (mm)", 1000.0),
    "length_m": ("length (m)", 1.0),
    "compressed": ("compressed (%)", 100.0),
    "more_loss": ("more loss (K)", 1.0),
    "damper_deg": ("damper turned (deg)", 1.0),
    "register_pa": ("register loss (Pa)", 1.0),
    "register_m3s": ("at flow (L/s)", 1000.0),
    "register_open": ("register open (%)", 100.0),
    "face_area_m2": ("register face (cm2)", 10_000.0),
    "cooling_design_m3s": ("design cooling (L/s)", 1000.0),
    "heating_design_m3s": ("design heating (L/s)", 1000.0),
    "room_load_w": ("room load (W)", 1.0),
    "floor_area_m2": ("floor area (m2)", 1.0),
}
"""Numbers by field: their heading, and how many of its unit make one of ours."""

WORDS = ("id", "after", "name", "room", "floor", "wall", "damper")
QUIET = "quiet room"
HEADINGS = ("piece", *WORDS, QUIET, "fittings", *(heading for heading, _ in COLUMNS.values()))
NEEDED = ("piece", "length (m)")


def write_table(tree: DuctTree) -> str:
    """The tree as CSV, trunks first."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEADINGS)
    for piece in tree.pieces:
        words = [safe_cell(str(getattr(piece, name, ""))) for name in WORDS]
        numbers = [_cell(getattr(piece, name, None), factor) for name, (_, factor) in COLUMNS.items()]
        kind = "trunk" if isinstance(piece, Trunk) else "branch"
        quiet = "yes" if getattr(piece, "quiet", False) else ""
        writer.writerow([kind, *words, quiet, " ".join(piece.fittings), *numbers])
    return out.getvalue()


def _cell(value: float | None, factor: float) -> str:
    return "" if value is None else f"{value * factor:.10g}"


def read_table(text: str) -> DuctTree:
    """A tree from CSV with a line of headings; columns in any order, others are left aside.

    Raises
    ------
    Refused
        A heading that is missing, by name; a cell that can't be right, by line and heading.
    """
    sample = text.lstrip("\ufeff")
    delimiter = max(",;\t", key=lambda each: sample.split("\n", 1)[0].count(each))
    rows = list(csv.reader(io.StringIO(sample), delimiter=delimiter))
    if not rows or not any(cell.strip() for cell in rows[0]):
        raise Refused("The table is empty.", "text")
    heading = [cell.strip().lower() for cell in rows[0]]
    missing = [name for name in NEEDED if name not in heading]
    if missing:
        raise Refused(f"The table lacks the columns: {', '.join(missing)}. Its first line names the columns.", "text")
    tree = DuctTree()
    seen: set[str] = set()
    for number, row in enumerate(rows[1:], 2):
        if not any(cell.strip() for cell in row):
            continue
        cells = {name: from_cell(row[at].strip()) for at, name in enumerate(heading) if at < len(row)}
        if len(seen) >= MOST_PIECES:
            raise Refused("At most 240 pieces of duct for one system.", "text")
        piece = _piece(cells, number)
        if piece.id in seen:
            raise Refused(f"Line {number}: the id “{piece.id}” stands there twice.", "text")
        seen.add(piece.id)
        tree = tree.with_(piece)
    if not seen:
        raise Refused("The table has headings, but no ducts.", "text")
    tree.check()
    return tree


def read_ducts(text: str) -> DuctTree:
    """A tree from a file: JSON as a nameplate carries it, where it begins with a brace; else a table.

    Raises
    ------
    Refused
        As a table is refused; JSON that is none, with where it breaks, or that is no tree.
    """
    if not text.lstrip("\ufeff \t\r\n").startswith("{"):
        return read_table(text)
    try:
        given = json.loads(text.lstrip("\ufeff"))
    except (ValueError, RecursionError) as error:
        where = f" at line {error.lineno}" if isinstance(error, json.JSONDecodeError) else ""
        raise Refused(f"This JSON is incomplete: it breaks off{where}.", "text") from None
    try:
        tree = read(given, DuctTree)
        tree.check()
        for piece in tree.pieces:
            check_fittings(piece)
    except Refused as refused:
        raise Refused(f"{refused.path}: {refused.sentence.say()}", "text") from None
    if not tree.branches and not tree.trunks:
        raise Refused("There are no ducts in this file.", "text")
    return tree


def write_json(tree: DuctTree) -> str:
    """The tree as JSON, as a nameplate carries it: with zones and board, and in again the same."""
    return json.dumps(write(tree), indent=1, ensure_ascii=False) + "\n"


def _yes(cell: str, line: int) -> bool:
    if cell.lower() not in ("", "yes", "no"):
        raise Refused(f"Line {line}, {QUIET}: yes or no.", "text")
    return cell.lower() == "yes"


def _piece(cells: Mapping[str, str], line: int) -> Piece:
    kinds: Mapping[str, type[Piece]] = {"trunk": Trunk, "branch": RoomBranch}
    kind = kinds.get(cells["piece"].lower())
    if kind is None:
        raise Refused(f"Line {line}: a piece is a trunk or a branch, not “{cells['piece']}”.", "text")
    given: dict[str, Any] = {}
    for each in fields(kind):
        if each.name in COLUMNS:
            heading, factor = COLUMNS[each.name]
            cell = cells.get(heading.lower(), "")
            if cell:
                given[each.name] = _number(cell, line, heading) / factor
        elif each.name == "quiet":
            given["quiet"] = _yes(cells.get(QUIET, ""), line)
        elif each.name == "fittings":
            given["fittings"] = tuple(cells.get("fittings", "").split())
        elif cells.get(each.name) or each.default is MISSING:
            given[each.name] = cells.get(each.name, "")
    given["id"] = given.get("id") or f"{cells['piece'].lower()}-{line}"
    if "length_m" not in given:
        raise Refused(f"Line {line}: give the length.", "text")
    for name, allowed in (("wall", ("metal", "lined", "flexible")), ("damper", ("none", "blade", "inflatable"))):
        if name in given and given[name] not in allowed:
            raise Refused(f"Line {line}: {name} is one of {', '.join(allowed)}, not “{given[name]}”.", "text")
    piece = kind(**given)
    try:
        piece.check()
        check_fittings(piece)
    except Refused as refused:
        heading = COLUMNS.get(refused.path, (refused.path, 1.0))[0]
        raise Refused(f"Line {line}, {heading}: {refused.sentence.say()}", "text") from refused
    return piece


def _number(cell: str, line: int, heading: str) -> float:
    try:
        return float(cell.replace(",", "."))
    except ValueError:
        raise Refused(f"Line {line}, {heading}: “{cell[:20]}” is not a number.", "text") from None

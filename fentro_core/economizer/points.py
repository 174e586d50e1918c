"""The audit of a controller's points: a list in and out as CSV, every sensor against a reference, checks that physics makes."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping
from dataclasses import dataclass

from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence
from fentro_core.base.spreadsheet import from_cell, safe_cell
from fentro_core.base.verdict import Mark
from fentro_core.economizer.places import PLACES

NEEDED = ("terminal", "name", "place")
COLUMNS = (*NEEDED, "shown_c", "reference_c", "difference_k", "verdict")
MOST_LINES = 200
GOOD_WITHIN_K = 1.0
"""A sensor within this and the reference's half-width is good. Ours."""


@dataclass(frozen=True)
class PointLine:
    """A point as the list claims it: its terminal, its name, and the place its sensor hangs at."""

    terminal: str
    name: str
    place: str


@dataclass(frozen=True)
class Compared:
    """A point against a reference reading at its place [°C]."""

    line: PointLine
    shown_c: float | None = None
    reference_c: float | None = None
    plus_minus_k: float = 0.0
    mark: Mark = "not_measured"


def read_points(text: str) -> tuple[PointLine, ...]:
    """A point list from CSV with a line of headings; columns in any order, others are left aside.

    Raises
    ------
    Refused
        Columns that are missing, by name; a line with an unknown place or without a terminal, by number.
    """
    sample = text.lstrip("\ufeff")
    delimiter = max(",;\t", key=lambda each: sample.split("\n", 1)[0].count(each))
    rows = list(csv.reader(io.StringIO(sample), delimiter=delimiter))
    if not rows:
        raise Refused("The list is empty.", "points")
    heading = [cell.strip().lower() for cell in rows[0]]
    missing = [name for name in NEEDED if name not in heading]
    if missing:
        raise Refused(
            f"The list lacks the columns: {', '.join(missing)}. Its first line names the columns; it has: {', '.join(heading)}.",
            "points",
        )
    at = {name: heading.index(name) for name in NEEDED}
    found: list[PointLine] = []
    for number, row in enumerate(rows[1:], 2):
        if not any(cell.strip() for cell in row):
            continue
        cells = {name: from_cell(row[index].strip()) if index < len(row) else "" for name, index in at.items()}
        place = cells["place"].lower().removesuffix(" air")
        if not cells["terminal"]:
            raise Refused(f"Line {number} names no terminal.", "points")
        if place and place not in PLACES:
            raise Refused(
                f"Line {number}: no such place “{cells['place']}”. Places are {', '.join(PLACES)}, or nothing.", "points"
            )
        if cells["terminal"] in {line.terminal for line in found}:
            raise Refused(f"Line {number}: terminal “{cells['terminal']}” stands there twice.", "points")
        found.append(PointLine(cells["terminal"], cells["name"] or cells["terminal"], place))
    if not found:
        raise Refused("The list has headings, but no points.", "points")
    if len(found) > MOST_LINES:
        raise Refused(f"A list has at most {MOST_LINES} points.", "points")
    return tuple(found)


def write_points(compared: tuple[Compared, ...]) -> str:
    """The list as CSV, with what was compared."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for each in compared:
        known = each.shown_c is not None and each.reference_c is not None
        difference = f"{(each.shown_c or 0) - (each.reference_c or 0):.2f}" if known else ""
        writer.writerow(
            [
                safe_cell(each.line.terminal),
                safe_cell(each.line.name),
                each.line.place,
                _figure(each.shown_c),
                _figure(each.reference_c),
                difference,
                each.mark if known else "",
            ]
        )
    return out.getvalue()


def _figure(value: float | None) -> str:
    return "" if value is None else f"{value:.2f}"


def compare(line: PointLine, shown_c: float | None, reference_c: float | None, plus_minus_k: float = 0.3) -> Compared:
    """A sensor against a reference: holds within 1 K and the reference's half-width; off clearly beyond it.

    >>> compare(PointLine("AI-1", "OAT", "outdoor"), 14.1, 10.0).mark
    'off'
    """
    if shown_c is None or reference_c is None:
        return Compared(line, shown_c, reference_c, plus_minus_k)
    apart = abs(shown_c - reference_c)
    mark: Mark = (
        "holds" if apart + plus_minus_k <= GOOD_WITHIN_K else "off" if apart - plus_minus_k > GOOD_WITHIN_K else "too_close"
    )
    return Compared(line, shown_c, reference_c, plus_minus_k, mark)


@dataclass(frozen=True)
class PhysicsCheck:
    """Something that must hold between a controller's own sensors."""

    key: str
    mark: Mark
    sentence: Sentence


SENSOR_K = 1.0


def physics_checks(shown: Mapping[str, float], position: float | None, coil_active: bool | None) -> tuple[PhysicsCheck, ...]:
    """Mixed air between outdoor and return; equal to return with the damper shut; supply equal to mixed with no coil active.

    Parameters
    ----------
    shown : mapping
        Temperature by place [°C], as the controller shows it.
    position : float or None
        Outdoor damper, 0 to 1, if known.
    coil_active : bool or None
        A coil, burner or compressor runs; None: not known.
    """
    found = []
    numbers = {key: (value, "temperature") for key, value in shown.items()}
    mixed, back, outdoor, supply = (shown.get(key) for key in ("mixed", "return", "outdoor", "supply"))
    if mixed is not None and back is not None and outdoor is not None:
        low, high = min(back, outdoor) - SENSOR_K, max(back, outdoor) + SENSOR_K
        found.append(
            PhysicsCheck(
                "between",
                "holds" if low <= mixed <= high else "off",
                Sentence.of(
                    "Mixed {mixed} must lie between return {return_} and outdoor {outdoor}.",
                    mixed=numbers["mixed"],
                    return_=numbers["return"],
                    outdoor=numbers["outdoor"],
                ),
            )
        )
    if position is not None and position <= 0.03 and mixed is not None and back is not None:
        found.append(
            PhysicsCheck(
                "shut",
                "holds" if abs(mixed - back) <= 1.5 * SENSOR_K else "off",
                Sentence.of(
                    "Damper shut: mixed {mixed} must be as return {return_}.", mixed=numbers["mixed"], return_=numbers["return"]
                ),
            )
        )
    if coil_active is False and mixed is not None and supply is not None:
        found.append(
            PhysicsCheck(
                "no_coil",
                "holds" if -SENSOR_K <= supply - mixed <= 2.5 * SENSOR_K else "off",
                Sentence.of(
                    "No coil active: supply {supply} must be as mixed {mixed}, and the fan's heat.",
                    supply=numbers["supply"],
                    mixed=numbers["mixed"],
                ),
            )
        )
    return tuple(found)

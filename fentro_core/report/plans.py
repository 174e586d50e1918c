"""What was planned, and how the ducts lie: settings of the economizer, handles of the balance plan, the tree piece by piece."""

from __future__ import annotations

from collections.abc import Iterator

from fentro_core.base.sentence import Sentence
from fentro_core.ducts.results import BranchLine, DuctPage, TrunkLine
from fentro_core.economizer.results import EconomizerPage, SettingLine, SettingValue
from fentro_core.report.content import PlanLine, Room, TreePiece
from fentro_core.system.ducts import Piece


def settings_planned(page: EconomizerPage, part: str) -> Iterator[PlanLine]:
    """Every setting of the economizer that somebody planned or left another way than it was found."""
    for line in page.settings:
        planned, left = line.planned, line.as_left
        if (planned and planned.entry) or (left and left.entry):
            reason = (planned.reason if planned else "") or (left.reason if left else "")
            yield PlanLine(part, line.name, _value(line, line.as_found), _value(line, planned), _value(line, left), reason)


def _value(line: SettingLine, value: SettingValue | None) -> Sentence | None:
    if value is None:
        return None
    if value.number is not None:
        return Sentence("{value}", {"value": value.number})
    return Sentence(line.choices.get(value.text, value.text)) if value.text else None


def handles_planned(page: DuctPage, part: str) -> Iterator[PlanLine]:
    """Handles that the balance plan turns, in their order; what should be read then."""
    names = {line.piece.id: line.piece.called for line in page.branches}
    for turn in page.plan.turns if page.plan else ():
        told = Sentence.of("then {airflow}", airflow=(turn.airflow.value, "airflow"))
        was, to = (_position(turn.by, each.damper_deg, each.register_open) for each in (turn.was, turn.to))
        yield PlanLine(part, names.get(turn.branch, turn.branch), was, to, None, "", told)


def _position(by: str, damper_deg: float, register_open: float) -> Sentence:
    if by == "register":
        return Sentence.of("register {open} open", open=(register_open, "share"))
    return Sentence(f"damper {damper_deg:.0f}° from open")


def rooms_of(page: DuctPage) -> tuple[Room, ...]:
    """Rooms whose airflow was measured."""
    return tuple(Room(line.piece.called, line.measured, line.design) for line in page.branches if line.measured)


def tree_of(page: DuctPage) -> tuple[TreePiece, ...]:
    """The ducts as they were walked: each piece after the one it leaves, with its depth."""
    lines: list[TrunkLine | BranchLine] = [*page.trunks, *page.branches]
    known = {line.piece.id for line in lines}
    after: dict[str, list[TrunkLine | BranchLine]] = {}
    for line in lines:
        after.setdefault(line.piece.after if line.piece.after in known else "", []).append(line)
    found: list[TreePiece] = []

    def walk(piece: str, depth: int) -> None:
        for line in after.get(piece, ()):
            trunk = isinstance(line, TrunkLine)
            found.append(TreePiece(line.piece.called, depth, trunk, _size(line.piece), line.airflow))
            if trunk and depth < len(lines):
                walk(line.piece.id, depth + 1)

    walk("", 0)
    return tuple(found)


def _size(piece: Piece) -> Sentence:
    if piece.diameter_m is not None:
        return Sentence.of("{across} round, {long}", across=(piece.diameter_m, "diameter"), long=(piece.length_m, "length"))
    width, height = piece.sides_m
    words = "{width} by {height}, {long}"
    return Sentence.of(words, width=(width, "diameter"), height=(height, "diameter"), long=(piece.length_m, "length"))

"""The ledger of temporary changes: nothing forgotten, nothing closed over, handed on only with a reason."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fentro_core.base.refusal import Refused
from fentro_core.logbook.entry import Entry, read_entry, standing
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.logbook.temporary import check_change, ledger
from fentro_core.visit.work_up import work_up
from tests.core.visits import entry, snapshot


def jumper(what: str = "R to Y at the board", **more: Any) -> dict[str, Any]:
    return entry("temporary", {"what": what, "kind": "jumper", "undo": "pull it"}, **more)


def undone(change: dict[str, Any]) -> dict[str, Any]:
    return entry("undone", {"change": change["id"]})


def handed(change: dict[str, Any], to: str = "p1") -> dict[str, Any]:
    return entry("handed_on", {"change": change["id"], "to": to, "to_name": "Pat", "reason": "waits for a part"})


def read(*entries: dict[str, Any]) -> list[Entry]:
    return standing([read_entry(each) for each in entries])


@given(st.lists(st.tuples(st.sampled_from(["open", "undo", "hand"]), st.integers(0, 5)), max_size=25))
def test_the_ledger_is_what_was_opened_less_what_was_undone(steps: list[tuple[str, int]]) -> None:
    entries: list[dict[str, Any]] = []
    opened: list[dict[str, Any]] = []
    still: dict[str, bool] = {}
    for step, which in steps:
        if step == "open":
            opened.append(jumper(f"change {len(opened)}"))
            still[opened[-1]["id"]] = False
            entries.append(opened[-1])
        elif opened:
            change = opened[which % len(opened)]
            entries.append(undone(change) if step == "undo" else handed(change))
            if step == "undo":
                still.pop(change["id"], None)
            elif change["id"] in still:
                still[change["id"]] = True
    assert {each.entry: bool(each.handed_to) for each in ledger(read(*entries))} == still


def test_a_visit_is_not_closed_over_a_change_that_is_nobodys() -> None:
    made = jumper("Jumper {R to Y}")
    closing = read_entry(entry("closing", {"summary": "done"}))
    with pytest.raises(Refused, match=r"still open: Jumper \(R to Y\)"):
        check_change(closing, read(made))
    check_change(closing, read(made, undone(made)))
    check_change(closing, read(made, handed(made)))
    check_change(closing, [])


@pytest.mark.parametrize("make", [undone, handed])
def test_only_what_is_open_is_undone_or_handed_on(make: Any) -> None:
    made = jumper()
    check_change(read_entry(make(made)), read(made))
    for before in ((), (made, undone(made))):
        with pytest.raises(Refused, match="not open") as refused:
            check_change(read_entry(make(made)), read(*before))
        assert refused.value.path == "body.change"


@pytest.mark.parametrize(
    ("kind", "body", "path"),
    [
        ("temporary", {"what": " "}, "body.what"),
        ("temporary", {"what": "x", "kind": "magic"}, "body.kind"),
        ("handed_on", {"change": "x", "to": "p", "to_name": "Pat", "reason": " "}, "body.reason"),
        ("handed_on", {"change": "x", "to": "", "to_name": "", "reason": "rain"}, "body.to"),
    ],
)
def test_half_a_word_is_refused_at_its_field(kind: str, body: dict[str, Any], path: str) -> None:
    with pytest.raises(Refused) as refused:
        read_entry(entry(kind, body))
    assert refused.value.path == path


def test_open_changes_stand_in_the_work_up_and_in_restore() -> None:
    first, second = jumper("Stat set to 15 °C", by="Oona"), jumper("Hole by the coil")
    result = work_up(read_snapshot(snapshot([first, second, undone(second)])))
    assert [(each.what, each.kind_name, each.undo, each.by) for each in result.temporary] == [
        ("Stat set to 15 °C", "Jumper", "pull it", "Oona")
    ]
    restore = next(step for step in result.route if step.id == "restore")
    assert restore.left[0] == "Undo: Stat set to 15 °C"
    over = work_up(read_snapshot(snapshot([first, handed(first)])))
    assert over.temporary[0].handed_to_name == "Pat"
    assert not any("Undo" in left for step in over.route for left in step.left)

"""What the functional tests and alarms say as verdicts, and what they leave to be done."""

from __future__ import annotations

from collections.abc import Iterable

from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.economizer.alarms import ALARMS
from fentro_core.economizer.entries import AlarmClosed, AlarmSeen, TestSeen
from fentro_core.economizer.proof.judging import verdict
from fentro_core.logbook.entry import Entry
from fentro_core.phase.results import VerdictLine

PHASE_WORDS = {"as_found": "as found", "as_left": "as left"}


def last_marks(entries: Iterable[Entry], phase: str) -> dict[str, tuple[str, Mark]]:
    """Title and verdict of the last run of every test of a phase, by test."""
    found: dict[str, tuple[str, Mark]] = {}
    for entry in entries:
        if isinstance(entry.body, TestSeen) and entry.phase == phase:
            found[entry.body.seen.test] = (entry.body.title, verdict(entry.body.seen).mark)
    return found


def verdicts(entries: Iterable[Entry], phase: str) -> list[VerdictLine]:
    """One line for the tests of a phase; one for every alarm that is open, or was closed without a cause."""
    standing = list(entries)
    marks = last_marks(standing, phase)
    lines = []
    if marks:
        fine = sum(mark in ("holds", "watch") for _, mark in marks.values())
        off = [title for title, mark in marks.values() if mark == "off"]
        mark: Mark = "off" if off else "holds" if fine == len(marks) else "not_measured"
        words = f"Functional tests, {PHASE_WORDS[phase]}: {fine} of {len(marks)} seen are as expected."
        lines.append(
            VerdictLine("proof", mark, Sentence(words), None, tuple(Sentence(title) for title in off[:3]), opens="tests")
        )
    if phase == "as_found":
        lines += _alarms(standing)
    return lines


def _alarms(entries: list[Entry]) -> list[VerdictLine]:
    ends = {entry.body.alarm: entry.body for entry in entries if isinstance(entry.body, AlarmClosed)}
    lines = []
    for entry in entries:
        if not isinstance(entry.body, AlarmSeen):
            continue
        name, end = ALARMS[entry.body.alarm].name, ends.get(entry.id)
        if end is None:
            lines.append(VerdictLine(f"alarm:{entry.id}", "off", Sentence(f"Alarm open: {name.lower()}."), opens="alarms"))
        elif not end.found:
            lines.append(
                VerdictLine(
                    f"alarm:{entry.id}", "watch", Sentence(f"Alarm cleared, no cause found: {name.lower()}."), opens="alarms"
                )
            )
    return lines


def left_to_prove(entries: Iterable[Entry], planned: Iterable[str]) -> list[str]:
    """Tests whose last run, as left before as found, is not as due, and how many of the plan were never seen.

    Parameters
    ----------
    planned : iterable of str
        Keys of the plan's tests.
    """
    standing = list(entries)
    latest = {**last_marks(standing, "as_found"), **last_marks(standing, "as_left")}
    left = [f"Test: {title}" for title, mark in latest.values() if mark not in ("holds", "watch")]
    unseen = len(set(planned) - set(latest))
    return [*left, f"{unseen} {'test' if unseen == 1 else 'tests'} not seen yet"] if unseen else left

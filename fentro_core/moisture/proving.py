"""The proof of reheat and bypass as it stands on a visit: every test with its last verdict, and the faults that runs agree on."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.moisture.proof import DryingDiagnosis, DryingTestKind, DryingTestSeen, diagnose, tests, verdict
from fentro_core.phase.declaration import Course
from fentro_core.phase.visit_context import VisitContext


@dataclass(frozen=True)
class DryingTestLine:
    """A test with its last verdict; `again`: it is to be run once more before anything is said."""

    key: DryingTestKind
    title: str
    do: Sentence
    mark: Mark
    words: Sentence
    seen: DryingTestSeen | None = None
    entry: str = ""
    again: bool = False


@dataclass(frozen=True)
class DryingSuspect:
    """A fault that two runs agree on: where to look, and who may."""

    key: str
    name: str
    do: str
    who: str


@dataclass(frozen=True)
class DryingProof:
    """The tests, what they say together, and where to look."""

    tests: tuple[DryingTestLine, ...]
    mark: Mark
    words: Sentence
    done: int
    found: tuple[DryingSuspect, ...] = ()


def proof_of(visit: VisitContext) -> DryingProof | None:
    """None where this unit has neither reheat nor bypass."""
    due = tests(visit.snapshot.system.nameplate)
    if not due:
        return None
    entries = visit.entries_of(DryingTestSeen)
    said = diagnosed(visit)
    last = {body.test: (entry.id, body) for entry, body in entries}
    lines = []
    for test in due:
        entry, seen = last.get(test.kind, ("", None))
        mark, words = verdict(test.kind, seen) if seen else ("not_measured", Sentence.of("Not done yet."))
        lines.append(DryingTestLine(test.kind, test.title, test.do, mark, words, seen, entry, test.kind in said.again))
    mark, words = _together(lines, said)
    found = tuple(DryingSuspect(fault.key, fault.name, fault.do, fault.who) for fault in said.found)
    return DryingProof(tuple(lines), mark, words, len(last), found)


def diagnosed(visit: VisitContext) -> DryingDiagnosis:
    """What the tests of a visit say together, at the unit that it is at."""
    plate = visit.snapshot.system.nameplate
    return diagnose((body for _, body in visit.entries_of(DryingTestSeen)), both=plate.reheats and plate.bypasses)


def _together(lines: list[DryingTestLine], said: DryingDiagnosis) -> tuple[Mark, Sentence]:
    if not any(line.seen for line in lines):
        return "not_measured", Sentence.of("Nothing is proved yet.")
    if said.found:
        return "off", Sentence.of(f"{' '.join(fault.name + '.' for fault in said.found)}")
    again = next((line for line in lines if line.again), None)
    if again:
        return "too_close", Sentence.of(f"Run it once more before anything is said: {again.title}.")
    close = next((line for line in lines if line.mark in ("off", "too_close")), None)
    if close:
        return "too_close", close.words
    left = next((line for line in lines if line.mark == "not_measured"), None)
    if left:
        return "not_measured", Sentence.of(f"Good so far. Next: {left.title}.")
    return "holds", Sentence.of("Proved: it warms and mixes when it is called, and stops when it is not.")


def course(visit: VisitContext) -> Course:
    """Once the proof was begun, the tests that are left."""
    proof = proof_of(visit)
    if proof is None or not proof.done:
        return Course("prove")
    return Course("prove", tuple(line.title for line in proof.tests if line.seen is None or line.again), begun=True)

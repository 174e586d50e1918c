"""The proof of a visit's ventilator as its page shows it."""

from __future__ import annotations

from collections.abc import Sequence

from fentro_core.base.quantity import Quantity
from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark
from fentro_core.phase.visit_context import VisitContext
from fentro_core.system.fresh_air import Stream, Ventilator, VentilatorControl
from fentro_core.ventilation.proof.diagnosis import VentilatorDiagnosis, diagnose
from fentro_core.ventilation.proof.judging import verdict
from fentro_core.ventilation.proof.plan import plan
from fentro_core.ventilation.proof.step import VentilatorTest, VentilatorTestSeen
from fentro_core.ventilation.results import StreamDue, VentilatorProof, VentilatorSuspect, VentilatorTestLine

GRILLES: dict[Stream, str] = {"fresh": "Fresh air, at its grille", "stale": "Stale air, at its grille"}


def proof_of(visit: VisitContext, ventilator: Ventilator, control: VentilatorControl | None) -> VentilatorProof:
    """Tests, verdicts and suspects; `control` as it was left, or found, None where nobody said it."""
    tests = {test.key: test for test in plan(ventilator, control)}
    runs = visit.entries_of(VentilatorTestSeen)
    last = {body.test: (entry.id, body) for entry, body in runs}
    found = diagnose(tests, [body for _, body in runs], ventilator, control)
    lines = tuple(_line(test, last.get(test.kind), ventilator, control, test.key in found.again) for test in tests.values())
    mark, words = _together(lines, found)
    suspects = tuple(
        VentilatorSuspect(each.fault.name, each.fault.do, each.fault.who, Quantity(each.sure, 0.0, "share"))
        for each in found.suspects
    )
    wrong = any(line.mark == "off" for line in lines)
    return VentilatorProof(lines, mark, words, sum(1 for line in lines if line.seen), suspects if wrong else ())


def _line(
    test: VentilatorTest,
    last: tuple[str, VentilatorTestSeen] | None,
    ventilator: Ventilator,
    control: VentilatorControl | None,
    again: bool,
) -> VentilatorTestLine:
    mark: Mark = "not_measured"
    words = Sentence.of("Not done yet.")
    if last:
        mark, words = verdict(test, last[1], ventilator, control)
    entry, seen = last or ("", None)
    return VentilatorTestLine(
        test.kind,
        test.title,
        test.do,
        test.asks,
        dict(test.due),
        tuple(StreamDue(stream, GRILLES[stream]) for stream in ventilator.streams) if "air" in test.asks else (),
        mark,
        words,
        dict(test.hold),
        dict(test.then),
        seen,
        entry,
        again,
    )


def _together(lines: Sequence[VentilatorTestLine], found: VentilatorDiagnosis) -> tuple[Mark, Sentence]:
    """What all tests say: a fault only where it is sure, proved only where every test holds."""
    if not any(line.seen for line in lines):
        return "not_measured", Sentence.of("Nothing is proved yet.")
    bad = [line for line in lines if line.mark == "off"]
    if bad and found.found:
        return "off", Sentence.of(f"{'. '.join(fault.name for fault in found.found)}.")
    again = [line.title for line in lines if line.again]
    if bad and again:
        return "too_close", Sentence.of(f"One look is not enough to name a fault. Repeat: {again[0]}.")
    if bad:
        return "off", Sentence(bad[0].words.text, bad[0].words.numbers)
    left = [line.title for line in lines if line.mark == "not_measured"]
    if left:
        return "not_measured", Sentence.of(f"Good so far. Next: {left[0]}.")
    if any(line.mark in ("watch", "too_close") for line in lines):
        words = next(line.words for line in lines if line.mark in ("watch", "too_close"))
        return "watch", Sentence(f"It does as it should, but for this: {words.text}", words.numbers)
    return "holds", Sentence.of("Proved: it runs, rests and locks out as it should.")

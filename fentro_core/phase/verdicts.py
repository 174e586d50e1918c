"""What verdict lines have in common: softened when read too early, what is not measured, what would settle a close call."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from fentro_core.base.sentence import Sentence
from fentro_core.base.verdict import Mark, Settle
from fentro_core.phase.results import Result, VerdictLine


def softened(mark: Mark, early: Sentence | None) -> Mark:
    """An early reading never hardens a verdict: what would be "off" or "holds" is only to be watched."""
    return "watch" if early and mark in ("off", "holds") else mark


GRAVE: tuple[Mark, ...] = ("off", "too_close", "watch")
"""Marks that call for a look, the gravest first."""


def gravest(marks: Iterable[Mark | None]) -> Mark | None:
    """The gravest mark that calls for a look; None when none does.

    >>> gravest(["holds", "watch", None, "off"]), gravest(["holds"])
    ('off', None)
    """
    there = set(marks)
    return next((mark for mark in GRAVE if mark in there), None)


def not_measured(result: Result) -> VerdictLine:
    """A result that lacks readings."""
    words = Sentence.of(f"{result.name}: still missing {', '.join(result.missing).lower()}.")
    return VerdictLine(result.key, "not_measured", words, result.key)


_ADVICE = (
    ("layers", "Read more points across the duct."),
    ("spread", "Read more points across the duct."),
    ("instrument:", "Match the probes, or read both places with one: its error cancels."),
    ("match:", "Hold the probes together again, longer and in still air."),
    ("", "Read again, at several points."),
)
"""What helps, by the kind of source."""


def settle_words(settle: Settle, labels: Mapping[str, str], kind: str) -> Sentence:
    """Which source decides, the half-width it would need, and how to get there."""
    label = labels.get(settle.source, settle.source)
    share = (settle.share, "share")
    advice = next(text for test, text in _ADVICE if test in settle.source)
    if settle.needed is None:
        return Sentence.of(f"{label} brings {{share}} of the doubt, but alone can't settle this. {advice}", share=share)
    return Sentence.of(
        f"{label} decides ({{share}} of the doubt): within ±{{needed}} instead of ±{{now}} it would settle this. {advice}",
        share=share,
        needed=(settle.needed, kind),
        now=(settle.now, kind),
    )

"""All verdicts of a phase in one order: what was read the wrong way round, the leading cause, then the gravest first."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from fentro_core.base.sentence import Sentence
from fentro_core.diagnosis.results import Finding
from fentro_core.phase.declaration import PartResult
from fentro_core.phase.results import VerdictLine

_RANK = {"off": 0, "too_close": 1, "watch": 2, "holds": 3, "not_measured": 4, None: 5}

_FIRST = {"filter_arrow": 0, "odd": 0, "finding": 1}
"""What goes before all verdicts: air read the wrong way round, a reading that fits nothing, then the leading cause."""


def ranked(
    parts: Sequence[PartResult], found: Iterable[Finding], odd: Iterable[Sentence] = (), before_all: str = ""
) -> tuple[VerdictLine, ...]:
    """Lines of all parts with the leading cause; what came too early stands behind what did not.

    `before_all`: what is to be looked at before any cause.
    """
    lines = [line for part in parts for line in part.verdicts]
    lines += leading_cause(found, before_all)
    lines += [VerdictLine("odd", None, words, opens="causes") for words in odd]
    lines += [line for part in parts for line in part.details]
    return tuple(sorted(lines, key=lambda line: (_FIRST.get(line.key, 2), _RANK[line.mark], line.early)))


def leading_cause(found: Iterable[Finding], before_all: str = "") -> list[VerdictLine]:
    """The leading cause, when it is likely; else what to look at first: what comes before any cause, or the leading one."""
    leading = next((each for each in found if each.why_not is None and not each.faint), None)
    if leading is None:
        return []
    signs = len(leading.seen)
    name = leading.name[:1].lower() + leading.name[1:]
    counted = f"{signs} sign{'s' if signs > 1 else ''} for it, {len(leading.against)} against"
    if not leading.likely:
        first = f"First: {before_all}" if before_all else f"First to look at: {name}."
        words = f"No cause is sure yet. {first}"
        return [VerdictLine("first_look", None, Sentence.of(words), opens="causes")]
    words = f"Most likely: {name} ({counted})."
    return [VerdictLine("finding", None, Sentence.of(words), notes=(Sentence.of(leading.check),), opens="causes")]

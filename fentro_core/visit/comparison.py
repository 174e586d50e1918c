"""As left less as found. An instrument used both times cancels, so a small real change can be seen."""

from __future__ import annotations

from collections.abc import Iterator

from fentro_core.base.measured import GUESS, Measured
from fentro_core.base.quantity import difference_kind, quantity
from fentro_core.phase.numbers import NUMBERS, Number
from fentro_core.visit.phase_work import PhaseWork
from fentro_core.visit.results import Change


def comparison(found: PhaseWork, left: PhaseWork | None) -> tuple[Change, ...]:
    """Every compared number that both phases have, in the order in which they are shown."""
    if left is None:
        return ()
    return tuple(
        change(NUMBERS[key], found.measured[key], left.measured[key])
        for key in dict.fromkeys(_shown(left))
        if NUMBERS[key].compared and key in found.measured and key in left.measured
    )


def _shown(work: PhaseWork) -> Iterator[str]:
    """Keys of the numbers of a phase, part by part as they are shown: first its results, then what its page shows besides."""
    for part, done in zip(work.parts, work.shown, strict=True):
        yield from (result.key for result in done.results if result.quantity)
        yield from (number.key for number in part.numbers if number.name)


def change(number: Number, before: Measured, after: Measured) -> Change:
    """One number; real when the change is larger than its own half-width, and both times it was measured.

    A guess is the same both times and would cancel, though what it stands for may have changed: a blower's tap, say.
    """
    guessed = before.guessed or after.guessed
    apart = after - (_of_its_own(before) if guessed else before)
    return Change(
        number.key,
        number.name,
        quantity(before, number.kind),
        quantity(after, number.kind),
        quantity(apart, difference_kind(number.kind)),
        abs(apart.value) > apart.plus_minus and not guessed,
        guessed,
    )


def _of_its_own(measured: Measured) -> Measured:
    """With its guesses no longer shared with the other time."""
    return Measured(
        measured.value, {f"as found, {name}" if name.startswith(GUESS) else name: part for name, part in measured.parts.items()}
    )

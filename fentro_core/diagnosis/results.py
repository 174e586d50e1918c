"""A possible cause and the next look as they go out."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.sentence import Sentence


@dataclass(frozen=True)
class Finding:
    """A possible cause: what speaks for it and against it, how to prove it, who may act.

    `chance`: that it is there, 0 to 1; `likely`: right in nine of ten; `by_signs`: weighed by its signs alone, its
    chance is no frequency; `faint`: that nothing is wrong fits far better, so that no verdict and no report tells it;
    `why_not`: rejected, and why.
    """

    key: str
    name: str
    part: str
    chance: float
    likely: bool
    why: str
    do: str
    who: str
    caution: str
    check: str
    check_minutes: float
    check_who: str
    seen: tuple[Sentence, ...]
    ordinary: tuple[Sentence, ...]
    against: tuple[Sentence, ...]
    unexplained: tuple[Sentence, ...]
    by_signs: bool = False
    why_not: str | None = None
    rejection: str | None = None
    faint: bool = False


@dataclass(frozen=True)
class Choice:
    """One question of several that a place answers at once."""

    key: str
    ask: str


@dataclass(frozen=True)
class NextCheck:
    """The look that separates the leading causes best for its minutes. `stations`: where to read; empty: answer by eye.

    `choices`: where a place answers several questions at once, each of them; `ask` then says where to look. `item`: what is
    answered instead, with answers of its own.
    """

    key: str
    title: str
    ask: str
    minutes: float
    who: str
    caution: str
    by_eye: bool
    stations: tuple[str, ...]
    between: tuple[str, ...]
    bits: float
    choices: tuple[Choice, ...] = ()
    item: str = ""

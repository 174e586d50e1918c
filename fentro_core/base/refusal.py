"""The one error of the core: an input that cannot be used, where it stands, and what to do about it."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from fentro_core.base.sentence import Sentence


class Refused(ValueError):
    """Raised for every out-of-range, impossible or missing input.

    Parameters
    ----------
    text : str
        A sentence a technician understands. ``{name}`` stands for a number given in `numbers`.
    path : str
        The field, dotted: ``"entering.relative_humidity"``. Empty: the input as a whole.
    numbers : (value, kind)
        Numbers of the sentence, SI, with their kind (see `units.KINDS`).
    """

    def __init__(self, text: str, path: str = "", **numbers: tuple[float, str]) -> None:
        self.sentence = Sentence.of(text, **numbers)
        self.path = path
        super().__init__(f"{path}: {self.sentence.say()}" if path else self.sentence.say())

    def at(self, path: str) -> Refused:
        """The same refusal at another field."""
        moved = Refused.__new__(Refused)
        moved.sentence, moved.path = self.sentence, path
        ValueError.__init__(moved, f"{path}: {self.sentence.say()}")
        return moved

    def under(self, prefix: str) -> Refused:
        """The same refusal seen from one level further out."""
        moved = Refused.__new__(Refused)
        moved.sentence = self.sentence
        moved.path = f"{prefix}.{self.path}".strip(".")
        ValueError.__init__(moved, f"{moved.path}: {self.sentence.say()}")
        return moved


@contextmanager
def inside(field: str = "", **called: str) -> Iterator[None]:
    """What is refused in here is told at the outer field, its own first name changed to what it is called there.

    >>> with inside("duct"):
    ...     raise Refused("Too wide.", "width_m")
    Traceback (most recent call last):
    fentro_core.base.refusal.Refused: duct.width_m: Too wide.
    """
    try:
        yield
    except Refused as refusal:
        first, *rest = refusal.path.split(".")
        raise refusal.at(".".join(filter(None, (field, called.get(first, first), *rest)))) from refusal

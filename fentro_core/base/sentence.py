"""A sentence with numbers in it, which can be said in either system of units."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from fentro_core.base import units
from fentro_core.base.quick import quick


@quick
@dataclass(frozen=True)
class Number:
    """A value in SI with the kind of quantity it is."""

    value: float
    kind: str


@quick
@dataclass(frozen=True)
class Sentence:
    """Words with ``{name}`` where a number goes, and the numbers.

    >>> Sentence.of("Split {split}.", split=(10.0, "temperature_difference")).say("US")
    'Split 18.0 °F.'
    """

    text: str
    numbers: dict[str, Number] = field(default_factory=dict)

    @classmethod
    def of(cls, text: str, **numbers: tuple[float, str]) -> Sentence:
        """Make a sentence; each number is ``(value in SI, kind)``."""
        return cls(text, {name: Number(value, kind) for name, (value, kind) in numbers.items()})

    def say(self, system: str = "SI") -> str:
        """The sentence in ``"SI"`` or ``"US"`` units."""
        said = {name: units.show(number.value, number.kind, system) for name, number in self.numbers.items()}
        return _PLACE.sub(lambda place: said.get(place[1], place[0]), self.text).replace("w.c..", "w.c.")


_PLACE = re.compile(r"\{(\w+)\}")
"""Not `str.format`: what somebody typed may stand in the words."""

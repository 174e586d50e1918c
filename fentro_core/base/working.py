"""The steps of a result, as a technician would write them down."""

from __future__ import annotations

from dataclasses import dataclass, field

from fentro_core.base.quick import quick
from fentro_core.base.sentence import Number


@quick
@dataclass(frozen=True)
class Line:
    """One line of working.

    `formula` holds for numbers as shown in SI units, `formula_us` for numbers as shown in US units; both can be
    worked out by hand with the numbers beside them. Symbols are the keys of `numbers`.
    """

    name: str
    symbol: str
    formula: str
    formula_us: str
    numbers: dict[str, Number]
    result: Number
    source: str = ""
    remark: str = ""


@dataclass
class Working:
    """Collects lines while a formula runs; each step gives its value back, so the code reads like the formula.

    >>> work = Working()
    >>> work.step("split", "D", "T_r - T_s", 24.0 - 13.5, "temperature_difference",
    ...           T_r=(24.0, "temperature"), T_s=(13.5, "temperature"))
    10.5
    >>> work.lines[0].symbol
    'D'
    """

    lines: list[Line] = field(default_factory=list)
    silent: bool = False

    def step(
        self,
        name: str,
        symbol: str,
        formula: str,
        value: float,
        kind: str,
        *,
        us: str = "",
        source: str = "",
        remark: str = "",
        **numbers: tuple[float, str],
    ) -> float:
        """Record one line and return `value` (SI)."""
        if not self.silent:
            put_in = {key: Number(given, its_kind) for key, (given, its_kind) in numbers.items()}
            self.lines.append(Line(name, symbol, formula, us or formula, put_in, Number(value, kind), source, remark))
        return value


SILENT = Working(silent=True)
"""For callers that want the number only."""

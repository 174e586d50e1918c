"""How a figure is printed."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Row:
    """A measured ratio, the ratio allowed, and what it was made from."""

    name: str
    ratio: float
    allowed: float
    made_from: str

    def line(self) -> str:
        """One line of the report."""
        verdict = "within" if self.ratio <= self.allowed else "OVER"
        return f"{self.name:58} {self.ratio:6.2f}  (at most {self.allowed:.2f}, {verdict})   {self.made_from}"

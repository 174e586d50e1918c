"""Text in CSV files: safe in a spreadsheet, and the same again when it is read back."""

from __future__ import annotations

import re

_BEGINS_A_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def safe_cell(text: str) -> str:
    """Text that a spreadsheet would take for a formula gets an apostrophe before it; a number stays one.

    >>> safe_cell("=1+1"), safe_cell("Supply"), safe_cell("'=1"), safe_cell("-4.5")
    ("'=1+1", 'Supply', "''=1", '-4.5')
    """
    return f"'{text}" if _formula(text) and not _number(text) else text


def from_cell(text: str) -> str:
    """The text again.

    >>> from_cell(safe_cell("=1+1")), from_cell("'tis")
    ('=1+1', "'tis")
    """
    return text[1:] if text[:1] == "'" and _formula(text) else text


def _formula(text: str) -> bool:
    return text.lstrip("'")[:1] in _BEGINS_A_FORMULA


def _number(text: str) -> bool:
    return re.fullmatch(r"-?\d+(\.\d+)?(e[-+]?\d+)?", text) is not None

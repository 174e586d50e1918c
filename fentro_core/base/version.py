"""Which core this is: what was worked out by another one is worked out again."""

from __future__ import annotations

from functools import cache
from hashlib import sha256
from pathlib import Path


@cache
def fingerprint() -> str:
    """Twelve letters that change with any line of the core.

    >>> len(fingerprint())
    12
    """
    core = Path(__file__).resolve().parents[1]
    whole = sha256()
    for file in sorted(core.rglob("*.py")):
        whole.update(file.relative_to(core).as_posix().encode())
        whole.update(file.read_bytes())
    return whole.hexdigest()[:12]

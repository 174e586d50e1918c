"""What can be told from readings: known with its working, or missing with what it lacks."""

from __future__ import annotations

from dataclasses import dataclass

from fentro_core.base.measured import Measured
from fentro_core.base.quick import quick
from fentro_core.base.sentence import Sentence
from fentro_core.base.working import Working


@quick
@dataclass(frozen=True)
class Known:
    """A value, how it was worked out, and what is to be said of it."""

    value: Measured
    work: Working
    remark: Sentence | None = None


@dataclass(frozen=True)
class Missing:
    """What is still to be read or said."""

    what: tuple[str, ...]

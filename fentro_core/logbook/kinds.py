"""The registry of entry kinds: what each says, what it may say, its words, and what may become of it.

A kind is declared in the part it belongs to, and nowhere else: no list, no database constraint, no migration.
"""

from __future__ import annotations

import importlib
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any, Literal

from fentro_core.system.branch import Branch

WhoMay = Literal["owner", "taker"]

LONGEST_TEXT = 4000
MOST_POINTS = 60


def _nothing(body: Any) -> None:
    """Everything the type allows may be said."""


def _no_instruments(body: Any) -> Mapping[str, str]:
    return {}


@dataclass(frozen=True, kw_only=True)
class EntryKind:
    """One kind of entry.

    Attributes
    ----------
    key, body, name
        As in the JSON; the dataclass of what it says; what a technician calls it.
    check
        Refuses what no technician can have done or read; the path names the field.
    station, instruments
        The station it names, where it names one; the instruments it names, by the field's path.
    station_optional
        It may name none (``""``).
    station_is
        The kind of station it must be, and the sentence that says so; only quantities of the station for a reading.
    uses_station
        The station it names is shown under the air path from then on.
    who
        ``owner``: whoever may write in the visit. ``taker``: besides, whoever took the change over.
    final
        Can't be corrected or taken back: a new entry says otherwise.
    when_closed
        May be entered in a closed visit.
    ledger
        Opens or ends a temporary change.
    branches
        Ducts to rooms that it tells of: from then on their registers can be read.
    heavy
        Names of body fields that are left out where a whole logbook is sent.
    """

    key: str
    body: type[Any]
    name: str
    check: Callable[[Any], None] = _nothing
    station: Callable[[Any], str] | None = None
    station_optional: bool = False
    station_is: tuple[str, str] | None = None
    uses_station: bool = False
    instruments: Callable[[Any], Mapping[str, str]] = _no_instruments
    who: WhoMay = "owner"
    final: bool = False
    when_closed: bool = False
    ledger: bool = False
    branches: Callable[[Any], tuple[Branch, ...]] | None = None
    heavy: tuple[str, ...] = ()


_KINDS: dict[str, EntryKind] = {}


def register(*kinds: EntryKind) -> None:
    """Make kinds known; one key, one kind."""
    for kind in kinds:
        assert _KINDS.get(kind.key, kind) is kind, f"two kinds of entry are called {kind.key}"
        _KINDS[kind.key] = kind


@cache
def all_kinds() -> Mapping[str, EntryKind]:
    """Every kind by key, those of all parts of the job included."""
    importlib.import_module("fentro_core.logbook.corrections")
    importlib.import_module("fentro_core.parts")
    return _KINDS

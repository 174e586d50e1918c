"""What a kind of system declares: its nameplate, the way of its air with the stations, and the parts of the job it has."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from fentro_core.system.air_path import AirPath
from fentro_core.system.nameplate import Nameplate

DUCTED_PARTS = ("measuring", "airflow", "cooling", "refrigerant", "statics", "ducts", "zoning", "leakage", "mixing", "moisture")
"""Parts of the job that every ducted unit has."""


@dataclass(frozen=True)
class SystemKind:
    """One kind. `path`: from its nameplate, without branches and without the stations of parts; `parts`: keys of its parts.

    `diagnosed`: causes are known for it; without them nothing is accused. `usual`: how most of them are built, where an empty
    nameplate does not say it.
    """

    key: str
    name: str
    nameplate: type[Nameplate]
    path: Callable[[Any], AirPath]
    parts: tuple[str, ...]
    diagnosed: bool = True
    usual: Nameplate | None = None

"""Names of sites, systems and instruments: no two alike where they would be mistaken for each other."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from django.db import IntegrityError, transaction

from fentro_core.base.refusal import Refused

Row = TypeVar("Row")

MOST_NAMESAKES = 50


def name_of(given: str) -> str:
    """A name with single blanks, and none around it; refused when nothing is left."""
    name = " ".join(given.split())
    if not name:
        raise Refused("Give it a name.", "name")
    return name


def under_a_free_name(make: Callable[[str], Row], name: str) -> Row:
    """Made under its name, or under the first that is free: two who met the same unit without signal both keep theirs."""
    for number in range(1, MOST_NAMESAKES):
        try:
            with transaction.atomic():
                return make(name if number == 1 else f"{name} ({number})")
        except IntegrityError:
            continue
    raise Refused("There are too many of this name. Give it another.", "name")

"""Inputs that no technician means and every program meets: made from good ones, by seed. Used by tests and by the bench."""

from __future__ import annotations

import copy
import json
import math
from collections.abc import Callable, Iterator
from random import Random
from typing import Any

from fentro_core import catalogue
from fentro_core.base import calculation
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import write
from fentro_core.economizer.page import economizer_page
from fentro_core.economizer.visit_settings import economizer_of
from fentro_core.logbook.snapshot import read_snapshot
from fentro_core.visit.work_up import work_up

Json = Any

assert catalogue.MODULES

ODD: tuple[Json, ...] = (
    0,
    0.0,
    -0.0,
    1,
    -1,
    1e-300,
    -1e-300,
    1e-12,
    1e9,
    -1e9,
    1e300,
    -1e300,
    math.nan,
    math.inf,
    -math.inf,
    10**400,
    10**5000,
    True,
    None,
    "",
    "warm",
    "a.b",
    "{0}{x!r}",
    "\x00",
    "\ud800",
    [],
    {},
    [[]],
    {"value": 1},
    {"value": None},
    {"value": 1, "plus_minus": -1},
    {"value": 1, "plus_minus": 1e300},
    {"value": 20, "plus_minus": 3, "source": None},
    {"value": 20, "plus_minus": 3, "source": 7},
    {"value": {"value": 1}},
)
"""What stands where a number, a word or a list should."""

FACTORS = (-1.0, 0.001, 0.01, 0.1, 0.5, 0.9, 1.1, 1.8, 2.0, 10.0, 100.0, 1000.0, 1e6)
"""Slips of units and places: kilopascals for pascals, grams for kilograms, a point left out."""

Path = tuple[Any, ...]


def places(node: Json, path: Path = ()) -> Iterator[Path]:
    """Every place of an input, branches and leaves."""
    if path:
        yield path
    inner = node.items() if isinstance(node, dict) else enumerate(node) if isinstance(node, list) else ()
    for key, each in inner:
        yield from places(each, (*path, key))


def at(node: Json, path: Path) -> Json:
    """What stands at a place."""
    for key in path:
        node = node[key]
    return node


def spoiled(given: Json, chance: Random) -> Json:
    """An input with one to three things wrong with it."""
    other = copy.deepcopy(given)
    for _ in range(chance.choice((1, 1, 1, 2, 3))):
        all_places = list(places(other))
        if not all_places:
            return other
        path = chance.choice(all_places)
        holder, key = at(other, path[:-1]), path[-1]
        chance.choice(_WAYS)(holder, key, chance, other)
    return other


def _odd(holder: Json, key: Any, chance: Random, whole: Json) -> None:
    holder[key] = copy.deepcopy(chance.choice(ODD))


def _scaled(holder: Json, key: Any, chance: Random, whole: Json) -> None:
    was = holder[key]
    if isinstance(was, int | float) and not isinstance(was, bool) and abs(was) < 1e30:
        holder[key] = was * chance.choice(FACTORS)
    elif isinstance(was, dict) and isinstance(was.get("value"), int | float) and abs(was["value"]) < 1e30:
        was["value"] = was["value"] * chance.choice(FACTORS)


def _nudged(holder: Json, key: Any, chance: Random, whole: Json) -> None:
    was = holder[key]
    if isinstance(was, int | float) and not isinstance(was, bool) and abs(was) < 1e30:
        holder[key] = was + chance.gauss(0, 10)


def _left_out(holder: Json, key: Any, chance: Random, whole: Json) -> None:
    del holder[key]


def _added(holder: Json, key: Any, chance: Random, whole: Json) -> None:
    if isinstance(holder, dict):
        holder[chance.choice(("extra", "a.b", "value", "", "dry_bulb_c", "wick"))] = copy.deepcopy(chance.choice(ODD))
    else:
        holder.insert(0, copy.deepcopy(chance.choice(ODD)))


def _twice(holder: Json, key: Any, chance: Random, whole: Json) -> None:
    if isinstance(holder, list):
        holder.append(copy.deepcopy(holder[key]))


def _equal(holder: Json, key: Any, chance: Random, whole: Json) -> None:
    """Two numbers of the input become the same: nothing to divide by."""
    numbers = [path for path in places(whole) if type(at(whole, path)) in (int, float)]
    if numbers:
        other = at(whole, chance.choice(numbers))
        if type(holder[key]) in (int, float):
            holder[key] = other


def _doubted(holder: Json, key: Any, chance: Random, whole: Json) -> None:
    if type(holder[key]) in (int, float) and key not in ("value", "plus_minus"):
        width = chance.choice((1e-9, 0.01, 0.3, 5.0, 1e3, 1e12))
        holder[key] = {"value": holder[key], "plus_minus": width, "source": chance.choice((None, "A", "A", "B"))}


def _deep(holder: Json, key: Any, chance: Random, whole: Json) -> None:
    for _ in range(chance.choice((3, 13, 60))):
        holder[key] = chance.choice(([holder[key]], {"value": holder[key]}, {"x": holder[key]}))


_WAYS: tuple[Callable[[Json, Any, Random, Json], None], ...] = (
    _odd,
    _odd,
    _scaled,
    _scaled,
    _scaled,
    _nudged,
    _nudged,
    _left_out,
    _added,
    _twice,
    _equal,
    _equal,
    _doubted,
    _deep,
)


def complaint(name: str, given: Json) -> str:
    """What is wrong with how the core takes an input; empty when it answers in numbers or refuses at a field."""
    try:
        answer = calculation.run(name, given)
    except Refused as refused:
        return _of_refusal(name, given, refused)
    except Exception as error:
        return f"{type(error).__name__}: {str(error)[:80]}"
    try:
        json.dumps(answer, allow_nan=False)
    except ValueError as error:
        return f"not finite or not JSON: {error}"
    return ""


def _of_refusal(name: str, given: Json, refused: Refused) -> str:
    sentence = refused.sentence.say()
    if not sentence.endswith((".", "?")) or "{" in sentence.replace("{0}", "").replace("{x!r}", ""):
        return f"a refusal that is no sentence: {sentence[:60]}"
    first = refused.path.split(".")[0]
    if refused.path and first not in calculation.find(name).inputs and not names_a_place(given, refused.path):
        return f"a refusal at no field of the input: {refused.path[:40]}"
    if first in calculation.find(name).inputs and not names_a_place(given, refused.path):
        return f"a refusal at a place the input does not have: {refused.path[:60]}"
    return ""


def names_a_place(node: Json, path: str) -> bool:
    """A dotted path leads to a place of the input, or to one that is missing from it; labels may hold dots themselves."""
    if not path:
        return True
    if isinstance(node, dict):
        for key in map(str, node):
            if path == key or (path.startswith(f"{key}.") and names_a_place(_inner(node, key), path[len(key) + 1 :])):
                return True
        return "." not in path or path.startswith("distances.")
    if isinstance(node, list):
        index, _, rest = path.partition(".")
        return index.isdigit() and int(index) < len(node) and names_a_place(node[int(index)], rest)
    return "." not in path


def _inner(node: Json, key: str) -> Json:
    return next(value for name, value in node.items() if str(name) == key)


def complaint_of_visit(document: Json) -> str:
    """What is wrong with how a whole visit is taken: read and worked out with its economizer, or refused at a field."""
    try:
        snapshot = read_snapshot(document)
        answers = [write(work_up(snapshot))]
        if economizer_of(snapshot):
            answers.append(write(economizer_page(snapshot)))
    except Refused as refused:
        first = refused.path.split(".")[0]
        known = first in ("", "site", "system", "instruments", "entries", "visit", "format", "version", "elevation_m")
        return "" if known or (isinstance(document, dict) and first in map(str, document)) else f"refused at {refused.path[:40]}"
    except Exception as error:
        return f"{type(error).__name__}: {str(error)[:80]}"
    try:
        json.dumps(answers, allow_nan=False)
    except ValueError as error:
        return f"not finite or not JSON: {error}"
    return ""
